/** How old things are: [years, how many of them], in any order; ages below 0 are left out. */
export type Ages = readonly (readonly [number, number])[]

export interface Currency {
  /** Of how many it is told. */
  n: number
  /**
   * The half-life in years: half of them are younger. Within a year they count as spread evenly. Source: the measure of
   * Burton and Kebler (1960), and the cited half-life of citation reports after it.
   */
  half: number
  /** The share of those of the last five years. */
  recent: number
}

/** Fewer are too few to speak of a field. */
export const FEWEST = 30
const RECENT = 5

/** Ages from 0 on, each once, the youngest first; nothing where they are too few to tell. */
function merged(ages: Ages): { n: number; own: [number, number][] } | undefined {
  const out = new Map<number, number>()
  for (const [age, n] of ages) if (age >= 0 && n > 0) out.set(age, (out.get(age) ?? 0) + n)
  const own = [...out].sort((a, b) => a[0] - b[0])
  const n = sumOf(own)
  return n < FEWEST ? undefined : { n, own }
}
const sumOf = (own: Ages, below = Infinity): number => own.reduce((sum, [age, k]) => sum + (age < below ? k : 0), 0)

/** Nothing where they are too few to tell. */
export function currencyOf(ages: Ages): Currency | undefined {
  const all = merged(ages)
  if (!all) return undefined
  const { n, own } = all
  let before = 0
  let half = 0
  for (const [age, k] of own) {
    if (before < n / 2) half = age + (n / 2 - before) / k
    before += k
    if (before >= n / 2) break
  }
  return { n, half, recent: sumOf(own, RECENT) / n }
}

/** The share of them that is younger than an age, from 0 to 1; nothing where they are too few to tell. */
export function shareYounger(ages: Ages, than: number): number | undefined {
  const all = merged(ages)
  return all && sumOf(all.own, than) / all.n
}

/** The ages of works by their years, as of a year. */
export function agesOfYears(years: Iterable<number | null>, now: number): Ages {
  const out = new Map<number, number>()
  for (const y of years) if (y !== null) out.set(now - y, (out.get(now - y) ?? 0) + 1)
  return [...out]
}

const years = (x: number): string => (x < 1.05 ? 'year' : x < 5 ? `${trimmed(x)} years` : `${Math.round(x)} years`)
const trimmed = (x: number): string => x.toFixed(1).replace(/\.0$/, '')
const percent = (x: number): string => `${Math.round(x * 100)} %`

/**
 * How fast a field renews itself, in sentences.
 * @param cited ages of what kept works cite, in the years in which they cited it
 * @param found ages of what was found, as of now
 * @param works how many kept works the citations are of
 */
export function sayCurrency(cited: Ages, found: Ages, works: number): string[] {
  const [c, f] = [currencyOf(cited), currencyOf(found)]
  return [
    ...(c
      ? [
          `This field renews itself every ${years(c.half)}: half of what your kept works cite was younger than that when they cited it (${c.n.toLocaleString('en')} references of ${works} ${works === 1 ? 'work' : 'works'}).`,
        ]
      : []),
    ...(c && f
      ? [
          `Of the works here ${percent(f.recent)} are of the last five years; of what your kept works cite, ${percent(c.recent)} were when they cited it.`,
        ]
      : f
        ? [
            `Of the works here ${percent(f.recent)} are of the last five years, and half are younger than ${years(f.half).replace(/^year/, 'a year')}.`,
          ]
        : []),
  ]
}

/** The age of a work against what kept works cite, in words: "14 years, older than 72 % of what the kept works cite". */
export function sayAge(year: number, now: number, cited: Ages): string | undefined {
  const age = now - year
  if (age < 0) return undefined
  const own = age === 0 ? 'this year’s' : age === 1 ? '1 year' : `${age} years`
  const younger = shareYounger(cited, age)
  if (younger === undefined) return own
  const share = Math.max(younger, 1 - younger)
  const most = share > 0.985 ? 'nearly all' : `${percent(share)} of what`
  return `${own}: ${younger >= 0.5 ? 'older' : 'newer'} than ${most} the kept works cite`
}
