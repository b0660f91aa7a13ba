import { foreignTitles } from './foreign'
import { isbn13CheckDigit } from '../core/bib/identifiers'
import type { Item, Name } from '../core/bib/item'
import { mayRead } from '../core/world/licence'
import { seeded, type Random } from '../core/world/random'
import { capital, spin } from '../core/world/spin'
import type { Description, Form, Grant, Story, Venue, WorldFacts, WorldWork } from '../core/world/types'
import { catalogue, deposits } from './coverage'
import { MANNERS, TEMPLATES } from './grammar'
import { makePeople, nameIn, type Person } from './people'
import { PACKAGES } from './kbart'
import { OLD_CORNER, SUBJECTS, words } from './subjects'
import { BRANCHES, HOSTS, IMPRINTS, makeVenues, TOWNS } from './venues'

/** What is true of a work, whatever catalogues say. For tests and benchmarks only. */
export interface Label {
  id: string
  kind: Form
  /** Whether a careful reader could tell the kind from a full description. */
  decidable: boolean
  /** Whether the item itself was refereed, not its venue alone. */
  refereed: boolean
  subject: string
  /** Whether it answers the demo's question. */
  relevant: boolean
  /** Its theme within the subject, and whether works of that theme build on it, whatever its fame. */
  theme: string
  landmark: boolean
  /** Works of another record that it belongs with. */
  linked: { as: 'reviews' | 'corrects' | 'retracts' | 'grew from' | 'part of' | 'translates'; id: string }[]
  /** Lawful ways that really lead to its text on the demo's first day. */
  routes: { gate: boolean; open: boolean; print: boolean }
}

export interface Made {
  work: WorldWork
  label: Label
}

/** The day on which the demo begins; the world goes on for some months after it. */
export const FIRST_DAY = '2026-10-05'
const LAST_YEAR = 2026
/** Landmarks of a theme, and how many references a work has to have to be one that cites them. */
const LANDMARKS = 3
const CITES_LANDMARKS = 8
const CITABLE = new Set<Form>([
  'research article',
  'literature review',
  'conference paper',
  'book',
  'chapter',
  'thesis',
  'report',
  'dataset',
])
const BY_FORM: [Form, number, number][] = [
  // form, share, first year
  ['research article', 59, 1889],
  ['literature review', 5, 1920],
  ['review of a book', 6.5, 1889],
  ['conference paper', 4, 1950],
  ['conference abstract', 2.5, 1960],
  ['book', 4, 1889],
  ['chapter', 4, 1920],
  ['thesis', 2, 1930],
  ['report', 3, 1930],
  ['editorial or letter', 3, 1889],
  ['correction', 0.9, 1950],
  ['magazine', 4, 1920],
  ['news', 2, 1900],
  ['dataset', 0.7, 2008],
  ['image or recording', 0.6, 1900],
]

const lexicons = SUBJECTS.map(s => {
  const halves = {
    things: words(s.things),
    causes: words(s.causes),
    places: words(s.places),
    measures: words(s.measures),
    methods: words(s.methods),
    keywords: s.keywords.split('; '),
    terms: s.terms.split('; '),
  }
  const of = (h: 0 | 1) => ({
    things: halves.things[h],
    causes: halves.causes[h],
    places: halves.places[h],
    measures: halves.measures[h],
    methods: halves.methods[h],
  })
  return { ...halves, of: [of(0), of(1)] as const }
})
const old = {
  causes: OLD_CORNER.causes.split('; '),
  places: OLD_CORNER.places.split('; '),
  things: OLD_CORNER.things.split('; '),
}

/**
 * The made-up field of research, work by work in order of time, so that a million of them need not be held at once.
 * The same seed, size and half give the same works.
 */
export class WorldMaker {
  readonly facts: WorldFacts
  private readonly days: Float64Array
  private readonly people: Person[][]
  private readonly byField = new Map<string, Venue[]>()
  private readonly venueByKind = new Map<string, Venue[]>()
  /** Per subject: citable works in order of time, and the urn in which each stands once more for every citation. */
  private readonly citable: number[][] = SUBJECTS.map(() => [])
  private readonly urns: number[][] = SUBJECTS.map(() => [])
  private readonly bySibling = new Map<string, number[]>()
  private readonly recent: { form: Form; i: number; subject: number }[] = []
  private readonly titles: string[] = []
  private readonly authors: Name[][] = []
  private readonly dates: string[] = []
  private readonly stories: Story[] = []
  private readonly pageOf = new Map<string, number>()
  private readonly grown = new Set<number>()
  /** Per subject: papers in other languages that may be translated yet. */
  private readonly foreign: number[][] = SUBJECTS.map(() => [])
  private readonly subjectOf: Uint8Array
  private readonly grants: { grant: Grant; subject: number; people: Person[] }[]
  /** Works that those of their own theme build on, whatever their fame; a theme is one of the things of a subject. */
  private readonly landmarks = new Map<string, number[]>()
  private series = 0
  private next = 0
  /** Titles and stories are kept this far back, for those who answer, review or grow from them. */
  private static readonly REACH = 60_000

  constructor(
    readonly seed = 1,
    readonly size = 24_000,
    readonly half: 0 | 1 = 0,
  ) {
    const r = seeded(seed)
    this.subjectOf = new Uint8Array(size)
    const venues = makeVenues(r, size)
    for (const v of venues) for (const s of v.lexicons) push(this.venueByKind, `${v.kind} ${s}`, v)
    for (const v of venues) push(this.byField, v.field, v)
    // research doubles every twelve years or so
    this.days = new Float64Array(size)
    const [from, to] = [Date.UTC(1889, 0, 1), Date.UTC(LAST_YEAR, 11, 31)]
    const years = (to - from) / 31_557_600_000
    for (let i = 0; i < size; i++) {
      const back = -17 * Math.log(1 - r() * (1 - Math.exp(-years / 17)))
      this.days[i] = to - back * 31_557_600_000
    }
    this.days.sort()
    const total = Math.max(240, Math.round(size * 0.375))
    const weight = SUBJECTS.reduce((t, s) => t + s.weight, 0)
    this.people = SUBJECTS.map(s => makePeople(r, Math.max(12, Math.round((total * s.weight) / weight)), LAST_YEAR))
    this.grants = Array.from({ length: Math.max(6, Math.round(size / 80)) }, (_, n) => {
      const subject = r.weighted(SUBJECTS.map((s, i) => [i, s.weight] as const))
      const start = r.int(1996, 2024)
      const crew = this.people[subject]!.filter(p => p.from <= start && p.from > start - 30)
      return {
        subject,
        people: r.some(crew, Math.min(crew.length, r.int(3, 9))),
        grant: {
          id: `${r.pick(['HRC', 'OST', 'NLF', 'DRC'])}-${start}-${String(n).padStart(4, '0')}`,
          title: capital(
            spin(`${r.pick(lexicons[subject]!.things[half])} and ${r.pick(lexicons[subject]!.causes[half])}`, {}, r),
          ),
          funder: r.pick([
            'Halverane Research Council',
            'Ostmere Science Trust',
            'Night Land Foundation',
            'Dunmorrow Regional Council',
          ]),
          from: start,
          to: start + r.int(3, 5),
        },
      }
    })
    const t = TEMPLATES
    this.facts = {
      seed,
      stamp: `${seed}-${size}-${half}`,
      venues,
      grants: this.grants.map(g => g.grant),
      grammar: { sentences: [t[0].sections, t[1].sections], lexicons: lexicons.map(l => [l.of[0], l.of[1]]) },
      packages: PACKAGES,
    }
  }

  *[Symbol.iterator](): Generator<Made> {
    while (this.next < this.size) yield this.make(this.next++)
  }

  private make(i: number): Made {
    const r = seeded((this.seed * 0x9e3779b1) ^ Math.imul(i + 1, 0x85ebca6b))
    const date = new Date(this.days[i]!).toISOString().slice(0, 10)
    const year = Number(date.slice(0, 4))
    const subject = r.weighted(SUBJECTS.map((s, k) => [k, year >= s.since ? s.weight : s.weight * 0.04] as const))
    let form = r.weighted(BY_FORM.map(([f, share, since]) => [f, year >= since ? share : 0] as const))
    // what answers to another work needs one to answer to
    let target: number | undefined
    if (form === 'review of a book') target = this.find(r, subject, year, 5, 'book', true)
    if (form === 'correction') target = this.find(r, subject, year, 4, 'research article')
    if (form === 'chapter' || form === 'dataset')
      target = this.find(r, subject, year, form === 'chapter' ? 0 : 3, form === 'chapter' ? 'book' : 'research article')
    if (target === undefined && (form === 'review of a book' || form === 'correction' || form === 'dataset'))
      form = 'research article'
    const venue = this.venueFor(r, form, subject, year)
    if (!venue && !['book', 'chapter', 'thesis', 'report', 'dataset', 'image or recording'].includes(form))
      form = 'report'
    let origin: number | undefined
    if (form === 'research article' && year > 1990 && r.chance(0.12)) {
      origin = this.find(r, subject, year, 3, 'conference paper')
      if (origin !== undefined && this.grown.has(origin)) origin = undefined
      if (origin !== undefined) this.grown.add(origin)
    }
    // a paper in another language is sometimes printed again in English
    const abroad = this.foreign[subject]!
    const translated =
      form === 'research article' && origin === undefined && abroad.length && r.chance(0.02)
        ? abroad[abroad.length - 1]
        : undefined
    const again = origin ?? translated
    const sibling = year >= 1996 && CITABLE.has(form) && r.chance(0.3) ? this.grantFor(r, subject, year) : undefined
    const story =
      again !== undefined && this.stories[again] ? { ...this.stories[again] } : this.storyFor(r, subject, year)
    const author =
      (again !== undefined ? this.authors[again] : undefined) ??
      this.authorsFor(r, form, subject, year, sibling?.people)
    const id = this.idOf(i)
    const text = { lexicon: subject, half: this.half, seed: Math.floor(r() * 2 ** 31), story }
    const work: WorldWork = {
      id,
      year,
      date,
      item: { id, type: 'document' },
      form,
      genre: form,
      refereedVenue: Boolean(venue?.refereed),
      keywords: [],
      subjects: [],
      pages: 1,
      text,
      references: [],
      unlinked: 0,
      catalogues: {},
      deposits: [],
    }
    this.describe(r, i, work, subject, author, venue, target)
    if (translated !== undefined) {
      abroad.pop()
      work.item.language = 'en'
      work.item['original-title'] = this.titles[translated]!
      work.item.title = capital(spin('{thing} and {cause} in {place}', story, r))
    }
    const refs = this.withLandmarks(
      i,
      work,
      subject,
      this.cite(r, i, form, subject, year, target, sibling?.grant.id, origin),
    )
    if (target !== undefined) work.about = this.idOf(target)
    work.references = refs.map(n => this.idOf(n))
    work.unlinked = refs.length > 5 && r.chance(0.25) ? r.int(1, Math.floor(refs.length / 3)) : 0
    if (sibling) work.grant = sibling.grant.id
    work.deposits = deposits(r, work, venue)
    work.catalogues = this.catalogues(r, work, SUBJECTS[subject]!.field, venue)
    this.remember(r, i, work, subject, author, sibling?.grant.id)
    return { work, label: this.labelOf(work, subject, venue, target, origin, translated) }
  }

  private idOf = (i: number): string => `w${String(i).padStart(this.size > 99_999 ? 7 : 5, '0')}`

  /** A recent work of a form to answer to; books on the same subject attract several reviews. */
  private find(
    r: Random,
    subject: number,
    year: number,
    back: number,
    form: Form,
    anySubject = false,
  ): number | undefined {
    for (let tries = 0; tries < 40 && this.recent.length; tries++) {
      const one = this.recent[this.recent.length - 1 - Math.floor(r() ** 1.5 * Math.min(this.recent.length, 4000))]!
      if (one.form !== form || (one.subject !== subject && !(anySubject && tries > 25))) continue
      const age = year - Number(this.dates[one.i]!.slice(0, 4))
      if (age >= 0 && age <= back) return one.i
    }
    return undefined
  }

  private venueFor(r: Random, form: Form, subject: number, year: number): Venue | undefined {
    const kind = [
      'research article',
      'literature review',
      'review of a book',
      'editorial or letter',
      'correction',
    ].includes(form)
      ? r.chance(0.05)
        ? 'bulletin'
        : 'journal'
      : form.startsWith('conference')
        ? 'proceedings'
        : form === 'magazine'
          ? 'magazine'
          : form === 'news'
            ? 'newspaper'
            : undefined
    if (!kind) return undefined
    const running = (list: Venue[] | undefined) => (list ?? []).filter(v => year >= v.since)
    const near = running(this.venueByKind.get(`${kind} ${subject}`))
    // some journals print far more than others
    if (near.length) return near[Math.floor(r() ** 1.6 * near.length)]
    const field = running(this.byField.get(SUBJECTS[subject]!.field)).filter(
      v => v.kind === kind || v.kind === 'journal',
    )
    return field.length ? r.pick(field) : undefined
  }

  /** What the manner of a subject's field puts in the place of the general one. */
  private mannerOf(subject: number) {
    const manner = MANNERS[SUBJECTS[subject]!.field] ?? 'technical'
    return manner === 'life' ? {} : TEMPLATES[this.half].manners[manner]
  }

  private grantFor(r: Random, subject: number, year: number) {
    const active = this.grants.filter(
      g => g.subject === subject && g.grant.from < year && year <= g.grant.to + 2 && g.people.length,
    )
    return active.length ? r.pick(active) : undefined
  }

  private storyFor(r: Random, subject: number, year: number): Story {
    const l = lexicons[subject]!
    const h = this.half
    const [measure, second] = r.some(l.measures[h], 2) as [string, string]
    // the demo's subject: only part of it happens in towns, and long ago it had other names
    const early = subject === 0 && year < OLD_CORNER.before
    const place =
      early && r.chance(0.25)
        ? r.pick(old.places)
        : r.pick(subject === 0 && r.chance(0.5) ? lexicons[1]!.places[h] : l.places[h])
    const cause = early && r.chance(0.6) ? r.pick(old.causes) : r.pick(l.causes[h])
    const thing = early && r.chance(0.4) ? r.pick(old.things) : r.pick(l.things[h])
    return { thing, cause, place: plain(place, r), measure, second, method: plain(r.pick(l.methods[h]), r) }
  }

  private authorsFor(r: Random, form: Form, subject: number, year: number, crew: Person[] | undefined): Name[] {
    const modern = year > 1985
    const n =
      form === 'thesis' || form === 'review of a book' || form === 'magazine' || form === 'news'
        ? 1
        : form === 'book'
          ? r.int(1, 2)
          : r.weighted(
              modern
                ? ([
                    [1, 8],
                    [2, 20],
                    [3, 26],
                    [4, 20],
                    [6, 14],
                    [9, 8],
                    [22, 1],
                  ] as const)
                : ([
                    [1, 60],
                    [2, 28],
                    [3, 10],
                    [4, 2],
                  ] as const),
            )
    const all = this.people[subject]!
    const upper = lowerBound(all, year - 1)
    const lower = Math.min(lowerBound(all, year - 38), Math.max(0, upper - 3))
    const window = Math.max(1, upper - lower)
    const lead = lower + Math.floor(r() ** 1.4 * window)
    const out: Person[] = crew ? r.some(crew, Math.min(n, crew.length)) : []
    // co-authors stand near one another, as groups do
    for (let tries = 0; out.length < n && tries < n * 4; tries++) {
      const p = all[Math.min(all.length - 1, Math.max(lower, lead + (tries ? r.int(-7, 7) : 0)))]!
      if (!out.includes(p)) out.push(p)
    }
    const initials = !modern && r.chance(0.7)
    return out.map(p => nameIn(p, year, initials))
  }

  private describe(
    r: Random,
    i: number,
    w: WorldWork,
    subject: number,
    author: Name[],
    venue: Venue | undefined,
    target: number | undefined,
  ): void {
    const { form, year, text } = w
    const t = TEMPLATES[this.half]
    const l = lexicons[subject]!
    const slots = {
      ...text.story,
      year: String(year),
      otherThing: r.pick(l.things[this.half]),
      otherCause: r.pick(l.causes[this.half].filter(c => c !== text.story.cause)),
      otherMethod: plain(r.pick(l.methods[this.half].filter(m => m !== text.story.method)), r),
      otherPlace: plain(r.pick(l.places[this.half]), r),
    }
    const tell = (templates: readonly string[]) => spin(r.pick(templates), slots, r)
    const [, month, day] = w.date.split('-').map(Number) as [number, number, number]
    const item: Item = {
      id: w.id,
      type: 'article-journal',
      title: '',
      author,
      issued: { 'date-parts': [[year, month, day]] },
      language: 'en',
    }
    const titleOf = (role: string) => capital(tell(t.titles[role]!))
    w.item = item
    const early = year < 1940
    if (venue) {
      w.venue = venue.code
      const isOld = venue.former && year <= venue.former.until
      item['container-title'] = isOld ? venue.former!.title : venue.title
      item.ISSN = isOld ? venue.former!.issnPrint : r.chance(0.5) || year < 1998 ? venue.issnPrint : venue.issnOnline
      item.publisher = venue.imprint
      if (year >= 1996 || venue.since < 1970) w.host = venue.host
    }
    const range = (from: number, to: number) => r.int(from, to)
    switch (form) {
      case 'research article':
        item.title = capital(tell(this.mannerOf(subject).research ?? t.titles.research!))
        w.pages = early ? range(3, 16) : range(7, 24)
        break
      case 'literature review':
        item.title = titleOf('literature review')
        w.pages = range(14, 44)
        break
      case 'review of a book': {
        const by = this.authors[target!]![0]!
        const name = `${by.given ? `${by.given[0]}. ` : ''}${by.family ?? by.literal ?? ''}`
        item.title = r.pick([
          `Review of ${this.titles[target!]!}, by ${name}`,
          `${this.titles[target!]!}, by ${name}`,
          `${name}: ${this.titles[target!]!}`,
          `Book review: ${this.titles[target!]!}`,
        ])
        item['reviewed-title'] = this.titles[target!]!
        w.pages = range(1, 4)
        break
      }
      case 'conference paper':
        item.title = titleOf('conference')
        item.type = 'paper-conference'
        w.pages = range(4, 9)
        break
      case 'conference abstract':
        item.title = titleOf('conference')
        item.type = 'paper-conference'
        w.pages = 1
        break
      case 'editorial or letter':
        item.title = titleOf('editorial or letter')
        w.pages = range(1, 3)
        break
      case 'correction':
        item.title =
          `${w.text.seed % 9 === 0 ? 'Retraction' : r.pick(['Correction', 'Correction to', 'Erratum'])}: ${this.titles[target!]!}`.replace(
            'to:',
            'to',
          )
        item.author = this.authors[target!]!
        w.pages = 1
        break
      case 'magazine':
        item.type = 'article-magazine'
        item.title =
          subject === 0 && venue?.code === 'nwa' && r.chance(0.4)
            ? `Notes from the Lamp Post, ${++this.series}: ${text.story.thing}`
            : titleOf('magazine')
        w.pages = range(1, 6)
        break
      case 'news':
        item.type = 'article-newspaper'
        item.title = titleOf('news')
        w.pages = 1
        break
      case 'book':
        item.type = 'book'
        item.title = titleCase(titleOf('book'))
        w.pages = range(130, 460)
        break
      case 'chapter':
        item.type = 'chapter'
        item.title = r.chance(0.06) ? 'Introduction' : titleOf('chapter')
        w.pages = range(10, 34)
        break
      case 'thesis':
        item.type = 'thesis'
        item.title = titleOf('thesis')
        w.pages = range(90, 260)
        break
      case 'report':
        item.type = 'report'
        item.title = titleOf('report')
        w.pages = range(16, 120)
        break
      case 'dataset':
        item.type = 'dataset'
        item.title = titleOf('dataset')
        break
      case 'image or recording':
        item.type = 'graphic'
        item.title = titleOf('recording')
        break
    }
    if (venue) this.place(r, w, venue)
    else this.publish(r, i, w, subject, target)
    if (['research article', 'literature review'].includes(form)) w.keywords = r.some(l.keywords, r.int(3, 6))
    else if (['conference paper', 'thesis', 'chapter', 'report', 'dataset'].includes(form) && r.chance(0.6))
      w.keywords = r.some(l.keywords, r.int(2, 4))
    w.subjects = form === 'correction' ? [] : r.some(l.terms, r.int(1, 3))
    item.abstract = this.abstractOf(r, w, SUBJECTS[subject]!.field, slots)
    // some were written in other languages
    if (form === 'research article' && r.chance(early ? 0.3 : 0.035)) foreign(r, w, SUBJECTS[subject]!.name)
    for (const k of Object.keys(item)) if (item[k] === undefined) delete item[k]
    delete item['reviewed-title']
  }

  /** Volume, issue, pages and DOI of what stands in a journal; pages follow one another through the volume. */
  private place(r: Random, w: WorldWork, v: Venue): void {
    const { item, year } = w
    const month = Number(w.date.slice(5, 7))
    const key = `${v.code} ${year}`
    const first = this.pageOf.get(key) ?? 1
    this.pageOf.set(key, first + w.pages)
    if (v.kind === 'newspaper') {
      item.page = String(r.int(1, 16))
      return
    }
    if (v.kind === 'proceedings') {
      item.page = w.pages > 1 ? `${first}-${first + w.pages - 1}` : String(first)
      if (year > 2004) item.DOI = `10.5555/${v.code}.${year}.${w.id.slice(1)}`
      return
    }
    item.volume = String(year - v.since + 1)
    item.issue = String(Math.min(v.issues, 1 + Math.floor(((month - 1) * v.issues) / 12)))
    item.page =
      v.articleNumbers && year > 2008
        ? `e${w.id.slice(1)}`
        : w.pages > 1
          ? `${first}-${first + w.pages - 1}`
          : String(first)
    // publishers gave DOIs to their back runs too, though not to all
    if (v.kind === 'journal' && (year >= 1999 || r.chance(0.7))) item.DOI = `10.5555/${v.code}.${year}.${w.id.slice(1)}`
    const ahead = year === LAST_YEAR && w.form !== 'correction' && r.chance(0.35)
    if (ahead) for (const k of ['volume', 'issue', 'page']) delete item[k]
    // older dates are known to the month or the year
    if (year < 1995) item.issued = { 'date-parts': [r.chance(0.5) ? [year, month] : [year]] }
  }

  /** What stands outside journals: publisher, place, identifiers, the book of a chapter, the shelf. */
  private publish(r: Random, i: number, w: WorldWork, subject: number, target: number | undefined): void {
    const { item, year, form } = w
    const town = r.pick(TOWNS)
    item.issued = { 'date-parts': [[year]] }
    if (form === 'book' || form === 'chapter') {
      item.publisher = r.pick([
        'Moorgrave Press',
        'Lanternhill Books',
        'Quillon Imprints',
        'Halverane University Press',
        'Grey Fell Books',
        r.pick(IMPRINTS),
      ])
      item['publisher-place'] = town
      if (year >= 1970) item.ISBN = isbn(i)
      w.host = HOSTS[3]
    }
    if (form === 'book' && r.chance(0.2)) item.edition = String(r.int(2, 4))
    if (form === 'book' && year > 2005 && r.chance(0.4)) item.DOI = `10.5555/book.${w.id.slice(1)}`
    if (form === 'chapter') {
      const first = r.int(9, 260)
      item.page = `${first}-${first + w.pages - 1}`
      if (target !== undefined) {
        item['container-title'] = this.titles[target]!
        item.editor = this.authors[target]!
        item.ISBN = isbn(target)
      } else {
        item['container-title'] = titleCase(capital(spin(r.pick(TEMPLATES[this.half].titles.book!), w.text.story, r)))
        item.editor = this.authorsFor(r, 'book', subject, year, undefined)
      }
    }
    if (form === 'thesis') {
      item.publisher = r.pick(['Halverane University', `University of ${town}`])
      item.genre = r.pick(['Doctoral thesis', 'Doctoral thesis', 'Master’s thesis'])
    }
    if (form === 'report') {
      item.publisher = r.pick([
        'Halverane Roads Office',
        `Council of ${town}`,
        'Dunmorrow Night Forum',
        `${town} Energy Agency`,
      ])
      item.genre = 'report'
      if (r.chance(0.3)) item.author = [{ literal: item.publisher }]
    }
    if (form === 'dataset') {
      item.publisher = 'Fennmark Data Deposit'
      item.DOI = `10.5555/fdd.${w.id.slice(1)}`
    }
    if (form === 'image or recording') {
      item.genre = r.pick(['sound recording', 'photograph', 'poster'])
      item.publisher = r.pick(['Halverane Town Archive', 'Museum of Evenings, Ostmere'])
    }
    const shelved =
      form === 'book'
        ? 0.6
        : form === 'thesis' && item.publisher === 'Halverane University'
          ? 0.9
          : form === 'report'
            ? 0.15
            : form === 'image or recording'
              ? 0.8
              : 0
    if (r.chance(shelved)) {
      w.shelf = {
        call: `${'BCHLNPST'[subject % 8]} ${r.int(10, 89)}.${r.int(1, 99)} ${(item.author?.[0]?.family ?? item.publisher ?? 'X').slice(0, 3)} ${year}`,
        branch: r.pick(BRANCHES),
        ...(form === 'book' && year > 2006 && r.chance(0.35) ? { ebook: true } : {}),
        ...(r.chance(0.12) ? { loanUntil: `2026-1${r.int(0, 1)}-${r.int(10, 28)}` } : {}),
      }
    }
  }

  private abstractOf(r: Random, w: WorldWork, field: string, slots: Record<string, string>): string | undefined {
    const t = TEMPLATES[this.half]
    const one = (list: readonly string[]) => spin(r.pick(list), slots, r)
    const some = (list: readonly string[], n: number) => r.some(list, n).map(x => spin(x, slots, r))
    const old = w.year < 1965
    switch (w.form) {
      case 'research article':
      case 'conference paper': {
        if (old || r.chance(w.year < 1985 ? 0.5 : 0.05)) return undefined
        const a = { ...t.abstract, ...this.mannerOf(w.text.lexicon) }
        const second = { ...slots, method: slots.otherMethod! }
        const parts = [
          [...some(a.context, r.int(1, 2)), ...(r.chance(0.6) ? [one(a.aim)] : [])],
          r.some(a.did, r.int(1, 2)).map((x, k) => spin(x, k ? second : slots, r)),
          [...some(a.found, r.int(2, 3)), ...(r.chance(0.7) ? [one(a.further)] : [])],
          [one(a.end)],
        ].map(p => p.join(' '))
        return field === 'Health' && w.year > 1990 && r.chance(0.7)
          ? parts.map((p, k) => `${t.labels[k]}: ${p}`).join(' ')
          : parts.join(' ')
      }
      case 'literature review':
        if (old) return undefined
        return [
          one(t.review.open),
          one(t.review.scope),
          ...some(t.review.found, 2),
          ...(r.chance(0.5) ? [one(t.abstract.further)] : []),
          one(t.review.end),
        ].join(' ')
      case 'conference abstract':
        return one(t.short)
      case 'thesis':
        if (w.year < 1985) return undefined
        return [
          `This thesis is concerned with ${w.text.story.thing}.`,
          ...some(t.abstract.context, 2),
          one(t.abstract.aim),
          ...some(t.abstract.did, 2),
          ...some(t.abstract.found, 3),
          one(t.abstract.end),
        ].join(' ')
      case 'report':
        return r.chance(0.6) ? one(t.report) : undefined
      case 'chapter':
        return r.chance(0.25) && !old ? [one(t.abstract.context), one(t.abstract.end)].join(' ') : undefined
      case 'dataset':
        return `${capital(w.text.story.measure)} and ${w.text.story.second} recorded with ${w.text.story.method}.`
      default:
        return undefined
    }
  }

  /**
   * References: fame attracts (an urn), the new is nearer than the old, siblings of a grant cite one another, and some
   * come from other subjects. Never anything newer than the work itself.
   */
  private cite(
    r: Random,
    i: number,
    form: Form,
    subject: number,
    year: number,
    target: number | undefined,
    grant: string | undefined,
    origin: number | undefined,
  ): number[] {
    const out = new Set<number>()
    if (target !== undefined && form !== 'chapter') out.add(target)
    if (origin !== undefined) out.add(origin)
    const era = year < 1940 ? 0.15 : year < 1975 ? 0.4 : year < 1995 ? 0.7 : 1
    const [a, b] = (
      {
        'research article': [14, 52],
        'literature review': [60, 150],
        book: [30, 90],
        chapter: [15, 45],
        thesis: [60, 130],
        report: [4, 22],
        'conference paper': [6, 16],
        'conference abstract': [0, 3],
        'editorial or letter': [1, 6],
        'review of a book': [1, 3],
      } as Partial<Record<Form, [number, number]>>
    )[form] ?? [0, 0]
    const wanted = Math.round(r.int(a, b) * era)
    const siblings = grant ? (this.bySibling.get(grant) ?? []) : []
    for (let tries = 0; out.size < wanted && tries < wanted * 3; tries++) {
      const where = r()
      const s = where < 0.86 ? subject : Math.floor(r() * SUBJECTS.length)
      const list = this.citable[s]!
      if (!list.length) continue
      const how = r()
      const n =
        how < 0.08 && siblings.length
          ? r.pick(siblings)
          : how < 0.68
            ? recentOf(r, this.urns[s]!, 0.4)
            : recentOf(r, list, 0.18)
      if (n < i) out.add(n)
    }
    const refs = [...out].sort((x, y) => x - y)
    // fame within the subject: what was borrowed from elsewhere does not count
    for (const n of refs) if (this.subjectOf[n] === subject) this.urns[subject]!.push(n)
    return refs
  }

  private themeOf(subject: number, { thing }: Story): string {
    const place = lexicons[subject]!.things[this.half].indexOf(thing)
    return place < 0 ? `${subject} other` : `${subject} ${place}`
  }

  /** Adds the landmarks of a work's theme to its references, by chances of their own: nothing else of the world moves. */
  private withLandmarks(i: number, { form, year, text }: WorldWork, subject: number, refs: number[]): number[] {
    const theme = this.themeOf(subject, text.story)
    if (theme.endsWith('other')) return refs
    const r = seeded((this.seed * 0x51ed270b) ^ Math.imul(i + 1, 0x2545f491))
    const there = this.landmarks.get(theme) ?? []
    const cited = refs.length >= CITES_LANDMARKS ? there.filter(() => r.chance(0.3)) : []
    if (form === 'research article' && year >= 1992 && there.length < LANDMARKS && r.chance(0.08))
      push(this.landmarks, theme, i)
    return cited.length ? [...new Set([...refs, ...cited])].sort((a, b) => a - b) : refs
  }

  private catalogues(r: Random, w: WorldWork, field: string, v: Venue | undefined): Record<string, Description> {
    return catalogue(r, w, field, v)
  }

  private remember(
    r: Random,
    i: number,
    w: WorldWork,
    subject: number,
    author: Name[],
    grant: string | undefined,
  ): void {
    this.titles[i] = w.item.title!
    this.subjectOf[i] = subject
    this.authors[i] = author
    this.dates[i] = w.date
    this.stories[i] = w.text.story
    const gone = i - WorldMaker.REACH
    if (gone >= 0) {
      delete this.authors[gone]
      delete this.stories[gone]
    }
    if (['book', 'research article', 'conference paper'].includes(w.form))
      this.recent.push({ form: w.form, i, subject })
    if (this.recent.length > 12_000) this.recent.splice(0, 6000)
    if (w.form === 'research article' && w.item.language !== 'en') this.foreign[subject]!.push(i)
    if (!CITABLE.has(w.form)) return
    this.citable[subject]!.push(i)
    this.urns[subject]!.push(i)
    // one in some hundreds is famous in its subject
    if (w.form === 'research article' && r.chance(0.004)) for (let k = 0; k < 40; k++) this.urns[subject]!.push(i)
    if (grant) push(this.bySibling, grant, i)
  }

  private labelOf(
    w: WorldWork,
    subject: number,
    v: Venue | undefined,
    target: number | undefined,
    origin: number | undefined,
    translated: number | undefined,
  ): Label {
    const { form } = w
    const linked: Label['linked'] = []
    if (target !== undefined)
      linked.push({
        as:
          form === 'review of a book'
            ? 'reviews'
            : form === 'correction'
              ? w.item.title!.startsWith('Retraction')
                ? 'retracts'
                : 'corrects'
              : 'part of',
        id: this.idOf(target),
      })
    if (origin !== undefined) linked.push({ as: 'grew from', id: this.idOf(origin) })
    if (translated !== undefined) linked.push({ as: 'translates', id: this.idOf(translated) })
    const inTown =
      lexicons[0]!.places.some(list => list.includes(w.text.story.place)) || old.places.includes(w.text.story.place)
    return {
      id: w.id,
      kind: form,
      decidable: decidable(w),
      refereed: Boolean(v?.refereed) && ['research article', 'literature review', 'conference paper'].includes(form),
      subject: SUBJECTS[subject]!.name,
      theme: this.themeOf(subject, w.text.story),
      landmark: Boolean(this.landmarks.get(this.themeOf(subject, w.text.story))?.some(n => this.idOf(n) === w.id)),
      relevant:
        subject === 0 &&
        inTown &&
        ['research article', 'literature review', 'conference paper', 'chapter', 'thesis', 'report', 'book'].includes(
          form,
        ),
      linked,
      routes: {
        gate: Boolean(v) && w.host !== undefined && mayRead(v!, w.date, FIRST_DAY),
        open:
          (v?.openFrom !== undefined && w.year >= v.openFrom) ||
          w.deposits.some(d => !d.dead && d.from <= FIRST_DAY && (d.embargoUntil ?? '') <= FIRST_DAY),
        print: Boolean(w.shelf) || (v?.print !== undefined && w.year >= v.print.from && w.year <= (v.print.to ?? 9999)),
      },
    }
  }
}

/** A careful reader tells most kinds by their marks; a bare short piece in a journal could be several things. */
function decidable(w: WorldWork): boolean {
  const title = w.item.title ?? ''
  switch (w.form) {
    case 'research article':
    case 'literature review':
      return Boolean(w.item.abstract) || w.pages > 6
    case 'review of a book':
      return /^(Review of|Book review)|, by /.test(title)
    case 'editorial or letter':
      return /Editorial|In this issue|reply|comment|From the editors|Response|call for|A word/.test(title)
    case 'conference paper':
      return Boolean(w.item.abstract)
    default:
      return true
  }
}

/** Words of a lexicon may hold a number to be drawn. */
const plain = (s: string, r: Random): string => (s.includes('{') ? spin(s, {}, r) : s)

const titleCase = (s: string): string =>
  s.replace(/(^|[\s-])(?!of |and |the |in |its |a |on )(\p{L})/gu, (m, gap: string, c: string) => gap + c.toUpperCase())
const isbn = (i: number): string => {
  const twelve = `97899${String(i).padStart(7, '0')}`
  return twelve + isbn13CheckDigit(twelve)
}

/** Writes an article in another language than English, on its own subject. */
function foreign(r: Random, w: WorldWork, subject: string): void {
  const { item } = w
  const language = r.weighted([
    ['de', 40],
    ['fr', 28],
    ['es', 14],
    ['sv', 8],
    ['ja', 5],
    ['ru', 5],
  ] as const)
  item.language = language
  item.title = r.pick(foreignTitles(subject, language))(r.pick(TOWNS), r.int(4, 90))
  if (r.chance(0.5)) delete item.abstract
  // the presses' type has Western letters only
  if (language === 'ja' || language === 'ru') delete w.host
}

/** Draws from a list in order of time, the newer sooner: at a rate of one part of its length. */
function recentOf(r: Random, list: readonly number[], part: number): number {
  const at = list.length - 1 - Math.floor(-Math.log(1 - r()) * Math.max(20, list.length * part))
  return list[at < 0 ? Math.floor(r() * list.length) : at]!
}

function push<K, V>(map: Map<K, V[]>, key: K, value: V): void {
  const list = map.get(key)
  if (list) list.push(value)
  else map.set(key, [value])
}

/** The first person who began after a year. */
function lowerBound(people: readonly Person[], year: number): number {
  let low = 0
  let high = people.length
  while (low < high) {
    const mid = (low + high) >>> 1
    if (people[mid]!.from <= year) low = mid + 1
    else high = mid
  }
  return low
}
