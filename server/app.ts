import { existsSync } from 'node:fs'
import { join } from 'node:path'
import { constants } from 'node:zlib'
import express, { Router, type Express, type RequestHandler, type RequestParamHandler } from 'express'
import compression from 'compression'
import helmet from 'helmet'
import { firstLetters } from '../core/bib/clean'
import { api } from '../core/schema/api'
import { TEXT_PARAMS } from '../core/schema/api/endpoint'
import { LARGEST_ID } from '../core/schema/api/parts'
import { accountRoutes, administrationRoutes, administratorsOnly } from './accounts/accounts-routes'
import { membersOnly, ownPasswordOnly } from './sessions/member'
import { sessionStore } from './sessions/sessions'
import { composeRoutes } from './compose/compose-routes'
import { runRegistrations } from './compose/registrations'
import { runFollow } from './trace/follow-job'
import type { Context } from './base/context'
import { runDemo } from './demo/demo-job'
import { deskRoutes } from './desk/desk-routes'
import { runPool } from './gather/bring'
import { countsRoutes, gatherRoutes } from './gather/gather-routes'
import { runLosses } from './gather/losses-job'
import { runStanding } from './standing/standing-job'
import { feedRoutes, standingRoutes } from './standing/standing-routes'
import { runSweep, sweepGivenUp } from './gather/sweep-job'
import { importGivenUp, runImport } from './imports/import-job'
import { importRoutes } from './imports/imports-routes'
import { runPaste } from './imports/paste-job'
import { watchChanges } from './inquiries/changes'
import { inquiriesRoutes, inquiryRoutes } from './inquiries/inquiries-routes'
import { jobRoutes } from './jobs/jobs-routes'
import { runPurge } from './jobs/purge'
import type { JobKind } from './jobs/queue'
import { runHoldings } from './library/holdings'
import { stylesRoutes } from './styles/styles-routes'
import { gateRoutes, libraryRoutes } from './library/library-routes'
import { runVocabulary, vocabularyGivenUp } from './vocabularies/vocabulary-job'
import { vocabularyRoutes } from './vocabularies/vocabulary-routes'
import { loanJob } from './loans/loan-job'
import { askedRoutes, loanRoutes, officeRoutes } from './loans/loans-routes'
import { measureRequests } from './metrics'
import { copyGivenUp, receiveCopy, runCopy } from './obtain/copies'
import { runScan } from './obtain/scan-job'
import { obtainRoutes } from './obtain/obtain-routes'
import { runReminder } from './obtain/reminders'
import { runRetrieval, retrievalGivenUp } from './obtain/retrieve-job'
import { runRouteSearch } from './obtain/routes-job'
import { deedRoutes, poolRoutes } from './pool/pool-routes'
import { notFound, Problem } from './base/problem'
import { answerProblems } from './serve/answer-problems'
import { PROBLEMS } from './base/problems'
import { planRoutes } from './plan/plan-routes'
import { readRoutes } from './read/read-routes'
import { serveOn } from './serve/serve'
import { siftRoutes } from './sift/sift-routes'
import { traceRoutes } from './trace/trace-routes'
import { runCitations } from './trace/citations-job'
import { runList } from './trace/list-job'
import { runRound } from './trace/round-job'
import { watchRequests } from './base/watch-loop'

export const jobKinds: Record<string, JobKind> = {
  sweep: { run: runSweep, givenUp: sweepGivenUp },
  import: { run: runImport, givenUp: importGivenUp },
  routes: { run: runRouteSearch },
  reminder: { run: runReminder },
  retrieval: { run: runRetrieval, givenUp: retrievalGivenUp },
  copy: { run: runCopy, givenUp: copyGivenUp },
  scan: { run: runScan, isLong: true },
  demo: { run: runDemo },
  paste: { run: runPaste, givenUp: importGivenUp },
  pool: { run: runPool },
  standing: { run: runStanding, givenUp: sweepGivenUp },
  round: { run: runRound },
  list: { run: runList },
  citations: { run: runCitations },
  losses: { run: runLosses },
  purge: { run: runPurge },
  holdings: { run: runHoldings },
  loan: { run: loanJob(receiveCopy) },
  registrations: { run: runRegistrations },
  follow: { run: runFollow },
  vocabulary: { run: runVocabulary, givenUp: vocabularyGivenUp },
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

  const router = Router()
  const serve = serveOn(c, router)
  // rows are named by numbers: anything else is said by its name, and asks nothing of the database
  for (const name of namesOfRows()) router.param(name, rowNumber)
  serve(api.health, async () => {
    await c.db.sequelize.query('SELECT 1')
    return { ok: true }
  })
  // private, and moving: a browser keeps nothing of it but the files, which say so themselves
  router.use((_req, res, next) => {
    res.set('Cache-Control', 'no-store')
    next()
  })
  feedRoutes(c, serve)
  officeRoutes(c, serve)
  serve(api.problem, ({ params: { code } }) => {
    if (!Object.hasOwn(PROBLEMS, code)) throw notFound()
    return { code, means: PROBLEMS[code]! }
  })
  router.use(sameOrigin, sessions, sameUser)
  accountRoutes(c, serve)
  router.use('/accounts', administratorsOnly(c))
  administrationRoutes(c, serve)
  router.use(ownPasswordOnly)
  deskRoutes(c, serve)
  libraryRoutes(c, serve)
  stylesRoutes(c, serve)
  askedRoutes(c, serve)
  inquiriesRoutes(c, serve)
  router.use('/inquiries/:inquiry', membersOnly(c))
  const changes = watchChanges(c)
  inquiryRoutes(c, serve, changes)
  for (const routes of [
    gatherRoutes,
    countsRoutes,
    standingRoutes,
    vocabularyRoutes,
    importRoutes,
    poolRoutes,
    deedRoutes,
    siftRoutes,
    traceRoutes,
    gateRoutes,
    obtainRoutes,
    loanRoutes,
    planRoutes,
    readRoutes,
    composeRoutes,
    jobRoutes,
  ])
    routes(c, serve)
  router.use(() => {
    throw notFound()
  })
  app.use('/api', router)

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

/** The names that stand for numbers of rows in addresses. */
function namesOfRows(): Set<string> {
  const all = Object.values(api).flatMap(e => [...e.path.matchAll(/:([a-z]+)/g)].map(m => m[1]!))
  return new Set(all.filter(name => !(TEXT_PARAMS as readonly string[]).includes(name)))
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
