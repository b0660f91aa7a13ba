import { number, object, string } from 'yup'
import { isAddress } from '../../bib/identifiers'
import { NO_ADDRESS } from '../library'
import { endpoint } from './endpoint'
import { day, flag, list, moment, orNull, shape, text, whole } from './parts'

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
    .test('address', NO_ADDRESS, v => isAddress(v ?? '')),
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
export const deskApi = {
  health: endpoint('GET', '/health', { does: 'Whether server and database answer.', answer: shape({ ok: flag() }) }),
  problem: endpoint('GET', '/problems/:code', {
    does: 'What a kind of problem means.',
    answer: shape({ code: text(), means: text() }),
  }),
  feed: endpoint('GET', '/feeds/:token.atom', {
    does: 'The news of a standing sweep or trail. The address itself is the key.',
    answer: ['application/atom+xml'],
  }),
  desk: endpoint('GET', '/desk', { does: 'The day on which the desk stands.', answer: desk }),
  moveDesk: endpoint('POST', '/desk', {
    does: 'Moves it ahead, in the demo.',
    body: object({ days: number().integer().min(1, 'Time goes ahead only.').max(366).required() }),
    answer: desk,
  }),
  layAnew: endpoint('POST', '/desk/anew', { does: 'Lays the demo anew.', status: 202, answer: desk }),
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
}
