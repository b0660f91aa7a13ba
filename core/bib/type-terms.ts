import { fold } from './fold'

/**
 * What catalogues of ten tongues call kinds of things, folded, and the item type of CSL; the first that fits counts, so
 * that a review of a book comes before the book.
 */
const TERMS: [RegExp, string][] = [
  [/book ?review|review of|rezension|buchbesprechung|compte rendu|resena|recensione|recensie|recension|resenha|bokanmeld|reviews? book|рецензия/, 'review-book'],
  [/thes[ei]s|dissert|hochschulschrift|habilitation|doctoral|bachelorarbeit|masterarbeit|diplomarbeit|examensarbeit|avhandling|vaitoskirja|proefschrift|tesis|these\b|tesi\b|tese\b|memoire de|trabajo de grado|disputats|диссертац/, 'thesis'],
  [/journal article|zeitschriftenaufsatz|zeitschriftenartikel|article de (revue|periodique)|articulo de revista|articolo (di|in) (rivista|periodico)|artigo de revista|artikel in tijdschrift|tidskriftsartikel|contributiontoperiodical|research article|semantics\/article|journalarticle|статья/, 'article-journal'],
  [/newspaper|zeitungsartikel|zeitungsaufsatz|article de journal|articulo de (prensa|periodico)|articolo di giornale|tidningsartikel|krantenartikel|press clipping|zeitungsausschnitt|\bnews\b/, 'article-newspaper'],
  [/magazine/, 'article-magazine'],
  [/conference (paper|item|object|contribution|presentation|poster)|konferenzbeitrag|kongress?beitrag|communication (dans un|de) congres|ponencia|contributo in atti|conferenceobject|conferencepaper|konferensbidrag|proceedings? (paper|article)|in conference/, 'paper-conference'],
  [/chapter|book ?part|bookpart|buchkapitel|kapitel|beitrag in|sammelwerksbeitrag|aufsatz (in|im) (sammel|buch)|chapitre|capitulo|capitolo|hoofdstuk|book section|contribution to book/, 'chapter'],
  [/preprint|working ?paper|workingpaper|arbeitspapier|documento de trabajo|document de travail|discussion paper|submitted|posted content/, 'article'],
  [/technical report|\breports?\b|forschungsbericht|\bbericht\b|rapport|informe|relazione|relatorio|rapportti|raportti|grey literature|graue literatur/, 'report'],
  [/data ?sets?|datensatz|forschungsdaten|jeu de donnees|conjunto de datos|datenbank|numeric data|research data|\bdata\b|tableur/, 'dataset'],
  [/software|computer program|computerprogramm|logiciel|source code/, 'software'],
  [/\bmaps?\b|landkarte|\bkarten?\b|cartograph|kartograph|carte geographique|mapa\b|mappa|kart[ao]r?\b|atlas/, 'map'],
  [/musical (score|composition)|notated music|sheet music|musikdruck|\bnoten\b|partitur|partition|musica notada/, 'musical_score'],
  [/broadcast|radio|television|rundfunk|fernseh|emission|podcast/, 'broadcast'],
  [/moving image|motion picture|video|\bfilm|pelicula|two dimensional moving/, 'motion_picture'],
  [/sound|audio|phonogram|tontrager|tonaufnahme|grabacion sonora|enregistrement sonore|spoken word|performed music|horbuch|schallplatte/, 'song'],
  [/still image|photograph|fotografie|photographie|\bimages?\b|\bbilder?\b|picture|graphic|grafik|illustration|poster|plakat|drawing|zeichnung|painting|slide/, 'graphic'],
  [/patent/, 'patent'],
  [/\bstandards?\b|technische norm|\bnorm(en|e|a)?\b|technical specification/, 'standard'],
  [/legislation|gesetz|\bstatute|law report|verordnung|\bley\b|\bloi\b/, 'legislation'],
  [/legal case|court decision|gerichtsentscheid|urteil|jurisprud/, 'legal_case'],
  [/interview/, 'interview'],
  [/encyclop|enzyklop|lexikonartikel/, 'entry-encyclopedia'],
  [/reference entry|dictionary entry|worterbuchartikel/, 'entry'],
  [/manuscript|handschrift|manuscrit|manuscrito/, 'manuscript'],
  [/web ?(site|page)|webseite|website|internetpublikation|online ressource eines/, 'webpage'],
  [/lecture|speech|vortrag|\brede\b|discours|conferencia\b|presentation|folien/, 'speech'],
  [/pamphlet|flugschrift|brosch/, 'pamphlet'],
  [/periodical|zeitschrift$|zeitschriften$|\bjournal$|\bserials?\b|revue$|rivista$|revista$|\bnewspapers?$|continuing|periodique/, 'periodical'],
  [/article|aufsatz|artikel|articulo|articolo|artigo|artikkel|editorial|letter|correction|erratum|corrigend|review|contribution/, 'article-journal'],
  [/\bbooks?\b|monogra|\bbuch\b|livre|\blibro|\blivro|\bboek\b|\bbok\b|kirja|konferenzschrift|conference (proceedings|publication)|\bproceedings?\b|festschrift|aufsatzsammlung|anthology|textbook|lehrbuch|handbook|handbuch|ausstellungskatalog|exhibition catalog|novel|roman\b|книга/, 'book'],
] // prettier-ignore

/** Words that were run together or tied by signs, apart: "StillImage", "book-chapter". */
export const apart = (said: string): string =>
  said
    .slice(0, 300)
    .replace(/(\p{Ll})(?=\p{Lu})/gu, '$1 ')
    .replace(/[-_]+/g, ' ')

/**
 * The item type of CSL for what a catalogue calls a thing, in its own tongue; undefined where its words say none.
 * @example typeOfTerm('Hochschulschrift') // 'thesis'
 */
export function typeOfTerm(said: string | undefined): string | undefined {
  const words = fold(apart(said ?? ''))
  return words ? TERMS.find(([is]) => is.test(words))?.[1] : undefined
}
