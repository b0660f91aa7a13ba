import { saidOfItself } from '../appraise/taken-back'
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
  /** The title without its spaces: where one stands is the commonest slip. */
  letters: string
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
  /** Words of the publisher's name that tell it from others. */
  publisher: string[]
  /** Number of the edition, or its words; a first one says nothing. */
  edition: string
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
/** What chapters of any book are called. */
const AGAIN =
  /^(introduction|general introduction|introductory|conclusions?|concluding remarks|summary|overview|discussion|epilogue|prologue|bibliography|glossary|appendix|index|notes|references|abstracts?|einleitung|einfuhrung|schluss|zusammenfassung|introduccion|conclusiones|conclusion generale|introduzione|conclusioni|inledning|innledning|indledning|inleiding|uvod|wstep|введение|заключение)$/
/** The numbers that a folded title has, Roman ones too: parts of a series differ in nothing else. */
export const numbersIn = (folded: string): string =>
  folded
    .split(' ')
    .filter(w => NUMBER.test(w))
    .join(' ')
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
  // a work that was taken back is the same work
  const own = saidOfItself(item.title ?? '')?.title ?? item.title ?? ''
  const title = foldTitle(own)
  const words = wordsOf(title)
  const colon = own.search(/[:.?!] /)
  const main = colon > 0 ? foldTitle(own.slice(0, colon)) : undefined
  const authors = (item.author ?? item.editor ?? []).map(nameKey).filter(a => a && !NOBODY.test(a))
  return {
    id: r.id,
    ...identifiersOf(item, facts),
    issn: normaliseIssn(String(item.ISSN ?? '').split(/[\s,;]+/)[0]),
    title,
    letters: title.replace(/ /g, ''),
    words,
    wordSet: new Set(words),
    main: main && main !== title && main.length > 4 ? main : undefined,
    authors,
    families: authors.map(a => a.replace(/ \p{L}$/u, '')),
    year: yearOf(item),
    container: tellingWords(item['container-title']),
    volume: String(item.volume ?? '').trim(),
    issue: String(item.issue ?? '').trim(),
    first: pageKey(item),
    publisher: tellingWords(item.publisher).filter(w => !HOUSE.test(w)),
    edition: editionKey(item),
    kind: /chapter/i.test(facts.genre ?? '') ? 'chapter' : (KIND[item.type] ?? ''),
    version: facts.version,
    mark: MARK.exec(title)?.[1] ?? '',
    recurs: words.length < 6 && (AGAIN.test(title) || titleSigns(own).some(s => s.whole)),
    numbers: numbersIn(title),
    abstract: fold((item.abstract ?? '').slice(0, 160))
      .replace(/[^\p{L}\p{N}]+/gu, '')
      .slice(0, 80),
  }
}

const tellingWords = (name: string | undefined): string[] =>
  foldTitle(name ?? '')
    .split(' ')
    .filter(w => w.length > 2 && w !== 'and' && w !== 'the')

/** What publishers' names have in common. */
const HOUSE =
  /^(press|publish\w*|verlag\w*|editions?|editora?|editorial|company|inc|ltd|gmbh|books?|univ\w*|sons|group)$/

function editionKey(item: Item): string {
  const text = fold(String(item.edition ?? ''))
  const number = /\d+/.exec(text)?.[0]
  return number === '1' ? '' : (number ?? text.replace(/[^\p{L}]+/gu, ' ').trim())
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
export const unpublished = (p: Prepared): boolean => p.version === 'preprint' || p.version === 'accepted manuscript'
