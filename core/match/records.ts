import { normaliseDoi } from '../bib/identifiers'
import type { ReadRecord } from '../bib/item'
import { BLOCK, candidatePairs } from './blocks'
import { compare } from './compare'
import { prepare, type Prepared } from './prepare'

/** A record as matching sees it. Ids are numbers that grow with time of arrival. */
export interface MatchRecord extends ReadRecord {
  id: number
}

/** "linked": two works that belong together, as a conference paper and the article it became. */
export type Verdict = 'same' | 'never' | 'asked' | 'linked'

/** A stored finding about two records, a < b. Works are rebuilt from these, so a join can be taken apart. */
export interface PairLink {
  a: number
  b: number
  verdict: Verdict
  /** Log-odds that the two describe one work; identifiers weigh most. */
  score: number
  by: 'identifier' | 'description' | 'student'
}

/**
 * Finds the links between new records and all records: those that meet in a block are compared field by field. Joined
 * where the odds are clear, asked where they are not; nothing is said of what is plainly different. Near-linear.
 */
export function findLinks(known: readonly MatchRecord[], fresh: readonly MatchRecord[]): PairLink[] {
  const list = [...known, ...fresh].map(prepare)
  const links: (PairLink & { places: [number, number] })[] = []
  for (const [i, j] of candidatePairs(list, known.length)) {
    const [a, b] = list[i]!.id < list[j]!.id ? [list[i]!, list[j]!] : [list[j]!, list[i]!]
    const { verdict, score, signs } = compare(a, b)
    if (a.id === b.id || verdict === 'different') continue
    const identified = signs.some(s => s.sign === 'DOI: same' || s.sign === 'ISBN: same')
    links.push({
      a: a.id,
      b: b.id,
      verdict: verdict === 'ask' ? 'asked' : verdict,
      score: Math.round(score * 100) / 100,
      by: identified ? 'identifier' : 'description',
      places: [i, j],
    })
  }
  askOfEither(list, links)
  return links.map(({ a, b, verdict, score, by }) => ({ a, b, verdict, score, by }))
}

/**
 * A record that may be either of two which are surely not one (two years of a column, entered without its pages) is
 * joined to neither, unless one is clearly nearer: it is asked.
 */
function askOfEither(list: readonly Prepared[], links: (PairLink & { places: [number, number] })[]): void {
  const of = new Map<number, typeof links>()
  for (const l of links) if (l.verdict === 'same') for (const p of l.places) of.set(p, [...(of.get(p) ?? []), l])
  const doubtful = new Set<(typeof links)[number]>()
  for (const [place, mine] of of) {
    if (mine.length < 2 || mine.length > BLOCK) continue
    for (const [n, l] of mine.entries())
      for (const m of mine.slice(n + 1)) {
        const [x, y] = [l, m].map(k => k.places[k.places[0] === place ? 1 : 0]!)
        if (compare(list[x!]!, list[y!]!).verdict !== 'different') continue
        if (l.by !== 'identifier' && l.score - m.score < CLEARLY) doubtful.add(l)
        if (m.by !== 'identifier' && m.score - l.score < CLEARLY) doubtful.add(m)
      }
  }
  for (const l of doubtful) l.verdict = 'asked'
}
/** Log-odds by which one of two is clearly nearer. */
const CLEARLY = 1

/** The DOI by which a record counts as a publication of its own; a preprint's stands beside its article's. */
export const publishedDoi = (r: MatchRecord): string | undefined =>
  r.facts.version === 'preprint' ? undefined : normaliseDoi(r.item.DOI)

/**
 * Works as components of the "same" links: taken by descending score, then record ids, skipping a link that would
 * join a "never" pair or two different DOIs. Independent of the order of arrival. Each component is ascending.
 */
export function components(
  records: readonly { id: number; doi?: string | undefined }[],
  links: readonly PairLink[],
): number[][] {
  const parent = new Map(records.map(r => [r.id, r.id]))
  const members = new Map(records.map(r => [r.id, [r.id]]))
  const doi = new Map(records.map(r => [r.id, r.doi]))
  const find = (x: number): number => {
    let root = x
    while (parent.get(root) !== root) root = parent.get(root)!
    while (parent.get(x) !== root) {
      const up = parent.get(x)!
      parent.set(x, root)
      x = up
    }
    return root
  }
  const never = new Map<number, Set<number>>()
  for (const l of links) {
    if (l.verdict !== 'never') continue
    never.set(l.a, (never.get(l.a) ?? new Set()).add(l.b))
    never.set(l.b, (never.get(l.b) ?? new Set()).add(l.a))
  }
  const same = links.filter(l => l.verdict === 'same' && parent.has(l.a) && parent.has(l.b))
  // a student's own word comes before what was computed
  const rank = (l: PairLink) => (l.by === 'student' ? 1 : 0)
  const order = [...same].sort((x, y) => rank(y) - rank(x) || y.score - x.score || x.a - y.a || x.b - y.b)
  for (const l of order) {
    const a = find(l.a)
    const b = find(l.b)
    if (a === b) continue
    const [small, large] = members.get(a)!.length < members.get(b)!.length ? [a, b] : [b, a]
    const forbidden = members.get(small)!.some(m => {
      const set = never.get(m)
      return set && [...set].some(n => find(n) === large)
    })
    const left = doi.get(a)
    const right = doi.get(b)
    if (forbidden || (l.by !== 'student' && left && right && left !== right)) continue
    parent.set(small, large)
    members.set(large, [...members.get(large)!, ...members.get(small)!])
    doi.set(large, left ?? right)
  }
  return [...new Set(records.map(r => find(r.id)))]
    .map(root => members.get(root)!.sort((x, y) => x - y))
    .sort((x, y) => x[0]! - y[0]!)
}

/** Records of a list, those of one work together, in the order of the first of each: as they would be joined. */
export function worksAmong(records: readonly (MatchRecord & { work: number | null })[]): number[][] {
  const first = new Map<number, number>()
  const known: PairLink[] = []
  for (const { id, work } of records) {
    if (work === null) continue
    const a = first.get(work)
    if (a === undefined) first.set(work, id)
    // what stands in one work already is one, whatever it looks like
    else known.push({ a, b: id, verdict: 'same', score: 1000, by: 'student' })
  }
  const place = new Map(records.map((r, i) => [r.id, i]))
  const groups = components(
    records.map(r => ({ id: r.id, doi: publishedDoi(r) })),
    [...known, ...findLinks([], records)],
  )
  for (const g of groups) g.sort((a, b) => place.get(a)! - place.get(b)!)
  return groups.sort((a, b) => place.get(a[0]!)! - place.get(b[0]!)!)
}
