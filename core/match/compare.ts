import { titleSigns } from '../appraise/titles'
import { foldTitle, fold } from '../bib/fold'
import { nameKey } from '../bib/names'
import { yearOf } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { readPages } from '../bib/pages'
import type { Facts, Item, Version } from '../bib/item'
import type { MatchRecord } from './records'

/** A record made ready for comparing: its normal forms, computed once. */
export interface Prepared {
  id: number
  doi: string | undefined
  isbns: string[]
  issn: string | undefined
  title: string
  words: string[]
  wordSet: ReadonlySet<string>
  /** Words before the first colon, where there is a subtitle. */
  main: string | undefined
  authors: string[]
  families: string[]
  year: number | undefined
  container: string[]
  volume: string
  issue: string
  first: string | undefined
  kind: string
  version: Version | undefined
  /** "correction", "reply" and the like, where the title begins as one of these does. */
  mark: string
  /** It has the title of what comes again in every issue: "Editorial", "Book reviews". */
  recurs: boolean
  /** Numbers of parts, years and counts in the title. */
  numbers: string
  /** The first words of the abstract. */
  abstract: string
}

/** What was compared, and what it adds to the log-odds that two records describe one work. */
export interface Mark {
  field: 'identifier' | 'title' | 'author' | 'year' | 'container' | 'pages' | 'type' | 'abstract'
  weight: number
}

export interface Comparison {
  score: number
  /** "linked": a conference paper and the article it became, which are two works. */
  verdict: 'same' | 'ask' | 'linked' | 'different'
  marks: Mark[]
}

/** Log-odds (natural) from which a pair is joined, and from which it is put to the student. */
export const SAME = 5
export const ASK = 1.5
/** Log-odds that two records which met in a block describe one work, before anything is compared. */
const PRIOR = -5

const KIND: Record<string, string> = {
  'article-journal': 'article',
  'article-magazine': 'article',
  'article-newspaper': 'article',
  'review-book': 'article',
  review: 'article',
  article: 'article',
  manuscript: 'article',
  'paper-conference': 'conference paper',
  book: 'book',
  chapter: 'chapter',
  'entry-encyclopedia': 'chapter',
  thesis: 'thesis',
  report: 'report',
  dataset: 'dataset',
}
const MARK =
  /^(correction|erratum|corrigendum|retraction|retracted|reply|response|comment|author correction|review of|book review)\b/
/** What stands where nobody is named: it agrees with nothing. */
const NOBODY =
  /^(anonym\w*|anon|nn|n n|unknown|unbekannt|various|various authors|author unknown|s n|sine nomine|staff|editors?|the editors?)( \p{L})?$/u
const NUMBER = /\d|^(?:i{2,3}|iv|vi{0,3}|ix|xi{0,3})$/

/** The identifiers that stand for this very work, as keys: its DOI, and a book's ISBNs in their long form. */
export function identifiersOf(item: Item, facts: Facts = {}): { doi: string | undefined; isbns: string[] } {
  // a chapter carries its book's ISBN: that number stands for the book alone
  const book = /^(book|thesis|report)$/.test(item.type) && !/chapter|review/i.test(facts.genre ?? '')
  const isbns = book ? String(item.ISBN ?? '').split(/[\s,;]+/) : []
  return { doi: normaliseDoi(item.DOI), isbns: isbns.flatMap(n => normaliseIsbn(n) ?? []) }
}

export function prepare(r: MatchRecord): Prepared {
  const { item, facts } = r
  const title = foldTitle(item.title ?? '')
  const words = wordsOf(title)
  const colon = (item.title ?? '').search(/[:.?!] /)
  const main = colon > 0 ? foldTitle(item.title!.slice(0, colon)) : undefined
  const authors = (item.author ?? item.editor ?? []).map(nameKey).filter(a => a && !NOBODY.test(a))
  return {
    id: r.id,
    ...identifiersOf(item, facts),
    issn: normaliseIssn(String(item.ISSN ?? '').split(/[\s,;]+/)[0]),
    title,
    words,
    wordSet: new Set(words),
    main: main && main !== title && main.split(' ').length > 1 ? main : undefined,
    authors,
    families: authors.map(a => a.replace(/ \p{L}$/u, '')),
    year: yearOf(item),
    container: foldTitle(item['container-title'] ?? '')
      .split(' ')
      .filter(w => w.length > 2 && w !== 'and' && w !== 'the'),
    volume: String(item.volume ?? '').trim(),
    issue: String(item.issue ?? '').trim(),
    first: pageKey(item),
    kind: /chapter/i.test(facts.genre ?? '') ? 'chapter' : (KIND[item.type] ?? ''),
    version: facts.version,
    mark: MARK.exec(title)?.[1] ?? '',
    recurs: words.length < 6 && titleSigns(item.title ?? '').some(s => s.whole),
    numbers: words.filter(w => NUMBER.test(w)).join(' '),
    abstract: fold((item.abstract ?? '').slice(0, 160))
      .replace(/[^\p{L}\p{N}]+/gu, '')
      .slice(0, 80),
  }
}

/** Words of a folded title; scripts without spaces are cut into pairs of letters. */
const UNSPACED = /[\u3040-\u30ff\u3400-\u9fff\uac00-\ud7af]/
function wordsOf(title: string): string[] {
  const words = title ? title.split(' ') : []
  return UNSPACED.test(title) ? words.flatMap(w => (UNSPACED.test(w) && w.length > 3 ? pairsOf(w) : [w])) : words
}
const pairsOf = (w: string): string[] => Array.from({ length: w.length - 1 }, (_, i) => w.slice(i, i + 2))

function pageKey(item: Item): string | undefined {
  const range = readPages(item.page)
  return range ? `${range.prefix}${range.first}` : undefined
}

/** Not yet published as the article that it may become: without volume, pages and the article's DOI. */
const unpublished = (p: Prepared): boolean => p.version === 'preprint' || p.version === 'accepted manuscript'

/**
 * Compares two records as Fellegi and Sunter (1969) do: each field adds the log-odds of its agreement or disagreement
 * given that they describe one work or two; two thresholds part same, ask and different. The weights were set on
 * made-up worlds of other seeds than those that the benchmark measures.
 */
export function compare(a: Prepared, b: Prepared): Comparison {
  const marks: Mark[] = []
  let score = PRIOR
  const add = (field: Mark['field'], weight: number) => {
    if (!weight) return
    marks.push({ field, weight })
    score += weight
  }
  const versions = unpublished(a) || unpublished(b)
  const sameDoi = Boolean(a.doi && a.doi === b.doi)
  const sameIsbn = a.isbns.some(i => b.isbns.includes(i))
  const title = titleWeight(a, b)
  // most pairs of a block end here: other words, and neither an identifier nor a page that both have
  if (title <= -8 && !sameDoi && !sameIsbn && !(a.first && a.first === b.first && a.volume === b.volume))
    return { score: title + PRIOR, verdict: 'different', marks: [{ field: 'title', weight: title }] }
  const author = authorWeight(a, b)
  add('title', title)
  add('author', author)
  if (sameDoi) add('identifier', 12)
  // a preprint has a DOI of its own beside its article's
  else if (a.doi && b.doi && a.version !== 'preprint' && b.version !== 'preprint') add('identifier', -12)
  else if (sameIsbn) add('identifier', 9)
  else if (a.isbns.length && b.isbns.length) add('identifier', -3)
  add('year', yearWeight(a, b, versions))
  add('container', containerWeight(a, b))
  if (!versions) add('pages', pagesWeight(a, b))
  // repositories call any manuscript an article
  const vague = (unpublished(a) && a.kind === 'article') || (unpublished(b) && b.kind === 'article')
  if (a.kind && b.kind && a.kind !== b.kind && !vague) add('type', -7)
  // a correction, a reply and a review carry the title of what they speak of
  if (a.mark !== b.mark) add('type', -14)
  if (a.numbers !== b.numbers && title > -8) add('title', sameDoi ? -2 : -7)
  if (a.abstract.length > 40 && a.abstract === b.abstract) add('abstract', 5)
  // an identifier that nothing else bears out is more likely a slip
  const alone = (sameDoi || sameIsbn) && title < 0 && author < 0
  // what comes again in every issue is told apart by its pages or its number, never by title and volume alone
  const again = a.recurs && b.recurs && !sameDoi && !(a.first && a.first === b.first && a.volume === b.volume)
  const verdict = again
    ? 'different'
    : alone
      ? 'ask'
      : score >= SAME
        ? 'same'
        : score >= ASK
          ? 'ask'
          : became(a, b, title, author)
            ? 'linked'
            : 'different'
  return { score: alone ? ASK : score, verdict, marks }
}

/** Whether one is the article that the other, a conference paper, became: its title, its authors, not before it. */
function became(a: Prepared, b: Prepared, title: number, author: number): boolean {
  const [paper, article] = a.kind === 'conference paper' ? [a, b] : [b, a]
  if (paper.kind !== 'conference paper' || article.kind !== 'article' || a.mark !== b.mark || a.numbers !== b.numbers)
    return false
  const years = article.year && paper.year ? article.year - paper.year : 0
  return title >= 5 && author >= 2.5 && years >= 0 && years <= 6
}

function titleWeight(a: Prepared, b: Prepared): number {
  if (!a.title || !b.title) return 0
  const n = Math.min(a.words.length, b.words.length)
  // "Introduction" says little, ten words in a row a great deal
  const worth = Math.min(8, 1.1 * n)
  if (a.title === b.title) return worth
  if (nearlyEqual(a.title, b.title)) return 0.85 * worth
  if (begins(a, b) || begins(b, a)) return Math.min(5, 0.8 * n)
  const shared = jaccard(a.wordSet, b.wordSet)
  return shared >= 0.8 ? 2 : shared >= 0.6 ? -2 : -8
}

/** Whether one title is the other without its subtitle. */
const begins = (whole: Prepared, part: Prepared): boolean =>
  whole.main !== undefined && !part.main && nearlyEqual(whole.main, part.title)

/** Whether two titles differ by at most two letters in thirty, as slips and scanning leave them. */
function nearlyEqual(a: string, b: string): boolean {
  const most = Math.max(1, Math.min(3, Math.floor(Math.max(a.length, b.length) / 20)))
  if (Math.abs(a.length - b.length) > most) return false
  // only what lies between the common beginning and the common end has to be compared
  let start = 0
  while (start < a.length && a[start] === b[start]) start++
  let end = 0
  while (end < Math.min(a.length, b.length) - start && a[a.length - 1 - end] === b[b.length - 1 - end]) end++
  const x = a.slice(start, a.length - end)
  const y = b.slice(start, b.length - end)
  if (Math.max(x.length, y.length) <= most) return true
  return within(x, y, most)
}

/**
 * Whether the edit distance is at most `most`: of the table of distances only the band around its diagonal is worked out
 * (Ukkonen 1985), `2 * most + 1` wide, so that it takes as long as the text is.
 */
function within(a: string, b: string, most: number): boolean {
  const width = 2 * most + 1
  const far = most + 1
  // place k of a row stands for the column i - most + k
  let row = new Uint8Array(width + 1).fill(far)
  for (let k = most; k < width; k++) row[k] = Math.min(far, k - most)
  for (let i = 1; i <= a.length; i++) {
    const next = new Uint8Array(width + 1).fill(far)
    let least = far
    for (let k = 0; k < width; k++) {
      const j = i - most + k
      if (j < 0 || j > b.length) continue
      // the same column of the row above is one place further on
      const above = row[k + 1]! + 1
      const before = k > 0 ? next[k - 1]! + 1 : far
      const both = j > 0 ? row[k]! + (a[i - 1] === b[j - 1] ? 0 : 1) : far
      next[k] = Math.min(far, above, before, both)
      least = Math.min(least, next[k]!)
    }
    if (least > most) return false
    row = next
  }
  return row[b.length - a.length + most]! <= most
}

function authorWeight(a: Prepared, b: Prepared): number {
  if (!a.authors.length || !b.authors.length) return 0
  const first = sameName(a.authors[0]!, b.authors[0]!)
  const [few, many] = a.authors.length < b.authors.length ? [a, b] : [b, a]
  const shared = both(few.authors, many.authors, sameName)
  if (!shared) return few.families.some(f => many.families.includes(f)) ? -2 : -6
  const all = shared / few.authors.length
  // catalogues enter the first author alone or all of them; other counts are other authors
  const missing = few.authors.length > 1 ? Math.min(3, many.authors.length - few.authors.length) : first ? 0 : 2
  return (first ? 2.5 : 0.5) + (shared > 1 ? 2 * all : 0) - (all < 0.5 ? 2 : 0) - missing
}

/** How many of a list have their like in the other; of two lists of one length the same both ways. */
function both(few: readonly string[], many: readonly string[], alike: (a: string, b: string) => boolean): number {
  const there = few.filter(x => many.some(y => alike(x, y))).length
  return few.length < many.length ? there : Math.min(there, many.filter(y => few.some(x => alike(x, y))).length)
}

/** The same family name, and no initials that contradict each other. */
function sameName(a: string, b: string): boolean {
  return a === b || (Math.abs(a.length - b.length) === 2 && (a.startsWith(`${b} `) || b.startsWith(`${a} `)))
}

function yearWeight(a: Prepared, b: Prepared, versions: boolean): number {
  if (!a.year || !b.year) return 0
  const d = Math.abs(a.year - b.year)
  if (d === 0) return 1.5
  // a manuscript may lie open years before or after its article
  if (versions) return d <= 3 ? 0.5 : d <= 6 ? -1 : -3
  return d === 1 ? 0.2 : d === 2 ? -1 : d <= 10 ? -3 : -5
}

function containerWeight(a: Prepared, b: Prepared): number {
  if (a.issn && a.issn === b.issn) return 1.5
  if (!a.container.length || !b.container.length) return 0
  const [few, many] = a.container.length < b.container.length ? [a, b] : [b, a]
  // "J Night Ecol" is the beginning of each word of the full name
  const shared = both(few.container, many.container, (w, v) => v.startsWith(w) || w.startsWith(v))
  const part = shared / few.container.length
  return part === 1 ? (few.container.length > 1 ? 1.5 : 0.5) : part >= 0.5 ? 0 : -3
}

function pagesWeight(a: Prepared, b: Prepared): number {
  const volumes = a.volume && b.volume ? (a.volume === b.volume ? 1 : -3) : 0
  const issues = volumes >= 0 && a.issue && b.issue ? (a.issue === b.issue ? 0.5 : -3) : 0
  if (!a.first || !b.first) return volumes + issues
  // numbers of issues are entered in two ways where each begins with page one
  return a.first === b.first ? 2.5 + volumes + Math.min(0, issues) / 2 : -5 + volumes
}

function jaccard(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let shared = 0
  for (const w of a) if (b.has(w)) shared++
  return shared / (a.size + b.size - shared || 1)
}

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
    if (p.main) put(mix(hash(p.main, 4), family))
    // a short title has no words in a row that a slip leaves: those of one author in one year meet
    if (p.families.length && year && p.words.length < 6) put(mix(family, hash(String(year), 7)))
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
