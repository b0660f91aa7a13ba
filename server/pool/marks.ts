import { Router } from 'express'
import { isDeepStrictEqual } from 'node:util'
import { Op, type Transaction } from 'sequelize'
import { array, boolean, mixed, number, object, string } from 'yup'
import { KINDS, type Kind } from '../../core/appraise/kind'
import { readField } from '../../core/match/best-fields'
import { FACETS, type Limits } from '../../core/sift/limits'
import { FIELDS, PARTS, projectMarks, type Field, type Part } from '../../core/sift/marks'
import { inquiryOf, userOf } from '../accounts/accounts'
import type { Context } from '../context'
import { inParts } from '../db/rows'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { check, notFound, Problem } from '../problem'
import { heirsOf, lineOfMark, redescribe, worksAsked, writeAlike } from './describe'
import { workLines } from './lines'
import { rowId } from './row-id'
import { uuid } from './uuid'

const newMarks = object({
  group: uuid.required(),
  marks: array(
    object({
      id: uuid.required(),
      work: rowId.required(),
      about: string().trim().max(120).required(),
      value: mixed().nullable().defined(),
      /** What stood there when it was said, where that matters: a note of another window is not written over. */
      was: mixed().nullable(),
    }).required(),
  )
    .min(1)
    .max(5000)
    .required(),
})

const sameValue = (a: unknown, b: unknown): boolean => isDeepStrictEqual(a ?? null, b ?? null)

/** Why a mark cannot be taken; undefined where it can. */
function trouble(about: string, value: unknown): string | undefined {
  if (value === null) return undefined
  const at = about.indexOf(':')
  const [what, name] = at < 0 ? [about, ''] : [about.slice(0, at), about.slice(at + 1)]
  if (what === 'part') return PARTS.includes(value as Part) ? undefined : `A part is one of ${PARTS.join(', ')}.`
  if (what === 'kind') return KINDS.includes(value as Kind) ? undefined : 'There is no such kind.'
  if (what === 'note')
    return typeof value === 'string' && value.length <= 5000 ? undefined : 'A note is a text of at most 5,000 letters.'
  if (what === 'tag')
    return name.trim() && name.length <= 60 && typeof value === 'boolean'
      ? undefined
      : 'A tag is a word or two, of at most 60 letters.'
  if (what === 'strand') return typeof value === 'boolean' ? undefined : 'A work is on a strand or is not.'
  if (what === 'field' && FIELDS.includes(name as Field)) {
    const choice = value as Partial<{ record: number; text: string }>
    if (typeof choice.record === 'number') return undefined
    if (typeof choice.text === 'string' && choice.text.length <= 20_000 && readField(name as Field, choice.text))
      return undefined
    return 'A field is taken from a record of the work, or written by hand.'
  }
  return 'There is nothing of that name to be said of a work.'
}

/** What students say of works beside deciding on them; strands; saved views of the pool. */
export function markRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  router.post('/marks', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(newMarks, req.body)
    for (const m of given.marks) {
      const why = trouble(m.about, m.value)
      if (why) throw new Problem(422, 'not-understood', why)
    }
    const userId = userOf(req)
    const say = async (t: Transaction, revision: number) => {
      const heir = await worksAsked(
        c,
        inquiryId,
        given.marks.map(m => m.work),
        t,
      )
      const strands = given.marks.flatMap(m => (m.about.startsWith('strand:') ? Number(m.about.slice(7)) : []))
      if (strands.length) {
        const there = await c.db.strands.count({
          where: { inquiryId, gone: false, id: { [Op.in]: [...new Set(strands)] } },
          transaction: t,
        })
        if (there < new Set(strands).size) throw new Problem(422, 'unknown-strand', 'That strand is gone.')
      }
      for (const m of given.marks) {
        if (m.was === undefined || m.about !== 'note') continue
        const now = await c.db.works.findByPk(heir.get(m.work)!, { attributes: ['said'], transaction: t, raw: true })
        const note = now?.said?.note ?? null
        if (note !== (m.was || null) && note !== m.value)
          throw new Problem(409, 'changed-since', 'The note was changed in another window since. Yours is still here: copy it, then read theirs.', { note }) // prettier-ignore
      }
      const made = new Map(
        (await c.db.marks.findAll({ where: { id: given.marks.map(m => m.id) }, transaction: t, raw: true })).map(m => [
          m.id,
          m,
        ]),
      )
      for (const m of given.marks) {
        const there = made.get(m.id)
        if (there && !(there.inquiryId === inquiryId && there.about === m.about && sameValue(there.value, m.value)))
          throw new Problem(
            409,
            'id-reused',
            'This id stands for something else that was said before. Nothing was changed.',
          )
      }
      const fresh = given.marks.filter(m => !made.has(m.id))
      for (const part of inParts(fresh))
        await c.db.marks.bulkCreate(
          part.map(m => ({
            id: m.id,
            groupId: given.group,
            inquiryId,
            workId: heir.get(m.work)!,
            about: m.about,
            value: m.value ?? null,
            undoes: null,
            userId,
            revision,
          })),
          { transaction: t },
        )
      const ids = [...new Set(heir.values())]
      await projectSaid(c, inquiryId, ids, t, revision, given.marks.some(m => /^(kind|field)/.test(m.about))) // prettier-ignore
      return { revision, works: ids }
    }
    await answerOnce(c, req, res, 201, say, async done => ({
      ...done,
      works: await workLines(c, inquiryId, done.works),
    }))
  })

  router.get('/strands', async (req, res) => {
    res.json(
      await c.db.strands.findAll({
        where: { inquiryId: inquiryOf(req), gone: false },
        attributes: ['id', 'name', 'place'],
        order: ['place', 'id'],
        raw: true,
      }),
    )
  })

  const strandName = string().trim().max(80, 'A name may have 80 letters.').required('Give the strand a name.')

  router.post('/strands', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { name } = check(object({ name: strandName }), req.body)
    await answerOnce(c, req, res, 201, async t => {
      const rows = await c.db.strands.findAll({ where: { inquiryId, gone: false }, transaction: t, raw: true })
      refuseTwice(rows, name)
      const row = await c.db.strands.create(
        { inquiryId, name, place: Math.max(0, ...rows.map(r => r.place + 1)), gone: false },
        { transaction: t },
      )
      return { id: row.id, name: row.name, place: row.place }
    })
  })

  router.patch('/strands/:strand', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const id = Number(req.params.strand)
    const given = check(
      object({
        name: strandName.optional().default(undefined),
        /** A place in the order of strands, from 0. */
        place: number().integer().min(0).max(1000),
        gone: boolean(),
      }),
      req.body,
    )
    await change(c, inquiryId, async t => {
      const rows = await c.db.strands.findAll({
        where: { inquiryId },
        order: ['place', 'id'],
        transaction: t,
        raw: true,
      })
      if (!rows.some(r => r.id === id)) throw notFound()
      const others = rows.filter(r => r.id !== id && !r.gone)
      if (given.name) refuseTwice(others, given.name)
      const { place, ...rest } = given
      const now = Object.fromEntries(Object.entries(rest).filter(([, v]) => v !== undefined))
      if (Object.keys(now).length) await c.db.strands.update(now, { where: { id }, transaction: t })
      if (place === undefined) return
      const order = others.map(r => r.id)
      order.splice(place, 0, id)
      for (const [i, s] of order.entries())
        await c.db.strands.update({ place: i }, { where: { id: s }, transaction: t })
    })
    res.status(204).end()
  })

  router.get('/views', async (req, res) => {
    res.json(
      await c.db.poolViews.findAll({
        where: { inquiryId: inquiryOf(req) },
        attributes: ['id', 'name', 'limits', 'words'],
        order: ['name', 'id'],
        raw: true,
      }),
    )
  })

  router.post('/views', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(
      object({
        name: string().trim().max(80, 'A name may have 80 letters.').required('Give the view a name.'),
        limits: object(
          Object.fromEntries(FACETS.map(f => [f, array(string().max(300).required()).max(200)])),
        ).noUnknown(),
        words: string().trim().max(190).default(''),
      }),
      req.body,
    )
    await answerOnce(c, req, res, 201, async t => {
      const where = { inquiryId, name: given.name }
      const of = { limits: given.limits as Limits, words: given.words }
      const there = await c.db.poolViews.findOne({ where, transaction: t })
      const view = there
        ? await there.update(of, { transaction: t })
        : await c.db.poolViews.create({ ...where, ...of }, { transaction: t })
      return { id: view.id, name: view.name, limits: view.limits, words: view.words }
    })
  })

  router.delete('/views/:view', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const gone = await change(c, inquiryId, t =>
      c.db.poolViews.destroy({ where: { id: Number(req.params.view), inquiryId }, transaction: t }),
    )
    if (!gone) throw notFound()
    res.status(204).end()
  })
  return router
}

function refuseTwice(rows: readonly { name: string }[], name: string): void {
  if (rows.some(r => r.name.toLowerCase() === name.toLowerCase()))
    throw new Problem(409, 'name-taken', `There is a strand “${name}” already.`)
}

/** Writes what stands of works from the log of marks; those that change what a work is described as, describe it anew. */
export async function projectSaid(
  c: Context,
  inquiryId: number,
  workIds: readonly number[],
  t: Parameters<typeof redescribe>[3],
  revision: number,
  describes: boolean,
): Promise<void> {
  if (describes) return redescribe(c, inquiryId, workIds, t, revision)
  const heir = await heirsOf(c, inquiryId, workIds, t)
  const log = await c.db.marks.findAll({
    where: { inquiryId, workId: { [Op.in]: [...workIds, ...heir.keys()] } },
    order: ['n'],
    transaction: t,
    raw: true,
  })
  const said = projectMarks(log.map(m => lineOfMark(m, heir.get(m.workId) ?? m.workId)))
  await writeAlike(
    c,
    inquiryId,
    workIds,
    id => {
      const of = said.get(id)
      return { said: of && Object.keys(of).length ? of : null, revision }
    },
    t,
  )
}
