import type { Transaction } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { plainText } from '../../core/cite/rich-text'
import { TITLE, type Paper } from '../../core/paper/bibliography'
import { isPlace, placeOfStrand, strandOfPlace, type Layout, type Place } from '../../core/paper/layout'
import { asCited, citingKey, type Mark } from '../../core/write/written'
import { notFound, Problem } from '../base/problem'
import type { Context } from '../base/context'
import type { Member } from '../sessions/member'
import type { ListTextRow } from './compose-model'
import { citedNow, exportedItem, layoutOf, printedList, textsOf } from './printed-list'

/** The bibliography of an inquiry as it stands, with how it is laid out. */
export async function paperOf(
  c: Context,
  { inquiryId, day }: Pick<Member, 'inquiryId' | 'day'>,
): Promise<{ paper: Paper; layout: Layout }> {
  const [list, texts] = await Promise.all([printedList(c, inquiryId), textsOf(c, inquiryId)])
  const cited = await citedNow(c, inquiryId, [...list.inOrder.map(e => e.entry), ...texts])
  const now = new Map(cited.map(({ citing, ...said }) => [citingKey(citing), said]))
  const around = new Map(
    texts.map(({ place, content, marks }) => [place, asCited({ text: content, marks }, now)] as const),
  )
  const text = (place: Place) => around.get(place)?.text ?? ''
  // where there are none none are kept: states of before there were any stay the same
  const marks = (place: Place) => some(around.get(place)?.marks)
  const both = (['opening', 'closing'] as const).flatMap(p => Object.values(marks(p)).map(m => [p, m] as const))
  const { inquiry, style, bibliography, inOrder, sections, layout } = list
  const printed = new Map(inOrder.map(f => [f.entry.id, f]))
  const paper: Paper = {
    title: text('title').trim() || TITLE,
    question: inquiry.question,
    author: text('author'),
    course: text('course'),
    day,
    style: style.style,
    styleName: style.name,
    language: inquiry.language,
    hangingIndent: bibliography.hangingIndent,
    opening: text('opening'),
    closing: text('closing'),
    ...(both.length ? { marks: Object.fromEntries(both) } : {}),
    sections: sections.map(s => ({
      heading: s.heading,
      strand: s.strand,
      text: s.strand ? text(placeOfStrand(s.strand)) : '',
      ...(s.strand ? marks(placeOfStrand(s.strand)) : {}),
      entries: s.entries.map(id => {
        const { entry, label, citation, inText } = printed.get(id)!
        const annotation = asCited({ text: entry.annotation, marks: entry.marks }, now)
        return {
          ...{ entry: id, work: entry.workId, title: plainTitle(entry.work.item.title) },
          ...(label ? { label } : {}),
          ...{ citation, inText: plainText(inText), annotation: annotation.text, ...some(annotation.marks) },
          item: exportedItem(entry.work.item, entry.workId),
        }
      }),
    })),
  }
  return { paper, layout }
}

const some = (marks: Mark[] | undefined): { marks?: Mark[] } => (marks?.length ? { marks } : {})

/** Lays the bibliography out otherwise, as far as it is said. */
export async function setLayout(
  c: Context,
  id: number,
  given: { [K in keyof Layout]?: Layout[K] | undefined },
  t: Transaction,
): Promise<Layout> {
  const now = await c.db.inquiries.findByPk(id, {
    attributes: ['layout'],
    transaction: t,
    lock: t.LOCK.UPDATE,
    raw: true,
  })
  if (!now) throw notFound()
  const said = Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined))
  const layout = { ...layoutOf(now), ...said }
  await c.db.inquiries.update({ layout }, { where: { id }, transaction: t })
  return layout
}

/** Lays the entries in an order by hand: those that are named in theirs, others behind them. */
export async function layEntries(
  c: Context,
  inquiryId: number,
  entries: readonly number[],
  t: Transaction,
): Promise<void> {
  const there = await c.db.entries.findAll({
    where: { inquiryId },
    attributes: ['id', 'place'],
    transaction: t,
    raw: true,
  })
  const placeOf = new Map(entries.map((id, i) => [id, i]))
  for (const e of there) {
    const place = placeOf.get(e.id) ?? null
    if (place !== e.place) await c.db.entries.update({ place }, { where: { id: e.id }, transaction: t })
  }
  await setLayout(c, inquiryId, { order: 'hand' }, t)
}

/** Saves a text around the list. @throws Problem 412 where another window saved meanwhile; its text is told */
export async function writeText(
  c: Context,
  { inquiryId, place }: { inquiryId: number; place: string },
  version: number,
  written: Pick<ListTextRow, 'content' | 'marks'>,
  t: Transaction,
): Promise<{ version: number }> {
  if (!isPlace(place)) throw notFound()
  const strand = strandOfPlace(place)
  if (strand && !(await c.db.strands.count({ where: { id: strand, inquiryId }, transaction: t }))) throw notFound()
  const key = { inquiryId, place }
  // the row is there before it is locked, so that two first writings do not pass each other by
  await c.db.listTexts.findOrCreate({
    where: key,
    defaults: { ...key, content: '', marks: [], version: 0 },
    transaction: t,
  })
  const now = (await c.db.listTexts.findOne({ where: key, transaction: t, lock: t.LOCK.UPDATE, raw: true }))!
  if (now.version !== version)
    throw new Problem(
      412,
      'changed-elsewhere',
      'This text was changed in another window since you opened it. Both are kept: choose which one stands.',
      { current: { content: now.content, marks: now.marks, version: now.version } },
    )
  await c.db.listTexts.update({ ...written, version: version + 1 }, { where: key, transaction: t })
  return { version: version + 1 }
}
