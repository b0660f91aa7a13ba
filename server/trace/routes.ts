import { Router } from 'express'
import { array, object, string } from 'yup'
import { normaliseDoi } from '../../core/bib/identifiers'
import { appraise } from '../../core/appraise/kind'
import { citationsPerYear } from '../../core/trails/rate'
import { yearOf } from '../../core/bib/dates'
import { clean } from '../../core/bib/clean'
import type { Facts, Item } from '../../core/bib/item'
import { mendItem } from '../../core/bib/mend-item'
import type { Context } from '../context'
import type { TrailRow } from '../db/models'
import { requireSuccess, OutsideError } from '../connect/http'
import { inquiryOf, memberOf, userOf } from '../accounts/accounts'
import { hashOf } from '../hash'
import { addMissing } from '../db/rows'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { worksByIdentifier } from '../pool/blocks'
import { pool } from '../pool/pool'
import { recordOf } from '../pool/record'
import { check, notFound, Problem } from '../problem'

interface Neighbour {
  item: Item
  citedBy?: number
  references?: number
  genre?: string
  refereedVenue?: boolean
}

const PAGE = 100
/** Neighbours read of one trail; the count is always that of the citation index. */
const MOST = 500

const factsOf = (n: Neighbour): Facts => ({
  ...(n.genre ? { genre: n.genre } : {}),
  ...(n.refereedVenue !== undefined ? { refereedVenue: n.refereedVenue } : {}),
  ...(n.references !== undefined ? { referenceCount: n.references } : {}),
  ...(n.citedBy !== undefined ? { citedByCount: n.citedBy } : {}),
})
const keyOf = (n: Neighbour): string => normaliseDoi(n.item.DOI) ?? hashOf(JSON.stringify(n.item)).slice(0, 40)

/** Trace: trails from a kept work to its references and to what cites it. */
export function traceRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.get('/works/:work/trails/:direction', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const direction = req.params.direction
    if (direction !== 'references' && direction !== 'cited-by') throw notFound()
    const work = await c.db.works.findOne({ where: { id: Number(req.params.work), inquiryId }, raw: true })
    if (!work) throw notFound()
    const kept = await c.db.trails.findOne({ where: { workId: work.id, direction }, raw: true })
    if (!kept && memberOf(res).role !== 'owner')
      throw new Problem(409, 'not-walked', 'This trail was not walked yet. Who owns the inquiry can walk it.')
    const trail = kept ?? (await follow(c, inquiryId, work.id, work.item, direction))
    const neighbours = JSON.parse(trail.neighbours) as Neighbour[]
    const today = memberOf(res).day
    const works = await worksByIdentifier(c, inquiryId, neighbours.map(n => n.item)) // prettier-ignore
    const lines = neighbours.map((n, i) => {
      const facts = factsOf(n)
      const a = appraise(n.item, facts)
      return {
        key: keyOf(n),
        item: n.item,
        kind: a.kind,
        confidence: a.confidence,
        citedBy: n.citedBy ?? null,
        perYear: citationsPerYear(n.citedBy, yearOf(n.item), today) ?? null,
        work: works[i] ?? null,
      }
    })
    lines.sort((x, y) => (y.perYear ?? -1) - (x.perYear ?? -1) || (y.citedBy ?? 0) - (x.citedBy ?? 0))
    res.json({ total: trail.total, from: c.settings.outside.citations.name, neighbours: lines })
  })

  router.post('/works/:work/trails/:direction', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { keys } = check(
      object({ keys: array(string().required()).min(1, 'Choose at least one work.').max(500).required() }),
      req.body,
    )
    const trail = await c.db.trails.findOne({
      where: { workId: Number(req.params.work), inquiryId, direction: req.params.direction },
      raw: true,
    })
    if (!trail) throw new Problem(409, 'not-walked', 'Open this trail first.')
    const chosen = (JSON.parse(trail.neighbours) as Neighbour[]).filter(n => keys.includes(keyOf(n)))
    if (!chosen.length) throw new Problem(422, 'unknown-neighbour', 'None of these works is on this trail.')
    const userId = userOf(req)
    await answerOnce(c, req, res, 201, async (t, revision) => {
      const rows = chosen.map(n => {
        const given = { item: n.item, facts: factsOf(n), raw: JSON.stringify(n), format: 'CSL-JSON' }
        return { inquiryId, source: 'trail', ...recordOf(given, keyOf(n)) }
      })
      await addMissing(c.db.records, rows, 'source', t)
      const stored = await c.db.records.findAll({
        where: { inquiryId, source: 'trail', rawHash: rows.map(r => r.rawHash) },
        attributes: ['id'],
        transaction: t,
        raw: true,
      })
      return pool(
        c,
        inquiryId,
        stored.map(s => s.id),
        { how: 'trail', userId },
        t,
        revision,
      )
    })
  })
  return router
}

/** One page of a trail as it came: items in the shape of the schema, what is none left out, numbers that are numbers. */
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

async function follow(
  c: Context,
  inquiryId: number,
  workId: number,
  item: Item,
  direction: TrailRow['direction'],
): Promise<TrailRow> {
  const name = c.settings.outside.citations.name
  const doi = normaliseDoi(item.DOI)
  if (!doi) throw new Problem(422, 'no-doi', `${name} finds works by DOI, and this one has none on record.`)
  const neighbours: Neighbour[] = []
  let total = 0
  try {
    for (let offset: number | undefined = 0; offset !== undefined && neighbours.length < MOST;) {
      const answer = await c.outside(
        `${c.settings.outside.citations.url}${encodeURIComponent(doi)}/${direction}?offset=${offset}&limit=${PAGE}`,
        { timeoutMs: 10_000, maxBytes: 3_000_000 },
      )
      if (answer.status === 404) throw new Problem(404, 'not-indexed', `${name} does not know this work.`)
      requireSuccess(answer)
      const page = readPage(answer.body.toString('utf8'))
      total = page.total
      neighbours.push(...page.items)
      offset = page.next
    }
  } catch (e) {
    if (e instanceof OutsideError)
      throw new Problem(502, 'outside', `${e.message} Your trails so far are kept; try again in a moment.`)
    if (e instanceof SyntaxError || e instanceof RangeError)
      throw new Problem(502, 'outside', `${name} sent an answer that cannot be read. Try again in a moment.`)
    throw e
  }
  const row = { workId, inquiryId, direction, total, neighbours: JSON.stringify(neighbours) }
  await change(c, inquiryId, t => c.db.trails.upsert(row, { transaction: t }))
  return { ...row, at: new Date() }
}
