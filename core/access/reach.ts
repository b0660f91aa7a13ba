import type { Facts, Item } from '../bib/item'
import { decideTitle, isPrint, linesFor, sayIso } from './coverage'
import { notKnown, type Profile } from './profile'
import type { Route } from './routes'

export const REACHES = ['in hand', 'within reach', 'unsure', 'out of reach', 'not asked'] as const
/** Whether the text of a work can be had. */
export type Reach = (typeof REACHES)[number]

/** What was found out about one work. */
export interface LookedUp {
  /** A copy of it is here and was proved to be this work. */
  proved: boolean
  /** The ways that were looked for; undefined before that. */
  routes?: readonly Pick<Route, 'way' | 'likely' | 'expected' | 'evidence'>[] | undefined
  /** The ways that are closed, each with why. */
  closed?: readonly string[]
}

/** From this chance on a way counts as one that delivers, and from this one on as one that may. */
const SURE = 0.9
const MAYBE = 0.5

/**
 * The one answer to whether a text is within reach, for works and for records alike, with the sentence why. It never
 * asks the outside: what was looked up decides; before that a library's holdings, its shelves and what the
 * description says of open copies. To write to an author is no way that counts. Where nothing is known, it says that
 * nobody asked.
 * @param known.day ISO date of today
 * @param known.neededBy ISO date by which the text has to be here; any day where it is not given
 * @example reach(item, { profiles: [], day: '2026-10-05' }) // { reach: 'not asked', said: 'Nobody has looked yet.' }
 */
export function reach(
  item: Pick<Item, 'type'> & Partial<Item>,
  known: {
    profiles: readonly Profile[]
    day: string
    neededBy?: string
    facts?: Pick<Facts, 'openUrl' | 'embargoUntil' | 'shelf'>
    lookedUp?: LookedUp | undefined
  },
): { reach: Reach; said: string } {
  const { profiles, day, neededBy = '9999-12-31', facts = {}, lookedUp } = known
  if (lookedUp?.proved) return { reach: 'in hand', said: 'A copy is here, and was proved to be this work.' }
  if (lookedUp?.routes) {
    const ways = lookedUp.routes.filter(r => r.way !== 'author' && r.expected <= neededBy && r.likely >= MAYBE)
    // they stand in order: of those that are sure the first speaks
    const best =
      ways.find(r => r.likely >= SURE) ??
      ways.reduce<(typeof ways)[number] | undefined>((a, b) => (a && a.likely >= b.likely ? a : b), undefined)
    if (best) return { reach: best.likely >= SURE ? 'within reach' : 'unsure', said: best.evidence }
    return { reach: 'out of reach', said: lookedUp.closed?.[0] ?? 'No way was found but to ask its author.' }
  }
  if (facts.openUrl) {
    const { embargoUntil } = facts
    if (!embargoUntil || embargoUntil <= day)
      return { reach: 'within reach', said: 'Its description names a copy open to all.' }
    if (embargoUntil <= neededBy)
      return { reach: 'within reach', said: `A copy of it opens on ${sayIso(embargoUntil)}.` }
  }
  if (facts.shelf?.length) return { reach: 'within reach', said: 'It stands on the shelves.' }
  let unsure: string | undefined
  for (const { holdings } of profiles)
    for (const { held, holding, said } of decideTitle(item as Item, linesFor(item as Item, holdings), day)) {
      if (held === 'yes') return { reach: 'within reach', said: isPrint(holding) ? 'It stands on the shelves.' : said }
      if (held === 'unsure') unsure ??= said
    }
  if (unsure) return { reach: 'unsure', said: unsure }
  const unread = profiles.find(p => p.unread?.length)
  if (unread) return { reach: 'not asked', said: notKnown(unread) }
  return {
    reach: 'not asked',
    said: profiles.length
      ? `${profiles.map(p => p.name).join(' and ')} does not hold it; open copies were not asked for yet.`
      : 'Nobody has looked yet.',
  }
}
