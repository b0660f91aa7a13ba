import { nearlyEqual } from './slips'
import { unpublished, type Prepared } from './prepare'
import type { WEIGHTS } from './weights'

/** What was seen of two records: the field, and how it stands between them. */
export type Sign = keyof typeof WEIGHTS

/** Words of a title beyond which more of them say nothing more. */
const WORDS = 6

/** How the titles of two records stand to each other. */
export function titleSigns(a: Prepared, b: Prepared): [Sign, number][] {
  if (!a.title || !b.title) return []
  const n = Math.min(WORDS, a.words.length, b.words.length)
  const seen = (how: 'same' | 'near' | 'short'): [Sign, number][] => [
    [`title: ${how}`, 1],
    [`title: words, ${how}`, n],
  ]
  if (a.title === b.title) return seen('same')
  if (nearlyEqual(a.letters, b.letters)) return seen('near')
  if (begins(a, b) || begins(b, a)) return seen('short')
  const shared = jaccard(a.wordSet, b.wordSet)
  return [[shared >= 0.8 ? 'title: most words' : shared >= 0.6 ? 'title: many words' : 'title: other', 1]]
}

/** Whether one title is the other without its subtitle. */
const begins = (whole: Prepared, part: Prepared): boolean =>
  whole.main !== undefined && !part.main && nearlyEqual(whole.main.replace(/ /g, ''), part.letters)

/** All else that was seen of two records. What one of them lacks says nothing: catalogues leave out what they will. */
export function otherSigns(a: Prepared, b: Prepared): [Sign, number][] {
  const signs: [Sign, number][] = []
  const add = (sign: Sign | undefined) => sign && signs.push([sign, 1])
  const versions = unpublished(a) || unpublished(b)
  signs.push(...authorSigns(a.authors, b.authors))
  add(identifierSign(a, b))
  add(yearSign(a, b, versions))
  add(containerSign(a, b))
  if (!versions) {
    if (a.first && b.first) add(a.first === b.first ? 'pages: same' : 'pages: other')
    if (a.volume && b.volume) add(a.volume === b.volume ? 'volume: same' : 'volume: other')
    // numbers of issues are entered in two ways where each begins with page one
    if (a.issue && b.issue)
      add(
        a.issue === b.issue
          ? 'issue: same'
          : a.first && a.first === b.first
            ? 'issue: other, one page'
            : 'issue: other',
      )
  }
  if (a.publisher.length && b.publisher.length)
    add(
      a.publisher.some(w => b.publisher.some(v => v.startsWith(w) || w.startsWith(v)))
        ? 'publisher: same'
        : 'publisher: other',
    )
  if (a.edition !== b.edition) add(a.edition && b.edition ? 'edition: other' : 'edition: one')
  else if (a.edition) add('edition: same')
  // repositories call any manuscript an article
  const vague = (unpublished(a) && a.kind === 'article') || (unpublished(b) && b.kind === 'article')
  if (a.kind && b.kind && a.kind !== b.kind && !vague) add('kind: other')
  // a correction, a reply and a review carry the title of what they speak of
  if (a.mark !== b.mark) add('mark: other')
  if (a.numbers !== b.numbers) add('numbers: other')
  if (a.abstract.length > 40 && a.abstract === b.abstract) add('abstract: same')
  return signs
}

function identifierSign(a: Prepared, b: Prepared): Sign | undefined {
  if (a.doi && a.doi === b.doi) return 'DOI: same'
  // a preprint has a DOI of its own beside its article's
  if (a.doi && b.doi && a.version !== 'preprint' && b.version !== 'preprint') return 'DOI: other'
  if (a.isbns.some(i => b.isbns.includes(i))) return 'ISBN: same'
  return a.isbns.length && b.isbns.length ? 'ISBN: other' : undefined
}

/** Co-authors beyond whom more of them say nothing more. */
const OTHERS = 2

function authorSigns(a: readonly string[], b: readonly string[]): [Sign, number][] {
  if (!a.length || !b.length) return []
  const [few, many] = a.length < b.length ? [a, b] : [b, a]
  const there = few.filter(x => many.some(y => sameName(x, y))).length
  const back = few.length < many.length ? there : many.filter(y => few.some(x => sameName(x, y))).length
  const shared = Math.min(there, back)
  const others: [Sign, number][] = shared > 1 ? [['author: others too', Math.min(OTHERS, shared - 1)]] : []
  const how = (sign: Sign): [Sign, number][] => [[sign, 1], ...others]
  if (sameName(a[0]!, b[0]!))
    return how(shared < few.length ? 'author: first' : few.length === many.length ? 'author: all' : 'author: fewer')
  if (shared === few.length && few.length === many.length) return how('author: other order')
  if (slipOf(a[0]!, b[0]!)) return how('author: slip')
  if (shared) return how('author: some')
  return how(familyOf(a[0]!) === familyOf(b[0]!) ? 'author: initials' : 'author: other')
}

/** The same family name, and no initials that contradict each other. */
function sameName(a: string, b: string): boolean {
  return a === b || (Math.abs(a.length - b.length) === 2 && (a.startsWith(`${b} `) || b.startsWith(`${a} `)))
}
const familyOf = (name: string): string => name.replace(/ \p{L}$/u, '')
const initialOf = (name: string): string => (/ \p{L}$/u.test(name) ? name.slice(-1) : '')

/** A family name with a slip, and no other initial. */
function slipOf(a: string, b: string): boolean {
  const [x, y] = [familyOf(a), familyOf(b)]
  const [i, j] = [initialOf(a), initialOf(b)]
  return x.length > 3 && y.length > 3 && (!i || !j || i === j) && nearlyEqual(x, y)
}

function yearSign(a: Prepared, b: Prepared, versions: boolean): Sign | undefined {
  if (!a.year || !b.year) return undefined
  const d = Math.abs(a.year - b.year)
  if (d === 0) return 'year: same'
  // a manuscript may lie open years before or after its article
  if (versions) return d <= 3 ? 'manuscript: years near' : d <= 6 ? 'manuscript: years apart' : 'manuscript: years far'
  return d === 1 ? 'year: next' : d === 2 ? 'year: two' : d <= 10 ? 'year: apart' : 'year: far'
}

function containerSign(a: Prepared, b: Prepared): Sign | undefined {
  if (a.issn && a.issn === b.issn) return 'container: same'
  if (!a.container.length || !b.container.length) return undefined
  const [few, many] = a.container.length < b.container.length ? [a.container, b.container] : [b.container, a.container]
  // "J Night Ecol" is the beginning of each word of the full name
  const alike = (w: string, v: string) => v.startsWith(w) || w.startsWith(v)
  const there = few.filter(w => many.some(v => alike(w, v))).length
  const back = few.length < many.length ? there : many.filter(v => few.some(w => alike(w, v))).length
  const part = Math.min(there, back) / few.length
  return part === 1 ? 'container: same' : part >= 0.5 ? 'container: part' : 'container: other'
}

function jaccard(a: ReadonlySet<string>, b: ReadonlySet<string>): number {
  let shared = 0
  for (const w of a) if (b.has(w)) shared++
  return shared / (a.size + b.size - shared || 1)
}
