import { checkedWriting } from '../../core/paper/checked'
import { formatOf } from '../../core/paper/formats'
import { TITLE } from '../../core/paper/bibliography'
import type { Context } from '../base/context'
import type { Member } from '../sessions/member'
import { bibliographyInFull } from './compose-service'
import { checksOf } from './entry-checks'
import { documentIn, type MadeFile, type Single } from './files'

/** What was checked of the entries, and what came of it, as a document. */
export async function checkedFile(c: Context, member: Member, format: Single): Promise<MadeFile> {
  const { inquiryId, day } = member
  const [list, checks, inquiry] = await Promise.all([
    bibliographyInFull(c, member, undefined),
    checksOf(c, member, undefined),
    c.db.inquiries.findByPk(inquiryId, { attributes: ['rules'], raw: true }),
  ])
  const copies = await c.db.copies.findAll({
    where: { inquiryId, id: checks.entries.flatMap(e => e.copy ?? []) },
    attributes: ['id', 'version', 'labels'],
    raw: true,
  })
  const copyOf = new Map(copies.map(x => [x.id, x]))
  const checkOf = new Map(checks.entries.map(e => [e.entry, e]))
  const text = (place: string) => list.texts.find(t => t.place === place)?.content.trim() ?? ''
  const writing = checkedWriting(
    {
      ...{ title: text('title') || TITLE, author: text('author'), day, style: list.styleName },
      ...{ rules: inquiry!.rules, answers: list.rules },
      entries: list.entries.flatMap(e => {
        const check = checkOf.get(e.id)
        if (!check) return []
        const { findings, agrees, records, copy } = check
        return [{ ...e, findings, agrees, records, copy: (copy && copyOf.get(copy)) || null }]
      }),
    },
    list.layout,
  )
  const { ending, type } = formatOf(format)
  return { name: `checked.${ending}`, type, body: await documentIn(format, writing) }
}
