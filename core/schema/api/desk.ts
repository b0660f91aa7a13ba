import { number, object, string } from 'yup'
import { endpoint } from './endpoint'
import { day, flag, moment, orNull, shape, text } from './parts'

const desk = shape({
  day: day(),
  /** Whether time can be moved ahead. */
  moves: flag(),
  /** Whether the demo is being laid anew at the moment. */
  laying: flag(),
})
const gate = shape({
  library: text(),
  terms: text(),
  /** When the session ends; null where there is none. */
  until: orNull(moment()),
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
  gate: endpoint('GET', '/gate', { does: 'Whether one is signed in at the library’s gate.', answer: gate }),
  openGate: endpoint('POST', '/gate', {
    does: 'Signs in at the gate; card and password are passed on and not kept.',
    body: cardShape,
    answer: gate,
  }),
  closeGate: endpoint('DELETE', '/gate', { does: 'Forgets the gate’s session.' }),
}
