import { fork } from 'node:child_process'
import { existsSync } from 'node:fs'
import { fileURLToPath } from 'node:url'
import type { Tasks } from './tasks'

/** Built beside the server, or by the tests; in development it runs from its source. */
const built = process.env.VINE_CHILD ?? fileURLToPath(new URL('./child.js', import.meta.url))
const source = fileURLToPath(new URL('./main.ts', import.meta.url))

export class ChildFailed extends Error {}

/**
 * Runs a task on bytes in a process of its own, ended by time and by memory.
 * @throws ChildFailed with what the task said, or that it took too long
 */
export function runChild<K extends keyof Tasks>(
  task: K,
  bytes: Buffer,
  limits: { seconds?: number; megabytes?: number; signal?: AbortSignal } = {},
): Promise<Awaited<ReturnType<Tasks[K]>>> {
  const inBuild = existsSync(built)
  const memory = `--max-old-space-size=${limits.megabytes ?? 1024}`
  return new Promise((done, fail) => {
    const child = fork(inBuild ? built : source, {
      serialization: 'advanced',
      execArgv: inBuild ? [memory] : [memory, '--import', 'tsx'],
      stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
      env: { PATH: process.env.PATH },
    })
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
      end(() => (m.error === undefined ? done(m.answer as never) : fail(new ChildFailed(m.error)))),
    )
    child.once('error', e => end(() => fail(e)))
    child.once('exit', () => end(() => fail(new ChildFailed('It could not be read within the memory allowed.'))))
    child.send({ task, bytes })
  })
}
