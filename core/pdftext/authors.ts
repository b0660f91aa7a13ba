import { withoutEnd } from '../bib/clean'
import { readDate } from '../bib/dates'
import { fold } from '../bib/fold'
import type { Name } from '../bib/item'
import { isBodyName, readName } from '../bib/names'
import type { Placed } from './placed'

/** Somebody who signs a text on its first page, and where they work as it is printed beneath. */
export interface Signed {
  name: Name
  affiliations: string[]
}

/** Lines of such a block, at most. */
const MOST = 40
const MOST_AUTHORS = 60

const PARTICLE = "(?:van|von|vom|der|den|de|del|della|la|le|du|da|di|do|dos|ter|ten|el|al|bin|ibn|zu|zur|af|av|d['’])"
const WORD = "(?:\\p{Lu}|d['’]\\p{Lu})[\\p{L}\\p{M}'’.-]*"
/** A name as it is spoken: "Mara H. Lune", "MARA LUNE", "I. van der Berg". */
const SPOKEN = new RegExp(`^${WORD}(?: (?:${WORD}|${PARTICLE})){1,5}(?:,? (?:Jr|Sr|I{2,3}|IV)\\.?)?$`, 'u')
const PARTED = /\s*([,;|·•\t]|(?<=[\s,;])(?:and|und|et|y|e|och|og|en|&)(?=\s)|&)\s*/iu
const BY =
  /^(?:(?:written |presented )?by|(?:verfasst |vorgelegt )?von|par|por|di|av|af|door|and|und|et|y)(?:\s+(?=\p{Lu})|$)/iu
/** What stands behind a name and is none. */
const TITLES =
  /(?:,|\s)\s*(?:ph\.? ?d|m\.? ?d|m\.? ?sc|b\.? ?sc|m\.? ?a|dr\. ?\p{L}+\. ?\p{L}+|rn|mph|esq)\.?(?=,|$)/giu
const DEGREES = /^(?:prof(?:essor|\.)?|dr\.?(?: \p{Ll}+\.)*|mr\.?|mrs\.?|ms\.?|sir|dame)\s+(?=\p{Lu})/iu
/** Signs that lead from a name to what is said of it beneath. */
const MARK = '[*∗†‡§¶#\\u2070-\\u207f\\u00b9\\u00b2\\u00b3\\u02b0-\\u02b8\\u1d2c-\\u1d6a]'
const MARKS = new RegExp(`(?:\\s?,?\\s?(?:${MARK}|(?<=\\p{Ll}|[,.]|^)\\d{1,2}(?!\\d|\\p{Ll}|\\p{Lu})))+`, 'gu')
const SIGN = new RegExp(`${MARK}|\\d{1,2}`, 'gu')
const LEADS = new RegExp(`^((?:${MARK})+|\\(?(?:\\d{1,2}|[a-z])\\)?(?=\\s+\\p{Lu})|\\d{1,2}(?=\\p{Lu}))\\.?\\s*`, 'u')
const CONTACT = /\S@\S|https?:|www\.|\b(?:e-?mail|tel(?:ephone)?|fax|phone|orcid|url)\b|\bat \S+\.\p{Ll}{2,4}$/iu
const PLACE =
  /\b(?:univ|dept|dipartim|faculta?|fakult|facolta|hochschule|lehrstuhl|hospital|clinic|klinik|division|street|road|avenue|strasse|campus|chair of|ecole)/u
/** What ends such a block: what a thesis is handed in for, a list of contents, the words of a heading. */
const ENDS =
  /^(?:(?:a|an|in|this|zur|tesis|thesis|dissertation|submitted|presented|dissertacao|memoire|these)\b.*|contents|indice|inhalt\w*|sommaire|table .*)$|\. ?\. ?\. ?\./u
/** Lines beneath the names that are believed to be of them, where no sign leads there. */
const MOST_BENEATH = 6

/**
 * The authors of a text with their affiliations, from the lines between its title and what follows.
 * @param block these lines: it is read up to the first that is a sentence
 * @param notes of the same page: signs behind names may lead there
 */
export function authorsOf(block: readonly Placed[], notes: readonly string[]): Signed[] {
  const groups: Group[] = []
  const byMark = new Map<string, string>()
  let open: string | undefined
  for (const line of withBrokenJoined(block.slice(0, MOST))) {
    const text = line.text.trim()
    if (isSentence(text) || ENDS.test(fold(text))) break
    const group = groups.at(-1)
    if (!/\p{L}{2}/u.test(text) || CONTACT.test(text) || isDay(text) || text.replace(BY, '') === '') continue
    const lead = LEADS.exec(text)
    if (lead && group && !namesIn(text.slice(lead[0].length))) {
      open = markOf(lead[1]!)
      byMark.set(open, text.slice(lead[0].length))
      continue
    }
    // after one with a place beside the name, the others are so too
    const names = namesIn(text, group?.isInline)
    if (names) {
      open = undefined
      // names that go on in another line have nothing beneath the first
      const goesOn = group && names.cells.length === 1 && group.cells.length === 1 && !group.cells[0]!.beneath.length
      if (goesOn) {
        group.cells[0]!.own.push(...names.cells[0]!.own)
        group.cells[0]!.beneath.push(...names.cells[0]!.beneath)
        for (const [who, marks] of names.marks) group.marks.set(who, marks)
      } else {
        names.cells.forEach((c, i) => (c.room = line.cells?.[i]))
        groups.push(names)
      }
    } else if (open !== undefined) byMark.set(open, `${byMark.get(open)!} ${text}`.trim())
    else if (group) putBeneath(group, text, line.cells ?? [{ x: line.x, right: line.x + line.width }])
  }
  for (const note of notes) {
    const lead = LEADS.exec(note)
    const rest = lead && note.slice(lead[0].length)
    const mark = lead && markOf(lead[1]!)
    if (mark && rest && !byMark.has(mark) && isPlace(rest) && !isSentence(rest)) byMark.set(mark, rest)
  }
  return groups
    .flatMap(({ cells, marks }) =>
      cells.flatMap(({ own, beneath }) =>
        own.map(name => {
          const marked = (marks.get(name) ?? []).flatMap(m => byMark.get(m) ?? [])
          const place = beneath.join(', ')
          return { name, affiliations: (marked.length ? marked : [place]).map(plain).filter(Boolean) }
        }),
      ),
    )
    .slice(0, MOST_AUTHORS)
}

/** Lines of which one ends within a name, joined with what follows: "Mara Lune, Signe" and "Velasstein, Ada Oke". */
function withBrokenJoined(block: readonly Placed[]): Placed[] {
  const out: Placed[] = []
  for (const line of block) {
    const last = out.at(-1)
    const joined = last ? `${last.text.trim()} ${line.text.trim()}` : ''
    const isBroken = last && joined.length < LONGEST && endsShort(last.text) && !isPlace(line.text)
    if (isBroken && !joined.includes('\t') && areNames(joined)) out[out.length - 1] = { ...last, text: joined }
    else out.push(line)
  }
  return out
}
/** Letters of such lines together at most. */
const LONGEST = 2000
/** Behind others, a name that is not whole: one word of it, or an initial or a particle at its end. */
const SHORT = new RegExp(`(?:\\s\\p{Lu}\\.|\\s${PARTICLE}|[,;&]\\s*(?:and |und |et )?${WORD})$`, 'u')
const endsShort = (text: string): boolean => SHORT.test(text.trim().slice(-60))
/** Names, of which the last may go on in another line. */
const areNames = (text: string): boolean =>
  Boolean(namesIn(text) ?? (endsShort(text) && namesIn(text.slice(0, Math.max(text.lastIndexOf(','), 0)))))

interface Room {
  x: number
  right: number
}
interface Cell {
  own: Name[]
  beneath: string[]
  room?: Room | undefined
}
interface Group {
  cells: Cell[]
  /** Where somebody works stands beside the name. */
  isInline: boolean
  /** Signs behind a name. */
  marks: Map<Name, string[]>
}

/** A line beneath names is of those that it stands under, cell by cell; one that stands under none is of all. */
function putBeneath({ cells }: Group, text: string, rooms: readonly Room[]): void {
  text.split('\t').forEach((part, i) => {
    const room = rooms[i]
    const middle = room && (room.x + room.right) / 2
    const under = middle === undefined ? [] : cells.filter(c => c.room && middle > c.room.x && middle < c.room.right)
    for (const cell of under.length ? under : cells)
      if (cell.beneath.length < MOST_BENEATH) cell.beneath.push(part.trim())
  })
}

/** The names of a line, by its cells, with a place that follows them; none where it says something else. */
function namesIn(text: string, isInline = false): Group | undefined {
  const marks = new Map<Name, string[]>()
  const cells: Cell[] = []
  for (const cell of text.replace(BY, '').split('\t')) {
    const own: Name[] = []
    const beneath: string[] = []
    // signs are parted by commas as names are
    const signed: string[][] = []
    const bare = cell.replace(TITLES, '').replace(MARKS, m => {
      signed.push(m.match(SIGN)!.map(markOf))
      return `\ue000${signed.length - 1}\ue000,`
    })
    // pieces, and between them what parts them
    const pieces = bare.split(PARTED)
    for (let k = 0; k < pieces.length; k += 2) {
      const [piece, before = ''] = [pieces[k]!, pieces[k - 1]]
      const name = piece.replace(NOTED, '').replace(DEGREES, '').trim()
      const of = [...piece.matchAll(NOTED)].flatMap(m => signed[Number(m[1])]!)
      const last = own.at(-1)
      if (last && of.length && !name) marks.get(last)!.push(...of)
      if (!name) continue
      const isBeside = isInline && /[,;]/.test(before)
      if (own.length && (isBeside || beneath.length || isPlace(name))) beneath.push(name)
      else if (!isPerson(name) && !(of.length && own.length && ONE.test(name))) return undefined
      else {
        const who = readName(inSmall(name))
        own.push(who)
        marks.set(who, of)
      }
    }
    if (!own.length) return undefined
    cells.push({ own, beneath: beneath.length ? [beneath.join(', ')] : [] })
  }
  return { cells, marks, isInline: cells.length === 1 && cells[0]!.beneath.length > 0 }
}
const NOTED = /\ue000(\d+)\ue000/gu
/** Some have one name: it counts among others, where a sign stands behind it. */
const ONE = /^\p{Lu}[\p{L}'’-]+$/u
const isPerson = (name: string): boolean =>
  SPOKEN.test(name) && name.length <= 60 && !isPlace(name) && /\p{L}{2}/u.test(name.slice(name.lastIndexOf(' ') + 1))

/** Names that are printed in capitals are written as names are. */
const inSmall = (name: string): string =>
  /\p{Ll}/u.test(name)
    ? name
    : name
        .toLowerCase()
        .replace(/(?<![\p{L}\p{M}])\p{L}/gu, c => c.toUpperCase())
        .replace(new RegExp(`(?<= )${PARTICLE}(?= )`, 'giu'), p => p.toLowerCase())

const markOf = (sign: string): string => sign.normalize('NFKC').replace(/[().]/g, '').replace('∗', '*').toLowerCase()
const isPlace = (text: string): boolean => isBodyName(text) || PLACE.test(fold(text))
const isDay = (text: string): boolean =>
  text.length < 60 && /(?:1[5-9]|20)\d{2}/.test(text) && (readDate(text) !== undefined || !isPlace(text))
const plain = (text: string): string => withoutEnd(text, /[\s,;.]/).trim()

/** Running text: words in small letters among which few begin with a capital. */
function isSentence(text: string): boolean {
  const words = text.match(/\p{L}[\p{L}'’-]+/gu) ?? []
  const small = words.filter(w => /^\p{Ll}/u.test(w)).length
  return words.length >= 7 && small > words.length * 0.6
}
