import { boolean, number, object, string } from 'yup'
import { endpoint } from './endpoint'
import { begun } from './inquiries'
import { day, flag, list, moment, oneOf, orNull, rowId, shape, text, whole } from './parts'
import { SCOPES } from './trace'

/** What is asked again by schedule: a sweep, by its query; or, where there is none, what cites the works of a scope. */
const standing = shape({
  id: whole(),
  inquiryId: whole(),
  name: text(),
  query: orNull(text()),
  catalogues: list(text()),
  scope: orNull(oneOf(SCOPES)),
  /** The strand or the work. */
  of: orNull(whole()),
  everyDays: whole(),
  nextDay: day(),
  mails: flag(),
  paused: flag(),
  at: moment(),
  feed: text(),
  /** Sweeps or rounds, the latest first; of what was new nothing is known before a run has ended, or in a first one. */
  runs: list(shape({ id: whole(), deskDay: day(), foundNew: orNull(whole()), at: moment() })),
})
const everyDays = number().integer().min(1).max(366)
const asked = {
  name: string().trim().max(190).required('Give it a name.'),
  everyDays: everyDays.required(),
  mails: boolean().required(),
}
const begunToStand = standing.shape({ job: whole() })

export const standingApi = {
  standing: endpoint('GET', '/inquiries/:inquiry/standing', {
    does: 'The standing sweeps and trails.',
    answer: list(standing),
  }),
  addStanding: endpoint('POST', '/inquiries/:inquiry/standing', {
    does: 'Has a sweep run again and again.',
    body: object({ sweep: rowId.required(), ...asked }),
    answer: begunToStand,
  }),
  addStandingTrail: endpoint('POST', '/inquiries/:inquiry/standing/trails', {
    does: 'Has the citation index asked again and again what cites all kept works, those of a strand, or one work.',
    body: object({ scope: string().oneOf(SCOPES).required(), of: rowId, ...asked }),
    answer: begunToStand,
  }),
  changeStanding: endpoint('PATCH', '/inquiries/:inquiry/standing/:standing', {
    does: 'Changes a standing sweep or trail.',
    body: object({ name: string().trim().min(1).max(190), everyDays, mails: boolean(), paused: boolean() }),
    answer: standing,
  }),
  runStanding: endpoint('POST', '/inquiries/:inquiry/standing/:standing/runs', {
    does: 'Runs it now.',
    status: 202,
    answer: begun,
  }),
  endStanding: endpoint('DELETE', '/inquiries/:inquiry/standing/:standing', { does: 'Ends it; its runs stay.' }),
  trailNews: endpoint('GET', '/inquiries/:inquiry/standing/news', {
    does: 'Works that newly cite what standing trails watch, each once, the latest first.',
    answer: list(
      shape({
        node: whole(),
        /** The run that told it last, and its day. */
        round: whole(),
        day: day(),
        /** The nodes that it cites. */
        cites: list(whole()),
      }),
    ),
  }),
}
