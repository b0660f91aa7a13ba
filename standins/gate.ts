import { randomBytes } from 'node:crypto'
import express, { Router, type Request } from 'express'
import type { Visit } from './platforms'

/** Reader's card of the made-up library that the gate accepts. */
export const CARD = { card: 'HV-204417', password: 'moonlit-garden' }
/** Files that one card may fetch in a day through the gate. */
export const DAILY_FILES = 60

export interface Gate extends Visit {
  router: Router
  /** Whether a request carries an open session. */
  open(req: Request): boolean
  expireAll(): void
  /** Begins the counting of files anew, as each morning does. */
  newDay(): void
}

/** The gate's manner of rewriting a host: dots become hyphens, hyphens are doubled. */
export const throughGate = (host: string): string =>
  `${host.replaceAll('-', '--').replaceAll('.', '-')}.gate.halverane.example`
export const behindGate = (host: string): string | undefined =>
  /^(.+)\.gate\.halverane\.example$/
    .exec(host)?.[1]
    ?.replaceAll('--', '\u0000')
    .replaceAll('-', '.')
    .replaceAll('\u0000', '-')

/**
 * The home library's sign-in and proxy: an open-by-address template, a form, terms to accept, sessions of twenty
 * minutes, sixty files a day for a card.
 */
export function gate(minutes = 20): Gate {
  const sessions = new Map<string, { until: number; card: string }>()
  const files = new Map<string, number>()
  const sessionOf = (req: Request) => {
    const token = /(?:^|;\s*)gate=([^;]+)/.exec(req.headers.cookie ?? '')?.[1]
    const s = token ? sessions.get(token) : undefined
    return s && s.until > Date.now() ? s : undefined
  }
  const open = (req: Request): boolean => sessionOf(req) !== undefined
  const html = (title: string, body: string) => `<!doctype html><title>${title}</title>${body}`
  const router = Router()
  router.get('/open', (req, res) => {
    const url = String(req.query.url ?? '')
    let target: URL
    try {
      target = new URL(url)
    } catch {
      return void res.status(400).type('html').send(html('No address', 'The gate was given no address to open.'))
    }
    if (!open(req)) return void res.redirect(`http://gate.halverane.example/sign-in?then=${encodeURIComponent(url)}`)
    target.host = throughGate(target.hostname)
    res.redirect(target.href)
  })
  const terms =
    '<p><label><input type="checkbox" name="terms" value="accepted"> For my own study, no more than 60 files a day, no systematic downloading.</label></p>'
  router.get('/sign-in', (req, res) => {
    res
      .type('html')
      .send(
        html(
          'Halverane Library sign-in',
          `<h1>Sign in</h1><form method="post" action="/sign-in"><input type="hidden" name="then" value="${encodeURIComponent(String(req.query.then ?? ''))}"><label>Card <input name="card"></label><label>Password <input type="password" name="password"></label>${terms}<button>Sign in</button></form>`,
        ),
      )
  })
  router.post('/sign-in', express.urlencoded({ extended: false }), (req, res) => {
    const given = req.body as Record<string, string>
    if (given.card !== CARD.card || given.password !== CARD.password) {
      return void res.status(401).type('html').send(html('Sign-in failed', 'Card or password is wrong.'))
    }
    if (given.terms !== 'accepted')
      return void res
        .status(403)
        .type('html')
        .send(html('Terms', `The terms have to be accepted.${terms}`))
    const token = randomBytes(18).toString('base64url')
    sessions.set(token, { until: Date.now() + minutes * 60_000, card: given.card! })
    for (const [t, s] of sessions) if (s.until <= Date.now()) sessions.delete(t)
    res.set('Set-Cookie', `gate=${token}; Domain=.gate.halverane.example; Path=/; HttpOnly; Max-Age=${minutes * 60}`)
    res.redirect('/')
  })
  router.get('/', (req, res) => {
    res.type('html').send(html('Halverane Library', open(req) ? 'You are signed in.' : 'You are not signed in.'))
  })
  return {
    router,
    open,
    throughGate: open,
    count: req => {
      const card = sessionOf(req)?.card
      if (!card) return false
      const n = (files.get(card) ?? 0) + 1
      if (n > DAILY_FILES) return false
      files.set(card, n)
      return true
    },
    expireAll: () => sessions.clear(),
    newDay: () => files.clear(),
  }
}
