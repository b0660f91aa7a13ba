import { appraise } from '../../core/appraise/kind'
import { readRecord, schemaFor, type Schema } from '../../core/formats/records'
import { parseCql } from '../../core/query/parse-cql'
import { printCql, type Query } from '../../core/query/cql'
import type { Answer } from '../../core/schema/api'
import { plainTitle } from '../../core/bib/clean'
import { yearOf } from '../../core/bib/dates'
import { authorLine } from '../../core/bib/names'
import { isAdministrator } from '../accounts/administration-service'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { OutsideError, outsideClient } from '../connect/http'
import { identify, listPage, setsOf, type RepositorySetting } from '../catalogues/repositories'
import { askSru, explainOf, type SruSetting } from '../connect/sru-client'
import { spend } from '../connect/budget'

/** Records that are fetched to try a catalogue. */
const SAMPLE = 5

/** The catalogues as the operator has set them up. */
export const cataloguesOf = (c: Context): Answer<'catalogues'> =>
  c.settings.outside.catalogues.map(({ id, name, sru, oai, schema }) => ({
    id,
    name,
    address: sru ?? oai!,
    schema,
    harvested: !sru,
  }))

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
  const known = outside.catalogues.find(x => (x.sru ?? x.oai) === address)
  const given = { id: known?.id ?? idFor(at.hostname), name: known?.name ?? at.hostname, openCopies: false }
  const schema = known?.schema
  const repository = { ...given, oai: address, schema: schema ?? ('dc' as const) }
  const searched = known?.oai
    ? undefined
    : await ofSru(asking, { ...given, sru: address, schema: schema ?? 'dc' }, parsed.query, schema, signal)
  if (searched && (!searched.failed || !searched.assumed || known)) return searched
  try {
    return await ofRepository(asking, repository, signal)
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    // what neither searches nor can be harvested is told as the catalogue that it was taken for
    return searched ?? { ...NOTHING, assumed: 'It does not say what it is.', failed: e.message }
  }
}

async function ofSru(
  c: Context,
  given: SruSetting,
  query: Query,
  wanted: Schema | undefined,
  signal: AbortSignal,
): Promise<Answer<'probe'>> {
  const explained = await explainOf(c, given, signal)
  const catalogue = { ...given, schema: wanted ?? schemaFor(explained.schemas) ?? 'dc' }
  const base = {
    ...NOTHING,
    title: explained.assumed ? null : explained.title,
    description: explained.description ?? null,
    extent: explained.extent ?? null,
    assumed: explained.assumed ?? null,
    indexes: Object.entries(explained.names).map(([ours, theirs]) => ({ ours, theirs })),
    schemas: explained.schemas.map(asOffered),
    schema: catalogue.schema,
    truncation: explained.abilities.truncation && !explained.refused.truncation,
    proximity: explained.abilities.proximity,
    scan: Boolean(explained.abilities.scan),
    facets: [...(explained.abilities.facets ?? [])],
    window: explained.abilities.window ?? null,
    setting: settingOf({ id: given.id, name: explained.title, sru: given.sru, schema: catalogue.schema }),
  }
  try {
    const page = await askSru(c, catalogue, query, 1, SAMPLE, signal)
    const { records, unread } = readSample(catalogue.schema, page.records)
    return {
      ...base,
      count: page.counted ? page.count : null,
      asked: printCql(page.asked),
      changes: page.changes,
      records,
      unread: [...page.unread.map(u => ({ position: u.position, why: u.why })), ...unread],
    }
  } catch (e) {
    if (!(e instanceof OutsideError)) throw e
    return { ...base, failed: e.message }
  }
}

/** A repository that is harvested: who it is, what it gives, and its first records. @throws OutsideError where it is none */
async function ofRepository(c: Context, given: RepositorySetting, signal: AbortSignal): Promise<Answer<'probe'>> {
  const { name, formats, prefix } = await identify(c, given, signal)
  const schema = schemaFor(formats.filter(f => f.name === prefix)) ?? 'dc'
  const [sets, page] = [
    await setsOf(c, given, signal),
    await listPage(c, given, { prefix, since: null, token: null }, signal),
  ]
  const living = page.records.filter(r => !r.deleted).slice(0, SAMPLE)
  const { records, unread } = readSample(
    schema,
    living.map((r, i) => ({ raw: r.raw, position: i + 1 })),
  )
  return {
    ...NOTHING,
    title: name,
    harvested: true,
    sets: sets.slice(0, MOST_SETS),
    schemas: formats.map(asOffered),
    schema,
    truncation: true,
    proximity: true,
    count: page.size ?? (page.token ? null : page.records.length),
    setting: settingOf({ id: given.id, name, oai: given.oai, schema }),
    records,
    unread,
    failed: page.errors[0] ? `${name} refuses: ${page.errors[0].said}` : null,
  }
}
const MOST_SETS = 200

/** What is told where nothing is known. */
const NOTHING: Answer<'probe'> = {
  ...{ title: null, description: null, extent: null, assumed: null, harvested: false, sets: [], indexes: [] },
  ...{ schemas: [], schema: 'dc', truncation: false, proximity: false, scan: false, facets: [], window: null },
  ...{ setting: '', count: null, asked: null, changes: [], records: [], unread: [], failed: null },
}

const asOffered = (s: { name: string; identifier: string }) => ({ ...s, readable: schemaFor([s]) !== undefined })
const settingOf = (of: object): string => JSON.stringify(of, null, 2)

function readSample(schema: Schema, raws: readonly { raw: string; position: number }[]) {
  const unread: Answer<'probe'>['unread'] = []
  const records = raws.flatMap(({ raw, position }) => {
    try {
      const { item, facts } = readRecord(schema, raw)
      return [
        {
          title: plainTitle(item.title),
          authors: authorLine(item.author, 2),
          year: yearOf(item) ?? null,
          kind: appraise(item, facts).kind,
        },
      ]
    } catch (e) {
      unread.push({ position, why: e instanceof Error ? e.message : String(e) })
      return []
    }
  })
  return { records, unread }
}

/** An id for the settings, from the host's own name. */
const idFor = (host: string): string =>
  host
    .toLowerCase()
    .replace(/^www\./, '')
    .replace(/[^a-z0-9]+/g, '-')
    .replace(/^[^a-z]+/, '')
    .slice(0, 40) || 'catalogue'
