import type { Facts, Item, Version } from '../bib/item'
import { doiAddress } from '../bib/identifiers'
import { familyName } from '../bib/names'
import { decideTitle, isPrint, linesFor, opensOn, sayIso, type CoverageAnswer } from './coverage'
import { hoursAt, nextOpen, type Hours } from './hours'
import { kindFor, type LoanKind, type LoanOffer } from './loan'
import { partnerRoutes, type PartnerAnswer } from './partners'
import { notKnown, type Profile } from './profile'
import { FOUND, listedRoutes, recordedRoutes, shelfRoutes, type ShelfAnswer } from './shelf'
import type { Ended, Walked } from './walk'

export const WAYS = ['open', 'gate', 'shelf', 'loan', 'author'] as const
export type RouteWay = (typeof WAYS)[number]

/** One lawful way to one version of the text. */
export interface Route {
  way: RouteWay
  version: Version
  /** Who gives it: a platform, a repository, an author. */
  from: string
  /** Persistent address to begin at; a gate route still has to go through the gate. */
  url?: string
  /** Sentences that say why this route exists. */
  evidence: string
  /** ISO date of the expected arrival, today where it can be fetched now. */
  expected: string
  /** Chance that it arrives before the due date. */
  likely: number
  /** What it asks of the student. */
  asks: string
  /** The library on whose account it is open. */
  library?: { key: string; name: string }
  /** The library beside that one which has it: one goes there, or is sent it through the office. */
  partner?: string
  /** Whether the student opens it in their own window, since nothing is fetched there from here. */
  hand?: boolean
  /** Where it stands in the library, what was said of its copies on which day, whether all are out, whether it stays there. */
  shelf?: {
    branch: string
    call: string
    /** The volume or the book in which it is, and where. */
    within?: string
    room?: string
    note?: string
    said?: string
    day?: string
    out?: boolean
    /** It is read there. */
    stays?: boolean
  }
  /** A scan or a book that is asked for: ISO dates between which it comes, and the last day to ask for it in time. */
  loan?: { kind: LoanKind; from: string; to: string; askBy?: string }
  /** How it ended when it was last walked; what is said above then follows from it. */
  walked?: Tried
  /** What was said of it before that. */
  was?: Said
}

type Said = Pick<Route, 'evidence' | 'expected' | 'likely' | 'asks'>

/** How a way ended that was walked. */
export interface Tried extends Pick<Walked, 'ended' | 'said' | 'on' | 'opens' | 'terms' | 'chapters'> {
  /** ISO date of the desk. */
  day: string
  /** ISO moment from which on it is worth trying again. */
  again?: string
}

/** An open copy as a repository describes it. */
export interface OpenCopy {
  url: string
  version: Version
  from: string
  embargoUntil?: string
}

export interface RouteAnswer {
  routes: Route[]
  /** Ways that were looked at and are closed, with the sentence why. */
  closed: string[]
}

/** What routes are found from. */
export interface Known {
  /** The libraries that are asked, in their order. */
  libraries: readonly Profile[]
  /** What their shelves have, as far as they were asked. */
  shelves?: readonly ShelfAnswer[]
  /** What shelves said before that do not answer now. */
  shelvesBefore?: readonly Route[]
  /** What partners have, as far as they were asked. */
  partners?: readonly PartnerAnswer[]
  /** Ways by partners that do not answer now, as they were before. */
  partnersBefore?: readonly Route[]
  /** When libraries are open, by their keys. */
  hours?: ReadonlyMap<string, readonly Hours[]>
  /** What repositories have of the work. */
  open: readonly OpenCopy[]
  /** ISO dates; with nothing due, a day that never comes. */
  today: string
  due: string
  /** Address before a DOI, ending in a slash. */
  resolver: string
}

/** Chance that a way delivers that is open now, that asks for a walk to a shelf, that is not sure, and by an author. */
const OPEN = 0.97
const HELD = FOUND
const UNSURE = 0.5
const ASKED = 0.3

/** The routes of a work on a day, best first: by chance to arrive in time, then version, then effort. */
export function findRoutes(item: Item, facts: Facts, known: Known): RouteAnswer {
  const { libraries, today, due } = known
  const { routes, closed } = openRoutes(facts, known)
  const add = (r: Route) => {
    const isSame = (x: Route) => wayKey(x) === wayKey(r) || (r.url !== undefined && x.way === 'open' && x.url === r.url)
    if (!routes.some(isSame)) routes.push(r)
  }
  let printed: [Profile, CoverageAnswer[]] | undefined
  for (const library of libraries) {
    const answers = decideTitle(item, linesFor(item, library.holdings), today)
    const held = answers.filter(x => x.held !== 'no')
    for (const r of electronicRoutes(item, library, held, known)) add(r)
    if (!printed && held.some(a => isPrint(a.holding))) printed = [library, held]
    // what one line keeps closed another may have open
    for (const r of laterRoutes(item, library, answers, known)) add(r)
    if (answers.length && !held.length) closed.push(...answers.map(a => withOpening(item, a, today)))
    // whoever asked its shelves says more than that its files do not name it
    const isAsked = known.shelves?.some(s => s.library.key === library.key)
    if (!answers.length && !facts.shelf?.length) {
      if (library.unread?.length) closed.push(notKnown(library))
      else if (!isAsked) closed.push(`${library.name} does not hold this title.`)
    }
  }
  const asked = (known.shelves ?? []).map(s => shelfRoutes(item, s))
  const said = [...asked.flatMap(a => a.routes), ...(known.shelvesBefore ?? [])]
  const there = [...said, ...recordedRoutes(facts, said, today)]
  for (const r of there.length ? there : listedRoutes(printed, today)) add(whileOpen(r, known.hours))
  closed.push(...asked.flatMap(a => a.closed))
  const near = partnerRoutes(item, known.partners ?? [])
  for (const r of [...near.routes, ...(known.partnersBefore ?? [])])
    add(r.way === 'shelf' ? whileOpen(r, known.hours) : r)
  closed.push(...near.closed)
  if (!libraries.length && !facts.shelf?.length)
    closed.push('What a library holds is not known: no file of its holdings was read yet.')
  const author = item.author?.[0]
  if (author) {
    routes.push({
      way: 'author',
      version: 'accepted manuscript',
      from: familyName(author),
      evidence: 'An author may send their manuscript.',
      expected: due,
      likely: ASKED,
      asks: 'a letter, and patience',
    })
  }
  return { routes: inOrder(routes), closed }
}

/** Ways by what a library pays for, or points to: each platform by the DOI, and by the title's own page. */
function electronicRoutes(
  item: Item,
  library: Profile,
  held: readonly CoverageAnswer[],
  { today, resolver }: Known,
): Route[] {
  const doi = item.DOI ? doiAddress(resolver, item.DOI) : undefined
  const routes: Route[] = []
  // a DOI leads to one platform only; each has the journal's own page to begin at
  for (const [i, { holding, said, ...a }] of held.filter(x => !isPrint(x.holding)).entries()) {
    const begin = [...(i === 0 ? [doi ?? item.URL] : []), holding.url].filter(u => u !== undefined)
    for (const url of begin.length ? [...new Set(begin)] : [undefined])
      if (url === undefined || !routes.some(r => r.url === url))
        routes.push({
          ...onAccountOf(library, holding),
          version: 'version of record',
          from: holding.publisher ?? holding.title,
          ...(url ? { url } : {}),
          evidence: url && i === 0 && url !== begin[0] ? `From the title’s own page. ${said}` : said,
          expected: today,
          likely: a.held === 'yes' ? HELD : UNSURE,
        })
  }
  return routes
}

/** How a line of a library opens: to all, by its gate, or by the student's own hand. */
function onAccountOf(
  { key, name, door }: Profile,
  { free }: Pick<CoverageAnswer['holding'], 'free'>,
): Pick<Route, 'way' | 'library' | 'hand' | 'asks'> {
  if (free) return { way: 'open', asks: 'nothing' }
  const gate = { way: 'gate' as const, library: { key, name } }
  if (door === 'gate') return { ...gate, asks: 'signing in at the gate' }
  return {
    ...gate,
    hand: true,
    asks: door === 'window' ? 'signing in in your own window' : 'reading it in the library',
  }
}

/** What a line says, with the day on which its wall falls for the item. */
function withOpening(item: Item, { said, holding }: CoverageAnswer, today: string): string {
  const opens = opensOn(item, holding, today)
  return opens ? `${said} It opens on ${sayIso(opens)}.` : said
}

/** What a moving wall closes today and opens before it is due. */
function laterRoutes(
  item: Item,
  library: Profile,
  answers: readonly CoverageAnswer[],
  { today, due, resolver }: Known,
): Route[] {
  return answers.flatMap(({ held, holding, said }): Route[] => {
    const opens = held === 'no' && !isPrint(holding) ? opensOn(item, holding, today) : undefined
    if (!opens || opens > due) return []
    const url = item.DOI ? doiAddress(resolver, item.DOI) : (item.URL ?? holding.url)
    return [
      {
        ...onAccountOf(library, holding),
        ...{ version: 'version of record', from: holding.publisher ?? holding.title },
        ...(url ? { url } : {}),
        evidence: `${said} It opens on ${sayIso(opens)}.`,
        ...{ expected: opens, likely: HELD, asks: 'nothing but waiting' },
      },
    ]
  })
}

/** Copies open to all: those that repositories have, and that which the description names. */
function openRoutes(facts: Facts, { open, today, due }: Known): RouteAnswer {
  const routes: Route[] = []
  const closed: string[] = []
  const seen = new Set<string>()
  const copies = facts.openUrl
    ? [
        ...open,
        {
          url: facts.openUrl,
          version: facts.version ?? 'version of record',
          from: hostOf(facts.openUrl),
          ...(facts.embargoUntil ? { embargoUntil: facts.embargoUntil } : {}),
        },
      ]
    : open
  for (const c of copies) {
    if (seen.has(c.url)) continue
    seen.add(c.url)
    const way = { way: 'open' as const, version: c.version, from: c.from, url: c.url }
    if (!c.embargoUntil || c.embargoUntil <= today) {
      routes.push({
        ...way,
        evidence: `${c.from} holds the ${c.version}, open to all.`,
        expected: today,
        likely: OPEN,
        asks: c.version === 'version of record' ? 'nothing' : 'its page numbers differ from those of the journal',
      })
      continue
    }
    closed.push(`${c.from} has the ${c.version}, closed until ${sayIso(c.embargoUntil)}.`)
    if (c.embargoUntil > due) continue
    const evidence = `Deposited; opens on ${sayIso(c.embargoUntil)}.`
    routes.push({ ...way, evidence, expected: c.embargoUntil, likely: HELD, asks: 'nothing but waiting' })
  }
  return { routes, closed }
}

const VERSIONS: readonly Version[] = ['version of record', 'accepted manuscript', 'preprint', 'translation']

/** From this chance on that it is sent in time nobody travels for it. */
const SENT = 0.8

/** Ways, best first: by chance to arrive in time, then by version, then by effort. */
export function inOrder(routes: readonly Route[]): Route[] {
  // an unsure line and a sure one differ; differences of a few percent between ways that both come today do not
  // what may be there today is tried before another library is troubled
  const sure = (r: Route) => {
    if (r.likely < 0.5) return r.likely > 0 ? 1 : 0
    // a journey is for what is not sent for certain
    if (r.way === 'loan') return r.likely >= SENT ? 5 : 3
    // what is out of the shelf is there for nobody, and may be kept longer
    if (r.shelf?.out) return 2
    if (r.partner) return 4
    return r.likely >= 0.9 ? 7 : 6
  }
  return routes.toSorted(
    (a, b) =>
      sure(b) - sure(a) ||
      VERSIONS.indexOf(a.version) - VERSIONS.indexOf(b.version) ||
      WAYS.indexOf(a.way) - WAYS.indexOf(b.way),
  )
}

/**
 * Ways with those by which a text is asked for from elsewhere. They move with the day, so they are told anew each time:
 * what was looked up says which partners have it, and no day. Each office is one way, by the partner that is fastest.
 */
export function withLoans(routes: readonly Route[], item: Pick<Item, 'type'>, offers: readonly LoanOffer[]): Route[] {
  const asked = offers.filter(o => o.kind === kindFor(item))
  const loans = [...new Set(asked.map(o => o.library.key))].flatMap((key): Route[] => {
    const [first, ...others] = suppliersOf(routes, asked, key)
    const o = first?.offer ?? asked.find(x => x.library.key === key && !x.partner)
    if (!o) return []
    const too = others.map(x => x.route.from)
    const evidence = [
      first?.route.evidence,
      too.length && `${too.join(' and ')} ${too.length > 1 ? 'have' : 'has'} it too.`,
    ]
    return [
      {
        ...{ way: 'loan', version: 'version of record', from: first?.route.from ?? o.library.name, library: o.library },
        ...(first ? { partner: first.route.from } : {}),
        ...{ evidence: [...evidence, o.evidence].filter(Boolean).join(' '), expected: o.expected, likely: o.likely },
        asks: o.kind === 'scan' ? 'asking for a scan' : 'asking for the book',
        loan: { kind: o.kind, from: o.from, to: o.to, ...(o.askBy ? { askBy: o.askBy } : {}) },
      },
    ]
  })
  return inOrder([...routes.filter(r => r.way !== 'loan'), ...loans])
}

/** Partners of a library that have a text and send it, the fastest first. */
export const suppliersOf = (
  routes: readonly Route[],
  offers: readonly LoanOffer[],
  library: string,
): { route: Route; offer: LoanOffer }[] =>
  routes
    .filter(r => r.way === 'loan' && r.library?.key === library)
    .flatMap(route => {
      const offer = offers.find(o => o.library.key === library && o.partner === route.partner)
      return offer ? [{ route, offer }] : []
    })
    .toSorted((a, b) => b.offer.likely - a.offer.likely || (a.offer.expected < b.offer.expected ? -1 : 1))

/** A way to a shelf, on the first day on which one is let in. */
function whileOpen(r: Route, hours: Known['hours']): Route {
  const own = hoursAt((r.library && hours?.get(r.library.key)) ?? [], r)
  return own ? { ...r, expected: nextOpen(own, r.expected) ?? r.expected } : r
}

/** Ends after which a way is closed, and those after which the student has to go on themselves. */
export const CLOSED: readonly Ended[] = ['not paid', 'gone', 'wrong file', 'lost']
const BY_HAND: Partial<Record<Ended, string>> = {
  'sign in': 'signing in there yourself',
  challenge: 'opening it yourself',
  'by hand': 'opening it yourself',
}

/** What a way is told by from others of its work: where it begins, or where it stands. */
export const wayKey = ({
  way,
  url,
  from,
  library,
  shelf,
}: Pick<Route, 'way' | 'url' | 'from' | 'library'> & { shelf?: { call: string } }): string =>
  [...(library ? [library.key] : []), url ?? `${way} ${from}`, ...(shelf ? [shelf.call] : [])].join(' ')

/**
 * Ways after one of them was walked: what it promised is taken back where it failed, so that the next one counts.
 * @param key of the way that was walked
 * @param tried how it ended; without it the way is as it was before it was walked
 */
export function afterWalk(routes: readonly Route[], key: string, tried: Tried | undefined): Route[] {
  return inOrder(
    routes.map(r => {
      if (wayKey(r) !== key) return r
      const { walked: _, was, ...rest } = r
      const before: Route = { ...rest, ...was }
      if (!tried) return before
      const { evidence, expected, likely, asks } = before
      return { ...walkedRoute(before, tried), walked: tried, was: { evidence, expected, likely, asks } }
    }),
  )
}

function walkedRoute(r: Route, { ended, said, opens }: Tried): Route {
  if (r.way === 'shelf' && ended === 'taken') return { ...r, evidence: said, asks: 'nothing more' }
  if (CLOSED.includes(ended)) return { ...r, evidence: said, likely: 0, asks: 'another way' }
  if (ended === 'embargo')
    return opens
      ? { ...r, evidence: said, expected: opens, likely: HELD, asks: 'nothing but waiting' }
      : { ...r, evidence: said, likely: 0, asks: 'another way' }
  if (ended === 'terms') return { ...r, asks: 'accepting its terms' }
  if (ended === 'session over') return { ...r, asks: 'signing in at the gate' }
  if (ended === 'by chapter') return { ...r, evidence: said, asks: 'taking its chapters one by one' }
  const byHand = BY_HAND[ended]
  return byHand ? { ...r, evidence: said, likely: Math.min(r.likely, LIKELY_BY_HAND), asks: byHand } : r
}
const LIKELY_BY_HAND = 0.6

/** What was found by walking on the same day stands when ways are looked for anew. */
export function stillWalked(fresh: readonly Route[], before: readonly Route[], day: string): Route[] {
  return before.reduce<Route[]>(
    (routes, r) => (r.walked?.day === day ? afterWalk(routes, wayKey(r), r.walked) : routes),
    [...fresh],
  )
}

/** Whether a way leads to a file that can be fetched from here, on its day. */
export const canBeFetched = (r: Route): boolean =>
  r.url !== undefined && !r.hand && (r.way === 'open' || r.way === 'gate') && r.likely > 0

/** Whether a way leads to a file that can be fetched on a day. */
export const isFetchable = (r: Route, day: string): boolean => canBeFetched(r) && r.expected <= day

const hostOf = (url: string): string => /^https?:\/\/([^/:]+)/.exec(url)?.[1] ?? url
