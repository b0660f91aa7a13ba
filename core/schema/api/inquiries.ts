import { briefShape } from '../brief'
import { rules } from './core-shapes'
import { endpoint } from './endpoint'
import { bag, day, flag, list, moment, oneOf, orNull, pair, shape, text, whole } from './parts'

const numbers = shape({
  rules: whole(),
  /** Of the latest sweep, as its catalogues count: at least the largest, at most the sum. */
  found: pair(),
  unread: whole(),
  kept: whole(),
  pool: whole(),
  trails: whole(),
  inHand: whole(),
  read: whole(),
  annotated: whole(),
  entries: whole(),
})
const named = shape({ id: text(), name: text() })
const inquiryFields = {
  id: whole(),
  title: text(),
  question: text(),
  due: orNull(day()),
  zone: text(),
  style: text(),
  /** The language of its citations, where it is not the style's own. */
  language: orNull(text()),
  rules,
  query: text(),
  revision: whole(),
  version: whole(),
  today: day(),
  /** To the due date; null where there is none. */
  daysLeft: orNull(whole()),
  numbers,
  role: oneOf(['owner', 'reader']),
}
export const inquiry = shape(inquiryFields)
const brief = briefShape.shape({ version: whole() }).noUnknown().defined()

export const job = shape({
  id: whole(),
  kind: oneOf([
    'sweep',
    'standing',
    'pool',
    'import',
    'paste',
    'routes',
    'retrieval',
    'copy',
    'scan',
    'round',
    'list',
    'citations',
    'losses',
    'loan',
    'vocabulary',
  ]),
  state: oneOf(['queued', 'running', 'done', 'failed', 'cancelled']),
  progress: bag(),
  result: orNull(bag()),
  error: orNull(text()),
  /** What it was given; of a long list of records, how many. */
  payload: bag(),
  at: moment(),
  cancelAsked: flag(),
})
/** Of work that goes on by itself: the job to watch. */
export const begun = shape({ job: whole() })

/** A library that is asked for an inquiry, where its link resolver is and where it is written to; empty where it has none. */
const asked = shape({ key: text(), name: text(), resolver: text(), contact: text() })

export const inquiriesApi = {
  inquiries: endpoint('GET', '/inquiries', { does: 'The inquiries one is a member of.', answer: list(inquiry) }),
  beginInquiry: endpoint('POST', '/inquiries', { does: 'Begins an inquiry.', body: briefShape, answer: inquiry }),
  inquiry: endpoint('GET', '/inquiries/:inquiry', {
    does: 'An inquiry with its numbers and catalogues.',
    answer: shape({
      ...inquiryFields,
      styleName: text(),
      catalogues: list(named),
      libraries: list(asked),
      /** Whether the time that is spent on pages is told. */
      timed: flag(),
    }),
  }),
  brief: endpoint('GET', '/inquiries/:inquiry/brief', { does: 'The brief, with its version as ETag.', answer: brief }),
  changeBrief: endpoint('PATCH', '/inquiries/:inquiry/brief', {
    does: 'Changes the brief.',
    body: briefShape,
    answer: brief,
    ifMatch: true,
  }),
  endInquiry: endpoint('DELETE', '/inquiries/:inquiry', { does: 'Deletes an inquiry with all that is in it.' }),
  events: endpoint('GET', '/inquiries/:inquiry/events', {
    does: 'What changes, as server-sent events: `revision` with its number, `job` with a job.',
    answer: ['text/event-stream'],
  }),
  jobs: endpoint('GET', '/inquiries/:inquiry/jobs', { does: 'The latest thirty jobs.', answer: list(job) }),
  job: endpoint('GET', '/inquiries/:inquiry/jobs/:job', { does: 'A job.', answer: job }),
  stopJob: endpoint('DELETE', '/inquiries/:inquiry/jobs/:job', {
    does: 'Asks a job to stop.',
    status: 202,
    answer: job,
  }),
  jobAgain: endpoint('POST', '/inquiries/:inquiry/jobs/:job/again', {
    does: 'Begins a job anew that failed or was stopped.',
    status: 202,
    answer: begun,
  }),
}
