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

/** Children at one time; more files wait their turn. */
const MOST = 3
/** Of the heap of a child: an import of twenty megabytes takes two thirds of it. */
const MEGABYTES = 2048
/** Files that one child reads: whatever one left behind in it goes with it. */
const FILES = 50
/** A child without work is ended after so long. */
const IDLE_MS = 20_000

/** A process that reads one file after the other: beginning one takes longer than reading most files. */
interface Child {
  process: ChildProcess
  files: number
  ending?: NodeJS.Timeout
}

/** Children without work. */
const idle: Child[] = []
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

/** A child that waits for work, or a new one. */
function take(): Child {
  const child = idle.pop()
  if (!child) return begin()
  clearTimeout(child.ending)
  child.process.ref()
  child.process.channel?.ref()
  return child
}

function begin(): Child {
  const inBuild = existsSync(built)
  const memory = `--max-old-space-size=${MEGABYTES}`
  const started = fork(inBuild ? built : source, {
    serialization: 'advanced',
    execArgv: inBuild ? [memory] : [memory, '--import', 'tsx'],
    stdio: ['ignore', 'ignore', 'ignore', 'ipc'],
    env: { PATH: process.env.PATH },
  })
  const child = { process: started, files: 0 }
  // what befalls one without work is nobody's trouble
  started.once('exit', () => forget(child)).on('error', () => forget(child))
  return child
}

function forget(child: Child): void {
  const at = idle.indexOf(child)
  if (at >= 0) idle.splice(at, 1)
}

/** Keeps a child whose file was read well; none keeps its parent from ending. */
function keep(child: Child): void {
  const { process: p } = child
  child.files++
  if (child.files >= FILES || !p.connected) return void p.kill('SIGKILL')
  child.ending = setTimeout(() => {
    forget(child)
    p.kill('SIGKILL')
  }, IDLE_MS)
  child.ending.unref()
  p.unref()
  p.channel?.unref()
  idle.push(child)
}

interface Limits {
  seconds?: number
  signal?: AbortSignal
}

/**
 * Runs a task on bytes in a process of its own, ended by time and by memory. One that failed, for whatever reason, reads
 * no other file.
 * @param how what the task wants to know beside the bytes
 * @throws ChildFailed with what the task said, or that it took too long or too much memory
 * @throws ChildKilled where something else ended it
 */
export async function runChild<K extends keyof Tasks>(
  task: K,
  bytes: Buffer,
  limits: Limits = {},
  how?: Parameters<Tasks[K]>[1],
): Promise<Awaited<ReturnType<Tasks[K]>>> {
  await turn(limits.signal)
  try {
    const child = take()
    const answered = answerOf<Awaited<ReturnType<Tasks[K]>>>(child.process, limits)
    // a child that is gone already has said so by its exit
    child.process.send({ task, bytes, how }, () => undefined)
    const answer = await answered
    keep(child)
    return answer
  } finally {
    leave()
  }
}

/** V8 ends its process this way where its memory is used up. */
const OUT_OF_MEMORY = { signals: ['SIGABRT', 'SIGTRAP'], codes: [133, 134] }

/**
 * What a child answers, or how it ended without an answer; all but one that answered are ended. A child may be gone
 * before what it sent has been read: its end counts only once nothing more can come.
 */
export function answerOf<T>(
  child: Pick<ChildProcess, 'once' | 'off' | 'kill' | 'connected'>,
  limits: Limits = {},
): Promise<T> {
  return new Promise((done, fail) => {
    const settle = () => {
      clearTimeout(timer)
      limits.signal?.removeEventListener('abort', cancel)
      child.off('message', said).off('error', unbegun).off('exit', gone).off('disconnect', after)
    }
    const end = (error: Error) => {
      settle()
      child.kill('SIGKILL')
      fail(error)
    }
    const timer = setTimeout(() => end(new ChildFailed('It took too long to read.')), (limits.seconds ?? 60) * 1000)
    const cancel = () => end(limits.signal!.reason as Error)
    const said = (m: { answer?: unknown; error?: string }) => {
      if (m.error !== undefined) return end(new ChildFailed(m.error))
      settle()
      done(m.answer as T)
    }
    // it could not be begun at all: the machine is short of something
    const unbegun = () => end(new ChildKilled())
    let over: Error = new ChildKilled()
    const after = () => setImmediate(() => end(over))
    const gone = (code: number | null, signal: string | null) => {
      if (OUT_OF_MEMORY.signals.includes(signal ?? '') || OUT_OF_MEMORY.codes.includes(code ?? 0))
        over = new ChildFailed('It could not be read within the memory allowed.')
      if (child.connected) child.once('disconnect', after)
      else after()
    }
    limits.signal?.addEventListener('abort', cancel, { once: true })
    child.once('message', said).once('error', unbegun).once('exit', gone)
  })
}
