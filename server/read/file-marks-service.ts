import type { Transaction } from 'sequelize'
import { clean, plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { Anchors, boxesOf } from '../../core/pdftext/anchor'
import type { FileMark, FileMarks } from '../../core/pdftext/file-marks'
import { fileName } from '../../core/paper/names'
import { markColour } from '../../core/write/mark-colours'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { RESTRICTED, type PageMark } from '../child/pdf-marks'
import { ChildFailed, runChild } from '../child/run'
import { readBlob } from '../db/blobs'
import { readableCopy, type AskedCopy } from '../copies/copy-rights'
import type { CopyRow } from '../copies/copies-model'
import { pagesOf } from '../copies/texts'
import { addPassages, labelOver, notedIn, ownIdOf, refuseForeign, saysOf } from './passages-service'

/** What others marked in the file of a copy, and which of it is noted already. */
export async function marksOfFile(c: Context, asked: AskedCopy) {
  const copy = await readableCopy(c, asked)
  const { marks, ...rest } = await marksOf(c, copy)
  // a mark is noted once, in whichever copy of its work
  const noted = await notedIn(c, { workId: copy.workId })
  return {
    ...rest,
    marks: marks.map(m => ({
      ...{ ...m, label: labelOver(copy, m.page, m.boxes) },
      isNoted: noted.has(idOf(copy, m)) || noted.has(saysOf({ ...m, workId: copy.workId })),
    })),
  }
}

/** Marks of a file that came before these were read are read now, and kept. */
async function marksOf(c: Context, copy: CopyRow): Promise<FileMarks> {
  const kept = await c.db.copyMarks.findByPk(copy.id, { raw: true })
  if (kept) return kept.told
  try {
    const told = clean(await runChild('marks', await readBlob(c.db, copy.hash), { seconds: 120 }))
    await c.db.copyMarks.upsert({ copyId: copy.id, told })
    return told
  } catch (e) {
    if (e instanceof ChildFailed) return NONE
    throw e
  }
}
const NONE: FileMarks = { marks: [], drawings: 0, left: 0, unread: 0 }

const idOf = (copy: CopyRow, { key }: FileMark): string => ownIdOf(`mark ${copy.id} ${key}`)

/** Marks of a copy's file as the passages that they become. @throws Problem 404 where the copy is gone */
export async function passagesOfMarks(
  c: Context,
  asked: AskedCopy,
  wanted: readonly { key: string; strand?: number | null | undefined }[],
) {
  const copy = await readableCopy(c, asked)
  const [{ marks }, pages] = await Promise.all([marksOf(c, copy), pagesOf(c, copy.id, copy.pages)])
  const text = new Anchors(pages)
  const strandOf = new Map(wanted.map(w => [w.key, w.strand ?? null]))
  return marks
    .filter(m => strandOf.has(m.key) && m.page <= copy.pages)
    .map(m => ({ ...rowOf(copy, m, text), ownId: idOf(copy, m), strandId: strandOf.get(m.key)! }))
}

/**
 * Notes marks as passages, each once: those that are noted already stay as they are.
 * @returns the passages that they became
 */
export async function noteMarks(
  c: Context,
  inquiryId: number,
  passages: Awaited<ReturnType<typeof passagesOfMarks>>,
  t: Transaction,
): Promise<{ noted: number[] }> {
  for (const strand of new Set(passages.map(p => p.strandId))) await refuseForeign(c, inquiryId, strand, t)
  const noted = await notedIn(c, { inquiryId }, t)
  return {
    noted: await addPassages(
      c,
      passages.filter(p => !noted.has(p.ownId)),
      t,
    ),
  }
}

function rowOf(copy: CopyRow, { page, kind, quote, note, boxes }: FileMark, text: Anchors) {
  const { id: copyId, inquiryId, workId } = copy
  const selectors = text.select(quote, page, boxes)
  return {
    ...{ inquiryId, workId, copyId, page, label: labelOver(copy, page, boxes), kind, note, tags: [], selectors },
    // as the words stand in the text, whose hyphens and ligatures are read already
    quote: selectors.find(s => s.type === 'TextQuoteSelector')?.exact ?? quote,
  }
}

/**
 * The file of a copy with its passages written in as annotations; the stored file stays as it is.
 * @throws Problem 422 where it is locked, or its makers allow no notes
 */
export async function markedFile(c: Context, asked: AskedCopy, password: string | undefined) {
  const copy = await readableCopy(c, asked)
  const [passages, strands, work, before, bytes] = await Promise.all([
    c.db.passages.findAll({ where: { copyId: copy.id }, order: ['page', 'id'], raw: true }),
    c.db.strands
      .scope('standing')
      .findAll({ where: { inquiryId: copy.inquiryId }, attributes: ['id', 'name'], raw: true }),
    c.db.works.findByPk(copy.workId, { attributes: ['item'], raw: true }),
    c.db.copyMarks.findByPk(copy.id, { raw: true }),
    readBlob(c.db, copy.hash),
  ])
  // what was marked in the file before is in it, unless something else was written to it since
  const own = new Map(before?.told.marks.map(m => [idOf(copy, m), m.note]))
  const inOrder = strands.sort((a, b) => a.id - b.id)
  const wanted = passages.filter(p => !p.ownId || own.get(p.ownId) !== p.note)
  const marks = wanted.map((p): PageMark => {
    const at = inOrder.findIndex(s => s.id === p.strandId)
    const about = [at >= 0 ? `Strand: ${inOrder[at]!.name}` : '', p.tags.length ? `Tags: ${p.tags.join(', ')}` : '']
    const isFrame = p.kind === 'figure'
    return {
      ...{ page: p.page, boxes: boxesOf(p.selectors), words: p.quote, isFrame, at: new Date(p.at).toISOString() },
      note: [p.note, ...about].filter(Boolean).join('\n'),
      colour: markColour(at < 0 ? undefined : at, isFrame),
    }
  })
  const how = { marks, ...(password ? { password } : {}) }
  const body = await runChild('marked', bytes, { seconds: 120 }, how).catch((e: Error) => {
    throw e instanceof ChildFailed ? refusalOf(e, password) : e
  })
  const item = work?.item
  const by = item ? [authorLine(item.author ?? item.editor, 2), yearOf(item)] : []
  const name = fileName([...by, plainTitle(item?.title)].filter(Boolean).join(' '))
  return { name: `${name} marked.pdf`, body: Buffer.from(body) }
}

function refusalOf({ message }: ChildFailed, password: string | undefined): Problem {
  if (/^PasswordException/.test(message))
    return new Problem(
      422,
      'locked',
      password
        ? 'This is not the password that the PDF asks for.'
        : 'The PDF is locked: it opens with its password alone.',
    )
  return new Problem(
    422,
    'not-written',
    message.endsWith(RESTRICTED)
      ? `${RESTRICTED} Your passages stay here, and can be taken out as a text or as web annotations.`
      : 'The marks could not be written into this file. Your passages stay here as they are.',
  )
}
