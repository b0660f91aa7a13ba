import type { Transaction } from 'sequelize'
import { addDays } from '../../core/bib/dates'
import { awaitedAfter, opensLater, type Awaited } from '../../core/access/awaited'
import { isDone, type Fetched } from '../../core/access/fetched'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import { familyOf, heirsOf } from '../deeds/family'
import { sendMail } from '../connect/mail'
import type { Member } from '../sessions/member'
import { keptOf, queueFetching } from './fetching'
import { dueAwaited } from './obtain-model'

type Who = Pick<Member, 'inquiryId' | 'userId'>

/** The texts that are fetched by themselves for a member. */
export async function awaitedOf(c: Context, { inquiryId, userId }: Who): Promise<Map<number, Awaited>> {
  const rows = await c.db.awaited.findAll({ where: { inquiryId, userId }, raw: true })
  const heir = await heirsOf(
    c,
    inquiryId,
    rows.map(r => r.workId),
  )
  return new Map(rows.map(r => [heir.get(r.workId) ?? r.workId, { day: r.fromDay, why: r.why }]))
}

/**
 * Has texts fetched by themselves once a way of theirs opens, or not any more.
 * @throws Problem 422 where nothing of one opens later
 */
export async function awaitTexts(c: Context, who: Who, works: readonly number[], wanted: boolean, t: Transaction) {
  const { inquiryId, userId } = who
  if (!wanted) {
    // as well what was awaited of those that were joined into these
    const { heir } = await familyOf(c, inquiryId, works, t)
    return void (await c.db.awaited.destroy({ where: { inquiryId, userId, workId: [...heir.keys()] }, transaction: t }))
  }
  const day = await deskDay(c.db)
  const kept = await keptOf(c, inquiryId, [...new Set(works)], t)
  const ways = await c.db.routes.findAll({ where: { workId: kept }, transaction: t, raw: true })
  const opens = ways.flatMap(w => {
    const fromDay = opensLater(w.routes, day)
    return fromDay ? [{ workId: w.workId, fromDay }] : []
  })
  if (opens.length < new Set(works).size)
    throw new Problem(422, 'opens-never', 'Of one of these no day is known on which it opens. Look for ways again.')
  for (const o of opens)
    await c.db.awaited.upsert({ ...o, inquiryId, userId, why: 'opens', gate: null }, { transaction: t })
}

/** What did not come is fetched again by itself where nothing but waiting is left; what came is not. */
export async function keepAwaited(c: Context, { inquiryId, userId }: Who, list: readonly Fetched[]): Promise<void> {
  const done = list.filter(isDone)
  if (!done.length) return
  const day = await deskDay(c.db)
  await change(c, inquiryId, async transaction => {
    const ways = await c.db.routes.findAll({ where: { workId: done.map(f => f.work) }, transaction, raw: true })
    const routes = new Map(ways.map(w => [w.workId, w.routes]))
    for (const f of done) {
      const next = awaitedAfter(f, routes.get(f.work) ?? [], day)
      const of = { workId: f.work, userId }
      if (!next) await c.db.awaited.destroy({ where: of, transaction })
      else {
        const { day: fromDay, why } = next
        await c.db.awaited.upsert({ ...of, inquiryId, fromDay, why, gate: f.gate ?? null }, { transaction })
      }
    }
  })
}

/** What nobody is there to ask for again, as it began by itself, is asked for on the next day. */
export async function awaitTomorrow(c: Context, { inquiryId, userId }: Who, works: readonly number[]): Promise<void> {
  const fromDay = addDays(await deskDay(c.db), 1)
  await change(c, inquiryId, async transaction => {
    for (const workId of await keptOf(c, inquiryId, works, transaction))
      await c.db.awaited.upsert({ workId, userId, inquiryId, fromDay, why: 'failed', gate: null }, { transaction })
  })
}

/** Queues the fetching of what is awaited and can come now; several processes may do this at once. */
export async function fetchAwaited(c: Context): Promise<number> {
  const due = await dueAwaited(c.db, await deskDay(c.db))
  // one at a gate is there to see what comes, and is told by no mail
  const jobs = new Map<string, typeof due>()
  for (const a of due) {
    const key = [a.inquiryId, a.userId, a.gate === null].join(' ')
    jobs.set(key, [...(jobs.get(key) ?? []), a])
  }
  for (const rows of jobs.values()) {
    const { inquiryId, userId, gate } = rows[0]!
    await change(c, inquiryId, async transaction => {
      const where = { userId, workId: rows.map(r => r.workId) }
      const mine = await c.db.awaited.findAll({ where, transaction, lock: transaction.LOCK.UPDATE, raw: true })
      // another process was faster
      if (!mine.length) return
      await c.db.awaited.destroy({ where, transaction })
      const awaitedFor = mine.map(r => r.workId)
      const living = new Set((await heirsOf(c, inquiryId, awaitedFor, transaction)).values())
      const kept = await keptOf(c, inquiryId, [...living], transaction)
      if (kept.length) await queueFetching(c, { inquiryId, userId }, kept, transaction, { byItself: gate === null })
    })
  }
  return due.length
}

/** Tells by mail what became of texts that were fetched by themselves. */
export async function tellAwaited(
  c: Context,
  { inquiryId, userId }: Who,
  job: number,
  list: readonly Fetched[],
): Promise<void> {
  // the page says it, too: where no mail is set up that is all
  if (!c.settings.outside.mail) return
  const user = await c.db.users.findByPk(userId, { attributes: ['email'], raw: true })
  const inquiry = await c.db.inquiries.findByPk(inquiryId, { attributes: ['title'], raw: true })
  if (!user || !inquiry || !list.length) return
  const came = list.filter(f => f.state === 'proved').length
  const n = `${list.length} ${list.length === 1 ? 'text' : 'texts'}`
  await sendMail(c, {
    to: user.email,
    id: `awaited-${job}`,
    subject: `${came === list.length ? `${n} came` : came ? `${came} of ${n} came` : `${n} did not come yet`}: ${inquiry.title}`,
    text: [
      `What you wait for in “${inquiry.title}” was asked for by itself today.`,
      '',
      ...list.flatMap(f => [f.title, `  ${f.state === 'proved' ? 'In hand.' : (f.said ?? 'It did not come.')}`, '']),
      `See them: ${c.settings.address}/inquiries/${inquiryId}/obtain`,
    ].join('\n'),
  })
}
