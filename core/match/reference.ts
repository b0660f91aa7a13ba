import { yearOf, yearOfDate } from '../bib/dates'
import { fold, foldTitle } from '../bib/fold'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import type { Item, Name } from '../bib/item'
import { monthOf, seasonOf } from '../bib/months'
import { authorLine, familyName } from '../bib/names'
import { readPages } from '../bib/pages'
import { readPart, readSource } from '../bib/part'
import { editionOf } from '../formats/terms'

/** What a reference says, as far as it can be told, and how sure each part is, 0 to 1. */
export interface Reference {
  /** The parts by the names of CSL; without a type where nothing tells it. */
  item: Partial<Item>
  sure: Partial<Record<keyof Item, number>>
  /** There are more authors than are named ("et al."). */
  others: boolean
}

/** Letters of a reference that are read. */
const LONGEST = 2000

const P = "(?:van|von|vom|der|den|de|del|della|la|le|les|du|da|di|do|dos|das|ter|ten|el|al|bin|ibn|zu|zur|af|av|d')"
const PART = "\\p{Lu}[\\p{L}\\p{M}'’]*\\p{Ll}[\\p{L}\\p{M}'’]*"
/** A word of a name, with what is joined to it by a hyphen. */
const WORD = `${PART}(?:-\\p{L}[\\p{L}\\p{M}'’]*)*`
/** Some write family names in capitals. */
const CAPITALS = "\\p{Lu}{2,}(?:[-'’ ]\\p{Lu}{2,}){0,2}(?=, )"
const FAMILY = `(?:(?:${P} ){0,3}(?:d['’])?${WORD}(?: ${WORD}){0,2}|${CAPITALS})`
const LAST = `(?:${P} ){0,3}${WORD}`
const INITIALS = '(?:\\p{Lu}\\p{Ll}?\\.[ -]?){1,5}'
const GIVEN = `(?:${INITIALS}|${WORD}(?: ${WORD}){0,2}(?: \\p{Lu}\\.(?:-?\\p{Lu}\\.)?){0,3})`
const SUFFIX = '(?:,? (?:Jr|Sr)\\.?|,? (?:II|III|IV)(?=[ ,.;(]))?'
/** A name with its family first: "Lune, Mara H.", "Lune, M.H.", "Berg, I. van der". */
const INVERTED = new RegExp(`(${FAMILY}), (${GIVEN}(?: ?${P}(?: ${P}){0,2}(?=[,.;(]))?)(${SUFFIX})`, 'uy')
/** A family name with initials that have no dots: "Lune MH". */
const BARE = new RegExp(
  `(${FAMILY}) (\\p{Lu}{1,4})(?=[,.;:(]| (?:and|&|et|und|y|e) |$)(?!\\. ${LAST}(?:,| and | & | \\(|\\.|$))`,
  'uy',
)
/** The same with dots, and no comma between: "Lune M. H."; the first of a list is followed by what shows that it is one. */
const DOTTED = new RegExp(`(${FAMILY}) (${INITIALS})(?=,|;|&|\\(|and |et |und |y |- |/|:|\\d{4}|$)`, 'uy')
const DOTTED_TOO = new RegExp(`(${FAMILY}) (${INITIALS}(?:${P}(?: ${P}){0,2}(?=[,.;(]))?)`, 'uy')
/** A name as it is spoken: "Mara H. Lune", "M. H. Lune". */
const SPOKEN = new RegExp(`(${WORD}(?: ${WORD}| \\p{Lu}\\.){0,3}) (${LAST})(${SUFFIX})`, 'uy')
const INITIALS_FIRST = new RegExp(
  `(${INITIALS}) ?(${LAST}(?: ${WORD})?|\\p{Lu}{2,}(?:[-'’]\\p{Lu}{2,})*)(${SUFFIX})`,
  'uy',
)
type Way = keyof typeof WAYS
const WAYS = {
  inverted: INVERTED,
  bare: BARE,
  dotted: DOTTED,
  dottedToo: DOTTED_TOO,
  initials: INITIALS_FIRST,
  spoken: SPOKEN,
}
/** Ways of writing those behind the first, by the way of the first. */
const OTHERS: Record<Way, readonly (readonly Way[])[]> = {
  inverted: [['inverted'], ['initials', 'spoken']],
  bare: [['bare']],
  dotted: [['dottedToo'], ['initials']],
  dottedToo: [['dottedToo']],
  initials: [['initials', 'spoken']],
  spoken: [['initials', 'spoken']],
}
/** What follows the last of a list. */
const LIST_ENDS = /^(?:$|[.,:;(]| ?[(-]| ?\d{4}| ?[“"«‘])/
/** What may follow a name as it is spoken at the beginning. */
const SPOKEN_ENDS = /^(, [“"‘«„']|,? (and|&|und|et|y) \p{Lu}|, \p{Lu}|\. \d{4}|: |\. [“"‘«])/u
const AND =
  / ?- (?=\p{Lu})| ?[;/] ?(?:(?:and|&|et|und) )?|(?:,|;)? (?:and|&|et|und|y|e|a|og|och|en|i) |[;,] (?:\.\.\.|…) ?(?:& )?|[;,/] ?/uy
const ET_AL = /[,;]? ?(?:et al\b\.?|and others|u\. ?a\.|& al\.?)/uy
const ROLE =
  /,? ?[([]?(?:eds?\.?|editors?|hrsg\.?|hg\.?|herausgeber|dir\.|coords?\.?|a cura di|éds?\.?|red\.)[)\]]?(?=[ .,:(]|$)/iuy

/**
 * Reads a reference as people write it, in whatever manner: by author and year, numbered with the year behind, as a note,
 * in full or shortened, with the words of several languages.
 */
export function readReference(text: string): Reference {
  return new Reader(text).read()
}

class Reader {
  private s: string
  private readonly item: Partial<Item> = {}
  private readonly sure: Partial<Record<keyof Item, number>> = {}
  private others = false
  /** Dashes stand for the authors of the line before. */
  private isSame = false

  constructor(text: string) {
    this.s = text
      .slice(0, LONGEST)
      .replace(/\s+/g, ' ')
      .replace(/[‐‑‒–—−]/g, '-')
      .replace(/^ ?(?:\[\d{1,4}\][.:]?|\(\d{1,4}\)|\d{1,4}[.)]|[•*·]) ?(?=\D)/, '')
      .replace(/^ ?(?:[-_]{2,}|-)[.,:]? /, () => ((this.isSame = true), ''))
      .trim()
  }

  private put(field: keyof Item, value: unknown, sure: number): void {
    if (value === undefined || value === '' || this.item[field] !== undefined) return
    this.item[field] = value
    this.sure[field] = sure
  }

  read(): Reference {
    this.takeIdentifiers()
    const behindAuthors = this.isSame ? this.s : this.takeAuthors()
    let rest = this.takeYear(behindAuthors)
    rest = this.takeTitle(rest)
    this.takeHost(rest)
    return { item: this.item, sure: this.sure, others: this.others }
  }

  /** DOI, address, ISBN and ISSN, and what is said of when somebody looked. */
  private takeIdentifiers(): void {
    const drop = (pattern: RegExp, take: (found: string) => void = () => {}) => {
      this.s = this.s.replace(pattern, found => (take(found), ' '))
    }
    drop(/(?:https?:\/\/)?(?:dx\.)?doi\.org\/\S+|\bdoi:? ?10\.\d{4,9}\/\S+|\b10\.\d{4,9}\/\S+/gi, d => this.put('DOI', normaliseDoi(d), 0.99)) // prettier-ignore
    drop(/<?https?:\/\/[^\s>]+>?/gi, u => this.put('URL', u.replace(/[<>]|[.,;)]+$/g, ''), 0.95))
    drop(/\bISBN(?:-1[03])?:? ?[\dXx -]{10,17}/gi, i => this.put('ISBN', normaliseIsbn(i), 0.99))
    drop(/\bISSN:? ?\d{4}-?\d{3}[\dXx]/gi, i => this.put('ISSN', normaliseIssn(i), 0.99))
    drop(/[[(]?(?:available (?:at|from|online)|retrieved|accessed|last accessed|abgerufen|zugriff(?: am)?|consulté|consultado|cited|online unter|verfügbar unter)\b:?[^.\])]{0,40}(?:from|le|el|am)?:?[\])]?/gi) // prettier-ignore
    drop(/\[[Ss]\. ?[ln]\.\],? ?/g)
    drop(/\[(?:internet|online|electronic resource|journal article)\]/gi)
    this.s = this.s.replace(/ +/g, ' ').replace(/ ([.,;:])(?=[ .,;:]|$)/g, '$1').replace(/([.,])[ .,]*$/, '$1').trim() // prettier-ignore
  }

  /** @returns what stands behind the authors */
  private takeAuthors(): string {
    const { s } = this
    const names: Name[] = []
    let at = 0
    const sticky = (pattern: RegExp, from: number) => {
      pattern.lastIndex = from
      return pattern.exec(s)
    }
    const nameAt = (from: number, ways: readonly Way[]): { name: Name; to: number; by: Way } | undefined => {
      for (const by of ways) {
        const m = sticky(WAYS[by], from)
        if (!m) continue
        const [family, given] = by === 'spoken' || by === 'initials' ? [m[2]!, m[1]!] : [m[1]!, m[2]!]
        const suffix = m[3]?.replace(/^,? /, '')
        // "In Night Papers" and the like are no names
        if (by === 'spoken' && /^(In|The|On|A|An|Der|Die|Das|Ein|Le|La|Les|El)$/.test(given.split(' ')[0]!)) continue
        const dotted = by === 'bare' ? [...given].map(l => `${l}.`).join(' ') : given.trim()
        const name = { family: family.trim(), given: dotted, ...(suffix ? { suffix } : {}) }
        return { name, to: from + m[0].trimEnd().length, by }
      }
      return undefined
    }
    const found = nameAt(0, ['inverted', 'dotted', 'bare', 'initials', 'spoken'])
    // a name as it is spoken may be the title, or a body: it counts where a list goes on or a quotation follows
    const first =
      found?.by === 'spoken' && (!SPOKEN_ENDS.test(s.slice(found.to)) || isBody(s.slice(0, found.to)))
        ? undefined
        : found
    if (first) {
      // the others are written as the first, or as they are spoken: what makes the longer list that ends as lists do
      const lists = OTHERS[first.by].map(ways => this.listFrom(first, ways, nameAt))
      const best = lists.reduce((x, y) =>
        y.ends === x.ends ? (y.names.length > x.names.length ? y : x) : y.ends ? y : x,
      )
      names.push(...best.names)
      at = best.to
      this.others = best.etAl
    }
    if (!names.length) {
      // a body: all words up to the year in brackets or the first full stop, where a year follows
      const body = /^([\p{Lu}][^.()“"]{2,120}?)(?:\. | ?)(?=\(\d{4}|\d{4}[a-z]?[.,:)])/u.exec(s)
      if (body && !/[“"‘«„:]/.test(body[1]!)) {
        this.put('author', [{ literal: body[1]!.replace(/[.,; ]+$/, '') }], 0.7)
        return s.slice(body[0].length)
      }
      const cut = /^([\p{Lu}][^.()“":;]{3,80})\. (?=\p{Lu}[^.]{8,}\. )/u.exec(s)
      if (cut && isBody(cut[1]!)) {
        this.put('author', [{ literal: cut[1]! }], 0.6)
        return s.slice(cut[0].length)
      }
      return s
    }
    const role = sticky(ROLE, at)
    if (role) at += role[0].length
    const sure = first!.by === 'spoken' ? 0.75 : 0.93
    this.put(role ? 'editor' : 'author', names, sure)
    // more names that could not be read: up to the year in brackets they belong to the list
    const skipped = /^[^()“"]{0,80}(?=\(\d{4})/u.exec(s.slice(at))
    if (skipped && /^[,;&]/.test(skipped[0])) {
      this.others = true
      at += skipped[0].length
    }
    return s.slice(at).replace(/^[.,:; -]+/, '')
  }

  private listFrom(
    first: { name: Name; to: number },
    ways: readonly Way[],
    nameAt: (from: number, ways: readonly Way[]) => { name: Name; to: number; by: Way } | undefined,
  ): { names: Name[]; to: number; etAl: boolean; ends: boolean } {
    const { s } = this
    const names = [first.name]
    let at = first.to
    const end = (etAl: boolean) => ({
      names,
      to: at,
      etAl,
      ends: etAl || s[at - 1] === '.' || LIST_ENDS.test(s.slice(at, at + 12)),
    })
    for (;;) {
      ET_AL.lastIndex = at
      const etAl = ET_AL.exec(s)
      if (etAl) {
        at += etAl[0].length
        return end(true)
      }
      AND.lastIndex = at
      const and = AND.exec(s)
      const next = and && nameAt(at + and[0].length, ways)
      if (!and || !next || names.length > 200) return end(false)
      // in a note a title follows a comma, and looks like a name
      if (next.by === 'spoken' && /^[,/] ?$/.test(and[0]) && !this.listGoesOn(next.to)) return end(false)
      names.push(next.name)
      at = next.to
    }
  }

  private listGoesOn(from: number): boolean {
    return /^(?:, (?:and|&) \p{Lu}|,? et al|, \p{Lu}[\p{L}. -]+,| (?:and|&|und|et|y) \p{Lu})/u.test(this.s.slice(from))
  }

  /** A year right behind the authors, as author-date manners have it. @returns what follows */
  private takeYear(rest: string): string {
    const m = /^\(?(?:c\. ?|ca\. ?|\[)?((?:1[5-9]|20)\d{2})[a-z]?(?:[/-]\d{2,4})?\]?/.exec(rest)
    if (m && (this.isSame || this.item.author || this.item.editor) && rest.length > m[0].length + 3) {
      let at = m[0].length
      const date =
        /^,? ?(?:(\p{L}+)\.?(?:-\p{L}+\.?)?(?: (\d{1,2})(?:-\d{1,2})?)?|(\d{1,2})\.? (\p{L}+)\.?)(?=[).,:;])/u.exec(
          rest.slice(at),
        )
      const month = date && monthOf(date[1] ?? date[4]!)
      const day = Number(date?.[2] ?? date?.[3])
      if (date && (month ?? seasonOf(date[1] ?? ''))) at += date[0].length
      this.put('issued', { 'date-parts': [[Number(m[1]), ...(month ? [month, ...(day ? [day] : [])] : [])]] }, 0.97)
      return rest.slice(at).replace(/^\)?[.,:;]? ?/, '')
    }
    const none = /^\(?(?:n\. ?d\.|in press|im Druck|forthcoming|o\. ?J\.|s\. ?d\.)\)?[.,:]? ?/i.exec(rest)
    return none ? rest.slice(none[0].length) : rest
  }

  /** @returns what follows the title */
  private takeTitle(rest: string): string {
    const quoted = quotation(rest)
    if (quoted && quoted.from < 3) {
      this.put('title', tidyTitle(quoted.text), 0.97)
      return rest.slice(quoted.to).replace(/^[.,; ]+/, '')
    }
    // without a number a line is a title and nothing else
    const isBare = !this.item.author && !this.item.editor && !this.item.issued && !/\d/.test(rest)
    // names that could not be read stand before a quotation
    if (
      !isBare &&
      quoted &&
      quoted.from < 250 &&
      !"'‘".includes(rest[quoted.from]!) &&
      quoted.text.length > 15 &&
      !/[.?!] \p{Lu}\p{Ll}{3}/u.test(rest.slice(0, quoted.from))
    ) {
      this.put('title', tidyTitle(quoted.text), 0.85)
      return rest.slice(quoted.to).replace(/^[.,; ]+/, '')
    }
    const end = isBare ? rest.length : this.titleEnd(rest)
    const title = rest.slice(0, end)
    const hasMore = Boolean(this.item.author ?? this.item.editor ?? this.item.issued)
    if (/\p{L}/u.test(title)) this.put('title', tidyTitle(title), hasMore ? (this.item.issued ? 0.92 : 0.85) : 0.7)
    return rest.slice(end).replace(/^[.,;? ]+/, '')
  }

  /** Where a title without quotes ends: at the full stop of its sentence, at what begins the host, or at a bracket. */
  private titleEnd(rest: string): number {
    const host = /[.,;]? (?:In|in): |\. In (?=\p{Lu})|, in (?=\p{Lu}[^,]{3,80}, (?:ed|hrsg))/u.exec(rest)?.index ?? Infinity // prettier-ignore
    // Place: Publisher in brackets, as notes have it; a thesis or report is said in brackets too
    const bracket = / \((?:[^():]{2,40}: [^()]{2,80}, )(?:1[5-9]|20)\d{2}\)/u.exec(rest)?.index ?? Infinity
    const edition = / [([](?:\d{1,3}(?:st|nd|rd|th)? ed|\d{1,3}\. Aufl|Rev\. ed|[^()[\]]{0,60}(?:thesis|dissertation|Report|Rapport|Bericht|Working Paper|Dissertation|data ?set|map|film|video|audio)[^()[\]]{0,90}[)\]]|\[[^[\]]{2,60}\])/iu.exec(rest)?.index ?? Infinity // prettier-ignore
    const numbered = /, (?=\d{1,2}(?:\.|st|nd|rd|th|e|ª)? ?(?:Aufl|ed\b|edn|éd))/u.exec(rest)?.index ?? Infinity
    let stop = Infinity
    for (const m of rest.matchAll(/[.?!]["”’»]? (?=[\p{Lu}\p{N}"“‘«„[(]|report[.,])|[.?!]$/gu)) {
      const word = /[\p{L}\p{N}.]+$/u.exec(rest.slice(0, m.index))?.[0] ?? ''
      // initials and short forms end no title: "T. rex", "vs. St. Ostmere"
      if (m[0].startsWith('.') && (/^(\p{Lu}|\p{L}\.\p{L}|p|pp|s|ss|vol|no|nr|bd|jg|rel|vs|St|Dr|Mr|Mrs|No|Nr|Vol|approx|ca|cf|ed|eds|u\.a)$/u.test(word) || m.index < 3)) continue // prettier-ignore
      stop = m.index + (m[0].startsWith('.') ? 0 : 1)
      // behind a question its title may go on: "Does it help? A survey. Night Papers 12, 4"
      const next = readSource(rest.slice(stop).replace(/^[.,;? ]+/, ''))['container-title']
      if (m[0].startsWith('.') || !next || !/\p{Ll}{4,}[.?!] \p{Lu}/u.test(next)) break
    }
    // a note has commas only: the title ends where journal and place follow
    if (stop === Infinity || stop >= rest.length - 1) {
      for (const m of rest.matchAll(/, (?=\p{Lu})/gu)) {
        const cited = readSource(rest.slice(m.index + 2).replace(/[.]$/, ''))
        if (cited.volume && (cited.page ?? cited.issued)) {
          stop = m.index
          break
        }
      }
    }
    return Math.min(host, bracket, edition, numbered, stop, rest.length)
  }

  /** Journal, book, press, school: what stands behind the title. */
  private takeHost(given: string): void {
    let rest = given.replace(/[.\s]+$/, '').trim()
    if (!rest) return
    rest = this.takeBrackets(rest).replace(/ \[(?:preprint|in press|online)\]/i, '')
    // "Pp. 19-36 in Lamps"
    rest = rest.replace(
      /^pp?\. ?([a-z]?\d+(?:-[a-z]?\d+)?),? in:? /iu,
      (_, pages: string) => (this.put('page', pages, 0.9), 'In '),
    )
    rest = rest.replace(/^report[.,] (?=\p{Lu})/iu, () => (this.put('type', 'report', 0.85), ''))
    const isIn = /^(?:in:? |in (?=\p{Lu})|In )/iu.test(rest) && /^in:? (?=[\p{Lu}“"‘«„])/iu.test(rest)
    if (!isIn && /, edited by \p{Lu}|[([](?:eds?\.?|hrsg\.?)[)\]]/iu.test(rest)) return this.takeBook(rest)
    if (isIn && this.takeJournal(rest.replace(/^in:? /i, ''), true)) return
    if (isIn) return this.takeBook(rest.replace(/^in:? /i, ''))
    if (this.takeJournal(rest, false)) return
    if (IS_JOURNAL.test(rest) && !/[:,;]|press|verlag|books/i.test(rest)) {
      this.put('container-title', tidyTitle(rest), 0.6)
      this.put('type', 'article-journal', 0.6)
      return
    }
    this.takePress(rest)
  }

  /**
   * A journal and the place in it.
   * @param isIn whether it stands behind "In": then only words for volume or number make it a journal
   */
  private takeJournal(rest: string, isIn: boolean): boolean {
    const whole = readSource(rest)
    const isDated = whole.volume && whole.page && whole.issued
    if (isIn && !isDated && !/(?<!\p{L})(?:vol|bd|jg|no|nr|heft|h|n°)\.? ?\d/iu.test(rest)) return false
    // a style without the journal: year, volume, pages
    if (/^\d{4}[;,] ?\d/.test(rest)) {
      this.takePlace(readPlace(rest), 0.85)
      return true
    }
    const cited = whole
    const journal = cited['container-title']
    const isPlaced = cited.volume && (cited.page ?? cited.issue)
    const hasDay = (cited.issued?.['date-parts']?.[0]?.length ?? 0) > 1
    const isPress = /^[^,:]+: /.test(journal ?? '')
    // a press or an editor in its midst is no part of a journal's name
    const isClean = journal && !/, (?:vol|no|nr)\b|, edited by|\((?:ed|hrsg)/i.test(journal)
    if (isClean && (isPlaced || hasDay || ((cited.volume ?? cited.page ?? cited.issue) && !isPress))) {
      this.put('container-title', tidyTitle(journal), 0.93)
      // of what came out on a day a number alone is its page
      const day = this.item.issued?.['date-parts']?.[0]?.length ?? 0
      const isPage = cited.volume && !cited.issue && !cited.page && (day > 1 || hasDay)
      this.takePlace(isPage ? { page: String(cited.volume), issued: cited.issued! } : cited, 0.93)
      this.put('type', 'article-journal', 0.85)
      return true
    }
    // a journal whose place is not all understood: the name up to the first comma before a number
    const loose =
      /^([^,;]{4,120}?)(?:, [^,;\d]{3,40})?[,;:.]? (?=(?:(?:vol|no|nr|bd|jg)(?!\p{L})|n°|\d)[^:]{0,60}\d)/iu.exec(rest)
    if (loose && !/\d{4}$/.test(rest.slice(0, 12))) {
      const place = readPlace(rest.slice(loose[0].length))
      if (place.volume && place.page) {
        this.put('container-title', tidyTitle(loose[1]!), 0.75)
        this.takePlace(place, 0.75)
        this.put('type', 'article-journal', 0.7)
        return true
      }
    }
    return false
  }

  /** Edition, kind of thesis or report, and what else stands in brackets behind a title. */
  private takeBrackets(rest: string): string {
    return rest
      .replace(/^[([]([^()[\]]{2,160})[)\]][.,:;]? ?/u, (all, inside: string) => {
        const thesis = /thesis|dissertation|\bdiss\b|habilitation|tesis|thèse/i.test(inside)
        if (thesis) {
          const [genre, ...school] = inside.split(/, /)
          this.put('type', 'thesis', 0.95)
          this.put('genre', genre, 0.85)
          this.put('publisher', school.join(', '), 0.9)
          return ''
        }
        if (/\bed\b|\bedn|edition|aufl|éd\b/i.test(inside) && inside.length < 40) {
          this.put('edition', editionOf(inside.replace(/[,;].*$/, '')), 0.9)
          return ''
        }
        if (/report|rapport|bericht|no\. |working paper/i.test(inside)) {
          this.put('type', 'report', 0.8)
          this.put('number', /(?:no\.?|nr\.?) ?([\w./-]+)/i.exec(inside)?.[1], 0.8)
          return ''
        }
        if (all.startsWith('[')) {
          this.put('genre', inside, 0.6)
          return ''
        }
        return all
      })
      .replace(
        /^(\d{1,3}(?:st|nd|rd|th)? ed(?:n|\.|ition)?|\d{1,3}\. ?(?:, [\p{L}. ]{3,30})?Aufl(?:age|\.)?)[.,:;]? ?/iu,
        (_, ed: string) => {
          this.put('edition', editionOf(ed), 0.9)
          return ''
        },
      )
  }

  private takePlace(cited: Partial<Item>, sure: number): void {
    for (const field of ['volume', 'issue', 'page'] as const) this.put(field, cited[field], sure)
    this.put('issued', cited.issued, sure)
  }

  /** A book that the work stands in: editors, title, pages, place and press, in whatever order. */
  private takeBook(given: string): void {
    let rest = given
    const quoted = /^[“"‘«„]/.test(rest) ? quotation(rest) : undefined
    // editors first: "M. Lune & I. Sand (Eds.), Lamps", "Lune, Mara (Hrsg.): Lamps"
    const editors =
      /^(.{4,200}?),? ?[([](?:eds?\.?|editors?|hrsg\.?|hg\.?|dir\.|coords?\.?|éds?\.?|red\.)[)\]][.,:]? /iu.exec(
        rest,
      ) ?? /^(.{4,200}?), (?:eds?\.|editors?|hrsg\.)[.,:]? (?=\p{Lu})/iu.exec(rest)
    if (editors && !quoted) {
      this.put('editor', namesIn(editors[1]!), 0.85)
      rest = rest.slice(editors[0].length)
    }
    rest = rest.replace(/[,.]? (?:edited by|ed\. by|ed\.|eds\.|hrsg\. ?v(?:on|\.)|herausgegeben von|sous la direction de|a cura di) ((?:\p{Lu}[\p{L}.'’-]* ?(?:and |& |und |et |, )??){2,16}?)(?=[,.(]|$)/iu, (_, who: string) => {
      this.put('editor', namesIn(who), 0.8)
      return ''
    }) // prettier-ignore
    const inVolume = /, (\d{1,4})(?:\((\d{1,4})\))?: ?([a-z]?\d{1,6}(?:-[a-z]?\d{1,6})?)(?=[.,]|$)/.exec(rest)
    if (inVolume) {
      for (const [field, value] of [['volume', inVolume[1]], ['issue', inVolume[2]], ['page', inVolume[3]]] as const) this.put(field, value, 0.9) // prettier-ignore
      rest = rest.slice(0, inVolume.index) + rest.slice(inVolume.index + inVolume[0].length)
    }
    const pages = /[,.]? ?[([]?(?:pp?\.|S\.|Seiten|pages|s\.|págs?\.) ?([a-z]?\d+(?:-[a-z]?\d+)?)[)\]]?/iu.exec(rest) ?? /, (\d{1,5}-\d{1,5})(?=[.,]|$)|, (\d{1,4})(?=\. \p{Lu})/u.exec(rest) // prettier-ignore
    if (pages) {
      this.put('page', pages[1] ?? pages[2], 0.9)
      rest = rest.slice(0, pages.index) + rest.slice(pages.index + pages[0].length)
    }
    const end = quoted ? quoted.to : titleOfBookEnd(rest)
    const title = tidyTitle(quoted ? quoted.text : rest.slice(0, end))
    const behind = rest.slice(end).replace(/^[.,;: ]+/, '')
    const volume = /^(?:Vol\.|vol\.|Bd\.|Band|Volume) ?(\d+)[.,:;]? ?/u.exec(behind)
    if (volume) this.put('volume', volume[1], 0.8)
    this.put('container-title', title, 0.88)
    this.put('type', /proceedings|conference|symposium|congress|workshop|tagung|kongress/i.test(title) ? 'paper-conference' : 'chapter', 0.85) // prettier-ignore
    this.takePress(volume ? behind.slice(volume[0].length) : behind)
  }

  /** "Ostmere: Moorgrave Press, 2011", "Moorgrave Press", "Moorgrave, Ostmere 2011"; pages in all; a school. */
  private takePress(given: string): void {
    let rest = given.replace(/^[(\s]+|[)\s.]+$/g, '')
    const year = /[,;( ]*\(?\b(?:c|©)?((?:1[5-9]|20)\d{2})\)?[.,;]?(?: \d{1,4} ?p\.?)?$/u.exec(rest) ?? /[,(] ?((?:1[5-9]|20)\d{2})\)?(?=[,.;)]|$)/u.exec(rest) // prettier-ignore
    if (year) {
      this.put('issued', { 'date-parts': [[Number(year[1])]] }, 0.9)
      rest = rest.slice(0, year.index).replace(/[\s,;.(]+$/, '')
    }
    rest = rest.replace(/[,.;] ?\d{1,4} ?(?:p|pp|S|pages|Seiten)\.?$/u, '').trim()
    const thesis = /\b(?:PhD|Ph\.D\.|doctoral|master'?s?|M\.?A\.?|M\.?Sc\.?)? ?(?:thesis|dissertation|diss\.)/iu.exec(
      rest,
    )
    if (thesis) {
      this.put('type', 'thesis', 0.9)
      this.put('genre', thesis[0].trim(), 0.8)
      rest = rest.slice(thesis.index + thesis[0].length).replace(/^[\s,.:;[\]]+/, '')
    }
    const placed = /^([^:]{2,50}): ([^:]{2,100})$/u.exec(rest)
    if (placed && !/\d/.test(placed[1]!)) {
      this.put('publisher-place', placed[1]!.trim(), 0.85)
      this.put('publisher', placed[2]!.replace(/[.,; ]+$/, ''), 0.88)
      if (!this.item.type) this.put('type', 'book', 0.8)
    } else if (rest && rest.length < 120 && /\p{L}{2}/u.test(rest)) {
      const [press, ...place] = rest.split(/[,;] /)
      this.put('publisher', press!.replace(/[.,; ]+$/, ''), 0.7)
      if (place.length === 1) this.put('publisher-place', place[0]!.replace(/[.,; ]+$/, ''), 0.6)
      if (!this.item.type) this.put('type', 'book', 0.6)
    }
  }
}

const readPlace = (text: string): Partial<Item> => {
  const { strange: _, ...place } = readPart(text)
  return place
}

/** Words that journals have in their names. */
const IS_JOURNAL =
  /\b(journal|review|annals|studies|papers|letters|quarterly|proceedings|bulletin|transactions|magazine|zeitschrift|archiv|revue|annales|rivista|revista|anales|tidsskrift|tidskrift)\b/i

/** A list of names somewhere inside, in whatever order of their parts. */
function namesIn(text: string): Name[] | undefined {
  const inner = new Reader(`${text.trim().replace(/,$/, '')} (2000) X.`).read().item
  return (inner.author ?? inner.editor) as Name[] | undefined
}

/** The first quotation of some length, by the quotes of whatever language. */
function quotation(text: string): { from: number; to: number; text: string } | undefined {
  const pairs: [string, string][] = [['“', '”'], ['„', '“'], ['«', '»'], ['»', '«'], ['‘', '’'], ['"', '"'], ["'", "'"]] // prettier-ignore
  let best: { from: number; to: number; text: string } | undefined
  for (const [open, close] of pairs) {
    for (let from = text.indexOf(open); from >= 0 && (!best || from < best.from);) {
      const to = closing(text, from, close)
      if (to && to - from >= 9) best = { from, to: to + 1, text: text.slice(from + 1, to) }
      from = text.indexOf(open, (to ?? from) + 1)
    }
  }
  return best
}

/** Where a quotation ends: an apostrophe closes nothing, so that singles are closed by a mark before or behind. */
function closing(text: string, from: number, close: string): number | undefined {
  let loose: number | undefined
  for (let to = text.indexOf(close, from + 1); to > 0; to = text.indexOf(close, to + 1)) {
    const next = text[to + 1] ?? ''
    if (!'”»'.includes(close) && !/^[.,;:)\s]?$/.test(next)) continue
    // "lamp makers' clusters"
    if (!"’'".includes(close) || next !== ' ' || /[.,?!]/.test(text[to - 1]!)) return to
    loose ??= to
  }
  return loose
}

/** Where the title of a book ends that something stands in: at its full stop, or at a place and a press. */
function titleOfBookEnd(rest: string): number {
  const press =
    / \((?=[^():]{2,40}: )|, (?=\p{Lu}[\p{L} .]{2,30}: \p{Lu})|[.] (?=\p{Lu})|, (?=(?:vol|Bd|Band)\b)|,? \((?=(?:1[5-9]|20)\d{2})|, (?=(?:1[5-9]|20)\d{2}\b)/gu
  for (const m of rest.matchAll(press)) {
    const word = /[\p{L}.]+$/u.exec(rest.slice(0, m.index))?.[0] ?? ''
    if (m[0] === '. ' && /^(\p{Lu}|vs|St|Dr|No|Vol)$/u.test(word)) continue
    return m.index
  }
  const comma = /, (?=\p{Lu})/u.exec(rest)
  return comma ? comma.index : rest.length
}

const tidyTitle = (s: string): string => s.replace(/[\s.,;:]+$/, '').trim()

/** Words of bodies; others at the beginning are a title. */
const isBody = (s: string): boolean =>
  /\b(forum|agency|press|council|office|institut|universit|society|ministry|department|agency|commission|association|committee|board|bureau|centre|center|foundation|group|amt|ministerium|gesellschaft)/.test(
    fold(s),
  )

/**
 * How well a work answers a reference, 0 to 1, and what speaks against its being the one: the same title by somebody
 * else, or years apart, is another work.
 */
export function answers({ item: asked }: Reference, found: Item): { fit: number; against?: string } {
  const fit = titleFit(String(asked.title ?? ''), found.title ?? '')
  const wanted = asked.author ?? asked.editor
  const given = [...(found.author ?? []), ...(found.editor ?? [])]
  const family = (n: Name) => fold(familyName(n)).replace(/[^\p{L}\p{N}]+/gu, ' ')
  if (wanted?.length && given.length) {
    const known = given.flatMap(n => [family(n), fold(n.given ?? '')])
    // catalogues cut lists and turn names round: one of those named is enough
    const agrees = wanted.some(n => {
      const words = [family(n), fold(n.given ?? '')]
      return known.some(
        k => words.includes(k) || k.split(' ').some(w => w.length > 2 && words[0]!.split(' ').includes(w)),
      )
    })
    if (!agrees) return { fit, against: `it is by ${authorLine(given, 2)}` }
  }
  const [year, its] = [yearOfDate(asked.issued), yearOf(found)]
  if (year && its && Math.abs(year - its) > 1) return { fit, against: `it came out in ${its}` }
  const [pages, its2] = [readPages(String(asked.page ?? '')), readPages(found.page)]
  if (
    pages &&
    its2 &&
    pages.first !== its2.first &&
    asked.volume &&
    found.volume &&
    String(asked.volume) !== String(found.volume)
  )
    return { fit, against: `it stands in volume ${found.volume}, ${found.page}` }
  return { fit }
}

/** How well a found title answers a wanted one: the share of words that both have, 0 to 1. */
export function titleFit(wanted: string, found: string): number {
  const a = new Set(foldTitle(wanted).split(' ').filter(Boolean))
  const b = new Set(foldTitle(found).split(' ').filter(Boolean))
  if (!a.size || !b.size) return 0
  const both = [...a].filter(w => b.has(w)).length
  return both / Math.max(a.size, b.size)
}
