import { daySpan, readDate } from '../bib/dates'
import type { Item } from '../bib/item'
import { sayIso } from './coverage'
import * as w from './page-words'
import { chaptersOf, isOf, leadsOf, sought, type Lead, type Leads, type Sought } from './web-links'
import { readWebPage, type Field, type Form, type WebPage } from './web-page'

/** How a walk to a text can end. */
export const ENDS = [
  'taken',
  'terms',
  'sign in',
  'session over',
  'challenge',
  'later',
  'embargo',
  'not paid',
  'by chapter',
  'by hand',
  'wrong file',
  'gone',
  'lost',
] as const
export type Ended = (typeof ENDS)[number]

/** What a server answers to one asking; a place to go on to is not followed. */
export interface Got {
  status: number
  /** Names in lower case. */
  headers: Readonly<Record<string, string | undefined>>
  bytes: Uint8Array
  /** Where it is text: its letters, as its answer says they are written. */
  text: () => string
}

/** What is asked of a server. */
export interface Asked {
  url: string
  /** A form that is sent. */
  form?: string
}

/** One step of a walk, as it is told. */
export interface Step {
  url: string
  /** What was come to: "the article", "volume 52", "a page of terms". */
  what: string
  /** Why it was gone to, or what it said. */
  said: string
}

export interface Walked {
  ended: Ended
  /** A sentence for the student. */
  said: string
  steps: Step[]
  /** The address at which it ended: of the text, or where the student can go on by hand. */
  on: string
  /** ISO date on which it opens. */
  opens?: string
  /** Seconds to wait. */
  wait?: number
  /** The terms that are asked for. */
  terms?: { host: string; text: string }
  chapters?: { url: string; text: string }[]
}

export interface Walk {
  item: Item
  start: string
  /**
   * Asks a server.
   * @throws Refused where it may not be asked; Unanswered where no answer came
   */
  get: (asked: Asked) => Promise<Got>
  /** Holds a file against the work: whether it is, or may be, its text, with a sentence. */
  take: (bytes: Uint8Array, url: string) => Promise<{ taken: boolean; said: string }>
  /** Hosts whose terms the student accepted. */
  accepted?: ReadonlySet<string>
  /** Address of the gate's sign-in: who is sent there has no session any more. */
  signIn?: string
  /** Addresses of files that were held against the work before and are not it; those of this walk are added. */
  refused?: Set<string>
  /** The year in which it is walked. */
  thisYear?: number
  /** How a host is called, where it is reached under another name. */
  called?: (host: string) => string
  /** Told of every step as it is made. */
  step?: (steps: readonly Step[]) => Promise<void>
}

/** A server that may not be asked: the student can go there. */
export class Refused extends Error {}
/** A server that gave no answer. */
export class Unanswered extends Error {}

/** Askings of one walk, those that only send on to the next, and files that are held against the work. */
const MOST_ASKED = 16
const MOST_HOPS = 8
const MOST_FILES = 4
/** Letters of a page that says one thing only. */
const SHORT = 1500

interface Next extends Omit<Lead, 'leads'> {
  leads: Leads | 'start' | 'form'
  form?: string
  within: w.Place
}

/** What stopped one branch of a walk. */
type Stop = Omit<Walked, 'steps'>

/** Of several hindrances the one that the student can do most about is told. */
const TOLD_FIRST: readonly Ended[] = [
  ...(['terms', 'session over', 'sign in', 'challenge', 'later', 'embargo', 'by chapter', 'not paid'] as const),
  ...(['by hand', 'wrong file', 'gone', 'lost'] as const),
]

/**
 * Walks from an address to the text of a work as a reader would: to the file at once, over the page of the article, or
 * from a journal's front page down volume, issue and article, holding each step against the record. It accepts no terms
 * that the student did not accept, gives no password, and works around nothing: what stands in the way is named, with
 * the address where the student can go on.
 */
export async function walk(o: Walk): Promise<Walked> {
  const s = sought(o.item, o.thisYear)
  const steps: Step[] = []
  const stops: Stop[] = []
  const seen = new Set<string>()
  const queue: Next[] = [{ url: o.start, leads: 'start', worth: 1000, why: '', within: {} }]
  /** Where terms were sent to. */
  const sent = new Set<string>()
  let files = 0
  const tell = async (step: Step) => {
    steps.push(step)
    await o.step?.(steps)
  }
  const stop = async (what: string, end: Stop) => {
    stops.push(end)
    await tell({ url: end.on, what, said: end.said })
  }
  for (let asked = 0; queue.length && asked < MOST_ASKED; asked++) {
    queue.sort((a, b) => b.worth - a.worth)
    const next = queue.shift()!
    const key = `${next.url} ${next.form ?? ''}`
    if (seen.has(key)) {
      asked--
      continue
    }
    seen.add(key)
    const arrived = await arrive(o, next, seen)
    if ('ended' in arrived) {
      await stop(nameOf(next), arrived)
      continue
    }
    const { got, url } = arrived
    if (isPdf(got.bytes)) {
      const { taken, said } = await o.take(got.bytes, url)
      await tell({ url, what: 'the file', said })
      if (taken) return { ended: 'taken', said, steps, on: url }
      stops.push({ ended: 'wrong file', said, on: url })
      o.refused?.add(url)
      if (++files >= MOST_FILES) break
      continue
    }
    const type = got.headers['content-type'] ?? ''
    const text = /html|xml|text\/plain|^$/i.test(type) ? got.text() : ''
    if (!/<\w/.test(text)) {
      const said = got.bytes.length ? `${hostOf(o, url)} sent no PDF.` : `${hostOf(o, url)} sent nothing.`
      await stop(nameOf(next), hindered(o, got, '', url) ?? { ended: 'by hand', said, on: url })
      continue
    }
    const page = readWebPage(text, url, got.headers.link)
    const hindrance = hindranceOf(o, page, got, s)
    if (hindrance && !('ended' in hindrance)) {
      if (sent.has(hindrance.url)) {
        const said = `${hostOf(o, url)} asks for its terms again and again.`
        await stop(nameOf(next), { ended: 'by hand', said, on: url })
        continue
      }
      sent.add(hindrance.url)
      await tell({ url, what: 'a page of terms', said: 'You accepted them today.' })
      // it leads back to where they stood in the way
      seen.clear()
      queue.push({ ...hindrance, leads: 'form', worth: 900, why: 'the terms were accepted', within: next.within })
      continue
    }
    if (hindrance) {
      await stop(nameOf(next), hindrance)
      continue
    }
    const within = { ...next.within, ...w.readPlace(w.plainWords(page.title)) }
    const leads = leadsOf(page, s, next.within).filter(l => !seen.has(`${l.url} `) && !o.refused?.has(l.url))
    const chapters = o.item.type === 'book' ? chaptersOf(page) : []
    if (chapters.length) {
      const said = `It comes by chapter: ${chapters.length} files.`
      await stop('the book', { ended: 'by chapter', said, on: url, chapters })
      continue
    }
    if (!leads.length) {
      await stop(nameOf(next), blockedOf(o, page, s))
      continue
    }
    await tell({ url, what: nameOf(next, isOf(page, s) === 'the work'), said: next.why || firstSaid(page, s) })
    // the nearer to the text a link leads the more it is worth: a walk goes on where it is, and back from dead ends
    for (const l of leads) queue.push({ ...l, within })
  }
  const rank = (e: Stop) => TOLD_FIRST.indexOf(e.ended)
  const best = stops.toSorted((a, b) => rank(a) - rank(b))[0]
  const lost: Stop = { ended: 'lost', said: 'No link there leads to the text.', on: steps.at(-1)?.url ?? o.start }
  return { ...(best ?? lost), steps }
}

/** Asks, and goes on where it is sent on. */
async function arrive(o: Walk, next: Next, seen: Set<string>): Promise<{ got: Got; url: string } | Stop> {
  let url = next.url
  let form = next.form
  try {
    for (let hop = 0; ; hop++) {
      if (o.signIn && url.startsWith(o.signIn))
        return { ended: 'session over', said: 'The gate asks to sign in again.', on: next.url }
      const got = await o.get({ url, ...(form === undefined ? {} : { form }) })
      const to = got.headers.location
      if (got.status < 300 || got.status > 399 || !to || !URL.canParse(to, url)) {
        const stopped = statusStop(o, got, url)
        return stopped ?? { got, url }
      }
      url = new URL(to, url).href
      form = undefined
      if (hop >= MOST_HOPS || seen.has(`${url} `))
        return {
          ended: 'lost',
          said: `${hostOf(o, url)} sends from one address to the next without end.`,
          on: next.url,
        }
      seen.add(`${url} `)
    }
  } catch (e) {
    if (e instanceof Refused) return { ended: 'by hand', said: e.message, on: url }
    if (e instanceof Unanswered) return { ended: 'later', said: e.message, on: url }
    throw e
  }
}

/** What an answer's status alone decides. */
function statusStop(o: Naming, got: Got, url: string): Stop | undefined {
  const host = hostOf(o, url)
  const wait = Number(got.headers['retry-after'])
  const later = Number.isFinite(wait) && wait > 0 ? { wait } : {}
  if (got.status === 429)
    return { ended: 'later', said: `${host} gives no more texts for the moment (429).`, on: url, ...later }
  if (got.status >= 500) {
    const page = /html/i.test(got.headers['content-type'] ?? 'html') ? w.plainWords(got.text().slice(0, 20_000)) : ''
    if (w.says.challenge(page)) return challengeStop(o, url)
    return { ended: 'later', said: `${host} is out of service for the moment (${got.status}).`, on: url, ...later }
  }
  if (got.status === 404 || got.status === 410)
    return { ended: 'gone', said: `The address at ${host} is dead (${got.status}).`, on: url }
  return undefined
}

const challengeStop = (o: Naming, on: string): Stop => ({
  ended: 'challenge',
  said: `${hostOf(o, on)} asks whether a human is there. Open it yourself, and bring the file.`,
  on,
})

/** What a page of few words says of itself. */
function hindered(o: Naming, got: Got, words: string, url: string): Stop | undefined {
  const host = hostOf(o, url)
  if (w.says.challenge(words)) return challengeStop(o, url)
  if (w.says.sessionOver(words))
    return { ended: 'session over', said: `${host} says that the session is over.`, on: url }
  if (w.says.tooMany(words)) return { ended: 'later', said: `${host} gives no more texts for the moment.`, on: url }
  if (w.says.outOfService(words)) return { ended: 'later', said: `${host} is out of service for the moment.`, on: url }
  if (got.status === 401) return { ended: 'sign in', said: `${host} asks to sign in.`, on: url }
  return undefined
}

/** What stands in the way on a page, or the form by which terms that were accepted are sent. */
function hindranceOf(
  o: Pick<Walk, 'called' | 'accepted'>,
  page: WebPage,
  got: Got,
  s: Sought,
): Stop | { url: string; form?: string } | undefined {
  const { url } = page
  const words = w.plainWords(`${page.title}. ${page.text}`)
  const of = isOf(page, s)
  if (words.length < SHORT && page.files.length === 0) {
    const stopped = hindered(o, got, words, url)
    if (stopped && !(of === 'the work' && stopped.ended === 'later')) return stopped
  }
  if (of === 'another') {
    const other = page.metas.get('citation_title') ?? page.headings[0] ?? page.title
    return { ended: 'wrong file', said: `The page is of another work: “${other}”.`, on: url }
  }
  const terms = page.forms.find(isTerms(page))
  if (terms && !page.files.length) {
    const host = hostOf(o, url)
    if (o.accepted?.has(host)) return sendAccepted(terms)
    // what is to be pressed there is no part of them
    const pressed = new Set(terms.buttons.map(b => b.text))
    const lines = page.text.split('\n').filter(line => !pressed.has(line))
    const text = lines.join('\n').slice(0, 4000)
    return { ended: 'terms', said: `${host} asks you to accept its terms.`, on: url, terms: { host, text } }
  }
  if (got.status >= 400) return blockedOf(o, page, s)
  const head = w.plainWords([page.title, page.headings[0] ?? ''].join('. '))
  if (words.length < SHORT && of === 'unknown' && w.says.notThere(`${head} ${words.slice(0, 200)}`))
    return { ended: 'gone', said: `${hostOf(o, url)} says that there is no such page any more.`, on: url }
  return undefined
}

/** A form that does nothing but ask for a yes to terms: no password, nothing to fill in, no word of cookies. */
const isTerms =
  (page: WebPage) =>
  (f: Form): boolean => {
    if (f.asksPassword || f.asks.length) return false
    const own = w.plainWords(f.text)
    const yes = f.buttons.some(b => w.says.accept(w.plainWords(b.text))) || (f.boxes.length > 0 && w.ACCEPT.test(own))
    const about = own.length > 60 ? own : w.plainWords(page.text)
    return yes && (w.TERMS.test(about) || f.boxes.length > 0) && !w.COOKIES.test(about)
  }

function sendAccepted(f: Form): { url: string; form?: string } {
  const button = f.buttons.find(b => w.says.accept(w.plainWords(b.text))) ?? f.buttons[0]
  const fields = new URLSearchParams([
    ...f.hidden,
    ...f.boxes.map((b): Field => [b.name, b.value]),
    ...(button?.name ? [[button.name, button.value] as Field] : []),
  ])
  if (f.method === 'POST') return { url: f.action, form: fields.toString() }
  const to = new URL(f.action)
  to.search = fields.toString()
  return { url: to.href }
}

/** Why a page that leads nowhere leads nowhere. */
function blockedOf(o: Naming, page: WebPage, s: Sought): Stop {
  const { url: on } = page
  const host = hostOf(o, on)
  const words = w.plainWords(`${page.title}. ${page.text}`)
  const program = page.noscript || page.text.length < 200 ? w.plainWords(`${page.noscript} ${page.text}`) : ''
  if (w.says.embargo(words)) {
    const opens = opensOn(page.text)
    const said = opens ? `It opens at ${host} on ${sayIso(opens)}.` : `It is under embargo at ${host}.`
    return { ended: 'embargo', said, on, ...(opens ? { opens } : {}) }
  }
  if (w.says.notPaid(words))
    return { ended: 'not paid', said: `${host} does not give it with your library's licence.`, on }
  if (page.forms.some(f => f.asksPassword) || w.says.signIn(words))
    return { ended: 'sign in', said: `${host} asks to sign in, in its own way.`, on }
  const isBare = page.text.length < 40 && !page.anchors.length && !page.forms.length
  if (isBare || w.says.program(program))
    return { ended: 'by hand', said: `${host} shows its pages by programs only. Open it, and bring the file.`, on }
  if (isOf(page, s) === 'the work')
    return { ended: 'by hand', said: `${host} has the work's page, but no PDF on it. Open it, and see.`, on }
  return { ended: 'lost', said: `No link at ${host} leads to the text.`, on }
}

/** The day on which a page says that a text opens. */
function opensOn(text: string): string | undefined {
  const said =
    /(\d{1,2}[./]\d{1,2}[./]\d{4}|\d{4}-\d{2}-\d{2}|\d{1,2}\.? (?:de )?\p{L}{3,12}\.?,? (?:de )?\d{4}|\p{L}{3,12} \d{1,2}, \d{4}|\p{L}{3,12} \d{4})/u.exec(
      /(?:embargo|available|opens?|until|from|after|bis|ab|jusqu|partir|desde|hasta)[\s\S]{0,80}/i.exec(text)?.[0] ??
        '',
    )?.[1]
  return said ? daySpan(readDate(said.replaceAll(' de ', ' ')))?.from : undefined
}

type Naming = Pick<Walk, 'called'>
const hostOf = ({ called }: Naming, url: string): string => {
  const { hostname } = new URL(url)
  return called?.(hostname) ?? hostname
}

const isPdf = (bytes: Uint8Array): boolean => {
  // some servers put a few bytes before it
  const head = String.fromCharCode(...bytes.subarray(0, 1024))
  return head.includes('%PDF-')
}

const NAMES: Record<Next['leads'], string> = {
  start: 'the first page',
  form: 'past the terms',
  text: 'the text',
  article: 'the article',
  issue: 'the issue',
  volume: 'the volume',
  journal: 'the journal',
  archive: 'older issues',
  'next page': 'the next page',
  frame: 'a part of the page',
  onward: 'where it sends on to',
}
const nameOf = (next: Next, isWork = false): string =>
  isWork && (next.leads === 'start' || next.leads === 'form' || next.leads === 'onward')
    ? 'the article'
    : NAMES[next.leads]

/** What a page to begin at says of itself. */
function firstSaid(page: WebPage, s: Sought): string {
  if (isOf(page, s) === 'the work') return 'its title is that of the record'
  const issn = s.item.ISSN && page.text.includes(s.item.ISSN)
  if (issn) return 'its ISSN is that of the record'
  return page.title ? `“${page.title.slice(0, 100)}”` : 'a page without a title'
}
