import { yearOf } from '../bib/dates'
import type { Kind } from '../appraise/kind'
import type { Item } from '../bib/item'
import { countWords } from './words'

/** What the assignment asks, as data. */
export interface BriefRules {
  entriesWanted: number
  /** At least so many refereed research articles. */
  refereedAtLeast?: number | null
  /** At least so many from the last `recentYears` years. */
  recentAtLeast?: number | null
  recentYears?: number | null
  /** At most so many books or chapters. */
  booksAtMost?: number | null
  wordsFrom?: number | null
  wordsTo?: number | null
  /** Languages that may be used, as codes (ISO 639-1); none given means any. */
  languages?: string[] | null
  /** Nothing that appeared before this year. */
  notBefore?: number | null
  /** Kinds that may not be used at all. */
  kindsOut?: Kind[] | null
}

export interface BriefEntry {
  id: number
  item: Item
  kind: Kind
  refereedVenue?: boolean
  annotation: string
}

export interface RuleAnswer {
  rule: string
  verdict: 'holds' | 'short' | 'over' | 'unsure'
  have: number
  want: number
  said: string
  /** Entries that count for it. */
  counting: number[]
}

/** Sets the entries against the rules: each holds, is short or over by n, or unsure where a fact is not known. */
export function checkBrief(rules: BriefRules, entries: readonly BriefEntry[], today: string): RuleAnswer[] {
  const answers: RuleAnswer[] = []
  const atLeast = (rule: string, want: number, fits: BriefEntry[], unsure: BriefEntry[], said: string) => {
    const have = fits.length
    const verdict = have >= want ? 'holds' : have + unsure.length >= want ? 'unsure' : 'short'
    answers.push({ rule, verdict, have, want, said, counting: fits.map(e => e.id) })
  }
  atLeast('entries', rules.entriesWanted, [...entries], [], 'sources')
  if (rules.refereedAtLeast) {
    const research = entries.filter(e => e.kind === 'research article')
    const fits = research.filter(e => e.refereedVenue)
    atLeast(
      'refereed',
      rules.refereedAtLeast,
      fits,
      research.filter(e => e.refereedVenue === undefined),
      `refereed research, ${rules.refereedAtLeast} asked`,
    )
  }
  if (rules.recentAtLeast && rules.recentYears) {
    const since = Number(today.slice(0, 4)) - rules.recentYears
    const fits = entries.filter(e => (yearOf(e.item) ?? 0) >= since)
    atLeast(
      'recent',
      rules.recentAtLeast,
      fits,
      entries.filter(e => yearOf(e.item) === undefined),
      `since ${since}, ${rules.recentAtLeast} asked`,
    )
  }
  if (rules.booksAtMost != null) {
    const fits = entries.filter(e => e.kind === 'book' || e.kind === 'chapter')
    answers.push({
      rule: 'books',
      verdict: fits.length <= rules.booksAtMost ? 'holds' : 'over',
      have: fits.length,
      want: rules.booksAtMost,
      said: `books or chapters, ${rules.booksAtMost} allowed`,
      counting: fits.map(e => e.id),
    })
  }
  if (rules.wordsFrom || rules.wordsTo) {
    const fits = entries.filter(e => {
      const n = countWords(e.annotation)
      return n >= (rules.wordsFrom ?? 1) && n <= (rules.wordsTo ?? Infinity)
    })
    atLeast(
      'words',
      Math.max(entries.length, rules.entriesWanted),
      fits,
      [],
      `annotations of ${rules.wordsFrom ?? 1} to ${rules.wordsTo ?? 'any number of'} words`,
    )
  }
  return answers
}
