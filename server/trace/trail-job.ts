import { clean } from '../../core/bib/clean'
import { normaliseDoi } from '../../core/bib/identifiers'
import { mendItem } from '../../core/bib/mend-item'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../base/problem'
import type { Neighbour } from './trails-service'
import type { TrailRow } from './trails-model'

const PAGE = 100
/** Neighbours read of one trail; the count is always that of the citation index. */
const MOST = 500

/** Walks a trail: asks the citation index for what a work refers to, or for what cites it, page by page. */
export async function runTrail(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const { work: workId, direction } = job.payload as { work: number; direction: TrailRow['direction'] }
  const work = await c.db.works.findOne({ where: { id: workId, inquiryId }, attributes: ['item'], raw: true })
  if (!work) throw new Problem(404, 'gone', 'The work is gone.')
  const { name, url } = c.settings.outside.citations
  const doi = normaliseDoi(work.item.DOI)
  if (!doi) throw new Problem(422, 'no-doi', `${name} finds works by DOI, and this one has none on record.`)
  const neighbours: Neighbour[] = []
  let total = 0
  try {
    for (let offset: number | undefined = 0; offset !== undefined && neighbours.length < MOST;) {
      signal.throwIfAborted()
      const answer = await c.outside(`${url}${encodeURIComponent(doi)}/${direction}?offset=${offset}&limit=${PAGE}`, {
        timeoutMs: 10_000,
        maxBytes: 3_000_000,
        signal,
      })
      if (answer.status === 404) return { work: workId, direction, known: false }
      requireSuccess(answer)
      const page = readPage(answer.body.toString('utf8'))
      total = page.total
      neighbours.push(...page.items)
      offset = page.next
      await progress({ done: neighbours.length, of: Math.min(total, MOST) })
    }
  } catch (e) {
    // what was there before stands
    if (e instanceof OutsideError)
      throw new Problem(502, 'outside', `${e.message} Your trails so far are kept; try again in a moment.`)
    if (e instanceof SyntaxError || e instanceof RangeError)
      throw new Problem(502, 'outside', `${name} sent an answer that cannot be read. Try again in a moment.`)
    throw e
  }
  const row = { workId, inquiryId, direction, total, neighbours: JSON.stringify(neighbours), at: new Date() }
  await change(c, inquiryId, t => c.db.trails.upsert(row, { transaction: t }))
  return { work: workId, direction, known: true, total }
}

/**
 * One page of a trail as it came: items in the shape of the schema, what is none left out, numbers that are numbers.
 */
function readPage(text: string): { total: number; items: Neighbour[]; next: number | undefined } {
  const page = clean(JSON.parse(text)) as { total?: unknown; items?: unknown; next?: unknown }
  const whole = (v: unknown): number | undefined =>
    Number.isSafeInteger(v) && (v as number) >= 0 ? (v as number) : undefined
  const items = (Array.isArray(page.items) ? page.items : []).flatMap((n: unknown, i): Neighbour[] => {
    const given = (typeof n === 'object' && n !== null ? n : {}) as Record<string, unknown>
    const read = mendItem(given.item, `n${i}`)
    if ('why' in read) return []
    const [citedBy, references] = [whole(given.citedBy), whole(given.references)]
    return [
      {
        item: read.item,
        ...(citedBy === undefined ? {} : { citedBy }),
        ...(references === undefined ? {} : { references }),
        ...(typeof given.genre === 'string' ? { genre: given.genre } : {}),
        ...(typeof given.refereedVenue === 'boolean' ? { refereedVenue: given.refereedVenue } : {}),
      },
    ]
  })
  return { total: whole(page.total) ?? items.length, items, next: items.length ? whole(page.next) : undefined }
}
