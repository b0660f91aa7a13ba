import { timingSafeEqual } from 'node:crypto'
import { eventOf, type LoanStand } from '../../core/access/loan'
import { readIllMessage, sameAgency, writeIllConfirmation, type IllMessage } from '../../core/formats/ill'
import type { LoanOffice } from '../../core/schema/library'
import type { Context } from '../base/context'
import { decodeXml } from '../base/decode'
import { hashOf } from '../base/hash'
import { notFound, Problem } from '../base/problem'
import { enqueue } from '../jobs/queue'
import { anyLibrary } from '../library/libraries'
import { agencyOf } from '../library/office-messages'
import { tokenOf } from '../library/offices'
import type { LoanRow } from './loans-model'
import { note } from './standing'

/** States that a student is told of by mail. */
const TOLD: readonly LoanStand['state'][] = ['asked back', 'ready', 'refused']

/**
 * Takes a message of an office: who sends it is checked by the address, by its symbol and by the request that it names,
 * and what came before counts no second time.
 * @returns the confirmation
 * @throws Problem 404 where the address is none, 400 where it is no message
 */
export async function takeMessage(
  c: Context,
  { library: key, token }: { library: string; token: string },
  bytes: Buffer,
): Promise<string> {
  const right = Buffer.from(tokenOf(c, key))
  const given = Buffer.from(token)
  if (right.length !== given.length || !timingSafeEqual(right, given)) throw notFound()
  const office = (await anyLibrary(c, key))?.office
  if (!office) throw notFound()
  let message: IllMessage
  try {
    message = readIllMessage(decodeXml(bytes))
  } catch (e) {
    throw new Problem(400, 'not-a-message', e instanceof Error ? e.message : String(e))
  }
  if (!('answer' in message)) throw new Problem(400, 'not-a-message', 'A confirmation is no message of its own.')
  const { answer } = message
  const now = new Date().toISOString()
  const refuse = (value: string) => writeIllConfirmation(answer, now, { type: 'UnrecognisedDataValue', value })
  if (!sameAgency(answer.supplier, agencyOf(office.symbol))) return refuse('supplyingAgencyId')
  if (!sameAgency(answer.requester, agencyOf(office.ours))) return refuse('requestingAgencyId')
  const loan = await c.db.loans.findOne({ where: { request: answer.request, library: key }, raw: true })
  if (!loan) return refuse('requestingAgencyRequestId')
  const e = eventOf(answer)
  if (e) await hear(c, loan, office, { ...e, hash: hashOf(JSON.stringify(answer)) })
  return writeIllConfirmation(answer, now)
}

/** Writes down what an office said, and has the student told where they have to do something. */
async function hear(c: Context, loan: LoanRow, office: LoanOffice, e: Parameters<typeof note>[3]): Promise<void> {
  await note(c, loan, office, e, async ({ before, now }, t) => {
    const tells = (now.state !== before.state && TOLD.includes(now.state)) || (now.recalled && !before.recalled)
    if (tells && c.settings.outside.mail)
      await enqueue(c, 'loan', loan.inquiryId, loan.userId, { loan: loan.id, tell: now.state }, t)
  })
}
