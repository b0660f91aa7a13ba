import { yearOf } from '../bib/dates'
import { foldTitle } from '../bib/fold'
import type { Item } from '../bib/item'
import { readPages } from '../bib/pages'
import { compare } from './compare'
import { prepare, type Prepared } from './prepare'
import { readReference, type Reference } from './reference'
import { otherSigns, titleSigns, type Sign } from './signs'

/** The parts of a reference that are held against a work. */
export const PARTS = ['title', 'author', 'container', 'year', 'volume', 'issue', 'pages', 'publisher', 'DOI'] as const
export type Part = (typeof PARTS)[number]

/** How a part of a reference stands to that of a work. */
export type Standing = 'agrees' | 'nearly' | 'begins alike' | 'partly' | 'some more' | 'one apart' | 'differs'

/**
 * What a sign says of a reference and a work that are compared for no other reason than that both are known: the natural
 * logarithm of how much likelier it is if the one means the other (Fellegi and Sunter 1969). An agreement weighs by how
 * rarely two works have it by chance: a year one in 30, a volume one in 50, a first page one in 300.
 */
const SAYS: Partial<Record<Sign, [part: Part, standing: Standing, weight: number]>> = {
  'title: same': ['title', 'agrees', 8],
  'title: near': ['title', 'nearly', 7],
  'title: short': ['title', 'begins alike', 4],
  'title: most words': ['title', 'nearly', 4],
  'title: many words': ['title', 'partly', 1],
  'title: other': ['title', 'differs', -6],
  'author: all': ['author', 'agrees', 6],
  'author: fewer': ['author', 'some more', 4.5],
  'author: first': ['author', 'partly', 3],
  'author: other order': ['author', 'nearly', 4],
  'author: slip': ['author', 'nearly', 4.5],
  'author: some': ['author', 'partly', 1],
  'author: initials': ['author', 'partly', 0],
  'author: other': ['author', 'differs', -5],
  'year: same': ['year', 'agrees', 3.4],
  'year: next': ['year', 'one apart', 0],
  'year: two': ['year', 'differs', -2],
  'year: apart': ['year', 'differs', -4],
  'year: far': ['year', 'differs', -5],
  'container: same': ['container', 'agrees', 3.5],
  'container: part': ['container', 'partly', 0],
  'container: other': ['container', 'differs', -3],
  'volume: same': ['volume', 'agrees', 3.9],
  'volume: other': ['volume', 'differs', -3.5],
  'issue: same': ['issue', 'agrees', 1.5],
  'issue: other': ['issue', 'differs', -2],
  'issue: other, one page': ['issue', 'differs', -0.5],
  'pages: same': ['pages', 'agrees', 5.7],
  'pages: other': ['pages', 'differs', -3.5],
  'publisher: same': ['publisher', 'agrees', 2],
  'publisher: other': ['publisher', 'differs', -2],
  'DOI: same': ['DOI', 'agrees', 14],
  'DOI: other': ['DOI', 'differs', -9],
  'ISBN: same': ['DOI', 'agrees', 10],
}
/** What speaks of no part that is printed, and still tells one work from another. */
const BESIDE: Partial<Record<Sign, number>> = { 'mark: other': -6, 'numbers: other': -4 }

/** A printed title that is no more than the first words of the work's. */
const BEGINS = { standing: 'begins alike', weight: 2.5 } as const

/** What stands somewhere in the words of a reference, though it was not read as that part. */
const STANDS: Partial<Record<Part, number>> = { title: 7, author: 4, container: 3, year: 2.8, volume: 2.5, pages: 4.3 }

/** That a work which was found is the one meant, before anything is compared: one of ten thousand. */
const PRIOR = -9.2
/** From this share on a work is taken for the one meant; where all are below the other, none is. */
const FITS = 0.95
const LIKELY = 0.05
/** Letters of an entry that are looked through. */
const LONGEST = 2000

type Says = Pick<Reference, 'item' | 'others'>

/** An entry of a list made ready to be held against works. */
export interface Printed extends Says {
  /** Its words in their folded form, parted and ended by a space each. */
  words: string
  numbers: readonly string[]
  prepared: Prepared
}

export function readEntry(text: string, read: Says = readReference(text)): Printed {
  const words = ` ${foldTitle(text.slice(0, LONGEST))} `
  return {
    ...read,
    words,
    numbers: words.match(/\d+/g) ?? [],
    prepared: prepare({ id: 0, item: { id: '', type: '', ...read.item } as Item, facts: {} }),
  }
}

export interface Compared {
  /** Log-odds (natural) that the entry means the work. */
  score: number
  parts: { part: Part; standing: Standing }[]
}

/**
 * Holds an entry as it is printed against a work, part by part: as its parts were read, and where a part was read
 * otherwise or not at all, by whether that of the work stands among its words. What one of them lacks says nothing.
 */
export function compareEntry(entry: Printed, work: Item): Compared {
  const its = prepare({ id: 0, item: work, facts: {} })
  const a = entry.prepared
  const told = new Map<Part, { standing: Standing; weight: number }>()
  let beside = 0
  for (const [sign] of [...titleSigns(a, its), ...otherSigns(a, its)]) {
    const says = SAYS[sign]
    if (!says) {
      beside += BESIDE[sign] ?? 0
      continue
    }
    // "et al." names no more than it says
    const standing = sign === 'author: fewer' && entry.others ? 'agrees' : says[1]
    told.set(says[0], { standing, weight: says[2] })
  }
  const stands = standing(entry, work, its)
  for (const part of stands) {
    const weight = STANDS[part]!
    if (weight > (told.get(part)?.weight ?? 0)) told.set(part, { standing: 'agrees', weight })
  }
  const short = a.words.length > 1 && its.title.startsWith(`${a.title} `)
  if (short && told.get('title')?.standing === 'differs') told.set('title', BEGINS)
  // some manners print no title: what was read as one is the journal, or the names of authors; so with the publisher
  const names = [...(stands.has('container') ? [its.container] : []), its.families]
  if (told.get('title')?.standing === 'differs' && covers(a.title, names)) {
    told.delete('title')
    // nor do its numbers and its first word speak of a title
    beside = 0
  }
  if (covers(a.publisher.join(' '), names)) told.delete('publisher')
  return {
    score: [...told.values()].reduce((sum, t) => sum + t.weight, PRIOR + beside),
    parts: PARTS.flatMap(part => {
      const t = told.get(part)
      return t ? [{ part, standing: t.standing }] : []
    }),
  }
}

/** The parts of a work that stand among the words of an entry. */
function standing({ words, numbers }: Printed, work: Item, its: Prepared): Set<Part> {
  const parts = new Set<Part>()
  const put = (part: Part, is: boolean) => is && parts.add(part)
  put('title', its.words.length > 2 && words.includes(` ${its.title} `))
  put('author', Boolean(its.families[0]) && words.includes(` ${foldTitle(its.families[0]!)} `))
  put('container', hasName(words, its.container))
  put('year', numbers.includes(String(yearOf(work) ?? '')))
  put('volume', numbers.includes(its.volume))
  const first = readPages(work.page)?.first
  put('pages', first !== undefined && numbers.includes(String(first)))
  return parts
}

/** Whether a name stands in a text, its words whole or each cut short: "ann fl biol" for "Annals of Flower Biology". */
function hasName(words: string, name: readonly string[]): boolean {
  if (!name.length) return false
  const w = words.trim().split(' ')
  const alone = name.length === 1
  const fits = (short: string, whole: string) =>
    short === whole || (whole.startsWith(short) && short.length < whole.length && (!alone || short.length > 3))
  for (let i = 0; i < w.length; i++) {
    let at = i
    for (const n of name) {
      // small words of a name are often left out
      if (at > i && /^(?:of|in|the|and|for|on|de|der|die|und|et|la|le)$/.test(w[at] ?? '')) at++
      if (w[at] === undefined || !fits(w[at]!, n)) {
        at = -1
        break
      }
      at++
    }
    if (at > 0) return true
  }
  return false
}

/** Whether all words of a title are numbers, or the words of these names, whole or cut short. */
const covers = (title: string, names: readonly (readonly string[])[]): boolean => {
  const known = names.flat()
  return title
    .split(' ')
    .every(w => /^\d+$/.test(w) || w.length < 4 || known.some(n => n.startsWith(w) || w.startsWith(n)))
}

/** "fits": one is meant; "to settle": it takes a look; "unknown": none of them. */
export type Verdict = 'fits' | 'to settle' | 'unknown'

/** What the shares of works come to. @param shares 0 to 1 each, 1 at most in all */
export function verdictOf(shares: readonly number[]): Verdict {
  if (shares.some(s => s >= FITS)) return 'fits'
  return shares.some(s => s >= LIKELY) ? 'to settle' : 'unknown'
}

/**
 * Which of several works an entry means, if any: the odds of each against all others and against none of them, by Bayes'
 * rule with one work meant at most.
 * @returns of each work the share of the belief that it is meant, 0 to 1; what is left is that none of them is
 */
export function settle(entry: Printed, works: readonly Item[]): number[] {
  const odds = works.map(w => Math.exp(Math.min(30, compareEntry(entry, w).score)))
  const all = odds.reduce((sum, o) => sum + o, 1)
  return odds.map(o => o / all)
}

const ETC = /\b(?:et al|u\. ?a|and others|и др)\b/iu
/** Whether an entry says that there are more authors than it names. */
export const namesOthers = (text: string): boolean => ETC.test(text)

/** Which of many entries mean a work, each looked at by itself. @returns their places among the entries */
export function meaning(work: Item, entries: readonly { text: string; item: Partial<Item> }[]): number[] {
  return entries.flatMap(({ text, item }, i) => {
    const entry = readEntry(text, { item, others: namesOthers(text) })
    return verdictOf(settle(entry, [work])) === 'fits' ? [i] : []
  })
}

/** The first of each that describe one work, as records of several catalogues do. */
export function withoutDoubles<T extends { item: Item }>(works: readonly T[]): T[] {
  const kept: { of: T; prepared: Prepared }[] = []
  for (const of of works) {
    const prepared = prepare({ id: kept.length, item: of.item, facts: {} })
    if (!kept.some(k => compare(k.prepared, prepared).verdict === 'same')) kept.push({ of, prepared })
  }
  return kept.map(k => k.of)
}
