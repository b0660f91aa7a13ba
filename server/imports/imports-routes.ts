import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { Serve } from '../serve/serve'
import { followLead, importsOf, lookUp, oneImport, readAgain, requireLines, takeFile } from './imports-service'

/** Bibliography files, pasted lines and leads. What comes of them enters the pool whole or not at all. */
export function importRoutes(c: Context, serve: Serve): void {
  serve(api.imports, ({ member }) => importsOf(c, member.inquiryId))
  serve(api.import, ({ member, params }) => oneImport(c, { id: params.import, inquiryId: member.inquiryId }))
  serve(api.bringFile, ({ member, file, once }) => once(t => takeFile(c, member, file, t)))
  serve(api.importAgain, ({ member, params, once }) => once(t => readAgain(c, member, params.import, t)))
  serve(api.paste, ({ member, body: { text }, once }) => {
    const n = requireLines(text)
    return once(t => lookUp(c, member, text, `${n} pasted ${n === 1 ? 'line' : 'lines'}`, t))
  })
  serve(api.followLead, ({ member, params, once }) =>
    once((t, revision) => followLead(c, { ...member, revision }, params.work, t)),
  )
}
