import { Router } from 'express'
import type { Transaction } from 'sequelize'
import { printCql } from '../../core/query/cql'
import { parseCql } from '../../core/query/parse-cql'
import { emptySheet, sheetOf, sheetQuery, wordsOf, type Sheet } from '../../core/query/sheet'
import { sheetShape } from '../../core/schema/sheet'
import type { Context } from '../context'
import type { InquiryRow } from '../db/models'
import { inquiryOf } from '../accounts/accounts'
import { answerOnce } from '../once'
import { check, notFound, Problem } from '../problem'

/** The question sheet: read with its version, saved against it. */
export function sheetRoutes(c: Context): Router {
  const router = Router({ mergeParams: true })
  const load = async (id: number): Promise<InquiryRow> => {
    const row = await c.db.inquiries.findByPk(id, { raw: true })
    if (!row) throw notFound()
    return row
  }
  router.get('/sheet', async (req, res) => {
    const row = await load(inquiryOf(req))
    res.set('ETag', `"${row.sheetVersion}"`).json(face(row))
  })
  router.put('/sheet', async (req, res) => {
    const id = inquiryOf(req)
    const match = /^"(\d+)"$/.exec(req.get('If-Match') ?? '')
    if (!match) throw new Problem(428, 'if-match', 'Say by If-Match which version of the sheet you changed.')
    const sheet = check(sheetShape, req.body) as unknown as Sheet
    const query = sheetQuery(sheet)
    const write = async (t: Transaction) => {
      const now = await c.db.inquiries.findByPk(id, { transaction: t, raw: true })
      if (now!.sheetVersion !== Number(match[1]))
        throw new Problem(
          412,
          'changed-elsewhere',
          'The question sheet was changed in another window. Its newest state is shown; put your change in again.',
          { current: face(now!) },
        )
      await c.db.inquiries.update(
        { sheet, sheetVersion: now!.sheetVersion + 1, query: query ? printCql(query) : '' },
        { where: { id }, transaction: t },
      )
      return { version: now!.sheetVersion + 1 }
    }
    await answerOnce(c, req, res, 200, write, async ({ version }) => {
      res.set('ETag', `"${version}"`)
      return { ...face({ ...(await load(id)), sheet }), version }
    })
  })
  return router
}

function face(row: InquiryRow) {
  return { sheet: row.sheet ?? sheetFrom(row), version: row.sheetVersion, offered: wordsOf(row.question) }
}

/** The sheet of an inquiry that has none yet: of its last query. */
function sheetFrom(row: InquiryRow): Sheet {
  const parsed = row.query ? parseCql(row.query) : undefined
  let n = 0
  return parsed?.ok ? sheetOf(parsed.query, emptySheet(), () => `s${++n}`) : emptySheet()
}
