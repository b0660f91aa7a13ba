import { createHash } from 'node:crypto'
import type { Transaction } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { fold } from '../../core/bib/fold'
import { authorLine } from '../../core/bib/names'
import { plainText } from '../../core/cite/rich-text'
import { Anchors } from '../../core/pdftext/anchor'
import type { api } from '../../core/schema/api'
import type { BodyOf } from '../../core/schema/api/endpoint'
import { passagesAsAnnotations, passagesAsText, type ToldPassage } from '../../core/write/passages'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { inParts } from '../db/rows'
import { citesOf } from '../styles/format'
import { listForCiting } from '../compose/printed-list'
import type { CopyRow } from '../copies/copies-model'
import type { PassageRow } from './passages-model'
import { readableCopy, type AskedCopy } from '../copies/copy-rights'
import { pagesOf } from '../copies/texts'

/** A row of an inquiry. */
type Where = Pick<CopyRow, 'id' | 'inquiryId'>

const invalid = (said: string, field: string, word = said) =>
  new Problem(422, 'invalid', said, { fields: [{ field, said: word }] })

/** What a passage of a kind cannot be without. @throws Problem 422 */
function needs({ kind, quote, note }: Pick<PassageRow, 'kind' | 'quote' | 'note'>): void {
  if (kind === 'quoted' && !quote.trim()) throw invalid('Select the words you quote.', 'quote')
  if (kind === 'in my words' && !note.trim())
    throw invalid('Write down what it says, in your words.', 'note', 'Write something.')
}

/** Notes a passage; one that was sent before, by its own id, is there already. */
export async function notePassage(
  c: Context,
  asked: AskedCopy,
  given: BodyOf<typeof api.notePassage>,
  t: Transaction,
): Promise<PassageRow> {
  const { id: ownId = null, page, kind, quote = '', note = '', strand = null, tags = [], boxes = [] } = given
  const { id: copyId, inquiryId, workId, pages, labels } = await readableCopy(c, asked)
  if (page > pages) throw invalid(`The copy has ${pages} pages.`, 'page')
  if (kind === 'figure' && !boxes.length) throw invalid('Draw a box around the figure.', 'boxes')
  needs({ kind, quote, note })
  await refuseForeign(c, inquiryId, strand, t)
  const there = ownId && (await c.db.passages.findOne({ where: { ownId }, transaction: t, raw: true }))
  if (there && there.copyId !== copyId)
    throw new Problem(409, 'id-reused', 'This id stands for another passage that was noted before.')
  if (there) return there
  const label = labelOver({ pages, labels }, page, boxes)
  const marked = quote.trim() || boxes.length
  const selectors = marked ? new Anchors(await pagesOf(c, copyId, pages)).select(quote, page, boxes) : null
  const of = { ownId, inquiryId, workId, copyId, page, label, kind, quote, note, strandId: strand, tags, selectors }
  const made = await c.db.passages.create(of, { transaction: t })
  return (await c.db.passages.findByPk(made.id, { transaction: t, raw: true }))!
}

/** How the page, or the pages, of a passage are called. */
export function labelOver(
  { pages, labels }: Pick<CopyRow, 'pages' | 'labels'>,
  page: number,
  boxes: readonly { page: number }[],
): string {
  const last = Math.min(pages, Math.max(page, ...boxes.map(b => b.page)))
  const called = (n: number) => labels[n - 1] ?? String(n)
  return last > page ? `${called(page)}–${called(last)}` : called(page)
}

/** A strand is one of its own inquiry. @throws Problem 422 */
export async function refuseForeign(
  c: Context,
  inquiryId: number,
  strand: number | null | undefined,
  t: Transaction,
): Promise<void> {
  if (strand && !(await c.db.strands.count({ where: { id: strand, inquiryId }, transaction: t })))
    throw invalid('There is no such strand.', 'strand')
}

/** Changes a passage. @throws Problem 412 where another window saved meanwhile; what stands there is told */
export async function changePassage(
  c: Context,
  where: Where,
  version: number,
  { strand, ...given }: BodyOf<typeof api.changePassage>,
  t: Transaction,
): Promise<PassageRow> {
  const now = await c.db.passages.findOne({ where, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  if (!now) throw notFound()
  if (now.version !== version)
    throw new Problem(
      412,
      'changed-elsewhere',
      'This passage was changed in another window since you opened it. Both are kept: choose which one stands.',
      { current: { version: now.version, note: now.note, quote: now.quote } },
    )
  await refuseForeign(c, where.inquiryId, strand, t)
  const wanted = { ...given, ...(strand === undefined ? {} : { strandId: strand }) }
  const next = { ...now, ...Object.fromEntries(Object.entries(wanted).filter(([, v]) => v !== undefined)) }
  needs(next)
  const { kind, quote, note, strandId, tags } = next
  await c.db.passages.update({ kind, quote, note, strandId, tags, version: version + 1 }, { where, transaction: t })
  return { ...next, version: version + 1 }
}

/** The id of a passage by what it was made of, so that it is made once however often that is asked. */
export const ownIdOf = (madeOf: string): string => createHash('sha256').update(madeOf).digest('hex').slice(0, 36)

/** What a passage says, by which it is known wherever it comes from. */
export const saysOf = (p: Pick<PassageRow, 'workId' | 'page' | 'quote' | 'note'>): string =>
  `${p.workId} ${p.page}\n${fold(p.quote)}\n${fold(p.note)}`

/** The passages that are noted, by their numbers, their own ids and what they say. */
export async function notedIn(
  c: Context,
  where: Partial<Pick<PassageRow, 'inquiryId' | 'workId'>>,
  t?: Transaction,
): Promise<Set<string>> {
  const rows = await c.db.passages.findAll({
    where,
    attributes: ['id', 'ownId', 'workId', 'page', 'quote', 'note'],
    raw: true,
    ...(t ? { transaction: t } : {}),
  })
  return new Set(rows.flatMap(r => [String(r.id), ...(r.ownId ? [r.ownId] : []), saysOf(r)]))
}

/** Adds passages that have ids of their own, many at once. @returns their numbers */
export async function addPassages(
  c: Context,
  rows: readonly (Parameters<Context['db']['passages']['bulkCreate']>[0][number] & { ownId: string })[],
  t: Transaction,
): Promise<number[]> {
  const added: number[] = []
  for (const part of inParts(rows)) {
    await c.db.passages.bulkCreate(part, { transaction: t })
    const made = await c.db.passages.findAll({
      where: { ownId: part.map(r => r.ownId) },
      attributes: ['id'],
      transaction: t,
      raw: true,
    })
    added.push(...made.map(m => m.id))
  }
  return added
}

/** Takes passages out again that were just noted; one that was changed since stays. */
export async function dropFresh(c: Context, inquiryId: number, ids: readonly number[], t: Transaction): Promise<void> {
  await c.db.passages.destroy({ where: { inquiryId, id: [...ids], version: FIRST }, transaction: t })
}
/** The version of a passage that nobody changed. */
const FIRST = 1

export async function dropPassage(c: Context, where: Where, t: Transaction): Promise<void> {
  if (!(await c.db.passages.destroy({ where, transaction: t }))) throw notFound()
}

/** All passages of an inquiry by work and page, as they are cited in a text. */
export async function passagesOf(c: Context, inquiryId: number, style?: string) {
  const [rows, copies] = await Promise.all([
    c.db.passages.findAll({ where: { inquiryId }, order: ['workId', 'page', 'id'], raw: true }),
    c.db.copies.findAll({ where: { inquiryId }, attributes: ['id', 'version'], raw: true }),
  ])
  const { items, style: chosen } = await listForCiting(
    c,
    inquiryId,
    rows.map(r => r.workId),
    style,
  )
  const itemOf = new Map(items.map(i => [Number(i.id), i]))
  const cites = rows.map(r => ({ of: [{ id: String(r.workId), page: r.label }] }))
  const cited = rows.length ? await citesOf(chosen, items, cites) : []
  const versionOf = new Map(copies.map(x => [x.id, x.version]))
  return {
    style: chosen.style,
    passages: rows.map((row, i) => {
      const item = itemOf.get(row.workId)
      return {
        ...row,
        title: plainTitle(item?.title),
        authors: authorLine(item?.author ?? item?.editor, 2),
        year: (item && yearOf(item)) ?? null,
        copyVersion: versionOf.get(row.copyId) ?? '',
        cited: plainText(cited[i]!),
      }
    }),
  }
}

/** The passages as a file. */
export async function passagesFile(c: Context, inquiryId: number, format: 'markdown' | 'jsonld') {
  const [{ passages }, inquiry, strands] = await Promise.all([
    passagesOf(c, inquiryId),
    c.db.inquiries.findByPk(inquiryId, { attributes: ['title'], raw: true }),
    c.db.strands.findAll({ where: { inquiryId }, attributes: ['id', 'name'], raw: true }),
  ])
  const works = await c.db.works.findAll({
    where: { id: [...new Set(passages.map(p => p.workId))] },
    attributes: ['id', 'item'],
    raw: true,
  })
  const itemOf = new Map(works.map(w => [w.id, w.item]))
  const nameOf = new Map(strands.map(s => [s.id, s.name]))
  const told = passages.map((p): ToldPassage => ({
    ...p,
    at: new Date(p.at).toISOString(),
    strand: nameOf.get(p.strandId ?? 0) ?? null,
    source: `${c.settings.address}/inquiries/${inquiryId}/read/${p.copyId}`,
    doi: itemOf.get(p.workId)?.DOI ?? null,
  }))
  return format === 'markdown'
    ? { ending: 'md', type: 'text/markdown; charset=utf-8', body: passagesAsText(inquiry?.title ?? '', told) }
    : {
        ending: 'jsonld',
        type: 'application/ld+json; charset=utf-8',
        body: JSON.stringify(passagesAsAnnotations(told), null, 2),
      }
}
