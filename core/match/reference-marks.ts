import { monthOf } from '../bib/months'
import type { Item, ItemDate } from '../bib/item'

/** Kinds as the Chinese standard of references prints them behind a title (GB/T 7714): `[J]`, `[M/OL]`. */
const MARKED: Record<string, Item['type']> = {
  J: 'article-journal',
  M: 'book',
  C: 'paper-conference',
  D: 'thesis',
  R: 'report',
  P: 'patent',
  N: 'article-newspaper',
  EB: 'webpage',
}
const MARK = /(?<=[\p{L}\p{N}).?!”"] ?)\[([JMCDRPN]|EB)(?:\/(?:OL|CD|DB|MT|DK))?\](?: ?\/\/ ?|\. ?|, ?| |$)/u

/** Signs of full width as those of half width, with the room that stands behind these. */
export const halfWidth = (text: string): string =>
  text
    .replace(/[\uff01-\uff5e\u3002\u3001]/g, c =>
      c === '。' || c === '．'
        ? '. '
        : c === '、' || c === '，'
          ? ', '
          : /[；：]/.test(c)
            ? `${c.normalize('NFKC')} `
            : c.normalize('NFKC'),
    )
    .replace(/ +(?=[.,;:)\]])/g, '')

/** @returns the text without such a mark: what stood behind a double stroke stands in something */
export function takeMark(text: string): { text: string; type?: Item['type'] } {
  const m = MARK.exec(text)
  if (!m) return { text }
  const isIn = m[0].includes('//')
  const head = text.slice(0, m.index).trimEnd()
  return {
    text: `${head}${/[.?!]$/.test(head) ? '' : '.'} ${isIn ? 'In: ' : ''}${text.slice(m.index + m[0].length).trimStart()}`,
    type: MARKED[m[1]!]!,
  }
}

const DAY =
  '(?:\\d{1,2}[./] ?\\d{1,2}[./] ?\\d{4}|\\d{4}-\\d{2}-\\d{2}|\\d{1,2}\\.? \\p{L}{3,9}\\.? \\d{4}|\\p{L}{3,9}\\.? \\d{1,2}, \\d{4}|\\d{4} \\p{L}{3} \\d{1,2})'
const LOOKED =
  '(?:available (?:at|from|online)|retrieved|(?:last )?accessed|visited|visité|abgerufen|besucht|zugriff|letzter zugriff|consulté|consultado|acesso|acessado|cited|online unter|verfügbar unter|disponível|disponible|访问)'
/** What is said of where and when somebody looked, and on which pages of the citing text it is cited. */
const TAILS: readonly RegExp[] = [
  new RegExp(`[[(](?:${LOOKED}|am\\b|updated)[^()[\\]]{0,90}[)\\]]`, 'giu'),
  new RegExp(
    `${LOOKED}(?: on| le| am| em| el| en| from| at)?:? ?(?:${DAY})(?:[,.]? ?(?:from|à|at|en|à partir de))?:?`,
    'giu',
  ),
  /\((?:cit\. on|cf\.|siehe|voir) (?:pp?|S)\. [^()]{1,40}\)/giu,
  /\.? (?:Revision )?Received: .*$/gu,
  /cit(?:ed|ado|é) (?:\d+ vezes )?(?:on|na|nas|in|à la|aux) (?:pages?|páginas?) [\d, e-]+\.?/giu,
  /\bAnm\.: .*$/gu,
  /\b(?:url|doi) ?: ?(?=[.,(]|$| )/giu,
  // addresses that lines or letters broke, and those without a beginning
  /\b(?:https?|ftp) ?: ?\/ ?\/ ?[^()]*?(?=\(|$)/giu,
  /(?<=^|[.,] )(?:[a-z\d-]+\.){1,4}(?:org|com|net|edu|gov|io|de|fr)(?:\/\S*)?\.?$/giu,
]
export const withoutTails = (text: string): string => TAILS.reduce((t, tail) => t.replace(tail, ' '), text)

const YEAR = '((?:1[5-9]|20)\\d{2})[a-z]?'
const DATED = new RegExp(
  `^\\(?(?:(\\p{L}{3,9})\\.? (?:(\\d{1,2}), )?|(\\d{1,2})\\.? (\\p{L}{3,9})\\.?,? )${YEAR}\\)?[.,:;]? ?`,
  'u',
)
const ENDS = new RegExp(
  `(?:[.,;] ?|(?<=[^\\d]) ?\\(|(?<=\\d) \\(|\\. )(?:(?:(\\d{1,2})\\.? )?(\\p{L}{3,9})\\.?(?: (\\d{1,2}),)? )?${YEAR}\\)?[.,;]?$`,
  'u',
)
const dateOf = (year: string, month: number | undefined, day: string | undefined): ItemDate => ({
  'date-parts': [[Number(year), ...(month ? [month, ...(day ? [Number(day)] : [])] : [])]],
})

/** A date with its month that a text begins with: "(June 17, 2007). ", "5 July 2004. ". */
export function dateAhead(text: string): { issued: ItemDate; to: number } | undefined {
  const m = DATED.exec(text)
  const month = m && monthOf(m[1] ?? m[4]!)
  return m && month ? { issued: dateOf(m[5]!, month, m[2] ?? m[3]), to: m[0].length } : undefined
}

/** The date that a text ends with: ", November 2005", ", 1993", " (1998)"; only where it names no other year. */
export function dateBehind(text: string): { issued: ItemDate; from: number } | undefined {
  const m = ENDS.exec(text)
  if (!m || m.index < 3) return undefined
  const month = m[2] === undefined ? undefined : monthOf(m[2])
  if (m[2] !== undefined && !month) return undefined
  // in brackets with a press it is left to who reads the press
  if (/\([^()]*$/.test(text.slice(0, m.index + 1)) && !/\($/.test(text.slice(0, m.index + 2).trimEnd()))
    return undefined
  const isOnly = !/(?<!\d)(?:1[5-9]|20)\d{2}(?!\d)/.test(text.slice(0, m.index))
  const isBracketed = /\($/.test(text.slice(m.index, m.index + 2).trim())
  return isOnly || month || isBracketed ? { issued: dateOf(m[4]!, month, m[1] ?? m[3]), from: m.index } : undefined
}

/** The last year that a text names, where nothing else tells when it appeared. */
export const lastYear = (text: string): ItemDate | undefined => {
  const all = [...text.matchAll(/(?<![\d:/-])((?:1[5-9]|20)\d{2})[a-z]?(?![\d-])/g)]
  const last = all.at(-1)
  return last && dateOf(last[1]!, undefined, undefined)
}
