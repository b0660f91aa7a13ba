import { pipeline } from 'node:stream'
import type { Response } from 'express'
import { api } from '../../core/schema/api'
import { countWords } from '../../core/write/words'
import { fitMarks } from '../../core/write/written'
import type { Context } from '../base/context'
import { logError } from '../base/log'
import { change } from '../db/revision'
import { attach } from '../serve/attach'
import type { Serve } from '../serve/serve'
import type { Member } from '../sessions/member'
import { bundleOf } from './bundle'
import { checkedFile } from './checked-service'
import {
  addEntry,
  annotate,
  bibliographyInFull,
  citationOf,
  citedIn,
  dropEntry,
  lossesOf,
  oneEntry,
} from './compose-service'
import { checksOf } from './entry-checks'
import { fileOf, type MadeFile, type State } from './files'
import { letterParts, sendLetter } from './letter-service'
import { methodsFile } from './methods-service'
import { layEntries, paperOf, setLayout, writeText } from './paper-service'
import { askRegistrations } from './registrations'
import { changesSince, handIn, stateToHandIn, takeUp, versionOf, versionsOf } from './versions-service'
import type { CitationFormat, DocumentFormat } from '../../core/paper/formats'

/** Compose: entries, the list as it will print, and what is handed in. */
export function composeRoutes(c: Context, serve: Serve): void {
  serve(api.bibliography, ({ member, query }) => bibliographyInFull(c, member, query.style))
  serve(api.entryChecks, ({ member, query }) => checksOf(c, member, query.style))
  serve(api.askRegistrations, ({ member, once }) => once(t => askRegistrations(c, member, t)))
  serve(api.citation, ({ member, params }) => citationOf(c, member.inquiryId, params.work))
  serve(api.citing, ({ member, body }) => citedIn(c, member.inquiryId, body))
  serve(api.addEntry, ({ member, body, once }) => once(t => addEntry(c, member.inquiryId, body.work, t)))
  serve(api.layEntries, ({ member: { inquiryId }, body }) =>
    change(c, inquiryId, t => layEntries(c, inquiryId, body.entries, t)),
  )
  serve(api.setLayout, ({ member: { inquiryId }, body }) => change(c, inquiryId, t => setLayout(c, inquiryId, body, t)))
  serve(
    api.writeText,
    async ({ member: { inquiryId }, params: { place }, version, body: { content, marks: given }, once, res }) => {
      const marks = fitMarks(content, given)
      const saved = await once(t => writeText(c, { inquiryId, place }, version, { content, marks }, t))
      res.set('ETag', `"${saved.version}"`)
      return { place, content, marks, ...saved }
    },
  )
  serve(api.entry, async ({ member, params, res }) => {
    const entry = await oneEntry(c, { id: params.entry, inquiryId: member.inquiryId })
    res.set('ETag', `"${entry.version}"`)
    return entry
  })
  serve(
    api.annotate,
    async ({ member, params: { entry: id }, version, body: { annotation, marks: given }, once, res }) => {
      const marks = fitMarks(annotation, given)
      const saved = await once(t => annotate(c, { id, inquiryId: member.inquiryId }, version, { annotation, marks }, t))
      res.set('ETag', `"${saved.version}"`)
      return { id, ...saved, annotation, marks, words: countWords(annotation) }
    },
  )
  serve(api.dropEntry, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => dropEntry(c, { id: params.entry, inquiryId }, t)),
  )
  serve(api.losses, ({ member, query }) => lossesOf(c, member.inquiryId, query.format))
  serve(api.preview, async ({ member, query, res }) =>
    give(res, await fileIn(c, member, await paperOf(c, member), query.format)),
  )
  serve(api.checkedFile, async ({ member, query, res }) => give(res, await checkedFile(c, member, query.format)))
  serve(api.letterParts, ({ member, body }) => letterParts(c, member, body.works))
  serve(api.sendLetter, ({ member, body }) => sendLetter(c, member, body))
  serve(api.methodsFile, async ({ member, query, res }) => give(res, await methodsFile(c, member, query.format)))
  serve(api.versions, ({ member }) => versionsOf(c, member))
  serve(api.handIn, async ({ member, body, once }) => {
    const state = await stateToHandIn(c, member)
    return once(t => handIn(c, member, state, body.format, t))
  })
  serve(api.versionFile, async ({ member, params, query, res }) =>
    give(
      res,
      await fileIn(c, member, await versionOf(c, { id: params.version, inquiryId: member.inquiryId }), query.format),
    ),
  )
  serve(api.versionChanges, ({ member, params, query }) => changesSince(c, member, params.version, query.to))
  serve(api.takeUpVersion, async ({ member, params, once }) => {
    const version = await versionOf(c, { id: params.version, inquiryId: member.inquiryId })
    const now = await paperOf(c, member)
    return once(t => takeUp(c, member, version, now, t))
  })
}

const fileIn = (c: Context, member: Member, state: State, format: DocumentFormat | CitationFormat) =>
  format === 'bundle' ? bundleOf(c, member, state) : fileOf(state, format)

/** Sends a file under its own name; one that is made while it is sent ends the connection where it cannot be. */
function give(res: Response, { name, type, body }: MadeFile): Promise<void> | void {
  const ending = name.split('.').at(-1)!
  attach(res, name, `bibliography.${ending}`)
  res.type(type)
  if (typeof body === 'string' || Buffer.isBuffer(body)) res.send(body)
  else
    return new Promise(done =>
      pipeline(body, res, e => {
        // whoever went away is no fault
        if (e && e.code !== 'ERR_STREAM_PREMATURE_CLOSE') logError('a file that was being sent', e)
        done()
      }),
    )
}
