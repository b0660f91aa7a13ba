import type { Kind } from './kinds'

/** What a title says of its own kind. */
export interface TitleSign {
  kind: Kind
  /** Nothing else stands in the title: then it is enough; else it needs other signs beside it. */
  whole?: boolean
  said: string
}

const FRONT =
  "editorials?|editoriale|éditorial|leitartikel|from the editors?|editors?[’']? (note|introduction|preface)|note from the editors?|preface|foreword|vorwort(?: (?:der|des) (?:herausgeber\\w*|redaktion))?|geleitwort|zu diesem heft|avant-propos|préface|présentation|presentación|prólogo|nota editorial|carta del editor|premessa|presentazione|förord|forord|ledare|voorwoord|woord vooraf|ten geleide|redactioneel|předmluva|úvodník|przedmowa|od redakcji|предисловие|от редакции|apresentação|introduction to (?:the|this) (?:special )?issue|in this issue|about this (?:issue|journal)|front matter|back matter|masthead|contents|table of contents|notes on (?:the )?contributors|contributors|announcements?|books received|editorial board|thank you to our reviewers(?: \\d{4})?|list of reviewers(?: \\d{4})?|calendar|acknowledge?ments? (?:of|to) (?:the )?reviewers|to our readers|a (?:word|note|farewell)|correspondence|letters|viewpoint|(?:(?:inside )?(?:front|back) )?cover|title page|imprint|colophon|calendar of events|participants|advertisements?|news|notices|production notes|future issues|(?:coming )?(?:in )?(?:the )?next issue|membership (?:application|form|list)|institutional members|opening words|closing words|(?:index|list) (?:of|to) (?:advertise(?:rs|ments)|authors|members|titles|contributors)|(?:message |letter |notes? |words? )?from (?:the|our) (?:president|chair|board|publisher|director|secretary|treasurer)|(?:the )?(?:editor|president|chair|director)[’']?s? (?:introduction|comments?|message|report|address|letter|column|remarks|page|corner)|(?:editorial|introductory) (?:comments?|notes?|remarks)"
const OBITUARY =
  'obituar(?:y|ies)|in memoriam|nachruf(?: auf)?|nécrologie|necrológica|necrologio|nekrolog|dödsruna|некролог|a tribute to'
const LETTER =
  "letters? to the editors?|letters? from (?:our )?readers|reply|author(?:s[’']?|[’']s) (?:reply|response)|response|rejoinder|rebuttal|comments?(?: on| to)?|commentary(?: on)?|in reply|leserbrief|replik(?: auf)?|antwort auf|kommentar zu|réponse à|lettre à la rédaction|droit de réponse|respuesta a|carta al (?:editor|director)|risposta a|lettera al direttore|reactie op|viewpoint|correspondence"
const CORRECTED =
  '(?:author |publisher )?corrections?|errat(?:um|a)|corrigend(?:um|a)|retractions?(?: notice| note)?|notice of retraction|retracted(?: article)?|withdrawn|addend(?:um|a)|expression of concern|berichtigung(?:en)?|korrektur|rectificatif|fe de erratas|corrección|errata corrige|rettifica|rättelse|rectificatie|oprava|sprostowanie|исправление|correção'
const BOOK_REVIEW =
  'book reviews?|reviews?(?: of books)?|rezension(?:en)?|buchbesprechung(?:en)?|besprechung(?:en)?|compte(?:s)? rendu(?:s)?|notes de lecture|reseñas?|recensioni|recensione|recensies?|boekbespreking(?:en)?|recensioner|anmeldelser?|boganmeldelser?|resenhas?|recenze|recenzja|рецензии|рецензия|recent books|new books|books in brief|short notices'

const only = (words: string) => new RegExp(`^\\W*(?:${words})\\W*$`, 'iu')
/** At the beginning, with what ties it to another item: a colon, "to", "on", "zu". */
const opening = (words: string, tie: string) => new RegExp(`^\\W*(?:${words})(?:${tie})`, 'iu')

const SIGNS: [RegExp, TitleSign][] = [
  [only(CORRECTED), { kind: 'correction', whole: true, said: 'Its title is that of a correction.' }],
  [opening(CORRECTED, '\\s*:| (?:to|for|zu|à|a|au|till|til)\\b(?!\\s+\\w+\\s+(?:error|defect))| notice'), { kind: 'correction', whole: true, said: 'The title says that it corrects another item.' }],
  [/^retracted\b|\[(retracted|withdrawn|correction|erratum)\]$|\((retracted|erratum|corrigendum)\)$/iu, { kind: 'correction', whole: true, said: 'The title says that it was taken back or corrected.' }],
  [only(FRONT), { kind: 'editorial or letter', whole: true, said: 'Its title is that of an editorial.' }],
  [only(OBITUARY), { kind: 'editorial or letter', whole: true, said: 'Its title is that of an obituary.' }],
  [only(LETTER), { kind: 'editorial or letter', whole: true, said: 'Its title is that of a letter or a reply.' }],
  [opening(FRONT, '\\s*[:.—–]'), { kind: 'editorial or letter', said: 'The title says that it is an editorial.' }],
  [opening(OBITUARY, '\\s*[:.,—–]|\\s+\\p{Lu}.*\\d{4}'), { kind: 'editorial or letter', said: 'The title says that it is an obituary.' }],
  [/\(\d{4}\s?[-–]\s?\d{4}\)\.?$/u, { kind: 'editorial or letter', said: 'The years of a life stand in its title.' }],
  [opening(LETTER, '\\s*[:“"‘«]| (?:to|on|zu|à|a)\\b'), { kind: 'editorial or letter', said: 'The title says that it is a letter or a reply.' }],
  [/\bto the editor\b|[:,–—-] (an? )?(short |brief )?(reply|response|rejoinder|comment|rebuttal|letter|plea|call for [\w ]+)( to\b.*)?$/iu, { kind: 'editorial or letter', said: 'The title says that it is a letter or a reply.' }],
  [/\b(reply|response|rejoinder|rebuttal|comments?) (to|on) \p{Lu}/u, { kind: 'editorial or letter', said: 'The title says that it answers another item.' }],
  [only(BOOK_REVIEW), { kind: 'review of a book', whole: true, said: 'Its title is that of a review of books.' }],
  [/[([](book )?(review|rezension|compte rendu|reseña|recensione|recension)[)\]]\.?$/iu, { kind: 'review of a book', whole: true, said: 'The title says that a book is reviewed.' }],
  [opening(BOOK_REVIEW, '\\s*[:.]| (?:of|zu|von|de|di|av|van|över|til)\\b'), { kind: 'review of a book', said: 'The title names a book that is reviewed.' }],
  // the book as lists of publishers have it
  [/\b(\d{2,4} ?(pp|pages|S|p)\b\.?|pp?\. ?[xvi]{1,6}\b|isbn\b|[$£€] ?\d+|\b(hb|pb|hbk|pbk)\b)/iu, { kind: 'review of a book', whole: true, said: 'Its title has the pages or the price of a book.' }],
  [/\p{L}{3,}\.? \p{Lu}[\p{L} ]{2,30}: [\p{Lu}&][\p{L} .&-]{3,40}, (1[5-9]|20)\d{2}\b/u, { kind: 'review of a book', whole: true, said: 'Its title has the press and the year of a book.' }],
  [/^\p{Lu}[\p{L}’'-]+, \p{Lu}[\p{L}.’' -]+: .{5,} (1[5-9]|20)\d{2}\.?$/u, { kind: 'review of a book', said: 'Its title has author, place and year of a book.' }],
  [/(?:, (?:by|ed\.|von|par|de)| edited by) (\p{Lu}[\p{L}.’'-]* ?){2,4}\.?$/u, { kind: 'review of a book', said: 'Its title ends with the author of a book.' }],
  [/\breviewed by\b/iu, { kind: 'review of a book', said: 'The title says that a book is reviewed.' }],
  [/\b(systematic|scoping|critical|narrative|literature|umbrella|integrative|state-of-the-art) reviews?\b|[:,–—] an? (critical |brief |short |narrative |systematic )?(review|overview|synthesis|appraisal|survey of (the )?\w+)\b|^an? (critical |brief )?(review|overview|synthesis|survey) of\b|\bmeta-?analys[ie]s\b|\breview of (the |recent |published )?(literature|evidence|studies|research|work)\b|\b(years|decades|century) of (work|research|study|studies|evidence)\b|\bstate of (the )?(knowledge|evidence|art|field|science)\b|\b(current|present) (knowledge|understanding|evidence)\b|\b(advances|trends|progress|perspectives|directions) (in|on|for)\b|\bpast, present,? and future\b|\btaking stock\b|\bthe (published )?literature on\b|\bthe evidence (on|for|against)\b|\bevidence (synthesis|map|so far|to date|stands)\b|\bsurvey of (the )?(literature|studies|work)\b|\bwhat (is|do we|we( now)?|have we) (know|known|learned)( about\b| of\b| on\b|\?|$)|\bresearch agenda\b|\bopen questions\b|\bwhere (do )?we (now )?stand\b/iu, { kind: 'literature review', said: 'The title announces a review of the literature.' }],
  [/[:,–—.?] (eine? )?(systematische )?(übersicht\w*|literaturübersicht|überblick|forschungsstand|bestandsaufnahme)|\bétat (des connaissances|de l[’']art|de la question)|\brevue (systématique|de la littérature)|\brevisión (sistemática|de la literatura|bibliográfica)|\bestado de la cuestión|\brassegna\b|\brevisione (sistematica|della letteratura)|\bstato dell[’']arte|\brevisão (sistemática|da literatura)|\bliteratuuroverzicht|\bkunskapsöversikt|\blitteraturöversikt|\bforskningsoversigt|\bobzor\b|\bprzegląd (literatury|badań)|обзор/iu, { kind: 'literature review', said: 'The title announces a review of the literature.' }],
  [/^(abstract|poster)? ?(no\. ?)?[A-Z]{0,2}-?\d{1,4}[:. ]+(?=\p{Lu})|^abstract\b/u, { kind: 'conference abstract', said: 'The title has the number of a talk or a poster.' }],
  [/^(preliminary notes?|towards)\b|[:,] (a first look|work in progress|first results)$/iu, { kind: 'conference paper', said: 'The title speaks of work under way.' }],
  [/^(poster|sound recording|photographs?|film|map|video) ?:|[:,] (a )?(set of |series of )?(lantern slides|(sound|video) recording|photographs)$/iu, { kind: 'image or recording', said: 'The title names a picture, a poster or a recording.' }],
] // prettier-ignore

const LONGEST = 600

/** What a title says of its own kind, each kind once, whole titles first. */
export function titleSigns(title: string): TitleSign[] {
  // what is as long as a paragraph is no title to go by
  if (title.length > LONGEST) return []
  const found = SIGNS.filter(([is]) => is.test(title)).map(([, sign]) => sign)
  return found.filter((s, i) => found.findIndex(x => x.kind === s.kind) === i)
}
