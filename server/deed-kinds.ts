import type { DeedKinds } from './deeds/deeds-service'
import { followDecisions } from './pool/decisions'
import { followMarks } from './pool/marks'
import { followPairs } from './pool/pairs'

/** All kinds of deeds, each with what follows of it. */
export const deedKinds: DeedKinds = { decision: followDecisions, mark: followMarks, pair: followPairs }
