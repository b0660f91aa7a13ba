import { endOf } from '../bib/clean'
import { addDays, yearOf } from '../bib/dates'
import { fold, foldTitle } from '../bib/fold'
import { normaliseIssn } from '../bib/identifiers'
import { given, type Facts, type Item, type ReadRecord } from '../bib/item'
import { loanEnd, type ShelfHolding } from '../formats/marc-shelf'
import { compare } from '../match/compare'
import { prepare, type Prepared } from '../match/prepare'
import { isPrint, sayIso, type CoverageAnswer } from './coverage'
import type { Profile } from './profile'
import type { Route } from './routes'

/** What the shelves of a library have of a work. */
export interface ShelfAnswer {
  library: Pick<Profile, 'key' | 'name'>
  /** ISO date on which they were asked. */
  day: string
  holdings: readonly ShelfHolding[]
  /** Its catalogue knows it, whether or not it says where it stands. */
  known?: boolean
  /** Editions that it has instead, as they are told. */
  others?: readonly string[]
}

/** Chance that a thing that stands there is found there; that one is brought back in time; where nobody says when. */
export const FOUND = 0.95
const BACK = 0.6
const SOME_DAY = 0.3
const PERHAPS = 0.5

/**
 * What is looked for on shelves to have a work: itself, the book that a chapter stands in, the journal of an article.
 * Undefined where a work stands on none.
 */
export function soughtOnShelf(item: Item): { as: 'book' | 'journal'; item: Item } | undefined {
  const { type, ISBN } = item
  const container = item['container-title']
  // papers of a conference come out in a serial as often as in a book
  if (JOURNALS.has(type) || (type === 'paper-conference' && item.ISSN))
    return container || item.ISSN ? { as: 'journal', item: { ...item, title: container ?? '' } } : undefined
  if (WITHIN.has(type) && (container || type !== 'paper-conference')) {
    if (!container) return undefined
    const book: Item = { id: item.id, type: 'book', title: container }
    return {
      as: 'book',
      item: {
        ...book,
        ...(ISBN ? { ISBN } : {}),
        ...given(item, ['issued', 'publisher', 'edition', 'editor', 'volume']),
      },
    }
  }
  return NOWHERE.has(type) || !(item.title ?? ISBN) ? undefined : { as: 'book', item }
}
const JOURNALS = new Set(['article-journal', 'article-magazine', 'article-newspaper', 'review', 'review-book'])
const WITHIN = new Set(['chapter', 'entry', 'entry-encyclopedia', 'entry-dictionary', 'paper-conference'])
const NOWHERE = new Set(['webpage', 'post', 'post-weblog', 'dataset', 'software', 'article', 'personal_communication'])

/** How a record of a catalogue is the thing that is looked for: it, another edition of it, or something else. */
export function isSought(
  wanted: NonNullable<ReturnType<typeof soughtOnShelf>>,
  { item, facts }: ReadRecord,
): 'it' | 'another edition' | undefined {
  if (wanted.as === 'journal') {
    if (facts.genre !== 'journal') return undefined
    const [ours, theirs] = [normaliseIssn(wanted.item.ISSN), normaliseIssn(item.ISSN)]
    if (ours && ours === theirs) return 'it'
    const title = foldTitle(wanted.item.title ?? '')
    return title && [item.title ?? '', ...(facts.otherTitles ?? [])].some(t => foldTitle(t) === title)
      ? 'it'
      : undefined
  }
  const [a, b] = [wanted.item, item].map((x, id) => prepare({ id, item: x, facts: {} })) as [Prepared, Prepared]
  if (a.isbns.some(i => b.isbns.includes(i)) || compare(a, b).verdict === 'same') return 'it'
  if (!a.title || ![a.title, a.main].some(t => t !== undefined && [b.title, b.main].includes(t))) return undefined
  if (a.families.length && b.families.length && !a.families.some(n => b.families.includes(n))) return undefined
  const other = (x: unknown, y: unknown): boolean => Boolean(x) && Boolean(y) && x !== y
  if (other(a.year, b.year) || other(a.edition, b.edition)) return 'another edition'
  // a title alone is shared by strangers
  return a.families.length && b.families.length ? 'it' : undefined
}

/** An edition as it is told from others. @example '2nd edition, 1994' */
export const sayEdition = ({ edition, ...item }: Item): string =>
  [edition && (/^\d+$/.test(String(edition)) ? `edition ${edition}` : String(edition)), yearOf(item)]
    .filter(Boolean)
    .join(', ') || 'one without a year'

/**
 * Whether a year is among what stands there of a journal, as a library writes it: "v.3(1989)-v.20(2006)", "1998-",
 * "1990/91, 1994". What it lacks is taken from it where that is said by years.
 */
export function runHolds(run: string, year: number, note = ''): boolean | undefined {
  const spans = run.split(/[;,]/).flatMap(part => {
    const years = yearsIn(part)
    if (!years.length) return []
    const isOpen = /[-–—]/.test(endOf(part, /\D/))
    const isSpan = years.length > 1 || isOpen
    return isSpan ? [[years[0]!, isOpen ? Infinity : years.at(-1)!] as const] : [[years[0]!, years[0]!] as const]
  })
  if (!spans.length) return undefined
  if (!spans.some(([from, to]) => from <= year && year <= to)) return false
  return LACKS.test(note) && yearsIn(note).includes(year) ? false : true
}
const yearsIn = (text: string): number[] =>
  Array.from(text.matchAll(/(?<!\d)(?:1[5-9]|20)\d{2}(?!\d)/g), m => Number(m[0]))
const LACKS = /(?<!\p{L})(?:lacks?|lacking|missing|wanting|gaps?|fehl\p{L}*|lücken?|manqu\p{L}*|falta\p{L}*)(?!\p{L})/iu

/** Ways by what stands on shelves, and what does not stand there though one might look. */
export function shelfRoutes(
  item: Item,
  { library, day, holdings, known, others = [] }: ShelfAnswer,
): { routes: Route[]; closed: string[] } {
  const routes: Route[] = []
  const closed: string[] = []
  const year = yearOf(item)
  const within = sayWithin(item)
  const isJournal = soughtOnShelf(item)?.as === 'journal'
  if (!holdings.length && !others.length)
    closed.push(
      known
        ? `The catalogue of ${library.name} knows it and names no shelf; asked on ${sayIso(day)}.`
        : `Nothing of it stands on the shelves of ${library.name}; asked on ${sayIso(day)}.`,
    )
  for (const s of holdings) {
    const place = [s.branch || library.name, s.room, s.call].filter(Boolean).join(', ')
    const holds = !isJournal || s.run === undefined || year === undefined ? undefined : runHolds(s.run, year, s.note)
    if (holds === false) {
      closed.push(`${place}: ${s.run}${s.note ? `, ${s.note}` : ''}; yours is of ${year}.`)
      continue
    }
    // of a journal it has to be said which years stand there
    const isUnsure = isJournal && holds === undefined
    const run = [s.run && `; ${s.run}`, isUnsure && ', of which years is not said'].filter(Boolean).join('')
    const { said, ...when } = availability(s, day)
    routes.push({
      ...{ way: 'shelf', version: 'version of record', library: { key: library.key, name: library.name } },
      from: s.branch || library.name,
      evidence: `${said}: ${place}${run}; asked on ${sayIso(day)}.`,
      ...when,
      ...(isUnsure ? { likely: Math.min(when.likely, PERHAPS) } : {}),
      shelf: {
        ...{ branch: s.branch, call: s.call, said, day },
        ...(within ? { within } : {}),
        ...(s.room ? { room: s.room } : {}),
        ...(s.note && !loanEnd(s.note) ? { note: s.note } : {}),
        ...(s.free === 0 ? { out: true } : {}),
        ...(s.stays ? { stays: true } : {}),
      },
    })
  }
  if (others.length) closed.push(`${library.name} has it in another edition: ${others.slice(0, MOST_TOLD).join('; ')}.`)
  return { routes, closed }
}
const MOST_TOLD = 3

/** What one opens on the shelf, and where in it. @example 'Night Ecology 12(3), 33-41' */
function sayWithin(item: Item): string {
  const container = item['container-title']
  if (!container) return ''
  const volume = [item.volume, item.issue && `(${item.issue})`].filter(Boolean).join('')
  return [[container, volume].filter(Boolean).join(' '), item.page?.replace(/(?<=\d)-(?=\w)/g, '–')]
    .filter(Boolean)
    .join(', ')
}

/** What a place says of its copies on a day, and what follows from it. */
function availability(
  { copies, free, back, waiting = 0, stays }: ShelfHolding,
  day: string,
): Pick<Route, 'expected' | 'likely' | 'asks'> & { said: string } {
  const asks = stays ? 'reading it there' : 'going to the shelf'
  if (free === undefined) return { said: `Whether it is in is not said`, expected: day, likely: FOUND, asks }
  if (free > 0) {
    const many =
      copies > 1
        ? `${free === copies ? allOf(copies) : `${free} of ${copies} copies`} ${free === 1 ? 'is' : 'are'} in`
        : 'It is in'
    return { said: `${many}${stays ? ', to be read there' : ''}`, expected: day, likely: FOUND, asks }
  }
  const away = copies > 1 ? `${allOf(copies)} are out` : 'It is out'
  const wait = waiting ? `, and ${waiting} ${waiting === 1 ? 'waits' : 'wait'} for it` : ''
  const late = back !== undefined && back < day
  const until = back === undefined ? '' : late ? `; it was due back on ${sayIso(back)}` : ` until ${sayIso(back)}`
  return {
    said: `${away}${until}${wait}`,
    expected: back === undefined || late ? addDays(day, UNKNOWN_DAYS) : addDays(back, 1),
    likely: (back === undefined || late ? SOME_DAY : BACK) / (1 + waiting),
    asks: 'waiting until it is back',
  }
}
const allOf = (copies: number): string => (copies === 2 ? 'Both copies' : `All ${copies} copies`)
/** Where nobody says when it is back, two weeks are reckoned with. */
const UNKNOWN_DAYS = 14

/** What the record of a work says of a shelf, where nobody asked there. */
export function recordedRoutes({ shelf = [] }: Facts, asked: readonly Route[], today: string): Route[] {
  const known = new Set(asked.map(r => fold(r.shelf?.call ?? '')))
  return shelf
    .filter(s => !known.has(fold(s.call)))
    .map(s => {
      const back = loanEnd(s.note)
      const away = back !== undefined && back >= today
      const place = `${s.branch || 'In the library'}, ${s.call}`
      return {
        ...{ way: 'shelf', version: 'version of record', from: s.branch || 'the library' },
        evidence: `${[place, ...(away ? [`on loan until ${sayIso(back)}`] : [])].join('; ')}.`,
        expected: away ? addDays(back, 1) : today,
        likely: away ? BACK : FOUND,
        asks: away ? 'waiting until it is back' : 'going to the shelf',
        shelf: { ...s, ...(s.note ? { note: sayDates(s.note) } : {}), ...(away ? { out: true } : {}) },
      }
    })
}

/** A note as it is read: catalogues write days by digits alone. */
const sayDates = (note: string): string => note.replace(/\b\d{4}-\d{2}-\d{2}\b/g, sayIso)

/** What stands in print by the list of holdings of the first library that has it so: nobody says where. */
export const listedRoutes = (
  printed: readonly [Profile, readonly CoverageAnswer[]] | undefined,
  today: string,
): Route[] =>
  (printed?.[1] ?? [])
    .filter(a => isPrint(a.holding))
    .slice(0, 1)
    .map(a => ({
      ...{ way: 'shelf', version: 'version of record', from: printed![0].name },
      evidence: `In print. ${a.said}`,
      expected: today,
      likely: a.held === 'yes' ? FOUND : PERHAPS,
      asks: 'going to the shelf',
    }))
