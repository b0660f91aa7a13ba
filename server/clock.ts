import { Router } from 'express'
import { QueryTypes, type Transaction } from 'sequelize'
import { number, object } from 'yup'
import { addDays } from '../core/bib/dates'
import { userOf } from './accounts/accounts'
import { OutsideError, requireSuccess } from './connect/http'
import type { Context } from './context'
import type { Db } from './db/models'
import { enqueue } from './jobs/queue'
import { answerOnce } from './once'
import { check, notFound, Problem } from './problem'

/** Desk time: the day on which the student works. The demo stands on a fixed day; otherwise it is today's date. */
export async function deskDay(db: Db, zone = 'UTC'): Promise<string> {
  const rows = await db.sequelize.query<{ stands_on: string | null }>('SELECT stands_on FROM clock WHERE id = 1', {
    type: QueryTypes.SELECT,
  })
  const fixed = rows[0]?.stands_on
  if (fixed) return String(fixed).slice(0, 10)
  return new Intl.DateTimeFormat('en-CA', { timeZone: zone }).format(new Date())
}

export async function standOn(db: Db, day: string | null, transaction?: Transaction): Promise<void> {
  await db.sequelize.query(
    'INSERT INTO clock (id, stands_on) VALUES (1, ?) ON DUPLICATE KEY UPDATE stands_on = VALUES(stands_on)',
    { replacements: [day], ...(transaction ? { transaction } : {}) },
  )
}

/** Tells the made-up world on which day the desk stands, where there is one. @throws OutsideError */
export async function tellWorld(c: Context, day: string): Promise<void> {
  const { desk } = c.settings.outside
  if (!desk) return
  requireSuccess(
    await c.outside(desk, {
      method: 'PUT',
      headers: { 'content-type': 'application/json' },
      body: JSON.stringify({ day }),
      timeoutMs: 5000,
    }),
  )
}

/** The desk's day; in the demo it can be moved ahead, and the made-up world with it, and the demo can be laid anew. */
export function clockRoutes(c: Context): Router {
  const router = Router()
  const moves = Boolean(c.settings.outside.desk && c.settings.demoAccount)
  const face = async () => {
    const laying = await c.db.jobs.findOne({ where: { kind: 'demo', state: ['queued', 'running'] }, raw: true })
    return { day: await deskDay(c.db), moves, laying: laying !== null }
  }
  router.get('/', async (_req, res) => void res.json(await face()))
  router.post('/', async (req, res) => {
    if (!moves) throw notFound()
    const { days } = check(
      object({ days: number().integer().min(1, 'Time goes ahead only.').max(366).required() }),
      req.body,
    )
    const ahead = async (t: Transaction) => {
      const day = addDays(await deskDay(c.db), days)
      await standOn(c.db, day, t)
      try {
        await tellWorld(c, day)
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        throw new Problem(502, 'outside', `The desk stays where it is: ${e.message}`)
      }
      return { day }
    }
    await answerOnce(c, req, res, 201, ahead, face)
  })
  router.post('/anew', async (req, res) => {
    const user = await c.db.users.findByPk(userOf(req), { raw: true })
    if (!c.settings.demoScript || user?.email !== c.settings.demoAccount) throw notFound()
    const lay = async (t: Transaction) =>
      (await face()).laying ? {} : { job: await enqueue(c, 'demo', null, user!.id, {}, t) }
    await answerOnce(c, req, res, 202, lay, face)
  })
  return router
}
