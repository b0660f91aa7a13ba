import type { Context } from '../base/context'
import { notFound } from '../base/problem'
import type { CopyRow } from './copies-model'

/** A copy of an inquiry. @throws Problem 404 */
export async function copyOf(c: Context, where: Pick<CopyRow, 'id' | 'inquiryId'>): Promise<CopyRow> {
  const row = await c.db.copies.findOne({ where, raw: true })
  if (!row) throw notFound()
  return row
}

/** The words of a copy, page by page. */
export async function pagesOf(c: Context, copyId: number, pages: number): Promise<string[]> {
  const rows = await c.db.copyPages.findAll({ where: { copyId }, raw: true })
  const byPage = new Map(rows.map(r => [r.page, r.content]))
  return Array.from({ length: pages }, (_, i) => byPage.get(i + 1) ?? '')
}
