import type { Facts, Item, Version } from '../bib/item'
import { doiAddress } from '../bib/identifiers'
import { familyName } from '../bib/names'
import { decideTitle, isPrint, linesFor, sayIso } from './coverage'
import { notKnown, type Profile } from './profile'

export type RouteWay = 'open' | 'gate' | 'author'

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
  /** The home library. */
  library: Profile
  /** What repositories have of the work. */
  open: readonly OpenCopy[]
  /** ISO dates; with nothing due, a day that never comes. */
  today: string
  due: string
  /** Address before a DOI, ending in a slash. */
  resolver: string
}

/** The routes of a work on a day, best first: by chance to arrive in time, then version, then effort. */
export function findRoutes(item: Item, facts: Facts, known: Known): RouteAnswer {
  const { library, open, today, due, resolver } = known
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
    if (c.embargoUntil && c.embargoUntil > today) {
      closed.push(`${c.from} has the ${c.version}, closed until ${sayIso(c.embargoUntil)}.`)
      if (c.embargoUntil <= due) {
        routes.push({
          way: 'open',
          version: c.version,
          from: c.from,
          url: c.url,
          evidence: `Deposited; opens on ${sayIso(c.embargoUntil)}.`,
          expected: c.embargoUntil,
          likely: 0.95,
          asks: 'nothing but waiting',
        })
      }
      continue
    }
    routes.push({
      way: 'open',
      version: c.version,
      from: c.from,
      url: c.url,
      evidence: `${c.from} holds the ${c.version}, open to all.`,
      expected: today,
      likely: 0.97,
      asks: c.version === 'version of record' ? 'nothing' : 'its page numbers differ from those of the journal',
    })
  }
  const answers = decideTitle(item, linesFor(item, library.holdings), today)
  for (const a of answers.filter(x => x.held !== 'no')) {
    // what stands on a shelf is fetched on foot
    if (isPrint(a.holding)) {
      closed.push(`${library.name} has it in print only. ${a.said}`)
      continue
    }
    const url = item.DOI ? doiAddress(resolver, item.DOI) : (item.URL ?? a.holding.url)
    routes.push({
      way: a.holding.free ? 'open' : 'gate',
      version: 'version of record',
      from: a.holding.publisher ?? a.holding.title,
      ...(url ? { url } : {}),
      evidence: a.said,
      expected: today,
      likely: a.held === 'yes' ? 0.95 : 0.5,
      asks: a.holding.free ? 'nothing' : 'signing in at the gate',
    })
  }
  if (answers.length && answers.every(a => a.held === 'no')) closed.push(...answers.map(a => a.said))
  if (!answers.length)
    closed.push(library.unread?.length ? notKnown(library) : 'The home library does not hold this title.')
  const author = item.author?.[0]
  if (author) {
    routes.push({
      way: 'author',
      version: 'accepted manuscript',
      from: familyName(author),
      evidence: 'An author may send their manuscript.',
      expected: due,
      likely: 0.3,
      asks: 'a letter, and patience',
    })
  }
  const versions: Version[] = ['version of record', 'accepted manuscript', 'preprint', 'translation']
  const effort: RouteWay[] = ['open', 'gate', 'author']
  // an unsure line and a sure one differ; differences of a few percent between ways that both come today do not
  const sure = (r: Route) => (r.likely >= 0.9 ? 2 : r.likely >= 0.5 ? 1 : 0)
  routes.sort(
    (a, b) =>
      sure(b) - sure(a) ||
      versions.indexOf(a.version) - versions.indexOf(b.version) ||
      effort.indexOf(a.way) - effort.indexOf(b.way) ||
      a.from.localeCompare(b.from),
  )
  return { routes, closed }
}

const hostOf = (url: string): string => /^https?:\/\/([^/:]+)/.exec(url)?.[1] ?? url
