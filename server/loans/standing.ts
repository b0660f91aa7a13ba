import type { Transaction } from 'sequelize'
import { standOf, took, type LoanEvent, type LoanStand } from '../../core/access/loan'
import { firstLetters } from '../../core/bib/clean'
import type { LoanOffice } from '../../core/schema/library'
import type { Context } from '../base/context'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { forgetOffices } from '../library/offices'
import type { LoanEventRow, LoanRow } from './loans-model'

/** Days that an office keeps things, where nobody can say any more. */
const KEPT = { scan: 14, book: 7 }
export const keptBy = (office: LoanOffice | undefined) =>
  office ? { scan: office.keepsScan, book: office.keepsBook } : KEPT

export const eventOfRow = (e: LoanEventRow): LoanEvent => ({
  what: e.what,
  at: e.at.toISOString(),
  said: e.said,
  ...(e.until ? { until: e.until } : {}),
  ...(e.url ? { url: e.url } : {}),
  ...(e.hash ? { heard: true } : {}),
})

/** What befell a request, in the order in which it was heard of. */
export async function eventsOf(c: Context, loanId: number, transaction?: Transaction): Promise<LoanEvent[]> {
  const how = { where: { loanId }, order: ['id'], raw: true as const, ...(transaction ? { transaction } : {}) }
  return (await c.db.loanEvents.findAll(how)).map(eventOfRow)
}

/** This moment by the clock of the desk: its day, at this time of the day. */
export const deskMoment = async (c: Context): Promise<string> =>
  `${await deskDay(c.db)}T${new Date().toISOString().slice(11)}`

/**
 * Writes down what befell a request, and how it stands after that.
 * @param hash of a message, so that the same one counts once
 * @returns how it stood before and stands now; nothing where the message was known
 */
export async function note(
  c: Context,
  loan: Pick<LoanRow, 'id' | 'inquiryId' | 'kind'>,
  office: LoanOffice | undefined,
  { hash, ...e }: LoanEvent & { hash?: string },
): Promise<{ before: LoanStand; now: LoanStand } | undefined> {
  const stands = await change(c, loan.inquiryId, async transaction => {
    if (hash && (await c.db.loanEvents.count({ where: { loanId: loan.id, hash }, transaction }))) return undefined
    const events = await eventsOf(c, loan.id, transaction)
    await c.db.loanEvents.create(
      {
        ...{ loanId: loan.id, what: e.what, at: new Date(e.at), said: firstLetters(e.said ?? '', 4000) },
        ...{ until: e.until ?? null, url: e.url ? firstLetters(e.url, 1000) : null, hash: hash ?? null },
      },
      { transaction },
    )
    const before = standOf(loan.kind, events, keptBy(office))
    const now = standOf(loan.kind, [...events, e], keptBy(office))
    const days = { weekend: office?.weekend ?? [], closed: office?.closed ?? [] }
    await c.db.loans.update(
      { state: now.state, took: took(days, [...events, e]) ?? null },
      { where: { id: loan.id }, transaction },
    )
    return { before, now }
  })
  if (e.what === 'ready') forgetOffices(c)
  return stands
}
