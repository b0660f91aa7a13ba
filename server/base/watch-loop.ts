import { monitorEventLoopDelay } from 'node:perf_hooks'
import type { RequestHandler } from 'express'
import { log } from './log'

/** Whatever holds the main loop for longer is told. */
const HELD_MS = 250
const EVERY_MS = 2000

const underWay = new Map<symbol, { what: string; since: number }>()
/** Notes that something is under way; the answer ends it. */
export function begun(what: string): () => void {
  const id = Symbol(what)
  underWay.set(id, { what, since: performance.now() })
  return () => void underWay.delete(id)
}

/** Requests, by their routes alone: never what they are about. */
export const watchRequests: RequestHandler = (req, res, next) => {
  const end = begun(`${req.method} ${req.path.replace(/\d+/g, ':id').slice(0, 80)}`)
  res.once('close', end)
  next()
}

/** Looks how long the main loop was held, and says what was under way then, the longest first. */
export function watchLoop(): { stop(): void } {
  const delay = monitorEventLoopDelay({ resolution: 20 })
  delay.enable()
  const timer = setInterval(() => {
    const held = delay.max / 1e6
    delay.reset()
    if (held < HELD_MS) return
    const now = performance.now()
    const among = [...underWay.values()]
      .sort((a, b) => a.since - b.since)
      .map(u => `${u.what} (${Math.round(now - u.since)} ms)`)
    log.warn({ heldMs: Math.round(held), underWay: among.slice(0, 8) }, 'the main loop was held')
  }, EVERY_MS)
  timer.unref()
  return {
    stop: () => {
      clearInterval(timer)
      delay.disable()
    },
  }
}
