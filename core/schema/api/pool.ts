import { array, mixed, number, object, string } from 'yup'
import { FACETS, type Limits } from '../../sift/limits'
import { PASSES } from '../../sift/decisions'
import type { Flow, Flows } from '../../sift/flow'
import type { Changes } from '../../sift/line'
import type { Schema } from 'yup'
import {
  deed,
  entry,
  facts,
  item,
  kind,
  lead,
  lineFields,
  OUTCOMES,
  proof,
  route,
  said,
  signs,
  workLine,
} from './core-shapes'
import { endpoint } from './endpoint'
import { opening } from './obtain'
import { passage } from './read'
import {
  bag,
  day,
  flag,
  like,
  list,
  maybe,
  moment,
  oneOf,
  orNull,
  real,
  rowId,
  shape,
  text,
  uuid,
  whole,
} from './parts'

const reasoned = list(shape({ reason: text(), works: whole() }))
const flow = like<Flow>()({
  found: shape({ catalogues: whole(), files: whole(), trails: whole() }),
  left: whole(),
  joined: whole(),
  works: whole(),
  unread: whole(),
  later: whole(),
  asideByTitle: reasoned,
  awaitingAbstract: whole(),
  asideByAbstract: reasoned,
  sought: whole(),
  notInHand: whole(),
  inHand: whole(),
  asideByText: reasoned,
  awaitingText: whole(),
  keptByText: whole(),
})
const work = shape({
  ...lineFields,
  /** Why it is within reach or not. */
  reachSaid: text(),
  item,
  facts,
  fieldFrom: bag(),
  evidence: list(text()),
  said,
  signs,
  /** What the evidence says, where the student says otherwise. */
  judged: orNull(shape({ kind, confidence: real() })),
  lead: orNull(lead),
  linked: list(shape({ work: whole(), title: text(), kind, year: orNull(whole()) })),
  records: list(shape({ id: whole(), source: text(), item, facts, raw: text(), format: text(), at: moment() })),
  asked: list(shape({ record: whole(), work: whole(), source: text(), item })),
  routes: orNull(shape({ routes: list(route), closed: list(text()), at: moment() })),
  copies: list(
    shape({ id: whole(), outcome: oneOf(OUTCOMES), version: text(), origin: text(), proof, pages: whole(), opening }),
  ),
  attempts: list(shape({ id: whole(), workId: whole(), url: text(), outcome: text(), said: text(), at: moment() })),
  passages: list(passage),
  entry: orNull(entry),
  /** Nothing but trails brought it. */
  byTrail: flag(),
  history: list(deed),
})
const side = shape({ record: whole(), work: whole(), source: text(), item, facts })
const strand = shape({ id: whole(), name: text(), place: whole() })
const strandName = string().trim().max(80, 'A name may have 80 letters.')
const limits = object(
  Object.fromEntries(FACETS.map(f => [f, array(string().max(300).required()).max(200)])),
).noUnknown() as unknown as Schema<Limits>
const view = shape({ id: whole(), name: text(), limits, words: text() })
const check = shape({
  id: whole(),
  n: whole(),
  /** Works unread when it began. */
  size: whole(),
  day: day(),
  /** How sure what it says is, 0 to 1. */
  level: real(),
  drawn: list(whole()),
  decided: whole(),
  wanted: whole(),
  /** The most works that would be kept among those not drawn; null until all drawn are decided. */
  mostLeft: orNull(whole()),
})
/** What a deed came to. */
const done = {
  revision: whole(),
  /** The works that may stand differently now. */
  works: list(whole()),
}

export const poolApi = {
  works: endpoint('GET', '/inquiries/:inquiry/works', {
    does: 'The works of the pool as record lines.',
    answer: list(workLine),
  }),
  changes: endpoint('GET', '/inquiries/:inquiry/works/changes', {
    does:
      'The record lines that changed after the revision `since`, in pages: where `next` is a number, the rest is asked ' +
      'for with it as `after`. With another `day` than the one told last, all lines are told.',
    query: object({ since: number().integer().min(0), day: string(), after: number().integer().min(0) }),
    answer: like<Changes>()({
      revision: whole(),
      day: text(),
      whole: flag(),
      lines: list(workLine),
      gone: list(whole()),
      next: orNull(whole()),
    }),
  }),
  texts: endpoint('GET', '/inquiries/:inquiry/works/texts', {
    does: 'Titles, abstracts and keywords of the works, for what learns from them.',
    answer: list(shape({ id: whole(), title: text(), abstract: maybe(text()), keywords: list(text()) })),
  }),
  work: endpoint('GET', '/inquiries/:inquiry/works/:work', { does: 'All about a work.', answer: work }),
  decide: endpoint('POST', '/inquiries/:inquiry/decisions', {
    does: 'Decides on works. Sent again, nothing is decided twice.',
    body: object({
      group: uuid.required(),
      decisions: array(
        object({
          id: uuid.required(),
          work: rowId.required(),
          pass: string().oneOf(PASSES).required(),
          choice: string()
            .oneOf(['keep', 'set aside', 'later'] as const)
            .required(),
          reason: string().trim().max(500, 'A reason may have 500 letters.').nullable(),
        }).required(),
      )
        .min(1)
        .max(5000)
        .required(),
    }),
    answer: shape(done),
  }),
  mark: endpoint('POST', '/inquiries/:inquiry/marks', {
    does: 'Says of works what they are for, strands, tags, notes, kinds and fields. `was` guards a note of another window.',
    body: object({
      group: uuid.required(),
      marks: array(
        object({
          id: uuid.required(),
          work: rowId.required(),
          about: string().trim().max(120).required(),
          value: mixed().nullable().defined(),
          was: mixed().nullable(),
        }).required(),
      )
        .min(1)
        .max(5000)
        .required(),
    }),
    answer: shape(done),
  }),
  undo: endpoint('POST', '/inquiries/:inquiry/undo', {
    does: 'Takes back a group of deeds, wherever nothing later spoke of the same.',
    body: object({ group: uuid.required(), id: uuid.required() }),
    answer: shape({ ...done, lines: list(workLine) }),
  }),
  twins: endpoint('GET', '/inquiries/:inquiry/twins', {
    does: 'Pairs of works that may be one, the likeliest first.',
    answer: list(shape({ a: side, b: side, score: real() })),
  }),
  answerPair: endpoint('POST', '/inquiries/:inquiry/links', {
    does: 'Says of two records whether they describe one work; `asked` takes an answer back.',
    body: object({
      a: rowId.required(),
      b: rowId.required(),
      verdict: string()
        .oneOf(['same', 'never', 'asked', 'linked'] as const)
        .required(),
      group: uuid,
    }),
    answer: shape({ works: list(whole()), group: text() }),
  }),
  arrivals: endpoint('GET', '/inquiries/:inquiry/arrivals', {
    does: 'How works came into the pool, the latest first.',
    answer: list(
      shape({
        id: whole(),
        how: oneOf(['sweep', 'file', 'trail']),
        records: whole(),
        newWorks: whole(),
        known: whole(),
        at: moment(),
      }),
    ),
  }),
  history: endpoint('GET', '/inquiries/:inquiry/history', {
    does: 'What was done, the latest first; older than `before` for reading on.',
    query: object({ before: string().max(40), limit: number().integer().min(1).max(500) }),
    answer: list(deed),
  }),
  flow: endpoint('GET', '/inquiries/:inquiry/flow', {
    does: 'The way from what was found to what is kept, in numbers.',
    answer: like<Flows>()({ catalogues: flow, others: flow }),
  }),
  strands: endpoint('GET', '/inquiries/:inquiry/strands', {
    does: 'The strands in their order.',
    answer: list(strand),
  }),
  addStrand: endpoint('POST', '/inquiries/:inquiry/strands', {
    does: 'A new strand.',
    body: object({ name: strandName.required('Give the strand a name.') }),
    answer: strand,
  }),
  changeStrand: endpoint('PATCH', '/inquiries/:inquiry/strands/:strand', {
    does: 'Names a strand anew, moves it to a place in the order (from 0), takes it away or brings it back.',
    body: object({
      name: strandName.min(1, 'Give the strand a name.'),
      place: number().integer().min(0).max(1000),
      gone: mixed<boolean>((v): v is boolean => typeof v === 'boolean'),
    }),
  }),
  views: endpoint('GET', '/inquiries/:inquiry/views', { does: 'The saved views of the pool.', answer: list(view) }),
  saveView: endpoint('POST', '/inquiries/:inquiry/views', {
    does: 'Saves a view; one of the same name is replaced.',
    body: object({
      name: string().trim().max(80, 'A name may have 80 letters.').required('Give the view a name.'),
      limits,
      words: string().trim().max(190),
    }),
    answer: view,
  }),
  endView: endpoint('DELETE', '/inquiries/:inquiry/views/:view', { does: 'Deletes a view.' }),
  checks: endpoint('GET', '/inquiries/:inquiry/checks', {
    does: 'The checks of what may be left to find.',
    answer: shape({ checks: list(check), unread: whole(), offered: whole() }),
  }),
  beginCheck: endpoint('POST', '/inquiries/:inquiry/checks', {
    does: 'Draws works among the unread ones.',
    body: object({ draws: number().integer().min(1).max(100_000).required() }),
    answer: check,
  }),
}
