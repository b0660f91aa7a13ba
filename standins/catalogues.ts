import { existsSync, readFileSync, renameSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { deserialize, serialize } from 'node:v8'
import { KeptAnswers, type Searchable } from '../core/query/evaluate'
import { IndexBuilder, INDEX_VERSION, type FrozenIndex } from '../core/query/positional-index'
import { TOKENISER_VERSION } from '../core/query/tokens'
import { fullText, searchFields, toDublinCore, toMarcXml, toMods, type Entry } from './records'
import { HILL_SHELVES } from './shelves'
import { toUnionMarc, unionEntries, UNION } from './partners'
import type { ServedWorld } from './world'

/** One catalogue of the made-up world: what it covers, and what it can be asked. */
export interface Catalogue {
  key: string
  host: string
  title: string
  description: string
  schema: 'mods' | 'dc' | 'marcxml'
  /** Index names it can be asked by. */
  indexes: string[]
  /** Fields it searches where a query names none. */
  anywhere: string[]
  sort: string[]
  facets: string[]
  truncation: boolean
  proximity: boolean
  scan: boolean
  /** The last record position it serves. */
  window: number
  entries: Entry[]
  render(e: Entry): string
  /** Other forms in which it gives what it has, by their names. */
  also?: Record<string, Form>
  on: Searchable
  kept: KeptAnswers
}

/** A form of records beside that of a catalogue. */
export interface Form {
  identifier: string
  title: string
  render(e: Entry, day: string): string
}

export type Manner = Omit<Catalogue, 'entries' | 'on' | 'kept' | 'anywhere' | 'render'> & {
  anywhere?: string[]
  render(e: Entry, world: ServedWorld): string
  more?: (e: Entry, world: ServedWorld) => Record<string, string | string[] | undefined>
}

const split = (s: string): string[] => s.split(' ')
const SHELF: Manner = {
  key: 'shelf',
  host: 'shelf.example',
  title: 'Halverane Shelf Catalogue',
  description:
    'Books, chapters, theses, recordings, e-books and print journals of the home library, with branch and call number.',
  schema: 'marcxml',
  indexes: split('title author subject year language type isbn issn doi'),
  sort: split('year title author'),
  facets: split('type subject'),
  truncation: true,
  proximity: false,
  scan: true,
  window: 2000,
  render: e => toMarcXml(e),
  also: HILL_SHELVES,
}
const MANNERS: Manner[] = [
  {
    key: 'broadleaf',
    host: 'broadleaf.example',
    title: 'Broadleaf Index',
    description:
      'Articles, magazine and newspaper pieces of many subjects, with author keywords and subject terms. Some with full text.',
    schema: 'mods',
    indexes: split('title author abstract subject keyword journal year language type doi issn'),
    sort: split('year title author'),
    facets: split('year type language journal subject'),
    truncation: true,
    proximity: true,
    scan: true,
    window: 1000,
    render: e => toMods(e, 'broadleaf'),
  },
  {
    key: 'lampyr',
    host: 'lampyr.example',
    title: 'Lampyr Abstracts',
    description:
      'Ecology and entomology: descriptions with references and grants, no full text. New items appear weeks after their publication.',
    schema: 'mods',
    indexes: split('title author abstract subject keyword journal year language type doi funder'),
    sort: split('year title author'),
    facets: split('year type journal subject author'),
    truncation: true,
    proximity: true,
    scan: true,
    window: 2000,
    render: (e, w) =>
      toMods(e, 'lampyr', { references: true, ...(e.work.grant ? { grant: grantLine(w, e.work.grant) } : {}) }),
    more: (e, w) => (e.work.grant ? { funder: grantLine(w, e.work.grant) } : {}),
  },
  {
    key: 'vigil',
    host: 'vigil.example',
    title: 'Vigil Health Abstracts',
    description:
      'Health, sleep and shift work, with structured abstracts. It cannot truncate, and shows the first 200 records of an answer.',
    schema: 'dc',
    indexes: split('title author abstract subject year type doi'),
    sort: split('year'),
    facets: [],
    truncation: false,
    proximity: false,
    scan: true,
    window: 200,
    render: toDublinCore,
  },
  {
    key: 'civic',
    host: 'civic.example',
    title: 'Civic Paper File',
    description:
      'Planning, lighting policy, reports and trade magazines. Descriptions are short and sometimes in capitals.',
    schema: 'dc',
    indexes: split('title author subject year type doi'),
    sort: [],
    facets: [],
    truncation: false,
    proximity: false,
    scan: false,
    window: 500,
    render: toDublinCore,
  },
  {
    key: 'vault',
    host: 'vault.example',
    title: 'Old Press Vault',
    description:
      'Back runs of journals from their first issue, searched page by page in full. A wall of four years; no abstracts.',
    schema: 'mods',
    indexes: split('title author journal year language type doi issn text'),
    anywhere: split('title author journal text'),
    sort: split('year title'),
    facets: split('year journal'),
    truncation: true,
    proximity: true,
    scan: false,
    window: 1000,
    render: e => toMods(e, 'vault'),
    more: (e, w) => ({ text: fullText(w, e.work) }),
  },
  {
    key: 'fennmark',
    host: 'fennmark.example',
    title: 'Fennmark Open Repository',
    description: 'Preprints, accepted manuscripts and theses that anyone may read, some under embargo.',
    schema: 'dc',
    indexes: split('title author abstract subject year type doi'),
    sort: split('year'),
    facets: split('year type'),
    truncation: true,
    proximity: false,
    scan: false,
    window: 1000,
    render: toDublinCore,
  },
  SHELF,
]

/** What partners of the home library have, in one catalogue of them all. */
export const unionCatalogue = (world: ServedWorld): Catalogue => {
  const { also: _, ...manner } = SHELF
  return make(world, { ...manner, ...UNION, render: e => toUnionMarc(e, world.day) }, unionEntries(world))
}

const grantLine = (world: ServedWorld, id: string): string => {
  const g = world.facts.grants.find(x => x.id === id)
  return g ? `${g.funder}, ${g.id}` : id
}

export const makeCatalogues = (world: ServedWorld): Catalogue[] =>
  MANNERS.map(m => make(world, m, entriesOf(world, m.key)))

function make(world: ServedWorld, { more, render, ...m }: Manner, entries: Entry[]): Catalogue {
  const names: Record<string, string[]> = {
    '': m.anywhere ?? m.indexes.filter(i => !['year', 'language', 'type', 'doi', 'isbn', 'issn'].includes(i)),
  }
  for (const i of m.indexes) if (i !== 'year') names[i] = [i]
  const index = kept(world, m.key, () => {
    const b = new IndexBuilder()
    for (const e of entries) b.add({ ...searchFields(e), ...more?.(e, world) })
    return b.freeze()
  })
  return {
    ...m,
    anywhere: names['']!,
    entries,
    render: (e: Entry) => render(e, world),
    on: { index, names, numbers: { year: Float64Array.from(entries, e => e.how.year ?? yearOf(e)) } },
    kept: new KeptAnswers(),
  }
}

/** Every description that the catalogues hold, as they send it. */
export function* descriptions(
  world: ServedWorld,
): Generator<{ entry: Entry; schema: Catalogue['schema']; xml: string }> {
  for (const m of MANNERS)
    for (const entry of entriesOf(world, m.key))
      if (!entry.journal) yield { entry, schema: m.schema, xml: m.render(entry, world) }
}

export const yearOf = (e: Entry): number =>
  e.journal
    ? e.journal.since
    : e.deposit && e.deposit.version !== 'version of record'
      ? Number(e.deposit.from.slice(0, 4))
      : e.work.year

function entriesOf(world: ServedWorld, key: string): Entry[] {
  const out: Entry[] = []
  for (const work of world.works) {
    const how = work.catalogues[key]
    if (!how) continue
    if (key === 'fennmark')
      for (const deposit of work.deposits) out.push({ id: `fnm-${deposit.id}`, from: deposit.from, how, work, deposit })
    else out.push({ id: `${key.slice(0, 2)}-${work.id}`, from: how.from, how, work })
  }
  if (key === 'shelf')
    for (const journal of world.facts.venues)
      if (journal.print)
        out.push({
          id: `sh-${journal.code}`,
          from: '1900-01-01',
          how: { from: '1900-01-01' },
          work: world.works[0]!,
          journal,
        })
  return out
}

/** An index computed once is kept beside the world it belongs to. */
function kept(world: ServedWorld, key: string, build: () => FrozenIndex): FrozenIndex {
  if (!world.folder) return build()
  const path = join(world.folder, `index-${key}.bin`)
  const stamp = `${world.stamp}/${TOKENISER_VERSION}/${INDEX_VERSION}`
  if (existsSync(path)) {
    const have = deserialize(readFileSync(path)) as { stamp: string; index: FrozenIndex }
    if (have.stamp === stamp) return have.index
  }
  const index = build()
  writeFileSync(`${path}.part`, serialize({ stamp, index }))
  renameSync(`${path}.part`, path)
  return index
}
