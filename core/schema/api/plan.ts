import { array, boolean, number, object } from 'yup'
import { STEPS, SURE, USUAL, type Pace, type Plan, type Step } from '../../write/plan'
import { endpoint } from './endpoint'
import { day, flag, like, list, oneOf, orNull, real, rowId, shape, text, whole } from './parts'

const minutes = (most: number) => number().typeError('This has to be a number.').max(most, `At most ${most} minutes.`)
/** Left empty it is null: as it was seen. */
const ifSaid = (of: ReturnType<typeof minutes>) =>
  of.nullable().transform((v: unknown, given: unknown) => (given === '' ? null : v))
const weekday = number().integer().min(1).max(7)

/** How a student works on an inquiry. */
export const rhythmShape = object({
  minutesADay: minutes(960).integer('Whole minutes.').min(5, 'At least 5 minutes.').required('How long a day?'),
  free: array(weekday.required())
    .max(6, 'One day of the week is needed at least.')
    .test('once', 'Each day once.', v => new Set(v).size === (v ?? []).length)
    .defined(),
  spare: number()
    .typeError('This has to be a number.')
    .integer('Whole days.')
    .min(0, 'No fewer than none.')
    .max(30, 'At most 30 days.')
    .required('How many days? 0 for none.'),
  aPage: ifSaid(minutes(60).min(0.1, 'At least 0.1 minutes.')).defined(),
  anEntry: ifSaid(minutes(600).min(1, 'At least a minute.')).defined(),
  timed: boolean().defined(),
  /** The chance to be here in time that a loan keeps until the last day to ask for it. */
  sure: number().oneOf(SURE, 'One of the chances there are.').default(USUAL.sure),
}).noUnknown()

const pace = like<Pace>()({ minutes: real(), from: oneOf(['said', 'seen', 'guessed']), seen: whole() })
const reading = shape({
  ...{ work: whole(), pages: whole(), isGuess: flag(), read: real(), write: real() },
  /** When a borrowed one goes back, and whether that is before it can be read. */
  ...{ until: orNull(day()), goesBefore: flag() },
  ...{ title: text(), authors: text(), year: orNull(whole()) },
  /** The copy that is read; null where none is in hand. */
  copy: orNull(whole()),
  /** It is read by the student's word. */
  isRead: flag(),
})
const step = like<Step>()({ step: oneOf(STEPS), minutes: real(), begin: orNull(day()), end: orNull(day()) })
const told = { missing: whole(), beyond: whole(), done: whole(), minutes: real(), lastDay: orNull(day()) }
const reckoned = like<Omit<Plan, 'reading'>>()({
  ...told,
  ...{ steps: list(step), days: whole(), aDay: orNull(real()), doneBy: orNull(day()), reached: whole() },
  ...{ lastStart: orNull(day()), later: list(shape({ day: day(), aDay: real() })) },
})

export const planApi = {
  plan: endpoint('GET', '/inquiries/:inquiry/plan', {
    does: 'What is left to do until the inquiry is due, back from that day, and what a later beginning costs.',
    answer: shape({
      today: day(),
      due: orNull(day()),
      rhythm: rhythmShape,
      paces: shape({ page: pace, entry: pace, decision: pace }),
      plan: reckoned,
      reading: list(reading),
      /** The day by which the last text has to be here; null where nothing is due. */
      neededBy: orNull(day()),
    }),
  }),
  setRhythm: endpoint('PUT', '/inquiries/:inquiry/rhythm', {
    does: 'Says how one works: minutes a day, free days, days to look it over, paces. Where reading is not timed, what was timed is forgotten.',
    body: rhythmShape,
  }),
  tellReading: endpoint('POST', '/inquiries/:inquiry/copies/:copy/reading', {
    does: 'Adds to the seconds that were spent on pages of a copy; nothing where reading is not timed.',
    status: 204,
    body: object({
      pages: array(
        object({ page: rowId.required(), seconds: number().integer().min(1).max(3600).required() }).noUnknown(),
      )
        .max(500)
        .required(),
    }),
  }),
  setRead: endpoint('PUT', '/inquiries/:inquiry/works/:work/read', {
    does: 'Says whether a work is read, wherever it was.',
    body: object({ read: boolean().required() }),
  }),
}
