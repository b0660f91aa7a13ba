import type { Transaction } from 'sequelize'
import { firstLetters } from '../../core/bib/clean'
import { addDays } from '../../core/bib/dates'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { byDoi } from '../imports/look-up'
import { enqueue, type JobHandle } from '../jobs/queue'
import type { Member } from '../sessions/member'
import { entriesOf } from './printed-list'
import type { DoiRegistrationRow } from './registrations-model'

/** Days that an answer holds: registrations are mended now and then. */
const HOLDS = 30
/** Answers that are kept together: each time all that looks at the checks asks for them anew. */
const TOGETHER = 20
/** So many DOIs in a row that cannot be asked for are the registration's trouble, not theirs. */
const IN_A_ROW = 3
/** As long as a DOI is kept. */
const LONGEST = 190

/** The DOI of a work, as registrations are asked for it. */
export const doiOf = ({ item }: { item: { DOI?: string } }): string | undefined => {
  const doi = normaliseDoi(item.DOI)
  return doi && doi.length <= LONGEST ? doi : undefined
}

/** What is known of these DOIs, by DOI. */
export async function registrationsOf(c: Context, dois: readonly string[]): Promise<Map<string, DoiRegistrationRow>> {
  const rows = await c.db.doiRegistrations.findAll({ where: { doi: [...new Set(dois)] }, raw: true })
  return new Map(rows.map(r => [r.doi, r]))
}

const namesOf = (c: Context): string =>
  connectorsFor(c.settings.outside, 'work')
    .map(x => x.name)
    .join(' and ')

/**
 * Queues the asking for the DOIs of all entries.
 * @throws Problem 422 where nobody can be asked, or for nothing
 */
export async function askRegistrations(
  c: Context,
  { inquiryId, userId }: Pick<Member, 'inquiryId' | 'userId'>,
  t: Transaction,
): Promise<{ job: number }> {
  if (!namesOf(c)) throw new Problem(422, 'no-index', 'Nobody who registers DOIs is set up here.')
  const { list } = await entriesOf(c, inquiryId)
  if (!list.some(e => doiOf(e.work))) throw new Problem(422, 'no-doi', 'No entry has a DOI on record.')
  return { job: await enqueue(c, 'registrations', inquiryId, userId, {}, t) }
}

/** Asks for each DOI of the entries that was not asked for lately; what came before a cancel or a failure stands. */
export async function runRegistrations(
  c: Context,
  { job, signal, progress }: JobHandle,
): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const day = await deskDay(c.db)
  const { list } = await entriesOf(c, inquiryId)
  const all = [...new Set(list.flatMap(e => doiOf(e.work) ?? []))]
  const known = await registrationsOf(c, all)
  const dois = all.filter(d => !(known.has(d) && known.get(d)!.day > addDays(day, -HOLDS) && known.get(d)!.day <= day))
  const names = namesOf(c)
  let [registered, amiss, inARow] = [0, 0, 0]
  let rows: DoiRegistrationRow[] = []
  const keep = async () => {
    if (!rows.length) return
    await change(c, inquiryId, transaction =>
      c.db.doiRegistrations.bulkCreate(rows, {
        updateOnDuplicate: ['source', 'item', 'facts', 'day'],
        transaction,
      }),
    )
    rows = []
  }
  try {
    for (const [i, doi] of dois.entries()) {
      signal.throwIfAborted()
      await progress({ done: i, of: dois.length })
      try {
        const found = await byDoi(c, doi, signal)
        const { where, item, facts } = found ?? { where: firstLetters(names, 500), item: null, facts: {} }
        rows.push({ doi, source: where, item, facts, day })
        if (found) registered++
        inARow = 0
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        amiss++
        if (++inARow >= IN_A_ROW || dois.length === amiss)
          throw new OutsideError(`${e.message} What came before is kept; ask again to go on.`, e.again, e.afterSeconds)
      }
      if (rows.length >= TOGETHER) await keep()
    }
  } finally {
    await keep()
  }
  return { asked: dois.length, registered, amiss, known: all.length - dois.length }
}
