import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { execFileSync, spawnSync } from 'node:child_process'
import { randomUUID } from 'node:crypto'
import { appendFileSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { openRunning, until, type Running } from './running'

/** A disk of its own, small enough to be filled; only root may make one. */
const disk = mkdtempSync(join(tmpdir(), 'vine-full-'))
const mounted =
  process.getuid?.() === 0 && spawnSync('mount', ['-t', 'tmpfs', '-o', 'size=300m', 'tmpfs', disk]).status === 0
const onDisk = mounted ? test : test.skip

let desk: Running
beforeAll(async () => {
  if (mounted) desk = await openRunning({ folder: join(disk, 'data') })
})
afterAll(async () => {
  if (!mounted) return
  await desk.close()
  execFileSync('umount', ['--lazy', disk])
  rmSync(disk, { recursive: true, force: true })
})

/** Leaves no room but what the database has set aside already. */
function fill(): void {
  const filler = join(disk, 'filler')
  writeFileSync(filler, '')
  for (const size of [4_000_000, 100_000, 4096])
    for (;;)
      try {
        appendFileSync(filler, Buffer.alloc(size))
      } catch {
        break
      }
}

onDisk(
  'a full disk: it is said, what was kept can be read, and once there is room all goes on by itself',
  async () => {
    const { api, inquiry, address } = desk
    const at = `/inquiries/${inquiry}`
    const books = (n: number, name: string) =>
      new TextEncoder().encode(
        Array.from(
          { length: n },
          (_, i) =>
            `@book{${name}${i}, title={Lamps of ${name} number ${i}}, abstract={${'moths by night '.repeat(60)}}}`,
        ).join('\n'),
      )
    const small = await api.call<{ job: number }>('POST', `${at}/imports`, books(20, 'ash'))
    await api.finish(inquiry, small.job)
    const works = await api.call<{ id: number }[]>('GET', `${at}/works`)
    // one is being read when the disk becomes full
    const big = await api.call<{ job: number }>('POST', `${at}/imports`, books(3000, 'alder'))
    await until(async () => (await desk.number(`SELECT state = 'running' FROM jobs WHERE id = ${big.job}`)) === 1)
    fill()
    await until(
      async () =>
        (await desk.number(`SELECT state = 'queued' AND error LIKE '%disk%' FROM jobs WHERE id = ${big.job}`)) === 1,
      4000,
    )
    const key = randomUUID()
    const file = books(30, 'birch')
    const refused = (path: string, body: object, given: string) =>
      api.call('POST', at + path, body, { 'Idempotency-Key': given }).then(
        () => 'taken',
        (e: Error) => e.message,
      )
    expect(await refused('/imports', file, key)).toMatch(/507.*disk-full/)
    const group = randomUUID()
    const deed = { group, decisions: works.map(w => ({ id: randomUUID(), work: w.id, pass: 'title', choice: 'keep' })) }
    expect(await refused('/decisions', deed, group)).toMatch(/507.*disk-full/)
    expect(await desk.number(`SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`)).toBe(0)
    // reading goes on
    expect(await api.call<unknown[]>('GET', `${at}/works`)).toHaveLength(works.length)
    expect((await fetch(`${address}/api/health`)).status).toBe(200)
    rmSync(join(disk, 'filler'))
    await until(async () => (await refused('/decisions', deed, group)) === 'taken')
    expect(await desk.number(`SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`)).toBe(works.length)
    const { job } = await api.call<{ job: number }>('POST', `${at}/imports`, file, { 'Idempotency-Key': key })
    for (const j of [job, big.job]) {
      await until(async () => (await desk.number(`SELECT state = 'done' FROM jobs WHERE id = ${j}`)) === 1, 4000)
      expect(await desk.number(`SELECT attempts + losses FROM jobs WHERE id = ${j}`)).toBe(0)
    }
    expect(await api.call<unknown[]>('GET', `${at}/works`)).toHaveLength(works.length + 3030)
  },
  180_000,
)
