import { fork, type ChildProcess } from 'node:child_process'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Tasks } from './tasks'

/** Built beside the server, or by the tests; in development it runs from its source. */
const built = process.env.VINE_CHILD ?? fileURLToPath(new URL('./child.js', import.meta.url))
const source = fileURLToPath(new URL('./main.ts', import.meta.url))

/** The task could not be done, and would not be another time: the file is to blame. */
export class ChildFailed extends Error {}

/** The child was ended from outside: nothing is known of the file, and trying again can help. */
export class ChildKilled extends Error {
  constructor() {
    super('Reading was cut off by the machine, through no fault of the file. Try again.')
  }
}

/** Children that read at one time; more wait their turn. */
const MOST = 3
let busy = 0
const waiting: (() => void)[] = []

async function turn(signal: AbortSignal | undefined): Promise<void> {
  if (busy >= MOST) await new Promise<void>(go => waiting.push(go))
  else busy++
  if (!signal?.aborted) return
  leave()
  signal.throwIfAborted()
}
/** Hands the place to the next who waits. */
function leave(): void {
  const next = waiting.shift()
  if (next) next()
  else busy--
}

/**
 * Runs a task on bytes in a process of its own, ended by time and by memory.
 * @param how what the task wants to know beside the bytes
 * @throws ChildFailed with what the task said, or that it took too long or too much memory
 * @throws ChildKilled where something else ended it
 */
export async function runChild<K extends keyof Tasks>(
  task: K,
  bytes: Buffer,
  limits: { seconds?: number; megabytes?: number; signal?: AbortSignal } = {},
  how?: Parameters<Tasks[K]>[1],
): Promise<Awaited<ReturnType<Tasks[K]>>> {
  await turn(limits.signal)
  try {
    return await runNow(task, bytes, limits, how)
  } finally {
    leave()
  }
}

function runNow<K extends keyof Tasks>(
  task: K,
  bytes: Buffer,
  limits: { seconds?: number; megabytes?: number; signal?: AbortSignal },
  how: Parameters<Tasks[K]>[1],
): Promise<Awaited<ReturnType<Tasks[K]>>> {
  const inBuild = existsSync(built)
  const memory = `--max-old-space-size=${limits.megabytes ?? 1024}`
  const child = fork(inBuild ? built : source, {
    serialization: 'advanced',
    execArgv: inBuild ? [memory] : [memory, '--import', 'tsx'],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    env: { PATH: process.env.PATH },
  })
  const answer = answerOf<Awaited<ReturnType<Tasks[K]>>>(child, limits)
  // a child that is gone already has said so by its exit
  child.send({ task, bytes, how }, () => undefined)
  return answer
}

/** V8 ends its process this way where its memory is used up. */
const OUT_OF_MEMORY = { signals: ['SIGABRT', 'SIGTRAP'], codes: [133, 134] }

/**
 * What a child answers, or how it ended without an answer. A child may be gone before what it sent has been read: its
 * end counts only once nothing more can come.
 */
export function answerOf<T>(
  child: Pick<ChildProcess, 'once' | 'kill' | 'connected'>,
  limits: { seconds?: number; signal?: AbortSignal } = {},
): Promise<T> {
  return new Promise((done, fail) => {
    let settled = false
    const end = (f: () => void) => {
      if (settled) return
      settled = true
      clearTimeout(timer)
      limits.signal?.removeEventListener('abort', cancel)
      child.kill('SIGKILL')
      f()
    }
    const timer = setTimeout(
      () => end(() => fail(new ChildFailed('It took too long to read.'))),
      (limits.seconds ?? 60) * 1000,
    )
    const cancel = () => end(() => fail(limits.signal!.reason as Error))
    limits.signal?.addEventListener('abort', cancel, { once: true })
    child.once('message', (m: { answer?: unknown; error?: string }) =>
      end(() => (m.error === undefined ? done(m.answer as T) : fail(new ChildFailed(m.error)))),
    )
    // it could not be begun at all: the machine is short of something
    child.once('error', () => end(() => fail(new ChildKilled())))
    child.once('exit', (code: number | null, signal: string | null) => {
      const memory = OUT_OF_MEMORY.signals.includes(signal ?? '') || OUT_OF_MEMORY.codes.includes(code ?? 0)
      const over = () =>
        end(() => fail(memory ? new ChildFailed('It could not be read within the memory allowed.') : new ChildKilled()))
      if (child.connected) child.once('disconnect', () => setImmediate(over))
      else setImmediate(over)
    })
  })
}
