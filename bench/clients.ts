/**
 * Clients that decide, undo, annotate, import, sweep and bring PDFs, some of them through the real interface in a
 * browser, whatever happens to the programs meanwhile; and the check, at the end, that every acknowledged deed is there
 * exactly once, and every other one there or still waiting with its client.
 */
import { chromium, type Browser } from '@playwright/test'
import { storedLetters } from '../e2e/desk'
import { pause } from '../server/test/running'
import { byApi } from './client-api'
import { inWindow, type Window } from './client-window'
import { Ground, type GroundOf } from './ground'

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

/** @param o.clients how many in all, `o.pages` of them windows of the real interface */
export async function letWork(o: GroundOf & { clients: number; pages: number }): Promise<{
  /** How many deeds were sent, and how many of them acknowledged. */
  so: () => string
  /** No new deeds: what waits is sent, and all is counted. */
  end: () => Promise<Outcome>
}> {
  const ground = new Ground(o)
  const { deeds, busy } = ground
  const { sql } = o
  const pages: Window[] = []
  let browser: Browser | undefined
  if (o.pages)
    browser = await chromium.launch({
      executablePath: '/usr/bin/chromium',
      args: '--no-sandbox --disable-gpu --disable-quic --no-first-run --disable-background-networking --disable-component-update --disable-sync'.split(
        ' ',
      ),
    })
  const working = Promise.allSettled([
    ...Array.from({ length: o.clients - o.pages }, (_, n) => byApi(ground, n).finally(() => busy.delete(n))),
    ...Array.from({ length: o.pages }, (_, n) =>
      inWindow(ground, browser!, pages, 1000 + n).finally(() => busy.delete(1000 + n)),
    ),
  ])

  async function end(): Promise<Outcome> {
    ground.stopping = true
    const watching = setInterval(
      () => console.log('still at work:', [...busy].map(([n, what]) => `${n}: ${what}`).join(', ')),
      15_000,
    )
    const settled = await working
    clearInterval(watching)
    // a window that a killed server left on an error's page comes back, with its letters
    for (let i = 0; i < 120; i++) {
      const left = await Promise.all(pages.map(p => lettersOf(p, o.address)))
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
      waiting += await lettersOf(p, o.address)
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

    ground.over = true
    await browser?.close()
    return {
      deeds: deeds.length,
      ...result,
      jobsBegunAgainByHand: ground.parked,
      interface: { windows: pages.length, keysPressed: pressed, decisionsThere: there, stillWaiting: waiting },
      brokenFiles: bytes,
      sweepsLeftAsking: orphans,
      clientsThatFailed: settled.flatMap(s => (s.status === 'rejected' ? [String(s.reason).slice(0, 200)] : [])),
    }
  }
  return { so: () => `${deeds.length} deeds, ${deeds.filter(d => d.acknowledged).length} acknowledged`, end }
}

/** Letters that still wait in a window. */
async function lettersOf({ page, id }: Window, address: string): Promise<number> {
  try {
    return await storedLetters(page)
  } catch {
    await page.goto(`${address}/inquiries/${id}/sift?view=titles`).catch(() => undefined)
    return storedLetters(page).catch(() => 1)
  }
}

/** Whether nothing was lost, doubled or left half done. */
export const isWhole = (o: Outcome): boolean => !o.lost && !o.doubled && !o.brokenFiles && !o.sweepsLeftAsking
