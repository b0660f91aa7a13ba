import { Router } from 'express'
import type { Transaction } from 'sequelize'
import { object, string } from 'yup'
import { STYLES } from '../../core/cite/styles'
import { plainText } from '../../core/cite/rich-text'
import { writeBibtex } from '../../core/formats/bibtex'
import { losses } from '../../core/formats/losses'
import { writeRis } from '../../core/formats/ris'
import { fold } from '../../core/bib/fold'
import { familyName } from '../../core/bib/names'
import { yearOf } from '../../core/bib/dates'
import { checkBrief } from '../../core/write/rules'
import { countWords } from '../../core/write/words'
import type { Item } from '../../core/bib/item'
import type { Context } from '../context'
import { inquiryOf, memberOf } from '../accounts/accounts'
import { addMissing } from '../db/rows'
import { change } from '../inquiries/revision'
import { answerOnce } from '../once'
import { rowId } from '../pool/row-id'
import { check, notFound, Problem } from '../problem'
import { asDocx, asHtml, asMarkdown, type Printed } from './documents'
import { bibliographyOf } from './styles'

const styleIds = STYLES.map(s => s.id) as string[]

/** Compose: entries, the list as it will print, and what is handed in. */
export function composeRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })

  const load = async (inquiryId: number, style?: string) => {
    const inquiry = await c.db.inquiries.findByPk(inquiryId, { raw: true })
    if (!inquiry) throw notFound()
    const entries = await c.db.entries.findAll({ where: { inquiryId }, raw: true })
    const works = new Map(
      (await c.db.works.findAll({ where: { inquiryId, id: entries.map(e => e.workId) }, raw: true })).map(w => [
        w.id,
        w,
      ]),
    )
    const list = entries.map(e => ({ ...e, work: works.get(e.workId)! }))
    const chosen = style && styleIds.includes(style) ? style : inquiry.style
    const items: Item[] = list.map(e => ({ ...e.work.item, id: String(e.id) }))
    const b = await bibliographyOf(c.settings.cslFolder, chosen, items)
    const byId = new Map(list.map(e => [String(e.id), e]))
    const inOrder = b.entries.map(f => ({ ...f, entry: byId.get(f.id)! }))
    return { inquiry, list, style: chosen, bibliography: b, inOrder }
  }

  router.get('/bibliography', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { inquiry, style, bibliography, inOrder } = await load(inquiryId, req.query.style as string | undefined)
    const today = memberOf(res).day
    const copies = await c.db.copies.findAll({ where: { inquiryId, outcome: 'proved' }, attributes: ['workId', 'signs'], raw: true }) // prettier-ignore
    const signs = new Map(copies.flatMap(x => (x.signs ? [[x.workId, x.signs] as const] : [])))
    res.json({
      style,
      styles: STYLES,
      hangingIndent: bibliography.hangingIndent,
      entries: inOrder.map(f => ({
        id: f.entry.id,
        work: f.entry.workId,
        title: f.entry.work.item.title ?? 'Untitled',
        label: f.label ?? null,
        citation: f.citation,
        inText: plainText(f.inText),
        annotation: f.entry.annotation,
        version: f.entry.version,
        words: countWords(f.entry.annotation),
        kind: f.entry.work.kind,
      })),
      rules: checkBrief(
        inquiry.rules,
        inOrder.map(f => ({
          id: f.entry.id,
          item: f.entry.work.item,
          facts: f.entry.work.facts,
          kind: f.entry.work.kind,
          confidence: f.entry.work.confidence,
          ...(signs.has(f.entry.workId) ? { signs: signs.get(f.entry.workId)! } : {}),
          annotation: f.entry.annotation,
        })),
        today,
      ),
    })
  })

  router.post('/entries', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const { work } = check(object({ work: rowId.required() }), req.body)
    const row = await c.db.works.findOne({ where: { id: work, inquiryId, successorId: null }, raw: true })
    if (!row) throw notFound()
    if (row.state !== 'kept') throw new Problem(422, 'not-kept', 'Only a kept work can become an entry.')
    await answerOnce(c, req, res, 201, async t => {
      await addMissing(c.db.entries, [{ inquiryId, workId: work, annotation: '' }], 'workId', t)
      return (await c.db.entries.findOne({ where: { workId: work }, transaction: t, raw: true }))!
    })
  })

  router.get('/entries/:entry', async (req, res) => {
    const row = await c.db.entries.findOne({
      where: { id: Number(req.params.entry), inquiryId: inquiryOf(req) },
      raw: true,
    })
    if (!row) throw notFound()
    res.set('ETag', `"${row.version}"`).json(row)
  })

  router.patch('/entries/:entry', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const id = Number(req.params.entry)
    const { annotation } = check(
      object({ annotation: string().max(50_000).defined('The annotation is missing.') }),
      req.body,
    )
    const match = /^"(\d+)"$/.exec(req.get('If-Match') ?? '')
    if (!match) throw new Problem(428, 'if-match', 'Say by If-Match which version of the annotation you changed.')
    const write = async (t: Transaction) => {
      const now = await c.db.entries.findOne({
        where: { id, inquiryId },
        transaction: t,
        lock: t.LOCK.UPDATE,
        raw: true,
      })
      if (!now) throw notFound()
      if (now.version !== Number(match[1])) {
        throw new Problem(
          412,
          'changed-elsewhere',
          'This annotation was changed in another window since you opened it. Both texts are kept: choose which one stands.',
          { current: { annotation: now.annotation, version: now.version } },
        )
      }
      await c.db.entries.update({ annotation, version: now.version + 1 }, { where: { id }, transaction: t })
      return { version: now.version + 1 }
    }
    const show = ({ version }: { version: number }) => {
      res.set('ETag', `"${version}"`)
      return { id, version, annotation, words: countWords(annotation) }
    }
    await answerOnce(c, req, res, 200, write, show)
  })

  router.delete('/entries/:entry', async (req, res) => {
    const inquiryId = inquiryOf(req)
    const gone = await change(c, inquiryId, t =>
      c.db.entries.destroy({ where: { id: Number(req.params.entry), inquiryId }, transaction: t }),
    )
    if (!gone) throw notFound()
    res.status(204).end()
  })

  router.get('/export/losses', async (req, res) => {
    const format = req.query.format === 'ris' ? 'RIS' : 'BibTeX'
    const { list } = await load(inquiryOf(req))
    res.json(
      list
        .map(e => ({ title: e.work.item.title, ...losses(exported(e.work.item, e.workId), format) }))
        .filter(l => l.fields.length),
    )
  })

  router.get('/export', async (req, res) => {
    const { inquiry, list, bibliography, inOrder } = await load(inquiryOf(req), req.query.style as string | undefined)
    if (!list.length) throw new Problem(422, 'no-entries', 'There is no entry to hand in yet.')
    const name = inquiry.title.replace(/[^\p{L}\p{N}]+/gu, '-').replace(/^-|-$/g, '') || 'bibliography'
    const give = (extension: string, type: string, body: string | Buffer) =>
      void res
        .set(
          'Content-Disposition',
          `attachment; filename="bibliography.${extension}"; filename*=UTF-8''${encodeURIComponent(name)}.${extension}`,
        )
        .type(type)
        .send(body)
    const printed: Printed = {
      title: inquiry.title,
      question: inquiry.question,
      hangingIndent: bibliography.hangingIndent,
      entries: inOrder.map(f => ({ label: f.label, citation: f.citation, annotation: f.entry.annotation })),
    }
    const keys = citationKeys(list.map(e => e.work.item))
    switch (req.query.format) {
      case 'docx':
        return give(
          'docx',
          'application/vnd.openxmlformats-officedocument.wordprocessingml.document',
          await asDocx(printed),
        )
      case 'html':
        return give('html', 'text/html; charset=utf-8', asHtml(printed))
      case 'markdown':
        return give('md', 'text/markdown; charset=utf-8', asMarkdown(printed))
      case 'bibtex':
        return give(
          'bib',
          'application/x-bibtex; charset=utf-8',
          list.map((e, i) => writeBibtex(e.work.item, keys[i]!)).join('\n'),
        )
      case 'ris':
        return give(
          'ris',
          'application/x-research-info-systems; charset=utf-8',
          list.map((e, i) => writeRis(e.work.item, keys[i]!)).join('\r\n'),
        )
      case 'csl':
        return give(
          'json',
          'application/vnd.citationstyles.csl+json; charset=utf-8',
          JSON.stringify(
            list.map(e => exported(e.work.item, e.workId)),
            null,
            2,
          ),
        )
      default:
        throw new Problem(422, 'invalid', 'Formats are docx, html, markdown, bibtex, ris and csl.')
    }
  })
  return router
}

/** The item with an id that stays: that of the work, unless it came with one of its own. */
const exported = (item: Item, workId: number): Item => ({ ...item, id: item.id || `work-${workId}` })

/** Keys as people expect them, family name and year, told apart by letters. */
export function citationKeys(items: readonly Item[]): string[] {
  const seen = new Map<string, number>()
  return items.map(i => {
    const name = fold(i.author?.[0] ? familyName(i.author[0]) : (i.title ?? 'work').split(' ')[0]!).replace(
      /[^a-z0-9]/g,
      '',
    )
    const base = `${name || 'work'}${yearOf(i) ?? ''}`
    const n = seen.get(base) ?? 0
    seen.set(base, n + 1)
    return n ? base + String.fromCharCode(96 + n) : base
  })
}
