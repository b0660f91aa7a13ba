import { tokenise } from './tokens'

/** Where a word stands in a description. */
export type Place = 'keyword' | 'subject' | 'title'
export interface Described {
  title?: string
  keywords?: readonly string[]
  subjects?: readonly string[]
}
export interface Harvested {
  text: string
  from: Place
  /** Works that have it: among the wanted, and among the others. */
  wanted: number
  others: number
  /** How surely it sets the wanted apart, in standard deviations. */
  z: number
}

const SMALL = new Set(
  'a an and are as at be by can could did do does for from had has have how in into is it its may might more near no not of on or our over some than that the their them they this to under was were what when where which who why will with between among during after before new study review effect effects'.split(
    ' ',
  ),
)

/**
 * The things by which a description can be found: keywords and subject terms whole, phrases of two words in its
 * title.
 */
export function wordsIn(d: Described): Map<string, Place> {
  const out = new Map<string, Place>()
  const words = tokenise(d.title ?? '').map(t => t.text)
  words.forEach((w, i) => {
    const next = words[i + 1]
    // a letter alone is what an apostrophe left: "moth’s" is `moth` and `s`
    if (next && w.length > 1 && next.length > 1 && !SMALL.has(w) && !SMALL.has(next)) out.set(`${w} ${next}`, 'title')
  })
  for (const s of d.subjects ?? []) out.set(s.toLowerCase(), 'subject')
  for (const k of d.keywords ?? []) out.set(k.toLowerCase(), 'keyword')
  return out
}

/**
 * Words that set wanted works apart from the others: log-odds with an informative Dirichlet prior (Monroe, Colaresi and
 * Quinn 2008), the prior being how often a word stands anywhere. Documents count, not repetitions. Best first.
 */
export function harvest(wanted: readonly Described[], others: readonly Described[], most = 40): Harvested[] {
  const count = (list: readonly Described[]) => {
    const n = new Map<string, number>()
    const places = new Map<string, Place>()
    for (const d of list)
      for (const [w, place] of wordsIn(d)) {
        n.set(w, (n.get(w) ?? 0) + 1)
        // a keyword is the better home of a word than a title
        if (!places.has(w) || place === 'keyword') places.set(w, place)
      }
    return { n, places, total: [...n.values()].reduce((a, b) => a + b, 0) }
  }
  const a = count(wanted)
  const b = count(others)
  const all = a.total + b.total
  if (!wanted.length || !all) return []
  const strength = 50
  const out: Harvested[] = []
  for (const [text, x] of a.n) {
    const from = a.places.get(text)!
    // a phrase that two titles share is most often a manner of speaking
    if (x < (from === 'title' ? 3 : 2)) continue
    const y = b.n.get(text) ?? 0
    const prior = (strength * (x + y)) / all
    const odds = (k: number, total: number) => Math.log((k + prior) / (total + strength - k - prior))
    const z = (odds(x, a.total) - odds(y, b.total)) / Math.sqrt(1 / (x + prior) + 1 / (y + prior))
    if (z > 1) out.push({ text, from, wanted: x, others: y, z })
  }
  out.sort((p, q) => q.z - p.z || (p.text < q.text ? -1 : 1))
  return out.slice(0, most)
}
