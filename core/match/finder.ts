import { fold, foldTitle } from '../bib/fold'
import type { Item } from '../bib/item'
import { readPages } from '../bib/pages'
import { prepare } from './prepare'
import { compareEntry, type Printed } from './settle'

/** Works that a key leads to beyond which it tells none of them. */
const MOST = 200
/** Numbers of an entry that are looked at. */
const NUMBERS = 12

/** Works among which those are found that an entry may mean. */
export class Finder {
  private readonly by = new Map<string, number[]>()
  private readonly works: Item[] = []

  constructor(works: readonly Item[] = []) {
    for (const w of works) this.add(w)
  }

  /** Adds a work; its place is behind those that are there. */
  add(item: Item): void {
    const i = this.works.push(item) - 1
    for (const k of workKeys(item)) {
      const block = this.by.get(k)
      if (!block) this.by.set(k, [i])
      else if (block.at(-1) !== i) block.push(i)
    }
  }

  /** Those that it may mean, best first. @returns their places among the works */
  find(entry: Printed, most = 4): number[] {
    const near = new Set<number>()
    for (const k of entryKeys(entry)) {
      const block = this.by.get(k)
      if (block && block.length <= MOST) for (const i of block) near.add(i)
    }
    return [...near]
      .map(i => ({ i, score: compareEntry(entry, this.works[i]!).score }))
      .filter(x => x.score > -4)
      .sort((a, b) => b.score - a.score || a.i - b.i)
      .slice(0, most)
      .map(x => x.i)
  }
}

function workKeys(item: Item): string[] {
  const { doi, title, words, families, volume, year } = prepare({ id: 0, item, facts: {} })
  const first = readPages(item.page)?.first
  const [family] = families
  return [
    ...(doi ? [doi] : []),
    ...(title ? [`t ${words.slice(0, 3).join(' ')}`] : []),
    ...(family && year ? [`a ${foldTitle(family).split(' ').at(-1)!} ${year}`] : []),
    ...(volume && first !== undefined ? [`v ${fold(volume)} ${first}`] : []),
    ...(year && first !== undefined ? [`v ${year} ${first}`] : []),
  ]
}

/** Keys under which an entry meets the work that it means, whatever was read as what. */
function* entryKeys({ words, numbers, prepared }: Printed): Generator<string> {
  if (prepared.doi) yield prepared.doi
  const w = words.trim().split(' ')
  const n = numbers.slice(0, NUMBERS)
  const years = n.filter(x => /^(?:1[5-9]|20)\d\d$/.test(x))
  for (let i = 0; i < w.length; i++) {
    yield `t ${w.slice(i, i + 3).join(' ')}`
    if (/^\p{L}{2}/u.test(w[i]!))
      for (const y of years) for (const by of [0, 1, -1]) yield `a ${w[i]!} ${Number(y) + by}`
  }
  for (const [i, a] of n.entries()) for (const b of n.slice(i + 1)) yield `v ${a} ${Number(b)}`
}
