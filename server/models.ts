import type { Sequelize } from 'sequelize'
import type { Db } from './base/context'
import { users } from './accounts/accounts-model'
import { answers } from './serve/answers-model'
import { entries, listTexts, versions } from './compose/compose-model'
import { doiRegistrations } from './compose/registrations-model'
import { copies, copyMarks, copyPages, copyReferences, copyRights, copyScans } from './copies/copies-model'
import { deeds } from './deeds/deeds-model'
import { sweepCatalogues, sweepHits, sweeps, sweepUnread } from './gather/gather-model'
import { imports } from './imports/imports-model'
import { inquiries, memberships } from './inquiries/inquiries-model'
import { jobs } from './jobs/jobs-model'
import { acceptedTerms, attempts, authorLetters, awaited, routes, uploads, wayWalks } from './obtain/obtain-model'
import { blocks } from './pool/blocks'
import { arrivals, pairLinks, records, works } from './pool/pool-model'
import { pageTimes, worksRead } from './plan/plan-model'
import { passages } from './read/passages-model'
import { readingHeads, readingNotes } from './read/sheets-model'
import { checks, poolViews, strands } from './sift/sift-model'
import { followHits, follows } from './trace/follow-model'
import { citations, fieldYears, nodes, rounds, walks } from './trace/graph-model'
import { listEntries, lists } from './trace/list-model'
import { chosenLibraries, libraries, libraryHours, libraryTrials } from './library/libraries-model'
import { loanEvents, loans } from './loans/loans-model'
import { standing, trailNews } from './standing/standing-model'
import { ownStyles } from './styles/styles-model'
import { vocabularies, vocabularyConcepts, vocabularyWays } from './vocabularies/vocabularies-model'
import { modelOf } from './db/table'

const TABLES = {
  vocabularies,
  vocabularyConcepts,
  vocabularyWays,
  pageTimes,
  worksRead,
  loans,
  loanEvents,
  ownStyles,
  libraries,
  chosenLibraries,
  libraryTrials,
  libraryHours,
  users,
  inquiries,
  memberships,
  answers,
  jobs,
  sweeps,
  sweepCatalogues,
  sweepHits,
  sweepUnread,
  standing,
  trailNews,
  imports,
  records,
  arrivals,
  blocks,
  pairLinks,
  works,
  deeds,
  strands,
  poolViews,
  checks,
  rounds,
  nodes,
  citations,
  walks,
  fieldYears,
  follows,
  followHits,
  lists,
  listEntries,
  routes,
  copies,
  copyPages,
  copyRights,
  copyReferences,
  copyScans,
  copyMarks,
  acceptedTerms,
  attempts,
  wayWalks,
  awaited,
  authorLetters,
  uploads,
  passages,
  readingHeads,
  readingNotes,
  doiRegistrations,
  entries,
  listTexts,
  versions,
} satisfies Record<Exclude<keyof Db, 'sequelize'>, unknown>
/** The tables as Sequelize models, and how their rows belong together. */
export function models(sequelize: Sequelize): Db {
  const made = Object.entries(TABLES).map(([name, table]) => [name, modelOf(sequelize, table as typeof users)])
  const db = { sequelize, ...Object.fromEntries(made) } as Db
  // constraints are the migrations' own
  const of = (foreignKey: string, as: string) => ({ foreignKey, as, constraints: false })
  db.inquiries.hasMany(db.memberships, of('inquiryId', 'memberships'))
  db.sweeps.hasMany(db.sweepCatalogues, of('sweepId', 'catalogues'))
  db.standing.hasMany(db.sweeps, of('standingId', 'sweeps'))
  db.standing.hasMany(db.rounds, of('standingId', 'rounds'))
  db.entries.belongsTo(db.works, of('workId', 'work'))
  // works that were joined into others stay as rows that lead there
  db.works.addScope('living', { where: { successorId: null } })
  db.strands.addScope('standing', { where: { gone: false }, order: ['place', 'id'] })
  return db
}
