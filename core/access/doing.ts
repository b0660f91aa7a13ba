import { standOfAuthor, type AskedAuthor } from './asked-author'
import type { Awaited } from './awaited'
import type { LoanState } from './loan'
import type { Reach } from './reach'
import { isFetchable, type Route } from './routes'
import type { Ended } from './walk'

/** What there is to be done for a text, in the order in which it is to be done. */
export const DOINGS = [
  'waits for you',
  'ask for it',
  'fetch now',
  'pick up',
  'at the shelf',
  'comes later',
  'on its way',
  'not sure',
  'not looked for',
  'no way in time',
  'with you',
  'in hand',
] as const
export type Doing = (typeof DOINGS)[number]

const WITH_LOAN: Partial<Record<LoanState, Doing>> = {
  'asked back': 'waits for you',
  'wrong text': 'waits for you',
  'not sent': 'on its way',
  sent: 'on its way',
  'on its way': 'on its way',
  ready: 'pick up',
  'with you': 'with you',
}

interface AskedFor {
  state: LoanState
  /** Whether it is the student who sends it. */
  byHand: boolean
}

/** What is to be done about a request. */
const doingWith = ({ state, byHand }: AskedFor): Doing | undefined =>
  byHand && state === 'not sent' ? 'waits for you' : WITH_LOAN[state]

/** Whether it is the request to its office that is to be done something about, or waited for; else it stands beside. */
export const isAskedFor = (loan: AskedFor | null | undefined, doing: Doing): boolean =>
  Boolean(loan && doingWith(loan) === doing)

/** Ends of a walk from which the student alone can go on. */
export const YOURS: readonly Ended[] = ['terms', 'sign in', 'challenge', 'by hand', 'by chapter']

/** The way that is best now; the author is none that counts. */
export const bestWay = (routes: readonly Route[] | null): Route | undefined =>
  routes?.find(r => r.way !== 'author' && r.likely > 0)

/** What is known of a work's text. */
interface Standing {
  reach: Reach
  routes: readonly Route[] | null
  copies: readonly { outcome: string; opening: { opens: boolean } }[]
  /** How it stands with the scan or book that was asked for last. */
  loan?: AskedFor | null
  /** That it is fetched by itself. */
  awaited?: Awaited | null
  /** Letters to its author. */
  author?: AskedAuthor | null
}

/** Whether it is the author who is to be written to once more, or waited for; else the letter stands beside. */
export function isAuthorAsked(row: Pick<Standing, 'reach' | 'routes' | 'author' | 'loan'>, doing: Doing): boolean {
  if (!row.author || !AUTHORS.includes(doing) || isAskedFor(row.loan, doing)) return false
  const best = bestWay(row.routes)
  return !best || (row.reach === 'out of reach' && !YOURS.some(end => end === best.walked?.ended))
}
const AUTHORS: readonly Doing[] = ['on its way', 'waits for you']

/**
 * What is to be done for the text of a work.
 * @param today ISO date of the desk
 * @param now ISO moment
 */
export function doingOf(row: Standing, today: string, now: string): Doing {
  const doing = doingByWays(row, today, now)
  if (doing === 'fetch now' && row.awaited && row.awaited.day > today) return 'comes later'
  if (doing !== 'no way in time' || !row.author) return doing
  const { is } = standOfAuthor(row.author, today)
  return is === 'waiting' ? 'on its way' : is === 'write again' ? 'waits for you' : doing
}

function doingByWays(row: Standing, today: string, now: string): Doing {
  if (row.reach === 'in hand') return 'in hand'
  if (row.copies.some(c => c.outcome === 'doubtful' && c.opening.opens)) return 'waits for you'
  const asked = row.loan ? doingWith(row.loan) : undefined
  const best = bestWay(row.routes)
  // what can be fetched today need not be waited for
  if (asked && !(asked === 'on its way' && best && isFetchable(best, today))) return asked
  if (row.routes === null) return 'not looked for'
  if (!best) return 'no way in time'
  if (best.way === 'loan') return row.reach === 'out of reach' ? 'no way in time' : 'ask for it'
  if (best.walked && YOURS.includes(best.walked.ended)) return 'waits for you'
  if (best.walked?.again && best.walked.again > now) return 'comes later'
  if (row.reach === 'unsure') return best.expected > today ? 'comes later' : 'not sure'
  if (row.reach === 'out of reach') return 'no way in time'
  if (best.expected > today) return 'comes later'
  if (best.hand) return 'waits for you'
  return isFetchable(best, today) ? 'fetch now' : 'at the shelf'
}
