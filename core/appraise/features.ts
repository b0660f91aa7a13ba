import type { Facts, Item } from '../bib/item'
import { pageCount, readPages } from '../bib/pages'
import { apart, typeOfTerm } from '../bib/type-terms'
import { KINDS, type Kind } from './kinds'
import type { Signs } from './signs'
import { TITLE_SIGNS, titleSigns } from './titles'

/** Something seen at a record or a copy that speaks for a kind or against it; how much is said by its weights. */
export interface Feature {
  /** By which its weights are found. */
  name: string
  /** What was seen, in a sentence. */
  said: string
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

/** Types of CSL that stand alone, by what they are. */
const TYPES: Partial<Record<Kind, string>> = {
  book: 'book classic',
  chapter: 'chapter entry entry-encyclopedia entry-dictionary',
  thesis: 'thesis',
  report: 'report standard patent regulation pamphlet',
  dataset: 'dataset software',
  magazine: 'article-magazine',
  news: 'article-newspaper',
  preprint: 'article',
  'conference paper': 'paper-conference',
  'review of a book': 'review-book review',
  'image or recording': 'map motion_picture song graphic broadcast figure musical_score performance interview',
}
export const KIND_OF_TYPE: Readonly<Record<string, Kind>> = Object.fromEntries(
  Object.entries(TYPES).flatMap(([kind, types]) => types.split(' ').map(type => [type, kind as Kind])),
)

/** Kinds by the genre as catalogues word it, where the types of CSL are too coarse for it. */
const BY_GENRE: [RegExp, Kind][] = [
  [
    /(conference|meeting) (abstract|poster)|abstract of|^abstracts?$|poster presentation|oral presentation/i,
    'conference abstract',
  ],
  [
    /(literature|systematic|scoping|narrative|umbrella) review|review article|meta[- ]analysis|übersichts(artikel|arbeit)|article de synthèse|artículo de revisión/i,
    'literature review',
  ],
  [/correction|errat(um|a)\b|corrigend|retract|expression of concern|withdraw/i, 'correction'],
  [
    /editorial|\bletters?\b|leserbrief|obituary|^comment(ary)?$|viewpoint|introductory journal article|personal narrative/i,
    'editorial or letter',
  ],
  [
    /case (reports?|study)\b|clinical (trial|study)|randomi[sz]ed|(comparative|observational|multicenter|evaluation|validation|twin) study|historical article|(data|software) (paper|article)|(brief|short|rapid) (report|communication)|original (article|paper|research)|research note|originalarbeit|article original|artículo original/i,
    'research article',
  ],
  [/(film|exhibition|book) review/i, 'review of a book'],
  [/preprint|submitted|posted content/i, 'preprint'],
  [
    /(working|discussion|policy|occasional) paper|arbeitspapier|document de travail|documento de trabajo|amtliche|amtsdruck|government|guideline|deliverable|memorandum|white paper/i,
    'report',
  ],
  [/poster|lantern|recording|\bdvds?\b/i, 'image or recording'],
]
/** Types that say no more than that something stands in a journal, or nothing at all. */
const LOOSE = new Set(['article-journal', 'document', 'periodical', 'manuscript', 'speech', 'webpage'])
const MEETING =
  /\b(conference|symposium|workshop|congress|convention|annual meeting|meetings?$|colloquium|kongress|tagung(?:sband)?|jahrestagung|colloque|journées|congreso|convegno|congresso|konferens|konferencj\w|conference)|конференц|会議論文|会议论文集/iu
/** "Small Languages, SL 2011", "(WAI '14)": a meeting by its letters and its year. */
const BY_LETTERS = /\b\p{Lu}[\p{Lu}\p{Ll}]{0,3}\p{Lu}(?: ?[’'] ?\d{2}| (?:19|20)\d{2})\b/u
const ABSTRACTS =
  /\b(abstracts|book of abstracts|kurzfassungen|résumés des communications|resúmenes|livro de resumos)\b/i
const OFFICE =
  /\b(office|ministry|department|board|agency|council|commission|authority|bureau|institute|trust|committee|(bundes|landes|umwelt)amt|behörde|ministerium|ministère|agence|conseil|ministerio|agencia|consejo|ministero|agenzia|myndighet|styrelsen|urząd|ministerstwo)\b/iu

/** The names of all features, so that none is without weights. */
export const FEATURES: readonly string[] = [
  ...KINDS.map(k => `genre ${k}`),
  ...['genre review, long', 'genre review, short', 'genre article', 'genre article, version'],
  ...Object.keys(KIND_OF_TYPE).flatMap(t => [`type ${t}`, `type ${t}, genre another`]),
  ...['in a journal', 'in a meeting', 'meeting by letters', 'among abstracts', 'meeting, short', 'meeting, long'],
  ...['in a magazine', 'in a newspaper', 'published by an office', 'supplement page'],
  ...TITLE_SIGNS.flatMap(({ name }) => ['short', 'middling', 'long', 'elsewhere'].map(at => `title ${name}, ${at}`)),
  ...['title literature, own data', 'pages 1', 'pages 2 to 3', 'pages 4 to 6', 'pages 7 to 12', 'pages 13 and more'],
  ...['abstract', 'abstract, long', 'own data', 'own argument', 'results', 'studies of others'],
  ...['of a field, 2', 'of a field, 3', 'of a field, 4', 'references 0 to 3', 'references 8 to 49'],
  ...['references 50 to 79', 'references 80 and more', 'version preprint', 'copy methods and results'],
  ...['copy search', 'copy refereed', 'copy draft', 'copy unrefereed'],
  ...['review of a book', 'literature review', 'editorial or letter', 'correction', 'news'].map(k => `copy ${k}`),
]

/** What is seen at a record and, where there is one, at the pages of its copy. */
export function featuresOf(item: Item, facts: Facts, signs: Signs = {}): Feature[] {
  const out: Feature[] = []
  const add = (name: string, said: string) => out.push({ name, said })
  const genre = facts.genre ?? item.genre ?? ''
  const abstract = item.abstract ?? ''
  const container = item['container-title'] ?? ''
  const pages = facts.pageCount ?? pageCount(item.page)
  const type = KIND_OF_TYPE[item.type] || LOOSE.has(item.type) ? item.type : (typeOfTerm(item.type) ?? item.type)
  const called = BY_GENRE.find(([is]) => is.test(apart(genre)))?.[1] ?? kindOfType(typeOfTerm(genre))
  // said of books and of literature alike
  if (/^reviews?$/i.test(genre))
    add(
      abstract || (pages ?? 0) > 8 ? 'genre review, long' : 'genre review, short',
      `The catalogue calls it "${genre}".`,
    )
  else if (called === 'research article' && typeOfTerm(genre) === 'article-journal')
    // catalogues call anything in a journal an article
    add(/ version/.test(genre) ? 'genre article, version' : 'genre article', `The catalogue calls it "${genre}".`)
  else if (called) add(`genre ${called}`, `The catalogue calls it "${genre}".`)
  const typed = KIND_OF_TYPE[type]
  // a plain type of the shelf gives way to a genre
  if (typed)
    add(
      called && called !== typed && called !== 'research article' ? `type ${type}, genre another` : `type ${type}`,
      `It is entered as ${typed}.`,
    )
  if (type === 'article-journal') add('in a journal', 'It stands in a journal.')
  const isMeeting = MEETING.test(container)
  if (isMeeting) add('in a meeting', `It stands in the papers of a meeting: ${container}.`)
  else if ((typed === 'chapter' || typed === 'conference paper') && BY_LETTERS.test(container))
    add('meeting by letters', `It stands in what seem the papers of a meeting: ${container}.`)
  if (ABSTRACTS.test(container)) add('among abstracts', `It stands among abstracts: ${container}.`)
  else if (type === 'paper-conference' || isMeeting) {
    if (pages !== undefined && pages <= 2)
      add('meeting, short', `Only ${pages === 1 ? 'one page' : `${pages} pages`}, as abstracts of talks have.`)
    else if (pages !== undefined && pages >= 4) add('meeting, long', `${pages} pages, as papers have.`)
  }
  const inJournal = LOOSE.has(type) || type === 'review-book' || type === 'review'
  if (inJournal && type !== 'document') {
    if (/\b(magazine|weekly|monthly|illustrated)\b/i.test(container)) add('in a magazine', `It stands in ${container}.`)
    if (
      /\b(newspaper|daily|gazette|tribune|herald|courier|zeitung|tagblatt|journal de)\b/i.test(container) &&
      !item.volume
    )
      add('in a newspaper', `It stands in ${container}.`)
  }
  if (!inJournal && OFFICE.test(item.publisher ?? ''))
    add('published by an office', `It was published by ${item.publisher}.`)
  const place = placeOf({ pages, abstract, refs: facts.referenceCount, inJournal })
  for (const { name, kind, said } of titleSigns(item.title ?? ''))
    add(
      kind === 'literature review' && inJournal && tellsOfItself(abstract)
        ? 'title literature, own data'
        : `title ${name}, ${place}`,
      said,
    )
  if (type === 'article-journal') {
    const range = readPages(item.page)
    const few = `Only ${pages} pages and no abstract.`
    if (pages === undefined) {
      if (range && /^[A-Z]{1,2}$/.test(range.prefix) && !abstract)
        add('supplement page', `Its page is one of a supplement: ${item.page}.`)
    } else if (pages > 6)
      add(
        pages > 12 ? 'pages 13 and more' : 'pages 7 to 12',
        item.volume && item.page ? `${pages} pages with volume and page numbers.` : `${pages} pages.`,
      )
    else if (!abstract)
      add(
        pages > 3 ? 'pages 4 to 6' : pages > 1 ? 'pages 2 to 3' : 'pages 1',
        pages > 1 ? few : 'It has one page only, and no abstract.',
      )
  }
  if (abstract.length > 25) add(abstract.length > 200 ? 'abstract, long' : 'abstract', 'It has an abstract of its own.')
  if (OWN_DATA.test(abstract)) add('own data', 'The abstract tells what was measured, counted or asked.')
  else if (OWN_ARGUMENT.test(abstract)) add('own argument', 'The abstract tells what the author shows.')
  else if (/\b(results|we (found|show)|ergebnisse|résultats|resultados|risultati|\d+(\.\d+)? ?%)/i.test(abstract))
    add('results', 'The abstract gives results.')
  if (BY_OTHERS.test(abstract)) add('studies of others', 'The abstract speaks of studies by others.')
  // one such word stands in many abstracts; several together speak of a field, not of a study
  const turns = OF_A_FIELD.filter(t => t.test(abstract)).length
  if (turns > 1) add(`of a field, ${Math.min(4, turns)}`, 'The abstract weighs what a field knows and lacks.')
  const refs = facts.referenceCount
  if (refs !== undefined) {
    const said = `${refs} references.`
    if (refs >= 80) add('references 80 and more', said)
    else if (refs >= 50) add('references 50 to 79', said)
    else if (refs >= 8) add('references 8 to 49', said)
    else if (refs <= 3 && type === 'article-journal') add('references 0 to 3', `Only ${said}`)
  }
  if (facts.version === 'preprint') add('version preprint', 'The repository marks it as submitted, not published.')
  return [...out, ...ofCopy(signs)]
}

function kindOfType(type: string | undefined): Kind | undefined {
  if (type === 'article-journal') return 'research article'
  return type ? KIND_OF_TYPE[type] : undefined
}

const tellsOfItself = (abstract: string): boolean =>
  (OWN_DATA.test(abstract) || OWN_ARGUMENT.test(abstract)) && !BY_OTHERS.test(abstract)

/** A word at the beginning of a title is evidence only of something short, and only in a journal. */
function placeOf(of: {
  pages: number | undefined
  abstract: string
  refs: number | undefined
  inJournal: boolean
}): 'elsewhere' | 'long' | 'short' | 'middling' {
  const { pages, abstract, refs, inJournal } = of
  if (!inJournal) return 'elsewhere'
  if ((pages ?? 0) > 8 || abstract.length > 150 || (refs ?? 0) >= 15) return 'long'
  return (pages ?? 1) <= 5 && abstract.length < 150 ? 'short' : 'middling'
}

const LABELS: [RegExp, Kind][] = [
  [/^book review|^reviews$/, 'review of a book'],
  [/^review( article)?$/, 'literature review'],
  [/^(editorial|letter|obituary|comment|reply)/, 'editorial or letter'],
  [/^(correction|erratum|corrigendum)/, 'correction'],
  [/^news/, 'news'],
]

/** What the pages themselves say: printed there by those who made it, so stronger than any catalogue. */
function ofCopy(signs: Signs): Feature[] {
  const out: Feature[] = []
  const { label, sections = [] } = signs
  const kind = label ? LABELS.find(([test]) => test.test(label))?.[1] : undefined
  if (kind) out.push({ name: `copy ${kind}`, said: `Its first page is headed “${label}”.` })
  const has = (...words: string[]) => words.find(w => sections.includes(w))
  const methods = has('methods', 'method', 'materials and methods', 'data and methods')
  const results = has('results', 'findings')
  if (methods && results)
    out.push({ name: 'copy methods and results', said: 'Its copy has sections on methods and on results.' })
  if (has('search strategy', 'selection of studies'))
    out.push({ name: 'copy search', said: 'Its copy tells how studies were searched for.' })
  if (signs.refereed)
    out.push({ name: 'copy refereed', said: 'Its first page says when it was received and accepted.' })
  if (signs.draft) out.push({ name: 'copy draft', said: 'Its pages say that it is a draft, not for citation.' })
  if (signs.unrefereed) out.push({ name: 'copy unrefereed', said: 'Its pages say that nobody has refereed it.' })
  return out
}
