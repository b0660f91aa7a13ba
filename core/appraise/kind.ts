import type { Facts, Item } from '../bib/item'
import { pageCount } from '../bib/pages'
import { typeOfTerm } from '../bib/type-terms'
import { KINDS, type Kind } from './kinds'
import type { Signs } from './signs'
import { titleSigns } from './titles'

export { KINDS, type Kind } from './kinds'

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

/** An abstract that tells of data of its own. */
const OWN_DATA =
  /\b((we|was|were) (also |then )?(compared|measured|sampled|surveyed|recorded|counted|tested|modelled|asked|interviewed|observed|tracked|trapped|caught|exposed|reared|mapped|randomi[sz]ed|coded|estimated?|trained?|prepared|analy[sz]ed|simulated?)|we (set out|asked|use|estimate|train|coded|give a (short )?proof|prove)|n\s*=\s*\d|experiments?|transects|replicates|participants|respondents|patients|fieldwork|interviews|archiv\w+|using (the )?(surviving )?\w+ (books|records|papers|letters|data))\b|\b(untersucht\w*|gemessen|befragt\w*|erhoben|experiment\w*|nous avons (mesuré|interrogé|étudié|comparé|observé)|se (midi[óo]|midieron|encuest\w+|analizó|analizaron|estudió)|hemos (medido|estudiado)|abbiamo (misurato|studiato|analizzato)|onderzochten|gemeten|undersökte|mätte|undersøgte|målte|medimos|estudamos|analisamos)(?![\p{L}])/iu
/** Turns by which an author says what a text does that is no report of measurements. */
const OWN_ARGUMENT =
  /\b(th(is|e) (article|paper|essay|study) (argues|asks|shows|examines|explores|edits|traces|considers|uses|offers)|i (argue|show|trace|suggest|examine)|we (argue|show|present|propose|report)|drawing on|based on)\b|\b(dieser (aufsatz|beitrag)|cet article|este artículo|questo (articolo|saggio)|dit artikel)(?![\p{L}])/iu
/** An abstract whose matter are studies by others. */
const BY_OTHERS =
  /\b(we (review|summari[sz]e|synthesi[sz]e|survey(ed)? the|draw together|bring together)|th(is|e) (review|synthesis|overview)|the (published )?literature|systematic search|meta-analy\w+|databases? (was|were) searched|a search of|we searched|searched \w+ databases|draws? together published work|studies published|published studies|\d+ (published )?(studies|papers|articles|trials)|\d+% of (the )?(studies|papers|reports)|(eligible|included|primary) (studies|papers)|(met|meeting) (our|the) criteria|the published literature)\b|\b(die literatur|eingeschlossen wurden|les travaux publiés|passons en revue|la literatura|la letteratura)(?![\p{L}])/iu
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

/** Kinds by what catalogues call the type of an item (CSL), for what stands alone. */
const BY_TYPE: Record<string, [Kind, number]> = {
  book: ['book', 4], chapter: ['chapter', 4], thesis: ['thesis', 6], report: ['report', 5], dataset: ['dataset', 6], software: ['dataset', 3],
  'article-magazine': ['magazine', 6], 'article-newspaper': ['news', 6], 'paper-conference': ['conference paper', 3], 'review-book': ['review of a book', 6],
  review: ['review of a book', 3], article: ['preprint', 3.5], map: ['image or recording', 5], motion_picture: ['image or recording', 5],
  song: ['image or recording', 5], graphic: ['image or recording', 5], broadcast: ['image or recording', 5], figure: ['image or recording', 4],
  interview: ['image or recording', 2], standard: ['report', 4], patent: ['report', 2], pamphlet: ['report', 2.5], 'entry-encyclopedia': ['chapter', 4], 'entry-dictionary': ['chapter', 4],
} // prettier-ignore

/** Kinds by the genre as catalogues word it, where the types of CSL are too coarse for it. */
const BY_GENRE: [RegExp, Kind][] = [
  [/conference abstract|meeting abstract|abstract of/i, 'conference abstract'],
  [/literature review|review article|systematic review/i, 'literature review'],
  [/editorial|\bletters?\b|leserbrief|obituary/i, 'editorial or letter'],
  [/correction|erratum|corrigendum|retraction/i, 'correction'],
  [/preprint|submitted/i, 'preprint'],
  [/working paper/i, 'report'],
  [/poster|lantern|recording/i, 'image or recording'],
]
/** Types that say no more than that something stands in a journal, or nothing at all. */
const LOOSE = new Set(['article-journal', 'document', 'periodical', 'manuscript', 'speech', 'webpage'])
const MEETING =
  /\b(conference|symposium|workshop|congress|annual meeting|meetings?$|colloquium|kongress|tagung|colloque|congreso|convegno|congresso|konferens|konference)/i

function gather(item: Item, facts: Facts): Evidence[] {
  const out: Evidence[] = []
  const add = (kind: Kind, weight: number, said: string) => out.push({ kind, weight, said })
  /** Marks that an article has, of one's own research or of what others found: `research` weighs what is more common. */
  const article = (research: number, review: number, said: string) => {
    add('research article', research, said)
    add('literature review', review, said)
  }
  const genre = facts.genre ?? item.genre ?? ''
  const abstract = item.abstract ?? ''
  const container = item['container-title'] ?? ''
  const pages = facts.pageCount ?? pageCount(item.page)
  const called = BY_GENRE.find(([is]) => is.test(genre))?.[1] ?? kindOfType(typeOfTerm(genre))
  // catalogues call anything in a journal an article
  if (/^reviews?$/i.test(genre))
    // said of books and of literature alike
    add(
      abstract || (pages ?? 0) > 8 ? 'literature review' : 'review of a book',
      3,
      `The catalogue calls it "${genre}".`,
    )
  else if (called === 'research article')
    add(called, / version/.test(genre) ? 0.3 : 0.8, `The catalogue calls it "${genre}".`)
  else if (called) add(called, 5, `The catalogue calls it "${genre}".`)
  const [typed, weight] = BY_TYPE[item.type] ?? []
  // a plain type of the shelf gives way to a genre
  if (typed && weight)
    add(
      typed,
      called && called !== typed && called !== 'research article' ? weight / 3 : weight,
      `It is entered as ${typed}.`,
    )
  if (item.type === 'article-journal') add('research article', 0.5, 'It stands in a journal.')
  const isMeeting = MEETING.test(container)
  if (isMeeting) {
    const said = `It stands in the papers of a meeting: ${container}.`
    add('conference paper', 5, said)
    add('conference abstract', 4, said)
  }
  if (/\b(abstracts|book of abstracts|kurzfassungen|résumés des communications)\b/i.test(container))
    add('conference abstract', 6, `It stands among abstracts: ${container}.`)
  else if (item.type === 'paper-conference' || isMeeting) {
    if (pages !== undefined && pages <= 2)
      add(
        'conference abstract',
        2.5,
        `Only ${pages === 1 ? 'one page' : `${pages} pages`}, as abstracts of talks have.`,
      )
    else if (pages !== undefined && pages >= 4) add('conference paper', 2, `${pages} pages, as papers have.`)
  }
  const inJournal = LOOSE.has(item.type) || item.type === 'review-book' || item.type === 'review'
  if (inJournal && item.type !== 'document') {
    if (/\b(magazine|weekly|monthly|illustrated)\b/i.test(container)) add('magazine', 2.5, `It stands in ${container}.`)
    if (
      /\b(newspaper|daily|gazette|tribune|herald|courier|zeitung|tagblatt|journal de)\b/i.test(container) &&
      !item.volume
    )
      add('news', 3, `It stands in ${container}.`)
  }
  for (const mark of ofTitle(item, { pages, abstract, refs: facts.referenceCount, inJournal })) out.push(mark)
  if (pages !== undefined && item.type === 'article-journal') {
    if (pages > 6)
      article(3, 2, item.volume && item.page ? `${pages} pages with volume and page numbers.` : `${pages} pages.`)
    else if (pages >= 2 && !abstract)
      add('review of a book', 1, `Only ${pages} pages and no abstract, as reviews of books have.`)
    else if (pages === 1 && !abstract) add('editorial or letter', 1, 'It has one page only.')
  }
  if (abstract.length > 200) article(1, 1, 'It has an abstract of its own.')
  else if (abstract.length > 25) article(0.6, 0.6, 'It has an abstract of its own.')
  if (OWN_DATA.test(abstract)) add('research article', 2, 'The abstract tells what was measured, counted or asked.')
  else if (OWN_ARGUMENT.test(abstract)) add('research article', 1.5, 'The abstract tells what the author shows.')
  else if (/\b(results|we (found|show)|ergebnisse|résultats|resultados|risultati|\d+(\.\d+)? ?%)/i.test(abstract))
    add('research article', 0.7, 'The abstract gives results.')
  if (BY_OTHERS.test(abstract)) add('literature review', 3.5, 'The abstract speaks of studies by others.')
  // one such word stands in many abstracts; several together speak of a field, not of a study
  const turns = OF_A_FIELD.filter(t => t.test(abstract)).length
  if (turns > 1) add('literature review', 0.9 * Math.min(4, turns), 'The abstract weighs what a field knows and lacks.')
  if (facts.referenceCount !== undefined) {
    if (facts.referenceCount >= 50)
      add('literature review', facts.referenceCount >= 80 ? 3 : 1.2, `${facts.referenceCount} references.`)
    else if (facts.referenceCount >= 8) add('research article', 1, `${facts.referenceCount} references.`)
    else if (facts.referenceCount <= 3 && item.type === 'article-journal')
      add('review of a book', 1, `Only ${facts.referenceCount} references.`)
  }
  if (facts.version === 'preprint') add('preprint', 3, 'The repository marks it as submitted, not published.')
  return out
}

function kindOfType(type: string | undefined): Kind | undefined {
  if (type === 'article-journal') return 'research article'
  return type ? BY_TYPE[type]?.[0] : undefined
}

/**
 * What the title says, as far as other signs bear it out: only in a journal does a title tell the kind, and a word at its
 * beginning is evidence only of something short.
 */
function ofTitle(
  item: Item,
  {
    pages,
    abstract,
    refs,
    inJournal,
  }: { pages: number | undefined; abstract: string; refs: number | undefined; inJournal: boolean },
): Evidence[] {
  const isShort = (pages ?? 1) <= 5 && abstract.length < 150 && (refs ?? 0) < 15
  const isLong = (pages ?? 0) > 8 || abstract.length > 150 || (refs ?? 0) >= 15
  return titleSigns(item.title ?? '').map(({ kind, whole, said }) => {
    if (kind === 'literature review')
      return {
        kind,
        said,
        weight: !inJournal
          ? 0.8
          : (OWN_DATA.test(abstract) || OWN_ARGUMENT.test(abstract)) && !BY_OTHERS.test(abstract)
            ? 3
            : 6,
      }
    if (kind === 'conference abstract') return { kind, said, weight: isShort && inJournal ? 5 : 0 }
    if (kind === 'conference paper') return { kind, said, weight: 1.5 }
    if (kind === 'image or recording') return { kind, said, weight: 5 }
    if (!inJournal) return { kind, said, weight: item.type === 'paper-conference' ? 2 : 0.5 }
    if (kind === 'correction') return { kind, said, weight: isLong ? 3 : 8 }
    if (whole) return { kind, said, weight: isLong && abstract ? 3 : 7.5 }
    return { kind, said, weight: isLong ? 1 : isShort ? 6 : 4 }
  })
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

/** What nobody referees as a journal does, whatever the catalogue flags. */
const NEVER_REFEREED: readonly Kind[] = [
  'thesis',
  'report',
  'magazine',
  'news',
  'dataset',
  'image or recording',
  'correction',
  'editorial or letter',
  'review of a book',
  'conference abstract',
]
const REFEREED_KINDS: readonly Kind[] = ['research article', 'literature review', 'conference paper']

/**
 * Whether the item itself was refereed, which its venue's flag does not say: reviews of books, editorials and letters
 * stand in refereed journals unrefereed. What its own pages say comes first. Undefined where the venue or the kind is
 * not known.
 */
export function itemRefereed(kind: string, facts: Facts, signs: Signs = {}): boolean | undefined {
  if (signs.refereed) return true
  if (signs.draft || signs.unrefereed) return false
  if (kind === 'preprint' || NEVER_REFEREED.includes(kind as Kind) || facts.refereedVenue === false) return false
  if (kind === 'unknown' || facts.refereedVenue === undefined) return undefined
  return REFEREED_KINDS.includes(kind as Kind)
}

/** Whether there is a whole text to read: of a talk's abstract there is none. Undefined where the kind is not known. */
export function isComplete(kind: string): boolean | undefined {
  return kind === 'unknown' ? undefined : kind !== 'conference abstract'
}
