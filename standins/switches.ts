import type { NextFunction, Request, Response } from 'express'
import { seeded, type Random } from '../core/world/random'

export const MODES = [
  'ok',
  '503',
  '429',
  'slow',
  'broken',
  'cut',
  'sign-in',
  'expired',
  'miscount',
  'latin1',
  'dead',
] as const
export type Mode = (typeof MODES)[number]

/** How a host misbehaves. `times` counts down; without it the mode stays. */
export interface Switch {
  mode: Mode
  times?: number
  /** Milliseconds that every answer takes longer. */
  latency?: number
}

/** What is set by hand for single hosts, and a weather of faults that comes over all of them by chance. */
export class Switches {
  readonly hosts = new Map<string, Switch>()
  private weather: { rate: number; r: Random } | undefined

  setWeather(seed: number, rate: number): void {
    this.weather = rate > 0 ? { rate, r: seeded(seed) } : undefined
  }
  clear(): void {
    this.hosts.clear()
    this.weather = undefined
  }
  /** The mode of one request, counted off where the switch counts. */
  next(host: string): Switch {
    const s = this.hosts.get(host)
    if (s) {
      if (s.times !== undefined && s.times-- <= 0) this.hosts.delete(host)
      else return s
    }
    if (this.weather && this.weather.r() < this.weather.rate)
      return {
        mode: this.weather.r.pick(MODES.filter(m => m !== 'ok' && m !== 'slow')),
        latency: this.weather.r.int(0, 20),
      }
    return { mode: 'ok' }
  }
}

/** Misbehaviour of one host: named errors, slowness, broken, miscounted, wrongly encoded and cut-off answers. */
export function misbehave(switches: Switches, host: string) {
  return (req: Request, res: Response, next: NextFunction): void => {
    const s = switches.next(host)
    if (s.latency) return void setTimeout(() => act(s, req, res, next), s.latency)
    act(s, req, res, next)
  }
}

function act(s: Switch, req: Request, res: Response, next: NextFunction): void {
  switch (s.mode) {
    case 'ok':
      return next()
    case '503':
      return void res.status(503).type('text/plain').send('The service is being repaired.')
    case '429':
      return void res.status(429).set('Retry-After', '2').type('text/plain').send('Too many requests.')
    case 'dead':
      return void res
        .status(404)
        .type('html')
        .send('<!doctype html><title>Not found</title>This address leads nowhere any more.')
    case 'slow':
      return void setTimeout(next, 4000)
    case 'sign-in':
      return void res
        .type('html')
        .send('<!doctype html><title>Sign in</title><form method="post"><input type="password" name="pass"></form>')
    case 'expired':
      return void res
        .type('html')
        .send(
          '<!doctype html><title>Your session has expired</title><p>Your session has expired. Go back to your library and sign in again.</p>',
        )
  }
  const send = res.send.bind(res)
  res.send = body => {
    const text = Buffer.isBuffer(body) ? body : Buffer.from(typeof body === 'string' ? body : JSON.stringify(body))
    if (s.mode === 'broken') return send(text.toString('latin1').replace(/<\/(\w)/, '<$1'))
    if (s.mode === 'miscount')
      return send(
        Buffer.from(
          text
            .toString('utf8')
            .replace(
              /<numberOfRecords>(\d+)</,
              (_, n: string) => `<numberOfRecords>${Math.ceil(Number(n) * 1.3) + 2}<`,
            ),
        ),
      )
    // the bytes are Latin-1 while the answer says UTF-8
    if (s.mode === 'latin1') return send(Buffer.from(text.toString('utf8'), 'latin1'))
    res.set('Content-Length', String(text.length))
    res.write(text.subarray(0, text.length >> 1))
    res.socket?.destroy()
    return res
  }
  next()
}
