import type { Facts, Item } from '../bib/item'
import { pageCount } from '../bib/pages'
import type { Signs } from './signs'

export const KINDS = [
  'research article',
  'literature review',
  'review of a book',
  'conference paper',
  'conference abstract',
  'preprint',
  'book',
  'chapter',
  'thesis',
  'report',
  'editorial or letter',
  'correction',
  'magazine',
  'news',
  'dataset',
  'image or recording',
  'unknown',
] as const
export type Kind = (typeof KINDS)[number]

export interface Evidence {
  /** Log-odds added to that kind. */
  weight: number
  kind: Kind
  said: string
}

export interface Appraisal {
  kind: Kind
  /** Share of the kind in the summed odds, 0 to 1. */
  confidence: number
  /** What speaks for the kind, strongest first. */
  evidence: string[]
  refereedVenue: boolean | undefined
  aheadOfPrint: boolean
}

/** The level that evidence has to pass. */
const UNKNOWN = 2
/** By how much the odds are sharpened so that shares come true as often as they say; fitted on seed 5 of the worlds. */
const SHARPEN = 1.8

/**
 * What a record really is: each mark adds log-odds to one kind, with a sentence; the odds are normalised over all
 * kinds (softmax). "unknown" stands at a fixed level that evidence has to pass.
 * @param signs what the pages of its copy say, where there is one
 */
export function appraise(item: Item, facts: Facts, signs: Signs = {}): Appraisal {
  const marks = [...gather(item, facts), ...ofCopy(signs)]
  const sums = new Map<Kind, number>(KINDS.map(k => [k, 0]))
  sums.set('unknown', UNKNOWN)
  for (const m of marks) sums.set(m.kind, sums.get(m.kind)! + m.weight)
  const total = [...sums.values()].reduce((t, s) => t + Math.exp(SHARPEN * s), 0)
  const [kind, sum] = [...sums].reduce((best, s) => (s[1] > best[1] ? s : best))
  const evidence = marks
    .filter(m => m.kind === kind && m.weight > 0)
    .sort((a, b) => b.weight - a.weight)
    .map(m => m.said)
  return {
    kind,
    confidence: Math.exp(SHARPEN * sum) / total,
    evidence: evidence.length ? evidence : ['The record says too little to tell.'],
    refereedVenue: facts.refereedVenue,
    aheadOfPrint: item.type === 'article-journal' && !item.volume && !item.page,
  }
}

/** What a title says of its own kind; strong, since an author wrote it there. */
const TITLES: [RegExp, Kind, number, string][] = [
  [/^(book )?review(s)?( of\b|:)|\breviewed by\b|, by [\p{Lu}]\. ?[\p{Lu}]/iu, 'review of a book', 6, 'The title names a book that is reviewed.'],
  [/^(correction|erratum|corrigendum|retraction|addendum)\b/i, 'correction', 8, 'The title says that it corrects another item.'],
  [/^(editorial|letters? to|reply|comment(s|ary)?|response|rejoinder|foreword|preface|obituary|in memoriam|in this issue|about this (issue|journal)|from the (editors?|chair)|to our readers|a (word|note|farewell)|viewpoint|correspondence)\b|[:,–—-] (an? )?(short |brief )?(reply|response|rejoinder|comment|rebuttal|letter|plea|call for \w+)( to\b.*)?$|\b(reply|response|rejoinder|rebuttal|comments?) (to|on) \p{Lu}|\bto the editor\b/iu, 'editorial or letter', 6, 'The title says that it is a letter, a reply or an editorial.'],
  [/\b(systematic|scoping|critical|narrative|literature|umbrella) review\b|[:,] an? (critical |brief |short |narrative )?(review|overview|synthesis|appraisal|survey of (the )?\w+)\b|^an? (critical |brief )?(review|overview|synthesis|survey) of\b|\bmeta-?analysis\b|\breview of (the |recent |published )?(literature|evidence|studies|research|work)\b|\b(years|decades|century) of (work|research|study|studies|evidence)\b|\bstate of (the )?(knowledge|evidence|art|field|science)\b|\b(current|present) (knowledge|understanding|evidence)\b|\b(advances|trends|progress|perspectives|directions) (in|on|for)\b|\bpast, present,? and future\b|\btaking stock\b|\bthe (published )?literature on\b|\bevidence (synthesis|map|so far|to date)\b|\bsurvey of (the )?(literature|studies|work)\b|\bwhat (is|do we|we( now)?) know|\bresearch agenda\b|\bopen questions\b|\bwhere (do )?we (now )?stand\b/i, 'literature review', 6, 'The title announces a review of the literature.'],
  [/^(preliminary notes?|towards)\b|[:,] (a first look|work in progress|first results)$/i, 'conference paper', 1.5, 'The title speaks of work under way.'],
  [/^(poster|sound recording|photographs?|film|map|video) ?:|[:,] (a )?(set of |series of )?(lantern slides|(sound|video) recording|photographs)$/i, 'image or recording', 5, 'The title names a picture, a poster or a recording.'],
] // prettier-ignore

/** An abstract that tells of data of its own. */
const OWN_DATA =
  /\b((we|was|were) (also |then )?(compared|measured|sampled|surveyed|recorded|counted|tested|modelled|asked|interviewed|observed|tracked|trapped|caught|exposed|reared|mapped)|we set out|n\s*=\s*\d|experiments?|transects|replicates|participants|respondents)\b/i
/** An abstract whose matter are studies by others. */
const BY_OTHERS =
  /\b(we (review|summari[sz]e|synthesi[sz]e|survey(ed)? the|draw together|bring together)|th(is|e) (review|synthesis|overview)|the (published )?literature|systematic search|meta-analy\w+|databases? (was|were) searched|a search of|we searched|studies published|published studies|\d+ (published )?(studies|papers|articles|trials)|\d+% of (the )?(studies|papers|reports)|(eligible|included|primary) (studies|papers)|(met|meeting) (our|the) criteria)\b/i
/** Turns of speech of those who weigh a field; each counts once. */
const OF_A_FIELD = [
  /\b(published|existing|available|earlier|previous|past) (work|evidence|research|studies|findings|reports|accounts)\b/i,
  /\bstudies (of|on|that|have|suggest|report|agree|differ|disagree|rarely|seldom)\b/i,
  /\bevidence\b/i,
  /\bgaps?\b/i,
  /\b(further|future) (work|research|studies)\b|\bquestions for\b|\bremains? (unclear|open|untested|unknown)\b/i,
  /\bbod(y|ies) of (work|evidence|research|writing)\b|\bliteratures?\b/i,
  /\b(authors|researchers|the field|disciplines)\b/i,
  /\b(consensus|disagree\w*|debates?|contradict\w*|conflicting)\b/i,
]

function gather(item: Item, facts: Facts): Evidence[] {
  const out: Evidence[] = []
  const add = (kind: Kind, weight: number, said: string) => out.push({ kind, weight, said })
  /**
   * Marks that an article has, of one's own research or of what others found: `research` weighs what is more common.
   */
  const article = (research: number, review: number, said: string) => {
    add('research article', research, said)
    add('literature review', review, said)
  }
  const genre = facts.genre ?? item.genre ?? ''
  const title = item.title ?? ''
  const abstract = item.abstract ?? ''
  const pages = facts.pageCount ?? pageCount(item.page)
  const byGenre: [RegExp, Kind][] = [
    [/book review|review of/i, 'review of a book'],
    [/literature review|review article|systematic review/i, 'literature review'],
    [/conference abstract|meeting abstract/i, 'conference abstract'],
    [/conference/i, 'conference paper'],
    [/preprint|submitted/i, 'preprint'],
    [/chapter/i, 'chapter'],
    [/thesis|dissertation/i, 'thesis'],
    [/report/i, 'report'],
    [/editorial|letter/i, 'editorial or letter'],
    [/correction|erratum/i, 'correction'],
    [/magazine/i, 'magazine'],
    [/news/i, 'news'],
    [/data/i, 'dataset'],
    [/image|recording|sound|film|slide|photograph|poster|video|audio|\bmap\b/i, 'image or recording'],
    [/^book|monograph/i, 'book'],
    [/research article|journal article|article/i, 'research article'],
  ]
  const told = byGenre.find(([test]) => test.test(genre))
  // catalogues call anything in a journal an article
  if (told)
    add(
      told[1],
      told[1] === 'research article' ? (/ version/.test(genre) ? 0.3 : 0.8) : 4,
      `The catalogue calls it "${genre}".`,
    )
  const byType: Record<string, Kind> = {
    book: 'book',
    chapter: 'chapter',
    thesis: 'thesis',
    report: 'report',
    dataset: 'dataset',
    'article-magazine': 'magazine',
    'article-newspaper': 'news',
    'paper-conference': 'conference paper',
    'review-book': 'review of a book',
    article: 'preprint',
    motion_picture: 'image or recording',
    song: 'image or recording',
    graphic: 'image or recording',
  }
  const typed = byType[item.type]
  if (typed) add(typed, 2, `It is entered as ${typed}.`)
  if (item.type === 'article-journal') add('research article', 0.5, 'It stands in a journal.')
  for (const [test, kind, weight, said] of TITLES) if (test.test(title)) add(kind, weight, said)
  if (/\b(conference|symposium|workshop|congress|annual meeting)\b/i.test(item['container-title'] ?? '')) {
    const said = `It stands in the papers of a meeting: ${item['container-title']}.`
    add('conference paper', 4, said)
    add('conference abstract', 4, said)
  }
  if (item.type === 'paper-conference' && pages !== undefined) {
    if (pages <= 2)
      add('conference abstract', 2, `Only ${pages === 1 ? 'one page' : `${pages} pages`}, as abstracts of talks have.`)
    else if (pages >= 4) add('conference paper', 2, `${pages} pages, as papers have.`)
  }
  if (pages !== undefined && item.type === 'article-journal') {
    if (pages > 6)
      article(3, 2, item.volume && item.page ? `${pages} pages with volume and page numbers.` : `${pages} pages.`)
    else if (pages >= 2 && !abstract)
      add('review of a book', 1, `Only ${pages} pages and no abstract, as reviews of books have.`)
    else if (pages === 1) add('editorial or letter', 1, 'It has one page only.')
  }
  if (abstract.length > 200) article(1, 1, 'It has an abstract of its own.')
  if (OWN_DATA.test(abstract)) add('research article', 2, 'The abstract tells what was measured, counted or asked.')
  else if (/\b(results|we (found|show)|\d+(\.\d+)? ?%)/i.test(abstract))
    add('research article', 0.7, 'The abstract gives results.')
  if (BY_OTHERS.test(abstract)) add('literature review', 3.5, 'The abstract speaks of studies by others.')
  // one such word stands in many abstracts; several together speak of a field, not of a study
  const turns = OF_A_FIELD.filter(t => t.test(abstract)).length
  if (turns > 1) add('literature review', 0.9 * Math.min(4, turns), 'The abstract weighs what a field knows and lacks.')
  if (facts.referenceCount !== undefined) {
    if (facts.referenceCount >= 50)
      add('literature review', facts.referenceCount >= 80 ? 3 : 1.2, `${facts.referenceCount} references.`)
    else if (facts.referenceCount >= 15) add('research article', 1, `${facts.referenceCount} references.`)
    else if (facts.referenceCount <= 3 && item.type === 'article-journal')
      add('review of a book', 1, `Only ${facts.referenceCount} references.`)
  }
  if (facts.version === 'preprint') add('preprint', 3, 'The repository marks it as submitted, not published.')
  return out
}

const LABELS: [RegExp, Kind][] = [
  [/^book review|^reviews$/, 'review of a book'],
  [/^review( article)?$/, 'literature review'],
  [/^(editorial|letter|obituary|comment|reply)/, 'editorial or letter'],
  [/^(correction|erratum|corrigendum)/, 'correction'],
  [/^news/, 'news'],
]

/** What the pages themselves say: printed there by those who made it, so stronger than any catalogue. */
function ofCopy(signs: Signs): Evidence[] {
  const out: Evidence[] = []
  const { label, sections = [] } = signs
  const kind = label ? LABELS.find(([test]) => test.test(label))?.[1] : undefined
  if (kind) out.push({ kind, weight: 6, said: `Its first page is headed “${label}”.` })
  const has = (...words: string[]) => words.find(w => sections.includes(w))
  const methods = has('methods', 'method', 'materials and methods', 'data and methods')
  const results = has('results', 'findings')
  if (methods && results)
    out.push({ kind: 'research article', weight: 3, said: 'Its copy has sections on methods and on results.' })
  if (has('search strategy', 'selection of studies'))
    out.push({ kind: 'literature review', weight: 4, said: 'Its copy tells how studies were searched for.' })
  if (signs.refereed)
    out.push({ kind: 'research article', weight: 1.5, said: 'Its first page says when it was received and accepted.' })
  if (signs.draft)
    out.push({ kind: 'conference paper', weight: 3, said: 'Its pages say that it is a draft, not for citation.' })
  if (signs.unrefereed) out.push({ kind: 'preprint', weight: 5, said: 'Its pages say that nobody has refereed it.' })
  return out
}

const REFEREED_KINDS: readonly Kind[] = ['research article', 'literature review', 'conference paper']

/**
 * Whether the item itself was refereed, which its venue's flag does not say: reviews of books, editorials and letters
 * stand in refereed journals unrefereed. What its own pages say comes first. Undefined where the venue or the kind is
 * not known.
 */
export function itemRefereed(kind: string, facts: Facts, signs: Signs = {}): boolean | undefined {
  if (signs.refereed) return true
  if (signs.draft || signs.unrefereed) return false
  if (kind === 'preprint' || facts.refereedVenue === false) return false
  if (kind === 'unknown' || facts.refereedVenue === undefined) return undefined
  return REFEREED_KINDS.includes(kind as Kind)
}

/** Whether there is a whole text to read: of a talk's abstract there is none. Undefined where the kind is not known. */
export function isComplete(kind: string): boolean | undefined {
  return kind === 'unknown' ? undefined : kind !== 'conference abstract'
}
