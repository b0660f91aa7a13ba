import type { Name } from '../core/bib/item'
import { seeded, type Random } from '../core/world/random'
import { capital, spin } from '../core/world/spin'
import type { Form, Grant, Story, Venue, WorldFacts, WorldWork } from '../core/world/types'
import { catalogue, deposits } from './coverage'
import { Describer, LAST_YEAR } from './descriptions'
import { BY_FORM, CITABLE } from './forms'
import { TEMPLATES } from './grammar'
import { PACKAGES } from './kbart'
import { labelOf, type Label } from './labels'
import { lexicons, old, plain } from './lexicons'
import { makePeople, nameIn, type Person } from './people'
import { OLD_CORNER, SUBJECTS } from './subjects'
import { makeVenues } from './venues'

export interface Made {
  work: WorldWork
  label: Label
}

/** Landmarks of a theme, and how many references a work has to have to be one that cites them. */
const LANDMARKS = 3
const CITES_LANDMARKS = 8
/**
 * The made-up field of research, work by work in order of time, so that a million of them need not be held at once.
 * The same seed, size and half give the same works.
 */
/** The first year whose authors gave identifiers. */
const SINCE_IDS = 2012

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
  readonly titles: string[] = []
  readonly authors: Name[][] = []
  /** Who stands behind a name: true labels, for tests and benchmarks. */
  readonly writers = new WeakMap<Name, Person>()
  private readonly dates: string[] = []
  private readonly stories: Story[] = []
  private readonly grown = new Set<number>()
  /** Per subject: papers in other languages that may be translated yet. */
  private readonly foreign: number[][] = SUBJECTS.map(() => [])
  private readonly subjectOf: Uint8Array
  private readonly grants: { grant: Grant; subject: number; people: Person[] }[]
  /** Works that those of their own theme build on, whatever their fame; a theme is one of the things of a subject. */
  private readonly landmarks = new Map<string, number[]>()
  private readonly describer: Describer
  private next = 0
  /** Titles and stories are kept this far back, for those who answer, review or grow from them. */
  private static readonly REACH = 60_000

  constructor(
    readonly seed = 1,
    readonly size = 24_000,
    readonly half: 0 | 1 = 0,
  ) {
    this.describer = new Describer(half, this)
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
    this.people = SUBJECTS.map((s, group) =>
      makePeople(r, Math.max(12, Math.round((total * s.weight) / weight)), LAST_YEAR, group),
    )
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
    this.describer.describe(r, i, work, subject, author, venue, target)
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
    const ids = year < SINCE_IDS ? [] : (work.item.author ?? []).map(n => this.writers.get(n)?.id)
    // two of three have one
    const given = ids.flatMap((of, place) => (of && Number(of.at(-2)) % 3 ? [[place, of] as const] : []))
    if (given.length) work.authorIds = Object.fromEntries(given)
    work.deposits = deposits(r, work, venue)
    work.catalogues = catalogue(r, work, SUBJECTS[subject]!.field, venue)
    this.remember(r, i, work, subject, author, sibling?.grant.id)
    const theme = this.themeOf(subject, story)
    const named = (n: number | undefined) => (n === undefined ? undefined : this.idOf(n))
    const label = labelOf(work, {
      ...{ subject, theme, venue, landmark: Boolean(this.landmarks.get(theme)?.includes(i)) },
      ...{ target: named(target), origin: named(origin), translated: named(translated) },
    })
    return { work, label }
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

  authorsFor(r: Random, form: Form, subject: number, year: number, crew: Person[] | undefined): Name[] {
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
    return out.map(p => {
      const name = { ...nameIn(p, year, initials) }
      this.writers.set(name, p)
      return name
    })
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
