import type { InferType } from 'yup'
import { accountsApi } from './accounts'
import { deskApi } from './desk'
import { followApi } from './follow'
import type { AnswerOf } from './endpoint'
import { librariesApi } from './libraries'
import { loansApi } from './loans'
import { gatherApi, losses } from './gather'
import { inquiriesApi, job } from './inquiries'
import { planApi } from './plan'
import { poolApi } from './pool'
import { composeApi } from './compose'
import { obtainApi, recognised } from './obtain'
import { passage, readApi } from './read'
import { standingApi } from './standing'
import { stylesApi } from './styles'
import { traceApi } from './trace'
import { listsApi } from './trace-lists'
import { vocabulariesApi } from './vocabularies'

/** Every address of the API, by the name of what it does. */
export const api = {
  ...accountsApi,
  ...deskApi,
  ...librariesApi,
  ...loansApi,
  ...inquiriesApi,
  ...gatherApi,
  ...vocabulariesApi,
  ...planApi,
  ...poolApi,
  ...traceApi,
  ...followApi,
  ...standingApi,
  ...listsApi,
  ...obtainApi,
  ...readApi,
  ...composeApi,
  ...stylesApi,
}
export type Api = typeof api
/** What an address answers. @example Answer<'work'> */
export type Answer<N extends keyof Api> = AnswerOf<Api[N]>

export type Job = InferType<typeof job>
export type LossAccount = InferType<typeof losses>
export type Passage = InferType<typeof passage>
export type Recognised = InferType<typeof recognised>
export { job as jobShape, losses as lossesShape }

/** What stands in answers, by the names that pages use. */
export type Inquiry = Answer<'inquiries'>[number]
export type InquiryInFull = Answer<'inquiry'>
export type Numbers = Inquiry['numbers']
export type Work = Answer<'work'>
export type Strand = Answer<'strands'>[number]
export type PoolView = Answer<'views'>[number]
export type Twins = Answer<'twins'>[number]
export type Check = Answer<'beginCheck'>
export type Checks = Answer<'checks'>
export type Arrival = Answer<'arrivals'>[number]
export type SavedSheet = Answer<'sheet'>
export type Sweep = Answer<'sweeps'>[number]
export type SweepCatalogue = Sweep['catalogues'][number]
export type FoundRecord = Answer<'foundRecords'>[number]
export type Pooled = Answer<'bring'>
export type Standing = Answer<'standing'>[number]
export type Counts = Answer<'counts'>
export type ImportRow = Answer<'imports'>[number]
export type GraphAnswer = Answer<'graph'>
export type PlanInFull = Answer<'plan'>
export type RoundPlan = Answer<'planRound'>
export type WalkedRound = GraphAnswer['rounds'][number]
export type WorkTrail = Answer<'trailOf'>
export type Obtainable = Answer<'ways'>[number]
export type Loan = Answer<'loans'>['loans'][number]
export type LoanDraft = Answer<'draftLoans'>
export type Gate = Answer<'gates'>[number]
export type Libraries = Answer<'libraries'>
export type LibraryInFull = Answer<'library'>
export type Copy = Answer<'copy'>
export type CopyInParts = Answer<'copyParts'>
export type Bibliography = Answer<'bibliography'>
export type BibliographyEntry = Bibliography['entries'][number]
export type Desk = Answer<'desk'>
export type Account = Answer<'accounts'>[number]
