import { Router } from 'express'
import { number, object, string } from 'yup'
import { inquiryOf } from '../accounts/accounts'
import type { Context } from '../context'
import { readBlob } from '../inquiries/blobs'
import { change } from '../inquiries/revision'
import { check, notFound, Problem } from '../problem'

const kinds = ['quoted', 'in my words'] as const
const newPassage = object({
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
    res.set({
      ETag: `"${row.hash}"`,
      'Cache-Control': 'private, max-age=86400',
      'Content-Disposition': `inline; filename="copy-${row.id}.pdf"`,
      'X-Content-Type-Options': 'nosniff',
    })
    if (req.get('If-None-Match') === `"${row.hash}"`) return void res.status(304).end()
    res.type('application/pdf').send(await readBlob(c.db, row.hash))
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
    const made = await change(c, inquiryId, t =>
      c.db.passages.create(
        {
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
      ),
    )
    res.status(201).json(await c.db.passages.findByPk(made.id, { raw: true }))
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
