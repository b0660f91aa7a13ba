/** The product's own API, as the demo uses it: whatever it lays is a state that a student could have reached. */
export class Api {
  private cookie = ''
  constructor(readonly address: string) {}

  /** The same session at another address of the application. */
  at(address: string): Api {
    const other = new Api(address)
    other.cookie = this.cookie
    return other
  }

  async call<T>(method: string, path: string, body?: unknown, headers: Record<string, string> = {}): Promise<T> {
    const bytes = body instanceof Uint8Array
    const answer = await fetch(`${this.address}/api${path}`, {
      method,
      headers: {
        ...(this.cookie ? { cookie: this.cookie } : {}),
        ...(body && !bytes ? { 'content-type': 'application/json' } : {}),
        ...headers,
      },
      ...(body ? { body: bytes ? (body as Uint8Array<ArrayBuffer>) : JSON.stringify(body) } : {}),
    })
    const set = answer.headers.get('set-cookie')
    if (set) this.cookie = set.split(';')[0]!
    const text = await answer.text()
    if (!answer.ok) throw new Error(`${method} ${path}: ${answer.status} ${text.slice(0, 400)}`)
    return (text && /json/.test(answer.headers.get('content-type') ?? '') ? JSON.parse(text) : text) as T
  }

  /** What an address tells as it happens. */
  async stream(path: string, signal: AbortSignal): Promise<ReadableStream<Uint8Array>> {
    const answer = await fetch(`${this.address}/api${path}`, { headers: { cookie: this.cookie }, signal })
    if (!answer.ok || !answer.body) throw new Error(`GET ${path}: ${answer.status}`)
    return answer.body as ReadableStream<Uint8Array>
  }

  /** Waits until a job has ended well. */
  async finish(inquiry: number, job: number): Promise<void> {
    for (let i = 0; i < 1200; i++) {
      const j = await this.call<{ state: string; error: string | null }>('GET', `/inquiries/${inquiry}/jobs/${job}`)
      if (j.state === 'done') return
      if (j.state === 'failed' || j.state === 'cancelled') throw new Error(`job ${job}: ${j.state} ${j.error ?? ''}`)
      await new Promise(r => setTimeout(r, 100))
    }
    throw new Error(`job ${job} did not end`)
  }
}
