import type { Transaction } from 'sequelize'
import { normaliseDoi } from '../../core/bib/identifiers'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { askConnectorOnce, connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import { change } from '../db/revision'
import { enqueue, type JobHandle } from '../jobs/queue'
import type { By } from '../deeds/deeds-service'

/** Counts that are kept together: what came before a cancel or a failure stands. */
const TOGETHER = 20

/** Queues the asking. @throws Problem 422 where nobody can be asked */
export async function askCitations(
  c: Context,
  { inquiryId, userId }: Pick<By, 'inquiryId' | 'userId'>,
  t: Transaction,
): Promise<{ job: number }> {
  indexOf(c)
  return { job: await enqueue(c, 'citations', inquiryId, userId, {}, t) }
}

function indexOf(c: Context) {
  const index = connectorsFor(c.settings.outside, 'counts')[0]
  if (!index) throw new Problem(422, 'no-index', 'No citation index that counts is set up here.')
  return index
}

/**
 * Asks the citation index how often each work of the pool is cited: those never asked for first, so that one that broke
 * off goes on where it was.
 */
export async function runCitations(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const index = indexOf(c)
  const rows = await c.db.works.scope('living').findAll({
    where: { inquiryId },
    attributes: ['id', 'item', 'citedAt'],
    order: [['citedAt', 'ASC'], 'id'],
    raw: true,
  })
  const works = rows.flatMap(({ id, item }) => {
    const doi = normaliseDoi(item.DOI)
    return doi ? [{ id, doi }] : []
  })
  let known = 0
  const keep = async (counts: { id: number; citedBy: number | null }[]) => {
    if (!counts.length) return
    await change(c, inquiryId, async (transaction, revision) => {
      for (const { id, citedBy } of counts)
        await c.db.works.update({ citedBy, citedAt: new Date(), revision }, { where: { id, inquiryId }, transaction })
    })
  }
  let counts: { id: number; citedBy: number | null }[] = []
  try {
    for (const [i, { id, doi }] of works.entries()) {
      signal.throwIfAborted()
      const page = await askConnectorOnce(c, index, 'counts', { doi }, signal)
      const citedBy = page?.records[0]?.facts.citedByCount ?? null
      if (citedBy !== null) known++
      counts.push({ id, citedBy })
      if (counts.length < TOGETHER) continue
      await keep(counts)
      counts = []
      await progress({ done: i + 1, of: works.length })
    }
  } catch (e) {
    await keep(counts)
    if (e instanceof OutsideError)
      throw new Problem(502, 'outside', `${e.message} The counts that came before are kept; ask again to go on.`)
    throw e
  }
  await keep(counts)
  return { asked: works.length, known, withoutDoi: rows.length - works.length }
}
