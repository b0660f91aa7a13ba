import { fold } from '../bib/fold'

/**
 * What catalogues of ten tongues call kinds of things, folded, and the item type of CSL; the first that fits counts, so
 * that a review of a book comes before the book.
 */
const TERMS: [RegExp, string][] = [
  [/book ?review|review of|rezension|buchbesprechung|compte[- ]rendu|resena|recensione|recensie|recension|resenha|bokanmeld|reviews?-book|рецензия/, 'review-book'],
  [/thes[ei]s|dissert|hochschulschrift|habilitation|doctoral|bachelorarbeit|masterarbeit|diplomarbeit|examensarbeit|avhandling|vaitoskirja|proefschrift|tesis|these\b|tesi\b|tese\b|memoire de|trabajo de grado|disputats|диссертац/, 'thesis'],
  [/journal article|zeitschriftenaufsatz|zeitschriftenartikel|article de (revue|periodique)|articulo de revista|articolo (di|in) (rivista|periodico)|artigo de revista|artikel in tijdschrift|tidskriftsartikel|contributiontoperiodical|research article|semantics\/article|journalarticle|статья/, 'article-journal'],
  [/newspaper|zeitungsartikel|zeitungsaufsatz|article de journal|articulo de (prensa|periodico)|articolo di giornale|tidningsartikel|krantenartikel|press clipping|zeitungsausschnitt|\bnews\b/, 'article-newspaper'],
  [/magazine/, 'article-magazine'],
  [/conference (paper|item|object|contribution|presentation|poster)|konferenzbeitrag|kongress?beitrag|communication (dans un|de) congres|ponencia|contributo in atti|conferenceobject|conferencepaper|konferensbidrag|proceedings? (paper|article)|in conference/, 'paper-conference'],
  [/chapter|book ?part|bookpart|buchkapitel|kapitel|beitrag in|sammelwerksbeitrag|aufsatz (in|im) (sammel|buch)|chapitre|capitulo|capitolo|hoofdstuk|book section|contribution to book/, 'chapter'],
  [/preprint|working ?paper|workingpaper|arbeitspapier|documento de trabajo|document de travail|discussion paper|submitted/, 'article'],
  [/technical report|\breports?\b|forschungsbericht|\bbericht\b|rapport|informe|relazione|relatorio|rapportti|raportti|grey literature|graue literatur/, 'report'],
  [/data ?sets?|datensatz|forschungsdaten|jeu de donnees|conjunto de datos|datenbank|numeric data|research data|\bdata\b|tableur/, 'dataset'],
  [/software|computer program|computerprogramm|logiciel|source code/, 'software'],
  [/\bmaps?\b|landkarte|\bkarten?\b|cartograph|kartograph|carte geographique|mapa\b|mappa|kart[ao]r?\b|atlas/, 'map'],
  [/musical score|notated music|sheet music|musikdruck|\bnoten\b|partitur|partition|musica notada/, 'musical_score'],
  [/broadcast|radio|television|rundfunk|fernseh|emission|podcast/, 'broadcast'],
  [/moving image|motion picture|video|\bfilm|pelicula|two-dimensional moving/, 'motion_picture'],
  [/sound|audio|phonogram|tontrager|tonaufnahme|grabacion sonora|enregistrement sonore|spoken word|performed music|horbuch|schallplatte/, 'song'],
  [/still image|photograph|fotografie|photographie|\bimages?\b|\bbilder?\b|picture|graphic|grafik|illustration|poster|plakat|drawing|zeichnung|painting|slide/, 'graphic'],
  [/patent/, 'patent'],
  [/\bstandards?\b|technische norm|\bnorm(en|e|a)?\b|technical specification/, 'standard'],
  [/legislation|gesetz|\bstatute|law report|verordnung|\bley\b|\bloi\b/, 'legislation'],
  [/legal case|court decision|gerichtsentscheid|urteil|jurisprud/, 'legal_case'],
  [/interview/, 'interview'],
  [/encyclop|enzyklop|lexikonartikel/, 'entry-encyclopedia'],
  [/manuscript|handschrift|manuscrit|manuscrito/, 'manuscript'],
  [/web ?(site|page)|webseite|website|internetpublikation|online-ressource eines/, 'webpage'],
  [/lecture|speech|vortrag|\brede\b|discours|conferencia\b|presentation|folien/, 'speech'],
  [/pamphlet|flugschrift|brosch/, 'pamphlet'],
  [/periodical|zeitschrift$|zeitschriften$|\bjournal$|\bserials?\b|revue$|rivista$|revista$|\bnewspapers?$|continuing|periodique/, 'periodical'],
  [/article|aufsatz|artikel|articulo|articolo|artigo|artikkel|editorial|letter|correction|erratum|corrigend|review|contribution/, 'article-journal'],
  [/\bbooks?\b|monogra|\bbuch\b|livre|\blibro|\blivro|\bboek\b|\bbok\b|kirja|konferenzschrift|conference (proceedings|publication)|\bproceedings\b|festschrift|aufsatzsammlung|anthology|textbook|lehrbuch|handbook|handbuch|ausstellungskatalog|exhibition catalog|novel|roman\b|книга/, 'book'],
] // prettier-ignore

/**
 * The item type of CSL for what a catalogue calls a thing, in its own tongue; undefined where its words say none.
 * @example typeOfTerm('Hochschulschrift') // 'thesis'
 */
export function typeOfTerm(said: string | undefined): string | undefined {
  // some run the words together: "StillImage", "doctoralThesis"
  const words = fold((said ?? '').slice(0, 300).replace(/(\p{Ll})(?=\p{Lu})/gu, '$1 '))
  return words ? TERMS.find(([is]) => is.test(words))?.[1] : undefined
}

/** The item without what it has no value for. */
export function withoutUndefined<T extends object>(o: T): T {
  return Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T
}

/** Punctuation that cataloguing rules put between the parts of a record (ISBD), off both ends; dots of initials stay. */
export function bare(text: string | undefined): string | undefined {
  const s = (text ?? '').replace(/\s+/g, ' ')
  let [from, to] = [0, s.length]
  while (from < to && ' /:;,=+'.includes(s[from]!)) from++
  for (; to > from; to--) {
    const last = s[to - 1]!
    // a full stop ends the statement, but not an initial or a short form
    if (
      last === '.'
        ? !/[\p{L}\p{N})\]"”»]{2}$/u.test(s.slice(Math.max(from, to - 5), to - 1))
        : !' /:;,=+'.includes(last)
    )
      break
  }
  const kept = s.slice(from, to)
  return (/^\[([^[\]]*)\]$/.exec(kept)?.[1] ?? kept).trim() || undefined
}

/** Number of pages of a statement of extent in any of a few tongues: "xii, 274 p.", "1 online resource (274 Seiten)". */
export function pagesOfExtent(text: string | undefined): number | undefined {
  const found = [
    ...(text ?? '')
      .slice(0, 300)
      .matchAll(
        /(?<![\d-])(\d{1,5})\s{0,2}(?:\[?\d*\]?\s?)(?:p\b|pp\b|pages?|pgs?\b|s\b|seiten?|bl\b|leaves|ff?\b|pag|págs?|blz|sidor|sider|str\b|с\b|side[rn]?\b|σ)/giu,
      ),
  ]
  const pages = found.map(m => Number(m[1])).filter(n => n > 0)
  return pages.length ? Math.max(...pages) : undefined
}

/** Number of an edition, or its words where it says more: "2nd ed." is "2", "Rev. and enl. ed." stays. */
export function editionOf(text: string | undefined): string | undefined {
  const s = bare(text)
  if (!s) return undefined
  const number =
    /^(?:the )?\[?(\d{1,3})(?:st|nd|rd|th|\.|a|e|re|ere|eme|:a)?\]?,?\s{0,2}(?:ed|aufl|uppl|udg|utg|opl|druk|vyd|изд|painos|kiad)/.exec(
      fold(s),
    )?.[1]
  const onlyNumber = /^(\d{1,3})(?:st|nd|rd|th|\.|ª|a|e)?$/.exec(s)?.[1]
  return number && !/rev|corr|enl|erw|überarb|bearb|augm|intern/i.test(s) ? number : (onlyNumber ?? s)
}

/**
 * A title in capitals throughout is put in sentence case; short all-capital words cannot be told from shouting there.
 */
export function unshout(title: string | undefined): string | undefined {
  if (!title || title.length < 12 || /\p{Ll}/u.test(title) || !/\p{Lu}/u.test(title)) return title
  const lower = title.toLowerCase()
  return lower.charAt(0).toUpperCase() + lower.slice(1)
}
