import { existsSync } from 'node:fs'
import { availableParallelism } from 'node:os'
import { fileURLToPath } from 'node:url'
import Piscina from 'piscina'
import type { ThreadTasks } from './main'

/** Built beside the server, or by the tests; in development it runs from its source. */
const built = process.env.VINE_THREAD ?? fileURLToPath(new URL('./thread.js', import.meta.url))
const source = fileURLToPath(new URL('./main.ts', import.meta.url))

let pool: Piscina | undefined

/**
 * Runs a task in one of a few threads, so that requests are answered meanwhile. What is given and answered is copied.
 * @param within milliseconds after which its thread is ended, where a task may run for ever
 * @throws an AbortError then
 */
export function inThread<K extends keyof ThreadTasks>(
  task: K,
  given: Parameters<ThreadTasks[K]>[0],
  within?: number,
): Promise<Awaited<ReturnType<ThreadTasks[K]>>> {
  const inBuild = existsSync(built)
  pool ??= new Piscina({
    filename: inBuild ? built : source,
    ...(inBuild ? {} : { execArgv: ['--import', 'tsx'] }),
    minThreads: 0,
    maxThreads: Math.max(1, Math.min(4, availableParallelism() - 1)),
    idleTimeout: 60_000,
  })
  return pool.run({ task, given }, within === undefined ? {} : { signal: AbortSignal.timeout(within) }) as Promise<
    Awaited<ReturnType<ThreadTasks[K]>>
  >
}

export async function closeThreads(): Promise<void> {
  const closing = pool
  pool = undefined
  await closing?.destroy()
}
