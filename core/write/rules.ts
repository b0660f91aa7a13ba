import { itemRefereed, type Kind } from '../appraise/kind'
import type { Signs } from '../appraise/signs'
import { plainTitle } from '../bib/clean'
import { yearOf } from '../bib/dates'
import { foldTitle } from '../bib/fold'
import { normaliseIssn } from '../bib/identifiers'
import type { Facts, Item } from '../bib/item'
import { languageOf } from '../bib/languages'
import { sayLanguage } from '../query/languages'
import { partsSeen, type AnnotationPart } from './annotation-parts'
import { countWords } from './words'
import type { Mark } from './written'

/** What the assignment asks, as data. */
export interface BriefRules {
  entriesWanted?: number | null
  /** At least so many refereed research articles. */
  refereedAtLeast?: number | null
  /** At least so many from the last `recentYears` years. */
  recentAtLeast?: number | null
  recentYears?: number | null
  /** At most so many books or chapters. */
  booksAtMost?: number | null
  /** At most so many from one journal. */
  journalAtMost?: number | null
  /** At least so many on each strand. */
  perStrand?: number | null
  /** At least so many primary sources, and the kinds that are some for this question; none given means `PRIMARY`. */
  primaryAtLeast?: number | null
  primaryKinds?: Kind[] | null
  wordsFrom?: number | null
  wordsTo?: number | null
  /** Languages that may be used, as codes (ISO 639-1); none given means any. */
  languages?: string[] | null
  /** Nothing that appeared before this year. */
  notBefore?: number | null
  /** Kinds that may not be used at all. */
  kindsOut?: Kind[] | null
  /** What every annotation is to have. */
  parts?: AnnotationPart[] | null
}

/** Kinds that are primary sources whatever is asked; what else is one depends on the question. */
const PRIMARY: readonly Kind[] = ['image or recording', 'dataset']
/** The kinds that are primary sources by a brief. */
export const primaryBy = ({ primaryKinds }: BriefRules): readonly Kind[] =>
  primaryKinds?.length ? primaryKinds : PRIMARY

export interface BriefEntry {
  id: number
  item: Item
  facts: Facts
  kind: Kind
  confidence: number
  /** What its copy says of itself. */
  signs?: Signs
  annotation: string
  marks: readonly Mark[]
  work: number
  /** The strands it is on. */
  strands: readonly number[]
}

/** What of a work the brief's rules of entry look at. */
export interface Entering {
  kind: string
  confidence: number
  year: number | null
  /** A code, perhaps with a region. */
  language: string | null
}
export type EntryRule = 'language' | 'age' | 'kind'

/** How sure a kind has to be before a work is shut out by it. */
const SURE = 0.8

/**
 * The rule of the brief that shuts a work out, the first of them, with what it is that it does not take; undefined
 * where none does. What a record does not say shuts nothing out.
 * @example shutOut({ entriesWanted: 3, notBefore: 2000 }, { kind: 'book', confidence: 1, year: 1999, language: null }) // { rule: 'age', value: '' }
 */
export function shutOut(rules: BriefRules, work: Entering): { rule: EntryRule; value: string } | undefined {
  const { languages, notBefore, kindsOut } = rules
  const language = work.language?.toLowerCase().split(/[-_]/)[0]
  if (languages?.length && language && !languages.includes(language)) return { rule: 'language', value: language }
  if (notBefore && work.year !== null && work.year < notBefore) return { rule: 'age', value: '' }
  if (work.confidence >= SURE && (kindsOut as readonly string[] | null | undefined)?.includes(work.kind))
    return { rule: 'kind', value: work.kind }
  return undefined
}

/** How a rule stands, in words. */
export const VERDICT_WORDS = { holds: 'holds', short: 'short', over: 'over', unsure: 'not sure' } as const

export interface RuleAnswer {
  rule: string
  verdict: keyof typeof VERDICT_WORDS
  have: number
  want: number
  said: string
  /** Entries that count for it. */
  counting: number[]
  /** Strands that have too few. */
  lacking?: number[]
}

/**
 * Sets the entries against the rules: each holds, is short or over by n, or unsure where a fact is not known.
 * @param today ISO date, from which recent years are counted
 * @param strands of the inquiry, in their order
 */
export function checkBrief(
  rules: BriefRules,
  entries: readonly BriefEntry[],
  today: string,
  strands: readonly { id: number; name: string }[] = [],
): RuleAnswer[] {
  const answers: RuleAnswer[] = []
  const atLeast = (rule: string, want: number, fits: BriefEntry[], unsure: BriefEntry[], said: string) => {
    const have = fits.length
    const verdict = have >= want ? 'holds' : have + unsure.length >= want ? 'unsure' : 'short'
    answers.push({ rule, verdict, have, want, said, counting: fits.map(e => e.id) })
  }
  if (rules.entriesWanted) atLeast('entries', rules.entriesWanted, [...entries], [], 'sources')
  if (rules.refereedAtLeast) {
    const research = entries.filter(e => e.kind === 'research article')
    const fits = research.filter(e => refereed(e))
    atLeast(
      'refereed',
      rules.refereedAtLeast,
      fits,
      research.filter(e => refereed(e) === undefined),
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
  if (rules.journalAtMost != null) answers.push(fromOneJournal(rules.journalAtMost, entries))
  if (rules.primaryAtLeast) {
    const kinds = primaryBy(rules)
    atLeast(
      'primary',
      rules.primaryAtLeast,
      entries.filter(e => kinds.includes(e.kind)),
      entries.filter(e => e.kind === 'unknown'),
      `primary sources (${kinds.join(', ')}), ${rules.primaryAtLeast} asked`,
    )
  }
  if (rules.perStrand) answers.push(onEachStrand(rules.perStrand, entries, strands))
  // of these rules none may break any: what breaks them is counted
  const none = (rule: EntryRule, asked: boolean, said: string, known: (e: BriefEntry) => boolean) => {
    if (!asked) return
    const out = entries.filter(e => shutOut(only(rules, rule), entering(e)))
    const unsure = entries.some(e => !known(e))
    const verdict = out.length ? 'over' : unsure ? 'unsure' : 'holds'
    answers.push({ rule, verdict, have: out.length, want: 0, said, counting: out.map(e => e.id) })
  }
  const { languages, notBefore, kindsOut } = rules
  none(
    'language',
    Boolean(languages?.length),
    `in other languages than ${listed((languages ?? []).map(sayLanguage))}`,
    e => entering(e).language !== null,
  )
  none('age', Boolean(notBefore), `from before ${notBefore}`, e => entering(e).year !== null)
  none(
    'kind',
    Boolean(kindsOut?.length),
    `of kinds that are not taken: ${listed(kindsOut ?? [])}`,
    e => e.kind !== 'unknown',
  )
  if (rules.wordsFrom || rules.wordsTo) {
    const fits = entries.filter(e => {
      const n = countWords(e.annotation)
      return n >= (rules.wordsFrom ?? 1) && n <= (rules.wordsTo ?? Infinity)
    })
    atLeast(
      'words',
      Math.max(entries.length, rules.entriesWanted ?? 0),
      fits,
      [],
      `annotations of ${rules.wordsFrom ?? 1} to ${rules.wordsTo ?? 'any number of'} words`,
    )
  }
  if (rules.parts?.length) {
    const asked = rules.parts
    const fits = entries.filter(e => {
      const seen = partsSeen(e.annotation, e.marks, e.work)
      return asked.every(p => seen?.has(p))
    })
    // what is not seen by signs in words may be there all the same
    const written = entries.filter(e => e.annotation.trim())
    atLeast(
      'parts',
      Math.max(entries.length, rules.entriesWanted ?? 0),
      fits,
      written.filter(e => !fits.includes(e)),
      `annotations with ${asked.join(', ')}`,
    )
  }
  return answers
}

/** Kinds that stand in a journal. */
const IN_JOURNALS = new Set<string>([
  'article-journal',
  'article-magazine',
  'article-newspaper',
  'review',
  'review-book',
])

/** Entries by their journal: that with the most is told, and all that have too many are counted. */
function fromOneJournal(most: number, entries: readonly BriefEntry[]): RuleAnswer {
  const by = new Map<string, BriefEntry[]>()
  let unknown = 0
  for (const e of entries.filter(x => IN_JOURNALS.has(x.item.type))) {
    // a journal changes its way of writing its name oftener than its number
    const journal = normaliseIssn(e.item.ISSN) ?? foldTitle(e.item['container-title'] ?? '')
    const of = by.get(journal)
    if (!journal) unknown++
    else if (of) of.push(e)
    else by.set(journal, [e])
  }
  const inOrder = [...by.values()].sort((a, b) => b.length - a.length)
  const [first = []] = inOrder
  const over = inOrder.filter(of => of.length > most)
  const name = first[0]?.item['container-title']
  return {
    ...{ rule: 'journal', have: first.length, want: most },
    verdict: over.length ? 'over' : first.length + unknown > most ? 'unsure' : 'holds',
    said: `from ${first.length > 1 && name ? `“${plainTitle(name)}”` : 'one journal'}, ${most} allowed`,
    counting: (over.length ? over.flat() : first).map(e => e.id),
  }
}

/** How many of the strands have entries enough. */
function onEachStrand(
  least: number,
  entries: readonly BriefEntry[],
  strands: readonly { id: number; name: string }[],
): RuleAnswer {
  const lacking = strands.filter(s => entries.filter(e => e.strands.includes(s.id)).length < least)
  const on = new Set(strands.map(s => s.id))
  const each = least === 1 ? 'an entry' : `${least} entries`
  return {
    ...{ rule: 'strands', have: strands.length - lacking.length, want: strands.length },
    verdict: !strands.length ? 'unsure' : lacking.length ? 'short' : 'holds',
    said: strands.length ? `strands with ${each}` : `strands yet, each to have ${each}`,
    counting: entries.filter(e => e.strands.some(s => on.has(s))).map(e => e.id),
    lacking: lacking.map(s => s.id),
  }
}

const refereed = (e: BriefEntry): boolean | undefined => itemRefereed(e.kind, e.facts, e.signs)
const entering = (e: BriefEntry): Entering => ({
  kind: e.kind,
  confidence: e.confidence,
  year: yearOf(e.item) ?? null,
  language: languageOf(e.item, e.facts),
})
const only = (rules: BriefRules, rule: EntryRule): Partial<BriefRules> =>
  rule === 'language'
    ? { languages: rules.languages ?? null }
    : rule === 'age'
      ? { notBefore: rules.notBefore ?? null }
      : { kindsOut: rules.kindsOut ?? null }
const listed = (words: readonly string[]): string =>
  words.length > 1 ? `${words.slice(0, -1).join(', ')} or ${words.at(-1)}` : (words[0] ?? '')
