import { isbn13CheckDigit } from '../core/bib/identifiers'
import type { Item, Name } from '../core/bib/item'
import type { Random } from '../core/world/random'
import { capital, spin } from '../core/world/spin'
import type { Form, Venue, WorldWork } from '../core/world/types'
import { foreignTitles } from './foreign'
import { MANNERS, TEMPLATES } from './grammar'
import { lexicons, plain } from './lexicons'
import { SUBJECTS } from './subjects'
import { BRANCHES, HOSTS, IMPRINTS, TOWNS } from './venues'

/** The last year of the made-up world. */
export const LAST_YEAR = 2026

/** What a description draws on of the works before it. */
interface Known {
  readonly titles: readonly string[]
  readonly authors: readonly Name[][]
  authorsFor(r: Random, form: Form, subject: number, year: number, crew: undefined): Name[]
}

/** Writes what stands on a work: title, place, identifiers, keywords, abstract, shelf. */
export class Describer {
  private readonly pageOf = new Map<string, number>()
  private series = 0

  constructor(
    private readonly half: 0 | 1,
    private readonly known: Known,
  ) {}

  describe(
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
        const by = this.known.authors[target!]![0]!
        const name = `${by.given ? `${by.given[0]}. ` : ''}${by.family ?? by.literal ?? ''}`
        item.title = r.pick([
          `Review of ${this.known.titles[target!]!}, by ${name}`,
          `${this.known.titles[target!]!}, by ${name}`,
          `${name}: ${this.known.titles[target!]!}`,
          `Book review: ${this.known.titles[target!]!}`,
        ])
        item['reviewed-title'] = this.known.titles[target!]!
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
          `${w.text.seed % 9 === 0 ? 'Retraction' : r.pick(['Correction', 'Correction to', 'Erratum'])}: ${this.known.titles[target!]!}`.replace(
            'to:',
            'to',
          )
        item.author = this.known.authors[target!]!
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
        item['container-title'] = this.known.titles[target]!
        item.editor = this.known.authors[target]!
        item.ISBN = isbn(target)
      } else {
        item['container-title'] = titleCase(capital(spin(r.pick(TEMPLATES[this.half].titles.book!), w.text.story, r)))
        item.editor = this.known.authorsFor(r, 'book', subject, year, undefined)
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

  /** What the manner of a subject's field puts in the place of the general one. */
  private mannerOf(subject: number) {
    const manner = MANNERS[SUBJECTS[subject]!.field] ?? 'technical'
    return manner === 'life' ? {} : TEMPLATES[this.half].manners[manner]
  }
}

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
