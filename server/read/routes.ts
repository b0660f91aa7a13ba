import { Router } from 'express'
import { number, object, string } from 'yup'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import { readBlob, sizeOfBlob } from '../inquiries/blobs'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { uuid } from '../pool/uuid'
import { check, notFound, Problem } from '../problem'

const kinds = ['quoted', 'in my words'] as const
const newPassage = object({
  /** Made by the client: sent twice, it is noted once. */
  id: uuid,
  page: number().integer().min(1).required(),
  kind: string().oneOf(kinds).required(),
  quote: string().max(20_000).default(''),
  note: string().max(20_000).default(''),
})

/** Read: the stored copy and the passages taken from it. */
export function readRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const copyOf = async (inquiryId: number, id: unknown) => {
    const row = await c.db.copies.findOne({ where: { id: Number(id), inquiryId }, raw: true })
    if (!row) throw notFound()
    return row
  }

  router.get('/copies/:copy/file', async (req, res) => {
    const row = await copyOf(inquiryOf(req), req.params.copy)
    const size = await sizeOfBlob(c.db, row.hash)
    res.set({
      ETag: `"${row.hash}"`,
      // asked for each time, so that it is shown to nobody whose right has ended; unchanged, it is not sent again
      'Cache-Control': 'private, no-cache',
      'Accept-Ranges': 'bytes',
      'Content-Disposition': `inline; filename="copy-${row.id}.pdf"`,
    })
    if (req.fresh) return void res.status(304).end()
    res.type('application/pdf')
    const asked = req.get('If-Range') && req.get('If-Range') !== `"${row.hash}"` ? undefined : req.range(size)
    // several ranges at once are answered with the whole, as the standard allows
    if (asked === undefined || asked === -2 || (Array.isArray(asked) && (asked.type !== 'bytes' || asked.length > 1)))
      return void res.send(await readBlob(c.db, row.hash))
    if (asked === -1) return void res.set('Content-Range', `bytes */${size}`).status(416).end()
    const { start, end } = asked[0]!
    res.status(206).set('Content-Range', `bytes ${start}-${end}/${size}`)
    res.send(await readBlob(c.db, row.hash, start, end + 1))
  })

  router.get('/copies/:copy', async (req, res) => {
    const row = await copyOf(inquiryOf(req), req.params.copy)
    const passages = await c.db.passages.findAll({ where: { copyId: row.id }, order: ['page', 'id'], raw: true })
    const work = await c.db.works.findByPk(row.workId, { attributes: ['id', 'item'], raw: true })
    res.json({
      id: row.id,
      work: row.workId,
      title: work?.item.title ?? 'Untitled',
      item: work?.item,
      outcome: row.outcome,
      version: row.version,
      pages: row.pages,
      labels: row.labels,
      proof: row.proof,
      origin: row.origin,
      passages,
    })
  })

  router.post('/copies/:copy/passages', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const row = await copyOf(inquiryId, req.params.copy)
    const given = check(newPassage, req.body)
    if (given.page > row.pages) throw new Problem(422, 'invalid', `The copy has ${row.pages} pages.`)
    if (given.kind === 'quoted' && !given.quote.trim())
      throw new Problem(422, 'invalid', 'Select the words you quote.', {
        fields: [{ field: 'quote', said: 'Select the words you quote.' }],
      })
    if (given.kind === 'in my words' && !given.note.trim())
      throw new Problem(422, 'invalid', 'Write down what it says, in your words.', {
        fields: [{ field: 'note', said: 'Write something.' }],
      })
    const label = row.labels[given.page - 1] ?? String(given.page)
    await answerOnce(c, req, res, 201, async t => {
      const ownId = given.id ?? null
      const there = ownId && (await c.db.passages.findOne({ where: { ownId }, transaction: t, raw: true }))
      if (there && there.copyId !== row.id)
        throw new Problem(409, 'id-reused', 'This id stands for another passage that was noted before.')
      if (there) return there
      const made = await c.db.passages.create(
        {
          ownId,
          inquiryId,
          workId: row.workId,
          copyId: row.id,
          page: given.page,
          label,
          kind: given.kind,
          quote: given.quote,
          note: given.note,
        },
        { transaction: t },
      )
      return (await c.db.passages.findByPk(made.id, { transaction: t, raw: true }))!
    })
  })

  router.patch('/passages/:passage', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const given = check(object({ note: string().max(20_000), kind: string().oneOf(kinds) }), req.body)
    const id = Number(req.params.passage)
    await change(c, inquiryId, t => c.db.passages.update(given, { where: { id, inquiryId }, transaction: t }))
    const row = await c.db.passages.findOne({ where: { id, inquiryId }, raw: true })
    if (!row) throw notFound()
    res.json(row)
  })

  router.delete('/passages/:passage', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const gone = await change(c, inquiryId, t =>
      c.db.passages.destroy({ where: { id: Number(req.params.passage), inquiryId }, transaction: t }),
    )
    if (!gone) throw notFound()
    res.status(204).end()
  })
  return router
}
