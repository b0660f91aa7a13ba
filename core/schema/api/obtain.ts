import { array, boolean, object, string } from 'yup'
import { item, lineFields, OUTCOMES, proof, route } from './core-shapes'
import { BYTES, endpoint } from './endpoint'
import { begun } from './inquiries'
import { day, flag, like, list, maybe, moment, oneOf, orNull, real, rowId, shape, text, whole } from './parts'
import { PASSED_ON, type Opening } from '../../access/copy-rights'
import { MOST_LETTERS } from '../../access/asked-author'
import { AWAITED } from '../../access/awaited'
import { isDay } from '../../bib/dates'
import { LOAN_KINDS, LOAN_STATES } from '../../access/loan'
import { ENDS } from '../../access/walk'

/** Bytes of a student’s own file at most. */
export const LARGEST_COPY = 60 * 1024 * 1024
const received = shape({
  outcome: oneOf([...OUTCOMES, 'refused']),
  said: text(),
  copyId: maybe(whole()),
  /** It asks for a password, or for another one. */
  locked: maybe(flag()),
  proof: maybe(proof),
  /** The work of the pool that it is instead of the one it was brought for. */
  other: maybe(shape({ id: whole(), title: text() })),
})
/** What the job of a text that finds its work has as its result. */
export const recognised = received.shape({
  work: maybe(whole()),
  title: maybe(text()),
  /** It is a copy of the work already. */
  known: maybe(flag()),
  /** What its title page says, where it is none of the works. */
  item: maybe(item),
})
const chosenWorks = object({ works: array(rowId.required()).max(2000) })

/** What whoever asks may do with a copy, and by whose right. */
export const opening = like<Opening>()({
  opens: flag(),
  shared: flag(),
  said: text(),
  terms: orNull(text()),
  mayPassOn: flag(),
  passedOn: flag(),
})

export const obtainApi = {
  ways: endpoint('GET', '/inquiries/:inquiry/routes', {
    does: 'The kept works with the ways to their texts, as they were found, and their copies.',
    answer: list(
      shape({
        ...lineFields,
        routes: orNull(list(route)),
        /** Where the student can open each way by hand, through the gate where it leads through it; in the same order. */
        addresses: list(orNull(text())),
        closed: list(text()),
        trouble: orNull(text()),
        copies: list(
          shape({
            ...{ id: whole(), outcome: oneOf(OUTCOMES), version: text(), pages: whole(), said: list(text()) },
            opening,
          }),
        ),
        /** The scan or book that was asked for last, and how it stands. */
        loan: orNull(
          shape({
            ...{ id: whole(), kind: oneOf(LOAN_KINDS), state: oneOf(LOAN_STATES), stands: text(), library: text() },
            /** Whether it is the student who sends it, and says what became of it. */
            byHand: flag(),
            /** The last day to fetch a scan or pick up a book. */
            until: orNull(day()),
            /** Between which days it comes most likely, while it is under way. */
            when: orNull(shape({ from: day(), to: day(), likely: real() })),
          }),
        ),
        /** That it is fetched by itself for whoever asks: from which day on, and what for. */
        awaited: orNull(shape({ day: day(), why: oneOf(AWAITED) })),
        /** On which days whoever asks wrote to its author, and whether that one said no. */
        author: orNull(shape({ wrote: list(day()), declined: flag() })),
      }),
    ),
  }),
  lookForWays: endpoint('POST', '/inquiries/:inquiry/routes', {
    does: 'Looks for ways to the texts of kept works, of these or of all, as a job.',
    status: 202,
    body: chosenWorks,
    answer: begun,
  }),
  walksOf: endpoint('GET', '/inquiries/:inquiry/works/:work/walks', {
    does: 'The last walk of each way to the text of a work, step by step, newest first.',
    answer: list(
      shape({
        id: whole(),
        /** Where it began. */
        url: text(),
        byGate: flag(),
        ended: oneOf(ENDS),
        said: text(),
        steps: list(shape({ url: text(), what: text(), said: text() })),
        deskDay: day(),
        at: moment(),
      }),
    ),
  }),
  lookedOnShelf: endpoint('POST', '/inquiries/:inquiry/works/:work/shelf', {
    does: 'Says whether a work was on its shelf: taken, not there, or (null) not looked for after all.',
    body: object({
      branch: string().required().max(500),
      call: string().max(500).default(''),
      /** The library that was asked for it, where one was. */
      library: string().max(40),
      found: boolean().nullable().defined(),
    }),
  }),
  acceptTerms: endpoint('POST', '/terms', {
    does: 'Remembers for the day of the desk that the user accepted the terms of a platform.',
    body: object({ host: string().trim().lowercase().required().max(190) }),
  }),
  fetchTexts: endpoint('POST', '/inquiries/:inquiry/retrievals', {
    does: 'Fetches texts, as a job: each by its ways, the best first. What is under way already is not begun again.',
    status: 202,
    body: chosenWorks,
    answer: begun,
  }),
  awaitTexts: endpoint('PUT', '/inquiries/:inquiry/awaited', {
    does: 'Has texts fetched by themselves once a way of theirs opens, or not any more.',
    body: object({ works: array(rowId.required()).max(2000).required(), wanted: boolean().required() }),
  }),
  authorOf: endpoint('GET', '/inquiries/:inquiry/works/:work/author', {
    does: 'Mail addresses of the authors of a work, as copies show them that whoever asks may open.',
    answer: list(shape({ mail: text(), name: text(), said: text() })),
  }),
  noteLetters: endpoint('PUT', '/inquiries/:inquiry/works/:work/author', {
    does: 'Notes on which days whoever asks wrote to the author of a work, and whether that one said no.',
    body: object({
      wrote: array(
        string()
          .required()
          .test('day', 'A day is written as 2026-10-05.', d => isDay(d)),
      )
        .max(MOST_LETTERS)
        .required(),
      declined: boolean().default(false),
    }),
  }),
  bringCopy: endpoint('POST', '/inquiries/:inquiry/works/:work/copies', {
    does: 'Takes a file of the student’s for a work, as a job.',
    status: 202,
    body: BYTES,
    most: LARGEST_COPY,
    answer: begun,
  }),
  bringText: endpoint('POST', '/inquiries/:inquiry/copies', {
    does: 'Takes a text of the student’s that finds its work by its own words, as a job; its result is as `recognised`.',
    status: 202,
    body: BYTES,
    most: LARGEST_COPY,
    answer: begun,
  }),
  openCopy: endpoint('POST', '/inquiries/:inquiry/works/:work/copies/locked', {
    does: 'Takes a locked file of the student’s for a work, and reads it at once. Its password is not kept.',
    body: BYTES,
    most: LARGEST_COPY,
    locked: true,
    answer: received,
  }),
  openText: endpoint('POST', '/inquiries/:inquiry/copies/locked', {
    does: 'Takes a locked text of the student’s that finds its work by its own words, and reads it at once. Its password is not kept.',
    body: BYTES,
    most: LARGEST_COPY,
    locked: true,
    answer: recognised,
  }),
  readScan: endpoint('POST', '/inquiries/:inquiry/copies/:copy/scan', {
    does: 'Reads the pages of a scan by machine, those that were not read yet, as a job.',
    status: 202,
    answer: begun,
  }),
  giveCopy: endpoint('POST', '/inquiries/:inquiry/copies/:copy/work', {
    does: 'Gives a copy to another work, with its passages, where its text bears that out; to its own, proves it anew.',
    body: object({ work: rowId.required() }),
    answer: received,
  }),
  passOn: endpoint('PUT', '/inquiries/:inquiry/copies/:copy/passing', {
    does: 'Passes a copy on to the other members, or keeps it to oneself again.',
    body: object({
      /** Why it may be passed on; null keeps it. */
      why: oneOf(PASSED_ON).nullable().defined(),
    }),
  }),
  dropCopy: endpoint('DELETE', '/inquiries/:inquiry/copies/:copy', { does: 'Drops a copy.' }),
}
