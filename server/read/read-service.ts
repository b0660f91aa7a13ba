import { setImmediate as nextTurn } from 'node:timers/promises'
import { Op } from 'sequelize'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { Anchors } from '../../core/pdftext/anchor'
import type { Context } from '../base/context'
import { readBlob, sizeOfBlob } from '../db/blobs'
import { openingsOf, readable, readableCopy, type AskedCopy, type Asker } from '../copies/copy-rights'
import { copyOf, pagesOf } from '../copies/texts'

/** A copy with its page labels, proof and passages, whether whoever asks may open it or not. */
export async function copyInFull(c: Context, { id, ...asker }: AskedCopy) {
  const row = await copyOf(c, { id, inquiryId: asker.inquiryId })
  const { workId, outcome, version, pages, labels, proof, origin, scanned } = row
  const [opening, passages, work] = await Promise.all([
    openingsOf(c, asker, [id]),
    c.db.passages.findAll({ where: { copyId: id }, order: ['page', 'id'], raw: true }),
    c.db.works.findByPk(workId, { attributes: ['item'], raw: true }),
  ])
  const { item } = work ?? {}
  return {
    ...{ id, outcome, version, pages, labels, proof, origin, scanned, passages },
    opening: opening(id),
    work: workId,
    title: plainTitle(item?.title),
    ...(item ? { item } : {}),
  }
}

/** The copies whose words whoever asks can search: those that open for them and are their works, or may be. */
export async function searchable(c: Context, asker: Asker) {
  const all = await c.db.copies.findAll({
    where: { inquiryId: asker.inquiryId, outcome: ['proved', 'doubtful'] },
    attributes: ['id', 'workId', 'version', 'outcome', 'labels', 'scanned'],
    order: ['id'],
    raw: true,
  })
  const copies = await readable(c, asker, all)
  const works = await c.db.works.findAll({
    where: { id: copies.map(x => x.workId) },
    attributes: ['id', 'item'],
    raw: true,
  })
  const byId = new Map(works.map(w => [w.id, w.item]))
  return copies.map(({ workId, ...x }) => {
    const item = byId.get(workId)
    return {
      ...x,
      work: workId,
      title: plainTitle(item?.title),
      authors: authorLine(item?.author ?? item?.editor, 2),
      year: (item && yearOf(item)) ?? null,
    }
  })
}

/** The words of a copy, page by page. */
export async function copyText(c: Context, asked: AskedCopy) {
  const { id, pages } = await readableCopy(c, asked)
  return { pages: await pagesOf(c, id, pages) }
}

/** Passages of the other copies of a copy's work, found again in its text. */
export async function passagesElsewhere(c: Context, asked: AskedCopy) {
  const { id, workId, pages, labels } = await readableCopy(c, asked)
  const others = await c.db.copies.findAll({
    where: { workId, id: { [Op.ne]: id }, outcome: ['proved', 'doubtful'] },
    attributes: ['id', 'version'],
    raw: true,
  })
  const versionOf = new Map(others.map(o => [o.id, o.version]))
  const passages = await c.db.passages.findAll({
    // what is in the student's own words stands in no text
    where: { copyId: [...versionOf.keys()], quote: { [Op.ne]: '' } },
    order: ['page', 'id'],
    raw: true,
  })
  if (!passages.length) return []
  const text = new Anchors(await pagesOf(c, id, pages))
  const told = []
  for (const passage of passages) {
    const { selectors, quote, copyId } = passage
    // each takes a moment, and there may be two thousand: others have their turn meanwhile
    await nextTurn()
    const place = text.again(selectors ?? [{ type: 'TextQuoteSelector', exact: quote, prefix: '', suffix: '' }])
    const here = place && {
      ...{ page: place.page, exact: place.exact, fit: place.fit },
      label: labels[place.page - 1] ?? String(place.page),
    }
    told.push({ passage, version: versionOf.get(copyId)!, here: here ?? null })
  }
  return told
}

/** The file of a copy, to be read whole or in part. */
export async function fileOfCopy(c: Context, asked: AskedCopy) {
  const { id, hash } = await readableCopy(c, asked)
  const read = (from?: number, to?: number) => readBlob(c.db, hash, from, to)
  return { id, hash, size: await sizeOfBlob(c.db, hash), read }
}
