import { cleanText, firstLetters, plainTitle, withoutEnd } from '../bib/clean'
import { yearOf } from '../bib/dates'
import type { Item } from '../bib/item'

/** Words that stand for a part of a name in a pattern. */
export const NAME_PARTS = ['place', 'author', 'year', 'title'] as const
const LONGEST = 100
const LONGEST_TITLE = 60

/** Letters that a file's name cannot have on one system or another, and names that one of them keeps for itself. */
const UNFIT = /[\p{Cc}<>:"/\\|?*]+/gu
const TAKEN = /^(?:con|prn|aux|nul|com\d|lpt\d)(?=\.|$)/i

/** The first words of a text. */
function atWord(text: string, most: number): string {
  const cut = firstLetters(text, most)
  return cut.length < text.length && /\s/.test(cut) ? withoutEnd(withoutEnd(cut, /\S/), /\s/) : cut
}

/** A text as the name of a file that every system takes, without its ending. @example fileName('A/B: c.') // 'A B c' */
export function fileName(text: string, longest = LONGEST): string {
  const fit = cleanText(text).normalize('NFC').replace(UNFIT, ' ').replace(/\s+/g, ' ')
  const name = withoutEnd(atWord(fit.trim(), longest).replace(/^[. ]+/, ''), /[. ]/)
  return name.replace(TAKEN, '_$&') || 'unnamed'
}

/** What is wrong with a pattern of names; nothing where it can be used. */
export function patternTrouble(pattern: string): string | undefined {
  const strange = [...pattern.matchAll(/\{([^{}]*)\}/g)].find(m => !(NAME_PARTS as readonly string[]).includes(m[1]!))
  if (strange) return `${strange[0]} stands for nothing: there are ${NAME_PARTS.map(p => `{${p}}`).join(', ')}.`
  if (!pattern.includes('{place}') && !pattern.includes('{title}') && !pattern.includes('{author}'))
    return 'All copies would have one name: put {place}, {author} or {title} in.'
  return undefined
}

/**
 * Names of copies by a pattern, without their ending: each once, sorting as the list prints where the pattern begins
 * with its place.
 * @param items of the works, in the order of the list, with their places from 1
 * @example copyNames([{ item, place: 1 }], '{place} {author} {year}') // ['01 Sayegh 2019']
 */
export function copyNames(items: readonly { item: Item; place: number }[], pattern: string): string[] {
  const wide = Math.max(2, String(Math.max(0, ...items.map(i => i.place))).length)
  const seen = new Set<string>()
  return items.map(({ item, place }) => {
    const author = item.author?.[0] ?? item.editor?.[0]
    const of: Record<string, string> = {
      place: String(place).padStart(wide, '0'),
      author: author?.family ?? author?.literal ?? author?.given ?? '',
      year: String(yearOf(item) ?? ''),
      title: atWord(plainTitle(item.title), LONGEST_TITLE),
    }
    const name = fileName(pattern.replace(/\{(\w+)\}/g, (whole, part: string) => of[part] ?? whole))
    // systems that do not tell case take two names for one
    let own = name
    for (let n = 2; seen.has(own.toLowerCase()); n++) own = `${name} (${n})`
    seen.add(own.toLowerCase())
    return own
  })
}
