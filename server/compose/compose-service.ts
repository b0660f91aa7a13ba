import { plainTitle } from '../../core/bib/clean'
import type { Transaction } from 'sequelize'
import { plainText } from '../../core/cite/rich-text'
import { losses } from '../../core/formats/losses'
import type { Lossy } from '../../core/formats/lossy'
import { checkBrief } from '../../core/write/rules'
import { countWords } from '../../core/write/words'
import { placesOf, type Citing } from '../../core/write/written'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { addMissing } from '../db/rows'
import { notFound, Problem } from '../base/problem'
import { bibliographyOf, citesOf } from '../styles/format'
import { newerThan } from '../styles/styles-service'
import type { EntryRow } from './compose-model'
import { dropJoined, withJoined } from './joined-entries'
import { citedNow, citeOf, entriesOf, exportedItem, listForCiting, printedList, saidOf, textsOf } from './printed-list'

/** The bibliography as it prints, with the rules of the brief. */
export async function bibliographyInFull(c: Context, { inquiryId, day }: Member, style: string | undefined) {
  const [printed, texts, copies] = await Promise.all([
    printedList(c, inquiryId, style),
    textsOf(c, inquiryId),
    c.db.copies.findAll({ where: { inquiryId, outcome: 'proved' }, attributes: ['workId', 'signs'], raw: true }),
  ])
  const { inquiry, bibliography, inOrder } = printed
  const cited = await citedNow(c, inquiryId, [...inOrder.map(e => e.entry), ...texts], style)
  const signs = new Map(copies.flatMap(x => (x.signs ? [[x.workId, x.signs] as const] : [])))
  return {
    style: printed.style.style,
    styleName: printed.style.name,
    language: inquiry.language,
    styleTrouble: printed.style.trouble,
    newerStyle: await newerThan(c, printed.style.style),
    hangingIndent: bibliography.hangingIndent,
    layout: printed.layout,
    texts,
    sections: printed.sections,
    entries: inOrder.map(({ entry, label, citation, inText }) => ({
      id: entry.id,
      work: entry.workId,
      title: plainTitle(entry.work.item.title),
      label: label ?? null,
      citation,
      inText: plainText(inText),
      annotation: entry.annotation,
      marks: entry.marks,
      version: entry.version,
      words: countWords(entry.annotation),
      kind: entry.work.kind,
      right: entry.work.said?.right ?? [],
      ...(entry.work.item.abstract ? { abstract: entry.work.item.abstract } : {}),
    })),
    cited,
    rules: checkBrief(
      inquiry.rules,
      inOrder.map(({ entry: { id, workId, annotation, marks, work } }) => ({
        id,
        work: workId,
        marks,
        item: work.item,
        facts: work.facts,
        kind: work.kind,
        confidence: work.confidence,
        ...(signs.has(workId) ? { signs: signs.get(workId)! } : {}),
        annotation,
        strands: work.said?.strands ?? [],
      })),
      day,
      printed.strands,
    ),
  }
}

/** A work as it is cited beside those of the list, whose numbers and year suffixes stand. */
export async function citationOf(c: Context, inquiryId: number, work: number) {
  const { items, style } = await listForCiting(c, inquiryId, [work])
  if (!items.some(i => i.id === String(work))) throw notFound()
  const { entries } = await bibliographyOf(style, [items])
  const { citation, inText } = entries.find(e => e.id === String(work))!
  return { styleName: style.name, citation, inText: plainText(inText) }
}

/** How a text cites works beside those of the list. */
export async function citedIn(c: Context, inquiryId: number, citing: Citing) {
  const places = placesOf(citing)
  const { items, style } = await listForCiting(
    c,
    inquiryId,
    places.map(p => p.work),
  )
  const has = new Set(items.map(i => i.id))
  if (!places.every(p => has.has(String(p.work)))) throw notFound()
  const [cited] = await citesOf(style, items, [citeOf(places, citing.named && places.length === 1)])
  return saidOf(cited!)
}

/** @throws Problem 422 where the work is not kept */
export async function addEntry(c: Context, inquiryId: number, workId: number, t: Transaction): Promise<EntryRow> {
  const where = { id: workId, inquiryId }
  const work = await c.db.works.scope('living').findOne({ where, attributes: ['state'], transaction: t, raw: true })
  if (!work) throw notFound()
  if (work.state !== 'kept') throw new Problem(422, 'not-kept', 'Only a kept work can become an entry.')
  await addMissing(c.db.entries, [{ inquiryId, workId, annotation: '', marks: [] }], 'workId', t)
  return (await c.db.entries.findOne({ where: { workId }, transaction: t, raw: true }))!
}

type Where = Pick<EntryRow, 'id' | 'inquiryId'>
export async function oneEntry(c: Context, where: Where): Promise<EntryRow> {
  const row = await c.db.entries.findOne({ where, raw: true })
  const [read] = row ? await withJoined(c, [row]) : []
  if (!read) throw notFound()
  return read
}

/** Saves an annotation. @throws Problem 412 where another window saved meanwhile; its text is told */
export async function annotate(
  c: Context,
  where: Where,
  version: number,
  written: Pick<EntryRow, 'annotation' | 'marks'>,
  t: Transaction,
): Promise<{ version: number }> {
  const row = await c.db.entries.findOne({ where, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  const [now] = row ? await withJoined(c, [row], t) : []
  if (!now) throw notFound()
  if (now.version !== version)
    throw new Problem(
      412,
      'changed-elsewhere',
      'This annotation was changed in another window since you opened it. Both texts are kept: choose which one stands.',
      { current: { annotation: now.annotation, marks: now.marks, version: now.version } },
    )
  await c.db.entries.update({ ...written, version: version + 1 }, { where, transaction: t })
  // it is in what was written now
  await dropJoined(c, now, t)
  return { version: version + 1 }
}

export async function dropEntry(c: Context, where: Where, t: Transaction): Promise<void> {
  const row = await c.db.entries.findOne({ where, transaction: t, raw: true })
  if (!row) throw notFound()
  await c.db.entries.destroy({ where, transaction: t })
  await dropJoined(c, row, t)
}

/** What a format cannot hold of the entries. */
export async function lossesOf(c: Context, inquiryId: number, format: Lossy) {
  const { list } = await entriesOf(c, inquiryId)
  return list
    .map(e => ({
      title: plainTitle(e.work.item.title),
      ...losses(exportedItem(e.work.item, e.workId), format),
    }))
    .filter(l => l.fields.length)
}
