import { randomUUID } from 'node:crypto'
import type { Sequelize } from 'sequelize'
import type { seeded } from '../core/world/random'
import { Api } from '../demo/api'
import { hashPassword } from '../server/accounts/passwords'
import { pause } from '../server/test/running'
import type { smallWorld } from '../server/test/small-world'

export const PASSWORD = 'moth lantern gravel teacup'

export interface Deed {
  what: string
  /** Counts how often it is there. */
  there: string
  acknowledged: boolean
}

/** What clients work on. */
export interface GroundOf {
  /** Where the application answers, http://host:port. */
  address: string
  /** The database itself, for accounts and the check at the end. */
  sql: Sequelize
  world: ReturnType<typeof smallWorld>
  random: ReturnType<typeof seeded>
}

/** What all clients share: their deeds, what each is at, and a manner of sending that does not give up. */
export class Ground {
  /** No new deeds are begun. */
  stopping = false
  /** Nothing is sent any more. */
  over = false
  parked = 0
  readonly deeds: Deed[] = []
  /** What each client is at. */
  readonly busy = new Map<number, string>()

  constructor(readonly of: GroundOf) {}

  /** Writes a deed down, sends it, and notes whether it was acknowledged. */
  async attempt<T>(what: string, there: string, send: () => Promise<T | undefined>): Promise<T | undefined> {
    const deed = { what, there, acknowledged: false }
    this.deeds.push(deed)
    const got = await send()
    if (got) deed.acknowledged = true
    return got
  }

  /**
   * Sends as a browser does: again under the same key until there is a yes or a no. @returns undefined where it still
   * waits at the end
   */
  async insist<T>(
    api: Api,
    method: string,
    path: string,
    body: unknown,
    headers: Record<string, string> = {},
  ): Promise<T | undefined> {
    const key = randomUUID()
    for (let tries = 0; !this.over; tries++) {
      try {
        return await inTime(api.call<T>(method, path, body, { 'Idempotency-Key': key, ...headers }))
      } catch (e) {
        const status = Number(/: (\d{3}) /.exec((e as Error).message)?.[1] ?? 0)
        if (status >= 400 && status < 500 && ![401, 408, 429].includes(status)) throw e
        if (this.stopping && tries > 60) return undefined
        await pause(Math.min(2000, 100 * 1.4 ** tries))
      }
    }
    return undefined
  }

  /** An account, signed in, with an inquiry. */
  async account(n: number): Promise<{ api: Api; id: number; email: string }> {
    const email = `s${n}@desk.example`
    const api = new Api(this.of.address)
    const passwordHash = await hashPassword(PASSWORD)
    for (;;)
      try {
        await this.of.sql.query(
          'INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE name = name',
          { replacements: [email, `S${n}`, passwordHash] },
        )
        await api.call('POST', '/session', { email, password: PASSWORD })
        break
      } catch {
        await pause(200)
      }
    const { id } = (await this.insist<{ id: number }>(api, 'POST', '/inquiries', {
      title: `T${n}`,
      question: 'What do lamps do?',
      due: '2026-10-29',
      style: 'apa',
      entriesWanted: 1,
    }))!
    return { api, id, email }
  }

  /** Waits for a job; one that was parked is begun again, as a student would. @returns whether it was done */
  async isDone(api: Api, id: number, job: number): Promise<boolean> {
    for (;;) {
      const path = `/inquiries/${id}/jobs/${job}`
      const j = await this.insist<{ state: string }>(api, 'GET', path, undefined)
      if (!j) return false
      if (j.state === 'done') return true
      if (j.state === 'failed' || j.state === 'cancelled') {
        this.parked++
        if (this.stopping || !(await this.insist(api, 'POST', `${path}/again`, {}))) return false
      }
      await pause(300)
    }
  }
}

/** What has no answer in half a minute is given up and sent again, as the interface does. */
const inTime = <T>(answer: Promise<T>): Promise<T> =>
  Promise.race([answer, new Promise<T>((_, fail) => setTimeout(() => fail(new Error('no answer')), 30_000).unref())])
