import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { authorAddresses, noteLetters } from './authors'
import { awaitTexts } from './awaited'
import { giveCopy } from './copies'
import { askedCopy, passOn } from '../copies/copy-rights'
import { beginScan } from './scan-job'
import { acceptTerms, lookedOnShelf, walksOf } from './walks'
import { dropCopy, enqueueFetching, enqueueFor, openCopy, openText, takeCopy, takeText, waysOf } from './obtain-service'

/** Obtain: the ways to the texts of the kept works, fetching them, and copies the student brings. */
export function obtainRoutes(c: Context, serve: Serve): void {
  serve(api.ways, ({ member, req }) => waysOf(c, member, req.ip ?? ''))
  serve(api.lookForWays, ({ member, body, once }) => once(t => enqueueFor(c, member, body.works, t)))
  serve(api.fetchTexts, ({ member, body, once }) => once(t => enqueueFetching(c, member, body.works, t)))
  serve(api.walksOf, ({ member, params }) => walksOf(c, member.inquiryId, params.work))
  serve(api.lookedOnShelf, ({ member, params, body }) => lookedOnShelf(c, member, params.work, body))
  serve(api.acceptTerms, ({ userId, body }) => acceptTerms(c, userId, body.host))
  serve(api.awaitTexts, ({ member, body }) =>
    change(c, member.inquiryId, t => awaitTexts(c, member, body.works, body.wanted, t)),
  )
  serve(api.authorOf, ({ member, params }) => authorAddresses(c, member, params.work))
  serve(api.noteLetters, ({ member, params, body }) =>
    change(c, member.inquiryId, t => noteLetters(c, member, params.work, body, t)),
  )
  serve(api.bringCopy, ({ member, params, file, once }) => once(t => takeCopy(c, member, params.work, file, t)))
  serve(api.bringText, ({ member, file, once }) => once(t => takeText(c, member, file, t)))
  serve(api.openText, ({ member, file, gone }) => openText(c, member, file, gone))
  serve(api.openCopy, ({ member, params, file, gone }) => openCopy(c, member, params.work, file, gone))
  serve(api.readScan, ({ member, params, once }) => once(t => beginScan(c, member, params.copy, t)))
  serve(api.giveCopy, ({ member: { inquiryId }, params, body, gone }) =>
    giveCopy(c, { id: params.copy, inquiryId }, body.work, gone),
  )
  serve(api.passOn, ({ member, params, body }) =>
    change(c, member.inquiryId, (t, revision) => passOn(c, askedCopy(member, params.copy), body.why, t, revision)),
  )
  serve(api.dropCopy, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, (t, revision) => dropCopy(c, { id: params.copy, inquiryId }, t, revision)),
  )
}
