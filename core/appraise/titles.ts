import type { Kind } from './kinds'
import { NOTICE as CORRECTING, saidOfItself } from './taken-back'

/** What a title says of its own kind. */
export interface TitleSign {
  /** By which its weight is found. */
  name: string
  /** Nothing else stands in the title, so that a journal may have it again and again. */
  whole: boolean
  kind: Kind
  said: string
}

/** Who writes front matter, and for whom. */
const DESK =
  '(?:the |our |your )?(?:new |guest |managing )?(?:editors?(?:-in-chief|ial board|ial team)?|board|president|chair|publisher|director|secretary|treasurer|readers?|reviewers?|referees?|authors?|contributors?|members)'
const FRONT = `editorials?|editoriale|éditorial|leitartikel|${DESK}[’']? (?:note|introduction|preface|comments?|message|report|address|letter|column|remarks|page|corner|foreword)|(?:an? |the )?(?:short |brief |opening |closing |welcome )?(?:notes?|words?|letters?|messages?|thanks|thank you|welcome|farewell|introduction)(?: of (?:thanks|welcome|farewell))? (?:from|by|to) ${DESK}(?: \\d{4})?|from ${DESK}|preface|foreword|afterword|vorwort(?: (?:der|des) (?:herausgeber\\w*|redaktion))?|nachwort|geleitwort|editorische notiz|zu diesem heft|avant-propos|préface|postface|présentation|presentación|prólogo|prologue|nota (?:editorial|del editor|de la redacción|dos editores)|carta del editor|premessa|presentazione|nota (?:redazionale|dei curatori)|förord|forord|ledare|leder|fra redaktionen|från redaktionen|esipuhe|pääkirjoitus|voorwoord|woord vooraf|ten geleide|redactioneel|van de redactie|předmluva|úvodník|úvodem|przedmowa|słowo wstępne|wstęp|od redakcji|от редакции|колонка редактора|слово редактора|предисловие|к читателям|apresentação|nota do editor|编者按|编者的话|卷首语|巻頭言|編集後記|发刊词|발간사|머리말|önsöz|sunuş|in this issue|about this (?:issue|journal)|front matter|back matter|masthead|contents|table of contents|notes on (?:the )?contributors|contributors|announcements?|books received|editorial board|(?:a )?(?:word|note|farewell)|correspondence|letters|viewpoint|(?:(?:inside )?(?:front|back) )?cover|title page|imprint|colophon|calendar(?: of events)?|participants|advertisements?|news|notices|production notes|future issues|(?:coming )?(?:in )?(?:the )?next issue|membership (?:application|form|list)|institutional members|opening words|closing words|(?:index|list) (?:of|to) (?:advertise(?:rs|ments)|authors|members|titles|contributors)|(?:editorial|introductory) (?:comments?|notes?|remarks)`
const INTRODUCTION =
  '(?:an )?introduction(?: to (?:the|this) (?:special |themed |thematic |theme )?(?:issue|section|forum|volume|dossier|symposium|collection))?|(?:preface|foreword) to (?:the|this) (?:special |themed |thematic |theme )?(?:issue|section|volume)|einführung(?: in (?:das|dieses) (?:themen)?heft)?|introduction au (?:dossier|numéro)|introducción(?: al (?:dosier|número))?|introduzione(?: al (?:dossier|numero))?|inledning|wprowadzenie'
/** Thanks to those who judged, and calls to those who might write. */
const NOTICE =
  /^\W*(?:our )?(?:(?:list of |thanks? (?:you )?to |acknowledge?ments? (?:of|to) |in gratitude to )(?:all |our |the )*(?:peer )?(?:reviewers?|referees?)|(?:peer )?(?:reviewers?|referees?)(?: for| of| in)?[ ,:]+(?:volume|vol|\d{4}|acknowledge\w*)|call for (?:papers|contributions|submissions|nominations|proposals|manuscripts|abstracts)|(?:instructions|guidelines|information|notes) (?:for|to) (?:the )?(?:authors|contributors))(?!\w)/iu
const OBITUARY =
  'obituar(?:y|ies)|in memoriam|in memory of|remembering|nachruf(?: auf)?|nécrologie|necrológica|necrologio|nekrolog|dödsruna|minnesord|wspomnienie|некролог|a tribute to'
const LETTER =
  "letters?(?: to the editors?| from (?:our )?readers)?|(?:an? )?(?:reply|author(?:s[’']?|[’']s) (?:reply|response)|response|rejoinder|rebuttal)|comments?(?: on| to)?|commentary(?: on)?|in reply|re|a (?:few )?words?|leserbrief|zuschrift|replik(?: auf)?|antwort auf|erwiderung(?: auf)?|kommentar zu|réponse à|réplique|lettre à la rédaction|courrier des lecteurs|droit de réponse|respuesta a|réplica|carta al (?:editor|director)|cartas al director|risposta a|lettera al direttore|replica|reactie op|ingezonden|polemika|viewpoint|correspondence"
const CORRECTED = `${CORRECTING}|retracted(?: article)?|withdrawn(?: article)?`
const BOOK_REVIEW =
  'book (?:reviews?|notes|notices)|books? received(?: and [\\p{L} ]+)?|reviews?(?: of books)?|review essay|rezension(?:en)?|buchbesprechung(?:en)?|besprechung(?:en)?|buchanzeigen?|compte(?:s)?[- ]rendu(?:s)?|notes? de lecture|bibliographie critique|reseñas?|reseña bibliográfica|recensioni|recensione|schede|recensies?|boekbespreking(?:en)?|recensioner|recension av|anmeldelser?|boganmeldelser?|bokanmeldelse|kirja-arvostelu|resenhas?|recenze|recenzja|recenzje|rec|рецензии|рецензия|书评|書評|서평|recent books|new books|books in brief|short notices'

const only = (words: string) => new RegExp(`^\\W*(?:${words})\\W*$`, 'iu')
/** At the beginning, with what ties it to another item: a colon, "to", "on", "zu". */
const opening = (words: string, tie: string) => new RegExp(`^\\W*(?:${words})(?:${tie})`, 'iu')

/** What has to hold together, where one half minds capitals and the other does not. */
const both = (a: RegExp, b: RegExp) => ({ test: (title: string) => a.test(title) && b.test(title) })

const WHOLE = /alone$|^(review in brackets|pages or price|press and year|notice|taken back)$/
const isWhole = (name: string): boolean => WHOLE.test(name)

const SIGNS: [{ test: (title: string) => boolean }, string, Kind, string][] = [
  [only(CORRECTED), 'correction alone', 'correction', 'Its title is that of a correction.'],
  [opening(CORRECTING, '\\s*:| (?:to|for|zu|zum|zur|à|a|au|aux|al|alla|till|til|do|к)(?![\\p{L}])(?!\\s+\\w+\\s+(?:error|defect))| notice'), 'correction of', 'correction', 'The title says that it corrects another item.'],
  [{ test: t => saidOfItself(t) !== undefined || /\[(correction|erratum)\]$|\((erratum|corrigendum)\)$/iu.test(t) }, 'taken back', 'correction', 'The title says that it was taken back or corrected.'],
  [only(FRONT), 'front alone', 'editorial or letter', 'Its title is that of an editorial.'],
  [NOTICE, 'notice', 'editorial or letter', 'Its title is that of a notice to readers or authors.'],
  [only(OBITUARY), 'obituary alone', 'editorial or letter', 'Its title is that of an obituary.'],
  [only(LETTER), 'letter alone', 'editorial or letter', 'Its title is that of a letter or a reply.'],
  [opening(FRONT, '\\s*[:.—–]'), 'front', 'editorial or letter', 'The title says that it is an editorial.'],
  [opening(INTRODUCTION, '\\s*[:.—–]|\\W*$|(?<=issue|section|volume|forum|heft|dossier) (?:on|zu|sur|sobre|su)(?!\\w)'), 'introduction', 'editorial or letter', 'The title says that it introduces other items.'],
  [both(opening(OBITUARY, '\\s*[:.,—–]|\\s'), /[:.,—–]|\s\p{Lu}.*\d{4}|\s(?:\p{Lu}[\p{L}.’-]*\s*){2,4}\W*$/u), 'obituary', 'editorial or letter', 'The title says that it is an obituary.'],
  [/\(\d{4}\s?[-–]\s?\d{4}\)\.?$|^(?:\p{Lu}[\p{L}.’'-]*,? ){2,4}\(?\d{4}\s?[-–]\s?\d{4}\)?(?=\W|$)/u, 'years of a life', 'editorial or letter', 'The years of a life stand in its title.'],
  [opening(LETTER, '\\s*[:“"‘«]| (?:to|on|zu|à|a)\\b'), 'letter', 'editorial or letter', 'The title says that it is a letter or a reply.'],
  [/\bto the editor\b|[:,–—-] (an? )?(short |brief )?(reply|response|rejoinder|comment|rebuttal|letter|plea|call for [\w ]+|appreciation)( to\b.*)?$/iu, 'letter at the end', 'editorial or letter', 'The title says that it is a letter or a reply.'],
  [/\b(reply|response|rejoinder|rebuttal|comments?) (to|on) \p{Lu}/u, 'answers', 'editorial or letter', 'The title says that it answers another item.'],
  [only(BOOK_REVIEW), 'book review alone', 'review of a book', 'Its title is that of a review of books.'],
  [/[([](book |film |exhibition )?(review|rezension|compte rendu|reseña|recensione|recension|recenzja|anmeldelse)[)\]]\.?$/iu, 'review in brackets', 'review of a book', 'The title says that a book is reviewed.'],
  [opening(BOOK_REVIEW, '\\s*[:.]| (?:of|zu|von|de|di|av|van|över|til|a)\\b'), 'book review', 'review of a book', 'The title names a book that is reviewed.'],
  [/[.:–—] (rezension|recension|recensione|reseña|recenzja|compte rendu|anmeldelse) (zu|von|av|de|di|a|af)\b/iu, 'book review', 'review of a book', 'The title names a book that is reviewed.'],
  // the book as lists of publishers have it
  [/\b(\d{2,4} ?(pp|pages|S|p)\b\.?|ss\. ?\d{2,4}|pp?\. ?[xvi]{1,6}\b|isbn\b|[$£€] ?\d+|\b(hb|pb|hbk|pbk)\b)/iu, 'pages or price', 'review of a book', 'Its title has the pages or the price of a book.'],
  [/\p{L}{3,}\.? \p{Lu}[\p{L} ]{2,30}: [\p{Lu}&][\p{L} .&-]{3,40}, (1[5-9]|20)\d{2}\b/u, 'press and year', 'review of a book', 'Its title has the press and the year of a book.'],
  [/^\p{Lu}[\p{L}’'-]+, \p{Lu}[\p{L}.’' -]+: .{5,} (1[5-9]|20)\d{2}\.?$/u, 'place and year', 'review of a book', 'Its title has author, place and year of a book.'],
  [/(?:, (?:by|ed\.|von|par|de)| edited by) (\p{Lu}[\p{L}.’'-]* ?){2,4}\.?$/u, 'author at the end', 'review of a book', 'Its title ends with the author of a book.'],
  [/^(?:\p{Lu}[\p{L}’'-]+ (?:\p{Lu}\.? )*\p{Lu}[\p{L}’'-]+|\p{Lu}\. \p{Lu}[\p{L}’'-]+|\p{Lu}[\p{L}’'-]+ \(\p{Lu}[\p{L}.’' -]*\))(?: \((?:eds?|hg|hrsg|dir|coord|red)\.?\))?, (?=\p{Lu}.{8,})/u, 'person first', 'review of a book', 'Its title begins with the author of a book.'],
  [/\breviewed by\b/iu, 'reviewed by', 'review of a book', 'The title says that a book is reviewed.'],
  [/\b(systematic|scoping|critical|narrative|literature|umbrella|integrative|rapid|mapping|realist|comprehensive|methodological|state-of-the-art) (literature )?reviews?\b|[:,–—] an? (critical |brief |short |narrative |systematic )?(review|overview|synthesis|appraisal|review article|state of the field|survey of (the )?\w+|historiographical essay)\b|^an? (critical |brief )?(review|overview|synthesis|survey) of\b|\bmeta-?analys[ie]s\b|\breview of (the |recent |published )?(literature|evidence|studies|research|work)\b|\b(years|decades|century) of (work|research|study|studies|evidence)\b|\bstate of (the )?(knowledge|evidence|art|field|science)\b|\b(current|present) (knowledge|understanding|evidence)\b|\b(advances|trends|progress|perspectives|directions)(, \w+)* (in|on|for|and (challenges|prospects|problems|perspectives|directions))\b|\bpast, present,? and future\b|\btaking stock\b|\bthe (published )?literature on\b|\bthe evidence (on|for|against)\b|\bevidence (synthesis|map|so far|to date|stands)\b|\bsurvey of (the )?(literature|studies|work)\b|\bwhat (is|do|we( now)?|have we) (know|known|learned|learnt)( about\b| of\b| on\b|\?|$)|\bresearch agenda\b|\bopen questions\b|\bwhere (do )?we (now )?stand\b|\brecent (work|research|studies) (in|on)\b/iu, 'literature', 'literature review', 'The title announces a review of the literature.'],
  [/[:,–—.?] (eine? )?(systematische )?(übersicht\w*|literaturübersicht|überblick|(stand der )?forschung(sstand)?|bestandsaufnahme)|\bétat (des connaissances|de l[’']art|de la question|des lieux)|\b(revue|synthèse) (systématique|de (la )?littérature|narrative)|\brevisión (sistemática|de (la |)?(literatura|alcance)|bibliográfica|narrativa)|\bestado de la (cuestión|investigación)|\brassegna\b|\brevisione (sistematica|della letteratura|narrativa)|\bstato dell[’']arte|\brevisão (sistemática|de literatura|da literatura|de escopo|integrativa|narrativa)|\bliteratuur(overzicht|studie)|\bkunskapsöversikt|\blitteraturöversikt|\bforskningsö?oversi[gk]t|\bforskningsöversikt|\bkirjallisuuskatsaus|\bobzor\b|\bprzegląd (literatury|badań|piśmiennictwa|systematyczny)|обзор|综述|文献レビュー|研究動向/iu, 'literature', 'literature review', 'The title announces a review of the literature.'],
  [/^(abstract|poster|oral|oral presentation|talk)? ?(no\. ?)?[A-Z]{0,2}-?\d{1,4}(\.\d{1,2})?[:. ]+(?=\p{Lu})|^abstract\b|\((poster|abstract)\)$|^(oral presentation|poster presentation)\b/u, 'number of a talk', 'conference abstract', 'The title has the number of a talk or a poster.'],
  [/^(preliminary notes?|towards)\b|[:,] (a first look|work in progress|first results)$/iu, 'under way', 'conference paper', 'The title speaks of work under way.'],
  [/^(poster|sound recording|photographs?|film|map|video) ?:|[:,] (a )?(set of |series of )?(lantern slides|(sound|video) recording|photographs)$/iu, 'picture', 'image or recording', 'The title names a picture, a poster or a recording.'],
  [/^(the )?(\d{4} )?annual (report|review)\b|\b(working|discussion|policy|research|occasional) paper( series)?,? (no|nr|n°|#|\d)|^(policy|briefing) (brief|note|paper)\b|\b(technical|progress|interim|final|evaluation|inspection) report\b|^(jahres|tätigkeits|geschäfts|abschluss|projekt|rechenschafts)bericht\b|^rapport (annuel|d[’']activité|final|d[’']étape|technique)|^(informe|memoria) (anual|final|técnico|de actividad)|^relazione (annuale|finale|tecnica)|^relatório (anual|final|técnico)|^(års(rapport|berättelse|beretning)|vuosikertomus|jaarverslag|sprawozdanie roczne)|^(ежегодный|годовой) (отчет|доклад)|white paper$/iu, 'report', 'report', 'The title is that of a report.'],
  [/^(supporting|supplementary|replication|raw) data\b|^data (from|for|set)\b|\bdata ?set\b.{0,20}(v(ersion)?\.? ?\d|\d{4})/iu, 'data', 'dataset', 'The title names data.'],
] // prettier-ignore

/** Of all signs the name and the kind, for their weights. */
export const TITLE_SIGNS: readonly Pick<TitleSign, 'name' | 'kind' | 'whole'>[] = [
  ...new Map(SIGNS.map(([, name, kind]) => [name, { name, kind, whole: isWhole(name) }])).values(),
]

const LONGEST = 600

/** What a title says of its own kind, the strongest of each kind. */
export function titleSigns(title: string): TitleSign[] {
  // what is as long as a paragraph is no title to go by
  if (title.length > LONGEST) return []
  const found = SIGNS.filter(([is]) => is.test(title))
  return found
    .filter(([, , kind], i) => found.findIndex(x => x[2] === kind) === i)
    .map(([, name, kind, said]) => ({ name, whole: isWhole(name), kind, said }))
}
