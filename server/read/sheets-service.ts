import Papa from 'papaparse'
import { Op, type Transaction } from 'sequelize'
import { cleanText, plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import type { Writing } from '../../core/paper/writing'
import type { Answer } from '../../core/schema/api'
import { HEADS, isFixedHead, ownHead, ownHeadId } from '../../core/write/sheet-of-reading'
import { readable, type Asker } from '../copies/copy-rights'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { familyOf } from '../deeds/family'
import { formatOf } from '../../core/paper/formats'
import { inThread } from '../threads/threads'

/** The sheets of reading of all kept works, side by side. */
export async function readingTable(c: Context, asker: Asker): Promise<Answer<'readingTable'>> {
  const { inquiryId } = asker
  const [heads, works] = await Promise.all([
    headsOf(c, inquiryId),
    c.db.works.scope('living').findAll({
      where: { inquiryId, state: 'kept' },
      attributes: ['id', 'item', 'said'],
      order: ['id'],
      raw: true,
    }),
  ])
  // what was written of a work that was joined into another stands with that one
  const joined = await c.db.works.findAll({
    where: { inquiryId, successorId: works.map(w => w.id) },
    attributes: ['id', 'successorId'],
    raw: true,
  })
  const heir = new Map([...works.map(w => [w.id, w.id] as const), ...joined.map(w => [w.id, w.successorId!] as const)])
  const ids = [...heir.keys()]
  const [notes, all] = await Promise.all([
    c.db.readingNotes.findAll({ where: { workId: ids }, raw: true }),
    c.db.copies.findAll({
      where: { workId: ids, outcome: ['proved', 'doubtful'] },
      attributes: ['id', 'workId', 'version', 'labels', 'scanned', 'outcome'],
      // a proved one before a doubtful one, and of two the first that came
      order: [['outcome', 'ASC'], 'id'],
      raw: true,
    }),
  ])
  const copies = await readable(c, asker, all)
  return {
    heads,
    works: works.map(({ id, item, said }) => {
      const copy = copies.find(x => heir.get(x.workId) === id)
      const own = notes.filter(n => heir.get(n.workId) === id)
      return {
        ...{ id, title: plainTitle(item.title), authors: authorLine(item.author ?? item.editor, 2) },
        ...{ year: yearOf(item) ?? null, strands: said?.strands ?? [] },
        copy: copy ? { id: copy.id, version: copy.version, labels: copy.labels, scanned: copy.scanned } : null,
        notes: [...new Set(own.map(n => n.head))].map(head => {
          const of = own.filter(n => n.head === head)
          const mine = of.find(n => n.workId === id)
          const content = [mine, ...of.filter(n => n !== mine)].flatMap(n => n?.content || []).join('\n')
          return { head, content, version: mine?.version ?? 0 }
        }),
      }
    }),
  }
}

async function headsOf(c: Context, inquiryId: number): Promise<Answer<'readingTable'>['heads']> {
  const own = await c.db.readingHeads.findAll({
    where: { inquiryId, gone: false },
    order: ['place', 'id'],
    raw: true,
  })
  return [
    ...HEADS.map(h => ({ ...h, own: null })),
    ...own.map(({ id, name }) => ({ key: ownHead(id), name, asks: '', own: id })),
  ]
}

/** Saves a note. @throws Problem 412 where another window saved meanwhile; its text is told */
export async function writeNote(
  c: Context,
  { inquiryId, work, head }: { inquiryId: number; work: number; head: string },
  version: number,
  content: string,
  t: Transaction,
): Promise<{ version: number }> {
  const own = ownHeadId(head)
  const isKnown = own
    ? await c.db.readingHeads.count({ where: { id: own, inquiryId }, transaction: t })
    : isFixedHead(head)
  if (!isKnown) throw notFound()
  const { works, heir } = await familyOf(c, inquiryId, [work], t)
  const workId = works[0]!
  const key = { workId, head }
  // the row is there before it is locked, so that two first writings do not pass each other by
  await c.db.readingNotes.findOrCreate({
    where: key,
    defaults: { ...key, inquiryId, content: '', version: 0 },
    transaction: t,
  })
  const now = (await c.db.readingNotes.findOne({ where: key, transaction: t, lock: t.LOCK.UPDATE, raw: true }))!
  if (now.version !== version)
    throw new Problem(
      412,
      'changed-elsewhere',
      'This note was changed in another window since you opened it. Both texts are kept: choose which one stands.',
      { current: { content: now.content, version: now.version } },
    )
  await c.db.readingNotes.update({ content, version: version + 1 }, { where: key, transaction: t })
  // what stood with works that were joined into it is in what was written now
  const before = [...heir.keys()].filter(id => id !== workId)
  if (before.length) await c.db.readingNotes.destroy({ where: { workId: { [Op.in]: before }, head }, transaction: t })
  return { version: version + 1 }
}

/** @throws Problem 409 where there is one of this name */
export async function addHead(c: Context, inquiryId: number, name: string, t: Transaction) {
  const heads = await headsOf(c, inquiryId)
  if (heads.some(h => h.name.toLowerCase() === name.toLowerCase()))
    throw new Problem(409, 'name-taken', `There is a column “${name}” already.`)
  const { id } = await c.db.readingHeads.create(
    { inquiryId, name, place: heads.length, gone: false },
    { transaction: t },
  )
  return { id, key: ownHead(id) }
}

export async function changeHead(
  c: Context,
  where: { id: number; inquiryId: number },
  given: { name?: string | undefined; gone?: boolean | undefined },
  t: Transaction,
): Promise<void> {
  if (!(await c.db.readingHeads.count({ where, transaction: t }))) throw notFound()
  const now = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined))
  if (Object.keys(now).length) await c.db.readingHeads.update(now, { where, transaction: t })
}

/** The table as a file: rows of a spreadsheet, or a page of a word processor. */
export async function tableFile(c: Context, asker: Asker, format: 'csv' | 'docx') {
  const { inquiryId } = asker
  const [table, inquiry] = await Promise.all([
    readingTable(c, asker),
    c.db.inquiries.findByPk(inquiryId, { attributes: ['title'], raw: true }),
  ])
  const head = ['Work', 'Authors', 'Year', ...table.heads.map(h => h.name)]
  const rows = table.works.map(w => [
    ...[w.title, w.authors, String(w.year ?? '')],
    ...table.heads.map(h => cleanText(w.notes.find(n => n.head === h.key)?.content ?? '')),
  ])
  if (format === 'docx') {
    const title = inquiry?.title ?? ''
    const writing: Writing = {
      ...{ title, author: '', language: 'en', sheet: 'a4', spacing: 1, isWide: true },
      blocks: [
        { kind: 'heading', level: 1, text: title },
        { kind: 'table', head, rows },
      ],
    }
    const { ending, type } = formatOf('docx')
    return { ending, type, body: Buffer.from(await inThread('docx', { writing })) }
  }
  // RFC 4180; a cell that begins like a formula is made plain text
  const body = `\uFEFF${Papa.unparse({ fields: head, data: rows }, { escapeFormulae: true })}`
  return { ending: 'csv', type: 'text/csv; charset=utf-8', body }
}
