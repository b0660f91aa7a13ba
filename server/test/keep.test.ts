import { afterEach, expect, test } from '@jest/globals'
import { spawn } from 'node:child_process'
import { once } from 'node:events'
import { createServer } from 'node:http'
import type { AddressInfo } from 'node:net'
import { until } from './running'

interface Kept {
  begin(): Promise<void>
  stop(): void
}
interface Begun {
  pid: number
  ended: Promise<string>
}
const { answersAt, keep, endOf } = (await import('../../scripts/keep.mjs' as string)) as {
  keep(o: {
    name: string
    begin: () => Promise<Begun>
    answers?: () => Promise<boolean>
    say: (s: string) => void
    firstPause: number
    longestPause?: number
    steady?: number
    silence?: number
  }): Kept
  endOf(child: unknown): Promise<string>
  answersAt(url: string, patience: number): () => Promise<boolean>
}

let kept: Kept | undefined
const pids: number[] = []
afterEach(() => {
  kept?.stop()
  for (const pid of pids.splice(0))
    try {
      process.kill(pid, 'SIGKILL')
    } catch {
      // gone already
    }
})
const program = (code: string) => async (): Promise<Begun> => {
  const child = spawn(process.execPath, ['-e', code], { stdio: 'ignore' })
  pids.push(child.pid!)
  return { pid: child.pid!, ended: endOf(child) }
}

test('what dies is begun again, after pauses that grow up to a longest one, and that is said', async () => {
  const said: string[] = []
  kept = keep({
    name: 'It',
    begin: program('process.exit(3)'),
    say: s => said.push(s),
    firstPause: 20,
    longestPause: 80,
  })
  await kept.begin()
  await until(() => pids.length >= 5)
  kept.stop()
  expect(said.filter(s => s.includes('ended')).slice(0, 4)).toEqual(
    [20, 40, 80, 80].map(ms => `It ended (code 3). It is begun again in ${ms} ms.`),
  )
  expect(said).toContain('It runs again.')
})

test('what ran well for a while begins anew with the first pause', async () => {
  const said: string[] = []
  kept = keep({
    name: 'It',
    begin: program('setInterval(() => 0, 9)'),
    say: s => said.push(s),
    firstPause: 20,
    steady: 0,
  })
  await kept.begin()
  for (let i = 1; i <= 3; i++) {
    await until(() => pids.length === i)
    process.kill(pids.at(-1)!, 'SIGKILL')
    await until(() => said.filter(s => s.includes('signal SIGKILL')).length === i)
  }
  expect(new Set(said.filter(s => s.includes('ended')))).toEqual(
    new Set(['It ended (signal SIGKILL). It is begun again in 20 ms.']),
  )
})

test('what cannot be begun is tried again', async () => {
  const said: string[] = []
  let tries = 0
  kept = keep({
    name: 'It',
    begin: () => {
      if (++tries === 2) throw new Error('no room')
      return program(tries === 1 ? '' : 'setInterval(() => 0, 9)')()
    },
    say: s => said.push(s),
    firstPause: 20,
  })
  await kept.begin()
  await until(() => said.includes('It runs again.'))
  expect(said.some(s => s.includes('It could not be begun: no room'))).toBe(true)
})

test('what hangs is ended and begun again', async () => {
  const said: string[] = []
  let silent = false
  const server = createServer((_, res) => (silent ? undefined : res.end())).listen(0)
  kept = keep({
    name: 'It',
    begin: program('setInterval(() => 0, 9)'),
    answers: async () => !silent,
    say: s => said.push(s),
    firstPause: 20,
    silence: 200,
  })
  await kept.begin()
  silent = true
  await until(() => pids.length >= 2)
  server.close()
  expect(said[0]).toContain('has not answered')
})

test('what answers is left alone by one that was held up itself, in the middle of asking', async () => {
  const taken = createServer().listen(0, '127.0.0.1')
  await once(taken, 'listening')
  const { port } = taken.address() as AddressInfo
  await new Promise(done => taken.close(done))
  const said: string[] = []
  const ask = answersAt(`http://127.0.0.1:${port}/`, 500)
  let asked = -1
  kept = keep({
    name: 'It',
    begin: program(
      `require('http').createServer((_, r) => setTimeout(() => r.end(), 30)).listen(${port}, '127.0.0.1')`,
    ),
    answers: async () => {
      if (asked < 0) return true
      const heard = ask()
      // longer than the silence that is borne, with the first question on its way
      // and after which the timers come before what has arrived
      if (asked++ === 0)
        setTimeout(() => setImmediate(() => Atomics.wait(new Int32Array(new SharedArrayBuffer(4)), 0, 0, 1000)), 5)
      return heard
    },
    say: s => said.push(s),
    firstPause: 20,
    silence: 800,
  })
  await kept.begin()
  await until(ask)
  asked = 0
  await until(() => asked > 3)
  expect(said).toEqual([])
  expect(pids).toHaveLength(1)
})
