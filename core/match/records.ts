import { normaliseDoi } from '../bib/identifiers'
import type { ReadRecord } from '../bib/item'
import { candidatePairs, compare, prepare } from './compare'

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
  const links: PairLink[] = []
  for (const [i, j] of candidatePairs(list, known.length)) {
    const [a, b] = list[i]!.id < list[j]!.id ? [list[i]!, list[j]!] : [list[j]!, list[i]!]
    const { verdict, score, marks } = compare(a, b)
    if (a.id === b.id || verdict === 'different') continue
    const identified = marks.some(m => m.field === 'identifier' && m.weight > 0)
    links.push({
      a: a.id,
      b: b.id,
      verdict: verdict === 'ask' ? 'asked' : verdict,
      score: Math.round(score * 100) / 100,
      by: identified ? 'identifier' : 'description',
    })
  }
  return links
}

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
