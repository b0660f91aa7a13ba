import type { Transaction } from 'sequelize'
import type { Member } from '../sessions/member'
import type { Context } from '../base/context'
import { storeBlob } from '../db/blobs'
import { enqueue } from '../jobs/queue'
import { redescribe } from '../pool/describe'
import { workLines } from '../pool/lines'
import { notFound, Problem } from '../base/problem'
import type { SentFile } from '../serve/serve'
import { receiveFile, receiveOwn, type Received, type Recognised } from './copies'
import type { Opening } from '../../core/access/copy-rights'
import { withLoans, type Route } from '../../core/access/routes'
import { byTemplate, onCampus } from '../../core/schema/library'
import { gatedOf, type Gated } from '../library/gate-service'
import { offersFor } from '../library/offices'
import { lastLoans } from '../loans/loans-service'
import { openingsOf } from '../copies/copy-rights'
import { withAuthor } from '../../core/access/asked-author'
import { awaitedOf } from './awaited'
import { authorsAsked } from './authors'
import { keptOf, queueFetching } from './fetching'

type Who = Pick<Member, 'inquiryId' | 'userId'>

/**
 * The kept works with the ways to their texts as they were found, and their copies.
 * @param from address of the machine that the student sits at
 */
export async function waysOf(c: Context, member: Member, from: string) {
  const { inquiryId } = member
  const [gated, lines, { offers }, loans, awaited, asked, kept, routes, copies] = await Promise.all([
    gatedOf(c, inquiryId),
    workLines(c, member),
    offersFor(c, member),
    lastLoans(c, inquiryId),
    awaitedOf(c, member),
    authorsAsked(c, member),
    c.db.works.findAll({ where: { inquiryId, state: 'kept' }, attributes: ['id', 'line'], raw: true }),
    c.db.routes.findAll({ where: { inquiryId }, raw: true }),
    c.db.copies.findAll({
      where: { inquiryId, outcome: ['proved', 'doubtful'] },
      attributes: ['id', 'workId', 'outcome', 'version', 'pages', 'proof'],
      order: ['id'],
      raw: true,
    }),
  ])
  const openingOf = await openingsOf(
    c,
    member,
    copies.map(x => x.id),
  )
  const found = new Map(routes.map(r => [r.workId, r]))
  const items = new Map(kept.map(w => [w.id, w.line.access.item]))
  const held = new Map<number, object[]>()
  for (const { workId, proof, ...x } of copies) {
    const said = proof.evidence.filter(e => !e.holds).map(e => e.said)
    const copy = { ...x, said, opening: openingOf(x.id) }
    held.set(workId, [...(held.get(workId) ?? []), copy])
  }
  return lines
    .filter(w => w.state === 'kept')
    .map(w => {
      const ways = found.get(w.id)
      const refused = loans.refused.get(w.id) ?? []
      const others = offers.filter(o => refused.every(r => r.by !== o.library.key))
      const item = items.get(w.id) ?? { type: 'document' }
      const author = asked.get(w.id)
      const routes = ways ? withAuthor(withLoans(ways.routes, item, others), author, member.day) : null
      return {
        ...w,
        routes,
        addresses: (routes ?? []).map(r => addressOf(r, gated, from)),
        loan: loans.last.get(w.id) ?? null,
        awaited: awaited.get(w.id) ?? null,
        author: author ?? null,
        closed: [...(ways?.closed ?? []), ...refused.map(r => r.said)],
        trouble: ways?.trouble ?? null,
        copies: (held.get(w.id) ?? []) as (Pick<(typeof copies)[number], 'id' | 'outcome' | 'version' | 'pages'> & {
          said: string[]
          opening: Opening
        })[],
      }
    })
}

/** Where a student opens a way: where a walk ended that they have to go on with, else where it begins. */
function addressOf({ way, url, walked, library }: Route, gated: readonly Gated[], from: string): string | null {
  if (!url) return null
  const { ended, on } = walked ?? {}
  const at = ended && ended !== 'taken' && on ? on : url
  if (way !== 'gate') return at
  const by = gated.find(l => l.key === (library?.key ?? l.key))
  if (!by || onCampus(by, from)) return at
  const { suffix, template } = by.gate
  const isBehind = suffix && URL.canParse(at) && `.${new URL(at).hostname}`.endsWith(`.${suffix}`)
  return isBehind ? at : byTemplate(template, at)
}

/** Queues looking for ways to the texts of kept works: of these, or of all. @throws Problem 422 where none is kept */
export async function enqueueFor(
  c: Context,
  { inquiryId, userId }: Who,
  wanted: readonly number[] | undefined,
  t: Transaction,
): Promise<{ job: number }> {
  const works = await chosenOf(c, inquiryId, wanted, t)
  return { job: await enqueue(c, 'routes', inquiryId, userId, { works }, t) }
}

/** Queues the fetching of texts of kept works. @throws Problem 422 where none is kept */
export const enqueueFetching = async (
  c: Context,
  who: Who,
  wanted: readonly number[] | undefined,
  t: Transaction,
): Promise<{ job: number }> => queueFetching(c, who, await chosenOf(c, who.inquiryId, wanted, t), t)

async function chosenOf(c: Context, inquiryId: number, wanted: readonly number[] | undefined, t: Transaction) {
  const works = await keptOf(c, inquiryId, wanted, t)
  if (!works.length) throw new Problem(422, 'nothing-chosen', 'Choose at least one kept work.')
  return works
}

/** Keeps a file of the student's that is to find its work, and queues its reading. */
export async function takeText(
  c: Context,
  { inquiryId, userId }: Who,
  { bytes, name }: SentFile,
  t: Transaction,
): Promise<{ job: number }> {
  const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
  const upload = await c.db.uploads.create({ inquiryId, workId: null, hash, name }, { transaction: t })
  return { job: await enqueue(c, 'copy', inquiryId, userId, { upload: upload.id, name }, t) }
}

/** Keeps a file of the student's for a work, and queues its reading. */
export async function takeCopy(
  c: Context,
  { inquiryId, userId }: Who,
  work: number,
  { bytes, name }: SentFile,
  t: Transaction,
): Promise<{ job: number }> {
  if (!(await c.db.works.scope('living').count({ where: { id: work, inquiryId }, transaction: t }))) throw notFound()
  const hash = await storeBlob(c.db, bytes, 'application/pdf', t)
  const upload = await c.db.uploads.create({ inquiryId, workId: work, hash, name }, { transaction: t })
  return { job: await enqueue(c, 'copy', inquiryId, userId, { upload: upload.id, work, name }, t) }
}

/** Reads a locked file with its password while one waits: neither of them is written down before it is proved. */
export async function openCopy(
  c: Context,
  { inquiryId, userId }: Who,
  work: number,
  { bytes, name, password = '' }: SentFile,
  signal: AbortSignal,
): Promise<Received> {
  if (!(await c.db.works.scope('living').count({ where: { id: work, inquiryId } }))) throw notFound()
  return receiveOwn(c, { inquiryId, userId, work, name }, bytes, { signal, password })
}

/** The same of one that finds its work by its own text. */
export const openText = (
  c: Context,
  { inquiryId, userId }: Who,
  { bytes, name, password = '' }: SentFile,
  signal: AbortSignal,
): Promise<Recognised> => receiveFile(c, { inquiryId, userId, name }, bytes, { signal, password })

/** Drops a copy; what its pages said of the work's kind goes with it. */
export async function dropCopy(
  c: Context,
  where: { id: number; inquiryId: number },
  t: Transaction,
  revision: number,
): Promise<void> {
  const copy = await c.db.copies.findOne({ where, attributes: ['workId'], transaction: t, raw: true })
  if (!copy) throw notFound()
  await c.db.copies.destroy({ where, transaction: t })
  await redescribe(c, where.inquiryId, [copy.workId], t, revision)
}
