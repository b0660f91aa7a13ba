import { withoutEnd } from '../bib/clean'
import { fold } from '../bib/fold'
import type { Name } from '../bib/item'

/** The people a reference begins with. */
export interface NameList {
  names: Name[]
  /** Letters of the text that they take, with the word for what they did. */
  to: number
  /** There are more than are named ("et al."). */
  others: boolean
  areEditors: boolean
  /** How sure it is that these are names, 0 to 1. */
  sure: number
}

const P = "(?:van|von|vom|der|den|de|del|della|la|le|les|du|da|di|do|dos|das|ter|ten|el|al|bin|ibn|zu|zur|af|av|d')"
const PART = "\\p{Lu}[\\p{L}\\p{M}'’]*\\p{Ll}[\\p{L}\\p{M}'’]*"
/** A word of a name, with what is joined to it by a hyphen. */
const WORD = `${PART}(?:-\\p{L}[\\p{L}\\p{M}'’]*)*`
/** Some write family names in capitals. */
const CAPITALS = "\\p{Lu}{2,}(?:[-'’ ]\\p{Lu}{2,}){0,2}(?=, )"
const FAMILY = `(?:(?:${P} ){0,3}(?:St\\. |d['’])?${WORD}(?: ${WORD}){0,2}|(?:${P} ){0,2}${CAPITALS})`
const LAST = `(?:${P} ){0,3}${WORD}`
const INITIALS = '(?:\\p{Lu}\\p{Ll}?\\.[ -]?){1,5}'
const GIVEN = `(?:${INITIALS}|${WORD}(?: ${WORD}){0,2}(?: \\p{Lu}\\.(?:-?\\p{Lu}\\.)?){0,3})`
const SUFFIX = '(?:,? (?:Jr|Sr)\\.?|,? (?:II|III|IV)(?=[ ,.;(]))?'
/** A name with its family first: "Lune, Mara H.", "Lune, M.H.", "Berg, I. van der". */
const INVERTED = new RegExp(`(${FAMILY}), (${GIVEN}(?: ?${P}(?: ${P}){0,2}(?=[,.;(]))?)(${SUFFIX})`, 'uy')
/** A family name with initials that have no dots: "Lune MH". */
const BARE = new RegExp(
  `(${FAMILY}) (\\p{Lu}{1,4})(?: \\d(?:st|nd|rd|th)| Jr| Sr| III?)?(?=[,.;:(]| \\(| (?:and|&|et|und|y|e) |$)(?!\\. (?:\\p{Lu}\\. ){0,2}${LAST}(?:,| and | & | et al| \\(|\\.|$))`,
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
/** "LUNE M H", as the Chinese standard of references prints names; and names in Chinese. */
const SPACED =
  /(\p{Lu}[\p{Lu}'’]+(?:-\p{Lu}+)*(?: (?!I{1,3} )\p{Lu}[\p{Lu}'’]+(?:-\p{Lu}+)*)?)(?: I{2,3})? ((?:\p{Lu}[ -]){0,3}\p{Lu})(?=[,.;]| et al|$)/uy
const HAN = /(\p{Script=Han})(\p{Script=Han}{1,3})(?=[,.;]|$)/uy
type Way = keyof typeof WAYS
const WAYS = {
  spaced: SPACED,
  han: HAN,
  inverted: INVERTED,
  bare: BARE,
  dotted: DOTTED,
  dottedToo: DOTTED_TOO,
  initials: INITIALS_FIRST,
  spoken: SPOKEN,
}
/** Ways of writing those behind the first, by the way of the first. */
const OTHERS: Record<Way, readonly (readonly Way[])[]> = {
  spaced: [['spaced']],
  han: [['han']],
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
const SPOKEN_ENDS =
  /^( et al\b| \((?:[Ee]ds?|[Hh]rsg|[Hh]g)\b|, [“"‘«„']|,? (and|&|und|et|y) \p{Lu}|, \p{Lu}|, \p{Ll}{4,} \p{Ll}|\. \d{4}|: |\. [“"‘«„])/u
const AND =
  / ?- (?=\p{Lu})| ?[;/] ?(?:(?:and|&|et|und) )?|(?:,|;)? (?:and|&|et|und|y|e|a|og|och|en|i) |[;,] (?:\.\.\.|…) ?(?:& )?|[;,/] ?/uy
const ET_AL = /[,;]? ?(?:et al\b\.?|and others|u\. ?a\.|& al\.?|等)/uy
const ROLE =
  /,? ?[([]?(?:eds?\.?|editors?|hrsg\.?|hg\.?|herausgeber|dir\.|coords?\.?|a cura di|éds?\.?|red\.)[)\]]?(?=[ .,:(]|$)/iuy

interface NameAt {
  name: Name
  to: number
  by: Way
}

function match(pattern: RegExp, s: string, from: number): RegExpExecArray | null {
  pattern.lastIndex = from
  return pattern.exec(s)
}

/** The name that stands at a place, written in one of some ways. */
function nameAt(s: string, from: number, ways: readonly Way[]): NameAt | undefined {
  for (const by of ways) {
    const m = match(WAYS[by], s, from)
    if (!m) continue
    const [family, given] = by === 'spoken' || by === 'initials' ? [m[2]!, m[1]!] : [m[1]!, m[2]!]
    // "In Night Papers" and the like are no names
    if (by === 'spoken' && /^(In|The|On|A|An|Der|Die|Das|Ein|Le|La|Les|El)$/.test(given.split(' ')[0]!)) continue
    if (by === 'inverted' && /^(?:The|An?|In|On) /.test(family)) continue
    const suffix = m[3]?.replace(/^,? /, '')
    const dotted =
      by === 'bare' || by === 'spaced' ? [...given.replace(/[ -]/g, '')].map(l => `${l}.`).join(' ') : given.trim()
    const name = { family: family.trim(), given: dotted, ...(suffix ? { suffix } : {}) }
    return { name, to: from + m[0].trimEnd().length, by }
  }
  return undefined
}

/** The list that begins with a name, its others written in some ways; and whether it ends as lists do. */
function listFrom(s: string, first: NameAt, ways: readonly Way[]) {
  const names = [first.name]
  let at = first.to
  const end = (others: boolean) => {
    const ends = others || s[at - 1] === '.' || LIST_ENDS.test(s.slice(at, at + 12))
    return { names, to: at, others, ends }
  }
  while (names.length < MOST_NAMES) {
    const etAl = match(ET_AL, s, at)
    if (etAl) {
      at += etAl[0].length
      return end(true)
    }
    const and = match(AND, s, at)
    const next = and && nameAt(s, at + and[0].length, ways)
    if (!and || !next) break
    // in a note a title follows a comma, and looks like a name
    if (next.by === 'spoken' && /^[,/] ?$/.test(and[0]) && !LIST_GOES_ON.test(s.slice(next.to))) break
    names.push(next.name)
    at = next.to
  }
  return end(false)
}
const MOST_NAMES = 200
const LIST_GOES_ON = /^(?:, (?:and|&) \p{Lu}|,? et al|, \p{Lu}[\p{L}. -]+,| (?:and|&|und|et|y) \p{Lu})/u

/** The authors, or editors, that a reference begins with; undefined where it begins with something else. */
export function readNameList(s: string): NameList | undefined {
  const found = spokenList(s) ?? nameAt(s, 0, ['spaced', 'han', 'inverted', 'dotted', 'bare', 'initials', 'spoken'])
  // a name as it is spoken may be the title, or a body: it counts where a list goes on, a title or a quotation follows
  const isName =
    found &&
    (found.by !== 'spoken' ||
      ((SPOKEN_ENDS.test(s.slice(found.to)) || standsAlone(s, found)) && !isBody(s.slice(0, found.to))))
  if (!isName) return readBody(s)
  // the others are written as the first, or as they are spoken: what makes the longer list that ends as lists do
  const lists = OTHERS[found.by].map(ways => listFrom(s, found, ways))
  const best = lists.reduce((x, y) => (y.ends === x.ends ? (y.names.length > x.names.length ? y : x) : y.ends ? y : x))
  let { to, others } = best
  const role = match(ROLE, s, to)
  if (role) to += role[0].length
  // more names that could not be read: up to the year in brackets they belong to the list
  const skipped = /^[,;&][^()“"]{0,80}(?=\(\d{4})/.exec(s.slice(to))
  // nothing behind the year: it was the journal that stood before it
  if (skipped && /\p{L}{3}/u.test(s.slice(to + skipped[0].length + 6))) {
    others = true
    to += skipped[0].length
  }
  return { names: best.names, to, others, areEditors: role !== null, sure: found.by === 'spoken' ? 0.75 : 0.93 }
}

/** Three names or more as they are spoken look like two names with the family first: "Ada Lune, Ib Sand, and Jon Tarn." */
function spokenList(s: string): NameAt | undefined {
  const inverted = nameAt(s, 0, ['inverted'])
  if (!inverted?.name.family?.includes(' ')) return undefined
  const spoken = nameAt(s, 0, ['spoken'])
  // what would be the given name goes on as a title or another name does: "Ada Lune, Lamps of the fen", "Ada Lune, I. Sand"
  const behind = s.slice(inverted.to)
  if (/^ \p{L}/u.test(behind) && !/^ (?:and|und|et|y|e) /.test(behind)) return spoken
  if (!/^\p{Lu}[\p{L}'’-]{2,}/u.test(inverted.name.given ?? '')) return undefined
  return spoken && listFrom(s, spoken, ['initials', 'spoken']).names.length > 1 ? spoken : undefined
}

/** One name with a title behind it: "Mara Lune. Lamps. …"; words of titles are none. */
function standsAlone(s: string, { to, name }: NameAt): boolean {
  const whole = fold(s.slice(0, to))
  if (!/^\. (?:\p{Lu}|\d|\p{Ll}+[A-Z]|\p{Ll}{4,} )/u.test(s.slice(to)) || OF_TITLES.test(whole)) return false
  // with an initial in its midst it is sure
  return /(?:^| )\p{Lu}\./u.test(name.given ?? '') || whole.split(' ').length <= 4
}
const OF_TITLES =
  /\b(?:the|of|and|in|on|for|to|with|from|an?|at|by|introduction|handbook|guide|manual|dictionary|encyclop\w+|theor\w+|analys\w+|history|journal|review|science\w*|studies|language\w*|systems?|methods?|data|statistic\w*|models?|papers?|report|annual|modern|new|general|web|project|team|library|museum|standards?|rules?|principles|structures?|foundations|elements|essays?|letters|poems|works|time|world|life|art|design|software|package|linear|applied|social|human|natural|digital|night|lamps?|moths?)\b/u

/** A body: all words up to a year, or up to the first full stop where they are words of bodies. */
function readBody(s: string): NameList | undefined {
  const dated = /^(\p{Lu}[^.()“"]{2,120}?)(?:\. | ?)(?=\(\d{4}|\d{4}[a-z]?[.,:)])/u.exec(s)
  const isDated = dated && !/[“"‘«„:]/.test(dated[1]!)
  const stopped = isDated ? null : /^(\p{L}[^.()“"‘:;]{1,80})\. (?=[\p{Lu}“"‘«„][^.]{8,})/u.exec(s)
  const isBeforeQuotation = stopped && /^[“"‘«„]/.test(s.slice(stopped[0].length)) && stopped[1]!.split(' ').length < 6
  // a body in capitals before a title that is not
  const isInCapitals =
    stopped &&
    !/\p{Ll}/u.test(stopped[1]!) &&
    /^\p{Lu}{2,}/u.test(stopped[1]!) &&
    /\p{Ll}{3}/u.test(s.slice(stopped[0].length, stopped[0].length + 30))
  const body = isDated
    ? dated
    : stopped && (isBody(stopped[1]!) || isInCapitals || isBeforeQuotation)
      ? stopped
      : undefined
  if (!body) return undefined
  const names = [{ literal: withoutEnd(body[1]!, /[.,; ]/) }]
  return { names, to: body[0].length, others: false, areEditors: false, sure: isDated ? 0.7 : 0.6 }
}

/** Words of bodies; others at the beginning are a title. */
const isBody = (s: string): boolean =>
  /\b(forum|agency|press|council|office|institut|universit|society|ministry|department|agency|commission|association|committee|board|bureau|centre|center|foundation|group|team|project|library|museum|verlag|(?:ltd|inc|gmbh|corp|company)$|amt|ministerium|gesellschaft)/.test(
    fold(s),
  )
