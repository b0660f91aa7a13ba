import type { QueryClient } from '@tanstack/react-query'
import { useSyncExternalStore } from 'react'
import { placeOf } from '../../core/sift/line'
import { api, ApiError } from '../api/client'
import { noteOwn, readAgain, repaint } from '../api/hooks'
import type { WorkLine } from '../api/types'

/** What a decision or a mark changes of a line. */
export type Patch = Partial<WorkLine>

/** A decision, a mark or an undo that the server has not taken yet, and how its works stand by it and stood before it. */
export interface Outgoing {
  /** Made here, so that sending twice changes nothing. */
  id: string
  path: '/decisions' | '/marks' | '/undo'
  body: { group: string } & Record<string, unknown>
  shows: Record<number, Patch>
  before: Record<number, Patch>
  /** The server has taken it; it shows until the pool has been read again. */
  taken?: boolean
}

const AGAIN = 1500
/** After so long a request counts as lost and is sent again, under the same key. */
const HUNG = 30_000

/**
 * What was decided and is on its way to the server: kept in the browser until it is taken, so that neither a lost network
 * nor a closed page loses it; sent one after the other, so that an undo never overtakes its decision; and shown over
 * whatever the server still says, so that a late answer never turns a decision back.
 */
export class Outbox {
  private list: Outgoing[]
  private sending = false
  private readonly listeners = new Set<() => void>()
  /** Groups of this session that can be taken back, the latest last. */
  readonly groups: string[] = []

  constructor(
    private readonly inquiry: number,
    private readonly client: QueryClient,
    private readonly refused: (e: unknown) => void,
  ) {
    this.list = readKept(this.key)
    client.getQueryCache().subscribe(event => {
      if (event.type !== 'updated' || event.action.type !== 'success' || event.action.manual) return
      if (JSON.stringify(event.query.queryKey) !== JSON.stringify(this.works)) return
      // a reading that began after they were taken has them; one that did not was called off
      this.list = this.list.filter(o => !o.taken)
      this.paint()
      this.told()
    })
    if (this.list.length) this.paint()
    void this.send()
  }

  private get key(): string {
    return `vine-path outbox ${this.inquiry}`
  }
  private get works() {
    return ['inquiry', this.inquiry, '/works']
  }

  /** How many the server has not taken yet. */
  waiting = (): number => this.list.filter(o => !o.taken).length
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => void this.listeners.delete(listener)
  }

  add(o: Outgoing): void {
    this.list = [...this.list, o]
    this.told()
    void this.client.cancelQueries({ queryKey: this.works })
    this.paint()
    void this.send()
  }

  /** How works stood before a group was decided, where that is known here. */
  before(group: string): Record<number, Patch> {
    return this.list.find(o => o.path !== '/undo' && o.body.group === group)?.before ?? {}
  }

  private told(): void {
    keep(this.key, this.list.filter(o => !o.taken)) // prettier-ignore
    for (const l of this.listeners) l()
  }

  /** Shows what is on its way over what the server said, the later over the earlier, all of it over `first`. */
  private paint(first: Record<number, Patch> = {}): void {
    const patches = new Map<number, Patch>()
    for (const shows of [first, ...this.list.map(o => o.shows)])
      for (const [id, patch] of Object.entries(shows)) patches.set(Number(id), { ...patches.get(Number(id)), ...patch })
    if (!patches.size) return
    repaint(this.client, this.inquiry, lines => {
      let now: WorkLine[] | undefined
      for (const [id, patch] of patches) {
        const at = placeOf(lines, id)
        const w = lines[at]
        if (!w || Object.entries(patch).every(([k, v]) => w[k as keyof WorkLine] === v)) continue
        now ??= lines.slice()
        now[at] = { ...w, ...patch }
      }
      return now ?? lines
    })
  }

  private async send(): Promise<void> {
    if (this.sending) return
    this.sending = true
    for (let o = this.next(); o; o = this.next()) {
      try {
        const answer = await api<{ works?: WorkLine[]; revision?: number }>(
          'POST',
          `/inquiries/${this.inquiry}${o.path}`,
          {
            body: o.body,
            headers: { 'Idempotency-Key': o.id },
            // a request that a sleeping network swallowed would hold up all that wait behind it
            signal: AbortSignal.timeout(HUNG),
          },
        )
        if (answer.revision) noteOwn(this.inquiry, answer.revision)
        // what a reading that began before this brings is old
        await this.client.cancelQueries({ queryKey: this.works })
        const { id } = o
        const shows = o.path === '/undo' ? Object.fromEntries((answer.works ?? []).map(w => [w.id, w])) : o.shows
        this.list = this.list.map(x => (x.id === id ? { ...x, shows, taken: true } : x))
        this.paint()
      } catch (e) {
        if (e instanceof ApiError && (e.status === 0 || e.status === 503)) {
          await new Promise(r => setTimeout(r, AGAIN))
          continue
        }
        this.list = this.list.filter(x => x.id !== o.id)
        this.paint(o.before)
        const at = this.groups.indexOf(o.body.group)
        if (o.path !== '/undo' && at >= 0) this.groups.splice(at, 1)
        this.refused(e)
      }
      this.told()
    }
    this.sending = false
    readAgain(this.client, this.inquiry)
  }
  private next = (): Outgoing | undefined => this.list.find(o => !o.taken)
}

function readKept(key: string): Outgoing[] {
  try {
    return JSON.parse(localStorage.getItem(key) ?? '[]') as Outgoing[]
  } catch {
    return []
  }
}
function keep(key: string, list: readonly Outgoing[]): void {
  try {
    if (list.length) localStorage.setItem(key, JSON.stringify(list))
    else localStorage.removeItem(key)
  } catch {
    // a full or closed store: what waits is still sent while the page is open
  }
}

const outboxes = new WeakMap<QueryClient, Map<number, Outbox>>()

/** The one outbox of an inquiry in this window. */
export function outboxOf(inquiry: number, client: QueryClient, refused: (e: unknown) => void): Outbox {
  const of = outboxes.get(client) ?? new Map<number, Outbox>()
  outboxes.set(client, of)
  const outbox = of.get(inquiry) ?? new Outbox(inquiry, client, refused)
  of.set(inquiry, outbox)
  return outbox
}

export const useWaiting = (outbox: Outbox): number => useSyncExternalStore(outbox.subscribe, outbox.waiting)
