import { yearOf } from '../bib/dates'
import { foldTitle } from '../bib/fold'
import { normaliseDoi } from '../bib/identifiers'
import type { Item } from '../bib/item'
import { readPages } from '../bib/pages'
import * as w from './page-words'
import type { Anchor, WebPage } from './web-page'

/** What a link of a page is taken for on the way to a text. */
export type Leads = 'text' | 'article' | 'issue' | 'volume' | 'journal' | 'archive' | 'next page' | 'frame' | 'onward'

/** A link that is worth following, and why. */
export interface Lead {
  url: string
  leads: Leads
  /** Among all links of a walk the highest is followed first. */
  worth: number
  /** Why it is followed: what of the record it agrees with. */
  why: string
}

/** What is looked for, made ready for comparing. */
export interface Sought {
  item: Item
  /** Folded: the whole title, and what stands before its colon where that names it too. */
  title: string
  main: string | undefined
  container: string | undefined
  doi: string | undefined
  volume: string | undefined
  issue: string | undefined
  year: number | undefined
  first: number | undefined
  /** The year in which one looks. */
  thisYear: number | undefined
}

const number = (of: string | number | undefined): string | undefined => {
  const digits = /\d{1,4}([-–/]\d{1,4})?/.exec(String(of ?? ''))?.[0]
  return digits?.replace(/^0+(?=\d)/, '').replace('–', '-')
}

/** Words that a title has at least so that it names a work by its first part alone. */
const MAIN_WORDS = 3

export function sought(item: Item, thisYear?: number): Sought {
  const title = foldTitle(item.title ?? '')
  const main = foldTitle((item.title ?? '').split(/[:.?!–—]\s/)[0]!)
  return {
    item,
    title,
    main: main !== title && main.split(' ').length >= MAIN_WORDS ? main : undefined,
    container: item['container-title'] ? foldTitle(item['container-title']) : undefined,
    doi: normaliseDoi(item.DOI),
    volume: number(item.volume),
    issue: number(item.issue),
    year: yearOf(item),
    first: readPages(item.page)?.first,
    thisYear,
  }
}

const has = (text: string, part: string): boolean => ` ${text} `.includes(` ${part} `)

/**
 * Whether a text names the work: by its whole title; by the part before the colon where the text does not go on
 * otherwise; a title of one or two words only where it is all that the text says.
 */
export function names(text: string, s: Sought): boolean {
  const t = foldTitle(text)
  if (!t || !s.title) return false
  if (s.title.split(' ').length < MAIN_WORDS) return t === s.title
  return has(t, s.title) || (s.main !== undefined && (t === s.main || t.endsWith(` ${s.main}`)))
}

const DOI_NAMES = ['citation_doi', 'dc.identifier', 'dc.identifier.doi', 'prism.doi', 'bepress_citation_doi']
const TITLE_NAMES = ['citation_title', 'dc.title', 'prism.title', 'bepress_citation_title']
const told = (page: WebPage, list: readonly string[]): string[] =>
  list.flatMap(n => {
    const value = page.metas.get(n)
    return value ? [value] : []
  })

/** What a page is of: the work, another one that its head names, or what cannot be told from it. */
export function isOf(page: WebPage, s: Sought): 'the work' | 'another' | 'unknown' {
  const dois = told(page, DOI_NAMES).flatMap(d => normaliseDoi(d) ?? [])
  if (s.doi && dois.includes(s.doi)) return 'the work'
  const titles = told(page, TITLE_NAMES)
  if (titles.some(t => names(t, s))) return 'the work'
  // the book of a chapter, the journal of an article
  const isHost = titles.some(t => s.container && foldTitle(t) === s.container)
  if ((dois.length || titles.length) && !isHost) return 'another'
  return [page.title, ...page.headings, page.metas.get('og:title') ?? ''].some(t => names(t, s)) ||
    (s.main ?? s.title) === foldTitle(page.text.slice(0, 400)).slice(0, (s.main ?? s.title).length)
    ? 'the work'
    : 'unknown'
}

/** A page where the files stand side by side says of each what it is; another has one text. */
const LIST = 3

/** The nearest words about a link that name the work: 0 its own, then block by block; undefined where none do. */
function nameAt(a: Anchor, s: Sought): number | undefined {
  if (names(a.text, s)) return 0
  const at = a.around.findIndex(t => names(t, s))
  return at < 0 ? undefined : at + 1
}

/** The first page of the work as a list gives it beside a link: "611–629", "p. 611". */
function pageAt(a: Anchor, s: Sought): boolean {
  if (s.first === undefined) return false
  const own = new RegExp(`(?<![\\d.])${s.first}(?![\\d.])`)
  return [a.text, ...a.around.slice(0, 1)].some(t => own.test(t) && t.length < 300)
}

const agrees = (said: string, of: string | undefined): boolean => {
  const n = number(said)
  if (n === undefined || of === undefined) return false
  return n === of || n.split(/[-/]/).includes(of) || of.split(/[-/]/).includes(n)
}

/**
 * The links of a page by which the text of a work may be reached, with why. Links to what is no text of it (a
 * supplement, the whole issue, a shop) are left out.
 * @param within where in the journal the page before led: what a page does not say of itself
 */
export function leadsOf(page: WebPage, s: Sought, within: w.Place): Lead[] {
  const leads: Lead[] = []
  const isWork = isOf(page, s) === 'the work'
  page.files.forEach((url, i) =>
    leads.push({ url, leads: 'text', worth: 100 - Math.min(i, 9), why: 'the page names it as its text' }),
  )
  const files = page.anchors.filter(isFile)
  const isList = files.length >= LIST && new Set(files.map(f => f.href)).size >= LIST
  const named = files.some(f => nameAt(f, s) !== undefined)
  const here = { ...within, ...readHere(page, s) }
  for (const a of page.anchors) {
    const lead =
      (isFile(a) ? textLead(a, s, { isWork, isList, named }) : undefined) ??
      articleLead(a, s) ??
      placeLead(a, s, here, isWork) ??
      wayLead(a, s, page)
    if (lead) leads.push({ url: a.href, ...lead, worth: lead.worth - (a.beside ? 15 : 0) })
  }
  if (!s.volume && !leads.some(l => ROUGHLY.includes(l.leads))) leads.push(...guessesOf(page, s))
  for (const url of page.frames) leads.push({ url, leads: 'frame', worth: 50, why: 'the page is put together of it' })
  if (page.onward) leads.push({ url: page.onward, leads: 'onward', worth: 95, why: 'the page sends on to it' })
  return leads
}

const ROUGHLY: readonly Leads[] = ['text', 'article', 'issue', 'volume']

/**
 * Where a record gives no volume: what has none yet, the volume that came out in its year if the last one is of this
 * year, one more or less, and the issues of such a volume. What is met there is held against the title.
 */
function guessesOf(page: WebPage, s: Sought): Lead[] {
  const lists = page.anchors.map(a => ({ a, text: w.plainWords(a.text) })).filter(x => x.text.length < 60)
  const ahead = lists
    .filter(x => w.AHEAD.test(x.text))
    .map(({ a }): Lead => ({ url: a.href, leads: 'issue', worth: 26, why: 'the record has no volume yet' }))
  const volumes = lists.flatMap(({ a, text }) => {
    const n = Number(w.readPlace(text).volume)
    return n ? [{ a, n }] : []
  })
  const last = Math.max(...volumes.map(v => v.n))
  const back = s.year !== undefined && s.thisYear !== undefined ? s.thisYear - s.year : undefined
  const near = volumes.flatMap(({ a, n }): Lead[] => {
    const off = back === undefined ? Infinity : Math.abs(n - (last - back))
    return off > 1 ? [] : [{ url: a.href, leads: 'volume', worth: 24 - off, why: `volume ${n} may be of ${s.year}` }]
  })
  const issues = lists.flatMap(({ a, text }): Lead[] => {
    const { volume, issue } = w.readPlace(text)
    return issue && !volume
      ? [{ url: a.href, leads: 'issue', worth: 22, why: `issue ${issue}, to see what is in it` }]
      : []
  })
  return [...ahead, ...near, ...issues]
}

const ENDS_AS_FILE = /\.pdf$/i
const isReferences = (a: Anchor): boolean =>
  /^(references|bibliography|literatur(verzeichnis)?|bibliographie|referenc(es|ias)|bibliografia|works cited|literature( cited)?|cited by|related|recommended)/.test(
    w.plainWords(a.under),
  )

function isFile(a: Anchor): boolean {
  const text = w.plainWords(a.text)
  // "Stacks: full text from 1998"
  const beside = a.around[0] && a.around[0].length < 120 ? w.plainWords(a.around[0]) : ''
  return (
    (w.FILE.test(text) || ENDS_AS_FILE.test(new URL(a.href).pathname) || w.FILE.test(beside)) &&
    !isBeside(a) &&
    !w.BUY.test(text) &&
    !isReferences(a)
  )
}

/** Whether a link says of itself that it leads to what is no text. */
const isBeside = (a: Anchor): boolean => {
  const text = w.plainWords(a.text)
  if (!w.NOT_IT.test(text)) return false
  // "text (with supplement)" is long, and a title may have any word in it
  return text.length < 80 && !/^(full ?text|volltext|texte integral|texto completo)/.test(text)
}

type Found = Omit<Lead, 'url'> | undefined

function textLead(a: Anchor, s: Sought, on: { isWork: boolean; isList: boolean; named: boolean }): Found {
  const text = w.plainWords(a.text)
  const at = nameAt(a, s)
  const worth = 62 + (/pdf/.test(text) ? 8 : 0) + (ENDS_AS_FILE.test(new URL(a.href).pathname) ? 6 : 0)
  const by = (more: number, why: string): Found => ({ leads: 'text', worth: worth + more, why })
  if (at !== undefined) return by(20 - at, 'its title is that of the record')
  if (pageAt(a, s)) return by(on.named ? 0 : 8, `it begins on p. ${s.first}`)
  // beside files that say what they are, one that says another thing is another text
  if (on.named || (on.isList && !on.isWork)) return undefined
  if (on.isWork) return by(a.beside ? -20 : 10, 'it stands on the page of the work')
  return by(-30, 'it is the only text there')
}

function articleLead(a: Anchor, s: Sought): Found {
  if (names(a.text, s)) return { leads: 'article', worth: 78, why: 'its title is that of the record' }
  const at = nameAt(a, s)
  if (
    at !== undefined &&
    at <= 2 &&
    a.around[at - 1]!.length < 400 &&
    !isBeside(a) &&
    !w.BUY.test(w.plainWords(a.text))
  )
    return { leads: 'article', worth: 60 - at, why: 'it stands beside the title of the record' }
  return undefined
}

/** What a page says of where in a journal it is: by its title, its first heading, and its first words. */
function readHere(page: WebPage, s: Sought): w.Place {
  const heads = [page.title, page.headings[0] ?? '']
  const read = [...heads, page.text.slice(0, 60)]
    .map(t => w.readPlace(w.plainWords(t)))
    .reduce((a, b) => ({ ...b, ...a }))
  // "WML 52"
  const isBare = read.volume === undefined && heads.some(t => s.volume && /\d+/.exec(t)?.[0] === s.volume)
  return isBare ? { ...read, volume: s.volume! } : read
}

function placeLead(a: Anchor, s: Sought, here: w.Place, isWork: boolean): Found {
  const text = w.plainWords(a.text)
  if (text.length > 120 || isBeside(a)) return undefined
  const own = w.readPlace(text)
  const above = w.readPlace(w.plainWords(a.under))
  const volume = own.volume ?? above.volume ?? here.volume
  const year = own.year ?? above.year ?? here.year
  if (volume !== undefined && s.volume !== undefined && !agrees(volume, s.volume)) return undefined
  // a volume may run over the turn of a year, and be dated by when it came
  if (year !== undefined && s.year !== undefined && Math.abs(year - s.year) > (volume === undefined ? 0 : 1))
    return undefined
  const isVolume = own.volume !== undefined && agrees(own.volume, s.volume)
  const isIssue = own.issue !== undefined && agrees(own.issue, s.issue)
  const covers = own.pages && s.first !== undefined && own.pages[0] <= s.first && s.first <= own.pages[1]
  const yearFits = year !== undefined && year === s.year ? ', and the year fits' : ''
  if (isIssue || covers)
    return {
      leads: 'issue',
      worth: volume !== undefined || covers ? 56 : isWork ? 20 : 48,
      why: covers ? `its pages cover p. ${s.first}` : `issue ${s.issue}${yearFits}`,
    }
  if (own.issue !== undefined) return undefined
  if (isVolume) return { leads: 'volume', worth: 46, why: `volume ${s.volume}${yearFits}` }
  // where the page is of the volume, a bare number is one of its issues
  const bare = /^\d{1,3}$/.test(text) ? text : undefined
  const isWithin = volume !== undefined || (year !== undefined && year === s.year)
  if (bare && s.issue && agrees(bare, s.issue) && isWithin)
    return { leads: 'issue', worth: 44, why: `issue ${s.issue}` }
  if (bare && s.volume && agrees(bare, s.volume) && volume === undefined)
    return { leads: 'volume', worth: 40, why: `volume ${s.volume}` }
  if (own.year !== undefined && own.year === s.year) return { leads: 'volume', worth: 40, why: `the year is ${s.year}` }
  return undefined
}

function wayLead(a: Anchor, s: Sought, page: WebPage): Found {
  const text = w.plainWords(a.text)
  if (!text || text.length > 60 || w.BUY.test(text)) return undefined
  if (s.container && foldTitle(a.text) === s.container)
    return { leads: 'journal', worth: 42, why: 'its name is that of the journal' }
  if (w.ARCHIVE.test(text))
    return { leads: 'archive', worth: 34 - (text.length > 30 ? 8 : 0), why: 'it lists what came before' }
  const isNext = /\bnext\b/.test(a.rel) || (w.NEXT.test(text) && text.length < 20)
  if (isNext && page.anchors.length > 2) return { leads: 'next page', worth: 30, why: 'the list goes on there' }
  return undefined
}

/** The chapters of a book that a page has one by one. */
export function chaptersOf(page: WebPage): { url: string; text: string }[] {
  const files = page.anchors.filter(a => isFile(a) || w.CHAPTER.test(w.plainWords(a.text)))
  if (files.some(a => w.WHOLE_BOOK.test(w.plainWords(a.text)))) return []
  const chapters = files.filter(a => [a.text, ...a.around.slice(0, 1)].some(t => w.CHAPTER.test(w.plainWords(t))))
  return chapters.length > 1 ? chapters.map(a => ({ url: a.href, text: a.text })) : []
}
