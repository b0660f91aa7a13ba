import type { Transaction } from 'sequelize'
import { standOf, took, type LoanEvent, type LoanStand } from '../../core/access/loan'
import { firstLetters } from '../../core/bib/clean'
import type { LoanOffice } from '../../core/schema/library'
import type { Context } from '../base/context'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { forgetOffices, workDaysOf } from '../library/offices'
import type { LoanEventRow, LoanRow } from './loans-model'

/** Days that an office keeps things, where nobody can say any more. */
const KEPT = { scan: 14, book: 7 }
export const keptBy = (office: LoanOffice | undefined) =>
  office ? { scan: office.keepsScan, book: office.keepsBook } : KEPT

const eventOfRow = (e: Omit<LoanEventRow, 'id' | 'loanId' | 'afterId'>): LoanEvent => ({
  what: e.what,
  at: e.at.toISOString(),
  said: e.said,
  ...(e.until ? { until: e.until } : {}),
  ...(e.url ? { url: e.url } : {}),
  ...(e.hash ? { heard: true } : {}),
})

/** What befell a request, in the order in which it was done or heard of. */
export const inPlace = (rows: readonly LoanEventRow[]): LoanEvent[] =>
  rows.toSorted((a, b) => (a.afterId ?? a.id) - (b.afterId ?? b.id) || a.id - b.id).map(eventOfRow)

/** Rows of what befell requests, as they were written down. */
export const eventRows = (c: Context, loanId: number | number[], transaction?: Transaction): Promise<LoanEventRow[]> =>
  c.db.loanEvents.findAll({ where: { loanId }, order: ['id'], raw: true, ...(transaction ? { transaction } : {}) })

/** The last of what befell a request until now. */
export const lastEvent = async (c: Context, loanId: number): Promise<number | undefined> =>
  (await eventRows(c, loanId)).at(-1)?.id

/** This moment by the clock of the desk: its day, at this time of the day. */
export const deskMoment = async (c: Context): Promise<string> =>
  `${await deskDay(c.db)}T${new Date().toISOString().slice(11)}`

/** How a request stood before something befell it, and stands now. */
export interface Moved {
  before: LoanStand
  now: LoanStand
}

/**
 * Writes down what befell a request, and how it stands after that.
 * @param e.hash of a message, so that the same one counts once
 * @param e.afterId the event that it befell after, where others may have been heard meanwhile
 * @param then what follows from it, such as a job, which is then written down with it or not at all
 * @returns how it stood before and stands now; nothing where the message was known
 */
export async function note(
  c: Context,
  loan: Pick<LoanRow, 'id' | 'inquiryId' | 'kind' | 'library'>,
  office: LoanOffice | undefined,
  { hash, afterId, ...e }: LoanEvent & { hash?: string; afterId?: number | undefined },
  then?: (moved: Moved, transaction: Transaction, revision: number) => Promise<unknown>,
): Promise<Moved | undefined> {
  const days = await workDaysOf(c, loan.library)
  const moved = await change(c, loan.inquiryId, async (transaction, revision) => {
    if (hash && (await c.db.loanEvents.count({ where: { loanId: loan.id, hash }, transaction }))) return undefined
    const rows = await eventRows(c, loan.id, transaction)
    const row = await c.db.loanEvents.create(
      {
        ...{ loanId: loan.id, what: e.what, at: new Date(e.at), said: firstLetters(e.said ?? '', 4000) },
        ...{ until: e.until ?? null, url: e.url ? firstLetters(e.url, 1000) : null },
        ...{ hash: hash ?? null, afterId: afterId ?? null },
      },
      { transaction },
    )
    const events = inPlace([...rows, row])
    const before = standOf(loan.kind, inPlace(rows), keptBy(office))
    const now = standOf(loan.kind, events, keptBy(office))
    await c.db.loans.update(
      { state: now.state, took: took(days, events) ?? null },
      { where: { id: loan.id }, transaction },
    )
    await then?.({ before, now }, transaction, revision)
    return { before, now }
  })
  if (e.what === 'ready') forgetOffices(c)
  return moved
}
