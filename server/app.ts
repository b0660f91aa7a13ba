import { existsSync } from 'node:fs'
import { join } from 'node:path'
import express, { Router, type Express, type RequestHandler } from 'express'
import session from 'express-session'
import initStore from 'connect-session-sequelize'
import { DataTypes } from 'sequelize'
import helmet from 'helmet'
import { pinoHttp } from 'pino-http'
import { clean } from '../core/bib/clean'
import { accountRoutes, membersOnly, userOf } from './accounts/accounts'
import { composeRoutes } from './compose/routes'
import { clockRoutes } from './clock'
import type { Context } from './context'
import { runDemo } from './demo/demo-job'
import { runPool } from './gather/bring'
import { logRoutes } from './gather/log'
import { probeRoutes } from './gather/probe'
import { gatherRoutes } from './gather/routes'
import { sheetRoutes } from './gather/sheet'
import { feedRoutes, runStanding, standingRoutes } from './gather/standing'
import { runSweep, sweepGivenUp } from './gather/sweep-job'
import { importGivenUp, importRoutes, runImport } from './imports/imports'
import { runPaste } from './imports/paste-job'
import { inquiryRoutes, oneInquiry } from './inquiries/routes'
import { runPurge } from './jobs/purge'
import { jobRoutes } from './jobs/routes'
import type { JobKind } from './jobs/queue'
import { gateRoutes } from './obtain/gate'
import { copyGivenUp, runCopy } from './obtain/copies'
import { runRetrieval } from './obtain/retrieve-job'
import { obtainRoutes } from './obtain/routes'
import { runRouteSearch } from './obtain/routes-job'
import { decisionRoutes } from './decisions/decisions-routes'
import { checkRoutes } from './pool/checks'
import { historyRoutes } from './pool/history'
import { markRoutes } from './pool/marks'
import { poolRoutes } from './pool/routes'
import { undoRoutes } from './pool/undo'
import { answerProblems, notFound, Problem } from './problem'
import { readRoutes } from './read/routes'
import { traceRoutes } from './trace/routes'

export const jobKinds: Record<string, JobKind> = {
  sweep: { run: runSweep, givenUp: sweepGivenUp },
  import: { run: runImport, givenUp: importGivenUp },
  routes: { run: runRouteSearch },
  retrieval: { run: runRetrieval },
  copy: { run: runCopy, givenUp: copyGivenUp },
  demo: { run: runDemo },
  paste: { run: runPaste, givenUp: importGivenUp },
  pool: { run: runPool },
  standing: { run: runStanding, givenUp: sweepGivenUp },
  purge: { run: runPurge },
}

/** The whole application over HTTP: the API under /api, and the built interface where there is one. */
export function createApp(c: Context): { app: Express; close(): void } {
  const app = express()
  app.disable('x-powered-by')
  if (c.settings.behindProxy) app.set('trust proxy', 1)
  app.use(
    helmet({
      contentSecurityPolicy: {
        useDefaults: false,
        directives: {
          'default-src': ["'self'"],
          'script-src': ["'self'", "'wasm-unsafe-eval'"],
          'worker-src': ["'self'", 'blob:'],
          'style-src': ["'self'", "'unsafe-inline'"],
          'img-src': ["'self'", 'data:', 'blob:'],
          'font-src': ["'self'", 'data:'],
          'connect-src': ["'self'"],
          'object-src': ["'none'"],
          'base-uri': ["'self'"],
          'form-action': ["'self'"],
          'frame-ancestors': ["'none'"],
        },
      },
      hsts: c.settings.behindProxy,
    }),
  )
  app.use(
    pinoHttp({
      level: process.env.LOG_LEVEL ?? 'warn',
      autoLogging: false,
      redact: ['req.headers.cookie', 'res.headers["set-cookie"]'],
    }),
  )
  const Store = initStore(session.Store)
  c.db.sequelize.define(
    'Session',
    { sid: { type: DataTypes.STRING, primaryKey: true }, expires: DataTypes.DATE, data: DataTypes.TEXT },
    { tableName: 'sessions', timestamps: true, underscored: true },
  )
  const store = new Store({
    db: c.db.sequelize,
    table: 'Session',
    checkExpirationInterval: 15 * 60_000,
    expiration: 30 * 24 * 3_600_000,
  })
  const sessions = session({
    name: 'vine',
    secret: c.settings.secret,
    store,
    resave: false,
    saveUninitialized: false,
    cookie: {
      httpOnly: true,
      sameSite: 'lax',
      secure: c.settings.behindProxy ? 'auto' : false,
      maxAge: 30 * 24 * 3_600_000,
    },
  })

  const api = Router()
  api.get('/health', async (_req, res) => {
    await c.db.sequelize.query('SELECT 1')
    res.json({ ok: true })
  })
  // private, and moving: a browser keeps nothing of it but the files, which say so themselves
  api.use((_req, res, next) => {
    res.set('Cache-Control', 'no-store')
    next()
  })
  api.use('/feeds', feedRoutes(c))
  api.use(sameOrigin)
  api.use(sessions)
  api.use(sameUser)
  // files come as bytes and are read by their own routes
  api.use((req, res, next) =>
    /\/(imports|copies)$/.test(req.path) && req.method === 'POST'
      ? next()
      : express.json({ limit: '2mb' })(req, res, next),
  )
  api.use(cleanBody)
  api.use(accountRoutes(c))
  api.use('/desk', (req, _res, next) => (userOf(req), next()), clockRoutes(c))
  api.use('/gate', (req, _res, next) => (userOf(req), next()), gateRoutes(c))
  api.use('/inquiries', (req, _res, next) => (userOf(req), next()), inquiryRoutes(c))
  for (const routes of [
    oneInquiry,
    gatherRoutes,
    sheetRoutes,
    probeRoutes,
    logRoutes,
    standingRoutes,
    importRoutes,
    poolRoutes,
    decisionRoutes,
    markRoutes,
    undoRoutes,
    historyRoutes,
    checkRoutes,
    traceRoutes,
    obtainRoutes,
    readRoutes,
    composeRoutes,
    jobRoutes,
  ]) {
    api.use('/inquiries/:inquiry', membersOnly(c), routes(c))
  }
  api.use(() => {
    throw notFound()
  })
  app.use('/api', api)

  const web = c.settings.webFolder
  if (web && existsSync(web)) {
    app.use(
      express.static(web, {
        index: false,
        maxAge: '1y',
        immutable: true,
        setHeaders: (res, path) => void (path.endsWith('.html') && res.set('Cache-Control', 'no-cache')),
      }),
    )
    app.get('/{*path}', (_req, res) =>
      res.set('Cache-Control', 'no-cache').sendFile(join(web, 'index.html'), { root: process.cwd() }),
    )
  }
  app.use(answerProblems)
  return { app, close: () => store.stopExpiringSessions() }
}

/** What one user did is not written down as another's, who signed in meanwhile in the same browser. */
const sameUser: RequestHandler = (req, _res, next) => {
  const meant = req.get('Vine-User')
  if (meant !== undefined && meant !== String(req.session.userId))
    throw new Problem(
      401,
      'other-user',
      'You are signed out, or somebody else is signed in here. Sign in again to go on.',
    )
  next()
}

/** Texts are well-formed from here on: half letters and control characters stay outside. */
const cleanBody: RequestHandler = (req, _res, next) => {
  try {
    if (req.body !== undefined && !Buffer.isBuffer(req.body)) req.body = clean<unknown>(req.body)
  } catch (e) {
    if (e instanceof RangeError) throw new Problem(422, 'too-deep', `This cannot be kept. ${e.message}`)
    throw e
  }
  next()
}

/** What changes something has to come from our own pages: browsers say where a request comes from. */
const sameOrigin: RequestHandler = (req, _res, next) => {
  if (req.method === 'GET' || req.method === 'HEAD') return next()
  const origin = req.get('Origin')
  const site = req.get('Sec-Fetch-Site')
  const foreign = origin
    ? new URL(origin === 'null' ? 'http://null' : origin).host !== req.get('Host')
    : site !== undefined && site !== 'same-origin' && site !== 'none'
  if (foreign)
    throw new Problem(403, 'foreign', 'This request does not come from Vine Path itself and was not carried out.')
  next()
}
