import { KINDS, type Kind } from '../../core/appraise/kind'
import { readField } from '../../core/match/best-fields'
import { FIELDS, PARTS, projectMarks, type Field, type Part } from '../../core/sift/marks'
import { deedsOf } from '../deeds/deeds-model'
import type { Follow } from '../deeds/deeds-service'
import { markOf, redescribe, writeAlike } from './describe'

/** Why a mark cannot be taken; undefined where it can. */
export function troubleOf(about: string, value: unknown): string | undefined {
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

/** Marks that change what a work is described as. */
const DESCRIBES = /^(kind|field)/

/** Writes what stands of works from the log; marks that change what a work is described as, describe it anew. */
export const followMarks: Follow = async (context, by, family, { lines }, t) => {
  if (lines.some(l => DESCRIBES.test(l.about))) {
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
