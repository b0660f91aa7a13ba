import { Router } from 'express'
import { Op, type Transaction } from 'sequelize'
import { object } from 'yup'
import { contradictions } from '../../core/sift/log'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import type { PairLinkRow } from '../db/models'
import { answerOnce } from '../once'
import { check, notFound, Problem } from '../problem'
import { lineOfMark } from './describe'
import { workLines } from './lines'
import { projectSaid } from './marks'
import { projectStates, rebuild } from './pool'
import { uuid } from './uuid'

/** What a line of the log says of a pair of records, and how the links it changed stood before. */
export interface PairSaid {
  verdict: PairLinkRow['verdict']
  before: PairLinkRow[]
}

/** Takes back what was decided, said or joined together, wherever nothing later spoke of the same. */
export function undoRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  router.post('/undo', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { group, id } = check(object({ group: uuid.required(), id: uuid.required() }), req.body)
    const by = { id, groupId: id, inquiryId, undoes: group, userId: userOf(req) }
    const takeBack = async (t: Transaction, revision: number) => {
      const decided = await undoDecisions(c, { ...by, revision }, t)
      const said = await undoMarks(c, { ...by, revision }, t)
      const works = [...new Set([...decided, ...said])]
      if (!works.length) throw notFound()
      return { revision, works }
    }
    await answerOnce(c, req, res, 201, takeBack, async done => ({
      ...done,
      works: await workLines(c, inquiryId, done.works),
    }))
  })
  return router
}

interface Undo {
  id: string
  groupId: string
  inquiryId: number
  undoes: string
  userId: number
  revision: number
}

const refuse = (works: number[]): never => {
  throw new Problem(
    409,
    'decided-since',
    'This cannot be undone: the work was decided again since. Undo the later decision first.',
    { works },
  )
}

async function undoDecisions(c: Context, undo: Undo, t: Transaction): Promise<number[]> {
  const { inquiryId, revision, undoes } = undo
  const lines = await c.db.decisions.findAll({
    where: { inquiryId, groupId: undoes, undoes: null },
    transaction: t,
    raw: true,
  })
  if (!lines.length) return []
  const works = [...new Set(lines.map(l => l.workId))]
  // taken back already: once more changes nothing
  if (await c.db.decisions.count({ where: { inquiryId, undoes }, transaction: t })) return works
  const log = await c.db.decisions.findAll({
    where: { inquiryId, workId: { [Op.in]: works } },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  const blocked = contradictions(
    log.map(d => ({ group: d.groupId, work: d.workId, pass: d.pass, undoes: d.undoes })),
    undoes,
    d => d.pass,
  )
  if (blocked.length) refuse(blocked)
  await c.db.decisions.bulkCreate(
    [...new Map(lines.map(l => [l.workId, l])).values()].map((l, i) => ({
      ...undo,
      id: i ? crypto.randomUUID() : undo.id,
      workId: l.workId,
      pass: l.pass,
      choice: null,
    })),
    { transaction: t },
  )
  await projectStates(c, inquiryId, works, t, revision)
  return works
}

async function undoMarks(c: Context, undo: Undo, t: Transaction): Promise<number[]> {
  const { inquiryId, revision, undoes } = undo
  const lines = await c.db.marks.findAll({
    where: { inquiryId, groupId: undoes, undoes: null },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  if (!lines.length) return []
  const works = [...new Set(lines.map(l => l.workId))]
  if (await c.db.marks.count({ where: { inquiryId, undoes }, transaction: t })) return works
  const log = await c.db.marks.findAll({
    where: { inquiryId, workId: { [Op.in]: works } },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  const blocked = contradictions(
    log.map(m => ({ ...lineOfMark(m), undoes: m.undoes })),
    undoes,
    m => m.about,
  )
  if (blocked.length) refuse(blocked)
  await c.db.marks.bulkCreate(
    works.map((workId, i) => ({
      ...undo,
      id: i ? crypto.randomUUID() : undo.id,
      workId,
      about: lines[0]!.about,
      value: null,
    })),
    { transaction: t },
  )
  // links go back to how they stood, the last changed first
  const pairs = lines.filter(l => l.about.startsWith('pair:')).reverse()
  const touched = new Set(works)
  for (const l of pairs) {
    const { before } = l.value as PairSaid
    const [a, b] = l.about.slice(5).split('-').map(Number)
    if (!before.some(x => x.a === a && x.b === b))
      await c.db.pairLinks.destroy({ where: { inquiryId, a: a!, b: b! }, transaction: t })
    for (const link of before) await c.db.pairLinks.upsert(link, { transaction: t })
    for (const w of (await rebuild(c, inquiryId, [a!, b!], t, revision)).values()) touched.add(w)
  }
  const said = lines.some(l => /^(kind|field)/.test(l.about))
  if (pairs.length < lines.length) await projectSaid(c, inquiryId, works, t, revision, said)
  return [...touched]
}
