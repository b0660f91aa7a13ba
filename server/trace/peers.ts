import { Op } from 'sequelize'
import type { YearOfField } from '../../core/trails/rate'
import { addDays } from '../../core/bib/dates'
import type { Context } from '../base/context'
import { askPeers } from '../connect/connectors'
import type { Connector } from '../../core/connectors/description'
import { inTransaction } from '../db/transaction'

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
