import '../sessions/sessions'
import express, { type Request, type RequestHandler, type Response, type Router } from 'express'
import type { Transaction } from 'sequelize'
import { ValidationError, type Schema } from 'yup'
import { clean, cleanText, firstLetters } from '../../core/bib/clean'
import {
  BYTES,
  TEXT_PARAMS,
  type AnswerOf,
  type BodyOf,
  type Endpoint,
  type ParamsOf,
  type QueryOf,
} from '../../core/schema/api/endpoint'
import { memberOf, userOf, type Member } from '../sessions/member'
import type { Context } from '../base/context'
import { answerOnce } from './once'
import { check, Problem } from '../base/problem'

/** What is answered, before it becomes JSON: moments are dates still. */
type Sent<T> = T extends string
  ? string extends T
    ? string | Date
    : T
  : T extends readonly (infer U)[]
    ? readonly Sent<U>[]
    : T extends object
      ? { [K in keyof T]: Sent<T[K]> }
      : T
type Answered<E> = Sent<AnswerOf<E>>

export interface SentFile {
  bytes: Buffer
  name: string
  password?: string
}

/** A request as a handler meets it: read, and found to be what its address takes. */
export interface Asked<E> {
  params: ParamsOf<E>
  query: QueryOf<E>
  body: BodyOf<E>
  /** Bytes that were sent, with their name; with their password where the address takes one. */
  file: SentFile
  /** Who asks. @throws Problem 401 */
  userId: number
  /** Who asks, as a member of the inquiry. */
  member: Member
  /** The version that is to be changed, by If-Match. */
  version: number
  /** Ends where whoever asked went away. */
  gone: AbortSignal
  req: Request
  res: Response
  /** Carries the request out once, however often it is sent; see `answerOnce`. */
  once<T extends object>(work: (t: Transaction, revision: number) => Promise<T>, how?: { status?: number }): Promise<T>
}

/**
 * Puts a handler behind an address: what it takes is checked by the address' own shapes, and in tests what it gives.
 */
export type Serve = <E extends Endpoint>(
  endpoint: E,
  handle: (asked: Asked<E>) => Answered<E> | void | Promise<Answered<E> | void>,
) => void

/** Texts are well-formed from here on: half letters and control characters stay outside. */
const cleanBody: RequestHandler = (req, _res, next) => {
  try {
    if (req.body !== undefined) req.body = clean<unknown>(req.body)
  } catch (e) {
    if (e instanceof RangeError) throw new Problem(422, 'too-deep', `This cannot be kept. ${e.message}`)
    throw e
  }
  next()
}
const json = express.json({ limit: '2mb' })

export function serveOn(c: Context, router: Router): Serve {
  return (endpoint, handle) => {
    const { method, path, body, ifMatch, forReaders } = endpoint
    const verb = method.toLowerCase() as 'get' | 'post' | 'put' | 'patch' | 'delete'
    const before =
      body === BYTES
        ? [express.raw({ type: () => true, limit: endpoint.most ?? 0 })]
        : method === 'GET'
          ? []
          : [json, cleanBody]
    const onlyOwners = path.startsWith('/inquiries/:inquiry') && method !== 'GET' && !forReaders
    router[verb](path, ...before, async (req: Request, res: Response) => {
      if (onlyOwners && memberOf(res).role !== 'owner')
        throw new Problem(403, 'reader-only', 'You may look at this inquiry but not change it.')
      res.status(endpoint.status[0]!)
      const asked = {
        params: paramsOf(req),
        query: endpoint.query ? check(endpoint.query, req.query) : {},
        body: body && body !== BYTES ? check(body, req.body ?? {}) : undefined,
        ...(body === BYTES ? { file: fileOf(req, endpoint) } : {}),
        ...(ifMatch ? { version: versionOf(req) } : {}),
        get userId() {
          return userOf(req)
        },
        get member() {
          return memberOf(res)
        },
        get gone() {
          const gone = new AbortController()
          res.on('close', () => !res.writableEnded && gone.abort())
          return gone.signal
        },
        req,
        res,
        once: async <T extends object>(
          work: (t: Transaction, revision: number) => Promise<T>,
          how: { status?: number } = {},
        ): Promise<T> => {
          const kept = await answerOnce(c, req, how.status ?? endpoint.status[0]!, work)
          res.status(kept.status)
          return kept.body as T
        },
      }
      const answer = await handle(asked as unknown as Asked<typeof endpoint>)
      if (res.headersSent || (answer === undefined && Array.isArray(endpoint.answer))) return
      if (c.settings.checkAnswers) checkAnswer(endpoint, res.statusCode, answer)
      if (answer === undefined) res.end()
      else res.json(answer)
    })
  }
}

function paramsOf(req: Request): Record<string, string | number> {
  const isText = (name: string) => (TEXT_PARAMS as readonly string[]).includes(name)
  return Object.fromEntries(
    Object.entries(req.params).map(([name, value]) => [name, isText(name) ? String(value) : Number(value)]),
  )
}

/** A file that is sent as bytes, its name from its own header. */
function fileOf(req: Request, { locked }: Endpoint): SentFile {
  const bytes = req.body as Buffer
  if (!Buffer.isBuffer(bytes) || !bytes.length) throw new Problem(422, 'empty-file', 'The file is empty.')
  const name = firstLetters(cleanText(decoded(req, 'X-File-Name')), 255) || 'unnamed'
  return { bytes, name, ...(locked ? { password: decoded(req, 'X-File-Password') } : {}) }
}

function decoded(req: Request, header: string): string {
  try {
    return decodeURIComponent(req.get(header) ?? '')
  } catch {
    throw new Problem(400, 'bad-file-name', `The header ${header} is not percent-encoded.`)
  }
}

function versionOf(req: Request): number {
  const match = /^"(\d+)"$/.exec(req.get('If-Match') ?? '')
  if (!match) throw new Problem(428, 'if-match', 'Say by If-Match which version it is that you changed.')
  return Number(match[1])
}

const LOOKED_AT = 20
/** @throws Error where an answer is not of the shape that its address promises */
function checkAnswer(endpoint: Endpoint, status: number, answer: unknown): void {
  const at = `${endpoint.method} ${endpoint.path}`
  if (!endpoint.status.includes(status)) throw new Error(`${at} answers ${status}, which it does not promise`)
  if (!endpoint.answer) {
    if (answer !== undefined) throw new Error(`${at} answers something, and promises nothing`)
    return
  }
  try {
    // as it will arrive; of long lists some are looked at
    const arrives: unknown = JSON.parse(JSON.stringify(answer ?? null), (_, v: unknown) =>
      Array.isArray(v) && v.length > LOOKED_AT ? [...v.slice(0, LOOKED_AT - 1), v.at(-1)] : v,
    )
    ;(endpoint.answer as Schema).validateSync(arrives, { strict: true, abortEarly: false })
  } catch (e) {
    if (!(e instanceof ValidationError)) throw e
    throw new Error(`${at} does not answer as it promises: ${e.errors.slice(0, 6).join('; ')}`, { cause: e })
  }
}
