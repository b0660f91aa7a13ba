import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { OutsideError } from '../connect/http'
import { createContext } from '../create-context'
import { DatabaseError } from 'sequelize'
import { enqueue, PARKED, startWorker, type JobHandler, type JobKind } from '../jobs/queue'
import { Problem } from '../base/problem'
import { openDesk, type Desk } from './desk'
import { until } from './running'

let desk: Desk
beforeAll(async () => {
  desk = await openDesk('jobs')
})
afterAll(() => desk.close())

const ended = async (job: number) => {
  const row = () => desk.context.db.jobs.findByPk(job, { raw: true })
  await until(async () => ['done', 'failed', 'cancelled'].includes((await row())!.state))
  return (await row())!
}
const put = (kind: string, payload = {}) => enqueue(desk.context, kind, null, null, payload)
const pause = (ms: number, signal?: AbortSignal) =>
  new Promise<void>((done, fail) => {
    const t = setTimeout(done, ms)
    signal?.addEventListener('abort', () => (clearTimeout(t), fail(new Error('stopped'))), { once: true })
  })

async function withWorkers(
  handlers: Record<string, JobHandler | JobKind>,
  n: number,
  run: () => Promise<void>,
  more: Partial<Desk['settings']> = {},
): Promise<void> {
  const contexts = Array.from({ length: n }, () => createContext({ ...desk.settings, ...more }))
  const kinds = Object.fromEntries(
    Object.entries(handlers).map(([k, h]) => [k, typeof h === 'function' ? { run: h } : h]),
  )
  const workers = contexts.map(c => startWorker(c, kinds, 2))
  try {
    await run()
  } finally {
    await Promise.all(workers.map(w => w.stop()))
    await Promise.all(contexts.map(c => c.db.sequelize.close()))
  }
}

test('each job is done once, however many processes share the queue', async () => {
  const done: number[] = []
  const handler: JobHandler = async (_, { job }) => {
    done.push(job.payload.n as number)
    await pause(5)
    return {}
  }
  const jobs = await Promise.all(Array.from({ length: 40 }, (_, n) => put('shared', { n })))
  await withWorkers({ shared: handler }, 3, async () => {
    for (const j of jobs) expect((await ended(j)).state).toBe('done')
  })
  expect(done.sort((a, b) => a - b)).toEqual(Array.from({ length: 40 }, (_, n) => n))
})

test('one long job runs at a time, and short ones pass by those that wait', async () => {
  const order: string[] = []
  let end = (): void => undefined
  const held = new Promise<void>(done => (end = done))
  const long = async () => {
    order.push('long begins')
    await held
    order.push('long ends')
    return {}
  }
  const jobs = [await put('long'), await put('long'), await put('quick')]
  await withWorkers({ long: { run: long, isLong: true }, quick: async () => ({}) }, 1, async () => {
    expect((await ended(jobs[2]!)).state).toBe('done')
    expect(order).toEqual(['long begins'])
    end()
    for (const j of jobs) expect((await ended(j)).state).toBe('done')
  })
  expect(order).toEqual(['long begins', 'long ends', 'long begins', 'long ends'])
})

test('what can pass is tried again; what cannot is said at once', async () => {
  const tries: Record<string, number> = {}
  const handler: JobHandler = async (_, { job }) => {
    const what = job.payload.what as string
    tries[what] = (tries[what] ?? 0) + 1
    if (what === 'busy' && tries[what] < 2) throw new OutsideError('It is busy.', true, 0.1)
    if (what === 'gone') throw new OutsideError('It is gone.', false)
    if (what === 'wrong') throw new Problem(422, 'wrong', 'It is wrong.')
    return { what }
  }
  const [busy, gone, wrong] = [
    await put('tries', { what: 'busy' }),
    await put('tries', { what: 'gone' }),
    await put('tries', { what: 'wrong' }),
  ]
  await withWorkers({ tries: handler }, 1, async () => {
    expect(await ended(busy)).toMatchObject({ state: 'done', attempts: 1, error: null })
    expect(await ended(gone)).toMatchObject({ state: 'failed', attempts: 1, error: 'It is gone.' })
    expect(await ended(wrong)).toMatchObject({ state: 'failed', attempts: 1, error: 'It is wrong.' })
  })
})

test('a running job that is cancelled ends as cancelled, a waiting one never begins', async () => {
  let begun = 0
  const handler: JobHandler = async (_, { signal }) => {
    begun++
    await pause(20_000, signal)
    return {}
  }
  const first = await put('long')
  await withWorkers({ long: handler }, 1, async () => {
    while (!begun) await pause(20)
    const waiting = await put('long')
    await desk.context.db.jobs.update({ cancelAsked: true }, { where: { id: [first, waiting] } })
    expect((await ended(first)).state).toBe('cancelled')
    expect((await ended(waiting)).state).toBe('cancelled')
  })
  expect(begun).toBeLessThanOrEqual(2)
})

test('a job whose worker fell silent is taken over with the progress it had', async () => {
  const job = await put('silent')
  await desk.context.db.sequelize.query(
    `UPDATE jobs SET state = 'running', worker = 'gone', progress = '{"at":7}', lease_until = NOW(3) - INTERVAL 1 SECOND WHERE id = ${job}`,
  )
  let from: unknown
  await withWorkers({ silent: async (_, h) => ((from = h.job.progress.at), { from }) }, 1, async () => {
    expect(await ended(job)).toMatchObject({ state: 'done', attempts: 0, losses: 1, result: { from: 7 } })
  })
  expect(from).toBe(7)
})

test('a worker that stops gives its job back, and its attempt', async () => {
  let begun = false
  let signalled = false
  const job = await put('returned')
  await withWorkers(
    {
      returned: async (_, { signal }) => {
        begun = true
        await pause(20_000, signal).catch(e => {
          signalled = true
          throw e
        })
        return {}
      },
    },
    1,
    async () => {
      while (!begun) await pause(20)
    },
  )
  expect(signalled).toBe(true)
  expect(await desk.context.db.jobs.findByPk(job, { raw: true })).toMatchObject({ state: 'queued', attempts: 0 })
  await desk.context.db.jobs.destroy({ where: { id: job } })
})

const lost = (job: number, losses: number) =>
  desk.context.db.sequelize.query(
    `UPDATE jobs SET state = 'running', worker = 'gone', losses = ${losses}, lease_until = NOW(3) - INTERVAL 1 SECOND WHERE id = ${job}`,
  )

test('a job in which the process ended three times is parked with its reason, and holds up nothing', async () => {
  const job = await put('deadly')
  const other = await put('deadly', { fine: true })
  await lost(job, 2)
  const begun: number[] = []
  const gaveUp: string[] = []
  const deadly: JobKind = {
    run: async (_, h) => (begun.push(h.job.id), {}),
    givenUp: async (_c, j, why) => void gaveUp.push(`${j.id} ${why}`),
  }
  await withWorkers({ deadly }, 1, async () => {
    expect(await ended(job)).toMatchObject({ state: 'failed', losses: 3, error: PARKED })
    expect(await ended(other)).toMatchObject({ state: 'done' })
  })
  expect(begun).toEqual([other])
  expect(gaveUp).toEqual([`${job} ${PARKED}`])
})

test('what ran when a process vanished runs alone after that', async () => {
  const suspect = await put('alone')
  await lost(suspect, 0)
  const running = new Set<number>()
  const together: number[][] = []
  const handler: JobHandler = async (_, { job }) => {
    running.add(job.id)
    if (running.size > 1) together.push([...running])
    await pause(60)
    running.delete(job.id)
    return {}
  }
  const others = await Promise.all(Array.from({ length: 4 }, () => put('alone')))
  await withWorkers({ alone: handler }, 1, async () => {
    for (const j of [suspect, ...others]) expect((await ended(j)).state).toBe('done')
  })
  expect(together.length).toBeGreaterThan(0)
  expect(together.flat()).not.toContain(suspect)
})

test('trouble of the database is waited out and uses up no attempt', async () => {
  let tries = 0
  const full = Object.assign(new Error('full'), { errno: 1114, sql: '' })
  const handler: JobHandler = async () => {
    if (++tries < 3) throw new DatabaseError(Object.assign(full, { sql: '' }))
    return {}
  }
  const job = await put('full')
  await withWorkers({ full: handler }, 1, async () => {
    await until(() => tries > 0)
    for (let i = 0; i < 6; i++) {
      // it waits for room; here the wait is cut short
      await desk.context.db.sequelize.query(`UPDATE jobs SET run_after = NOW(3) WHERE id = ${job} AND state = 'queued'`)
      await pause(300)
    }
    expect(await ended(job)).toMatchObject({ state: 'done', attempts: 0 })
  })
  expect(tries).toBe(3)
})

test('users take turns: one with many jobs does not make another wait for all of them', async () => {
  const [a, b] = await desk.context.db.users.findAll({ limit: 2, raw: true })
  const order: number[] = []
  const handler: JobHandler = async (_, { job }) => (order.push(job.userId!), {})
  const many: number[] = []
  for (let i = 0; i < 8; i++) many.push(await enqueue(desk.context, 'turns', null, a!.id, {}))
  const one = await enqueue(desk.context, 'turns', null, b!.id, {})
  await withWorkers({ turns: handler }, 1, async () => {
    for (const j of [...many, one]) await ended(j)
  })
  expect(order.indexOf(b!.id)).toBeLessThan(3)
})

test('a job that makes no step for long is ended, tried again and told', async () => {
  let begun = 0
  const handler: JobHandler = () => (begun++, new Promise(() => undefined))
  const job = await put('stuck')
  await withWorkers(
    { stuck: handler },
    1,
    async () => {
      for (let i = 0; i < 3; i++) {
        await until(() => begun > i)
        await desk.context.db.sequelize.query(`UPDATE jobs SET run_after = NOW(3) WHERE id = ${job}`)
      }
      expect((await ended(job)).error).toContain('no step')
    },
    { silenceSeconds: 0.5 },
  )
  expect(begun).toBe(3)
})

test('the job of a user who may no longer write in the inquiry is stopped', async () => {
  const user = (await desk.context.db.users.findOne({ where: { email: 'stranger@desk.example' }, raw: true }))!
  const { body } = await (
    await desk.signIn('owner@desk.example')
  )
    .post('/api/inquiries')
    .send({ title: 'T', question: 'Q', due: '2026-10-29', style: 'apa', entriesWanted: 1 })
  const job = await enqueue(desk.context, 'rights', body.id, user.id, {})
  let ran = false
  await withWorkers({ rights: async () => ((ran = true), {}) }, 1, async () => {
    expect((await ended(job)).state).toBe('cancelled')
  })
  expect(ran).toBe(false)
})
