import { normaliseDoi } from '../../core/bib/identifiers'
import type { ReadRecord } from '../../core/bib/item'
import { askConnector, connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import type { Neighbour } from './trails-service'
import type { TrailRow } from './trails-model'

/** Neighbours read of one trail; the count is always that of the citation index. */
const MOST = 500

/** Walks a trail: asks the citation index for what a work refers to, or for what cites it, page by page. */
export async function runTrail(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const { work: workId, direction } = job.payload as { work: number; direction: TrailRow['direction'] }
  const work = await c.db.works.findOne({ where: { id: workId, inquiryId }, attributes: ['item'], raw: true })
  if (!work) throw new Problem(404, 'gone', 'The work is gone.')
  const call = direction === 'references' ? 'references' : 'citedBy'
  const index = connectorsFor(c.settings.outside, call)[0]
  if (!index) throw new Problem(422, 'no-index', 'No citation index is set up here.')
  const doi = normaliseDoi(work.item.DOI)
  if (!doi) throw new Problem(422, 'no-doi', `${index.name} finds works by DOI, and this one has none on record.`)
  const neighbours: Neighbour[] = []
  let total: number | undefined
  try {
    for await (const page of askConnector(c, index, call, { doi }, signal)) {
      neighbours.push(...page.records.map(neighbourOf))
      total = page.total ?? neighbours.length
      await progress({ done: neighbours.length, of: Math.min(total, MOST) })
      if (neighbours.length >= MOST) break
    }
  } catch (e) {
    // what was there before stands
    if (e instanceof OutsideError)
      throw new Problem(502, 'outside', `${e.message} Your trails so far are kept; try again in a moment.`)
    throw e
  }
  if (total === undefined) return { work: workId, direction, known: false }
  const row = { workId, inquiryId, direction, total, neighbours: JSON.stringify(neighbours), at: new Date() }
  await change(c, inquiryId, t => c.db.trails.upsert(row, { transaction: t }))
  return { work: workId, direction, known: true, total }
}

function neighbourOf({ item, facts }: ReadRecord): Neighbour {
  const { genre, refereedVenue, citedByCount: citedBy, referenceCount: references } = facts
  return {
    item,
    ...(citedBy === undefined ? {} : { citedBy }),
    ...(references === undefined ? {} : { references }),
    ...(genre === undefined ? {} : { genre }),
    ...(refereedVenue === undefined ? {} : { refereedVenue }),
  }
}
