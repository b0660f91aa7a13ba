import type { Prepared } from './prepare'
import { otherSigns, titleSigns, type Sign } from './signs'
import { ASK, PRIOR, SAME, WEIGHTS } from './weights'

export interface Comparison {
  /** Log-odds (natural) that the two describe one work. */
  score: number
  /** "linked": a conference paper and the article it became, which are two works. */
  verdict: 'same' | 'ask' | 'linked' | 'different'
  /** What was compared, and what each adds. */
  signs: { sign: Sign; weight: number }[]
}

/**
 * Compares two records as Fellegi and Sunter (1969) do: each field adds the log-odds of its agreement or disagreement
 * given that they describe one work or two; two thresholds part same, ask and different.
 */
export function compare(a: Prepared, b: Prepared): Comparison {
  const sameDoi = Boolean(a.doi && a.doi === b.doi)
  const sameIdentifier = sameDoi || a.isbns.some(i => b.isbns.includes(i))
  const samePlace = Boolean(a.first && a.first === b.first && a.volume && a.volume === b.volume)
  const title = titleSigns(a, b)
  const otherTitle = title[0]?.[0] === 'title: other'
  // most pairs of a block end here: other words, and neither an identifier nor a page that both have
  if (otherTitle && !sameIdentifier && !samePlace)
    return { score: PRIOR + WEIGHTS['title: other'], verdict: 'different', signs: weigh(title) }
  const others = otherSigns(a, b)
  const seen = new Set<Sign>([...title, ...others].map(([s]) => s))
  const signs = weigh([...title, ...others])
  const score = signs.reduce((sum, s) => sum + s.weight, PRIOR)
  return { score, verdict: verdictOf(a, b, score, seen, { sameDoi, sameIdentifier, samePlace }), signs }
}

const weigh = (signs: readonly (readonly [Sign, number])[]) =>
  signs.map(([sign, times]) => ({ sign, weight: WEIGHTS[sign] * times }))

function verdictOf(
  a: Prepared,
  b: Prepared,
  score: number,
  seen: ReadonlySet<Sign>,
  both: { sameDoi: boolean; sameIdentifier: boolean; samePlace: boolean },
): Comparison['verdict'] {
  // what comes again in every issue is told apart by its pages or its number, never by title and volume alone
  if (a.recurs && b.recurs && !both.sameDoi && !both.samePlace) return 'different'
  const otherWords = seen.has('title: other') || seen.has('title: many words')
  const otherPeople = !PEOPLE.some(s => seen.has(s))
  if (otherWords && otherPeople) {
    // papers of one volume are often entered with its number, and short pieces share a page; else one has a slip
    const told = both.samePlace || seen.has('pages: other') || !both.sameIdentifier
    return told ? 'different' : 'ask'
  }
  // nor are two numbers of a series one work, whatever else they share
  const parts = seen.has('numbers: other') && !both.sameDoi
  // a title alone is never enough, and a short unsigned piece of a serial needs its place
  const unsigned =
    !a.authors.length &&
    !b.authors.length &&
    a.kind === 'article' &&
    b.kind === 'article' &&
    Math.min(a.words.length, b.words.length) < 6
  if (
    score >= SAME &&
    !otherWords &&
    !parts &&
    (unsigned ? both.samePlace || both.sameIdentifier : BORNE_OUT.some(s => seen.has(s)))
  )
    return 'same'
  if (became(a, b, seen)) return 'linked'
  return score >= ASK ? 'ask' : 'different'
}

/** Somebody who wrote both. */
const PEOPLE: readonly Sign[] = ['author: all', 'author: fewer', 'author: first', 'author: slip', 'author: other order']
/** What bears out a title. */
const BORNE_OUT: readonly Sign[] = [
  ...PEOPLE,
  'year: same',
  'pages: same',
  'abstract: same',
  'DOI: same',
  'ISBN: same',
  'container: same',
  'publisher: same',
]

/** Whether one is the article that the other, a conference paper, became: its title, its authors, not before it. */
function became(a: Prepared, b: Prepared, seen: ReadonlySet<Sign>): boolean {
  const [paper, article] = a.kind === 'conference paper' ? [a, b] : [b, a]
  if (paper.kind !== 'conference paper' || article.kind !== 'article' || a.mark !== b.mark || a.numbers !== b.numbers)
    return false
  const years = article.year && paper.year ? article.year - paper.year : 0
  const words = Math.min(a.words.length, b.words.length)
  const title = words > 4 && (seen.has('title: same') || seen.has('title: near'))
  return title && (seen.has('author: all') || seen.has('author: fewer')) && years >= 0 && years <= 6
}
