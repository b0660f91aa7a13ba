import { Op } from 'sequelize'
import { boolean, number, object, string, type InferType } from 'yup'
import { writeIllAction, writeIllRequest, type IllAction } from '../../core/formats/ill'
import type { LoanEvent } from '../../core/access/loan'
import { isByHand, type LoanOffice } from '../../core/schema/library'
import { neededBy } from '../../core/write/plan'
import type { Context } from '../base/context'
import { OutsideError, requireSuccess } from '../connect/http'
import { sendMail } from '../connect/mail'
import { enqueue, type JobHandle, type JobHandler } from '../jobs/queue'
import { anyLibrary, leaveOf, type Library } from '../library/libraries'
import { agencyOf, postMessage } from '../library/office-messages'
import { messagesAt } from '../library/offices'
import { LARGEST_COPY } from '../../core/schema/api/obtain'
import { calendarOf, lentBy, letterOf, loanBy } from './loans-service'
import type { LoanRow } from './loans-model'
import { rhythmOf } from '../sessions/member'
import { deskMoment, eventRows, inPlace, lastEvent, note } from './standing'

/** Minutes after which a message that could not be sent is sent again by itself. */
const AGAIN = [1, 5, 15, 60, 240]

const SENDS = ['request', 'received', 'answer', 'give up', 'keep longer', 'given back'] as const
type Send = (typeof SENDS)[number]
/** What is written down once it was sent. */
const SENT: Record<Send, LoanEvent['what'] | undefined> = {
  request: 'sent',
  received: undefined,
  answer: 'answered',
  'give up': 'cancel asked',
  'keep longer': 'renewal asked',
  'given back': 'returned',
}
const ACTION: Record<Exclude<Send, 'request'>, IllAction> = {
  received: 'Received',
  answer: 'Notification',
  'give up': 'Cancel',
  'keep longer': 'Renew',
  'given back': 'ShippedReturn',
}

const payloadShape = object({
  loan: number().required(),
  send: string().oneOf(SENDS),
  said: string(),
  fetch: boolean(),
  tell: string(),
  tries: number(),
})
type Payload = InferType<typeof payloadShape>

/** Takes in a file for a work, where its text proves that it is the work. */
type Receive = (
  c: Context,
  of: {
    inquiryId: number
    workId: number
    origin: string
    grant: { kind: 'loan'; userId: number; from: string; until: string | null }
  },
  bytes: Buffer,
  given: { signal: AbortSignal },
) => Promise<{ outcome: string; said: string }>

/**
 * A job that sends what a student says to a loan office, fetches a scan, or tells the student by mail how a request moved.
 * @param receive what becomes of a scan is decided where copies are
 */
export const loanJob =
  (receive: Receive): JobHandler =>
  (c, handle) =>
    runLoan(c, handle, receive)

async function runLoan(c: Context, { job, signal }: JobHandle, receive: Receive): Promise<Record<string, unknown>> {
  const payload = payloadShape.validateSync(job.payload)
  const loan = await c.db.loans.findByPk(payload.loan, { raw: true })
  if (!loan) return {}
  const library = await anyLibrary(c, loan.library)
  if (payload.tell) return tell(c, loan, { state: payload.tell, job: job.id })
  if (!library?.office) {
    await note(c, loan, undefined, {
      what: 'not sent',
      at: await deskMoment(c),
      said: 'Its library has no office any more.',
    })
    return {}
  }
  const of = { ...library, office: library.office }
  if (payload.fetch) return fetchScan(c, loan, of, { signal, receive })
  return send(c, loan, of, payload, signal)
}

type Of = Library & { office: LoanOffice }

async function send(
  c: Context,
  loan: LoanRow,
  library: Of,
  { send: what = 'request', said = '', tries = 0 }: Payload,
  signal: AbortSignal,
): Promise<Record<string, unknown>> {
  const { office } = library
  // it was sent, or given up, before this try of it came to be; or the student sends it by now
  if ((what === 'request' && loan.state !== 'not sent') || isByHand(office)) return {}
  const at = await deskMoment(c)
  // an office may answer before it confirms
  const afterId = await lastEvent(c, loan.id)
  try {
    const message =
      what === 'request'
        ? await requestOf(c, loan, office, at)
        : writeIllAction(head(loan, office, at), ACTION[what], said)
    const { holds, error } = await postMessage(c, library, office, message, signal)
    if (!holds) throw new OutsideError(`The office did not take it${error ? `: ${error}` : ''}.`, false)
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    const minutes = e.again ? AGAIN[tries] : undefined
    const then = minutes === undefined ? 'It is not sent again by itself.' : 'It is sent again by itself.'
    const event = { what: what === 'request' ? 'not sent' : 'note', at, said: `${e.message} ${then}` } as const
    await note(c, loan, office, event, async (_, t) => {
      if (minutes === undefined) return
      const again = { loan: loan.id, send: what, said, tries: tries + 1 }
      await enqueue(c, 'loan', loan.inquiryId, loan.userId, again, t, new Date(Date.now() + minutes * 60_000))
    })
    return { said: e.message }
  }
  const event = SENT[what]
  if (event) await note(c, loan, office, { what: event, at, said, afterId })
  return {}
}

const head = (loan: LoanRow, office: LoanOffice, at: string) => ({
  supplier: agencyOf(office.symbol),
  requester: agencyOf(office.ours),
  request: loan.request,
  at,
})

async function requestOf(c: Context, loan: LoanRow, office: LoanOffice, at: string): Promise<string> {
  const [user, inquiry] = await Promise.all([
    c.db.users.findByPk(loan.userId, { attributes: ['name', 'email'], raw: true }),
    c.db.inquiries.findByPk(loan.inquiryId, { attributes: ['due', 'rhythm'], raw: true }),
  ])
  const { kind, item, note: words, suppliers } = loan
  const before = await c.db.loans.findOne({
    where: { ...{ inquiryId: loan.inquiryId, workId: loan.workId, library: loan.library }, id: { [Op.lt]: loan.id } },
    attributes: ['request', 'state'],
    order: [['id', 'DESC']],
    raw: true,
  })
  return writeIllRequest({
    ...head(loan, office, at),
    ...{
      kind,
      item,
      note: words,
      anyEdition: Boolean(loan.anyEdition),
      neededBy: neededBy(inquiry?.due ?? null, rhythmOf(inquiry?.rhythm ?? null)),
    },
    suppliers: (suppliers ?? []).map(({ name, symbol, call, said }) => ({
      ...{ name, call, said },
      ...(symbol ? { agency: agencyOf(symbol) } : {}),
    })),
    asker: { name: user?.name ?? '', mail: user?.email ?? '' },
    answerTo: messagesAt(c, loan.library),
    ...(before?.state === 'refused' ? { previous: before.request } : {}),
  })
}

/** Fetches a scan where its office put it; it counts when its own text proves it. */
async function fetchScan(
  c: Context,
  loan: LoanRow,
  library: Of,
  { signal, receive }: { signal: AbortSignal; receive: Receive },
): Promise<Record<string, unknown>> {
  const ready = inPlace(await eventRows(c, loan.id)).findLast(e => e.what === 'ready')
  const at = await deskMoment(c)
  const say = (what: LoanEvent['what'], said: string) => note(c, loan, library.office, { what, at, said })
  if (!ready?.url) {
    await say('note', 'Its office names no address for it: it sends it by mail. Bring the file yourself.')
    return {}
  }
  let bytes: Buffer
  try {
    const got = await c.outside(ready.url, { timeoutMs: 60_000, maxBytes: LARGEST_COPY, signal, ...leaveOf(library) })
    bytes = requireSuccess(got).body
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    await say('note', `${e.message} Open ${ready.url} yourself, and bring the file.`)
    return { said: e.message }
  }
  const grant = { kind: 'loan' as const, userId: loan.userId, ...lentBy(library, at) }
  const of = { inquiryId: loan.inquiryId, workId: loan.workId, origin: `a scan from ${library.name}`, grant }
  const got = await receive(c, of, bytes, { signal })
  if (got.outcome === 'refused') {
    await say('wrong', got.said)
    return { outcome: got.outcome, said: got.said }
  }
  await note(c, loan, library.office, { what: 'taken', at, said: got.said }, (_, t) =>
    enqueue(c, 'loan', loan.inquiryId, loan.userId, { loan: loan.id, send: 'received' }, t),
  )
  return { outcome: got.outcome, said: got.said }
}

/** Days to be put into a calendar (RFC 5545). */
const calendarFile = (content: string) => ({
  filename: 'days.ics',
  contentType: 'text/calendar; charset=utf-8',
  content,
})

async function tell(
  c: Context,
  loan: LoanRow,
  { state, job }: { state: string; job: number },
): Promise<Record<string, unknown>> {
  const user = await c.db.users.findByPk(loan.userId, { attributes: ['email'], raw: true })
  if (!user) return {}
  const told = await loanBy(c, loan.userId, loan.id)
  const { subject, text } = letterOf(told)
  const isDay = state === 'ready'
  await sendMail(c, {
    ...{ to: user.email, id: `loan-${loan.request}-${job}`, subject },
    text: `${text}\n\nSee it: ${c.settings.address}/asked`,
    ...(isDay ? { attachments: [calendarFile(await calendarOf(c, loan.userId, loan.id))] } : {}),
  })
  return {}
}
