import { array, boolean, mixed, number, object, string, type Schema } from 'yup'
import { KINDS } from '../../appraise/kind'
import type { Lead } from '../../appraise/leads'
import type { Signs } from '../../appraise/signs'
import { REACHES } from '../../access/reach'
import { LOAN_KINDS } from '../../access/loan'
import { WAYS, type Route, type Tried } from '../../access/routes'
import { ENDS } from '../../access/walk'
import type { Facts, Grant, Item, Name } from '../../bib/item'
import type { RichRun } from '../../cite/rich-text'
import type { ImportReport } from '../../formats/report'
import type { Stretch } from '../../bib/sentences'
import type { CitingSentence } from '../../pdftext/cited-sentence'
import type { Proof } from '../../match/proof'
import type { YearCount } from '../../query/years'
import { PASSES } from '../../sift/decisions'
import type { Deed, LineFacts, WorkLine } from '../../sift/line'
import { PARTS, type Said } from '../../sift/marks'
import type { BriefRules, RuleAnswer } from '../../write/rules'
import { ANNOTATION_PARTS } from '../../write/annotation-parts'
import { LINES, LOOKS, TOGETHER, type Citing, type Mark } from '../../write/written'
import { bag, flag, like, list, maybe, moment, oneOf, orNull, real, rowId, shape, text, whole } from './parts'

export const STATES = ['unread', 'kept', 'set aside', 'later'] as const
export const OUTCOMES = ['proved', 'doubtful', 'not this work'] as const
const VERSIONS = ['preprint', 'accepted manuscript', 'version of record', 'translation'] as const

/** CSL-JSON: what stands in it is the standard's affair (core/schema/csl-data.ts checks it where it comes in). */
export const item = object({ id: text(), type: text() }).defined() as unknown as Schema<Item>
/** Parts of an item, as they could be read. */
export const partOfItem: Schema<Partial<Item>> = mixed<Partial<Item>>(
  (v): v is Partial<Item> => typeof v === 'object' && v !== null,
).defined()
export const personName = mixed<Name>((v): v is Name => typeof v === 'object' && v !== null).defined()
export const grant = like<Grant>()({ number: string(), funder: string(), title: string(), said: string() })
const update = shape({ doi: text(), type: text() })
export const facts = like<Facts>()({
  genre: string(),
  refereedVenue: maybe(flag()),
  version: maybe(oneOf(VERSIONS)),
  otherTitles: maybe(list(text())),
  keywords: maybe(list(text())),
  subjects: maybe(list(text())),
  languageTold: string(),
  pageCount: number(),
  referenceCount: number(),
  citedByCount: number(),
  field: string(),
  openUrl: string(),
  embargoUntil: string(),
  authorIds: maybe(list(shape({ name: personName, id: text() }))),
  grants: maybe(list(grant)),
  data: maybe(list(object({ doi: string(), address: string(), title: string() }).noUnknown())),
  dataOf: maybe(list(text())),
  updatedBy: maybe(list(update)),
  updates: maybe(list(update)),
  licence: string(),
  shelf: maybe(list(object({ branch: text(), call: text(), note: string() }).noUnknown())),
  runs: maybe(list(text())),
})
export const kind = oneOf(KINDS)
export const state = oneOf(STATES)
const pass = oneOf(PASSES)

const lineFacts = {
  title: text(),
  authors: text(),
  container: text(),
  year: orNull(whole()),
  doi: orNull(text()),
  pages: orNull(text()),
  pageCount: orNull(real()),
  citedBy: orNull(whole()),
  references: orNull(whole()),
  language: orNull(text()),
  hasAbstract: flag(),
  people: list(text()),
  subjects: list(text()),
} satisfies Record<Exclude<keyof LineFacts, 'access'>, Schema>
export const lineFields = {
  id: whole(),
  ...lineFacts,
  kind: text(),
  confidence: real(),
  perYear: orNull(real()),
  state,
  pass: orNull(pass),
  reason: orNull(text()),
  decidedAt: orNull(moment()),
  reach: oneOf(REACHES),
  part: orNull(oneOf(PARTS)),
  strands: list(whole()),
  tags: list(text()),
  hasNote: flag(),
  ownKind: flag(),
  sources: list(text()),
  sweeps: list(whole()),
  arrivals: list(text()),
}
/** A work of a pool as a record line. */
export const workLine = like<WorkLine>()(lineFields)

export const said = like<Said>()({
  part: maybe(oneOf(PARTS)),
  note: string(),
  kind: maybe(kind),
  strands: maybe(list(whole())),
  tags: maybe(list(text())),
  fields: maybe(bag()),
  copies: maybe(bag()),
  right: maybe(list(text())),
})
export const signs = like<Signs>()({
  label: string(),
  refereed: maybe(flag()),
  draft: maybe(flag()),
  unrefereed: maybe(flag()),
  sections: maybe(list(text())),
})
export const lead = like<Lead>()({
  what: oneOf(['the book it reviews', 'the book it stands in', 'the item it corrects']),
  title: text(),
  author: string(),
})
const tried = like<Tried>()({
  ended: oneOf(ENDS),
  said: text(),
  on: text(),
  day: text(),
  opens: string(),
  again: string(),
  terms: maybe(shape({ host: text(), text: text() })),
  chapters: maybe(list(shape({ url: text(), text: text() }))),
})
export const route = like<Route>()({
  way: oneOf(WAYS),
  version: oneOf(VERSIONS),
  from: text(),
  url: string(),
  evidence: text(),
  expected: text(),
  likely: real(),
  asks: text(),
  library: maybe(shape({ key: text(), name: text() })),
  partner: string(),
  hand: maybe(flag()),
  loan: maybe(shape({ kind: oneOf(LOAN_KINDS), from: text(), to: text(), askBy: string() })),
  shelf: maybe(
    shape({
      ...{ branch: text(), call: text(), room: string(), note: string() },
      /** The volume or the book in which it is, and where. */
      within: string(),
      /** What was said of its copies, the day of that, whether all of them are out, and whether it is read there. */
      ...{ said: string(), day: string(), out: maybe(flag()), stays: maybe(flag()) },
    }),
  ),
  walked: maybe(tried),
  was: maybe(shape({ evidence: text(), expected: text(), likely: real(), asks: text() })),
})
export const proof = like<Proof>()({
  outcome: oneOf(OUTCOMES),
  evidence: list(shape({ holds: flag(), said: text() })),
  score: maybe(real()),
  really: string(),
  other: maybe(whole()),
  version: maybe(oneOf(VERSIONS)),
})
export const deed = like<Deed>()({
  at: moment(),
  who: orNull(text()),
  what: oneOf(['decision', 'mark', 'undo', 'arrival', 'sweep', 'check']),
  group: orNull(text()),
  undone: flag(),
  works: whole(),
  first: orNull(shape({ id: whole(), title: text() })),
  detail: bag(),
})
export const rules = like<BriefRules>()({
  entriesWanted: maybe(orNull(whole())),
  refereedAtLeast: maybe(orNull(whole())),
  recentAtLeast: maybe(orNull(whole())),
  recentYears: maybe(orNull(whole())),
  booksAtMost: maybe(orNull(whole())),
  journalAtMost: maybe(orNull(whole())),
  perStrand: maybe(orNull(whole())),
  primaryAtLeast: maybe(orNull(whole())),
  primaryKinds: maybe(orNull(list(kind))),
  wordsFrom: maybe(orNull(whole())),
  wordsTo: maybe(orNull(whole())),
  languages: maybe(orNull(list(text()))),
  notBefore: maybe(orNull(whole())),
  kindsOut: maybe(orNull(list(kind))),
  parts: maybe(orNull(list(oneOf(ANNOTATION_PARTS)))),
})
export const ruleAnswer = like<RuleAnswer>()({
  rule: text(),
  verdict: oneOf(['holds', 'short', 'over', 'unsure']),
  have: whole(),
  want: whole(),
  said: text(),
  counting: list(whole()),
  lacking: maybe(list(whole())),
})
export const richRun = like<RichRun>()({
  text: text(),
  italic: maybe(flag()),
  bold: maybe(flag()),
  smallCaps: maybe(flag()),
  underlined: maybe(flag()),
  raised: maybe(oneOf(['super', 'sub'])),
  link: string(),
})
export const yearCount = like<YearCount>()({ year: whole(), n: whole() })
export const importReport = like<ImportReport>()({
  format: orNull(text()),
  read: whole(),
  newWorks: whole(),
  mended: list(shape({ line: whole(), title: text(), said: list(text()) })),
  refused: list(shape({ line: whole(), why: text(), excerpt: text() })),
  found: maybe(list(shape({ line: whole(), asked: text(), title: text(), where: text(), doubt: maybe(text()) }))),
  mendedInAll: maybe(whole()),
  refusedInAll: maybe(whole()),
  final: maybe(flag()),
})

/** Where a text cites an entry of its list: the page of the file, the sentence, and the citation within it. */
const place = {
  page: whole(),
  said: text(),
  at: like<Stretch>()({ from: whole(), to: whole() }),
}
export const citingSentence = like<CitingSentence>()(place)
/** The same with the printed number of its page. */
export const labelledPlace = like<CitingSentence & { label: string }>()({ ...place, label: text() })

/** A work as it is cited in a text. */
const citing = like<Citing>()({
  work: whole(),
  page: text(),
  named: flag(),
  also: maybe(list(shape({ work: whole(), page: text() }))),
})
const MARKS = [...LOOKS, ...LINES, 'cites'] as const
/** What a stretch of a text is. */
export const mark = like<Mark>()({ from: whole(), to: whole(), is: oneOf(MARKS), cites: maybe(citing) })
/** How a citation reads in the style, and the works it is of now: one that was cited may have been joined into another. */
export const cited = shape({ citing, works: list(whole()), text: text(), raised: flag() })
const placeGiven = {
  work: rowId.required('Say which work is cited.'),
  page: string().trim().max(40, 'A page may have 40 letters.').defined(),
}
/** What a citation cites, as a client gives it. */
export const citingGiven = object({
  ...placeGiven,
  named: boolean().required(),
  also: array(object(placeGiven).required())
    .max(TOGETHER - 1, `One citation may have ${TOGETHER} works.`)
    .default(undefined)
    .optional(),
})
/** Marks as a client gives them. */
export const marksGiven = array(
  object({
    from: number().integer().min(0).required(),
    to: number().integer().min(0).required(),
    is: string<Mark['is']>().oneOf(MARKS).required('Say what the stretch is.'),
    cites: citingGiven.default(undefined).optional(),
  }).required(),
)
  .max(5000, 'A text may have 5,000 marks.')
  .default([])

/** An entry of a bibliography, as its row is. */
export const entry = shape({
  id: whole(),
  inquiryId: whole(),
  workId: whole(),
  annotation: text(),
  marks: list(mark),
  place: orNull(whole()),
  version: whole(),
  at: moment(),
})
