import { Router } from 'express'
import type { Transaction } from 'sequelize'
import { number, object } from 'yup'
import { addDays } from '../core/bib/dates'
import { userOf } from './accounts/accounts'
import { OutsideError, requireSuccess } from './connect/http'
import type { Context } from './context'
import { deskDay, standOn } from './desk-day'
import { enqueue } from './jobs/queue'
import { answerOnce } from './once'
import { check, notFound, Problem } from './problem'

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
