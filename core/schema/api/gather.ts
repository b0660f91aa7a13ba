import { array, boolean, number, object, string, type InferType, type Schema } from 'yup'
import type { Abilities } from '../../query/abilities'
import type { Harvested } from '../../query/harvest'
import type { Sheet } from '../../query/sheet'
import { sheetShape } from '../sheet'
import { importReport, item, kind, state, yearCount } from './core-shapes'
import { BYTES, endpoint } from './endpoint'
import { begun } from './inquiries'
import {
  day,
  flag,
  like,
  list,
  maybe,
  moment,
  oneOf,
  orNull,
  pair,
  real,
  rowId,
  shape,
  text,
  uuid,
  whole,
} from './parts'

const sheet = sheetShape as unknown as Schema<Sheet>
const savedSheet = shape({
  sheet,
  version: whole(),
  /** Words of the question that can become concepts. */
  offered: list(text()),
})

const ofCatalogue = {
  catalogue: text(),
  asked: orNull(text()),
  changes: list(text()),
  state: oneOf(['waiting', 'asking', 'done', 'failed']),
  count: orNull(whole()),
  fetched: whole(),
  /** Of those fetched, how many could not be read. */
  unread: whole(),
  error: orNull(text()),
}
const sweepFields = {
  id: whole(),
  query: text(),
  cql: text(),
  repairs: list(text()),
  deskDay: day(),
  name: orNull(text()),
  note: orNull(text()),
  standingId: orNull(whole()),
  /** Records that no earlier run of its standing sweep had; null where it is none, or the first run. */
  foundNew: orNull(whole()),
  toldAt: orNull(moment()),
  at: moment(),
}
const sweep = shape({ ...sweepFields, catalogues: list(shape({ ...ofCatalogue, name: text() })) })
const foundRecord = shape({
  id: whole(),
  catalogue: text(),
  item,
  kind,
  confidence: real(),
  work: orNull(whole()),
  state: orNull(state),
  /** No earlier run of its standing sweep had it. */
  isNew: flag(),
  /** The home library reaches it today. */
  within: flag(),
  pages: orNull(real()),
  refereed: orNull(flag()),
  perYear: orNull(real()),
})
/** What is asked of catalogues for counting: a query, and which of them; all where none is named. */
const counting = object({
  query: string().max(5000).required(),
  catalogues: array(string().max(60).required()).max(60),
})
export const counts = shape({
  counts: list(shape({ catalogue: text(), count: orNull(whole()), changes: list(text()), error: orNull(text()) })),
  least: whole(),
  most: whole(),
})
const tally = list(shape({ value: text(), n: whole() }))
const losses = shape({
  counts: list(shape({ catalogue: text(), count: orNull(whole()), changes: list(text()), error: orNull(text()) })),
  least: whole(),
  most: whole(),
  /** Works that were looked at. */
  looked: whole(),
  /** They are all of them. */
  exact: flag(),
  reach: shape({ of: whole(), within: whole(), interval: orNull(pair()) }),
  kinds: tally,
  languages: tally,
  years: tally,
  examples: list(shape({ item, kind, within: flag() })),
})
const abilities = like<Abilities>()({
  indexes: maybe(list(text())),
  truncation: flag(),
  proximity: flag(),
  scan: maybe(flag()),
  facets: maybe(list(text())),
  atOnce: maybe(whole()),
  window: maybe(whole()),
})
const harvested = like<Harvested>()({
  text: text(),
  from: oneOf(['keyword', 'subject', 'title']),
  wanted: whole(),
  others: whole(),
  z: real(),
})
/** Whose words are wanted, where not those of the kept works. */
const HARVESTS = ['missed', 'aside'] as const
export type HarvestOf = (typeof HARVESTS)[number]
const differing = list(shape({ id: whole(), title: orNull(text()), catalogue: text() }))
const repair = object().defined()

/** What came of bringing records into the pool. */
export const pooled = shape({
  records: whole(),
  newWorks: whole(),
  /** Works the pool had already that these records describe. */
  known: whole(),
  /** Pairs to be looked at by the student. */
  asked: whole(),
  /** The arrival by which they can be found again; null where nothing came in. */
  arrival: orNull(whole()),
})

const importRow = shape({
  id: whole(),
  inquiryId: whole(),
  fileName: text(),
  hash: text(),
  state: oneOf(['waiting', 'done', 'refused']),
  at: moment(),
  report: orNull(importReport),
})
/** Decided while bringing in. */
export const decideWhileBringing = object({
  group: uuid.required(),
  choice: string()
    .oneOf(['keep', 'set aside'] as const)
    .required(),
  reason: string().trim().max(500).nullable(),
})

export const gatherApi = {
  sheet: endpoint('GET', '/inquiries/:inquiry/sheet', {
    does: 'The question sheet, with its version as ETag.',
    answer: savedSheet,
  }),
  saveSheet: endpoint('PUT', '/inquiries/:inquiry/sheet', {
    does: 'Saves the question sheet.',
    body: sheet,
    answer: savedSheet,
    ifMatch: true,
  }),
  sweeps: endpoint('GET', '/inquiries/:inquiry/sweeps', { does: 'All sweeps, the latest first.', answer: list(sweep) }),
  beginSweep: endpoint('POST', '/inquiries/:inquiry/sweeps', {
    does: 'Asks catalogues, as a job.',
    status: 202,
    body: object({
      query: string().max(5000, 'A query may have 5,000 letters.').required('Type at least one word.'),
      catalogues: array(string().required()).min(1, 'Choose at least one catalogue.').required(),
    }),
    answer: shape({ id: whole(), job: whole(), repairs: list(repair) }),
  }),
  changeSweep: endpoint('PATCH', '/inquiries/:inquiry/sweeps/:sweep', {
    does: 'Names a sweep, or notes something on it.',
    body: object({ name: string().trim().max(190).nullable(), note: string().trim().max(4000).nullable() }),
    answer: shape({ ...sweepFields, inquiryId: whole() }),
  }),
  fetchMore: endpoint('POST', '/inquiries/:inquiry/sweeps/:sweep/fetch', {
    does: 'Asks one catalogue of a sweep again, or for more records, as a job.',
    status: 202,
    body: object({ catalogue: string().required(), most: number().integer().min(1).max(5000) }),
    answer: begun,
  }),
  foundRecords: endpoint('GET', '/inquiries/:inquiry/sweeps/:sweep/records', {
    does: 'The records of a sweep, its catalogues taking turns.',
    answer: list(foundRecord),
  }),
  unreadRecords: endpoint('GET', '/inquiries/:inquiry/sweeps/:sweep/unread', {
    does: 'The records of a sweep that could not be read, as they came: the first of each page.',
    answer: list(shape({ catalogue: text(), position: whole(), why: text(), raw: text() })),
  }),
  against: endpoint('GET', '/inquiries/:inquiry/sweeps/:sweep/against/:other', {
    does: 'What of a sweep another one did not find, and the other way round.',
    answer: shape({ came: differing, went: differing }),
  }),
  bring: endpoint('POST', '/inquiries/:inquiry/pool', {
    does: 'Brings records of a sweep into the pool: more than 1,000 as a job, and then only that is answered.',
    status: [201, 202],
    body: object({
      sweep: rowId.required(),
      records: array(rowId.required()),
      all: boolean(),
      decide: maybe(decideWhileBringing.default(undefined) as unknown as Schema<InferType<typeof decideWhileBringing>>),
    }),
    answer: object({
      job: number(),
      records: number(),
      newWorks: number(),
      known: number(),
      asked: number(),
      arrival: number().nullable(),
    }).noUnknown(),
  }),
  log: endpoint('GET', '/inquiries/:inquiry/log.csv', { does: 'The search log as a table.', answer: ['text/csv'] }),
  methods: endpoint('GET', '/inquiries/:inquiry/methods', {
    does: 'The search as a paragraph of methods.',
    answer: shape({ text: text() }),
  }),
  shares: endpoint('GET', '/inquiries/:inquiry/catalogue-shares', {
    does: 'What each catalogue adds to the pool and to the kept works.',
    answer: list(
      shape({
        catalogue: text(),
        name: text(),
        works: whole(),
        /** Sweeps in which it was asked; the most that it counted in one, and what went wrong in the last of them. */
        asked: whole(),
        found: whole(),
        failed: orNull(text()),
        onlyHere: whole(),
        kept: whole(),
        keptOnlyHere: list(shape({ id: whole(), title: text() })),
        shared: list(shape({ catalogue: text(), works: whole() })),
      }),
    ),
  }),
  counts: endpoint('POST', '/inquiries/:inquiry/counts', {
    does: 'What catalogues count for a query: asked while one waits, once a day, within a budget.',
    status: 200,
    body: counting,
    answer: counts,
    forReaders: true,
  }),
  years: endpoint('POST', '/inquiries/:inquiry/years', {
    does: 'The same by years, of the catalogues that count so.',
    status: 200,
    body: counting,
    answer: shape({ years: list(yearCount), told: list(text()) }),
    forReaders: true,
  }),
  spelling: endpoint('POST', '/inquiries/:inquiry/spelling', {
    does: 'The nearest words that the catalogues’ dictionaries have.',
    status: 200,
    body: object({ word: string().trim().max(80).required() }),
    answer: list(shape({ text: text(), count: whole() })),
    forReaders: true,
  }),
  catalogue: endpoint('POST', '/inquiries/:inquiry/catalogues/:catalogue', {
    does: 'What a catalogue holds and can be asked, by its own word.',
    status: 200,
    answer: shape({
      title: text(),
      description: maybe(text()),
      extent: maybe(text()),
      abilities,
      years: list(yearCount),
      subjects: tally,
      types: tally,
    }),
    forReaders: true,
  }),
  lookAtLosses: endpoint('POST', '/inquiries/:inquiry/losses', {
    does: 'Looks at what a rung takes away, as a job; its result is of the shape of `losses`.',
    status: 202,
    body: counting,
    answer: begun,
  }),
  harvest: endpoint('GET', '/inquiries/:inquiry/harvest', {
    does: 'Words that set works apart: the kept ones from the rest; kept ones that no sweep met from what sweeps met; those set aside from the kept ones. Or all words of one work.',
    query: object({ work: rowId, of: string().oneOf(HARVESTS) }),
    /** How many works are wanted, and how many others there are. */
    answer: shape({ wanted: whole(), others: whole(), words: list(harvested) }),
  }),
  imports: endpoint('GET', '/inquiries/:inquiry/imports', {
    does: 'The files that were brought, the latest first.',
    answer: list(importRow),
  }),
  import: endpoint('GET', '/inquiries/:inquiry/imports/:import', { does: 'One of them.', answer: importRow }),
  bringFile: endpoint('POST', '/inquiries/:inquiry/imports', {
    does: 'Reads a bibliography into the pool, as a job.',
    status: 202,
    body: BYTES,
    most: 20 * 1024 * 1024,
    answer: shape({ id: whole(), job: whole() }),
  }),
  importAgain: endpoint('POST', '/inquiries/:inquiry/imports/:import/again', {
    does: 'Reads once more what was refused or given up.',
    status: 202,
    answer: shape({ id: whole(), job: whole() }),
  }),
  paste: endpoint('POST', '/inquiries/:inquiry/pasted', {
    does: 'Looks up lines with DOIs, ISBNs, references or links, as a job.',
    status: 202,
    body: object({ text: string().max(200_000).required('Paste at least one line.') }),
    answer: shape({ id: whole(), job: whole() }),
  }),
  followLead: endpoint('POST', '/inquiries/:inquiry/works/:work/lead', {
    does: 'Looks up what a work leads to, as a job.',
    status: 202,
    answer: shape({ job: whole(), title: text() }),
  }),
}
export { losses }
