import type { QueryClient } from '@tanstack/react-query'
import { placeOf } from '../../core/sift/line'
import { ApiError, request } from '../api/client'
import { noteOwn, readAgain, repaint, worksKey } from '../api/hooks'
import type { WorkLine } from '../../core/sift/line'
import { meaning, PATIENCE, refusalOf, withLetter, type Answer, type Letter, type Patch } from './letter'
import { openStore, type LetterStore } from './store'

/** What one window tells the others. */
type News = { put: Letter } | { taken: string; answer: Answer } | { dropped: string }
type Without<T, K extends string> = Omit<T, Extract<keyof T, K>>
export type NewLetter = Without<Letter, 'n' | 'user' | 'window'>

/** A name for this window, which it has again after a reload. */
function windowName(): string {
  const name = sessionStorage.getItem('vine-path window') ?? crypto.randomUUID()
  sessionStorage.setItem('vine-path window', name)
  return name
}
/** Written of the same text in the same window. */
const together = (a: Letter, b: Letter): boolean =>
  a.slot !== undefined && a.slot === b.slot && a.inquiry === b.inquiry && a.window === b.window

/** After so long a request counts as lost and is sent again, under the same key. */
const HUNG = 30_000
const FIRST_PAUSE = 1000
const LONGEST_PAUSE = 15_000
/** Milliseconds that sending waits for what this browser keeps: some leave a read or a write unanswered for minutes. */
const STORE_PATIENCE = 4000
const soon = (doing: Promise<unknown>, ms: number): Promise<unknown> =>
  Promise.race([doing, new Promise(done => setTimeout(done, ms))])

/**
 * What the student did and the server has not taken yet. It is kept in the browser until the server has said yes, or no
 * with a reason: then it stays too, to be tried again or taken back. Neither a lost network nor a closed page nor a
 * server that died in the middle loses it, and none of them doubles it. One window at a time sends for all, in the
 * order in which things were done, so that an undo never overtakes its decision. Until the server's lines have it, it
 * is shown over them.
 */
export class Outbox {
  private list: readonly Letter[] = []
  /** Taken, but not yet in what was read of the server. */
  private shown: readonly Letter[] = []
  private both: readonly Letter[] = []
  private user: number | undefined
  private session = new AbortController()
  private channel: BroadcastChannel | undefined
  private readonly listeners = new Set<() => void>()
  /** Texts that were written on in this window. */
  private readonly written = new Set<string>()
  private readonly own = new Map<string, (e: unknown) => void>()
  private readonly done = new Map<string, { version: number; body: unknown }>()
  private wake = () => {}
  private failures = 0
  private last = 0
  /** The browser had no room for something: it is lost if the page is closed before it is sent. */
  homeless = false
  /** Groups of this window that can be taken back, by inquiry, the latest last. */
  private readonly made = new Map<number, string[]>()

  constructor(
    private readonly client: QueryClient,
    private readonly store: LetterStore = openStore(),
    private readonly firstPause = FIRST_PAUSE,
    readonly here = windowName(),
    private readonly storePatience = STORE_PATIENCE,
  ) {
    client.getQueryCache().subscribe(event => {
      if (event.type !== 'updated' || event.action.type !== 'success' || event.action.manual) return
      const key = JSON.stringify(event.query.queryKey)
      // a reading that began after they were taken has them; one that did not was called off
      const shown = this.shown.filter(l => l.shownBy !== key)
      const lines = this.both.find(l => JSON.stringify(worksKey(l.inquiry)) === key)
      if (shown.length !== this.shown.length) this.set({ shown })
      if (lines) this.paint(lines.inquiry)
    })
    globalThis.addEventListener?.('online', () => this.wake())
  }

  /** Whose letters are sent from now on: what waits of earlier days and other windows comes first. */
  begin(user: number | undefined): void {
    if (user === this.user) return void this.wake()
    this.session.abort()
    this.session = new AbortController()
    this.channel?.close()
    this.user = user
    this.set({ list: [], shown: [] })
    if (user === undefined) return
    if (typeof BroadcastChannel !== 'undefined') {
      this.channel = new BroadcastChannel(`vine-path outbox ${user}`)
      this.channel.onmessage = (e: MessageEvent<News>) => this.hear(e.data)
    }
    const { signal } = this.session
    void this.load(user).then(() => this.sendAlone(user, signal))
  }

  /** Everything that waits or was refused, in order. */
  letters = (): readonly Letter[] => this.list
  /** The same with what was taken but not read again yet. */
  showing = (): readonly Letter[] => this.both
  subscribe = (listener: () => void): (() => void) => {
    this.listeners.add(listener)
    return () => void this.listeners.delete(listener)
  }
  /** The last try came to nothing: what waits is kept here. */
  away = (): boolean => this.failures > 0
  private fail(n: number): void {
    const turned = n > 0 !== this.away()
    this.failures = n
    if (turned) this.set({})
  }
  /**
   * Waits until the server has all that was written of an inquiry.
   * @returns whether it has: not where some was refused, the server does not answer, or nobody waits any more
   */
  emptied(inquiry: number, signal: AbortSignal): Promise<boolean> {
    return new Promise(done => {
      const look = () => {
        const left = this.list.filter(l => l.inquiry === inquiry)
        if (left.length && !signal.aborted && !this.away() && !left.some(l => l.refused)) return
        stop()
        done(!left.length)
      }
      const stop = this.subscribe(look)
      signal.addEventListener('abort', look, { once: true })
      look()
    })
  }

  /** The latest that the server took of a text. */
  taken = (inquiry: number, slot: string) => this.done.get(`${inquiry} ${slot}`)

  groups(inquiry: number): string[] {
    const groups = this.made.get(inquiry) ?? []
    this.made.set(inquiry, groups)
    return groups
  }

  /** @param refused told instead of the student, where who asked still listens; the letter is then not kept */
  add(given: NewLetter, refused?: (e: unknown) => void): void {
    const letter: Letter = {
      ...given,
      n: (this.last = Math.max(this.last + 1, Date.now() * 1000)),
      user: this.user ?? 0,
      ...(given.slot === undefined ? {} : { window: this.here }),
    }
    if (refused) this.own.set(letter.id, refused)
    void this.keep(letter)
    if (letter.shownBy) void this.client.cancelQueries({ queryKey: JSON.parse(letter.shownBy) as unknown[] })
    this.put(letter)
  }

  /** Writes a text that saves itself: in place of what was written before and is not on its way. */
  write(given: NewLetter & { slot: string }): void {
    const waiting = this.list.findLast(
      l => l.inquiry === given.inquiry && l.slot === given.slot && l.window === this.here,
    )
    // another window was faster: what is written stays beside its text until the student has chosen
    const chosen = waiting?.refused?.code === 'changed-elsewhere'
    if (waiting?.refused && !chosen) this.drop(waiting.id)
    if (!waiting || (waiting.sent && !chosen)) {
      // an Undo remembers the version of its own moment: what this window was given since is newer
      const version = Math.max(given.version ?? 0, this.taken(given.inquiry, given.slot)?.version ?? 0)
      return this.add({ ...given, ...(version ? { version } : {}) })
    }
    this.written.add(waiting.id)
    const letter = { ...waiting, body: given.body, ...(given.after === undefined ? {} : { after: given.after }) }
    void this.keep(letter)
    this.put(letter)
  }

  /** Sends what was refused once more, as it is or on another version; under a new key, since it is asked anew. */
  again(id: string, version?: number): void {
    const letter = this.list.find(l => l.id === id)
    if (!letter) return
    this.drop(id)
    const { refused: _, sent: __, after: ___, ...rest } = letter
    this.add({ ...rest, id: crypto.randomUUID(), ...(version === undefined ? {} : { version }) })
  }

  /** Gives up what was refused, and what would have undone it. */
  takeBack(id: string): void {
    const letter = this.list.find(l => l.id === id)
    if (!letter) return
    const undoing = letter.group && this.list.filter(l => l.path === '/undo' && l.group === letter.group)
    for (const l of [letter, ...(undoing || [])]) this.drop(l.id)
    readAgain(this.client, letter.inquiry)
  }

  /** How works stood before a group was decided, where that is known here. */
  before(group: string): Record<number, Patch> {
    return this.both.find(l => l.path !== '/undo' && l.group === group)?.before ?? {}
  }

  private async keep(letter: Letter): Promise<void> {
    const kept = await this.store.put(letter)
    if (kept === !this.homeless) return
    this.homeless = !kept
    this.set({})
  }

  private drop(id: string): void {
    void this.store.drop(id)
    this.tellOthers({ dropped: id })
    this.set({ list: this.list.filter(l => l.id !== id) })
  }

  private put(letter: Letter): void {
    this.tellOthers({ put: letter })
    this.set({ list: withLetter(this.list, letter) })
    if (letter.refused && letter.before) this.paint(letter.inquiry, letter.before)
    else if (letter.shows) this.paint(letter.inquiry)
    this.wake()
  }

  private tellOthers(news: News): void {
    this.channel?.postMessage(news)
  }

  private hear(news: News): void {
    if ('taken' in news) this.took(news.taken, news.answer)
    else if ('dropped' in news) this.set({ list: this.list.filter(l => l.id !== news.dropped) })
    else if (news.put.refused && this.own.has(news.put.id)) {
      const { code, said, body } = news.put.refused
      this.refuse(news.put, new ApiError(409, code, said, body))
    } else {
      this.set({ list: withLetter(this.list, news.put) })
      this.paint(news.put.inquiry, news.put.refused ? news.put.before : undefined)
      this.wake()
    }
  }

  private set(now: { list?: readonly Letter[]; shown?: readonly Letter[] }): void {
    if (now.list) this.list = now.list
    if (now.shown) this.shown = now.shown
    if (now.list || now.shown) this.both = [...this.shown, ...this.list]
    for (const l of this.listeners) l()
  }

  /** Shows what is on its way over what the server said, the later over the earlier, all of it over `first`. */
  private paint(inquiry: number, first: Record<number, Patch> = {}): void {
    const patches = new Map<number, Patch>()
    for (const shows of [first, ...this.both.map(l => (l.inquiry === inquiry && !l.refused && l.shows) || {})])
      for (const [id, patch] of Object.entries(shows)) patches.set(Number(id), { ...patches.get(Number(id)), ...patch })
    if (!patches.size) return
    repaint(this.client, inquiry, lines => {
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

  /** Adds what was kept; where the browser does not give it in time, it comes to what was sent meanwhile. */
  private load(user: number): Promise<unknown> {
    const loading = this.store.all(user).then(stored => {
      if (this.user !== user || !stored.length) return
      this.set({ list: stored.reduce<readonly Letter[]>(withLetter, this.list) })
      for (const inquiry of new Set(stored.map(l => l.inquiry))) this.paint(inquiry)
      this.wake()
    })
    return soon(loading, this.storePatience)
  }

  /** Sends for all windows of this browser while no other does. */
  private async sendAlone(user: number, signal: AbortSignal): Promise<void> {
    const locks = globalThis.navigator?.locks as LockManager | undefined
    if (!locks) return this.sendAll(signal)
    await locks
      .request(`vine-path outbox ${user}`, { signal }, async () => {
        await this.load(user)
        await this.sendAll(signal)
      })
      .catch((e: unknown) => {
        if (!signal.aborted) throw e
      })
  }

  private async sendAll(signal: AbortSignal): Promise<void> {
    while (!signal.aborted) {
      const now = Date.now()
      const waiting = this.list.filter(l => !l.refused && this.leads(l))
      const letter = waiting.find(l => (l.after ?? 0) <= now)
      if (letter) await this.send(letter, signal)
      else await this.rest(Math.min(...waiting.map(l => l.after! - now), LONGEST_PAUSE), signal)
    }
  }

  /** What is written of one text goes out one after the other, and nothing of it while some is refused. */
  private leads(letter: Letter): boolean {
    return !letter.slot || this.list.find(l => together(l, letter)) === letter
  }

  /** Waits so long, or until something new is there to be sent. */
  private rest(ms: number, signal: AbortSignal): Promise<void> {
    return new Promise(done => {
      const end = () => {
        clearTimeout(timer)
        signal.removeEventListener('abort', end)
        this.wake = () => {}
        done()
      }
      const timer = setTimeout(end, ms)
      signal.addEventListener('abort', end, { once: true })
      this.wake = end
    })
  }

  private async send(letter: Letter, signal: AbortSignal): Promise<void> {
    // from now on the server may have it: it is not written over any more
    if (letter.slot && !letter.sent) {
      letter = { ...letter, sent: true }
      this.set({ list: withLetter(this.list, letter) })
      this.tellOthers({ put: letter })
      await soon(this.keep(letter), this.storePatience)
    }
    const { id, inquiry, version } = letter
    try {
      const answer = await request<Answer>(letter.method, `/inquiries/${inquiry}${letter.path}`, {
        body: letter.body,
        headers: {
          'Idempotency-Key': id,
          'Vine-User': String(letter.user),
          ...(version === undefined ? {} : { 'If-Match': `"${version}"` }),
        },
        // a request that a sleeping network swallowed would hold up all that wait behind it
        signal: AbortSignal.any([signal, AbortSignal.timeout(HUNG)]),
      })
      this.fail(0)
      await soon(this.store.drop(id), this.storePatience)
      const { lines, revision, version: next } = answer ?? {}
      const told: Answer = {
        ...(lines ? { lines } : {}),
        ...(revision ? { revision } : {}),
        ...(next ? { version: next } : {}),
      }
      this.tellOthers({ taken: id, answer: told })
      this.took(id, told)
    } catch (e) {
      if (signal.aborted) return
      this.fail(this.failures + 1)
      const what = meaning(e)
      // sent from two windows at once with other words: the later words have a key of their own
      if (letter.slot && e instanceof ApiError && e.code === 'key-reused')
        return this.again(id, this.taken(inquiry, letter.slot)?.version)
      if (what === 'refused' || (what === 'again' && this.failures >= PATIENCE)) {
        this.fail(0)
        return this.refuse(letter, e)
      }
      await this.rest(Math.min(LONGEST_PAUSE, this.firstPause * 1.5 ** (this.failures - 1)), signal)
    }
  }

  private took(id: string, answer: Answer): void {
    const letter = this.list.find(l => l.id === id)
    if (!letter) return
    const { inquiry, slot } = letter
    this.own.delete(id)
    // written on here in the moment in which another window sent it: that goes out by itself, on what was just saved
    if (slot && !letter.sent && this.written.has(id)) {
      this.set({ list: this.list.filter(l => l.id !== id) })
      const { id: _, n: __, user: ___, ...rest } = letter
      return this.add({ ...rest, id: crypto.randomUUID(), ...(answer.version ? { version: answer.version } : {}) })
    }
    if (answer.revision) noteOwn(inquiry, answer.revision)
    // what a reading that began before this brings is old
    if (letter.shownBy) void this.client.cancelQueries({ queryKey: JSON.parse(letter.shownBy) as unknown[] })
    const shows = answer.lines ? Object.fromEntries(answer.lines.map(w => [w.id, w])) : letter.shows
    let list = this.list.filter(l => l.id !== id)
    if (slot && answer.version !== undefined) {
      const { version } = answer
      this.done.set(`${inquiry} ${slot}`, { version, body: letter.body })
      // what was written meanwhile stands on what was just saved
      list = list.map(l => (together(l, letter) && !l.sent ? { ...l, version } : l))
      for (const l of list) if (together(l, letter)) void this.keep(l)
    }
    this.set({ list, shown: letter.shownBy ? [...this.shown, { ...letter, ...(shows ? { shows } : {}) }] : this.shown })
    this.paint(inquiry)
    readAgain(this.client, inquiry)
  }

  private refuse(letter: Letter, e: unknown): void {
    const told = this.own.get(letter.id)
    this.own.delete(letter.id)
    const groups = this.groups(letter.inquiry)
    const at = letter.path === '/undo' || !letter.group ? -1 : groups.indexOf(letter.group)
    if (at >= 0) groups.splice(at, 1)
    if (told) {
      this.drop(letter.id)
      if (letter.before) this.paint(letter.inquiry, letter.before)
      told(e)
    } else {
      // of a text the newest writing is what was not taken
      const newer = this.list.findLast(l => together(l, letter))
      if (newer && newer.id !== letter.id) this.drop(newer.id)
      const refused = { ...letter, ...(newer ? { body: newer.body } : {}), refused: refusalOf(e) }
      void this.keep(refused)
      this.put(refused)
    }
    readAgain(this.client, letter.inquiry)
  }
}

const outboxes = new WeakMap<QueryClient, Outbox>()

/** The one outbox of this window. */
export function outboxOf(client: QueryClient): Outbox {
  const outbox = outboxes.get(client) ?? new Outbox(client)
  outboxes.set(client, outbox)
  return outbox
}
