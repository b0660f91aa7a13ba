import { Op, type Transaction } from 'sequelize'
import { KINDS, type Kind } from '../../core/appraise/kind'
import { FIELDS, readField, type Field } from '../../core/match/best-fields'
import { COPY_WORDS, PARTS, projectMarks, type CopyWord, type Mark, type Part } from '../../core/sift/marks'
import type { BodyOf } from '../../core/schema/api/endpoint'
import type { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { deedsOf } from '../deeds/deeds-model'
import { act, type By, type Done, type Follow } from '../deeds/deeds-service'
import { familyOf } from '../deeds/family'
import { Problem } from '../base/problem'
import { markOf, redescribe, writeAlike } from './describe'

type NewMarks = BodyOf<typeof api.mark>

/** @throws Problem 422 where one of them says nothing that can be said of a work */
export function requireMarks({ marks }: NewMarks): void {
  for (const m of marks) {
    const why = troubleOf(m.about, m.value)
    if (why) throw new Problem(422, 'not-understood', why)
  }
}

/**
 * Says of works what they are for.
 * @throws Problem 409 where a note was changed in another window meanwhile; 422 where a strand or a work is gone
 */
export async function markWorks(context: Context, by: By, { group, marks }: NewMarks, t: Transaction): Promise<Done> {
  const works = marks.map(m => m.work)
  const family = await familyOf(context, by.inquiryId, works, t)
  await requireStrands(context, by.inquiryId, marks, t)
  await requireCopies(context, by.inquiryId, marks, t)
  for (const m of marks)
    if (m.was !== undefined && m.about === 'note') await requireSameNote(context, family.heir.get(m.work)!, m, t)
  const deeds = marks.map(({ id, work, about, value }) => ({ id, work, kind: 'mark' as const, about, value }))
  return act(context, by, group, deeds, t, family)
}

/** Why a mark cannot be taken; undefined where it can. */
function troubleOf(about: string, value: unknown): string | undefined {
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
  if (what === 'right') return name.trim() && value === true ? undefined : 'A finding is right as it is, or it is not.'
  if (what === 'strand') return typeof value === 'boolean' ? undefined : 'A work is on a strand or is not.'
  if (what === 'field' && FIELDS.includes(name as Field)) {
    const choice = value as Partial<{ record: number; text: string }>
    if (typeof choice.record === 'number') return undefined
    if (typeof choice.text === 'string' && choice.text.length <= 20_000 && readField(name as Field, choice.text))
      return undefined
    return 'A field is taken from a record of the work, or written by hand.'
  }
  if (what === 'copy')
    return /^\d{1,9}$/.test(name) && COPY_WORDS.includes(value as CopyWord)
      ? undefined
      : 'A copy is of the work, or it is not.'
  return 'There is nothing of that name to be said of a work.'
}

async function requireStrands(
  context: Context,
  inquiryId: number,
  marks: readonly { about: string }[],
  t: Transaction,
): Promise<void> {
  const strands = new Set(marks.flatMap(m => (m.about.startsWith('strand:') ? Number(m.about.slice(7)) : [])))
  if (!strands.size) return
  const where = { inquiryId, id: { [Op.in]: [...strands] } }
  if ((await context.db.strands.scope('standing').count({ where, transaction: t })) < strands.size)
    throw new Problem(422, 'unknown-strand', 'That strand is gone.')
}

async function requireCopies(
  context: Context,
  inquiryId: number,
  marks: readonly { about: string }[],
  t: Transaction,
): Promise<void> {
  const copies = new Set(marks.flatMap(m => (m.about.startsWith('copy:') ? Number(m.about.slice(5)) : [])))
  if (!copies.size) return
  const where = { inquiryId, id: { [Op.in]: [...copies] } }
  if ((await context.db.copies.count({ where, transaction: t })) < copies.size)
    throw new Problem(422, 'gone', 'That copy is gone.')
}

async function requireSameNote(
  context: Context,
  work: number,
  mark: { was?: unknown; value?: unknown },
  t: Transaction,
): Promise<void> {
  const now = await context.db.works.findByPk(work, { attributes: ['said'], transaction: t, raw: true })
  const note = now?.said?.note ?? null
  if (note !== (mark.was || null) && note !== mark.value)
    throw new Problem(
      409,
      'changed-since',
      'The note was changed in another window since. Yours is still here: copy it, then read theirs.',
      { note },
    )
}

/** Marks that change what a work is described as. */
const DESCRIBES = /^(kind|field|copy)/

/** Copies that words were said of: what their proof says stands until somebody knows better. */
async function followCopyWords(
  context: Context,
  works: readonly number[],
  log: readonly Mark[],
  t: Transaction,
): Promise<void> {
  const said = projectMarks(log)
  const where = { workId: { [Op.in]: [...works] } }
  const copies = await context.db.copies.findAll({
    where,
    attributes: ['id', 'workId', 'outcome', 'proof'],
    transaction: t,
    raw: true,
  })
  for (const { id, workId, outcome, proof } of copies) {
    const word = said.get(workId)?.copies?.[id]
    const now = word === 'it is' ? 'proved' : word === 'it is not' ? 'not this work' : proof.outcome
    if (now !== outcome) await context.db.copies.update({ outcome: now }, { where: { id }, transaction: t })
  }
}

/** Writes what stands of works from the log; marks that change what a work is described as, describe it anew. */
export const followMarks: Follow = async (context, by, family, { lines }, t) => {
  if (lines.some(l => DESCRIBES.test(l.about))) {
    if (lines.some(l => l.about.startsWith('copy:'))) {
      const log = await deedsOf(context, by.inquiryId, [...family.heir.keys()], ['mark'], t)
      await followCopyWords(
        context,
        family.works,
        log.map(d => markOf(d, family.heir.get(d.workId))),
        t,
      )
    }
    await redescribe(context, by.inquiryId, family.works, t, by.revision)
    return []
  }
  const log = await deedsOf(context, by.inquiryId, [...family.heir.keys()], ['mark'], t)
  const said = projectMarks(log.map(d => markOf(d, family.heir.get(d.workId))))
  await writeAlike(
    context,
    by.inquiryId,
    family.works,
    id => {
      const of = said.get(id)
      return { said: of && Object.keys(of).length ? of : null, revision: by.revision }
    },
    t,
  )
  return []
}
