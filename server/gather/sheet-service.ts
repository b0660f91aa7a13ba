import type { Transaction } from 'sequelize'
import { printCql } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import { phrasesOf } from '../../core/query/phrases'
import { emptySheet, sheetOf, sheetQuery, type Sheet } from '../../core/query/sheet'
import type { Answer } from '../../core/schema/api'
import type { Context } from '../base/context'
import type { InquiryRow } from '../inquiries/inquiries-model'
import { notFound, Problem } from '../base/problem'

/** The question sheet as it is saved. */
export async function sheetOfInquiry(c: Context, id: number): Promise<Answer<'sheet'>> {
  const row = await c.db.inquiries.findByPk(id, { raw: true })
  if (!row) throw notFound()
  return told(row)
}

/** @throws Problem 412 where another window saved meanwhile */
export async function saveSheet(
  c: Context,
  id: number,
  version: number,
  sheet: Sheet,
  t: Transaction,
): Promise<{ version: number }> {
  const query = sheetQuery(sheet)
  const now = await c.db.inquiries.findByPk(id, { transaction: t, raw: true })
  if (now!.sheetVersion !== version)
    throw new Problem(
      412,
      'changed-elsewhere',
      'The question sheet was changed in another window. Its newest state is shown; put your change in again.',
      { current: await told(now!) },
    )
  await c.db.inquiries.update(
    { sheet, sheetVersion: version + 1, query: query ? printCql(query) : '' },
    { where: { id }, transaction: t },
  )
  return { version: version + 1 }
}

async function told(row: InquiryRow): Promise<Answer<'sheet'>> {
  return { sheet: row.sheet ?? sheetFrom(row), version: row.sheetVersion, offered: await phrasesOf(row.question) }
}

/** The sheet of an inquiry that has none yet: of its last query. */
function sheetFrom(row: InquiryRow): Sheet {
  const parsed = row.query ? parseCql(row.query) : undefined
  let n = 0
  return parsed?.ok ? sheetOf(parsed.query, emptySheet(), () => `s${++n}`) : emptySheet()
}
