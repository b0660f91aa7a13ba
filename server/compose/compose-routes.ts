import { api } from '../../core/schema/api'
import { countWords } from '../../core/write/words'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { addEntry, annotate, bibliographyInFull, dropEntry, lossesOf, oneEntry } from './compose-service'
import { checksOf } from './entry-checks'
import { handIn } from './hand-in'

/** Compose: entries, the list as it will print, and what is handed in. */
export function composeRoutes(c: Context, serve: Serve): void {
  serve(api.bibliography, ({ member, query }) => bibliographyInFull(c, member, query.style))
  serve(api.entryChecks, ({ member, query }) => checksOf(c, member.inquiryId, query.style))
  serve(api.addEntry, ({ member, body, once }) => once(t => addEntry(c, member.inquiryId, body.work, t)))
  serve(api.entry, async ({ member, params, res }) => {
    const entry = await oneEntry(c, { id: params.entry, inquiryId: member.inquiryId })
    res.set('ETag', `"${entry.version}"`)
    return entry
  })
  serve(api.annotate, async ({ member, params: { entry: id }, version, body: { annotation }, once, res }) => {
    const saved = await once(t => annotate(c, { id, inquiryId: member.inquiryId }, version, annotation, t))
    res.set('ETag', `"${saved.version}"`)
    return { id, ...saved, annotation, words: countWords(annotation) }
  })
  serve(api.dropEntry, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => dropEntry(c, { id: params.entry, inquiryId }, t)),
  )
  serve(api.losses, ({ member, query }) => lossesOf(c, member.inquiryId, query.format))
  serve(api.handIn, async ({ member, query, res }) => {
    const { name, ending, type, body } = await handIn(c, member.inquiryId, query.format, query.style)
    const encoded = `filename*=UTF-8''${encodeURIComponent(name)}.${ending}`
    res.set('Content-Disposition', `attachment; filename="bibliography.${ending}"; ${encoded}`).type(type).send(body)
  })
}
