import type { Transaction } from 'sequelize'
import { addDays } from '../../core/bib/dates'
import type { Answer } from '../../core/schema/api'
import { OutsideError, requireSuccess } from '../connect/http'
import type { Context } from '../base/context'
import { enqueue } from '../jobs/queue'
import { notFound, Problem } from '../base/problem'
import { deskDay, deskDays, standOn } from '../db/desk-day'

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

/** In the demo time can be moved ahead, and the made-up world with it. */
const moves = (c: Context): boolean => Boolean(c.settings.outside.desk && c.settings.demoAccount)

export async function tellDesk(c: Context): Promise<Answer<'desk'>> {
  const laying = await c.db.jobs.findOne({ where: { kind: 'demo', state: ['queued', 'running'] }, raw: true })
  return { day: await deskDay(c.db), days: await deskDays(c.db), moves: moves(c), laying: laying !== null }
}

export async function moveAhead(c: Context, days: number, t: Transaction): Promise<{ day: string }> {
  if (!moves(c)) throw notFound()
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

/** The demo can be laid anew by its own student. */
export async function layAnew(c: Context, userId: number, t: Transaction): Promise<{ job?: number }> {
  const user = await c.db.users.findByPk(userId, { raw: true })
  if (!c.settings.demoScript || user?.email !== c.settings.demoAccount) throw notFound()
  return (await tellDesk(c)).laying ? {} : { job: await enqueue(c, 'demo', null, user!.id, {}, t) }
}
