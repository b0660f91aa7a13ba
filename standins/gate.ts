import { randomBytes } from 'node:crypto'
import express, { Router, type Request } from 'express'
import type { Visit } from './platforms'

/** Reader's card of the home library that its gate accepts. */
export const CARD = { card: 'HV-204417', password: 'moonlit-garden' }
/** Reader's card of the town library. */
export const TOWN_CARD = { reader: 'OT-5521', pin: 'saltmarsh' }
/** Files that one card may fetch in a day through the gate. */
export const DAILY_FILES = 60

/** A gate as its library set it up. */
export interface Manner {
  library: string
  host: string
  /** What its form calls card and password, with those that it accepts, in this order. */
  fields: Readonly<Record<string, string>>
  /** What has to be accepted to be let in. */
  terms?: string
  /** Its name for a host that is read through it, and back. */
  through(host: string): string
  behind(host: string): string | undefined
}

/** The home library: dots become hyphens, hyphens are doubled; its terms have to be accepted. */
export const HOME: Manner = {
  library: 'Halverane Library',
  host: 'gate.halverane.example',
  fields: CARD,
  terms: 'For my own study, no more than 60 files a day, no systematic downloading.',
  through: host => `${host.replaceAll('-', '--').replaceAll('.', '-')}.gate.halverane.example`,
  behind: host =>
    /^(.+)\.gate\.halverane\.example$/
      .exec(host)?.[1]
      ?.replaceAll('--', '\u0000')
      .replaceAll('-', '.')
      .replaceAll('\u0000', '-'),
}

/** The town library: hosts keep their dots, and its form has other names. */
export const TOWN: Manner = {
  library: 'Ostermoor Town Library',
  host: 'pass.ostermoor.example',
  fields: TOWN_CARD,
  through: host => `${host}.pass.ostermoor.example`,
  behind: host => /^(.+)\.pass\.ostermoor\.example$/.exec(host)?.[1],
}

export interface Gate extends Visit {
  manner: Manner
  router: Router
  /** Whether a request carries an open session. */
  open(req: Request): boolean
  expireAll(): void
  /** Begins the counting of files anew, as each morning does. */
  newDay(): void
}

/**
 * A library's sign-in and proxy: an open-by-address template, a form, terms to accept, sessions of twenty minutes,
 * sixty files a day for a card.
 */
export function gate(manner: Manner, minutes = 20): Gate {
  const { library, host, fields } = manner
  const [card, password] = Object.keys(fields) as [string, string]
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
    if (!open(req)) return void res.redirect(`http://${host}/sign-in?then=${encodeURIComponent(url)}`)
    target.host = manner.through(target.hostname)
    res.redirect(target.href)
  })
  const terms = manner.terms
    ? `<p><label><input type="checkbox" name="terms" value="accepted"> ${manner.terms}</label></p>`
    : ''
  router.get('/sign-in', (req, res) => {
    res
      .type('html')
      .send(
        html(
          `${library} sign-in`,
          `<h1>Sign in</h1><form method="post" action="/sign-in"><input type="hidden" name="then" value="${encodeURIComponent(String(req.query.then ?? ''))}"><label>Card <input name="${card}"></label><label>Password <input type="password" name="${password}"></label>${terms}<button>Sign in</button></form>`,
        ),
      )
  })
  router.post('/sign-in', express.urlencoded({ extended: false }), (req, res) => {
    const given = req.body as Record<string, string>
    if (given[card] !== fields[card] || given[password] !== fields[password]) {
      return void res.status(401).type('html').send(html('Sign-in failed', 'Card or password is wrong.'))
    }
    if (manner.terms && given.terms !== 'accepted')
      return void res
        .status(403)
        .type('html')
        .send(html('Terms', `The terms have to be accepted.${terms}`))
    const token = randomBytes(18).toString('base64url')
    sessions.set(token, { until: Date.now() + minutes * 60_000, card: fields[card]! })
    for (const [t, s] of sessions) if (s.until <= Date.now()) sessions.delete(t)
    res.set('Set-Cookie', `gate=${token}; Domain=.${host}; Path=/; HttpOnly; Max-Age=${minutes * 60}`)
    res.redirect('/')
  })
  router.get('/', (req, res) => {
    res.type('html').send(html(library, open(req) ? 'You are signed in.' : 'You are not signed in.'))
  })
  return {
    manner,
    router,
    open,
    throughGate: open,
    count: req => {
      const by = sessionOf(req)?.card
      if (!by) return false
      const n = (files.get(by) ?? 0) + 1
      if (n > DAILY_FILES) return false
      files.set(by, n)
      return true
    },
    expireAll: () => sessions.clear(),
    newDay: () => files.clear(),
  }
}
