import { licenceSaid } from '../../core/access/copy-rights'
import { signsOf } from '../../core/appraise/signs'
import type { Transaction } from 'sequelize'
import { Op } from 'sequelize'
import { fileNature, FOLDER } from '../../core/match/file-nature'
import { proveCopy, type Proof } from '../../core/match/proof'
import { recognise } from '../../core/match/recognise'
import type { Item } from '../../core/bib/item'
import { partsOf, proofPages, type CopyParts, type CopyText } from '../../core/pdftext/read-text'
import { ChildFailed, runChild } from '../child/run'
import type { Context } from '../base/context'
import { scanCame } from '../loans/loans-service'
import type { JobRow } from '../jobs/jobs-model'
import type { JobHandle } from '../jobs/queue'
import { clean, cleanText, firstLetters, plainTitle } from '../../core/bib/clean'
import { dropOrphans, readBlob, storeBlob } from '../db/blobs'
import { hashOf } from '../base/hash'
import { change } from '../db/revision'
import { addMissing, inParts } from '../db/rows'
import { heirsOf } from '../deeds/family'
import { redescribe } from '../pool/describe'
import { atHome } from '../pool/moves-model'
import { notFound } from '../base/problem'
import { grant, moveRights, readableCopy, type AskedCopy, type Grant } from '../copies/copy-rights'
import type { CopyRow } from '../copies/copies-model'
import type { UploadRow } from './obtain-model'
import { pagesOf } from '../copies/texts'
import { inThread } from '../threads/threads'

export interface Received {
  outcome: Proof['outcome'] | 'refused'
  /** A sentence for the student. */
  said: string
  copyId?: number
  proof?: Proof
  /** The work of the pool that it is instead of the one it was brought for. */
  other?: { id: number; title: string }
  /** It asks for its password. */
  locked?: boolean
}

/** What a file turned out to be that was brought without a word on its work. */
export interface Recognised extends Received {
  /** The work that it is, or may be. */
  work?: number
  title?: string
  /** It is a copy of the work already. */
  known?: boolean
  /** What its title page says, where it is none of the pool's works. */
  item?: Item
}

interface Given {
  signal?: AbortSignal
  password?: string
}

/**
 * Takes in a file for a work: what it is, then its text against the work. Proved and doubtful ones are kept with
 * their proof; what is not a readable PDF, or is another work, is refused with what it really was.
 */
export async function receiveCopy(
  c: Context,
  of: { inquiryId: number; workId: number; origin: string; grant: Grant },
  bytes: Buffer,
  given: Given = {},
): Promise<Received> {
  const { inquiryId, workId, origin } = of
  const work = await c.db.works.findOne({ where: { id: workId, inquiryId }, raw: true })
  const read = await readFile(bytes, given, work!.item)
  const got = 'outcome' in read ? read : await proveAndKeep(c, of, bytes, work!.item, read)
  if (got.outcome === 'refused')
    await c.db.attempts.create({ workId, url: firstLetters(origin, 1000), outcome: 'refused', said: got.said })
  return got
}

/** Takes in a file that finds its work by its own text, among all works of the pool. */
export async function receiveFile(c: Context, of: Brought, bytes: Buffer, given: Given): Promise<Recognised> {
  const got = await recogniseFile(c, of, bytes, given)
  await asLent(c, of, got.work, got)
  return got
}

/** The file of a student for a work. */
export async function receiveOwn(
  c: Context,
  { work: workId, ...of }: Brought & { work: number },
  bytes: Buffer,
  given: Given,
): Promise<Received> {
  const got = await receiveCopy(c, { inquiryId: of.inquiryId, workId, ...ownFile(of) }, bytes, given)
  await asLent(c, of, workId, got)
  return got
}

/** A file that a member brought. */
type Brought = Pick<UploadRow, 'inquiryId' | 'name'> & { userId: number }
const ownFile = ({ name, userId }: Brought) => ({
  origin: `your file "${name}"`,
  grant: { kind: 'own' as const, userId, from: name },
})

/** What a student brings may be the scan that they asked for: it is here by that, then. */
async function asLent(c: Context, of: Brought, work: number | undefined, got: Received): Promise<void> {
  const { copyId } = got
  if (work === undefined || copyId === undefined) return
  const { inquiryId, userId } = of
  await scanCame(c, { inquiryId, workId: work, userId }, async (lent, t, revision) => {
    await c.db.copyRights.destroy({ where: { copyId, userId, kind: 'own' }, transaction: t })
    await grant(c, { id: copyId, workId: work }, [{ kind: 'loan', userId, ...lent }], t, revision)
  })
}

async function recogniseFile(c: Context, of: Brought, bytes: Buffer, given: Given): Promise<Recognised> {
  const { inquiryId } = of
  const there = await c.db.copies.findOne({ where: { inquiryId, hash: hashOf(bytes) }, raw: true })
  const works = await c.db.works
    .scope('living')
    .findAll({ where: { inquiryId }, attributes: ['id', 'item'], raw: true })
  const titleOf = (work: number) => plainTitle(works.find(w => w.id === work)?.item.title)
  if (there) {
    await change(c, inquiryId, (t, revision) => grant(c, there, [ownFile(of).grant], t, revision))
    return {
      ...{ outcome: there.outcome, said: 'It is there already.', known: true },
      ...{ copyId: there.id, work: there.workId, title: titleOf(there.workId) },
    }
  }
  const read = await readFile(bytes, given)
  if ('outcome' in read) return read
  const found = recognise(works, proofPages(read))
  if (found) {
    const { id: workId, item } = found.work
    const got = await proveAndKeep(c, { inquiryId, workId, ...ownFile(of) }, bytes, item, read)
    if (got.outcome !== 'refused') return { ...got, work: workId, title: plainTitle(item.title) }
  }
  const { title, authors, doi, abstract, source } = read.front
  const item = title && {
    id: '',
    type: 'article-journal',
    title,
    ...(authors ? { author: authors.map(a => a.name) } : {}),
    ...(doi ? { DOI: doi } : {}),
    ...(abstract ? { abstract } : {}),
    ...source,
  }
  const said = title
    ? `It is none of your works: “${title}”.`
    : 'It is none of your works, and no title can be told in it.'
  return { outcome: 'refused', said, ...(item ? { item: clean(item) } : {}) }
}

/** The text of a file, or why there is none. */
async function readFile(bytes: Buffer, { signal, password }: Given, item?: Item): Promise<CopyText | Received> {
  const head = bytes.subarray(0, 65_536).toString('latin1')
  const nature = fileNature(bytes.length, head, bytes.subarray(-2048).toString('latin1'))
  const refused = (said: string): Received => ({ outcome: 'refused', said })
  if (!nature.pdf) return refused(nature.said!)
  try {
    return await readCopy(bytes, { ...wordsOn(item), ...(password ? { password } : {}) }, signal)
  } catch (e) {
    if (!(e instanceof ChildFailed)) throw e
    if (/^PasswordException/.test(e.message)) {
      const wrong = 'This is not the password that the PDF asks for.'
      const said = password === undefined ? 'The PDF is locked: it opens with its password alone.' : wrong
      return { ...refused(said), locked: true }
    }
    if (e.message.endsWith(FOLDER)) return refused(FOLDER)
    if (/too long|memory/.test(e.message)) return refused(`The PDF could not be read. ${e.message}`)
    return refused('The PDF is damaged and cannot be opened. Fetch it again, or drop another file.')
  }
}

/** How the letters of a text came that it did not have itself. */
const SCANNED = {
  pictures: 'Its pages are pictures of a text: they were read by machine, so that some letters may be wrong.',
  letters: 'The letters in the file are not those that it shows: its pages were read by machine.',
}

/** Holds a text against a work as all its records have it, and against the other works of the pool. */
async function prove(
  c: Context,
  inquiryId: number,
  workId: number,
  item: Item,
  text: CopyText,
): Promise<Pick<Received, 'said' | 'other'> & { proof: Proof }> {
  const others = await c.db.works.findAll({
    where: { inquiryId, successorId: null, id: { [Op.ne]: workId } },
    attributes: ['id', 'item'],
    raw: true,
  })
  const records = await c.db.records.findAll({ where: { workId }, attributes: ['item'], raw: true })
  const proof = proveCopy(
    item,
    proofPages(text),
    others,
    records.map(r => r.item),
  )
  const against = proof.evidence.filter(e => !e.holds).map(e => e.said)
  if (text.scan) proof.evidence.unshift({ holds: true, said: SCANNED[text.scan.why] })
  const said =
    proof.outcome === 'not this work'
      ? `This is not the work: the file is ${proof.really}.`
      : proof.outcome === 'proved'
        ? 'Its own text proves it.'
        : `Doubtful: ${against.join(' ')}`
  const other = others.find(o => o.id === proof.other)
  return { proof, said, ...(other ? { other: { id: other.id, title: plainTitle(other.item.title) } } : {}) }
}

/** Holds a text against a work, and keeps the file where it is the work, or may be. */
async function proveAndKeep(
  c: Context,
  of: { inquiryId: number; workId: number; origin: string; grant: Grant },
  bytes: Buffer,
  item: Item,
  text: CopyText,
): Promise<Received> {
  const { inquiryId, origin } = of
  const licence = licenceSaid(text.pages.map(p => p.text))
  const open = licence && ({ kind: 'open', userId: null, from: `${licence}, as its own pages say` } as const)
  const told = await prove(c, inquiryId, of.workId, item, text)
  const { proof, said } = told
  if (proof.outcome === 'not this work') return { outcome: 'refused', ...told }
  const copyId = await change(c, inquiryId, async (t, revision) => {
    // joined into another while its text was on the way
    const workId = (await heirsOf(c, inquiryId, [of.workId], t)).get(of.workId) ?? of.workId
    const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
    const have = await c.db.copies.findOne({ where: { workId, hash }, transaction: t, raw: true })
    if (!have)
      await c.db.attempts.create(
        { workId, url: firstLetters(origin, 1000), outcome: proof.outcome, said },
        { transaction: t },
      )
    const id = have?.id ?? (await keep(c, { inquiryId, workId, hash, origin }, proof, text, t, revision))
    await grant(c, { id, workId }, [of.grant, ...(open ? [open] : [])], t, revision)
    return id
  })
  return { outcome: proof.outcome, copyId, ...told }
}

/**
 * Gives a copy to another work, where its text bears that out, with what was noted in it; to its own, it is proved anew
 * against the records as they are now.
 * @throws Problem 404 where copy or work is gone
 */
export async function giveCopy(
  c: Context,
  { id, inquiryId }: Pick<CopyRow, 'id' | 'inquiryId'>,
  workId: number,
  signal: AbortSignal,
): Promise<Received> {
  const copy = await c.db.copies.findOne({ where: { id, inquiryId }, raw: true })
  const work = await c.db.works.scope('living').findOne({ where: { id: workId, inquiryId }, raw: true })
  if (!copy || !work) throw notFound()
  const read = await readFile(await readBlob(c.db, copy.hash), { signal }, work.item)
  if ('outcome' in read) return read
  const told = await prove(c, inquiryId, workId, work.item, read)
  const { outcome } = told.proof
  if (outcome === 'not this work') return { outcome: 'refused', ...told }
  return change(c, inquiryId, async (t, revision) => {
    const same = { workId, hash: copy.hash, id: { [Op.ne]: id } }
    const there = await c.db.copies.findOne({ where: same, transaction: t, raw: true })
    const copyId = there?.id ?? id
    const noted = await c.db.passages.findAll({ where: { copyId: id }, attributes: ['id'], transaction: t, raw: true })
    await c.db.passages.update({ workId, copyId }, { where: { copyId: id }, transaction: t })
    await atHome(c, 'passages', noted, t)
    await atHome(c, 'copies', [copy], t)
    if (there) {
      await moveRights(c, id, there.id, t)
      await c.db.copies.destroy({ where: { id }, transaction: t })
    } else
      await c.db.copies.update(
        { workId, outcome, proof: told.proof, version: told.proof.version ?? 'version of record' },
        { where: { id }, transaction: t },
      )
    await redescribe(c, inquiryId, [copy.workId, workId], t, revision)
    return { outcome, copyId, ...told }
  })
}

/** What a record says of how its text is read. */
export const wordsOn = (item: Item | undefined): { page?: string; language?: string } => ({
  ...(item?.page ? { page: item.page } : {}),
  ...(item?.language ? { language: item.language.slice(0, 2).toLowerCase() } : {}),
})

/** Takes the text of a PDF apart, in a process of its own. */
const readCopy = (
  bytes: Buffer,
  how: ReturnType<typeof wordsOn> & { password?: string },
  signal?: AbortSignal,
): Promise<CopyText> => runChild('pdf', bytes, { seconds: 240, ...(signal ? { signal } : {}) }, how)

/** Reads a file that a student brought, for a work or to find its own; of one that is refused, nothing is kept. */
export async function runCopy(c: Context, { job, signal }: JobHandle): Promise<Record<string, unknown>> {
  const upload = await c.db.uploads.findByPk(Number(job.payload.upload), { raw: true })
  // read before a crash could be noted
  if (!upload)
    return job.progress.got ? (job.progress.got as Record<string, unknown>) : { outcome: 'refused', said: GONE }
  const { inquiryId, hash, name } = upload
  // a work that was joined into another since takes its copies there
  const workId = upload.workId && ((await heirsOf(c, inquiryId, [upload.workId])).get(upload.workId) ?? null)
  const of = { inquiryId, name, userId: job.userId! }
  const bytes = await readBlob(c.db, hash)
  const got =
    workId === null
      ? await receiveFile(c, of, bytes, { signal })
      : await receiveOwn(c, { ...of, work: workId }, bytes, { signal })
  await doneWith(c, upload.id, hash, job.id, got)
  return { ...got }
}

const GONE = 'The file is not there any more. Bring it again.'

/** What was brought is held by its copy, or by nobody. */
async function doneWith(c: Context, id: number, hash: string, job: number, got: Received): Promise<void> {
  await c.db.sequelize.transaction(async t => {
    await c.db.uploads.destroy({ where: { id }, transaction: t })
    await c.db.jobs.update({ progress: { got } }, { where: { id: job }, transaction: t })
    await dropOrphans(c.db, [hash], t)
  })
}

/** A file whose reading was given up is not kept. */
export async function copyGivenUp(c: Context, job: JobRow, why: string): Promise<void> {
  const upload = await c.db.uploads.findByPk(Number(job.payload.upload), { raw: true })
  if (upload) await doneWith(c, upload.id, upload.hash, job.id, { outcome: 'refused', said: why })
}

async function keep(
  c: Context,
  of: { inquiryId: number; workId: number; hash: string; origin: string },
  proof: Proof,
  text: CopyText,
  t: Transaction,
  revision: number,
): Promise<number> {
  const { inquiryId, workId, hash, origin } = of
  const version = proof.version ?? 'version of record'
  const row = await c.db.copies.create(
    {
      inquiryId,
      workId,
      hash,
      origin: firstLetters(origin, 500),
      outcome: proof.outcome,
      version,
      proof,
      pages: text.pages.length,
      labels: text.labels,
      signs: signsOf(text.pages),
      parts: clean(partsOf(text)),
    },
    { transaction: t },
  )
  await keepText(c, row.id, text, t)
  if (text.marks) await c.db.copyMarks.create({ copyId: row.id, told: clean(text.marks) }, { transaction: t })
  // what its pages say of its kind joins the evidence
  await redescribe(c, inquiryId, [workId], t, revision)
  return row.id
}

/** Keeps the words of a copy, page by page, and the entries of its lists of references. */
export async function keepText(c: Context, copyId: number, text: CopyText, t: Transaction): Promise<void> {
  const pages = text.pages.map(p => ({
    ...{ copyId, page: p.page },
    content: cleanText([p.text, p.notes].filter(Boolean).join('\n')),
  }))
  for (const part of inParts(pages))
    await c.db.copyPages.bulkCreate(part, { updateOnDuplicate: ['content'], transaction: t })
  const { read = [], drawn = [] } = text.scan ?? {}
  const scans = drawn.map((d, i) => ({ copyId, page: read[i]!, drawn: d }))
  await addMissing(c.db.copyScans, scans, 'page', t)
  const entries = text.references.flatMap(l => l.entries)
  await c.db.copyReferences.bulkCreate(
    entries.map(({ text: printed, label, boxes, read }, i) => ({
      ...{ copyId, n: i + 1, label: label ?? null, boxes },
      text: cleanText(printed),
      ...clean({ item: read.item, sure: read.sure }),
    })),
    { transaction: t },
  )
}

/** What a copy was taken apart into; one of before it was done is read now. */
export async function partsOfCopy(c: Context, asked: AskedCopy) {
  const copy = await readableCopy(c, asked)
  const { id } = copy
  const parts = copy.parts ?? (await readAnew(c, copy))
  const references = await c.db.copyReferences.findAll({ where: { copyId: id }, order: ['n'], raw: true })
  const list = await inThread('cited', { pages: await pagesOf(c, id, copy.pages), list: references })
  const cited = new Map(list.map(e => [e.n, e.places]))
  return {
    ...parts,
    labels: copy.labels,
    references: references.map(({ copyId: _, ...r }) => ({ ...r, cited: cited.get(r.n) ?? [] })),
  }
}

/** Reads a copy of before texts were taken apart. Its labels stay: passages were noted by them. */
async function readAnew(c: Context, copy: CopyRow): Promise<CopyParts> {
  const text = await readCopy(await readBlob(c.db, copy.hash), {})
  const parts = clean(partsOf(text))
  await c.db.sequelize.transaction(async t => {
    const [mine] = await c.db.copies.update({ parts }, { where: { id: copy.id, parts: null }, transaction: t })
    if (mine) await keepText(c, copy.id, text, t)
  })
  return parts
}
