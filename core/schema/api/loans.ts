import { array, boolean, object, string } from 'yup'
import { LOAN_ACTS } from '../../access/loan-acts'
import { LOAN_EVENTS, LOAN_KINDS, LOAN_STATES } from '../../access/loan'
import { item } from './core-shapes'
import { aDay } from '../day'
import { OFFICE_MANNERS } from '../library'
import { BYTES, endpoint } from './endpoint'
import { day, flag, list, maybe, moment, oneOf, orNull, real, rowId, shape, text, whole } from './parts'

/** What of a description can be put right in a request. */
export const REQUEST_PARTS = ['title', 'container-title', 'volume', 'issue', 'page', 'publisher', 'edition'] as const
const parts = Object.fromEntries(REQUEST_PARTS.map(p => [p, string().trim().max(500)])) as Record<
  (typeof REQUEST_PARTS)[number],
  ReturnType<typeof string>
>

const when = orNull(
  shape({
    /** One in ten comes before the first day, one in ten after the last. */
    from: day(),
    to: day(),
    expected: day(),
    /** The chance that it is here when it is needed. */
    likely: real(),
    askBy: maybe(day()),
  }),
)
const loan = shape({
  id: whole(),
  inquiry: shape({ id: whole(), title: text(), due: orNull(day()), neededBy: orNull(day()) }),
  work: whole(),
  title: text(),
  authors: text(),
  year: orNull(whole()),
  kind: oneOf(LOAN_KINDS),
  library: text(),
  /** Partners that had it, of which its office was told. */
  suppliers: list(text()),
  pickUp: text(),
  state: oneOf(LOAN_STATES),
  /** How it stands, in words. */
  stands: text(),
  /** What was said with it last. */
  said: text(),
  since: moment(),
  asked: moment(),
  until: orNull(day()),
  due: orNull(day()),
  waits: orNull(oneOf(['renewal', 'cancel'])),
  recalled: flag(),
  /** Whether its office sent it back, so that it can be asked for again. */
  again: flag(),
  /** Whether its file is being fetched, or something sent. */
  busy: flag(),
  /** What can be done with it. */
  acts: list(oneOf(LOAN_ACTS)),
  /** How the student sends it, where the office takes no messages: on its form, filled in by an OpenURL, or by a letter. */
  hand: orNull(shape({ form: orNull(text()), to: text(), subject: text(), letter: text(), details: text() })),
  when,
  events: list(shape({ what: oneOf(LOAN_EVENTS), at: moment(), said: text(), until: orNull(day()) })),
})

/** Bytes of a message of an office at most. */
const LARGEST_MESSAGE = 1_000_000
export const askedShape = object({
  library: string().max(40).required(),
  works: array(
    object({
      work: rowId.required(),
      kind: string().oneOf(LOAN_KINDS).required(),
      /** Parts of its description as they are to be asked for. */
      parts: object(parts).noUnknown().default({}),
    }).required(),
  )
    .min(1, 'Choose at least one kept work.')
    .max(40, 'At most 40 at once: an office is made of people.')
    .required(),
  anyEdition: boolean().default(false),
  note: string().trim().max(1000).default(''),
  /** The terms of the office are accepted by the student. */
  accepted: boolean().required().oneOf([true], 'Read the terms of the office, and accept them.'),
})

export const loansApi = {
  loans: endpoint('GET', '/loans', {
    does: 'What one asked for, scans and books, across inquiries, each with how it stands.',
    answer: shape({
      /** On which the desk stands. */
      day: day(),
      loans: list(loan),
    }),
  }),
  draftLoans: endpoint('POST', '/inquiries/:inquiry/loans/draft', {
    does: 'What would be asked for: each work as its office would be told of it, what that lacks, and when it would come.',
    status: 200,
    body: object({ works: array(rowId.required()).max(200).required() }),
    answer: shape({
      works: list(
        shape({
          work: whole(),
          item,
          kind: oneOf(LOAN_KINDS),
          lacks: list(text()),
          /** Partners of a library that have it, of which its office is told: the first is asked first. */
          partners: list(shape({ library: text(), names: list(text()), evidence: text(), when })),
          /** Why it cannot be asked for: it is under way already. */
          why: orNull(text()),
        }),
      ),
      offices: list(
        shape({
          library: text(),
          name: text(),
          manner: oneOf(OFFICE_MANNERS),
          terms: text(),
          pickUp: text(),
          kinds: list(shape({ kind: oneOf(LOAN_KINDS), evidence: text(), when })),
        }),
      ),
      neededBy: orNull(day()),
    }),
  }),
  askFor: endpoint('POST', '/inquiries/:inquiry/loans', {
    does: 'Asks a library’s office for scans or books of kept works, each once.',
    body: askedShape,
    answer: shape({ loans: list(whole()) }),
  }),
  actOnLoan: endpoint('POST', '/loans/:loan/acts', {
    does: 'Carries a request on: answers its office, gives it up, keeps a book longer, fetches a scan; or says what became of it, where its office writes no messages.',
    status: 202,
    body: object({
      act: string().oneOf(LOAN_ACTS).required(),
      said: string().trim().max(1000).default(''),
      /** Until when a book may be kept. */
      until: aDay().default(undefined),
    }),
    answer: loan,
  }),
  loansCalendar: endpoint('GET', '/loans/calendar.ics', {
    does: 'The days of what one asked for, as a calendar file (RFC 5545).',
    answer: ['text/calendar'],
  }),
  officeMessage: endpoint('POST', '/offices/:library/:token', {
    does: 'Takes a message of a library’s loan office (ISO 18626), each once. The address itself is the key.',
    status: 200,
    body: BYTES,
    most: LARGEST_MESSAGE,
    answer: ['application/xml'],
  }),
}
