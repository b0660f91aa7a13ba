import { number, object, string } from 'yup'
import { endpoint } from './endpoint'
import { day, flag, list, maybe, moment, orNull, shape, text, whole } from './parts'

const desk = shape({
  day: day(),
  /** From which moment on it stood on which day; without one it went with the calendar. */
  days: list(shape({ from: moment(), day: orNull(day()) })),
  /** Whether time can be moved ahead. */
  moves: flag(),
  /** Whether the demo is being laid anew at the moment. */
  laying: flag(),
})
export const probeShape = object({
  address: string()
    .trim()
    .required('The address of its SRU server.')
    .max(500)
    .test('address', 'This is no address: it begins with http:// or https://.', v => {
      try {
        return /^https?:$/.test(new URL(v ?? '').protocol)
      } catch {
        return false
      }
    }),
  words: string().trim().required('A word or a query to try it with.').max(2000),
})
const probed = shape({
  /** By its own explain; null where it does not explain itself. */
  title: orNull(text()),
  description: orNull(text()),
  extent: orNull(text()),
  /** Why no more is known of it than what most can. */
  assumed: orNull(text()),
  /** Whether it is a repository that cannot be searched, but taken in (OAI-PMH). */
  harvested: flag(),
  /** Sets of a repository, one of which may be taken in alone. */
  sets: list(shape({ spec: text(), name: text() })),
  /** Its indexes by our names and by its own. */
  indexes: list(shape({ ours: text(), theirs: text() })),
  schemas: list(shape({ name: text(), identifier: text(), readable: flag() })),
  /** The schema that records were asked for in. */
  schema: text(),
  truncation: flag(),
  proximity: flag(),
  scan: flag(),
  facets: list(text()),
  /** The last record position that it serves. */
  window: orNull(whole()),
  /** What an operator puts into the settings. */
  setting: text(),
  /** How many records the words find; null where it does not count. */
  count: orNull(whole()),
  /** The query as it was asked. */
  asked: orNull(text()),
  changes: list(text()),
  records: list(shape({ title: text(), authors: text(), year: orNull(whole()), kind: text() })),
  unread: list(shape({ position: whole(), why: text() })),
  /** Why no record came. */
  failed: orNull(text()),
})
const gate = shape({
  library: text(),
  terms: text(),
  /** Which card to take, in a made-up library. */
  hint: orNull(text()),
  /** When the session ends; null where there is none. */
  until: orNull(moment()),
  /** Files that were fetched through it today, and that a card may fetch in a day where the library says so. */
  today: whole(),
  daily: orNull(whole()),
})
const holdings = shape({
  library: text(),
  /** Whether its files are being fetched at the moment. */
  fetching: flag(),
  /** Why some could not be fetched, the last time that was asked for. */
  trouble: orNull(text()),
  files: list(
    shape({
      name: text(),
      address: text(),
      /** Whether it is kept here; its lines are read after that. */
      isKept: flag(),
      isRead: flag(),
      /** What was read of it; null before that. */
      report: orNull(
        shape({
          titles: whole(),
          left: whole(),
          /** The first of what was read otherwise than it stands, or left out. */
          problems: list(shape({ line: whole(), said: text(), leftOut: maybe(flag()) })),
          problemsInAll: whole(),
          /** Why nothing of it could be read. */
          refused: maybe(text()),
          /** Why a newer one could not be read: what is here is of the one before. */
          newer: maybe(text()),
        }),
      ),
    }),
  ),
})
export const cardShape = object({
  card: string().trim().max(100).required('Your card number is missing.'),
  password: string().max(200).required('Your password is missing.'),
})

export const deskApi = {
  health: endpoint('GET', '/health', { does: 'Whether server and database answer.', answer: shape({ ok: flag() }) }),
  problem: endpoint('GET', '/problems/:code', {
    does: 'What a kind of problem means.',
    answer: shape({ code: text(), means: text() }),
  }),
  feed: endpoint('GET', '/feeds/:token.atom', {
    does: 'The news of a standing sweep. The address itself is the key.',
    answer: ['application/atom+xml'],
  }),
  desk: endpoint('GET', '/desk', { does: 'The day on which the desk stands.', answer: desk }),
  moveDesk: endpoint('POST', '/desk', {
    does: 'Moves it ahead, in the demo.',
    body: object({ days: number().integer().min(1, 'Time goes ahead only.').max(366).required() }),
    answer: desk,
  }),
  layAnew: endpoint('POST', '/desk/anew', { does: 'Lays the demo anew.', status: 202, answer: desk }),
  holdings: endpoint('GET', '/holdings', {
    does: 'What the library says it holds, file by file, and what was read of it.',
    answer: holdings,
  }),
  fetchHoldings: endpoint('POST', '/holdings/fetch', {
    does: 'Fetches the library’s files again, also those of today.',
    status: 202,
    answer: holdings,
  }),
  catalogues: endpoint('GET', '/catalogues', {
    does: 'The catalogues that are set up.',
    answer: list(shape({ id: text(), name: text(), address: text(), schema: text(), harvested: flag() })),
  }),
  probe: endpoint('POST', '/catalogues/tried', {
    does: 'Tries a catalogue: what it can do, what was understood of it, and its first records.',
    status: 200,
    body: probeShape,
    answer: probed,
  }),
  gate: endpoint('GET', '/gate', { does: 'Whether one is signed in at the library’s gate.', answer: gate }),
  openGate: endpoint('POST', '/gate', {
    does: 'Signs in at the gate; card and password are passed on and not kept.',
    body: cardShape,
    answer: gate,
  }),
  lookAtGate: endpoint('POST', '/gate/look', {
    does: 'Asks the gate whether the session that is kept here is one there too.',
    answer: gate,
  }),
  closeGate: endpoint('DELETE', '/gate', { does: 'Forgets the gate’s session.' }),
}
