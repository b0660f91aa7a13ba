import type { Transaction } from 'sequelize'
import { firstLetters } from '../../core/bib/clean'
import { changesBetween } from '../../core/paper/compare'
import { entriesIn, TITLE } from '../../core/paper/bibliography'
import type { DocumentFormat } from '../../core/paper/formats'
import { PLACES, placeOfStrand } from '../../core/paper/layout'
import { countWords } from '../../core/write/words'
import { beneath, plainWritten, type Mark, type Written } from '../../core/write/written'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import { hashOf } from '../base/hash'
import { notFound } from '../base/problem'
import { addMissing } from '../db/rows'
import { heirsOf } from '../deeds/family'
import type { Member } from '../sessions/member'
import type { VersionRow } from './compose-model'
import { requireEntries, type State } from './files'
import { paperOf } from './paper-service'

/** The same for the same bibliography laid out the same, on whatever day and with whatever rows. */
function markOf({ paper, layout }: State): string {
  const { day: _day, sections, ...rest } = paper
  const { names: _names, ...shown } = layout
  const printed = sections.map(s => ({ ...s, entries: s.entries.map(({ entry: _entry, ...e }) => e) }))
  return hashOf(JSON.stringify([rest, printed, shown]))
}

/** A state as it is kept. */
const rowOf = ({ paper, layout }: State) => ({
  ...{ paper, layout, day: paper.day, styleName: firstLetters(paper.styleName, 255) },
  entries: entriesIn(paper).length,
  words: entriesIn(paper).reduce((n, e) => n + countWords(e.annotation), 0),
})

/** @throws Problem 404 */
export async function versionOf(c: Context, where: { id: number; inquiryId: number }): Promise<VersionRow> {
  const row = await c.db.versions.findOne({ where, raw: true })
  if (!row) throw notFound()
  return row
}

/** The states of a bibliography that were kept, the latest first. */
export async function versionsOf(c: Context, member: Member): Promise<Answer<'versions'>> {
  const { inquiryId } = member
  const rows = await c.db.versions.findAll({
    where: { inquiryId },
    attributes: { exclude: ['layout', 'paper'] },
    order: [['id', 'DESC']],
    raw: true,
  })
  if (!rows.length) return []
  const [now, users] = await Promise.all([
    paperOf(c, member),
    c.db.users.findAll({ where: { id: rows.flatMap(r => r.userId ?? []) }, attributes: ['id', 'name'], raw: true }),
  ])
  const mark = markOf(now)
  return rows.map(({ id, day, at, why, formats, userId, hash, styleName, entries, words }) => ({
    ...{ id, day, at: at.toISOString(), why, formats },
    by: users.find(u => u.id === userId)?.name ?? null,
    ...{ styleName, entries, words },
    isNow: hash === mark,
  }))
}

/** What is handed in, computed before anything is written. @throws Problem 422 where there is no entry */
export async function stateToHandIn(c: Context, member: Member): Promise<State> {
  const state = await paperOf(c, member)
  requireEntries(state.paper)
  return state
}

/** Keeps a state as it was handed in; the same one once, with all formats in which it was. */
export async function handIn(
  c: Context,
  { inquiryId, userId }: Member,
  state: State,
  format: DocumentFormat,
  t: Transaction,
): Promise<{ version: number }> {
  const hash = markOf(state)
  const last = await c.db.versions.findOne({
    where: { inquiryId },
    attributes: ['id', 'hash', 'why', 'formats'],
    order: [['id', 'DESC']],
    transaction: t,
    lock: t.LOCK.UPDATE,
    raw: true,
  })
  if (last?.hash === hash && last.why === 'handed in') {
    if (!last.formats.includes(format))
      await c.db.versions.update({ formats: [...last.formats, format] }, { where: { id: last.id }, transaction: t })
    return { version: last.id }
  }
  const row = { inquiryId, userId, hash, formats: [format], why: 'handed in' as const, ...rowOf(state) }
  const { id } = await c.db.versions.create(row, { transaction: t })
  return { version: id }
}

/** What changed from a kept state to another, or to how it stands. */
export async function changesSince(c: Context, member: Member, id: number, to: number | undefined) {
  const { inquiryId } = member
  const [from, other] = await Promise.all([
    versionOf(c, { id, inquiryId }),
    to ? versionOf(c, { id: to, inquiryId }) : paperOf(c, member),
  ])
  return { changes: changesBetween(from.paper, other.paper) }
}

/**
 * Takes a kept state up again: its entries with their annotations, the texts around them, its style, its order. How it
 * stood before is kept as a state of its own. Works that are not kept any more stay out, and are named.
 */
export async function takeUp(
  c: Context,
  { inquiryId, userId }: Member,
  { paper, layout }: VersionRow,
  before: State,
  t: Transaction,
): Promise<Answer<'takeUpVersion'>> {
  const hash = markOf(before)
  const last = await c.db.versions.findOne({
    where: { inquiryId },
    attributes: ['id', 'hash'],
    order: [['id', 'DESC']],
    transaction: t,
    raw: true,
  })
  const aside =
    last?.hash === hash
      ? last.id
      : (
          await c.db.versions.create(
            { inquiryId, userId, hash, formats: [], why: 'set aside', ...rowOf(before) },
            { transaction: t },
          )
        ).id
  const left = await takeUpEntries(c, inquiryId, paper, layout.order === 'hand', t)
  const texts = new Map<string, Written>([
    ...PLACES.map(p => {
      const text = p === 'title' && paper.title === TITLE ? '' : paper[p]
      return [p, { text, marks: paper.marks?.[p] ?? [] }] as const
    }),
    ...paper.sections.flatMap(s =>
      s.strand ? [[placeOfStrand(s.strand), { text: s.text, marks: s.marks ?? [] }] as const] : [],
    ),
  ])
  const now = await c.db.listTexts.findAll({ where: { inquiryId }, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  for (const place of new Set([...texts.keys(), ...now.map(r => r.place)])) {
    const row = now.find(r => r.place === place)
    const { text: content, marks } = texts.get(place) ?? plainWritten('')
    if (!row) {
      if (content) await c.db.listTexts.create({ inquiryId, place, content, marks, version: 1 }, { transaction: t })
    } else if (row.content !== content || !areSame(row.marks, marks))
      await c.db.listTexts.update(
        { content, marks, version: row.version + 1 },
        { where: { inquiryId, place }, transaction: t },
      )
  }
  const { version } = (await c.db.inquiries.findByPk(inquiryId, {
    attributes: ['version'],
    transaction: t,
    raw: true,
  }))!
  const { style, language } = paper
  await c.db.inquiries.update(
    { style, language, layout, version: version + 1 },
    { where: { id: inquiryId }, transaction: t },
  )
  return { aside, left }
}

const areSame = (a: readonly Mark[], b: readonly Mark[]): boolean => JSON.stringify(a) === JSON.stringify(b)

async function takeUpEntries(
  c: Context,
  inquiryId: number,
  paper: State['paper'],
  byHand: boolean,
  t: Transaction,
): Promise<string[]> {
  const wanted = entriesIn(paper)
  const heir = await heirsOf(
    c,
    inquiryId,
    wanted.map(e => e.work),
    t,
  )
  const heirOf = (work: number) => heir.get(work) ?? work
  const kept = await c.db.works.scope('living').findAll({
    where: { inquiryId, id: wanted.map(e => heirOf(e.work)), state: 'kept' },
    attributes: ['id'],
    transaction: t,
    raw: true,
  })
  const isKept = new Set(kept.map(w => w.id))
  const fit = wanted.filter(e => isKept.has(heirOf(e.work)))
  await addMissing(
    c.db.entries,
    fit.map(e => ({ inquiryId, workId: heirOf(e.work), annotation: '', marks: [] })),
    'workId',
    t,
  )
  const rows = await c.db.entries.findAll({ where: { inquiryId }, transaction: t, lock: t.LOCK.UPDATE, raw: true })
  const entryOf = new Map(rows.map(r => [r.workId, r]))
  const stays = new Set<number>()
  for (const [place, e] of fit.entries()) {
    const row = entryOf.get(heirOf(e.work))!
    // two that were joined since into one keep what both said
    const own = { text: e.annotation, marks: e.marks ?? [] }
    const { text: annotation, marks } = stays.has(row.id)
      ? beneath({ text: row.annotation, marks: row.marks }, own)
      : own
    stays.add(row.id)
    const placed = byHand ? place : row.place
    const isSame = row.annotation === annotation && areSame(row.marks, marks)
    if (!isSame || row.place !== placed)
      await c.db.entries.update(
        { annotation, marks, place: placed, ...(isSame ? {} : { version: row.version + 1 }) },
        { where: { id: row.id }, transaction: t },
      )
    Object.assign(row, { annotation, marks })
  }
  const out = rows.filter(r => !stays.has(r.id)).map(r => r.id)
  if (out.length) await c.db.entries.destroy({ where: { id: out }, transaction: t })
  return wanted.filter(e => !isKept.has(heirOf(e.work))).map(e => e.title)
}
