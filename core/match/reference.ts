import { endOf, withoutEnd } from '../bib/clean'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import type { Item } from '../bib/item'
import { monthOf, seasonOf } from '../bib/months'
import { readPart, readSource } from '../bib/part'
import { editionOf } from '../formats/terms'
import { readNameList } from './name-list'
import { quotation } from './quotation'
import { commaEnd, IS_JOURNAL, placeAlone, tidyTitle, titleOfBookEnd } from './reference-ends'
import { dateAhead, dateBehind, halfWidth, lastYear, takeMark, withoutTails } from './reference-marks'

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
  /** A comma stands behind the authors: so it does behind the title. */
  private hasCommas = false

  constructor(text: string) {
    this.s = halfWidth(text.slice(0, LONGEST))
      .replace(/\s+/g, ' ')
      .replace(/[‐‑‒–—−]/g, '-')
      .replace(
        /^ ?(?:\[(?:\d{1,4}|@?\p{L}[\p{L}\d+@:-]{1,20}\d[\p{L}\d]*)\][.:]?|\(\d{1,4}\)|\d{1,4}[.)]|[•*·]) ?(?=\D)/u,
        '',
      )
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
    const marked = takeMark(this.s)
    this.s = marked.text
    this.put('type', marked.type, 0.95)
    const behindAuthors = this.isSame ? this.s : this.takeAuthors()
    let rest = this.takeYear(behindAuthors)
    if (!this.item.issued) {
      const date = dateBehind(rest)
      this.put('issued', date?.issued, 0.9)
      if (date) rest = rest.slice(0, date.from).trimEnd()
    }
    rest = this.takeTitle(rest)
    this.takeHost(rest)
    this.put('issued', lastYear(rest), 0.6)
    return { item: this.item, sure: this.sure, others: this.others }
  }

  /** DOI, address, ISBN and ISSN, and what is said of when somebody looked. */
  private takeIdentifiers(): void {
    const drop = (pattern: RegExp, take: (found: string) => void = () => {}) => {
      this.s = this.s.replace(pattern, found => (take(found), ' '))
    }
    drop(/(?:https?:\/\/)?(?:dx\.)?doi\.org\/\S+|\bdoi:? ?10\.\d{4,9}\/ ?\S+|\b10\.\d{4,9}\/ ?\S+/gi, d =>
      this.put('DOI', normaliseDoi(d.replace('/ ', '/')), 0.99),
    )
    drop(/<?(?:https?|ftp):\/\/[^\s>]+>?/gi, u => this.put('URL', withoutEnd(u.replace(/[<>]/g, ''), /[.,;)]/), 0.95))
    drop(/\bISBN(?:-1[03])?:? ?[\dXx -]{10,17}(?:, [\dXx-]{10,17})*/gi, i => this.put('ISBN', normaliseIsbn(i), 0.99))
    drop(/\bISSN:? ?\d{4}-?\d{3}[\dXx]/gi, i => this.put('ISSN', normaliseIssn(i), 0.99))
    drop(
      /[[(]?(?:available (?:at|from|online)|retrieved|accessed|last accessed|abgerufen|zugriff(?: am)?|consulté|consultado|cited|online unter|verfügbar unter)\b:?[^.\])]{0,40}(?:from|le|el|am)?:?[\])]?/gi,
    )
    this.s = withoutTails(this.s)
    drop(/\[[Ss]\. ?[ln]\.\],? ?/g)
    drop(/\[(?:internet|online|electronic resource|journal article)\]/gi)
    const s = this.s.replace(/ +/g, ' ').replace(/ ([.,;:])(?=[ .,;:]|$)/g, '$1')
    const kept = withoutEnd(s, /[ .,]/)
    this.s = `${kept}${/[.,]/.exec(s.slice(kept.length))?.[0] ?? ''}`.trim()
  }

  /** @returns what stands behind the authors */
  private takeAuthors(): string {
    const list = readNameList(this.s)
    if (!list) return this.s
    this.put(list.areEditors ? 'editor' : 'author', list.names, list.sure)
    this.others = list.others
    this.hasCommas = /^[.]?,/.test(this.s.slice(list.to - (this.s[list.to - 1] === '.' ? 1 : 0)))
    return this.s.slice(list.to).replace(/^[.,:; -]+/, '')
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
    const dated = this.item.author || this.item.editor ? dateAhead(rest) : undefined
    if (dated && rest.length > dated.to + 3) {
      this.put('issued', dated.issued, 0.95)
      return rest.slice(dated.to)
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
    // no title: "M. Lune, Night Letters 298, 1368 (2002)", "M. Lune, Night Lett., 2002, 298, 13-68"
    const place = this.item.author && this.hasCommas ? placeAlone(rest) : undefined
    if (place) {
      this.put('container-title', place['container-title'], 0.85)
      this.takePlace(place, 0.85)
      this.put('type', 'article-journal', 0.8)
      return ''
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
    const host =
      /[.,;]? (?:In|in): |\. In (?=\p{Lu})|, in (?=Proc)|, in (?=\p{Lu}[^,]{3,80}, (?:ed|hrsg))/u.exec(rest)?.index ??
      Infinity
    // Place: Publisher in brackets, as notes have it; a thesis or report is said in brackets too
    const bracket = / \((?:[^():]{2,40}: [^()]{2,80}, )(?:1[5-9]|20)\d{2}\)/u.exec(rest)?.index ?? Infinity
    const press = / \((?=[^()]{4,90},? (?:1[5-9]|20)\d{2}\))/u.exec(rest)?.index ?? Infinity
    const edition =
      / [([](?:\d{1,3}(?:st|nd|rd|th)?\.? ed|\d{1,3}\. Aufl|Rev\. ed|[^()[\]]{0,60}(?:thesis|dissertation|Report|Rapport|Bericht|Working Paper|Dissertation|data ?set|map|film|video|audio)[^()[\]]{0,90}[)\]]|\[[^[\]]{2,200}\])/iu.exec(
        rest,
      )?.index ?? Infinity
    const numbered =
      /, (?=\d{1,2}(?:\.?[eªᵃ]|\.|st|nd|rd|th|\/e)?(?:,| ?(?:Aufl|ed\b|edn|éd)))/u.exec(rest)?.index ?? Infinity
    const commas = this.hasCommas ? commaEnd(rest) : Infinity
    let stop = Infinity
    for (const m of rest.matchAll(/[.?!]["”’»]? (?=[\p{Lu}\p{Lo}\p{N}"“‘«„[(]|report[.,]|arXiv)|[.?!]$/gu)) {
      const word = endOf(rest.slice(0, m.index), /[\p{L}\p{N}.]/u)
      // initials and short forms end no title: "T. rex", "vs. St. Ostmere"
      if (
        m[0].startsWith('.') &&
        !/^[.] (?:\d{1,2}(?:st|nd|rd|th)? ed|R package)/.test(rest.slice(m.index, m.index + 12)) &&
        (/^(\p{Lu}|\p{L}\.\p{L}|p|pp|s|ss|vol|no|nr|bd|jg|rel|vs|St|Dr|Mr|Mrs|No|Nr|Vol|approx|ca|cf|ed|eds|u\.a)$/u.test(
          word,
        ) ||
          m.index < 3)
      )
        continue
      stop = m.index + (m[0].startsWith('.') ? 0 : 1)
      // behind a question its title may go on: "Does it help? A survey. Night Papers 12, 4"
      const next = readSource(rest.slice(stop).replace(/^[.,;? ]+/, ''))['container-title']
      if (m[0].startsWith('.') || !next || !/^\S+ \S.*\p{Ll}{4,}[.?!] \p{Lu}/u.test(next)) break
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
    return Math.min(host, bracket, press, edition, numbered, commas, stop, rest.length)
  }

  /** Journal, book, press, school: what stands behind the title. */
  private takeHost(given: string): void {
    let rest = withoutEnd(given, /[.\s]/).trim()
    if (!rest) return
    rest = this.takeBrackets(rest).replace(/ \[(?:preprint|in press|online)\]/i, '')
    // "Pp. 19-36 in Lamps"
    rest = rest.replace(
      /^pp?\. ?([a-z]?\d+(?:-[a-z]?\d+)?),? in:? /iu,
      (_, pages: string) => (this.put('page', pages, 0.9), 'In '),
    )
    rest = rest.replace(/^report[.,] (?=\p{Lu})/iu, () => (this.put('type', 'report', 0.85), ''))
    const isIn = /^(?:in:? |in (?=\p{Lu})|In )/iu.test(rest) && /^in:? (?=[\p{Lu}“"‘«„])/iu.test(rest)
    if (!isIn && /^[^,:]{4,80}\. [^,:]{0,60}(?:press|publish|verlag)[^:]*: ?pp?\. ?\d/iu.test(rest))
      return this.takeBook(rest)
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
  private takeJournal(given: string, isIn: boolean): boolean {
    // volume and number as one figure: "24.4"
    const rest = given
      .replace(/(?<=\p{L} )(\d{1,4})\.(\d{1,3})(?=,| \(|$)/u, '$1($2)')
      // "39, 5, Article 4 (Jan. 2010), 17-47"
      .replace(/ (\d{1,4}), (\d{1,3}), Article (\d{1,6})(?= \(|$)/u, ' $1($2), $3')
      .replace(/ (\d{1,4}), (\d{1,3}) (?=\([^()]*\d{4}\))/u, ' $1($2) ')
    const whole = readSource(rest)
    const isDated = whole.volume && whole.page && whole.issued
    const isCounted = whole.volume && whole.issue && whole.page
    if (isIn && !isDated && !isCounted && !/(?<!\p{L})(?:vol|bd|jg|no|nr|heft|h|n°)\.? ?\d/iu.test(rest)) return false
    // a style without the journal: year, volume, pages
    if (/^\d{4}[;,] ?\d/.test(rest)) {
      this.takePlace(readPlace(rest), 0.85)
      return true
    }
    const cited = whole
    // a press between a journal and its volume: "Night Letters, Moorgrave, v. 60"
    const isMarked = /,? v\. ?\d/.test(rest)
    const journal = cited['container-title']?.replace(isMarked ? /, [^,]+$/u : /, (?:\p{Lu}{3,6})$/u, '')
    const isPlaced = cited.volume && (cited.page ?? cited.issue)
    const hasDay = (cited.issued?.['date-parts']?.[0]?.length ?? 0) > 1
    const isPress = /^[^,:]+: /.test(journal ?? '')
    // a press or an editor in its midst is no part of a journal's name
    const isClean =
      journal && !/[,.] (?:vol|no|nr)\b|, edited by|\((?:ed|hrsg)|\. .*(?:press|publish|verlag)/i.test(journal)
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
      /^([^,;]{4,120}?)(?:, [^,;\d]{3,40})?[,;:.]? (?=(?:(?:vol|no|nr|bd|jg)(?!\p{L})|n°|\d(?!\d*(?:st|nd|rd|th)\b))[^:]{0,60}\d)/iu.exec(
        rest,
      )
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
      // the title may stand before them: "On Lamps (2nd ed.), Mara Lune (Ed.)"
      const behind =
        /^(?=[^,]* (?:\p{Ll}|\(|\d))(\S+ .+?), ((?:\p{Lu}[\p{L}.'’-]* (?:and |& )?(?:\p{Lu}[\p{L}.'’-]*)(?:,? (?:and |& )?|$)){1,8})$/u.exec(
          editors[1]!,
        )
      const names = behind ? undefined : readNameList(editors[1]!.trim())
      this.put('editor', names?.names ?? readNameList(`${behind?.[2] ?? ''}, Lamps`)?.names, 0.85)
      rest = behind ? `${behind[1]!}. ${rest.slice(editors[0].length)}` : rest.slice(editors[0].length)
    }
    rest = rest.replace(
      /[,.]? (?:edited by|ed\. by|ed\.|eds\.|hrsg\. ?v(?:on|\.)|herausgegeben von|sous la direction de|a cura di) ((?:\p{Lu}[\p{L}.'’-]* ?(?:and |& |und |et |, )??){2,16}?)(?=[,.(]|$)/iu,
      (_, who: string) => {
        this.put('editor', readNameList(who.trim())?.names, 0.8)
        // what stands behind is no part of the title
        return '. '
      },
    )
    rest = rest.replace(/\. [,.] ?/, '. ')
    rest = rest.replace(
      /[,.] vol(?:ume|\.) ?(\d{1,4})(?=[.,]|$)/iu,
      (_, volume: string) => (this.put('volume', volume, 0.85), ''),
    )
    const inVolume = /, (\d{1,4})(?:\((\d{1,4})\))?: ?([a-z]?\d{1,6}(?:-[a-z]?\d{1,6})?)(?=[.,]|$)/.exec(rest)
    if (inVolume) {
      for (const [field, value] of [
        ['volume', inVolume[1]],
        ['issue', inVolume[2]],
        ['page', inVolume[3]],
      ] as const)
        this.put(field, value, 0.9)
      rest = rest.slice(0, inVolume.index) + rest.slice(inVolume.index + inVolume[0].length)
    }
    const pages =
      /[,.]? ?[([]?(?:pp?\.|S\.|Seiten|pages|s\.|págs?\.) ?([a-z]?\d+(?:-[a-z]?\d+)?)[)\]]?/iu.exec(rest) ??
      /, (\d{1,5}-\d{1,5})(?=[.,]|$)|, (\d{1,4})(?=\. \p{Lu})/u.exec(rest)
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
    this.put(
      'type',
      /proceedings|conference|symposium|congress|workshop|tagung|kongress/i.test(title)
        ? 'paper-conference'
        : 'chapter',
      0.85,
    )
    this.takePress(volume ? behind.slice(volume[0].length) : behind)
  }

  /** "Ostmere: Moorgrave Press, 2011", "Moorgrave Press", "Moorgrave, Ostmere 2011"; pages in all; a school. */
  private takePress(given: string): void {
    let rest = withoutEnd(given.replace(/^[(\s]+/, ''), /[)\s.]/)
    const year =
      /[,;( ]*\(?\b(?:c|©)?((?:1[5-9]|20)\d{2})\)?[.,;]?(?: \d{1,4} ?p\.?)?$/u.exec(rest) ??
      /[,(] ?((?:1[5-9]|20)\d{2})\)?(?=[,.;)]|$)/u.exec(rest)
    if (year) {
      this.put('issued', { 'date-parts': [[Number(year[1])]] }, 0.9)
      rest = withoutEnd(rest.slice(0, year.index), /[\s,;.(]/)
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
      this.put('publisher', withoutEnd(placed[2]!, /[.,; ]/), 0.88)
      if (!this.item.type) this.put('type', 'book', 0.8)
    } else if (rest && rest.length < 120 && /\p{L}{2}/u.test(rest)) {
      const [press, ...place] = rest.split(/[,;] /)
      this.put('publisher', withoutEnd(press!, /[.,; ]/), 0.7)
      if (place.length === 1) this.put('publisher-place', withoutEnd(place[0]!, /[.,; ]/), 0.6)
      if (!this.item.type) this.put('type', 'book', 0.6)
    }
  }
}

const readPlace = (text: string): Partial<Item> => {
  const { strange: _, ...place } = readPart(text)
  return place
}
