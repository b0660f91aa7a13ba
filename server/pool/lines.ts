import { Op, QueryTypes } from 'sequelize'
import { reachOf } from '../../core/access/routes'
import { yearOf } from '../../core/bib/dates'
import { authorLine, familyName } from '../../core/bib/names'
import type { Item } from '../../core/bib/item'
import { citationsPerYear } from '../../core/trails/rate'
import type { WorkLine } from '../../core/sift/line'
import { deskDay } from '../clock'
import type { Context } from '../context'
import type { CopyRow, RouteRow, WorkRow } from '../db/models'

/** Says where a record came from, in words. */
export function sourceName(c: Context, source: string): string {
  if (source.startsWith('file:')) return 'your file'
  if (source === 'trail') return c.settings.outside.citations.name
  return c.settings.outside.catalogues.find(x => x.id === source)?.name ?? source
}

/** What is known of the works of a pool beside their own rows, by work. */
interface Beside {
  routes: Map<number, RouteRow>
  proved: Set<number>
  sources: Map<number, string[]>
  sweeps: Map<number, number[]>
  arrivals: Map<number, number[]>
}

/** The works of a pool as record lines; all of them, or some. Retired works are left out. */
export async function workLines(c: Context, inquiryId: number, only?: readonly number[]): Promise<WorkLine[]> {
  return (await linesSince(c, inquiryId, only ? { only } : {})).lines
}

/**
 * Record lines with what a browser needs to keep its own in step.
 * @param which works of these ids, or those whose line changed after a revision; all where neither is given
 * @returns `gone`: works that were joined into others after that revision
 */
export async function linesSince(
  c: Context,
  inquiryId: number,
  which: { only?: readonly number[]; since?: number },
): Promise<{ lines: WorkLine[]; gone: number[] }> {
  const { only, since } = which
  const where = {
    inquiryId,
    ...(only ? { id: { [Op.in]: [...only] } } : {}),
    ...(since === undefined ? {} : { revision: { [Op.gt]: since } }),
  }
  const works = await c.db.works.findAll({
    where: since === undefined ? { ...where, successorId: null } : where,
    order: ['id'],
    raw: true,
  })
  const living = works.filter(w => w.successorId === null)
  const some = only || since !== undefined ? living.map(w => w.id) : undefined
  const [beside, today] = await Promise.all([besideOf(c, inquiryId, some), deskDay(c.db)])
  return {
    lines: living.map(w => line(c, w, beside, today)),
    gone: works.filter(w => w.successorId !== null).map(w => w.id),
  }
}

async function besideOf(c: Context, inquiryId: number, only?: readonly number[]): Promise<Beside> {
  const none = { routes: new Map(), proved: new Set<number>(), sources: new Map(), sweeps: new Map(), arrivals: new Map() } // prettier-ignore
  if (only && !only.length) return none as Beside
  const where = { inquiryId, ...(only ? { workId: { [Op.in]: [...only] } } : {}) }
  const among = only ? 'AND r.work_id IN (:only)' : ''
  const ask = <T extends object>(sql: string) =>
    c.db.sequelize.query<T>(sql, { type: QueryTypes.SELECT, replacements: { inquiryId, only } })
  const [routes, copies, sources, sweeps] = await Promise.all([
    c.db.routes.findAll({ where, raw: true }),
    c.db.copies.findAll({ where: { ...where, outcome: 'proved' }, attributes: ['workId'], raw: true }),
    ask<{ work: number; sources: string; arrivals: string | null }>(
      `SELECT r.work_id AS work, GROUP_CONCAT(DISTINCT r.source) AS sources, GROUP_CONCAT(DISTINCT r.arrival ORDER BY r.arrival) AS arrivals
       FROM records r WHERE r.inquiry_id = :inquiryId AND r.work_id IS NOT NULL ${among} GROUP BY r.work_id`,
    ),
    ask<{ work: number; sweeps: string }>(
      `SELECT r.work_id AS work, GROUP_CONCAT(DISTINCT h.sweep_id ORDER BY h.sweep_id) AS sweeps
       FROM records r JOIN sweep_hits h ON h.record_id = r.id WHERE r.inquiry_id = :inquiryId AND r.work_id IS NOT NULL ${among} GROUP BY r.work_id`,
    ),
  ])
  const numbers = (list: string | null) => (list ? list.split(',').map(Number) : [])
  return {
    routes: new Map(routes.map(r => [r.workId, r])),
    proved: new Set(copies.map(x => x.workId)),
    sources: new Map(sources.map(s => [s.work, s.sources.split(',')])),
    sweeps: new Map(sweeps.map(s => [s.work, numbers(s.sweeps)])),
    arrivals: new Map(sources.map(s => [s.work, numbers(s.arrivals)])),
  }
}

/** One work as a record line, where its routes and copies are at hand; of its records nothing is told. */
export function lineOf(
  c: Context,
  w: WorkRow,
  routes: RouteRow | undefined,
  copies: readonly Pick<CopyRow, 'outcome'>[],
  today: string,
): WorkLine {
  const none = new Map<number, never>()
  return line(
    c,
    w,
    {
      routes: new Map(routes ? [[w.id, routes]] : []),
      proved: new Set(copies.some(x => x.outcome === 'proved') ? [w.id] : []),
      sources: none,
      sweeps: none,
      arrivals: none,
    },
    today,
  )
}

function line(c: Context, w: WorkRow, beside: Beside, today: string): WorkLine {
  const { item, facts } = w
  const said = w.said ?? {}
  return {
    id: w.id,
    title: (item.title ?? 'Untitled').replace(/<[^>]{1,20}>/g, ''),
    authors: authorLine(item.author ?? item.editor),
    container: item['container-title'] ?? item.publisher ?? '',
    year: yearOf(item) ?? null,
    doi: item.DOI ?? null,
    pages: item.page ?? null,
    pageCount: facts.pageCount ?? null,
    kind: w.kind,
    confidence: w.confidence,
    perYear: citationsPerYear(facts.citedByCount, yearOf(item), today) ?? null,
    citedBy: facts.citedByCount ?? null,
    state: w.state,
    pass: w.pass,
    reason: w.reason,
    decidedAt: w.decidedAt?.toISOString() ?? null,
    reach: reachOf(beside.proved.has(w.id), beside.routes.get(w.id)?.routes),
    part: said.part ?? null,
    strands: said.strands ?? [],
    tags: said.tags ?? [],
    hasNote: Boolean(said.note),
    ownKind: said.kind !== undefined,
    language: languageOf(item),
    hasAbstract: Boolean(item.abstract),
    references: facts.referenceCount ?? null,
    sources: [...new Set((beside.sources.get(w.id) ?? []).map(s => sourceName(c, s)))],
    sweeps: beside.sweeps.get(w.id) ?? [],
    arrivals: (beside.arrivals.get(w.id) ?? []).map((a, i) => `${a} ${i ? 'known' : 'new'}`),
    people: (item.author ?? item.editor ?? []).slice(0, 12).map(n => [familyName(n), n.given?.[0]].filter(Boolean).join(', ')), // prettier-ignore
    subjects: (facts.subjects ?? []).slice(0, 12),
  }
}

/** The language of an item as a code of two letters, where that can be told. */
function languageOf(item: Item): string | null {
  const code = String(item.language ?? '')
    .toLowerCase()
    .split(/[-_]/)[0]!
  return code ? (LONG[code] ?? code) : null
}
/** ISO 639-2 codes, as libraries enter them. */
const LONG: Record<string, string> = { eng: 'en', ger: 'de', deu: 'de', fre: 'fr', fra: 'fr', spa: 'es', ita: 'it', por: 'pt', dut: 'nl', nld: 'nl', swe: 'sv', jpn: 'ja', chi: 'zh', zho: 'zh', rus: 'ru' } // prettier-ignore
