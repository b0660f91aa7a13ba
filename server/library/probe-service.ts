import { appraise } from '../../core/appraise/kind'
import { SCHEMAS } from '../../core/formats/sru'
import { parseCql } from '../../core/query/parse-cql'
import { printCql } from '../../core/query/cql'
import type { Answer } from '../../core/schema/api'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { isAdministrator } from '../accounts/administration-service'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { OutsideError, outsideClient } from '../connect/http'
import { askSru, explainOf, readRecord, schemaFor, type CatalogueSetting } from '../connect/sru-client'
import { spend } from '../connect/budget'

/** Records that are fetched to try a catalogue. */
const SAMPLE = 5

/** The catalogues as the operator has set them up. */
export const cataloguesOf = (c: Context): Answer<'catalogues'> =>
  c.settings.outside.catalogues.map(({ id, name, sru, schema }) => ({ id, name, address: sru, schema }))

/**
 * Asks an address what it can do and for a few records, and tells what of it was understood: before a catalogue is set
 * up, or where one does not do what was hoped for. Hosts that are not set up are asked for administrators alone.
 * @throws Problem 422 where the words are no query; 429 where catalogues were asked too often
 */
export async function probe(
  c: Context,
  userId: number,
  { address, words }: { address: string; words: string },
  signal: AbortSignal,
): Promise<Answer<'probe'>> {
  const parsed = parseCql(words)
  if (!parsed.ok)
    throw new Problem(422, 'query', parsed.error.message, { fields: [{ field: 'words', said: parsed.error.message }] })
  spend(userId, c.settings.countsMost)
  const at = new URL(address)
  const { outside } = c.settings
  const mayAskAny = await isAdministrator(c, userId)
  const asking = mayAskAny
    ? { ...c, outside: outsideClient({ ...outside, alsoFetch: [...outside.alsoFetch, at.hostname] }) }
    : c
  const known = outside.catalogues.find(x => x.sru === address)
  const given: CatalogueSetting = known ?? {
    id: 'tried',
    name: at.hostname,
    sru: address,
    schema: 'dc',
    openCopies: false,
  }
  const explained = await explainOf(asking, given, signal)
  const schema = known?.schema ?? schemaFor(explained.schemas) ?? 'dc'
  const catalogue = { ...given, schema }
  const base = {
    title: explained.assumed ? null : explained.title,
    description: explained.description ?? null,
    extent: explained.extent ?? null,
    assumed: explained.assumed ?? null,
    indexes: Object.entries(explained.names).map(([ours, theirs]) => ({ ours, theirs })),
    schemas: explained.schemas.map(s => ({ ...s, readable: SCHEMAS.some(x => schemaFor([s]) === x) })),
    schema,
    truncation: explained.abilities.truncation && !explained.refused.truncation,
    proximity: explained.abilities.proximity,
    scan: Boolean(explained.abilities.scan),
    facets: [...(explained.abilities.facets ?? [])],
    window: explained.abilities.window ?? null,
    setting: JSON.stringify(
      { id: known?.id ?? idFor(at.hostname), name: explained.title, sru: address, schema },
      null,
      2,
    ),
  }
  try {
    const page = await askSru(asking, catalogue, parsed.query, 1, SAMPLE, signal)
    const unread = page.unread.map(u => ({ position: u.position, why: u.why }))
    const records = page.records.flatMap(r => {
      try {
        const { item, facts } = readRecord(catalogue, r.raw)
        return [
          {
            title: plainTitle(item.title),
            authors: authorLine(item.author, 2),
            year: yearOf(item) ?? null,
            kind: appraise(item, facts).kind,
          },
        ]
      } catch (e) {
        unread.push({ position: r.position, why: e instanceof Error ? e.message : String(e) })
        return []
      }
    })
    const asked = printCql(page.asked)
    return {
      ...base,
      count: page.counted ? page.count : null,
      asked,
      changes: page.changes,
      records,
      unread,
      failed: null,
    }
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return { ...base, count: null, asked: null, changes: [], records: [], unread: [], failed: e.message }
  }
}

/** An id for the settings, from the host's own name. */
const idFor = (host: string): string =>
  host
    .toLowerCase()
    .replace(/^www\./, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+/, '')
    .slice(0, 40) || 'catalogue'
