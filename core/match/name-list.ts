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
const FAMILY = `(?:(?:${P} ){0,3}(?:d['’])?${WORD}(?: ${WORD}){0,2}|${CAPITALS})`
const LAST = `(?:${P} ){0,3}${WORD}`
const INITIALS = '(?:\\p{Lu}\\p{Ll}?\\.[ -]?){1,5}'
const GIVEN = `(?:${INITIALS}|${WORD}(?: ${WORD}){0,2}(?: \\p{Lu}\\.(?:-?\\p{Lu}\\.)?){0,3})`
const SUFFIX = '(?:,? (?:Jr|Sr)\\.?|,? (?:II|III|IV)(?=[ ,.;(]))?'
/** A name with its family first: "Lune, Mara H.", "Lune, M.H.", "Berg, I. van der". */
const INVERTED = new RegExp(`(${FAMILY}), (${GIVEN}(?: ?${P}(?: ${P}){0,2}(?=[,.;(]))?)(${SUFFIX})`, 'uy')
/** A family name with initials that have no dots: "Lune MH". */
const BARE = new RegExp(
  `(${FAMILY}) (\\p{Lu}{1,4})(?=[,.;:(]| \\(| (?:and|&|et|und|y|e) |$)(?!\\. ${LAST}(?:,| and | & | \\(|\\.|$))`,
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
    const suffix = m[3]?.replace(/^,? /, '')
    const dotted = by === 'bare' ? [...given].map(l => `${l}.`).join(' ') : given.trim()
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
  const found = nameAt(s, 0, ['inverted', 'dotted', 'bare', 'initials', 'spoken'])
  // a name as it is spoken may be the title, or a body: it counts where a list goes on or a quotation follows
  const isName =
    found && (found.by !== 'spoken' || (SPOKEN_ENDS.test(s.slice(found.to)) && !isBody(s.slice(0, found.to))))
  if (!isName) return readBody(s)
  // the others are written as the first, or as they are spoken: what makes the longer list that ends as lists do
  const lists = OTHERS[found.by].map(ways => listFrom(s, found, ways))
  const best = lists.reduce((x, y) => (y.ends === x.ends ? (y.names.length > x.names.length ? y : x) : y.ends ? y : x))
  let { to, others } = best
  const role = match(ROLE, s, to)
  if (role) to += role[0].length
  // more names that could not be read: up to the year in brackets they belong to the list
  const skipped = /^[,;&][^()“"]{0,80}(?=\(\d{4})/.exec(s.slice(to))
  if (skipped) {
    others = true
    to += skipped[0].length
  }
  return { names: best.names, to, others, areEditors: role !== null, sure: found.by === 'spoken' ? 0.75 : 0.93 }
}

/** A body: all words up to a year, or up to the first full stop where they are words of bodies. */
function readBody(s: string): NameList | undefined {
  const dated = /^(\p{Lu}[^.()“"]{2,120}?)(?:\. | ?)(?=\(\d{4}|\d{4}[a-z]?[.,:)])/u.exec(s)
  const isDated = dated && !/[“"‘«„:]/.test(dated[1]!)
  const stopped = isDated ? null : /^(\p{Lu}[^.()“":;]{3,80})\. (?=\p{Lu}[^.]{8,}\. )/u.exec(s)
  const body = isDated ? dated : stopped && isBody(stopped[1]!) ? stopped : undefined
  if (!body) return undefined
  const names = [{ literal: body[1]!.replace(/[.,; ]+$/, '') }]
  return { names, to: body[0].length, others: false, areEditors: false, sure: isDated ? 0.7 : 0.6 }
}

/** Words of bodies; others at the beginning are a title. */
const isBody = (s: string): boolean =>
  /\b(forum|agency|press|council|office|institut|universit|society|ministry|department|agency|commission|association|committee|board|bureau|centre|center|foundation|group|amt|ministerium|gesellschaft)/.test(
    fold(s),
  )
