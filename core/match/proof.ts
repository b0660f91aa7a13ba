import { fold } from '../bib/fold'
import { normaliseDoi } from '../bib/identifiers'
import { familyName } from '../bib/names'
import { yearOf } from '../bib/dates'
import { readPages } from '../bib/pages'
import type { Item, Version } from '../bib/item'
import { doisIn, editionOf, forDegree, shortOf, versionMarks } from './of-itself'
import { speaksOf } from './speaks-of'
import { likeliest, TitleLines, type TitlePlace } from './title-place'

export type Outcome = 'proved' | 'doubtful' | 'not this work'

export interface Proof {
  outcome: Outcome
  /** What was compared, a sentence each, with whether it speaks for the work. */
  evidence: { holds: boolean; said: string }[]
  /** Log-odds (natural) that the text is the work. */
  score?: number
  /** What the file really is, where it is something else. */
  really?: string
  /** The work of the pool that it is instead. */
  other?: number
  version?: Version
}

export interface PageText {
  /** Number in the file, from 1. */
  page: number
  /** What it says of itself: without notes and lists of references, where these are known. */
  lines: string[]
  /** Letters on it, with those of notes and lists; where it is missing, those of its lines count. */
  letters?: number
  /** Its words are not known: it is a picture that was not read. */
  isUnread?: boolean
  /** Its lines in the largest letters. */
  heading?: string
  /** Notes at its foot. */
  notes?: string[]
  /** What is set apart from the text, by larger letters or another font: a title is. */
  apart?: string[]
  /** Where it appeared, as a line of the first page says it. */
  source?: Partial<Pick<Item, 'container-title' | 'volume' | 'issue' | 'page' | 'issued'>>
}

/** From here a copy is proved; from `DOUBT` it is put to the student. */
const PROVED = 4
const DOUBT = -3

/**
 * What a sign adds to the log-odds (natural) that a text is the work, set by hand and measured on files of many kinds
 * that other makers set (`bench/proof-files.ts`, `bench/proof-letters.ts`, `bench/proof.ts`).
 */
const WEIGHTS = {
  'title: alone': 3.5,
  'title: begun': 2.5,
  'title: among words': -2,
  'title: in the text': -2.5,
  'title: words': 0.2,
  'title: another word': -4,
  'title: another number': -6,
  'title: none': -8,
  'title: another is larger': -2,
  'DOI: same': 10,
  'DOI: other': -5,
  'DOI: others': -0.5,
  'authors: by the title': 2.5,
  'authors: half': 1.5,
  'authors: elsewhere': 0.8,
  'authors: few': -1,
  'authors: none': -4,
  'year: same': 0.7,
  'year: other': -0.5,
  'container: same': 0.7,
  'place: same': 2.5,
  'place: other': -2.5,
  'pages: as said': 0.5,
  'pages: other': -0.5,
  'pages: far': 0,
  'text: short': 0,
  'text: for a degree': 0,
  'edition: other': 0,
  'about: another': -30,
  'pool: another': -12,
}
type Sign = keyof typeof WEIGHTS

/**
 * What nothing else outweighs: a part, a talk, another edition and what speaks of a work have all else of it. Those that
 * add nothing tell of no other work.
 */
const BARS = new Set<Sign>([
  'title: among words',
  'title: in the text',
  'title: another number',
  'title: another is larger',
  'pages: far',
  'text: short',
  'text: for a degree',
  'edition: other',
])

/** Words of a title beyond which more of them say nothing more. */
const MOST_WORDS = 6
/** Pages on which a title may stand: a cover sheet comes first. */
const FRONT = 2
const APART = 3
/** Lines that are looked at on them. */
const MOST_LINES = 160
/** What has fewer pages is rarely a whole book. */
const SHORTEST_BOOK = 32

/**
 * Tells whether a text is that of a work, as records are joined (Fellegi and Sunter 1969): title and how it stands,
 * authors, DOI, place, year, length and what the text says of itself add their log-odds; two thresholds part proved,
 * doubtful and not this work. Only a proved copy counts as in hand.
 * @param others works of the pool that it may be instead
 * @param records the work as its records describe it: a manuscript may bear a title and a DOI of its own
 */
export function proveCopy(
  work: Item,
  pages: readonly PageText[],
  others: readonly { id: number; item: Item }[] = [],
  records: readonly Item[] = [],
): Proof {
  const evidence: Proof['evidence'] = []
  let score = 0
  let isBarred = false
  const add = (sign: Sign, said?: string, times = 1) => {
    score += WEIGHTS[sign] * times
    isBarred ||= BARS.has(sign)
    if (said) evidence.push({ holds: WEIGHTS[sign] > 0, said })
  }
  const front = pages.slice(0, FRONT).flatMap(p => p.lines)
  const lines = front.slice(0, MOST_LINES)
  const all = front.join(' ')
  if (fold(all).replace(/[^\p{L}]/gu, '').length < 40) {
    const said = 'The pages carry no text: they are pictures of a text, so nothing can be compared.'
    return { outcome: 'doubtful', evidence: [{ holds: false, said }], really: 'a scan without text' }
  }
  const opening = new TitleLines(lines)
  const items = [work, ...records]
  const titles = [...new Set(items.flatMap(i => i.title ?? []))]
  const places = likeliest(titles.flatMap(t => opening.find(t)))
  const [place] = places
  titleSigns(pages, place, titles, work, add)

  const own = new Set(items.flatMap(i => normaliseDoi(i.DOI) ?? []))
  const dois = doisIn([...(pages[0]?.lines ?? []), ...(pages[0]?.notes ?? [])])
  const carried = dois.find(d => own.has(d))
  const doiDiffers = own.size > 0 && dois.length > 0 && !carried && new Set(dois).size < 3
  if (carried) add('DOI: same', `It carries the DOI ${carried}.`)
  // the end of another's list may stand on the page
  else if (own.size > 0 && new Set(dois).size > 2)
    add('DOI: others', 'It carries other DOIs, as a list of references does.')
  else if (doiDiffers) add('DOI: other', `It carries another DOI: ${dois[0]}.`)
  authorSigns(work, lines, place, all, add)
  const year = yearOf(work)
  if (year && all.includes(String(year))) add('year: same', `The year ${year} is printed there.`)
  else if (year) add('year: other', `The year ${year} is not printed there.`)
  const version = versionMarks([...front, ...(pages[0]?.notes ?? [])])
  placeSigns(work, pages, version, add)
  lengthSigns(work, pages, version, add)
  const printed = work.type === 'book' ? editionOf(pages, year) : undefined
  if (printed) add('edition: other', printed)
  if (work.type !== 'thesis' && forDegree(lines)) add('text: for a degree', 'It says that it was written for a degree.')
  // what speaks of a work may have its title alone on a line further down, too
  const first = places.reduce((a, b) => (b.first < a.first ? b : a), places[0]!)
  const about = place && (speaksOf(work, lines, place) ?? speaksOf(work, lines, first))
  if (about) add('about: another', about.said)
  // a text that cites another work on its first page is not that one
  const isItself = carried ?? (place?.how === 'alone' && !place.otherWords)
  const better = isItself ? undefined : anotherOf(others, opening, own, dois, place, work)
  if (better) add('pool: another', `It is "${better.item.title}", another work of your pool.`)

  const outcome = score >= PROVED && !isBarred ? 'proved' : score >= DOUBT ? 'doubtful' : 'not this work'
  const heading = pages[0]?.heading ?? longLine(pages[0]?.lines ?? [])
  const really =
    about?.really ??
    (better
      ? `"${better.item.title}"`
      : outcome === 'doubtful' && doiDiffers
        ? `the text of ${dois[0]}`
        : outcome !== 'not this work'
          ? undefined
          : heading
            ? `"${heading}"`
            : 'another text')
  return {
    ...{ outcome, evidence, score: Math.round(score * 100) / 100 },
    ...(really && outcome !== 'proved' ? { really } : {}),
    ...(better && !about ? { other: better.id } : {}),
    ...(version ? { version } : {}),
  }
}

type Add = (sign: Sign, said?: string, times?: number) => void

function titleSigns(
  pages: readonly PageText[],
  place: TitlePlace | undefined,
  titles: readonly string[],
  { 'container-title': container }: Item,
  add: Add,
): void {
  if (!place) return add('title: none', 'The title does not stand on the first pages.')
  const apart = pages.slice(0, APART).flatMap(p => p.apart ?? [])
  const set = new TitleLines(apart)
  const isApart = titles.some(t => set.has(t))
  // in a text that sets nothing apart, or the title in the letters of the text, it has its lines to itself
  const how = place.how === 'among words' && apart.length && !isApart ? 'in the text' : place.how
  const said = {
    alone: 'The title stands on the first pages.',
    begun: 'The title stands on the first pages, and goes on.',
    'among words': 'The title stands on the first pages within other words: they may only speak of the work.',
    'in the text': 'The title stands in the text of the first pages, not above it: they may only speak of the work.',
  }
  add(`title: ${how}`, said[how])
  const words = Math.max(...titles.map(t => t.split(/\s+/).length))
  if (how === 'alone' || how === 'begun') add('title: words', undefined, Math.min(MOST_WORDS, words))
  if (place.otherNumbers) add('title: another number', 'A number in the title is another one there.')
  else if (place.otherWords)
    add(
      'title: another word',
      place.otherWords === 1
        ? 'One word of the title is another one there.'
        : `${place.otherWords} words of the title are others there.`,
    )
  const { heading = '' } = pages[0] ?? {}
  const large = new TitleLines([heading])
  const isMasthead =
    heading.split(/\s+/).length < TITLE_WORDS ||
    MASTHEAD.test(heading) ||
    (container && (large.has(container) || new TitleLines([container]).has(heading)))
  if (!isMasthead && !titles.some(t => large.has(t)))
    add('title: another is larger', `In larger letters stands “${heading.slice(0, 80)}”.`)
}

/** What stands largest on a page is its title where it has so many words, and names nobody who publishes. */
const TITLE_WORDS = 5
const MASTHEAD =
  /\b(journal|annals|review|letters|transactions|bulletin|proceedings|archives?|quarterly|magazine|papers|studies|society|university|college|institute|repository|library|press|department|zeitschrift|jahrbuch|revue|annales|cahiers|revista|anales|rivista|annali|tidskrift|tidsskrift)\b/iu

/** A text as words between spaces; what numbers a name has, for its notes, are no part of it. */
const inWords = (text: string): string =>
  ` ${fold(text)
    .replace(/[^\p{L}]+/gu, ' ')
    .trim()} `
const SPACELESS = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/u

/** Lines above and beneath a title in which its authors stand. */
const [ABOVE, BENEATH] = [8, 14]

function authorSigns(work: Item, lines: readonly string[], place: TitlePlace | undefined, all: string, add: Add): void {
  const families = (work.author ?? []).map(familyName).filter(Boolean)
  if (!families.length) return
  const near = place
    ? [
        ...lines.slice(Math.max(0, place.first - ABOVE), place.first),
        place.before,
        place.after,
        ...lines.slice(place.last + 1, place.last + BENEATH),
      ].join(' ')
    : ''
  const named = (text: string) => {
    const there = inWords(text.replace(/(\p{L})[-‐\u00ad] (\p{Ll})/gu, '$1$2'))
    return families.filter(f => there.includes(SPACELESS.test(f) ? fold(f) : inWords(f))).length
  }
  const [by, there] = [named(near), named(all)]
  const half = Math.ceil(families.length / 2)
  const said = `${there} of ${families.length} authors are named on the first pages.`
  if (by === families.length) add('authors: by the title', said)
  else if (by >= half) add('authors: half', said)
  else if (there >= half) add('authors: elsewhere', said)
  else add(there ? 'authors: few' : 'authors: none', said)
}

/** Where a line of the first page says that it appeared, against what the work says. */
function placeSigns(work: Item, pages: readonly PageText[], version: Version | undefined, add: Add): void {
  const { 'container-title': container, volume } = work
  const head = new TitleLines((pages[0]?.lines ?? []).slice(0, 40))
  if (container && head.has(container)) add('container: same', `“${container}” is printed there.`)
  const source = pages[0]?.source
  if (!source || version) return
  const pairs: [unknown, unknown][] = [
    [volume, source.volume],
    [readPages(work.page)?.first, readPages(source.page)?.first],
  ]
  const told = pairs.filter(([a, b]) => a !== undefined && b !== undefined)
  const differing = told.filter(([a, b]) => String(a) !== String(b))
  const said = [source['container-title'], source.volume, source.page].filter(Boolean).join(', ')
  if (told.length === 2 && !differing.length) add('place: same', `It appeared where the record says: ${said}.`)
  else if (differing.length) add('place: other', `It says that it appeared elsewhere: ${said}.`)
}

const count = ({ length }: readonly unknown[]): string => `${length} ${length === 1 ? 'page' : 'pages'}`

function lengthSigns(work: Item, pages: readonly PageText[], version: Version | undefined, add: Add): void {
  const range = readPages(work.page)
  const wanted = range ? range.last - range.first + 1 : 0
  // a manuscript has pages of its own
  if (!version && wanted > 1) {
    // a cover sheet or a page of another piece makes some difference, not such a one
    if (pages.length * 2 <= wanted - 2 || pages.length >= wanted * 2 + 8)
      add('pages: far', `It has ${count(pages)}; the record says ${wanted}.`)
    else if (Math.abs(pages.length - wanted) <= Math.max(2, wanted * 0.25))
      add('pages: as said', `It has ${count(pages)}, as the record says.`)
    else add('pages: other', `It has ${count(pages)}; the record says ${wanted}.`)
  }
  if (work.type === 'book') {
    const said = Number(/\d+/.exec(String(work['number-of-pages'] ?? ''))?.[0] ?? 0)
    if (pages.length < (said > 0 ? said / 2 : SHORTEST_BOOK))
      add(
        'pages: far',
        `It has ${count(pages)}, ${said > 0 ? `and the record says ${said}` : 'few for a book'}: it may be a part of it.`,
      )
  }
  const short = shortOf(work, pages)
  if (short) add('text: short', short)
}

/** The work of the pool that a text is rather than the one it is held against. */
function anotherOf(
  others: readonly { id: number; item: Item }[],
  opening: TitleLines,
  own: ReadonlySet<string>,
  dois: readonly string[],
  place: TitlePlace | undefined,
  work: Item,
): { id: number; item: Item } | undefined {
  return others.find(({ item }) => {
    const doi = normaliseDoi(item.DOI)
    if (doi && !own.has(doi) && dois.includes(doi)) return true
    if (!item.title || !opening.mayHave(item.title)) return false
    const [there] = opening.find(item.title)
    if (!there || there.how !== 'alone' || there.fit < 0.9 || there.otherWords) return false
    const isLonger = item.title.length > (work.title?.length ?? 0)
    return !place || there.fit > place.fit + 0.2 || (place.how !== 'alone' && isLonger)
  })
}

const longLine = (lines: readonly string[]): string | undefined =>
  lines
    .find(l => l.trim().split(/\s+/).length >= 4)
    ?.trim()
    .slice(0, 160)
