import type { Stretch } from '../bib/sentences'
import { stemmer } from 'stemmer'
import { tokenise } from '../query/tokens'

/** A text that words may have been taken from. */
export interface WordSource {
  key: string
  /** The work that it is of, and what of it. */
  work: number
  what: 'abstract' | 'copy' | 'passage' | 'annotation'
  /** Its words, page by page; of what has no pages one. */
  pages: readonly string[]
  /** How its pages are called, where they are those that are cited. */
  labels?: readonly string[]
}

/** Words of a text that run as they do in a source. */
export interface Run extends Stretch {
  /** Words that both have, and which these are here. */
  words: number
  marks: Stretch[]
  source: Pick<WordSource, 'key' | 'work' | 'what'>
  /** Number of its page in the source, from 1. */
  page: number
  /** How that is called, where it is one that is cited. */
  label: string | undefined
  /** The words as they stand there, and which of them are the same. */
  there: { text: string; marks: Stretch[] }
}

/** Words in a gram: 4, sorted, so that two that changed places are found. */
const GRAM = 4
/** Both have this many words before a run is told, or one less in a row; of these not all little ones. */
const FEWEST = 8
const FEWEST_LARGE = 4
/** Words that may differ between two that are the same before a run ends. */
const GAP = 4
/** Of a run's length, the share of words that both have. */
const SHARE = 0.5
/** Words of a quotation at most: nobody quotes more. */
const LONGEST_QUOTE = 400
/** Of a short quotation, the share of words that stand there. */
const MOSTLY = 0.7
/** Places of a gram at most. */
const MOST_OF_A_GRAM = 24

interface Words {
  ids: Int32Array
  /** Which are words of grammar. */
  little: Uint8Array
  starts: Int32Array
  ends: Int32Array
  length: number
}
interface Page {
  source: WordSource
  /** From 0. */
  page: number
  words: Words
}
/** Grams of all pages in order of their numbers, each with its place: pages laid end to end. */
interface Grams {
  sorted: Float64Array
  /** Where each page begins. */
  starts: number[]
}
/** A number of a gram has 31 bits, its place 22: more words of sources than four million are none of a student's. */
const PLACES = 2 ** 22

/** The words of sources, kept so that a text is held against all of them while it is being written. */
export class Wording {
  private readonly ids = new Map<string, number>()
  private readonly sources = new Map<string, Page[]>()
  private on: { pages: Page[]; grams: Grams } | undefined

  constructor(sources: readonly WordSource[] = []) {
    for (const s of sources) this.put(s)
  }

  /** Adds a source, or puts it in the place of the one of its key. */
  put(source: WordSource): void {
    this.sources.set(
      source.key,
      source.pages.map((text, page) => ({ source, page, words: this.wordsOf(text) })),
    )
    this.on = undefined
  }
  drop(key: string): void {
    if (this.sources.delete(key)) this.on = undefined
  }

  /**
   * Runs of words that a text shares with a source, the longest first and none within another: grams of both, widened to
   * where they part. Words are compared by their stems (Porter 1980).
   * @param but a source that it is not held against: the text itself
   */
  near(text: string, but = ''): Run[] {
    const own = this.wordsOf(text)
    const runs: Run[] = []
    /** By source and page, how far on each diagonal a run goes already. */
    const seen = new Map<string, number>()
    for (let i = 0; i + GRAM <= own.length; i++) {
      for (const { page, at } of this.placesOf(own, i)) {
        if (page.source.key === but) continue
        const diagonal = `${page.source.key} ${page.page} ${Math.round((at - i) / (GAP + 1))}`
        if ((seen.get(diagonal) ?? -1) >= i) continue
        const pairs = this.widened(own, i, page.words, at)
        const last = pairs.at(-1)
        // other words of the same number
        if (!last) continue
        seen.set(diagonal, last[0])
        if (this.isTold(own, pairs)) runs.push(runOf(own, page, pairs))
      }
    }
    return withoutWithin(runs)
  }

  /**
   * Where words stand in the sources of a work as nearly as possible, to tell what a quotation has changed.
   * @param isNamed whether a page is the one that is named: of several it is taken
   */
  find(
    quote: string,
    work: number,
    isNamed: (label: string | undefined) => boolean = () => true,
  ): { run: Run; isExact: boolean } | undefined {
    const own = this.wordsOf(quote)
    if (own.length < GRAM || own.length > LONGEST_QUOTE) return undefined
    let best: { run: Run; isExact: boolean } | undefined
    for (const pages of this.sources.values())
      for (const page of pages) {
        if (!isTextOf(page.source, work)) break
        const at = exactly(own, page.words)
        if (at === undefined) continue
        const run = runOf(
          own,
          page,
          Array.from({ length: own.length }, (_, k) => [k, at + k]),
        )
        const isExact = sameLetters(quote, run.there.text)
        if (isExact && isNamed(run.label)) return { run, isExact }
        if (!best || (isExact && !best.isExact)) best = { run, isExact }
      }
    if (best) return best
    for (let i = 0; i + GRAM <= own.length; i++)
      for (const { page, at } of this.placesOf(own, i)) {
        if (!isTextOf(page.source, work)) continue
        const pairs = this.widened(own, i, page.words, at)
        // a quotation is one where most of it stands there
        if (!pairs.length || pairs.length < own.length * SHARE) continue
        const run = runOf(own, page, wholeOf(own, page.words, pairs))
        const gain = run.words - (best?.run.words ?? 0)
        if (gain > 0 || (gain === 0 && !isNamed(best?.run.label) && isNamed(run.label))) best = { run, isExact: false }
      }
    return best ?? this.wordForWord(own, work, isNamed)
  }

  /** The place where most of a short quotation stands word for word, others in place of some. */
  private wordForWord(
    own: Words,
    work: number,
    isNamed: (label: string | undefined) => boolean,
  ): { run: Run; isExact: boolean } | undefined {
    let best: { page: Page; at: number; same: number; isNamed: boolean } | undefined
    for (const pages of this.sources.values())
      for (const page of pages) {
        if (!isTextOf(page.source, work)) break
        const isThere = isNamed(page.source.labels?.[page.page])
        for (let at = 0; at + own.length <= page.words.length; at++) {
          let same = 0
          for (let n = 0; n < own.length; n++) if (own.ids[n] === page.words.ids[at + n]) same++
          if (same > (best?.same ?? 0) || (same === best?.same && isThere && !best.isNamed))
            best = { page, at, same, isNamed: isThere }
        }
      }
    if (!best || best.same < own.length * MOSTLY) return undefined
    const { page, at } = best
    const large = [...own.little].filter((little, n) => !little && own.ids[n] === page.words.ids[at + n]).length
    const pairs = Array.from({ length: own.length }, (_, n): [number, number] => [n, at + n])
    return large < 2 ? undefined : { run: runOf(own, page, pairs), isExact: false }
  }

  private idOf(word: string): number {
    let id = this.ids.get(word)
    if (id === undefined) {
      id = this.ids.get(`=${stemmer(word)}`) ?? this.ids.size + 1
      this.ids.set(`=${stemmer(word)}`, id)
      this.ids.set(word, id)
    }
    return id
  }

  private wordsOf(text: string): Words {
    const tokens = tokenise(text)
    const { length } = tokens
    const words: Words = {
      ...{ ids: new Int32Array(length), little: new Uint8Array(length), length },
      ...{ starts: new Int32Array(length), ends: new Int32Array(length) },
    }
    tokens.forEach((t, i) => {
      words.ids[i] = this.idOf(t.text)
      words.little[i] = Number(LITTLE.has(t.text))
      words.starts[i] = t.start
      words.ends[i] = t.end
    })
    return words
  }

  /** Where the gram at a place of a text stands in the sources. */
  private placesOf(own: Words, i: number): { page: Page; at: number }[] {
    const { pages, grams } = (this.on ??= this.built())
    const wanted = gramAt(own.ids, i) * PLACES
    const out: { page: Page; at: number }[] = []
    const first = firstFrom(grams.sorted, wanted)
    // where it stands oftener it is a phrase of the field
    if (grams.sorted[first + MOST_OF_A_GRAM]! < wanted + PLACES) return out
    for (let n = first; n < grams.sorted.length && grams.sorted[n]! < wanted + PLACES; n++) {
      const place = grams.sorted[n]! - wanted
      const p = firstFrom(grams.starts, place + 1) - 1
      out.push({ page: pages[p]!, at: place - grams.starts[p]! })
    }
    return out
  }

  private built(): { pages: Page[]; grams: Grams } {
    const pages = [...this.sources.values()].flat()
    const starts: number[] = []
    let all = 0
    for (const p of pages) {
      starts.push(all)
      all += p.words.length
    }
    const sorted = new Float64Array(pages.reduce((n, p) => n + Math.max(0, p.words.length - GRAM + 1), 0))
    let n = 0
    pages.forEach(({ words }, p) => {
      for (let at = 0; at + GRAM <= words.length; at++) sorted[n++] = gramAt(words.ids, at) * PLACES + starts[p]! + at
    })
    return { pages, grams: { sorted: sorted.sort(), starts } }
  }

  /** Pairs of words that are the same on both sides of a shared gram, up to where they part for good. */
  private widened(a: Words, i: number, b: Words, k: number): [number, number][] {
    const gram: [number, number][] = []
    // within the gram words may have changed places
    const free = new Set(Array.from({ length: GRAM }, (_, n) => k + n))
    for (let n = 0; n < GRAM; n++)
      for (const m of free)
        if (a.ids[i + n] === b.ids[m]) {
          gram.push([i + n, m])
          free.delete(m)
          break
        }
    if (gram.length < GRAM) return []
    const before = this.walk(a, b, i - 1, k - 1, -1).reverse()
    const after = this.walk(a, b, i + GRAM, k + GRAM, 1)
    return [...before, ...gram, ...after]
  }

  /** Goes on from a pair of places, past up to a few words that differ on either side. */
  private walk(a: Words, b: Words, i: number, k: number, step: 1 | -1): [number, number][] {
    const pairs: [number, number][] = []
    while (a.ids[i] !== undefined && b.ids[k] !== undefined) {
      const next = this.nextSame(a, b, i, k, step)
      if (!next) break
      pairs.push(next)
      i = next[0] + step
      k = next[1] + step
    }
    return pairs
  }

  private nextSame(a: Words, b: Words, i: number, k: number, step: 1 | -1): [number, number] | undefined {
    for (let gap = 0; gap <= GAP * 2; gap++)
      for (let di = Math.max(0, gap - GAP); di <= Math.min(gap, GAP); di++) {
        const [m, n] = [i + di * step, k + (gap - di) * step]
        const [x, y] = [a.ids[m], b.ids[n]]
        if (x === undefined || x !== y) continue
        // beyond a gap a little word alone may be the same by chance
        if (gap && a.little[m] && a.ids[m + step] !== b.ids[n + step]) continue
        return [m, n]
      }
    return undefined
  }

  private isTold(own: Words, pairs: readonly [number, number][]): boolean {
    const length = pairs.at(-1)![0] - pairs[0]![0] + 1
    const large = pairs.filter(([i]) => !own.little[i]).length
    const isLong = pairs.length >= FEWEST || (pairs.length === FEWEST - 1 && length === pairs.length)
    return isLong && large >= FEWEST_LARGE && pairs.length >= length * SHARE
  }
}

/** What a work itself says: what its reader wrote is none of it. */
const isTextOf = (source: WordSource, work: number): boolean => source.work === work && source.what !== 'annotation'

/** The first place of a sorted list that holds no less. */
function firstFrom(list: ArrayLike<number>, wanted: number): number {
  let low = 0
  let high = list.length
  while (low < high) {
    const middle = (low + high) >> 1
    if (list[middle]! < wanted) low = middle + 1
    else high = middle
  }
  return low
}

/** Words of grammar: a run of nothing but these is nobody's. */
const LITTLE = new Set(
  'a an the and or but nor so yet if of in on at by to for from with without within into onto over under between among through during before after above below as than that this these those it its they them their there here he she his her we our us you your i my me is are was were be been being has have had do does did can could may might will would shall should must not no more most less least such only also both each other some any all'.split(
    ' ',
  ),
)

/** A number for four words in any order. */
function gramAt(ids: Int32Array, at: number): number {
  const four = [ids[at]!, ids[at + 1]!, ids[at + 2]!, ids[at + 3]!].sort((x, y) => x - y)
  let h = 2166136261
  for (const id of four) h = Math.imul(h ^ id, 16777619) ^ (h >>> 13)
  return h >>> 1
}

/** The place in a page where all words stand in their order. */
function exactly(own: Words, there: Words): number | undefined {
  for (let at = 0; at + own.length <= there.length; at++) {
    let n = 0
    while (n < own.length && own.ids[n] === there.ids[at + n]) n++
    if (n === own.length) return at
  }
  return undefined
}

/** A quotation's pairs with the words at its ends that differ, so that what stands there is told whole. */
function wholeOf(own: Words, there: Words, pairs: readonly [number, number][]): [number, number][] {
  const [i, k] = pairs[0]!
  const [j, l] = pairs.at(-1)!
  const first: [number, number][] = i > 0 && k - i >= 0 ? [[0, k - i]] : []
  const rest = own.length - 1 - j
  const last: [number, number][] = rest > 0 && l + rest < there.length ? [[own.length - 1, l + rest]] : []
  return [...first, ...pairs, ...last]
}

/** Whether two texts have the same letters, whatever their signs, spaces and first capital. */
const sameLetters = (a: string, b: string): boolean => {
  const bare = (t: string) => t.replace(/[^\p{L}\p{N}]+/gu, ' ').trim()
  const [x, y] = [bare(a), bare(b)]
  return x.slice(1) === y.slice(1) && x[0]?.toLowerCase() === y[0]?.toLowerCase()
}

function runOf(
  own: Words,
  { source: { key, work, what, pages, labels }, page, words: there }: Page,
  pairs: readonly [number, number][],
): Run {
  const same = pairs.filter(([i, k]) => own.ids[i] === there.ids[k])
  const places = pairs.map(([, k]) => k)
  const [from, to] = [there.starts[Math.min(...places)]!, there.ends[Math.max(...places)]!]
  const ours = (i: number): Stretch => ({ from: own.starts[i]!, to: own.ends[i]! })
  const theirs = (k: number): Stretch => ({ from: there.starts[k]! - from, to: there.ends[k]! - from })
  return {
    from: own.starts[pairs[0]![0]]!,
    to: own.ends[pairs.at(-1)![0]]!,
    words: same.length,
    marks: same.map(([i]) => ours(i)),
    source: { key, work, what },
    page: page + 1,
    label: labels?.[page],
    there: {
      text: pages[page]!.slice(from, to),
      marks: same.map(([, k]) => theirs(k)).sort((x, y) => x.from - y.from),
    },
  }
}

/** The longest run of each stretch. */
function withoutWithin(runs: readonly Run[]): Run[] {
  const out: Run[] = []
  for (const r of [...runs].sort(
    (a, b) => b.words - a.words || a.from - b.from || ORDER[a.source.what] - ORDER[b.source.what],
  )) {
    const shares = out.some(o => Math.min(o.to, r.to) - Math.max(o.from, r.from) > (r.to - r.from) / 3)
    if (!shares) out.push(r)
  }
  return out.sort((a, b) => a.from - b.from)
}
/** Of equal runs the one that has a page is told. */
const ORDER: Record<WordSource['what'], number> = { copy: 0, passage: 1, abstract: 2, annotation: 3 }
