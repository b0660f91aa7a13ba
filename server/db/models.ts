import { DataTypes as D, type Model, type ModelAttributes, type ModelStatic, type Sequelize } from 'sequelize'
import type { Facts, Item } from '../../core/bib/item'
import type { BriefRules } from '../../core/write/rules'
import type { Verdict } from '../../core/match/records'
import type { Sheet } from '../../core/query/sheet'
import { defineDeeds, type DeedRow } from '../deeds/deeds-model'
import { defineBlocks, type BlockRow } from '../pool/blocks'
import type { Pass, State } from '../../core/sift/decisions'
import type { Limits } from '../../core/sift/limits'
import type { LineFacts } from '../../core/sift/line'
import type { Said } from '../../core/sift/marks'
import type { Signs } from '../../core/appraise/signs'
import type { Evidence } from '../../core/appraise/kind'
import type { Proof } from '../../core/match/proof'
import type { Route } from '../../core/access/routes'

export interface UserRow {
  id: number
  email: string
  name: string
  passwordHash: string
  role: 'student' | 'administrator'
  /** The password was made by an administrator, and is for one sign-in. */
  mustChange: boolean
}
export interface InquiryRow {
  id: number
  title: string
  question: string
  due: string
  zone: string
  style: string
  rules: BriefRules
  query: string
  sheet: Sheet | null
  sheetVersion: number
  revision: number
  version: number
  at: Date
}
export interface MembershipRow {
  inquiryId: number
  userId: number
  role: 'owner' | 'reader'
}
export type JobState = 'queued' | 'running' | 'done' | 'failed' | 'cancelled'
export interface JobRow {
  id: number
  kind: string
  inquiryId: number | null
  userId: number | null
  payload: Record<string, unknown>
  state: JobState
  progress: Record<string, unknown>
  result: Record<string, unknown> | null
  error: string | null
  attempts: number
  /** How often its worker vanished without a word since it last got further. */
  losses: number
  claimedAt: Date | null
  cancelAsked: boolean
  worker: string | null
  runAfter: Date
  leaseUntil: Date | null
  at: Date
  changedAt: Date
}
export interface SweepRow {
  id: number
  inquiryId: number
  query: string
  cql: string
  repairs: string[]
  deskDay: string
  name: string | null
  note: string | null
  /** The standing sweep of which this is a run. */
  standingId: number | null
  /** Records that no earlier run had; null for the first run, which everything later is held against. */
  foundNew: number | null
  toldAt: Date | null
  at: Date
}
export interface StandingRow {
  id: number
  inquiryId: number
  userId: number | null
  name: string
  query: string
  catalogues: string[]
  everyDays: number
  /** Desk day of the next run. */
  nextDay: string
  mails: boolean
  paused: boolean
  /** Whoever has it can read the feed. */
  token: string
  at: Date
}
export interface CheckRow {
  id: number
  inquiryId: number
  userId: number | null
  /** The check's number in its inquiry, from 1. */
  n: number
  /** Works that were unread when it began. */
  size: number
  /** Ids of the works that were drawn, in the order drawn. */
  drawn: number[]
  deskDay: string
  at: Date
}
export interface SweepCatalogueRow {
  sweepId: number
  catalogue: string
  asked: string | null
  changes: string[]
  state: 'waiting' | 'asking' | 'done' | 'failed'
  count: number | null
  fetched: number
  error: string | null
}
export interface SweepHitRow {
  sweepId: number
  catalogue: string
  position: number
  recordId: number
  isNew: boolean
}
export interface ImportRow {
  id: number
  inquiryId: number
  fileName: string
  hash: string
  state: 'waiting' | 'done' | 'refused'
  report: ImportReport | null
  at: Date
}
export interface ImportReport {
  format: string | null
  read: number
  newWorks: number
  mended: { line: number; title: string; said: string[] }[]
  refused: { line: number; why: string; excerpt: string }[]
  /** How many there are, where more than are listed. */
  mendedInAll?: number
  refusedInAll?: number
}
export interface RecordRow {
  id: number
  inquiryId: number
  source: string
  sourceKey: string
  rawHash: string
  raw: string
  format: string
  item: Item
  facts: Facts
  workId: number | null
  /** How it came into the pool: an ArrivalRow. */
  arrival: number | null
  at: Date
}
/** One bringing of records into the pool. */
export interface ArrivalRow {
  id: number
  inquiryId: number
  userId: number | null
  how: 'sweep' | 'file' | 'trail'
  records: number
  newWorks: number
  known: number
  at: Date
}
export interface StrandRow {
  id: number
  inquiryId: number
  name: string
  place: number
  /** Taken away; its works' marks stay, so that it can come back. */
  gone: boolean
  at: Date
}
export interface PoolViewRow {
  id: number
  inquiryId: number
  name: string
  limits: Limits
  words: string
  at: Date
}
export interface PairLinkRow {
  inquiryId: number
  a: number
  b: number
  verdict: Verdict
  score: number
  decidedBy: 'identifier' | 'description' | 'student'
}
export interface WorkRow {
  id: number
  inquiryId: number
  successorId: number | null
  item: Item
  facts: Facts
  fieldFrom: Record<string, number>
  /** What a list shows of item and facts. */
  line: LineFacts
  kind: Evidence['kind']
  confidence: number
  evidence: string[]
  state: State
  pass: Pass | null
  reason: string | null
  decidedAt: Date | null
  said: Said | null
  /** Revision of the inquiry at which its line last changed. */
  revision: number
}
export interface TrailRow {
  workId: number
  inquiryId: number
  direction: 'references' | 'cited-by'
  total: number
  neighbours: string
  at: Date
}
export interface RouteRow {
  workId: number
  inquiryId: number
  routes: Route[]
  closed: string[]
  deskDay: string
  trouble: string | null
  at: Date
}
export interface CopyRow {
  id: number
  inquiryId: number
  workId: number
  hash: string
  origin: string
  outcome: Proof['outcome']
  version: string
  proof: Proof
  pages: number
  labels: string[]
  /** What its pages say of its kind; null for copies of before these were read. */
  signs: Signs | null
  at: Date
}
export interface AttemptRow {
  id: number
  workId: number
  url: string
  outcome: string
  said: string
  at: Date
}
export interface PassageRow {
  id: number
  inquiryId: number
  workId: number
  copyId: number
  page: number
  label: string
  kind: 'quoted' | 'in my words'
  quote: string
  note: string
  version: number
  /** The id that the client gave it, so that sending it twice makes one. */
  ownId: string | null
  at: Date
}
/** A file that was brought for a work and is not read yet. */
export interface UploadRow {
  id: number
  inquiryId: number
  workId: number
  hash: string
  name: string
  at: Date
}
/** What was answered to a request that can be sent again. */
export interface AnswerRow {
  userId: number
  answerKey: string
  requestHash: string
  inquiryId: number | null
  status: number
  body: Record<string, unknown>
  at: Date
}
export interface EntryRow {
  id: number
  inquiryId: number
  workId: number
  annotation: string
  version: number
  at: Date
}

export type Table<T extends object> = ModelStatic<Model<T, Partial<T>> & T>

const uint = D.INTEGER.UNSIGNED
const own = { type: uint, primaryKey: true, autoIncrement: true }
const key = { type: uint, primaryKey: true }
const at = D.DATE(3)

export interface Db {
  sequelize: Sequelize
  users: Table<UserRow>
  inquiries: Table<InquiryRow>
  memberships: Table<MembershipRow>
  jobs: Table<JobRow>
  sweeps: Table<SweepRow>
  sweepCatalogues: Table<SweepCatalogueRow>
  sweepHits: Table<SweepHitRow>
  standingSweeps: Table<StandingRow>
  imports: Table<ImportRow>
  records: Table<RecordRow>
  pairLinks: Table<PairLinkRow>
  works: Table<WorkRow>
  deeds: Table<DeedRow>
  blocks: Table<BlockRow>
  trails: Table<TrailRow>
  routes: Table<RouteRow>
  copies: Table<CopyRow>
  attempts: Table<AttemptRow>
  passages: Table<PassageRow>
  uploads: Table<UploadRow>
  answers: Table<AnswerRow>
  entries: Table<EntryRow>
  checks: Table<CheckRow>
  strands: Table<StrandRow>
  poolViews: Table<PoolViewRow>
  arrivals: Table<ArrivalRow>
}

const fresh = (columns: Record<string, unknown>): ModelAttributes =>
  Object.fromEntries(
    Object.entries(columns).map(([name, c]) => [
      name,
      typeof c === 'object' && c !== null && 'primaryKey' in c ? { ...c } : c,
    ]),
  ) as ModelAttributes

/** The tables as Sequelize models. Keys and constraints stand in the migrations, which alone define the schema. */
export function models(sequelize: Sequelize): Db {
  const table = <T extends object>(tableName: string, columns: Record<keyof T & string, unknown>): Table<T> =>
    // Sequelize writes into the descriptions it is given, so that no two columns may share one
    sequelize.define(tableName, fresh(columns), { tableName }) as unknown as Table<T>
  return {
    sequelize,
    users: table<UserRow>('users', {
      id: own,
      email: D.STRING,
      name: D.STRING,
      passwordHash: D.STRING,
      role: D.STRING,
      mustChange: D.BOOLEAN,
    }),
    inquiries: table<InquiryRow>('inquiries', {
      id: own,
      title: D.STRING,
      question: D.TEXT,
      due: D.DATEONLY,
      zone: D.STRING,
      style: D.STRING,
      rules: D.JSON,
      query: D.TEXT,
      sheet: D.JSON,
      sheetVersion: uint,
      revision: uint,
      version: uint,
      at,
    }),
    memberships: table<MembershipRow>('memberships', { inquiryId: key, userId: key, role: D.STRING }),
    jobs: table<JobRow>('jobs', {
      id: own,
      kind: D.STRING,
      inquiryId: uint,
      userId: uint,
      payload: D.JSON,
      state: D.STRING,
      progress: D.JSON,
      result: D.JSON,
      error: D.TEXT,
      attempts: uint,
      losses: uint,
      claimedAt: at,
      cancelAsked: D.BOOLEAN,
      worker: D.STRING,
      runAfter: at,
      leaseUntil: at,
      at,
      changedAt: at,
    }),
    sweeps: table<SweepRow>('sweeps', {
      id: own,
      inquiryId: uint,
      query: D.TEXT,
      cql: D.TEXT,
      repairs: D.JSON,
      deskDay: D.DATEONLY,
      name: D.STRING,
      note: D.TEXT,
      standingId: uint,
      foundNew: uint,
      toldAt: at,
      at,
    }),
    checks: table<CheckRow>('checks', {
      id: own,
      inquiryId: uint,
      userId: uint,
      n: uint,
      size: uint,
      drawn: D.JSON,
      deskDay: D.DATEONLY,
      at,
    }),
    standingSweeps: table<StandingRow>('standing_sweeps', {
      id: own,
      inquiryId: uint,
      userId: uint,
      name: D.STRING,
      query: D.TEXT,
      catalogues: D.JSON,
      everyDays: uint,
      nextDay: D.DATEONLY,
      mails: D.BOOLEAN,
      paused: D.BOOLEAN,
      token: D.STRING,
      at,
    }),
    sweepCatalogues: table<SweepCatalogueRow>('sweep_catalogues', {
      sweepId: key,
      catalogue: { type: D.STRING, primaryKey: true },
      asked: D.TEXT,
      changes: D.JSON,
      state: D.STRING,
      count: uint,
      fetched: uint,
      error: D.TEXT,
    }),
    sweepHits: table<SweepHitRow>('sweep_hits', {
      sweepId: key,
      catalogue: { type: D.STRING, primaryKey: true },
      position: key,
      recordId: uint,
      isNew: D.BOOLEAN,
    }),
    imports: table<ImportRow>('imports', {
      id: own,
      inquiryId: uint,
      fileName: D.STRING,
      hash: D.STRING,
      state: D.STRING,
      report: D.JSON,
      at,
    }),
    records: table<RecordRow>('records', {
      id: own,
      inquiryId: uint,
      source: D.STRING,
      sourceKey: D.STRING,
      rawHash: D.STRING,
      raw: D.TEXT,
      format: D.STRING,
      item: D.JSON,
      facts: D.JSON,
      workId: uint,
      arrival: uint,
      at,
    }),
    arrivals: table<ArrivalRow>('arrivals', {
      id: own,
      inquiryId: uint,
      userId: uint,
      how: D.STRING,
      records: uint,
      newWorks: uint,
      known: uint,
      at,
    }),
    strands: table<StrandRow>('strands', {
      id: own,
      inquiryId: uint,
      name: D.STRING,
      place: uint,
      gone: D.BOOLEAN,
      at,
    }),
    poolViews: table<PoolViewRow>('pool_views', {
      id: own,
      inquiryId: uint,
      name: D.STRING,
      limits: D.JSON,
      words: D.STRING,
      at,
    }),
    pairLinks: table<PairLinkRow>('pair_links', {
      inquiryId: uint,
      a: key,
      b: key,
      verdict: D.STRING,
      score: D.DOUBLE,
      decidedBy: D.STRING,
    }),
    works: table<WorkRow>('works', {
      id: key,
      inquiryId: uint,
      successorId: uint,
      item: D.JSON,
      facts: D.JSON,
      fieldFrom: D.JSON,
      line: D.JSON,
      kind: D.STRING,
      confidence: D.DOUBLE,
      evidence: D.JSON,
      state: D.STRING,
      pass: D.STRING,
      reason: D.STRING,
      decidedAt: at,
      said: D.JSON,
      revision: uint,
    }),
    deeds: defineDeeds(sequelize),
    blocks: defineBlocks(sequelize),
    trails: table<TrailRow>('trails', {
      workId: key,
      inquiryId: uint,
      direction: { type: D.STRING, primaryKey: true },
      total: uint,
      neighbours: D.TEXT,
      at,
    }),
    routes: table<RouteRow>('routes', {
      workId: key,
      inquiryId: uint,
      routes: D.JSON,
      closed: D.JSON,
      deskDay: D.DATEONLY,
      trouble: D.TEXT,
      at,
    }),
    copies: table<CopyRow>('copies', {
      id: own,
      inquiryId: uint,
      workId: uint,
      hash: D.STRING,
      origin: D.STRING,
      outcome: D.STRING,
      version: D.STRING,
      proof: D.JSON,
      pages: uint,
      labels: D.JSON,
      signs: D.JSON,
      at,
    }),
    attempts: table<AttemptRow>('attempts', {
      id: own,
      workId: uint,
      url: D.STRING,
      outcome: D.STRING,
      said: D.TEXT,
      at,
    }),
    passages: table<PassageRow>('passages', {
      id: own,
      inquiryId: uint,
      workId: uint,
      copyId: uint,
      page: uint,
      label: D.STRING,
      kind: D.STRING,
      quote: D.TEXT,
      note: D.TEXT,
      version: uint,
      ownId: D.STRING,
      at,
    }),
    uploads: table<UploadRow>('uploads', {
      id: own,
      inquiryId: uint,
      workId: uint,
      hash: D.STRING,
      name: D.STRING,
      at,
    }),
    answers: table<AnswerRow>('answers', {
      userId: key,
      answerKey: { type: D.STRING, primaryKey: true },
      requestHash: D.STRING,
      inquiryId: uint,
      status: uint,
      body: D.JSON,
      at,
    }),
    entries: table<EntryRow>('entries', {
      id: own,
      inquiryId: uint,
      workId: uint,
      annotation: D.TEXT,
      version: uint,
      at,
    }),
  }
}
