import { releaseProxy, wrap, type Remote } from 'comlink'
import { useEffect, useState, useSyncExternalStore } from 'react'
import type { QueryNode } from '../../core/query/cql'
import { TextSearch, type FoundText, type Standing } from '../../core/query/texts'
import { api } from '../../core/schema/api'
import { call } from '../api/client'

/** Copies that are sent for at one time. */
const AT_ONCE = 4

export interface Reading {
  /** Copies whose words are here, and those that could not be had. */
  read: number
  failed: number
  of: number
}

/** A copy, and how much of it is read where it is a scan. */
interface TextOf {
  id: number
  scanned: number | null
}

/** The words of an inquiry's copies, kept in a worker for as long as the inquiry is open. */
class Texts {
  private worker: Worker | undefined
  private begun: Remote<TextSearch> | TextSearch | undefined
  private wanted: readonly TextOf[] = []
  private readonly had = new Map<number, { state: 'asked' | 'read' | 'failed'; at: number | null }>()
  private readonly queue: number[] = []
  private busy = 0
  private readonly watching = new Set<() => void>()
  private now: Reading = { read: 0, failed: 0, of: 0 }

  constructor(readonly inquiry: number) {}

  /** Begun with the first text that is wanted. */
  private get search(): Remote<TextSearch> | TextSearch {
    if (this.begun) return this.begun
    if (typeof Worker === 'undefined') return (this.begun = new TextSearch())
    this.worker = new Worker(new URL('./texts.worker.ts', import.meta.url), { type: 'module' })
    return (this.begun = wrap<TextSearch>(this.worker))
  }

  /** Fetches the words of these copies, where they are not here, and drops those of others. */
  want(copies: readonly TextOf[]): void {
    this.wanted = copies
    for (const id of this.had.keys())
      if (!copies.some(c => c.id === id)) {
        this.had.delete(id)
        void this.search.drop(id)
      }
    for (const { id, scanned } of copies) {
      const had = this.had.get(id)
      // more of a scan may have been read since
      if (had && had.at === scanned) continue
      this.had.set(id, { state: 'asked', at: scanned })
      this.queue.push(id)
    }
    while (this.busy < AT_ONCE && this.queue.length) void this.next()
    this.tell()
  }

  /** Sends once more for what could not be had. */
  again = (): void => {
    for (const [id, { state }] of this.had) if (state === 'failed') this.had.delete(id)
    this.want(this.wanted)
  }

  private async next(): Promise<void> {
    this.busy++
    for (let id = this.queue.shift(); id !== undefined; id = this.queue.shift()) {
      try {
        const { pages } = await call(api.copyText, { params: { inquiry: this.inquiry, copy: id } })
        if (!this.had.has(id)) continue
        await this.search.add(id, pages)
        this.ended(id, 'read')
      } catch {
        this.ended(id, 'failed')
      }
      this.tell()
    }
    this.busy--
  }

  private ended(id: number, state: 'read' | 'failed'): void {
    const had = this.had.get(id)
    if (had) had.state = state
  }

  private tell(): void {
    const how = [...this.had.values()]
    const n = (what: string) => how.filter(h => h.state === what).length
    this.now = { read: n('read'), failed: n('failed'), of: how.length }
    for (const f of this.watching) f()
  }

  watch = (f: () => void) => {
    this.watching.add(f)
    return () => this.watching.delete(f)
  }
  reading = (): Reading => this.now
  find = async (query: QueryNode): Promise<FoundText[]> => this.search.find(query)
  foundIn = async (copy: number, query: QueryNode, most: number): Promise<FoundText[]> =>
    this.search.foundIn(copy, query, most)

  /** Where searches stand in one copy; its words are fetched alone where they are not here. */
  placesIn = async (of: TextOf, searches: readonly QueryNode[]): Promise<Standing> => {
    if (this.had.get(of.id)?.state !== 'read') {
      const { pages } = await call(api.copyText, { params: { inquiry: this.inquiry, copy: of.id } })
      await this.search.add(of.id, pages)
      this.had.set(of.id, { state: 'read', at: of.scanned })
    }
    return this.search.placesIn(of.id, searches)
  }

  end(): void {
    if (!this.worker) return
    ;(this.begun as Remote<TextSearch>)[releaseProxy]()
    this.worker.terminate()
  }
}

let open: Texts | undefined
export function textsOf(inquiry: number): Texts {
  if (open?.inquiry !== inquiry) {
    open?.end()
    open = new Texts(inquiry)
  }
  return open
}

/** The words of these copies as far as they are here; nothing is sent for before it is said which. */
export function useTexts(inquiry: number, copies: readonly TextOf[] | undefined): { texts: Texts; reading: Reading } {
  const texts = textsOf(inquiry)
  useEffect(() => {
    if (copies) texts.want(copies)
  }, [texts, copies])
  return { texts, reading: useSyncExternalStore(texts.watch, texts.reading) }
}

/** Where searches stand in one copy, as soon as that is known. */
export function useStanding(
  inquiry: number,
  { id, scanned }: TextOf,
  searches: readonly QueryNode[],
): Standing | undefined {
  const texts = textsOf(inquiry)
  const [told, setTold] = useState<{ of: readonly QueryNode[]; standing: Standing }>()
  useEffect(() => {
    if (!searches.length) return
    let isWanted = true
    texts.placesIn({ id, scanned }, searches).then(
      standing => isWanted && setTold({ of: searches, standing }),
      // without its words the text is read as well
      () => undefined,
    )
    return () => {
      isWanted = false
    }
  }, [texts, id, scanned, searches])
  return told?.of === searches ? told.standing : undefined
}

/** Copies are searched anew each time so many more have been read. */
const STEP = 20

/** How much is read, in steps after which it is searched anew. */
export function stepOf({ read, failed, of }: Reading): number {
  return read + failed >= of ? read : Math.floor(read / STEP) * STEP
}

/** What a query finds in them; the latest asked wins, and while it is sought what was found before stands. */
export function useFound(
  { texts, reading }: ReturnType<typeof useTexts>,
  query: QueryNode | undefined,
): { found: FoundText[] | undefined; trouble: string | undefined } {
  const [told, setTold] = useState<{ found?: FoundText[]; trouble?: string }>()
  const step = stepOf(reading)
  useEffect(() => {
    if (!query) return
    let isWanted = true
    texts.find(query).then(
      found => isWanted && setTold({ found }),
      (e: Error) => isWanted && setTold({ trouble: e.message }),
    )
    return () => {
      isWanted = false
    }
  }, [texts, query, step])
  return { found: query && told?.found, trouble: query && told?.trouble }
}
