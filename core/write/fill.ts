import type { BriefRules, RuleAnswer } from './rules'
import { primaryBy, shutOut } from './rules'

/** What of a work is looked at to tell whether it would fill a rule. */
interface Filling {
  kind: string
  confidence: number
  year: number | null
  language: string | null
  strands: readonly number[]
}

/**
 * Whether a kept work that is no entry yet would count for a rule of the brief that is short. Whether a research article
 * was refereed is told once it is an entry.
 * @param today ISO date, from which recent years are counted
 */
export function wouldFill(
  { rule, lacking }: Pick<RuleAnswer, 'rule' | 'lacking'>,
  rules: BriefRules,
  work: Filling,
  today: string,
): boolean {
  if (shutOut(rules, work)) return false
  if (rule === 'entries') return true
  if (rule === 'refereed') return work.kind === 'research article'
  if (rule === 'primary') return primaryBy(rules).some(k => k === work.kind)
  if (rule === 'recent') return (work.year ?? 0) >= Number(today.slice(0, 4)) - (rules.recentYears ?? 0)
  if (rule === 'strands') return work.strands.some(s => lacking?.includes(s))
  return false
}
