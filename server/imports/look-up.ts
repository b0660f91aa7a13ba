import type { Facts, Item, ReadRecord } from '../../core/bib/item'
import { asksFor } from '../../core/connectors/description'
import { readRecord } from '../../core/formats/records'
import type { Query } from '../../core/query/cql'
import type { Context } from '../base/context'
import { explainOf, search } from '../catalogues/catalogue'
import { askConnector, askConnectorOnce, connectorsFor } from '../connect/connectors'
import { OutsideError } from '../connect/http'
import type { CatalogueSetting } from '../connect/sru-client'
import { cataloguesFor } from '../library/catalogues'

/** A work that somebody outside has. */
export interface Found {
  item: Item
  facts: Facts
  raw: string
  format: string
  /** Who has it. */
  where: string
}

/** A work by its DOI, from the first registration that knows it; one that does not answer has not said no. */
export async function byDoi(c: Context, doi: string, signal: AbortSignal): Promise<Found | undefined> {
  let away: OutsideError | undefined
  for (const connector of connectorsFor(c.settings.outside, 'work'))
    try {
      for await (const { records, unread } of askConnector(c, connector, 'work', { doi }, signal)) {
        if (unread[0]) throw new OutsideError(`${connector.name} sent what cannot be read: ${unread[0].why}`, true)
        const [record] = records
        if (record) return { ...record, format: 'CSL-JSON', where: connector.name }
      }
    } catch (e) {
      if (!(e instanceof OutsideError)) throw e
      away ??= e
    }
  if (away) throw away
  return undefined
}

/** Records that one source is asked for at most. */
const CANDIDATES = 5

/** What all that could be asked have for a title or a number. */
export interface Searched {
  found: Found[]
  /** How many of them could be asked for it. */
  asked: number
  /** Who could not be asked this time, and what those say who never can be. */
  away: string[]
  refusing: string[]
}

/** Asks every catalogue of an inquiry and every register that can be asked for titles, or for ISBNs. */
export async function searchAll(
  c: Context,
  inquiryId: number,
  index: 'title' | 'isbn',
  value: string,
  signal: AbortSignal,
): Promise<Searched> {
  const got: Searched = { found: [], asked: 0, away: [], refusing: [] }
  const answers = await Promise.all(
    sourcesFor(c, await cataloguesFor(c, inquiryId), index, value, signal).map(async ({ name, ask }) => {
      try {
        const found = await ask()
        if (found) got.asked++
        return found ?? []
      } catch (e) {
        if (!(e instanceof OutsideError)) throw e
        if (e.again) got.away.push(name)
        else got.refusing.push(e.message)
        return []
      }
    }),
  )
  return { ...got, found: answers.flat() }
}

/** One that may be asked; nothing where it cannot be asked for those. */
interface Source {
  name: string
  ask: () => Promise<Found[] | undefined>
}

function sourcesFor(
  c: Context,
  asked: readonly CatalogueSetting[],
  index: 'title' | 'isbn',
  value: string,
  signal: AbortSignal,
): Source[] {
  const query: Query = {
    root: {
      ...{ kind: 'clause', index, modifiers: [] },
      relation: index === 'isbn' ? '=' : 'all',
      term: value.replace(/[*?"\\^]/g, ' '),
    },
  }
  const catalogues = asked.map(catalogue => ({
    name: catalogue.name,
    ask: async () => {
      const { abilities } = await explainOf(c, catalogue, signal)
      if (abilities.indexes && !abilities.indexes.includes(index)) return undefined
      const page = await search(c, catalogue, query, 1, CANDIDATES, signal)
      return page.records.flatMap(r => {
        const read = readIfCan(catalogue, r.raw)
        return read ? [{ ...read, raw: r.raw, format: catalogue.schema, where: catalogue.name }] : []
      })
    },
  }))
  const connectors = connectorsFor(c.settings.outside, 'search').map(connector => ({
    name: connector.name,
    ask: async () => {
      if (!asksFor(connector, 'search', index)) return undefined
      const page = await askConnectorOnce(c, connector, 'search', { [index]: value }, signal)
      return (page?.records ?? []).slice(0, CANDIDATES).map(r => ({ ...r, format: 'CSL-JSON', where: connector.name }))
    },
  }))
  return [...catalogues, ...connectors]
}

function readIfCan(catalogue: CatalogueSetting, raw: string): ReadRecord | undefined {
  try {
    return readRecord(catalogue.schema, raw)
  } catch {
    return undefined
  }
}
