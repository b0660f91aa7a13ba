import { fold } from '../bib/fold'
import type { Name } from '../bib/item'
import { familyName, nameKey, spokenName } from '../bib/names'

/** A work, as far as it tells who wrote it. */
export interface Written {
  id: string
  names: readonly Name[]
  year: number | null
  /** Where it came out; empty where nothing says so. */
  container: string
  /** Its keywords and headings. */
  words: readonly string[]
  /** Identifiers of those who wrote it, by name, as far as any source has them. */
  ids: readonly { name: Name; id: string }[]
}

/** Works that seem to be by one person. */
export interface Person {
  /** The fullest form of the name that they bear. */
  name: Name
  works: string[]
  /** The identifier that sources give this person, and how many of the works have it. */
  id: string | null
  withId: number
  /** First and last year. */
  years: [number, number] | null
  /** With whom, the most frequent first. */
  with: { name: Name; times: number }[]
  /** Words of several of the works, the most frequent first. */
  words: { word: string; times: number }[]
  /** What speaks for the person of the first group; nothing there, and nothing where only the name is alike. */
  shares: string[]
  /** The given names or the identifier are others than those of the first group: nobody has both. */
  isOther: boolean
}

/** Years that one person may have written, from the first work to the last. */
const LONGEST = 55
/** Years between two works beyond which a journal or a subject in common says little. */
const APART = 12
/** Works of one name that are compared; of a body that signs thousands the first. */
const MOST = 600
/** Lines of a list that are told. */
const TOLD = 12

interface Mention extends Written {
  /** Parts of the given names, folded. */
  given: readonly string[]
  name: Name
  /** The identifier that is said to be theirs. */
  person: string | undefined
  /** Those who wrote it too, by what is compared of their names. */
  with: ReadonlyMap<string, Name>
  at: string
  topics: ReadonlySet<string>
}

/**
 * The persons who seem to stand behind a name, each with their works. Works are put together where the given names agree
 * and a co-author is shared; or, of given names written out, a journal or two words of their subject. Initials alone do not
 * join on subjects. One identifier joins whatever else is said, and two keep apart. What stays apart is for somebody who
 * knows to judge.
 * @param first the work from which somebody asks: its person stands first
 * @param id their identifier: works with it are theirs, whatever the name in them
 */
export function personsOf(name: Name, works: readonly Written[], first?: string, id?: string): Person[] {
  const family = foldedFamily(name)
  const mentions = works
    .flatMap(w => {
      const own = w.names.find(n => foldedFamily(n) === family && fits(givenOf(n), givenOf(name)) !== 'other')
      return own ? [mentionOf(w, own)] : []
    })
    .slice(0, MOST)
  const known = new Set(mentions.map(m => m.id))
  // who has changed names signs with another one
  const renamed = works.flatMap(w => {
    const said = known.has(w.id) || !id ? undefined : w.ids.find(i => i.id === id)?.name
    const own = said && w.names.find(n => nameKey(n) === nameKey(said))
    return own ? [{ ...mentionOf(w, own), person: id }] : []
  })
  mentions.push(...renamed)
  const groups = joined(mentions)
  const has = (g: readonly Mention[]) => first !== undefined && g.some(m => m.id === first)
  groups.sort((a, b) => Number(has(b)) - Number(has(a)) || b.length - a.length)
  return groups.map((g, i) => personOf(g, i ? groups[0]! : undefined))
}

const foldedFamily = (n: Name): string =>
  fold(familyName(n))
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()

/** “Mara H.-L.” as mara, h, l. */
const givenOf = (n: Name): string[] => fold(n.given ?? '').match(/\p{L}+/gu) ?? []

/** How given names agree: written out in both, by initials at least, or not. */
function fits(a: readonly string[], b: readonly string[]): 'same' | 'may be' | 'other' {
  let isSame = false
  for (let i = 0; i < Math.min(a.length, b.length); i++) {
    const [x, y] = [a[i]!, b[i]!]
    if (x === y) isSame ||= x.length > 1
    else if ((x.length > 1 && y.length > 1) || x[0] !== y[0]) return 'other'
  }
  return isSame ? 'same' : 'may be'
}

function mentionOf(w: Written, own: Name): Mention {
  const others = w.names.filter(n => n !== own).map((n): [string, Name] => [nameKey(n), n])
  return {
    ...w,
    given: givenOf(own),
    name: own,
    person: identifierIn(w, own),
    with: new Map(others),
    at: fold(w.container).trim(),
    topics: new Set(w.words.map(x => fold(x).trim()).filter(Boolean)),
  }
}

/** The identifier that a work has for somebody of a name; none where two of its names may be meant. */
export function identifierIn(w: Pick<Written, 'names' | 'ids'>, own: Name): string | undefined {
  const isOwn = (n: Name) => foldedFamily(n) === foldedFamily(own) && fits(givenOf(n), givenOf(own)) !== 'other'
  const found = w.ids.filter(i => isOwn(i.name))
  return found.length === 1 && w.names.filter(isOwn).length === 1 ? found[0]!.id : undefined
}

const shared = <T>(a: Iterable<T>, b: { has: (x: T) => boolean }): T[] => [...a].filter(x => b.has(x))

/** How strongly two mentions speak for one person; 0 where they do not. */
function tie(a: Mention, b: Mention): number {
  if (a.person && b.person) return a.person === b.person ? 4 : 0
  const given = fits(a.given, b.given)
  if (given === 'other') return 0
  const people = shared(a.with.keys(), b.with).length
  if (people) return given === 'same' ? 3 : 2
  if (given !== 'same' || isFar(a.year, b.year)) return 0
  if (a.at && a.at === b.at) return 1
  return shared(a.topics, b.topics).length > 1 ? 1 : 0
}

const isFar = (a: number | null, b: number | null): boolean => a !== null && b !== null && Math.abs(a - b) > APART

/** Puts mentions together, the strongest ties first; no group has two given names that differ, nor too long a life. */
function joined(mentions: readonly Mention[]): Mention[][] {
  const ties: [number, number, number][] = []
  for (let i = 0; i < mentions.length; i++)
    for (let j = i + 1; j < mentions.length; j++) {
      const of = tie(mentions[i]!, mentions[j]!)
      if (of) ties.push([of, i, j])
    }
  ties.sort((a, b) => b[0] - a[0])
  const groupOf = mentions.map((m): Mention[] => [m])
  for (const [, i, j] of ties) {
    const [a, b] = [groupOf[i]!, groupOf[j]!]
    if (a === b || !mayBeOne(a, b)) continue
    a.push(...b)
    for (const [k, g] of groupOf.entries()) if (g === b) groupOf[k] = a
  }
  return [...new Set(groupOf)]
}

function mayBeOne(a: readonly Mention[], b: readonly Mention[]): boolean {
  const years = [...a, ...b].flatMap(m => m.year ?? [])
  const isSaid = a.some(x => x.person && b.some(y => x.person === y.person))
  if (!isSaid && years.length && Math.max(...years) - Math.min(...years) > LONGEST) return false
  return a.every(x => b.every(y => !contradict(x, y)))
}

/** Whether two cannot be one person: their identifiers are two, or their given names where no identifier says they are one. */
const contradict = (a: Mention, b: Mention): boolean =>
  a.person && b.person ? a.person !== b.person : fits(a.given, b.given) === 'other'

function personOf(group: readonly Mention[], first: readonly Mention[] | undefined): Person {
  const years = group.flatMap(m => m.year ?? [])
  const fullest = group.map(m => m.name).reduce((a, b) => (spokenName(b).length > spokenName(a).length ? b : a))
  const ids = group.flatMap(m => m.person ?? [])
  const byYear = [...group].sort((a, b) => (b.year ?? 0) - (a.year ?? 0))
  return {
    name: fullest,
    works: byYear.map(m => m.id),
    id: ids[0] ?? null,
    withId: ids.length,
    years: years.length ? [Math.min(...years), Math.max(...years)] : null,
    with: counted(group.flatMap(m => [...m.with])).map(([name, times]) => ({ name, times })),
    words: counted(group.flatMap(m => [...m.topics].map((t): [string, string] => [t, t])))
      .filter(([, times]) => group.length === 1 || times > 1)
      .map(([word, times]) => ({ word, times })),
    shares: first ? sharesOf(group, first) : [],
    isOther: Boolean(first) && group.some(m => first!.some(f => contradict(m, f))),
  }
}

/** What two groups have in common. */
function sharesOf(a: readonly Mention[], b: readonly Mention[]): string[] {
  const people = new Map(b.flatMap(m => [...m.with]))
  const places = new Set(b.map(m => m.at).filter(Boolean))
  const topics = new Set(b.flatMap(m => [...m.topics]))
  const names = [...new Map(a.flatMap(m => [...m.with])).entries()].flatMap(([k, n]) =>
    people.has(k) ? [spokenName(n)] : [],
  )
  const journals = [...new Set(a.filter(m => places.has(m.at)).map(m => m.container))]
  const words = [...new Set(a.flatMap(m => shared(m.topics, topics)))]
  return [...names, ...journals, ...words].slice(0, 4)
}

/** Things by key with how often they come, the most frequent first, as they are written first. */
function counted<T>(of: readonly (readonly [string, T])[]): [T, number][] {
  const by = new Map<string, { said: T; n: number }>()
  for (const [key, said] of of) {
    const there = by.get(key)
    if (there) there.n++
    else by.set(key, { said, n: 1 })
  }
  return [...by]
    .sort(([x, a], [y, b]) => b.n - a.n || (x < y ? -1 : 1))
    .slice(0, TOLD)
    .map(([, x]) => [x.said, x.n])
}
