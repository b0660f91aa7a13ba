/** Letters that no text has: control characters but for tab and line ends, and the two that XML forbids. */
// eslint-disable-next-line no-control-regex
const CONTROL = /[\u0000-\u0008\u000B\u000C\u000E-\u001F\u007F\uFFFE\uFFFF]/g

/** How deep a value may be nested: the database takes JSON of 32 levels, and a record needs six. */
export const DEEPEST = 20

/**
 * A text as every later border takes it: half letters of UTF-16 replaced, control characters left out.
 * @example cleanText('a\u0000b \ud83d') // 'ab \ufffd'
 */
export const cleanText = (text: string): string => text.toWellFormed().replace(CONTROL, '')

/**
 * A value as it came from outside with all its texts clean, names of its fields too.
 * @throws RangeError where it is nested deeper than DEEPEST
 */
export function clean<T>(value: T, depth = 0): T {
  if (typeof value === 'string') return cleanText(value) as T
  if (typeof value !== 'object' || value === null) return value
  if (depth >= DEEPEST) throw new RangeError(`It is nested deeper than ${DEEPEST} levels.`)
  if (Array.isArray(value)) return value.map(v => clean<unknown>(v, depth + 1)) as T
  return Object.fromEntries(
    Object.entries(value).map(([k, v]) => [cleanText(k), clean<unknown>(v, depth + 1)] as const),
  ) as T
}

/**
 * The first letters of a text, never half of one.
 * @example firstLetters('a\u{1F319}b', 2) // 'a'
 */
export function firstLetters(text: string, most: number): string {
  if (text.length <= most) return text
  const end = /[\uD800-\uDBFF]/.test(text[most - 1]!) ? most - 1 : most
  return text.slice(0, end)
}

/**
 * A title as it is shown where nothing can stand in italics: without the marks that CSL-JSON has in a text.
 * @example plainTitle('On <i>Culex</i>') // 'On Culex'
 */
export const plainTitle = (title: string | undefined, none = 'Untitled'): string =>
  title?.replace(/<\/?(?:i|b|sup|sub|span(?: [^<>]{1,60})?)>/g, '') || none

/** The parts of a text between signs, without white space around them; a pattern that took it along would be quadratic. */
export const partsAt = (text: string, signs: string | RegExp): string[] => text.split(signs).map(part => part.trim())

/**
 * A text without the signs at its end, walked from there: a pattern would begin anew at each sign of a run within.
 * @param sign one letter
 */
export function withoutEnd(text: string, sign: RegExp): string {
  let to = text.length
  while (to > 0 && sign.test(text[to - 1]!)) to--
  return text.slice(0, to)
}

/** The run of a sign that a text ends with. @example endOf('in: St.', /[\p{L}.]/u) // 'St.' */
export const endOf = (text: string, sign: RegExp): string => text.slice(withoutEnd(text, sign).length)
