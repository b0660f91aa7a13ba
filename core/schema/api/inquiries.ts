import { object } from 'yup'
import { briefShape } from '../brief'
import { rules } from './core-shapes'
import { emailShape } from './accounts'
import { endpoint } from './endpoint'
import { bag, day, flag, list, moment, oneOf, orNull, pair, shape, text, whole } from './parts'

const memberRole = oneOf(['owner', 'reader'])
/** Who is to be taken in, as it is typed. */
export const memberGiven = object({ email: emailShape, role: memberRole })

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
  role: memberRole,
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
    'reminder',
    'copy',
    'scan',
    'round',
    'list',
    'citations',
    'losses',
    'loan',
    'vocabulary',
    'registrations',
    'follow',
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
      /** How many members there are beside who asks. */
      others: whole(),
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
  members: endpoint('GET', '/inquiries/:inquiry/members', {
    does: 'Who is in an inquiry, those first who came first.',
    answer: list(
      shape({
        ...{ id: whole(), name: text(), email: text(), role: memberRole, isMe: flag() },
        /** The first of those who work on it: their libraries are asked for it. */
        isFirst: flag(),
      }),
    ),
  }),
  addMember: endpoint('POST', '/inquiries/:inquiry/members', {
    does: 'Takes somebody in who has an account: to work on it as one does oneself, or to look at it.',
    body: memberGiven,
    answer: shape({ id: whole() }),
  }),
  changeMember: endpoint('PUT', '/inquiries/:inquiry/members/:member', {
    does: 'Lets a member work on it, or look at it alone.',
    body: object({ role: memberRole }),
  }),
  dropMember: endpoint('DELETE', '/inquiries/:inquiry/members/:member', {
    does: 'Takes a member out. What they decided and wrote stays; copies that are here by their right open to nobody then.',
  }),
  leave: endpoint('DELETE', '/inquiries/:inquiry/membership', { does: 'Leaves an inquiry.', forReaders: true }),
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
