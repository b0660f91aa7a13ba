import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { OutsideError } from '../connect/http'
import { createContext } from '../context'
import { enqueue, startWorker, type JobHandler } from '../jobs/queue'
import { Problem } from '../problem'
import { openDesk, type Desk } from './desk'

let desk: Desk
beforeAll(async () => {
  desk = await openDesk('jobs')
})
afterAll(() => desk.close())

const ended = async (job: number) => {
  for (let i = 0; i < 400; i++) {
    const row = await desk.context.db.jobs.findByPk(job, { raw: true })
    if (['done', 'failed', 'cancelled'].includes(row!.state)) return row!
    await new Promise(r => setTimeout(r, 25))
  }
  throw new Error('the job did not end')
}
const put = (kind: string, payload = {}) => enqueue(desk.context, kind, null, null, payload)
const pause = (ms: number, signal?: AbortSignal) =>
  new Promise<void>((done, fail) => {
    const t = setTimeout(done, ms)
    signal?.addEventListener('abort', () => (clearTimeout(t), fail(new Error('stopped'))), { once: true })
  })

async function withWorkers(handlers: Record<string, JobHandler>, n: number, run: () => Promise<void>): Promise<void> {
  const contexts = Array.from({ length: n }, () => createContext(desk.settings))
  const workers = contexts.map(c => startWorker(c, handlers, 2))
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
    expect(await ended(busy)).toMatchObject({ state: 'done', attempts: 2, error: null })
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
    `UPDATE jobs SET state = 'running', worker = 'gone', attempts = 1, progress = '{"at":7}', lease_until = NOW(3) - INTERVAL 1 SECOND WHERE id = ${job}`,
  )
  let from: unknown
  await withWorkers({ silent: async (_, h) => ((from = h.job.progress.at), { from }) }, 1, async () => {
    expect(await ended(job)).toMatchObject({ state: 'done', attempts: 2, result: { from: 7 } })
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
