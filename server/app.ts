import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { constants } from 'node:zlib'
import express, { Router, type Express, type RequestHandler, type RequestParamHandler } from 'express'
import compression from 'compression'
import helmet from 'helmet'
import { clean, firstLetters } from '../core/bib/clean'
import { accountRoutes, membersOnly, ownPasswordOnly } from './accounts/accounts'
import { administrationRoutes } from './accounts/administration'
import { sessionStore } from './accounts/sessions'
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
import { watchChanges } from './inquiries/changes'
import { inquiryRoutes, oneInquiry } from './inquiries/routes'
import { runPurge } from './jobs/purge'
import { jobRoutes } from './jobs/routes'
import type { JobKind } from './jobs/queue'
import { gateRoutes } from './obtain/gate'
import { copyGivenUp, runCopy } from './obtain/copies'
import { runRetrieval } from './obtain/retrieve-job'
import { obtainRoutes } from './obtain/routes'
import { runRouteSearch } from './obtain/routes-job'
import { decisionRoutes } from './pool/decisions-routes'
import { historyRoutes } from './pool/history-routes'
import { markRoutes } from './pool/marks-routes'
import { pairRoutes } from './pool/pairs-routes'
import { poolRoutes } from './pool/routes'
import { LARGEST_ID } from './pool/row-id'
import { undoRoutes } from './pool/undo-routes'
import { measureRequests } from './metrics'
import { answerProblems, notFound, Problem } from './problem'
import { readRoutes } from './read/routes'
import { PROBLEMS } from './problems'
import { checkRoutes } from './sift/checks-routes'
import { strandRoutes } from './sift/strands-routes'
import { viewRoutes } from './sift/views-routes'
import { traceRoutes } from './trace/routes'
import { watchRequests } from './watch-loop'

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
      hsts: c.settings.address.startsWith('https:'),
    }),
  )
  app.use((_req, res, next) => {
    res.set('Permissions-Policy', 'camera=(), microphone=(), geolocation=(), payment=(), usb=(), browsing-topics=()')
    next()
  })
  app.use(watchRequests)
  if (c.settings.metricsPort) app.use(measureRequests)
  app.use(
    compression({
      // streams are told line by line, and files come as they are and in ranges
      filter: (req, res) =>
        !/event-stream|octet-stream|pdf/.test(String(res.getHeader('Content-Type'))) && compression.filter(req, res),
      brotli: { params: { [constants.BROTLI_PARAM_QUALITY]: 4 } },
    }),
  )
  const { sessions, close } = sessionStore(c)

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
  api.get('/problems/:code', (req, res) => {
    const code = req.params.code
    if (!Object.hasOwn(PROBLEMS, code)) throw notFound()
    res.json({ code, means: PROBLEMS[code] })
  })
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
  api.use('/accounts', checked(administrationRoutes(c)))
  api.use(ownPasswordOnly)
  api.use('/desk', clockRoutes(c))
  api.use('/gate', gateRoutes(c))
  api.use('/inquiries', inquiryRoutes(c))
  const below = checked(Router({ mergeParams: true }))
  below.use(membersOnly(c))
  const changes = watchChanges(c)
  below.use(checked(oneInquiry(c, changes)))
  for (const routes of [
    gatherRoutes,
    sheetRoutes,
    probeRoutes,
    logRoutes,
    standingRoutes,
    importRoutes,
    poolRoutes,
    decisionRoutes,
    markRoutes,
    pairRoutes,
    undoRoutes,
    strandRoutes,
    viewRoutes,
    historyRoutes,
    checkRoutes,
    traceRoutes,
    obtainRoutes,
    readRoutes,
    composeRoutes,
    jobRoutes,
  ]) {
    below.use(checked(routes(c)))
  }
  api.param('inquiry', rowNumber)
  api.use('/inquiries/:inquiry', below)
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
  return { app, close: () => (changes.close(), close()) }
}

/** Numbers of rows in addresses are numbers of rows: anything else is said by its name, and asks nothing of the database. */
const ROWS = 'inquiry work copy job import sweep other standing strand view entry passage account'.split(' ')
function checked(router: Router): Router {
  for (const name of ROWS) router.param(name, rowNumber)
  return router
}
const rowNumber: RequestParamHandler = (_req, _res, next, value: string, name) => {
  if (!/^[1-9]\d{0,9}$/.test(value) || Number(value) > LARGEST_ID)
    throw new Problem(
      400,
      'bad-id',
      `“${firstLetters(value, 40)}” is no number of ${/^[aeiou]/.test(name) ? 'an' : 'a'} ${name}.`,
      {
        fields: [{ field: name, said: 'This is no number of a row.' }],
      },
    )
  next()
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
