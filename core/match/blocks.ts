import type { Prepared } from './prepare'

/** Records in a block beyond which its key tells little: of a larger one the first are compared. */
export const BLOCK = 30

/**
 * A hash of 30 bits (FNV-1a), which an engine keeps as a small integer. Where two keys meet by chance, a pair is
 * compared in vain.
 */
function hash(text: string, seed: number): number {
  let h = seed ^ 0x811c9dc5
  for (let i = 0; i < text.length; i++) h = Math.imul(h ^ text.charCodeAt(i), 0x01000193)
  return h
}
const mix = (h: number, x: number): number => Math.imul((h ^ x) + (h << 7), 0x9e3779b1) ^ (x >>> 15)

const key = (h: number): number => h >>> 2

/** The keys of a work's own identifiers, among its block keys. @returns numbers of 30 bits */
export const identifierKeys = (p: Pick<Prepared, 'doi' | 'isbns'>): number[] => [
  ...(p.doi ? [key(hash(p.doi, 1))] : []),
  ...p.isbns.map(i => key(hash(i, 2))),
]

/**
 * Keys under which records that may describe one work meet, as hashes. They are kept with the records: a change of what
 * they are made of needs a migration that makes them anew.
 * @returns numbers of 30 bits, some of them perhaps twice
 */
export function blockKeys(p: Prepared): number[] {
  const keys: number[] = identifierKeys(p)
  const put = (h: number) => keys.push(key(h))
  const family = hash(p.families[0] ?? '', 3)
  const year = p.year ?? 0
  if (p.title) {
    const title = hash(p.title, 4)
    put(mix(title, family))
    put(mix(title, year))
    // a long title says enough by itself
    if (p.words.length > 3) put(title)
    if (p.main) put(mix(hash(p.main, 4), family))
    // a short title has no words in a row that a slip leaves: those of one author in one year meet, and of nobody's
    // those that begin or end with one word
    if (p.words.length < 6) {
      if (p.families.length) put(mix(family, hash(String(year), 7)))
      else for (const w of [p.words[0]!, p.words.at(-1)!]) put(mix(hash(w, 8), year))
    }
    // words in a row survive a slip elsewhere and a lost subtitle: three beside a name, five beside a year alone
    const w = p.words.map(x => hash(x, 5))
    for (let i = 0; i + 3 <= w.length; i++) {
      const three = mix(mix(w[i]!, w[i + 1]!), w[i + 2]!)
      if (p.families.length) put(mix(three, family))
      if (year && i + 5 <= w.length) put(mix(mix(mix(three, w[i + 3]!), w[i + 4]!), year))
    }
  }
  if (p.volume && p.first && (p.issn || p.container[0]))
    put(hash(`${p.container[0] ?? p.issn}|${p.volume}|${p.first}`, 6))
  return keys
}

/**
 * Pairs of records that share a block, each once, by position in the list, with the later one at `from` or after.
 * Blocks are small by their keys; of one with more than 30 records the first 30 are compared.
 */
export function* candidatePairs(list: readonly Prepared[], from = 0): Generator<[number, number]> {
  const blocks = new Map<number, number | number[]>()
  // the last record that a record was paired with, so that each pair comes once
  const met = new Int32Array(list.length).fill(-1)
  for (let i = 0; i < list.length; i++) {
    for (const k of blockKeys(list[i]!)) {
      const block = blocks.get(k)
      if (block === undefined) {
        blocks.set(k, i)
        continue
      }
      const others = typeof block === 'number' ? [block] : block
      if (others.length >= BLOCK || others[others.length - 1] === i) continue
      if (i >= from)
        for (const j of others) {
          if (met[j] === i) continue
          met[j] = i
          yield [j, i]
        }
      if (typeof block === 'number') blocks.set(k, [block, i])
      else block.push(i)
    }
  }
}
