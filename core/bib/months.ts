import { fold } from './fold'

/** Tongues whose names of months are known. */
const TONGUES = 'en de fr es it pt ca nl sv da nb fi is et lv lt pl cs sk sl hr sr hu ro bg ru uk el tr id'.split(' ')

let known: Map<string, number> | undefined
function months(): Map<string, number> {
  if (known) return known
  known = new Map()
  for (const tongue of TONGUES)
    for (const month of ['long', 'short'] as const)
      for (const form of [{ month }, { month, day: 'numeric' }] as const) {
        const format = new Intl.DateTimeFormat(tongue, { ...form, timeZone: 'UTC' })
        for (let n = 1; n <= 12; n++) {
          const parts = format.formatToParts(new Date(Date.UTC(2021, n - 1, 15)))
          const name = fold(parts.find(p => p.type === 'month')?.value ?? '').replace(/\.$/, '')
          // what two tongues use for different months says nothing; the earlier tongue is the commoner
          if (/^\p{L}{3,}$/u.test(name) && !known.has(name)) known.set(name, n)
        }
      }
  for (const [name, n] of [
    ['sept', 9],
    ['jly', 7],
    ['marz', 3],
    ['maerz', 3],
    ['jänner', 1],
  ] as const)
    known.set(fold(name), n)
  return known
}

/** Seasons as CSL counts them: spring 1 to winter 4. */
const SEASONS: [RegExp, number][] = [
  [/^(spring|fruhjahr|fruhling|printemps|primavera|var|forar|lente|voorjaar|vesna|wiosna|jaro)$/, 1],
  [/^(summer|sommer|ete|verano|estate|verao|sommar|zomer|lato|leto)$/, 2],
  [/^(autumn|fall|herbst|automne|otono|autunno|outono|host|efterar|herfst|jesien|podzim)$/, 3],
  [/^(winter|hiver|invierno|inverno|vinter|zima)$/, 4],
]

/**
 * The number of a month by its name or its short form, in some thirty languages.
 * @example monthOf('März') // 3
 */
export const monthOf = (word: string): number | undefined => months().get(fold(word).replace(/\.$/, ''))

/** The number of a season by its name, spring 1 to winter 4. */
export const seasonOf = (word: string): number | undefined =>
  SEASONS.find(([is]) => is.test(fold(word).replace(/\.$/, '')))?.[1]
