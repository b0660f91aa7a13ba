import { isSetOtherwise, type Body } from './notes'
import type { Placed } from './placed'
import { joinLines, type Words } from './text'

/** What is printed above or beneath a figure, a table or the like. */
export interface Caption {
  text: string
  page: number
  /** Place on its page, in points from the top. */
  y: number
}

const CALLED =
  /^(?:fig(?:ure|\.)?|table|tab\.|abb(?:ildung|\.)|tabelle|tableau|figura|tabla|tabella|plate|scheme|box|chart|map|karte|exhibit|graph|photo|图|表|図)\s*(?:\p{L}?\d+(?:[.-]\d+)*\p{L}?|[IVX]{1,5}\b)/iu
const MOST_LINES = 14
const LONGEST = 1500

/** Whether a line begins with what captions are called, whatever it goes on with. */
export const beginsAsCaption = (text: string): boolean => CALLED.test(text)

/** The captions of a text: a line that begins as one does, and is no sentence on the figure, with the lines that go on with it. */
export function captionsOf(lines: readonly Placed[], body: Body, words: Words): Caption[] {
  return lines.flatMap((l, i) => {
    if (!isCaption(l, body)) return []
    const own = [l]
    for (const o of lines.slice(i + 1, i + MOST_LINES)) {
      const last = own.at(-1)!
      const goesOn = o.column === l.column && o.page === l.page && Math.abs(o.size - l.size) < 0.6 && o.gap < 1.3
      // in the letters of the text the first line that is not filled ends it
      const isWhole = !isSetOtherwise(l, body) && last.short > last.size * 3
      if (!goesOn || o.gap < 0 || isWhole || isCaption(o, body)) break
      own.push(o)
    }
    return [{ text: joinLines(own, words).slice(0, LONGEST), page: l.page, y: l.y }]
  })
}

function isCaption(l: Placed, body: Body): boolean {
  const called = CALLED.exec(l.text)?.[0]
  if (called === undefined) return false
  const rest = l.text.slice(called.length)
  // "Figure 2 shows …" is a sentence of the text
  const isTitle = /^\s*(?:$|[.:|)(–—-])|^\s+(?:\p{Lu}|\p{Lo}|\d)/u.test(rest)
  const standsOff = l.isFirst || l.gap > 1.15 || isSetOtherwise(l, body)
  return isTitle && standsOff
}
