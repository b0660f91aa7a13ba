import {
  addressOf,
  type AnswerOf,
  type BodyOf,
  type Endpoint,
  type ParamsOf,
  type QueryOf,
} from '../../core/schema/api/endpoint'

/** Seconds until what was asked too often may be asked again; undefined where something else is wrong. */
export const restOf = (e: unknown): number | undefined =>
  e instanceof ApiError && e.status === 429 ? Number(e.body.retryAfter ?? 5) : undefined

/** An answer of the server that is no success, in its own words. */
export class ApiError extends Error {
  constructor(
    readonly status: number,
    readonly code: string,
    said: string,
    readonly body: Record<string, unknown> = {},
  ) {
    super(said)
  }
  get fields(): { field: string; said: string }[] {
    return (this.body.fields as { field: string; said: string }[] | undefined) ?? []
  }
}

export interface Options {
  body?: unknown
  bytes?: Blob
  headers?: Record<string, string>
  signal?: AbortSignal
  /** Goes on when the page is left; browsers allow 64 KB for it. */
  keepalive?: boolean
}

/** What has to be said where an address has names in its path, and what can be said of a request. */
type Needed<P> = keyof P extends never ? { params?: P } : { params: P }
type Sent<E> = BodyOf<E> extends undefined ? { body?: undefined } : { body: BodyOf<E> }
export type Asking<E, P = ParamsOf<E>> = Needed<P> &
  Sent<E> & { query?: Partial<QueryOf<E>>; version?: number; file?: File; password?: string } & Pick<
    Options,
    'signal' | 'keepalive'
  >

/** Where something is found, below /api. */
export const placeOf = (endpoint: Endpoint, params: object = {}, query: object = {}): string => {
  const given = Object.entries(query as Record<string, unknown>).flatMap(([k, v]) =>
    v === undefined ? [] : [[k, String(v)]],
  )
  const path = addressOf(endpoint.path, params as Record<string, string | number>)
  return given.length ? `${path}?${new URLSearchParams(given).toString()}` : path
}

/** One request to an address of the API. @throws ApiError */
export function call<E extends Endpoint>(endpoint: E, asking: Asking<E>): Promise<AnswerOf<E>> {
  const { params, query, body, version, file, password, signal, keepalive } = asking as Asking<Endpoint> & {
    body?: unknown
  }
  return request<AnswerOf<E>>(endpoint.method, placeOf(endpoint, params, query), {
    ...(body === undefined ? {} : { body }),
    ...(file ? { bytes: file } : {}),
    headers: {
      ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
      ...(file ? { 'X-File-Name': encodeURIComponent(file.name) } : {}),
      ...(password === undefined ? {} : { 'X-File-Password': encodeURIComponent(password) }),
    },
    ...(signal ? { signal } : {}),
    ...(keepalive ? { keepalive } : {}),
  })
}

/** The same by its place. Everything that creates carries a key, so that sending it again does nothing twice. */
export async function request<T>(method: string, path: string, o: Options = {}): Promise<T> {
  const answer = await send(method, path, o)
  if (answer.status === 204) return undefined as T
  const data = await told(answer)
  if (answer.ok) return data as T
  throw refusal(answer.status, data)
}

/** A file that is made by the server. @throws ApiError */
export async function fetchFile(path: string, signal: AbortSignal, body?: object): Promise<Response> {
  const answer = await send(body ? 'POST' : 'GET', path, { signal, ...(body ? { body } : {}) })
  if (answer.ok) return answer
  throw refusal(answer.status, await told(answer))
}

async function told(answer: Response): Promise<unknown> {
  const text = await answer.text()
  return /json/.test(answer.headers.get('content-type') ?? '') ? JSON.parse(text) : text
}

function refusal(status: number, data: unknown): ApiError {
  const p = (typeof data === 'object' && data ? data : {}) as Record<string, unknown>
  const said = String(p.title ?? `The server answered with an error (${status}).`)
  return new ApiError(status, String(p.code ?? 'unforeseen'), said, p)
}

async function send(method: string, path: string, o: Options): Promise<Response> {
  try {
    return await fetch(`/api${path}`, {
      method,
      credentials: 'same-origin',
      headers: {
        ...(o.body !== undefined ? { 'Content-Type': 'application/json' } : {}),
        ...(o.bytes ? { 'Content-Type': 'application/octet-stream' } : {}),
        ...(method === 'POST' ? { 'Idempotency-Key': crypto.randomUUID() } : {}),
        ...o.headers,
      },
      body: o.bytes ?? (o.body !== undefined ? JSON.stringify(o.body) : null),
      ...(o.signal ? { signal: o.signal } : {}),
      ...(o.keepalive ? { keepalive: true } : {}),
    })
  } catch (e) {
    if (e instanceof DOMException && e.name === 'AbortError') throw e
    throw new ApiError(
      0,
      'away',
      'Vine Path does not answer. What you did before is saved; this goes on by itself once it is back.',
    )
  }
}
