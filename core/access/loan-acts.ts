import { OVER, type LoanKind, type LoanState } from './loan'

/** Acts by which a student carries a request on. */
export const LOAN_ACTS = [
  'answer',
  'give up',
  'keep longer',
  'fetch',
  'handed over',
  'it came',
  'picked up',
  'due on',
  'turned down',
  'given back',
  'send again',
] as const
export type LoanAct = (typeof LOAN_ACTS)[number]

/** A request as far as it says what can be done with it. */
export interface Standing {
  state: LoanState
  kind: LoanKind
  /** Its office takes no messages of ours: the student sends it, and says what became of it. */
  byHand: boolean
}

/** Whether its office has it; what one asked that takes no messages any more is not answered from here. */
const isUnderWay = ({ state, byHand }: Standing): boolean =>
  state === 'sent' || state === 'on its way' || (byHand && state === 'asked back')

const FITS: Record<LoanAct, (l: Standing) => boolean> = {
  answer: l => l.state === 'asked back' && !l.byHand,
  'send again': l => l.state === 'not sent' && !l.byHand,
  'handed over': l => l.state === 'not sent' && l.byHand,
  fetch: l => l.kind === 'scan' && l.state === 'ready',
  // an office that writes messages loses some, and hands out the book all the same
  'it came': l => l.kind === 'book' && isUnderWay(l),
  'picked up': l => l.kind === 'book' && (l.state === 'ready' || (l.byHand && isUnderWay(l))),
  'keep longer': l => l.state === 'with you' && !l.byHand,
  'due on': l => l.state === 'with you' && l.byHand,
  'given back': l => l.state === 'with you',
  'turned down': l => l.byHand && isUnderWay(l),
  'give up': l => l.state !== 'with you' && !OVER.includes(l.state),
}

/** What a student can do with a request as it stands. */
export const actsFor = (l: Standing): LoanAct[] => LOAN_ACTS.filter(act => FITS[act](l))

/** Whether a file that is brought for a work is the scan that was asked for. */
export const isScanOf = (l: Standing): boolean =>
  l.kind === 'scan' && (l.state === 'ready' || (l.byHand && (isUnderWay(l) || l.state === 'not sent')))
