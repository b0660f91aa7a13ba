import type { Facts, Item } from '../../core/bib/item'
import type { Route } from '../../core/access/routes'
import type { RichRun } from '../../core/cite/rich-text'
import type { Proof } from '../../core/match/proof'
import type { State } from '../../core/sift/decisions'
import type { Lead } from '../../core/appraise/leads'
import type { Signs } from '../../core/appraise/signs'
import type { Limits } from '../../core/sift/limits'
import type { Changes, Deed, WorkLine } from '../../core/sift/line'
import type { Said } from '../../core/sift/marks'
import type { BriefRules, RuleAnswer } from '../../core/write/rules'

export type { Changes, Deed, WorkLine }

export interface Numbers {
  rules: number
  found: [number, number]
  unread: number
  kept: number
  pool: number
  trails: number
  inHand: number
  read: number
  annotated: number
  entries: number
}
export interface Inquiry {
  id: number
  title: string
  question: string
  due: string
  zone: string
  style: string
  rules: BriefRules
  query: string
  revision: number
  version: number
  today: string
  daysLeft: number
  numbers: Numbers
  role: 'owner' | 'reader'
}
export interface InquiryInFull extends Inquiry {
  styles: { id: string; name: string }[]
  catalogues: { id: string; name: string }[]
  library: string
}
export interface Strand {
  id: number
  name: string
  place: number
}
export interface PoolView {
  id: number
  name: string
  limits: Limits
  words: string
}
export interface Work extends WorkLine {
  item: Item
  facts: Facts
  fieldFrom: Record<string, number>
  evidence: string[]
  said: Said
  signs: Signs
  /** What the evidence says, where the student says otherwise. */
  judged: { kind: string; confidence: number } | null
  lead: Lead | null
  linked: { work: number; title: string; kind: string; year: number | null }[]
  records: { id: number; source: string; item: Item; facts: Facts; raw: string; format: string; at: string }[]
  asked: { record: number; work: number; source: string; item: Item }[]
  routes: { routes: Route[]; closed: string[]; at: string } | null
  copies: { id: number; outcome: Proof['outcome']; version: string; origin: string; proof: Proof; pages: number }[]
  attempts: { id: number; url: string; outcome: string; said: string; at: string }[]
  passages: Passage[]
  entry: { id: number; annotation: string; version: number } | null
  trails: { direction: string; total: number }[]
  history: Deed[]
}
export interface SweepCatalogue {
  catalogue: string
  name: string
  asked: string | null
  changes: string[]
  state: 'waiting' | 'asking' | 'done' | 'failed'
  count: number | null
  fetched: number
  error: string | null
}
export interface Sweep {
  id: number
  query: string
  cql: string
  repairs: string[]
  deskDay: string
  name: string | null
  note: string | null
  standingId: number | null
  /** Records that no earlier run of its standing sweep had; null where it is none, or the first run. */
  foundNew: number | null
  at: string
  catalogues: SweepCatalogue[]
}
export interface Standing {
  id: number
  name: string
  query: string
  catalogues: string[]
  everyDays: number
  nextDay: string
  mails: boolean
  paused: boolean
  feed: string
  runs: { id: number; deskDay: string; foundNew: number | null; at: string; toldAt: string | null }[]
}
export interface FoundRecord {
  id: number
  catalogue: string
  item: Item
  kind: string
  confidence: number
  work: number | null
  state: State | null
  /** No earlier run of its standing sweep had it. */
  isNew: boolean
  /** The home library reaches it today. */
  within: boolean
  pages: number | null
  refereed: boolean | null
  perYear: number | null
}
export interface ImportRow {
  id: number
  fileName: string
  state: 'waiting' | 'done' | 'refused'
  at: string
  report: {
    format: string | null
    read: number
    newWorks: number
    mended: { line: number; title: string; said: string[] }[]
    refused: { line: number; why: string; excerpt: string }[]
    mendedInAll?: number
    refusedInAll?: number
  } | null
}
export interface Job {
  id: number
  kind: 'sweep' | 'standing' | 'pool' | 'import' | 'paste' | 'routes' | 'retrieval'
  state: 'queued' | 'running' | 'done' | 'failed' | 'cancelled'
  progress: Record<string, unknown>
  result: Record<string, unknown> | null
  error: string | null
  payload: Record<string, unknown>
  cancelAsked: boolean
}
export interface Neighbour {
  key: string
  item: Item
  kind: string
  confidence: number
  citedBy: number | null
  perYear: number | null
  work: number | null
}
export interface Trail {
  total: number
  from: string
  neighbours: Neighbour[]
}
export interface Obtainable extends WorkLine {
  routes: Route[] | null
  closed: string[]
  trouble: string | null
  copies: { id: number; outcome: Proof['outcome']; version: string; pages: number; said: string[] }[]
}
export interface Gate {
  library: string
  terms: string
  until: string | null
}
export interface Passage {
  id: number
  workId: number
  copyId: number
  page: number
  label: string
  kind: 'quoted' | 'in my words'
  quote: string
  note: string
  /** The id that its window gave it. */
  ownId?: string | null
}
export interface Copy {
  id: number
  work: number
  title: string
  outcome: Proof['outcome']
  version: string
  pages: number
  labels: string[]
  proof: Proof
  origin: string
  passages: Passage[]
}
export interface BibliographyEntry {
  id: number
  work: number
  title: string
  label: string | null
  citation: RichRun[]
  inText: string
  annotation: string
  version: number
  words: number
  kind: string
}
export interface Bibliography {
  style: string
  styles: { id: string; name: string }[]
  hangingIndent: boolean
  entries: BibliographyEntry[]
  rules: RuleAnswer[]
}
