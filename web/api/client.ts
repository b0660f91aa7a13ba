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

/** One request to the API. Everything that creates carries a key, so that sending it again does nothing twice. */
export async function api<T>(method: string, path: string, o: Options = {}): Promise<T> {
  let answer: Response
  try {
    answer = await fetch(`/api${path}`, {
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
  if (answer.status === 204) return undefined as T
  const text = await answer.text()
  const data = (/json/.test(answer.headers.get('content-type') ?? '') ? JSON.parse(text) : text) as T
  if (answer.ok) return data
  const p = (typeof data === 'object' ? data : {}) as Record<string, unknown>
  throw new ApiError(
    answer.status,
    String(p.code ?? 'unforeseen'),
    String(p.title ?? `The server answered with an error (${answer.status}).`),
    p,
  )
}
