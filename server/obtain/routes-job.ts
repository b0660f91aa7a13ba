import { Op, QueryTypes } from 'sequelize'
import { findRoutes, type OpenCopy, type RouteAnswer } from '../../core/access/routes'
import { normaliseDoi } from '../../core/bib/identifiers'
import { readKbart, type Holding } from '../../core/formats/kbart'
import type { Query } from '../../core/query/cql'
import type { Context } from '../context'
import type { WorkRow } from '../db/models'
import { deskDay } from '../desk-day'
import { OutsideError, requireSuccess } from '../connect/http'
import { askSru, readRecord } from '../gather/sweep-job'
import { inTransaction } from '../db/transaction'
import { readBlob, storeBlob } from '../inquiries/blobs'
import { change } from '../inquiries/revision'
import type { JobHandle } from '../jobs/queue'
import { Problem } from '../problem'

/** Looks for the routes of works: holdings of the home library, open copies of the repositories. */
export async function runRouteSearch(
  c: Context,
  { job, signal, progress }: JobHandle,
): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { raw: true })
  if (!inquiry) throw new Problem(404, 'gone', 'The inquiry is gone.')
  const wanted = job.payload.works as number[]
  const works = await c.db.works.findAll({
    where: { inquiryId, successorId: null, id: { [Op.in]: wanted } },
    raw: true,
  })
  const today = await deskDay(c.db)
  const holdings = await homeHoldings(c)
  const done = new Set((job.progress.done as number[] | undefined) ?? [])
  const troubles = new Set<string>()
  for (const w of works) {
    if (done.has(w.id)) continue
    signal.throwIfAborted()
    const { open, trouble } = await openCopies(c, w, signal)
    if (trouble) troubles.add(trouble)
    const answer: RouteAnswer = findRoutes(w.item, w.facts, {
      holdings: holdings.holdings,
      open,
      today,
      due: inquiry.due,
      resolver: c.settings.outside.resolver,
    })
    const closed = [...answer.closed, ...(holdings.trouble ? [holdings.trouble] : [])]
    await change(c, inquiryId, async (t, revision) => {
      await c.db.routes.upsert(
        {
          workId: w.id,
          inquiryId,
          routes: answer.routes,
          closed,
          deskDay: today,
          trouble: trouble ?? holdings.trouble ?? null,
        },
        { transaction: t },
      )
      await c.db.works.update({ revision }, { where: { id: w.id }, transaction: t })
    })
    done.add(w.id)
    await progress({ done: [...done], of: works.length })
  }
  return { works: done.size, troubles: [...troubles] }
}

/**
 * The home library's holdings: its files fetched, kept in the database, and used from there where the library is away.
 * @param fetchesNew whether files that are missing or old are fetched: for a reader, who writes nothing, they are not
 */
export async function homeHoldings(
  c: Context,
  fetchesNew = true,
): Promise<{ holdings: Holding[]; problems: number; trouble?: string }> {
  const { name, holdings: addresses } = c.settings.outside.library
  const { sequelize } = c.db
  const kept = new Map(
    (
      await sequelize.query<{ address: string; hash: string; old: number }>(
        'SELECT address, hash, at < NOW(3) - INTERVAL 1 DAY AS old FROM holdings_files WHERE address IN (:addresses)',
        { type: QueryTypes.SELECT, replacements: { addresses } },
      )
    ).map(r => [r.address, r]),
  )
  const out: Holding[] = []
  let problems = 0
  const missing: string[] = []
  for (const address of addresses) {
    const have = kept.get(address)
    let content: string | undefined
    if (fetchesNew && (!have || have.old)) {
      try {
        const { body } = requireSuccess(await c.outside(address))
        content = body.toString('utf8')
        await keepHoldings(c, address, body)
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        if (!have) missing.push(e.message)
      }
    }
    if (content === undefined && have) content = (await readBlob(c.db, have.hash)).toString('utf8')
    if (content === undefined) continue
    const read = readKbart(content)
    for (const h of read.holdings) out.push(h)
    problems += read.problems.length
  }
  return {
    holdings: out,
    problems,
    ...(missing.length
      ? {
          trouble: `${missing.length} of ${addresses.length} holdings files of ${name} could not be read: ${missing[0]}`,
        }
      : {}),
  }
}

async function keepHoldings(c: Context, address: string, body: Buffer): Promise<void> {
  await inTransaction(c.db.sequelize, async t => {
    const hash = await storeBlob(c.db, body, 'text/tab-separated-values', t)
    await c.db.sequelize.query(
      'INSERT INTO holdings_files (address, hash) VALUES (?, ?) ON DUPLICATE KEY UPDATE hash = VALUES(hash), at = NOW(3)',
      { replacements: [address, hash], transaction: t },
    )
  })
}

/** Copies open to all that the repositories have of a work, asked by DOI. */
async function openCopies(
  c: Context,
  w: WorkRow,
  signal: AbortSignal,
): Promise<{ open: OpenCopy[]; trouble?: string }> {
  const doi = normaliseDoi(w.item.DOI)
  const open: OpenCopy[] = []
  // what the work's own records say
  const records = await c.db.records.findAll({ where: { workId: w.id }, attributes: ['facts', 'source'], raw: true })
  for (const r of records)
    if (r.facts.openUrl) open.push(copyOf(r.facts as Required<typeof r.facts>, nameOf(c, r.source)))
  if (!doi) return { open }
  let trouble: string | undefined
  for (const repository of c.settings.outside.catalogues.filter(x => x.openCopies)) {
    const query: Query = { root: { kind: 'clause', index: 'doi', relation: '==', modifiers: [], term: doi } }
    try {
      const page = await askSru(c, repository, query, 1, 5, signal)
      for (const r of page.records) {
        const { item, facts } = readRecord(repository, r.raw)
        if (facts.openUrl && normaliseDoi(item.DOI) === doi)
          open.push(copyOf({ ...facts, openUrl: facts.openUrl }, repository.name))
      }
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      trouble = `${e.message} Open copies there may be missing.`
    }
  }
  return { open, ...(trouble ? { trouble } : {}) }
}

const nameOf = (c: Context, source: string): string =>
  c.settings.outside.catalogues.find(x => x.id === source)?.name ?? source

const copyOf = (
  f: { openUrl: string; version?: OpenCopy['version']; embargoUntil?: string },
  from: string,
): OpenCopy => ({
  url: f.openUrl,
  version: f.version ?? 'accepted manuscript',
  from,
  ...(f.embargoUntil ? { embargoUntil: f.embargoUntil } : {}),
})
