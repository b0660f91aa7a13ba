import { Op, type Transaction } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { Anchors } from '../../core/pdftext/anchor'
import type { api } from '../../core/schema/api'
import type { BodyOf } from '../../core/schema/api/endpoint'
import type { Context } from '../base/context'
import { readBlob, sizeOfBlob } from '../db/blobs'
import type { CopyRow } from '../obtain/obtain-model'
import { notFound, Problem } from '../base/problem'

/** A row of an inquiry. */
type Where = Pick<CopyRow, 'id' | 'inquiryId'>

async function copyOf(c: Context, where: Where): Promise<CopyRow> {
  const row = await c.db.copies.findOne({ where, raw: true })
  if (!row) throw notFound()
  return row
}

/** A copy with its page labels, proof and passages. */
export async function copyInFull(c: Context, where: Where) {
  const { id, workId, outcome, version, pages, labels, proof, origin, scanned } = await copyOf(c, where)
  const [passages, work] = await Promise.all([
    c.db.passages.findAll({ where: { copyId: id }, order: ['page', 'id'], raw: true }),
    c.db.works.findByPk(workId, { attributes: ['item'], raw: true }),
  ])
  const { item } = work ?? {}
  return {
    ...{ id, outcome, version, pages, labels, proof, origin, scanned, passages },
    work: workId,
    title: plainTitle(item?.title),
    ...(item ? { item } : {}),
  }
}

/** The copies whose words can be searched: those that are their works, or may be. */
export async function searchable(c: Context, inquiryId: number) {
  const copies = await c.db.copies.findAll({
    where: { inquiryId, outcome: ['proved', 'doubtful'] },
    attributes: ['id', 'workId', 'version', 'outcome', 'labels', 'scanned'],
    order: ['id'],
    raw: true,
  })
  const works = await c.db.works.findAll({
    where: { id: copies.map(x => x.workId) },
    attributes: ['id', 'item'],
    raw: true,
  })
  const byId = new Map(works.map(w => [w.id, w.item]))
  return copies.map(({ workId, ...x }) => {
    const item = byId.get(workId)
    return {
      ...x,
      work: workId,
      title: plainTitle(item?.title),
      authors: authorLine(item?.author ?? item?.editor, 2),
      year: (item && yearOf(item)) ?? null,
    }
  })
}

/** The words of a copy, page by page. */
export async function copyText(c: Context, where: Where) {
  const { id, pages } = await copyOf(c, where)
  return { pages: await pagesOf(c, id, pages) }
}

async function pagesOf(c: Context, copyId: number, pages: number): Promise<string[]> {
  const rows = await c.db.copyPages.findAll({ where: { copyId }, raw: true })
  const byPage = new Map(rows.map(r => [r.page, r.content]))
  return Array.from({ length: pages }, (_, i) => byPage.get(i + 1) ?? '')
}

/** Passages of the other copies of a copy's work, found again in its text. */
export async function passagesElsewhere(c: Context, where: Where) {
  const { id, workId, pages, labels } = await copyOf(c, where)
  const others = await c.db.copies.findAll({
    where: { workId, id: { [Op.ne]: id }, outcome: ['proved', 'doubtful'] },
    attributes: ['id', 'version'],
    raw: true,
  })
  const versionOf = new Map(others.map(o => [o.id, o.version]))
  const passages = await c.db.passages.findAll({
    // what is in the student's own words stands in no text
    where: { copyId: [...versionOf.keys()], quote: { [Op.ne]: '' } },
    order: ['page', 'id'],
    raw: true,
  })
  if (!passages.length) return []
  const text = new Anchors(await pagesOf(c, id, pages))
  return passages.map(passage => {
    const { selectors, quote, copyId } = passage
    const place = text.again(selectors ?? [{ type: 'TextQuoteSelector', exact: quote, prefix: '', suffix: '' }])
    const here = place && {
      ...{ page: place.page, exact: place.exact, fit: place.fit },
      label: labels[place.page - 1] ?? String(place.page),
    }
    return { passage, version: versionOf.get(copyId)!, here: here ?? null }
  })
}

/** The file of a copy, to be read whole or in part. */
export async function fileOfCopy(c: Context, where: Where) {
  const { id, hash } = await copyOf(c, where)
  const read = (from?: number, to?: number) => readBlob(c.db, hash, from, to)
  return { id, hash, size: await sizeOfBlob(c.db, hash), read }
}

/** Notes a passage; one that was sent before, by its own id, is there already. */
export async function notePassage(
  c: Context,
  where: Where,
  { id: ownId = undefined, page, kind, quote = '', note = '', boxes = [] }: BodyOf<typeof api.notePassage>,
  t: Transaction,
) {
  const { id: copyId, inquiryId, workId, pages, labels } = await copyOf(c, where)
  const invalid = (said: string, field: string, word = said) =>
    new Problem(422, 'invalid', said, { fields: [{ field, said: word }] })
  if (page > pages) throw invalid(`The copy has ${pages} pages.`, 'page')
  if (kind === 'quoted' && !quote.trim()) throw invalid('Select the words you quote.', 'quote')
  if (kind === 'in my words' && !note.trim())
    throw invalid('Write down what it says, in your words.', 'note', 'Write something.')
  const there = ownId && (await c.db.passages.findOne({ where: { ownId }, transaction: t, raw: true }))
  if (there && there.copyId !== copyId)
    throw new Problem(409, 'id-reused', 'This id stands for another passage that was noted before.')
  if (there) return there
  const label = labels[page - 1] ?? String(page)
  const selectors = quote.trim() ? new Anchors(await pagesOf(c, copyId, pages)).select(quote, page, boxes) : null
  const of = { ownId: ownId ?? null, inquiryId, workId, copyId, page, label, kind, quote, note, selectors }
  const made = await c.db.passages.create(of, { transaction: t })
  return (await c.db.passages.findByPk(made.id, { transaction: t, raw: true }))!
}

export async function changePassage(c: Context, where: Where, given: BodyOf<typeof api.changePassage>, t: Transaction) {
  const now = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined))
  if (Object.keys(now).length) await c.db.passages.update(now, { where, transaction: t })
  const row = await c.db.passages.findOne({ where, transaction: t, raw: true })
  if (!row) throw notFound()
  return row
}

export async function dropPassage(c: Context, where: Where, t: Transaction): Promise<void> {
  if (!(await c.db.passages.destroy({ where, transaction: t }))) throw notFound()
}
