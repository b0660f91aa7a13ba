import { fold } from '../../bib/fold'
import type { Item, Name } from '../../bib/item'
import { familyName, isBodyName, nameKey, readName, spokenName } from '../../bib/names'
import { writeField } from '../../match/best-fields'
import {
  alike,
  listed,
  type Checked,
  type CheckedCopy,
  type CheckedRecord,
  type Finding,
  type Findings,
} from './finding'

/** Authors of an entry: how each is written, then against its copy, then against its records. */
export function checkNames(of: Checked, findings: Findings): void {
  const authors = of.item.author ?? []
  if (!authors.length) return
  if (stopgaps(of, authors, findings)) return
  for (const name of authors) oneName(of, authors, name, findings)
  const isSigned = of.copy && !of.copy.isScan && againstCopy(of, authors, of.copy, findings)
  if (!isSigned) againstRecords(of, authors, findings)
}

const written = (author: readonly Name[]): { text: string } => ({
  text: writeField({ id: '', type: '', author: [...author] }, 'author'),
})
const said = (names: readonly Name[]): string => names.map(spokenName).join(', ')

/** What stands for more names, and is none. */
const MORE = /^(et al(ii|ia)?|(and )?others|and|u ?a|mitarb\w*|y otros|e altri)$/
const isMore = (n: Name): boolean =>
  MORE.test(
    fold([n.given, familyName(n)].filter(Boolean).join(' '))
      .replace(/[^\p{L}]+/gu, ' ')
      .trim(),
  )

function stopgaps({ item, records, copy }: Checked, authors: readonly Name[], findings: Findings): boolean {
  const stop = authors.find(isMore)
  if (!stop) return false
  const own = authors.filter(n => !isMore(n))
  const printed = copy?.front.authors?.map(a => a.name) ?? []
  const fuller = records.find(r => fullNames(r.item) > own.length)
  const mend = fuller
    ? { value: { record: fuller.id }, called: `All ${fullNames(fuller.item)} authors` }
    : printed.length > own.length
      ? { value: written(printed), called: `All ${printed.length} authors` }
      : { value: written(own), called: 'Leave it out' }
  findings.add('stopgap', {
    field: 'author',
    what: `“${spokenName(stop)}” stands among the authors`,
    why: fuller
      ? `It is no name; ${fuller.source} has all ${fullNames(fuller.item)}.`
      : printed.length > own.length
        ? `It is no name; the copy is signed by ${printed.length}.`
        : 'It is no name; a style says “et al.” itself, where it shortens a list.',
    ours: writeField(item, 'author'),
    mend,
  })
  return true
}
const fullNames = (item: Item): number => ((item.author ?? []).some(isMore) ? 0 : (item.author?.length ?? 0))

/** With their dots, or one letter: two capitals may be a name. */
const INITIALS = /^(?:(?:\p{Lu}\.[ -]?){1,4}|\p{Lu})$/u

function oneName(of: Checked, authors: readonly Name[], name: Name, findings: Findings): void {
  const { family = '', given = '', literal = '' } = name
  const instead = (now: Name) => written(authors.map(n => (n === name ? now : n)))
  if (INITIALS.test(family) && family.length < 8 && given && !INITIALS.test(given) && !/\p{Lu}\./u.test(given)) {
    const now: Name = { ...name, family: given, given: family }
    findings.add('initials for a family name', {
      field: 'author',
      what: `“${family}” stands for a family name`,
      why: `Initials are given names: it is ${spokenName(now)}.`,
      ours: `${family}, ${given}`,
      theirs: `${given}, ${family}`,
      mend: { value: instead(now), called: 'Change places' },
    })
    return
  }
  const shouted = /^\p{Lu}{4,}(?:[ -]\p{Lu}+)*$/u.test(family) && !isBodyName(family)
  if (shouted) {
    const lower = other(of, name)?.family ?? capitalised(family)
    findings.add('capitals in a name', {
      field: 'author',
      what: `“${family}” is written in capitals`,
      why: 'A style prints a name as it is given.',
      ours: family,
      theirs: lower,
      mend: { value: instead({ ...name, family: lower }), called: 'With small letters' },
    })
  }
  if (!literal || isBodyName(literal) || !/^\p{Lu}/u.test(literal)) return
  // a person's name left whole is sorted and shortened wrongly
  const parted = other(of, name) ?? (/, \p{Lu}/u.test(literal) ? readName(literal) : undefined)
  if (!parted?.family || !parted.given) return
  findings.add('a name left whole', {
    field: 'author',
    what: `“${literal}” is not parted into given and family name`,
    why: 'It would be printed and sorted as the name of a body.',
    ours: literal,
    theirs: `${parted.family}, ${parted.given}`,
    mend: { value: instead(parted), called: 'Part it' },
  })
}
const capitalised = (word: string): string => word.replace(/\p{L}+/gu, w => w[0]! + w.slice(1).toLowerCase())

/** The same person as another record or the copy writes them, where it parts the name and does not shout. */
function other({ records, copy }: Checked, name: Name): Name | undefined {
  const key = nameKey(name)
  const all = [...(copy?.front.authors ?? []).map(a => a.name), ...records.flatMap(r => r.item.author ?? [])]
  return all.find(n => n.family && n.given && /\p{Ll}/u.test(n.family) && nameKey(n) === key)
}

/** A particle is set before the name in one place and left out in another. */
const family = (n: Name): string =>
  fold(familyName(n))
    .replace(/^(?:(?:van|von|vom|der|den|de|del|della|la|le|du|da|di|dos|ter|el|al|bin|ibn|zu|af|av) )+(?=\p{L})/u, '')
    .replace(/[^\p{L}]+/gu, '')
const first = (n: Name): string =>
  fold(n.given ?? '')
    .replace(/[^\p{L} ]/gu, '')
    .split(' ')[0] ?? ''

/** A list of authors that an entry's is held against. */
interface Witness {
  names: readonly Name[]
  /** "The copy is signed by", "Night catalogue has". */
  has: string
  called: string
  seen: Finding['seen']
  /** Where it is a record that the whole list can be taken from. */
  record?: number
}

function againstCopy(of: Checked, authors: readonly Name[], copy: CheckedCopy, findings: Findings): boolean {
  const names = (copy.front.authors ?? []).map(a => a.name).filter(n => n.family && n.given)
  if (!names.length || of.chosen.includes('author')) return false
  const witness = { names, has: 'The copy is signed by', called: 'As in the copy', seen: { copy: copy.id, page: 1 } }
  against(of, authors, witness, findings)
  return true
}

/** Without a copy, the list that most records have, where no more of them have the entry's own. */
function againstRecords(of: Checked, authors: readonly Name[], findings: Findings): void {
  if (of.chosen.includes('author')) return
  const listOf = (names: readonly Name[]) => names.map(n => `${family(n)} ${first(n)[0] ?? ''}`).join('|')
  const by = new Map<string, CheckedRecord[]>()
  for (const r of alike(of)) {
    const names = r.item.author ?? []
    if (names.length && !names.some(isMore)) by.set(listOf(names), [...(by.get(listOf(names)) ?? []), r])
  }
  const ours = listOf(authors)
  const [theirs] = [...by].filter(([k]) => k !== ours).sort((a, b) => b[1].length - a[1].length)
  if (!theirs || theirs[1].length < (by.get(ours)?.length ?? 0)) return
  const [record] = theirs[1]
  const names = record!.item.author!
  // a shorter list is more often a cut one
  if (names.length < authors.length) return
  const sources = listed(theirs[1].map(r => r.source))
  const has = `${sources} ${theirs[1].length === 1 ? 'has' : 'have'}`
  against(of, authors, { names, has, called: 'As it is there', seen: null, record: record!.id }, findings)
}

/** What differs between two lists of authors, where it is plain: one slip, some that are missing, another order. */
function against(of: Checked, authors: readonly Name[], by: Witness, findings: Findings): void {
  const own = authors.filter(n => !isMore(n))
  const there = new Set(by.names.map(family))
  const same = own.filter(n => there.has(family(n)))
  const mend = (names: readonly Name[], called: string) => ({
    value: by.record === undefined ? written(names) : { record: by.record },
    called,
  })
  const add = (matter: string, said: Pick<Finding, 'what' | 'why'> & Partial<Finding>) =>
    findings.add(matter, { field: 'author', seen: by.seen, ...said })
  // given and family name that changed places
  const swapped = own.find(n => !there.has(family(n)) && n.given && by.names.some(p => crossed(n, p)))
  if (swapped) {
    const right = by.names.find(p => crossed(swapped, p))!
    return add('given for family name', {
      what: 'Given and family name have changed places',
      why: `${by.has} ${spokenName(right)}.`,
      ours: `${familyName(swapped)}, ${swapped.given}`,
      theirs: `${familyName(right)}, ${right.given}`,
      mend: mend(
        own.map(n => (n === swapped ? right : n)),
        'Change places',
      ),
    })
  }
  const strange = own.filter(n => !there.has(family(n)))
  const missing = by.names.filter(p => !own.some(n => family(n) === family(p)))
  const slip = strange.length === 1 && missing.find(p => near(strange[0]!, p))
  // names are believed where most of them are known, or all but the one that has a slip
  if (!slip && same.length < Math.max(1, own.length / 2)) return
  if (slip)
    return add('a name spelled otherwise', {
      what: 'A name is spelled otherwise',
      why: `${by.has} ${spokenName(slip)}.`,
      ours: spokenName(strange[0]!),
      theirs: spokenName(slip),
      mend: mend(
        own.map(n => (n === strange[0] ? { ...n, family: slip.family! } : n)),
        by.called,
      ),
    })
  if (strange.length) return
  if (missing.length) {
    if (by.record === undefined && !isBorneOut(of, missing)) return
    return add('authors missing', {
      what: missing.length === 1 ? 'An author is missing' : `${missing.length} authors are missing`,
      why: `${by.has} ${said(missing)} as well.`,
      theirs: said(missing),
      mend: mend(
        by.names.map(p => own.find(n => family(n) === family(p)) ?? p),
        'Put in',
      ),
    })
  }
  // namesakes cannot be told apart
  if (new Set(own.map(nameKey)).size < own.length || own.length !== by.names.length) return
  const order = own.map(n => by.names.findIndex(p => nameKey(p) === nameKey(n)))
  const inOrder = [...order].sort((a, b) => a - b)
  if (order.every(i => i >= 0) && order.some((i, k) => i !== inOrder[k]))
    add('order of authors', {
      what: 'The authors stand in another order',
      why: `${by.has} ${by.names.map(familyName).join(', ')}.`,
      ours: own.map(familyName).join(', '),
      theirs: by.names.map(familyName).join(', '),
      mend: mend(
        inOrder.map(i => own[order.indexOf(i)]!),
        'In that order',
      ),
    })
}
/** One name read off a page may be a line of where they work: it needs a record, or more than one of them. */
const isBorneOut = ({ records }: Checked, missing: readonly Name[]): boolean =>
  missing.every(m => records.some(r => (r.item.author ?? []).some(n => family(n) === family(m)))) ||
  missing.every(m => (m.given?.length ?? 0) > 1 && (m.family?.length ?? 0) > 2)

const crossed = (a: Name, b: Name): boolean =>
  first(a).length > 1 &&
  fold(a.given ?? '').replace(/[^\p{L}]+/gu, '') === family(b) &&
  family(a) === fold(b.given ?? '').replace(/[^\p{L}]+/gu, '') &&
  family(a) !== family(b)

/** One letter more, less, or another. */
function near(a: Name, b: Name): boolean {
  const [x, y] = [family(a), family(b)]
  if (x === y || x.length < 4 || Math.abs(x.length - y.length) > 1 || first(a)[0] !== first(b)[0]) return false
  let start = 0
  while (start < Math.min(x.length, y.length) && x[start] === y[start]) start++
  let end = 0
  while (end < Math.min(x.length, y.length) - start && x.at(-1 - end) === y.at(-1 - end)) end++
  const left = Math.max(x.length, y.length) - start - end
  const isTurned = left === 2 && x[start] === y[start + 1] && x[start + 1] === y[start]
  return left < 2 || isTurned
}
