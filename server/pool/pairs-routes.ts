import { randomUUID } from 'node:crypto'
import { Router } from 'express'
import { Op } from 'sequelize'
import { object, string } from 'yup'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import type { RecordRow } from '../db/models'
import { answerOnce } from '../once'
import { check } from '../problem'
import { sourceName } from './lines'
import { answerPair } from './pairs'
import { rowId } from './row-id'
import { uuid } from './uuid'

const answer = object({
  a: rowId.required(),
  b: rowId.required(),
  verdict: string()
    .oneOf(['same', 'never', 'asked', 'linked'] as const)
    .required(),
  /** By which it can be taken back later. */
  group: uuid,
})

/** Pairs of works that may be one, and what the student says of them. */
export function pairRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  /** Pairs of works that may be one, the likeliest first; one question for each pair of works. */
  router.get('/twins', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const links = await c.db.pairLinks.findAll({
      where: { inquiryId, verdict: 'asked' },
      order: [['score', 'DESC'], 'a', 'b'],
      raw: true,
    })
    const records = await c.db.records.findAll({
      where: { inquiryId, id: { [Op.in]: [...new Set(links.flatMap(l => [l.a, l.b]))] }, workId: { [Op.ne]: null } },
      attributes: ['id', 'workId', 'source', 'item', 'facts'],
      raw: true,
    })
    const byId = new Map(records.map(r => [r.id, r]))
    const pairs = new Map<string, object>()
    for (const l of links) {
      const [a, b] = [byId.get(l.a), byId.get(l.b)]
      if (!a || !b || a.workId === b.workId) continue
      const key = [a.workId, b.workId].sort((x, y) => x! - y!).join('-')
      const side = (r: RecordRow) => ({
        record: r.id,
        work: r.workId,
        source: sourceName(c, r.source),
        item: r.item,
        facts: r.facts,
      })
      if (!pairs.has(key)) pairs.set(key, { a: side(a), b: side(b), score: l.score })
    }
    res.json([...pairs.values()])
  })

  /** What a student says of a pair of records; "asked" takes an answer back. */
  router.post('/links', async (req, res) => {
    const by = { inquiryId: inquiryOf(req), userId: userOf(req) }
    const given = check(answer, req.body)
    const group = given.group ?? randomUUID()
    await answerOnce(c, req, res, 201, async (t, revision) => ({
      works: await answerPair(c, { ...by, revision }, { ...given, group }, t),
      group,
    }))
  })
  return router
}
