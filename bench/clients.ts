/**
 * Clients that decide, undo, annotate, import, sweep and bring PDFs, some of them through the real interface in a
 * browser, whatever happens to the programs meanwhile; and the check, at the end, that every acknowledged deed is there
 * exactly once, and every other one there or still waiting with its client.
 */
import { randomUUID } from 'node:crypto'
import { chromium, type Browser, type Page } from '@playwright/test'
import type { Sequelize } from 'sequelize'
import type { seeded } from '../core/world/random'
import { Api } from '../demo/api'
import { storedLetters } from '../e2e/desk'
import { hashPassword } from '../server/accounts/passwords'
import { pause } from '../server/test/running'
import type { smallWorld } from '../server/test/small-world'
import { drawPdf } from '../standins/pdf'

const PASSWORD = 'moth lantern gravel teacup'

interface Deed {
  what: string
  /** Counts how often it is there. */
  there: string
  acknowledged: boolean
}

/** What became of all that was sent. */
export interface Outcome {
  deeds: number
  acknowledged: number
  lost: number
  doubled: number
  thereUnacknowledged: number
  waiting: number
  jobsBegunAgainByHand: number
  interface: { windows: number; keysPressed: number; decisionsThere: number; stillWaiting: number }
  brokenFiles: number
  sweepsLeftAsking: number
  clientsThatFailed: string[]
}

/**
 * @param o.address where the application answers, http://host:port
 * @param o.sql the database itself, for accounts and the check at the end
 * @param o.clients how many in all, `o.pages` of them windows of the real interface
 */
export async function letWork(o: {
  address: string
  sql: Sequelize
  world: ReturnType<typeof smallWorld>
  random: ReturnType<typeof seeded>
  clients: number
  pages: number
}): Promise<{
  /** How many deeds were sent, and how many of them acknowledged. */
  so: () => string
  /** No new deeds: what waits is sent, and all is counted. */
  end: () => Promise<Outcome>
}> {
  const { address, sql, world, random } = o
  let stopping = false
  let over = false
  let browser: Browser | undefined
  const deeds: Deed[] = []
  /** What each client is at. */
  const busy = new Map<number, string>()

  /** What has no answer in half a minute is given up and sent again, as the interface does. */
  const inTime = <T>(answer: Promise<T>): Promise<T> =>
    Promise.race([answer, new Promise<T>((_, fail) => setTimeout(() => fail(new Error('no answer')), 30_000).unref())])

  /**
   * Sends as a browser does: again under the same key until there is a yes or a no. @returns undefined where it still
   * waits at the end
   */
  async function insist<T>(
    api: Api,
    method: string,
    path: string,
    body: unknown,
    headers: Record<string, string> = {},
  ): Promise<T | undefined> {
    const key = randomUUID()
    for (let tries = 0; !over; tries++) {
      try {
        return await inTime(api.call<T>(method, path, body, { 'Idempotency-Key': key, ...headers }))
      } catch (e) {
        const status = Number(/: (\d{3}) /.exec((e as Error).message)?.[1] ?? 0)
        if (status >= 400 && status < 500 && ![401, 408, 429].includes(status)) throw e
        if (stopping && tries > 60) return undefined
        await pause(Math.min(2000, 100 * 1.4 ** tries))
      }
    }
    return undefined
  }

  async function account(n: number): Promise<{ api: Api; id: number; email: string }> {
    const email = `s${n}@desk.example`
    const api = new Api(address)
    const passwordHash = await hashPassword(PASSWORD)
    for (;;)
      try {
        await sql.query(
          'INSERT INTO users (email, name, password_hash) VALUES (?, ?, ?) ON DUPLICATE KEY UPDATE name = name',
          {
            replacements: [email, `S${n}`, passwordHash],
          },
        )
        await api.call('POST', '/session', { email, password: PASSWORD })
        break
      } catch {
        await pause(200)
      }
    const { id } = (await insist<{ id: number }>(api, 'POST', '/inquiries', {
      title: `T${n}`,
      question: 'What do lamps do?',
      due: '2026-10-29',
      style: 'apa',
      entriesWanted: 1,
    }))!
    return { api, id, email }
  }

  const parked = { n: 0 }
  /** Waits for a job; one that was parked is begun again, as a student would. */
  async function jobEnd(api: Api, id: number, job: number): Promise<string> {
    for (;;) {
      const j = await insist<{ state: string; error: string | null }>(
        api,
        'GET',
        `/inquiries/${id}/jobs/${job}`,
        undefined,
      )
      if (!j) return 'waiting'
      if (j.state === 'done') return 'done'
      if (j.state === 'failed' || j.state === 'cancelled') {
        parked.n++
        if (stopping || !(await insist(api, 'POST', `/inquiries/${id}/jobs/${job}/again`, {}))) return j.state
      }
      await pause(300)
    }
  }

  async function client(n: number): Promise<void> {
    busy.set(n, 'beginning')
    const { api, id } = await account(n)
    const at = `/inquiries/${id}`
    const bring = async (size: number) => {
      const name = `f-${randomUUID()}`
      const file = Array.from(
        { length: size },
        (_, i) => `@book{k${i}, title={Owls of village ${name} number ${i}}, year=${1900 + (i % 100)}}`,
      ).join('\n')
      const deed: Deed = {
        what: 'file',
        acknowledged: false,
        there: `SELECT COUNT(*) / ${size} FROM records r JOIN imports i ON r.source = CONCAT('file:', i.id) WHERE i.file_name = '${name}'`,
      }
      deeds.push(deed)
      const made = await insist<{ job: number }>(api, 'POST', `${at}/imports`, new TextEncoder().encode(file), {
        'X-File-Name': name,
      })
      if (made && (await jobEnd(api, id, made.job)) === 'done') deed.acknowledged = true
    }
    busy.set(n, 'bringing its works')
    await bring(60)
    let works = ((await insist<{ id: number }[]>(api, 'GET', `${at}/works`, undefined)) ?? []).map(w => w.id)
    let entry: { id: number; version: number } | undefined
    while (!stopping && works.length) {
      const what = random.int(0, 99)
      busy.set(n, `deed ${what}`)
      const work = works[random.int(0, works.length - 1)]!
      if (what < 45) {
        const group = randomUUID()
        const deed: Deed = {
          what: 'decision',
          acknowledged: false,
          there: `SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`,
        }
        deeds.push(deed)
        const choice = random.pick(['keep', 'set aside', 'later'])
        if (
          await insist(api, 'POST', `${at}/decisions`, {
            group,
            decisions: [{ id: randomUUID(), work, pass: 'title', choice }],
          })
        ) {
          deed.acknowledged = true
          if (random.chance(0.3)) {
            const undo: Deed = {
              what: 'undo',
              acknowledged: false,
              there: `SELECT COUNT(*) FROM deeds WHERE undoes = '${group}'`,
            }
            deeds.push(undo)
            if (await insist(api, 'POST', `${at}/undo`, { group, id: randomUUID() })) undo.acknowledged = true
          }
        }
      } else if (what < 55) {
        const group = randomUUID()
        const some = works.slice(0, 40)
        const deed: Deed = {
          what: 'forty decisions',
          acknowledged: false,
          there: `SELECT COUNT(*) / ${some.length} FROM deeds WHERE group_id = '${group}'`,
        }
        deeds.push(deed)
        const decisions = some.map(w => ({ id: randomUUID(), work: w, pass: 'abstract', choice: 'keep', reason: null }))
        if (await insist(api, 'POST', `${at}/decisions`, { group, decisions })) deed.acknowledged = true
      } else if (what < 70) {
        const id_ = randomUUID()
        const deed: Deed = {
          what: 'mark',
          acknowledged: false,
          there: `SELECT COUNT(*) FROM deeds WHERE id = '${id_}'`,
        }
        deeds.push(deed)
        if (
          await insist(api, 'POST', `${at}/marks`, {
            group: randomUUID(),
            marks: [{ id: id_, work, about: `tag:t${random.int(0, 9)}`, value: true }],
          })
        )
          deed.acknowledged = true
      } else if (what < 85) {
        if (!entry) {
          await insist(api, 'POST', `${at}/decisions`, {
            group: randomUUID(),
            decisions: [{ id: randomUUID(), work: works[0], pass: 'full text', choice: 'keep' }],
          })
          try {
            entry = await insist(api, 'POST', `${at}/entries`, { work: works[0] })
          } catch {
            continue // an undo was faster
          }
        }
        if (!entry) break
        const annotation = `Written ${randomUUID()}.`
        const next: number = entry.version + 1
        const deed: Deed = {
          what: 'annotation',
          acknowledged: false,
          there: `SELECT version >= ${next} FROM entries WHERE id = ${entry.id}`,
        }
        deeds.push(deed)
        const got: { version: number } | undefined = await insist(
          api,
          'PATCH',
          `${at}/entries/${entry.id}`,
          { annotation },
          { 'If-Match': `"${entry.version}"` },
        )
        if (got) {
          deed.acknowledged = true
          entry = { id: entry.id, version: got.version }
        }
      } else if (what < 91) {
        const query = `moth* and year = ${random.int(1990, 2025)}`
        const made = await insist<{ id: number; job: number }>(api, 'POST', `${at}/sweeps`, {
          query,
          catalogues: ['broadleaf', 'lampyr'],
        })
        if (!made) break
        const deed: Deed = {
          what: 'sweep',
          acknowledged: false,
          there: `SELECT COUNT(*) / 2 FROM sweep_catalogues p WHERE sweep_id = ${made.id} AND state = 'done' AND fetched = (SELECT COUNT(*) FROM sweep_hits h WHERE h.sweep_id = p.sweep_id AND h.catalogue = p.catalogue)`,
        }
        deeds.push(deed)
        if ((await jobEnd(api, id, made.job)) === 'done') deed.acknowledged = true
      } else if (what < 95) {
        await bring(random.int(20, 400))
        works = ((await insist<{ id: number }[]>(api, 'GET', `${at}/works`, undefined)) ?? []).map(w => w.id)
      } else {
        const own = world.works[random.int(0, 200)]!
        const pdf = new Uint8Array(await drawPdf(world, own, { version: 'version of record' }))
        const made = await insist<{ job: number }>(api, 'POST', `${at}/works/${work}/copies`, pdf, {
          'X-File-Name': 'own.pdf',
        })
        if (!made) break
        const deed: Deed = {
          what: 'file for a work',
          acknowledged: false,
          there: `SELECT state = 'done' AND JSON_VALUE(result, '$.outcome') IS NOT NULL FROM jobs WHERE id = ${made.job}`,
        }
        deeds.push(deed)
        if ((await jobEnd(api, id, made.job)) === 'done') deed.acknowledged = true
      }
      await pause(random.int(20, 250))
    }
  }

  // ---- clients in the real interface ----
  const pages: { page: Page; id: number; pressed: number }[] = []
  async function inBrowser(n: number): Promise<void> {
    busy.set(n, 'beginning')
    const { api, id, email } = await account(n)
    busy.set(n, 'bringing its works')
    const file = Array.from(
      { length: 400 },
      (_, i) => `@book{k${i}, title={Bats of hamlet ${n} number ${i}}, year=2001}`,
    ).join('\n')
    const made = await insist<{ job: number }>(api, 'POST', `/inquiries/${id}/imports`, new TextEncoder().encode(file))
    if (!made || (await jobEnd(api, id, made.job)) !== 'done') return
    const context = await browser!.newContext({ viewport: { width: 1280, height: 800 }, reducedMotion: 'reduce' })
    const page = await context.newPage()
    // every decision that the window sends, under whatever key and however often
    const sent = new Map<string, Deed>()
    page.on('request', r => {
      if (r.method() !== 'POST' || !r.url().endsWith('/decisions')) return
      const { group } = r.postDataJSON() as { group: string }
      if (sent.has(group)) return
      const deed: Deed = {
        what: 'decision in a window',
        acknowledged: false,
        there: `SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`,
      }
      sent.set(group, deed)
      deeds.push(deed)
    })
    page.on('response', r => {
      if (r.status() !== 201 || !r.url().endsWith('/decisions')) return
      sent.get((r.request().postDataJSON() as { group: string }).group)!.acknowledged = true
    })
    busy.set(n, 'signing in')
    // signed in through the interface; the server may die in the middle of that too
    for (let inside = false; !inside && !stopping;)
      try {
        await page.goto(address)
        const home = page.getByText('Your inquiries')
        const form = page.getByLabel('E-mail address')
        await home.or(form).waitFor({ timeout: 15_000 })
        if (await form.isVisible()) {
          await form.fill(email)
          await page.getByLabel('Password').fill(PASSWORD)
          await page.getByRole('button', { name: 'Sign in' }).click()
        }
        await home.waitFor({ timeout: 15_000 })
        inside = true
      } catch {
        await pause(500)
      }
    const me = { page, id, pressed: 0 }
    pages.push(me)
    busy.set(n, 'deciding')
    let opened = false
    while (!stopping) {
      try {
        if (!opened || random.chance(0.03)) {
          await page.goto(`${address}/inquiries/${id}/sift?view=titles`)
          await page
            .getByRole('list', { name: 'Titles to decide on' })
            .locator('[aria-current=true]')
            .waitFor({ timeout: 15_000 })
          opened = true
        }
        const decided = await page.evaluate<string>(`document.querySelector('[aria-current=true]')?.textContent ?? ''`)
        if (!decided) break // all are decided
        await page.keyboard.press(random.pick(['j', 'f', ' ']))
        me.pressed++
      } catch {
        opened = false
      }
      await pause(random.int(150, 700))
    }
  }

  if (o.pages)
    browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
        ' ',
      ),
    })
  const working = Promise.allSettled([
    ...Array.from({ length: o.clients - o.pages }, (_, n) => client(n).finally(() => busy.delete(n))),
    ...Array.from({ length: o.pages }, (_, n) => inBrowser(1000 + n).finally(() => busy.delete(1000 + n))),
  ])

  async function end(): Promise<Outcome> {
    stopping = true
    const watching = setInterval(
      () => console.log('still at work:', [...busy].map(([n, what]) => `${n}: ${what}`).join(', ')),
      15_000,
    )
    const settled = await working
    clearInterval(watching)
    for (let i = 0; i < 120; i++) {
      const left = await Promise.all(pages.map(p => storedLetters(p.page).catch(() => 1)))
      if (left.every(n => n === 0)) break
      await pause(500)
    }
    const number = async (query: string): Promise<number> => {
      for (;;)
        try {
          const [row] = (await sql.query(query))[0] as Record<string, unknown>[]
          return Number(Object.values(row ?? { n: 0 })[0] ?? 0)
        } catch {
          await pause(300)
        }
    }
    const result = { acknowledged: 0, lost: 0, doubled: 0, thereUnacknowledged: 0, waiting: 0 }
    for (const d of deeds) {
      const n = await number(d.there)
      if (d.acknowledged) result.acknowledged++
      if (d.acknowledged && n < 1) {
        result.lost++
        const name = /file_name = '([^']+)'/.exec(d.there)?.[1]
        const why = name
          ? JSON.stringify((await sql.query(`SELECT state, report FROM imports WHERE file_name = '${name}'`))[0])
          : ''
        console.log(`LOST ${d.what}: ${d.there} -> ${n} ${why}`)
      } else if (n > 1) {
        result.doubled++
        console.log(`DOUBLED ${d.what}: ${d.there} -> ${n}`)
      } else if (!d.acknowledged) result[n === 1 ? 'thereUnacknowledged' : 'waiting']++
    }
    let pressed = 0
    let there = 0
    let waiting = 0
    for (const p of pages) {
      pressed += p.pressed
      waiting += await storedLetters(p.page)
      there += await number(`SELECT COUNT(*) FROM deeds WHERE inquiry_id = ${p.id} AND kind = 'decision'`)
      const twice = await number(
        `SELECT COUNT(*) FROM (SELECT work_id FROM deeds WHERE inquiry_id = ${p.id} GROUP BY group_id HAVING COUNT(*) > 1) t`,
      )
      if (twice) result.doubled += twice
    }
    const bytes = await number(
      'SELECT COUNT(*) FROM blobs b LEFT JOIN (SELECT hash, SUM(LENGTH(bytes)) AS n FROM blob_chunks GROUP BY hash) c USING (hash) WHERE c.n <> b.size OR c.n IS NULL',
    )
    const orphans = await number(
      `SELECT COUNT(*) FROM sweep_catalogues WHERE state = 'asking' AND NOT EXISTS (SELECT 1 FROM jobs WHERE state IN ('queued', 'running') AND JSON_VALUE(payload, '$.sweepId') = sweep_id)`,
    )

    over = true
    await browser?.close()
    return {
      deeds: deeds.length,
      ...result,
      jobsBegunAgainByHand: parked.n,
      interface: { windows: pages.length, keysPressed: pressed, decisionsThere: there, stillWaiting: waiting },
      brokenFiles: bytes,
      sweepsLeftAsking: orphans,
      clientsThatFailed: settled.flatMap(s => (s.status === 'rejected' ? [String(s.reason).slice(0, 200)] : [])),
    }
  }
  return { so: () => `${deeds.length} deeds, ${deeds.filter(d => d.acknowledged).length} acknowledged`, end }
}

/** Whether nothing was lost, doubled or left half done. */
export const isWhole = (o: Outcome): boolean => !o.lost && !o.doubled && !o.brokenFiles && !o.sweepsLeftAsking
