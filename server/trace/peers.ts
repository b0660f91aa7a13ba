import { Op } from 'sequelize'
import type { YearOfField } from '../../core/trails/rate'
import { addDays } from '../../core/bib/dates'
import { LEAST } from '../../core/trails/landmarks'
import type { Context } from '../base/context'
import { askPeers } from '../connect/connectors'
import type { Connector } from '../../core/connectors/description'
import { inTransaction } from '../db/transaction'
import { graphNodes } from './graph-model'

/** Fields and years that one round asks for at most, to compare works with. */
export const PEERS = 200
/** Counts of a field move slowly: those of so many days are as good as new. */
const FRESH_DAYS = 90

/** How works of fields and years are cited, as far as that was asked. */
export async function keptPeers(c: Context, connector: string, fields: readonly string[]): Promise<YearOfField[]> {
  const rows = await c.db.fieldYears.findAll({
    where: { connector, field: { [Op.in]: [...new Set(fields)] } },
    order: ['field', 'year'],
    raw: true,
  })
  return rows.map(({ field, year, works, counts }) => ({ field, year, works, counts }))
}

/** Those of fields and years that were not asked for lately. */
export async function missingPeers(
  c: Context,
  connector: string,
  wanted: readonly { field: string; year: number }[],
  day: string,
): Promise<{ field: string; year: number }[]> {
  if (!wanted.length) return []
  const rows = await c.db.fieldYears.findAll({
    where: {
      connector,
      field: { [Op.in]: [...new Set(wanted.map(w => w.field))] },
      day: { [Op.gt]: addDays(day, -FRESH_DAYS) },
    },
    attributes: ['field', 'year'],
    raw: true,
  })
  const there = new Set(rows.map(r => `${r.field} ${r.year}`))
  return wanted.filter(w => !there.has(`${w.field} ${w.year}`))
}

/** Asks how the works of a field and year are cited, and keeps it for all inquiries. @throws OutsideError */
export async function learnPeers(
  c: Context,
  index: Connector,
  { field, year }: { field: string; year: number },
  day: string,
  signal: AbortSignal,
): Promise<void> {
  const counts = (await askPeers(c, index, { field, year: String(year) }, signal)) ?? []
  const row = {
    ...{ connector: index.id, field: field.slice(0, 100), year, day },
    works: counts.reduce((sum, [, works]) => sum + works, 0),
    counts,
  }
  await inTransaction(c.db.sequelize, transaction => c.db.fieldYears.upsert(row, { transaction }))
}

/** The fields of the kept works, in each year from the oldest work that three of them cite. */
export async function comparable(
  c: Context,
  inquiryId: number,
  day: string,
): Promise<{ field: string; year: number }[]> {
  const kept = await c.db.works
    .scope('living')
    .findAll({ where: { inquiryId, state: 'kept' }, attributes: ['id'], raw: true })
  const isKept = new Set(kept.map(w => w.id))
  const nodes = await graphNodes(c, inquiryId)
  const ours = new Set(nodes.flatMap(n => (n.work !== null && isKept.has(n.work) ? n.id : [])))
  const links = await c.db.citations.findAll({
    where: { inquiryId, citing: [...ours] },
    attributes: ['cited'],
    raw: true,
  })
  const cited = new Map<number, number>()
  for (const l of links) cited.set(l.cited, (cited.get(l.cited) ?? 0) + 1)
  const fields = new Set<string>()
  const thisYear = Number(day.slice(0, 4))
  let from = thisYear
  for (const { id, line, facts } of nodes) {
    if (ours.has(id) && facts.field) fields.add(facts.field)
    if (line.year && line.year <= thisYear && (ours.has(id) || cited.get(id)! >= LEAST))
      from = Math.min(from, line.year)
  }
  // newest first: where the calls do not suffice, the most is known of the years that most works are of
  return Array.from({ length: thisYear - from + 1 }, (_, i) => thisYear - i).flatMap(year =>
    [...fields].map(field => ({ field, year })),
  )
}
