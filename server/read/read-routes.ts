import { api } from '../../core/schema/api'
import type { Context } from '../base/context'
import { change } from '../db/revision'
import type { Serve } from '../serve/serve'
import { attach } from '../serve/attach'
import { partsOfCopy } from '../obtain/copies'
import { askedCopy } from '../copies/copy-rights'
import { noteAnnotations, placeAnnotations } from './annotations-service'
import { markedFile, marksOfFile, noteMarks, passagesOfMarks } from './file-marks-service'
import { changePassage, dropFresh, dropPassage, notePassage, passagesFile, passagesOf } from './passages-service'
import { addHead, changeHead, readingTable, tableFile, writeNote } from './sheets-service'
import { copyInFull, copyText, fileOfCopy, passagesElsewhere, searchable } from './read-service'

/** Read: the stored copies and the passages taken from them. */
export function readRoutes(c: Context, serve: Serve): void {
  serve(api.copy, ({ member, params }) => copyInFull(c, askedCopy(member, params.copy)))
  serve(api.searchable, ({ member }) => searchable(c, member))
  serve(api.copyText, ({ member, params }) => copyText(c, askedCopy(member, params.copy)))
  serve(api.copyParts, ({ member, params }) => partsOfCopy(c, askedCopy(member, params.copy)))
  serve(api.passagesElsewhere, ({ member, params }) => passagesElsewhere(c, askedCopy(member, params.copy)))
  serve(api.notePassage, ({ member, params, body, once }) =>
    once(t => notePassage(c, askedCopy(member, params.copy), body, t)),
  )
  serve(api.passages, ({ member, query }) => passagesOf(c, member.inquiryId, query.style))
  serve(api.passagesFile, async ({ member, query, res }) => {
    const { ending, type, body } = await passagesFile(c, member.inquiryId, query.format)
    res.set('Content-Disposition', `attachment; filename="passages.${ending}"`).type(type).send(body)
  })
  serve(api.marksOfFile, ({ member, params }) => marksOfFile(c, askedCopy(member, params.copy)))
  serve(api.noteMarks, async ({ member, params, body, once }) => {
    const passages = await passagesOfMarks(c, askedCopy(member, params.copy), body.marks)
    return once(t => noteMarks(c, member.inquiryId, passages, t))
  })
  serve(api.bringAnnotations, async ({ member, file, once }) => {
    const placed = await placeAnnotations(c, member, file.bytes)
    return once(t => noteAnnotations(c, member.inquiryId, placed, t))
  })
  serve(api.dropPassages, ({ member: { inquiryId }, body }) =>
    change(c, inquiryId, t => dropFresh(c, inquiryId, body.passages, t)),
  )
  serve(api.markedFile, async ({ member, params, body, res }) => {
    const made = await markedFile(c, askedCopy(member, params.copy), body.password)
    attach(res, made.name, 'marked.pdf')
    res.type('application/pdf').send(made.body)
  })
  serve(api.changePassage, async ({ member: { inquiryId }, params: { passage: id }, version, body, once, res }) => {
    const saved = await once(t => changePassage(c, { id, inquiryId }, version, body, t))
    res.set('ETag', `"${saved.version}"`)
    return saved
  })
  serve(api.dropPassage, ({ member: { inquiryId }, params }) =>
    change(c, inquiryId, t => dropPassage(c, { id: params.passage, inquiryId }, t)),
  )
  serve(api.readingTable, ({ member }) => readingTable(c, member))
  serve(api.writeNote, async ({ member: { inquiryId }, params: { work, head }, version, body, once, res }) => {
    const saved = await once(t => writeNote(c, { inquiryId, work, head }, version, body.content, t))
    res.set('ETag', `"${saved.version}"`)
    return saved
  })
  serve(api.addHead, ({ member, body, once }) => once(t => addHead(c, member.inquiryId, body.name, t)))
  serve(api.changeHead, ({ member: { inquiryId }, params, body }) =>
    change(c, inquiryId, t => changeHead(c, { id: params.own, inquiryId }, body, t)),
  )
  serve(api.tableFile, async ({ member, query, res }) => {
    const { ending, type, body } = await tableFile(c, member, query.format)
    res.set('Content-Disposition', `attachment; filename="table-of-works.${ending}"`).type(type).send(body)
  })
  // the file as it is, whole or in a range (RFC 9110)
  serve(api.file, async ({ member, params, req, res }) => {
    const { id, hash, size, read } = await fileOfCopy(c, askedCopy(member, params.copy))
    res.set({
      ETag: `"${hash}"`,
      // asked for each time, so that it is shown to nobody whose right has ended; unchanged, it is not sent again
      'Cache-Control': 'private, no-cache',
      'Accept-Ranges': 'bytes',
      'Content-Disposition': `inline; filename="copy-${id}.pdf"`,
    })
    if (req.fresh) return void res.status(304).end()
    res.type('application/pdf')
    const asked = req.get('If-Range') && req.get('If-Range') !== `"${hash}"` ? undefined : req.range(size)
    // several ranges at once are answered with the whole, as the standard allows
    if (asked === undefined || asked === -2 || (Array.isArray(asked) && (asked.type !== 'bytes' || asked.length > 1)))
      return void res.send(await read())
    if (asked === -1) return void res.set('Content-Range', `bytes */${size}`).status(416).end()
    const { start, end } = asked[0]!
    res.status(206).set('Content-Range', `bytes ${start}-${end}/${size}`)
    res.send(await read(start, end + 1))
  })
}
