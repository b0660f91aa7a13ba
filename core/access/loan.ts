import type { IllAnswer } from '../formats/ill'
import type { Item } from '../bib/item'
import { arrivalOf, withinDays, workDaysBetween, type Arrival, type Pace, type WorkDays } from './arrival'
import { sayNear } from './coverage'

export const LOAN_KINDS = ['scan', 'book'] as const
export type LoanKind = (typeof LOAN_KINDS)[number]

/** What can befall a request: what was done here, and what its office said. */
export const LOAN_EVENTS = [
  'asked',
  'sent',
  'not sent',
  'received',
  'expected',
  'question',
  'answered',
  'note',
  'ready',
  'taken',
  'wrong',
  'renewal asked',
  'renewed',
  'not renewed',
  'recalled',
  'overdue',
  'returned',
  'refused',
  'sent back',
  'cancel asked',
  'not cancelled',
  'given up',
  'ended',
] as const
export interface LoanEvent {
  what: (typeof LOAN_EVENTS)[number]
  /** ISO moment by the clock of the desk. */
  at: string
  /** What was said with it, as it was written. */
  said?: string | undefined
  /** ISO date: when it is expected, or until when it may be kept. */
  until?: string | undefined
  /** Where a scan lies. */
  url?: string | undefined
  /** Whether an office said it, by its own clock. */
  heard?: boolean
}

export const LOAN_STATES = [
  'asked back',
  'ready',
  'wrong text',
  'not sent',
  'refused',
  'with you',
  'on its way',
  'sent',
  'given up',
  'ended',
] as const
export type LoanState = (typeof LOAN_STATES)[number]
/** How a request stands. */
export interface LoanStand {
  state: LoanState
  /** ISO moment since which it stands so. */
  since: string
  /** ISO moment at which it was asked for. */
  asked: string
  /** What was said last with that state: a question, why it was refused. */
  said: string
  /** When its office expects to send it. */
  expected?: string
  /** Until when a scan can be fetched, or a book waits. */
  until?: string
  /** When a book is due back. */
  due?: string
  url?: string
  /** What was asked of the office and is not answered yet. */
  waits?: 'renewal' | 'cancel'
  recalled?: boolean
  /** Its office sent it back, so that it can be asked for again: it is on loan, or was not found as it was described. */
  again?: boolean
}

/** Requests that are over. */
export const OVER: readonly LoanState[] = ['refused', 'given up', 'ended']

/** How far along each thing is: what is heard late, of before, takes nothing back. */
const AFTER_READY: readonly LoanState[] = ['ready', 'with you', 'wrong text', ...OVER]

/**
 * What befell a request in the order in which it counts. Messages are lost, come twice and in the wrong order: among
 * themselves they count as they were written. The clock of an office and ours differ, so what was done here keeps its
 * place between them.
 * @param events in the order in which they were written down
 */
export function inOrder(events: readonly LoanEvent[]): LoanEvent[] {
  const heard = events.filter(e => e.heard).toSorted((a, b) => (a.at < b.at ? -1 : a.at > b.at ? 1 : 0))
  return events.map(e => (e.heard ? heard.shift()! : e))
}

/**
 * How a request stands after all that befell it. What belongs to an earlier part of the way takes nothing back.
 * @param events in the order in which they were written down
 * @param kept days that an office keeps a scan, or a book to be picked up
 */
export function standOf(kind: LoanKind, events: readonly LoanEvent[], kept: Record<LoanKind, number>): LoanStand {
  const first = events[0]?.at ?? ''
  let s: LoanStand = { state: 'not sent', since: first, asked: first, said: '' }
  const become = (state: LoanState, e: LoanEvent, more: Partial<LoanStand> = {}) => {
    s = { ...s, state, since: e.at, said: e.said ?? '', ...more }
  }
  for (const e of inOrder(events)) {
    const isLate = AFTER_READY.includes(s.state)
    switch (e.what) {
      case 'asked':
        s = { ...s, asked: e.at, since: e.at }
        break
      case 'sent':
      case 'received':
        // an office may have answered before it was written down that it was asked
        if (s.state === 'not sent' || s.state === 'sent') become('sent', e)
        break
      case 'answered':
        if (!isLate) become('sent', e)
        break
      case 'not sent':
        if (!isLate) become('not sent', e)
        break
      case 'expected':
        if (!isLate) become('on its way', e, e.until ? { expected: e.until } : {})
        break
      case 'question':
        if (!isLate) become('asked back', e)
        break
      case 'note':
        s = { ...s, said: e.said ?? s.said }
        break
      case 'ready':
        if (!OVER.includes(s.state) && s.state !== 'with you')
          become('ready', e, {
            until: dayAfter(e.at, kept[kind]),
            ...(kind === 'book' && e.until ? { due: e.until } : {}),
            ...(e.url ? { url: e.url } : {}),
          })
        break
      case 'wrong':
        become('wrong text', e)
        break
      case 'taken':
        become(kind === 'scan' ? 'ended' : 'with you', e, e.until ? { due: e.until } : {})
        break
      case 'renewal asked':
        s = { ...s, waits: 'renewal' }
        break
      case 'renewed':
      case 'not renewed':
      case 'recalled': {
        const { waits: _, ...rest } = s
        s = {
          ...rest,
          said: e.said ?? '',
          ...(e.until ? { due: e.until } : {}),
          ...(e.what === 'recalled' ? { recalled: true } : {}),
        }
        break
      }
      case 'overdue':
        s = { ...s, said: e.said ?? '' }
        break
      case 'cancel asked':
        s = { ...s, waits: 'cancel' }
        break
      case 'not cancelled': {
        const { waits: _, ...rest } = s
        s = { ...rest, said: e.said ?? '' }
        break
      }
      case 'refused':
      case 'sent back':
        if (!isLate) become('refused', e, e.what === 'sent back' ? { again: true } : {})
        break
      case 'given up':
      case 'returned':
      case 'ended':
        if (!OVER.includes(s.state)) become(e.what === 'given up' ? 'given up' : 'ended', e)
        break
    }
  }
  return s
}

const dayAfter = (moment: string, days: number): string =>
  new Date(Date.parse(`${moment.slice(0, 10)}T00:00:00Z`) + days * 86_400_000).toISOString().slice(0, 10)

/** A note that asks something, in any script. */
const asks = (note: string): boolean => /[?？؟]/u.test(note.slice(-4))

/** Why an office does not supply, or not yet, by the codes of the standard. */
const WHY: Record<string, string> = {
  NotAvailableForILL: 'It is not lent.',
  NotHeld: 'No library has it.',
  NotOnShelf: 'It is not on its shelf.',
  NotFoundAsCited: 'It was not found as it is cited.',
  PolicyProblem: 'Its rules do not let it.',
  OnLoan: 'It is on loan.',
  OnOrder: 'It is on order and has not come.',
  AtBindery: 'It is at the binder’s.',
  LocationNotAvailable: 'The place where it stands is closed.',
  ReqDelDateNotPossible: 'It cannot come by the day on which you need it.',
  MustMeetLoanCondition: 'It comes on a condition.',
  CostExceedsMaxCost: 'It costs more than was said.',
  UnableToSupplyInFormat: 'It cannot be sent in that form.',
}
const inWords = (code: string): string => WHY[code] ?? (code ? `It says: ${code}.` : '')

/** What a message of an office means for the request. Undefined where it says nothing new of it. */
export function eventOf(m: IllAnswer): LoanEvent | undefined {
  const why = inWords(m.why)
  const said = [why, m.note].filter(Boolean).join(' ')
  const e = (what: LoanEvent['what'], more: Partial<LoanEvent> = {}): LoanEvent => ({
    ...{ what, at: m.at, said, heard: true },
    ...more,
  })
  const due = m.due ?? undefined
  if (m.reason === 'RenewResponse') return e(m.yes ? 'renewed' : 'not renewed', { until: due })
  if (m.reason === 'CancelResponse') return e(m.yes ? 'given up' : 'not cancelled')
  if (m.reason === 'Notification' && m.note) return e(asks(m.note) ? 'question' : 'note')
  switch (m.status) {
    case 'RequestReceived':
      return e('received')
    case 'ExpectToSupply':
    case 'WillSupply':
      return e('expected', { until: m.expected ?? undefined })
    case 'RetryPossible':
      // the standard ends a request by this; it is asked again by one of its own
      return e('sent back')
    case 'Loaned':
    case 'CompletedWithoutReturn':
    case 'CopyCompleted':
      return e('ready', { until: due, url: m.url ?? undefined })
    case 'Unfilled':
      return e('refused')
    case 'Recalled':
      return e('recalled', { until: due })
    case 'Overdue':
      return e('overdue')
    case 'LoanCompleted':
      return e('ended')
    case 'Cancelled':
      return e('given up')
    default:
      return m.note ? e('note') : undefined
  }
}

/** How fast a thing comes. */
export interface Speed {
  /** What is sent, and within how many working days. */
  paces: Partial<Record<LoanKind, Pace>>
  /** Working days that earlier ones took. */
  seen: Record<LoanKind, readonly number[]>
}
/** What a library's office does, and how long that takes. */
export interface Office extends Speed {
  library: { key: string; name: string }
  days: WorkDays
  /** Libraries that send through it what they have. */
  partners: readonly (Speed & { name: string })[]
}
/** What can be asked of an office on a day. */
export interface LoanOffer extends Arrival {
  library: { key: string; name: string }
  kind: LoanKind
  /** Of a thing that this partner has. */
  partner?: string
  evidence: string
}

/**
 * When a request of today would come from each office; the chance is told for when it is needed.
 * @param wanted chance that is kept until the last day to ask for it
 */
export const offersOf = (
  offices: readonly Office[],
  today: string,
  needed: string | null,
  wanted: number,
): LoanOffer[] =>
  offices.flatMap(({ library, days, partners, ...own }) =>
    [own, ...partners].flatMap((from: Speed & { name?: string }) =>
      LOAN_KINDS.flatMap(kind => {
        const pace = from.paces[kind]
        if (!pace) return []
        const seen = from.seen[kind]
        const when = arrivalOf({ within: withinDays(pace, seen), days, asked: today, today, needed, wanted })
        const { name } = from
        const evidence = sayPace(library.name, kind, pace, { seen, from: name })
        return [{ library, kind, ...(name ? { partner: name } : {}), ...when, evidence }]
      }),
    ),
  )

const sayPace = (
  name: string,
  kind: LoanKind,
  { low, high }: Pace,
  { seen, from }: { seen: readonly number[]; from: string | undefined },
): string =>
  `${name} gets ${kind === 'scan' ? 'a scan' : 'the book'}${from ? ' from there' : ''} within ${low} to ${high} working days` +
  (seen.length ? `, as it says and by ${seen.length} that came.` : ', as it says.')

/**
 * When a request that is under way comes.
 * @param partner who was named first as having it
 */
export function comes(
  office: Office,
  o: { kind: LoanKind; partner?: string | undefined; stand: LoanStand; today: string; needed: string | null },
): Arrival | undefined {
  const { kind, stand, today, needed } = o
  const { days } = office
  const from = office.partners.find(p => p.name === o.partner && p.paces[kind])
  const { paces, seen } = from ?? office
  const pace = paces[kind]
  if (!pace || !['sent', 'on its way', 'asked back', 'not sent'].includes(stand.state)) return undefined
  // what stands still begins anew once it is answered
  const stands = stand.state === 'asked back' || stand.state === 'not sent'
  const asked = stands ? today : stand.asked.slice(0, 10)
  return arrivalOf({ within: withinDays(pace, seen[kind]), days, asked, today, needed })
}

/** How many working days a request took that came; undefined where it did not. */
export function took(days: WorkDays, events: readonly LoanEvent[]): number | undefined {
  // what a student sends by hand may wait for them first
  const asked = events.find(e => e.what === 'sent') ?? events.find(e => e.what === 'asked')
  const ready = events.find(e => e.what === 'ready') ?? events.find(e => e.what === 'taken')
  if (!asked || !ready) return undefined
  return Math.max(0.5, workDaysBetween(days, asked.at.slice(0, 10), ready.at.slice(0, 10)))
}

const WHOLE: readonly string[] = ['book', 'thesis', 'report']
/** What is asked for of an item: the book itself, or a scan of a part. */
export const kindFor = ({ type }: Pick<Item, 'type'>): LoanKind => (WHOLE.includes(type) ? 'book' : 'scan')

/** What a request lacks by which an office finds a text, in words. */
export function lacking(item: Item): string[] {
  const isArticle = item.type.startsWith('article')
  return [
    ...(item.title ? [] : ['its title']),
    ...(isArticle && !item['container-title'] ? ['the journal'] : []),
    ...(isArticle && !item.volume && !item.issue ? ['volume or issue'] : []),
    ...(kindFor(item) === 'scan' && !item.page ? ['pages'] : []),
  ]
}

/**
 * How a request stands, in a line.
 * @param byHand its office takes no messages: the student sends it
 */
export function sayStand(s: LoanStand, kind: LoanKind, today: string, byHand = false): string {
  const until = s.until ? ` until ${sayNear(s.until, today)}` : ''
  switch (s.state) {
    case 'asked back':
      return 'Asked back: answer here'
    case 'ready':
      if (s.until && s.until < today) return kind === 'scan' ? 'Perhaps wiped by now' : 'Perhaps sent back by now'
      return kind === 'scan' ? `Ready to fetch${until}` : `Pick it up${until}`
    case 'wrong text':
      return 'Another text came'
    case 'not sent':
      if (byHand) return 'Yours to send'
      return s.said ? 'It could not be sent' : 'Being sent'
    case 'refused':
      return s.again ? 'Sent back: ask again' : 'Refused'
    case 'with you':
      if (!s.due) return 'With you'
      return s.due < today ? `Was due back ${sayNear(s.due, today)}` : `Due back ${sayNear(s.due, today)}`
    case 'on its way':
      return 'On its way'
    case 'sent':
      return 'Sent'
    case 'given up':
      return 'Given up'
    case 'ended':
      return kind === 'scan' ? 'In hand' : 'Given back'
  }
}
