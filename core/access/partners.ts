import { fold } from '../bib/fold'
import type { Item } from '../bib/item'
import type { ShelfHolding } from '../formats/marc-shelf'
import { sayIso } from './coverage'
import { kindFor, type LoanKind } from './loan'
import type { Route } from './routes'
import { shelfRoutes, type ShelfAnswer } from './shelf'

/** A library that stands by one of the student's: what it does for its readers. */
export interface PartnerDoes {
  name: string
  place: string
  /** Whether it lets them in: to read, or to borrow too. */
  visit: 'no' | 'read' | 'borrow'
  /** What it sends through the loan office of that library. */
  sends: readonly LoanKind[]
}

/** Whether a partner could help with a text if it had it. */
export const mayHelp = ({ visit, sends }: PartnerDoes, item: Pick<Item, 'type'>): boolean =>
  visit !== 'no' || sends.includes(kindFor(item))

/** What the shelves of a partner have of a work. */
export interface PartnerAnswer {
  /** The library that it stands by. */
  library: ShelfAnswer['library']
  partner: PartnerDoes
  /** What stands there; the library that is named is the partner. */
  shelves: Omit<ShelfAnswer, 'library'>
}

/**
 * What of a catalogue of several libraries stands in one of them.
 * @param named how the catalogue names what is its own, by sign or name; everything where that is empty
 */
export function standingAt(holdings: readonly ShelfHolding[], named: readonly string[]): ShelfHolding[] {
  if (!named.length) return [...holdings]
  const own = new Set(named.map(fold))
  const isOwn = (name: string | undefined): boolean => Boolean(name) && own.has(fold(name!))
  return (
    holdings
      .filter(h => isOwn(h.of) || isOwn(h.branch))
      // a sign of the whole library is no part of it
      .map(h => (isOwn(h.branch) ? { ...h, branch: '' } : h))
  )
}

/**
 * Ways by what stands at partners: going there, and being sent it. How long that takes is not said here: it moves with
 * the day.
 * @returns the ways, and one sentence on those that have it not
 */
export function partnerRoutes(item: Item, answers: readonly PartnerAnswer[]): { routes: Route[]; closed: string[] } {
  const kind = kindFor(item)
  const without: PartnerAnswer[] = []
  const routes = answers.flatMap(a => {
    const { library, partner, shelves } = a
    const { name } = partner
    const { routes: there } = shelfRoutes(item, { ...shelves, library: { key: library.key, name } })
    if (!there.length) without.push(a)
    const sent = partner.sends.includes(kind)
      ? there.find(r => !r.shelf?.out && r.likely >= SENT_FROM && (kind === 'scan' || !r.shelf?.stays))
      : undefined
    return [
      ...(partner.visit === 'no' ? [] : there.map(r => visit(r, a))),
      ...(sent
        ? [
            {
              ...{ way: 'loan' as const, version: sent.version, from: name, library, partner: name },
              ...{ evidence: `${name} has it. ${sent.evidence}`, expected: sent.expected, likely: sent.likely },
              asks: kind === 'scan' ? 'asking for a scan' : 'asking for the book',
              ...(sent.shelf ? { shelf: sent.shelf } : {}),
            },
          ]
        : []),
    ]
  })
  return { routes, closed: sayWithout(without) }
}
/** What stands there with less than this chance is not worth a request. */
const SENT_FROM = 0.5

function visit(r: Route, { library, partner: { name, place, visit: may } }: PartnerAnswer): Route {
  const stays = r.shelf?.stays === true || may === 'read'
  const at = r.shelf?.branch
  return {
    ...r,
    ...{ library, partner: name, from: at && fold(at) !== fold(name) ? `${name}, ${at}` : name },
    evidence: `At ${name}. ${r.evidence}`,
    asks: `going to ${place || name}${stays ? ', reading it there' : ''}`,
    ...(r.shelf ? { shelf: { ...r.shelf, ...(stays ? { stays } : {}) } } : {}),
  }
}

/** From this chance on a way is sure enough for others not to be asked. */
const SURE = 0.9

/** Whether a text can be had on a day without anybody's help. */
export const isSureToday = (routes: readonly Route[], day: string): boolean =>
  routes.some(r => r.way !== 'author' && r.way !== 'loan' && r.likely >= SURE && r.expected <= day)

/** Partners that do not have it, in a sentence. */
function sayWithout(answers: readonly PartnerAnswer[]): string[] {
  const last = answers.at(-1)
  if (!last) return []
  const names = answers.map(a => a.partner.name)
  const who = names.length === 1 ? names[0]! : `${names.slice(0, -1).join(', ')} and ${names.at(-1)!}`
  return [`${who} ${names.length === 1 ? 'does' : 'do'} not have it; asked on ${sayIso(last.shelves.day)}.`]
}

/** What an office is told of a partner that has a thing. */
export interface Supplier {
  name: string
  /** Scheme and symbol by which messages name it; empty where that is not known. */
  symbol: string
  call: string
  /** What its shelves said, and when. */
  said: string
}

/** What an office is told of the partners by which a text can be had, those to be asked first before others. */
export const suppliersTold = (
  found: readonly { route: Pick<Route, 'from' | 'shelf' | 'evidence'> }[],
  partners: readonly { name: string; symbol: string }[],
): Supplier[] =>
  found.map(({ route: { from, shelf, evidence } }) => ({
    ...{ name: from, symbol: partners.find(p => p.name === from)?.symbol ?? '' },
    ...{ call: shelf?.call ?? '', said: evidence },
  }))
