import { yearOf } from '../../bib/dates'
import { fold, foldTitle } from '../../bib/fold'
import { normaliseDoi } from '../../bib/identifiers'
import type { Item } from '../../bib/item'
import { readPages } from '../../bib/pages'
import { writeField, type Field } from '../../match/best-fields'
import type { Asked, Manner } from '../manner'
import {
  alike,
  capital,
  isManuscript,
  listed,
  type Checked,
  type CheckedCopy,
  type CheckedRecord,
  type Findings,
} from './finding'

/** Where a work appeared: what is missing, what the copy or the records have otherwise. */
export function checkPlace(of: Checked, manner: Manner, findings: Findings): void {
  for (const place of PLACES) against(of, place, findings)
  pagesItself(of, findings)
  doiItself(of, findings)
  missing(of, manner, findings)
}

type Source = NonNullable<CheckedCopy['front']['source']>
/** A part of the place of a work that is compared. */
interface Place {
  field: Field & Asked
  called: string
  /** As it is compared; undefined where nothing can be. */
  of(item: Partial<Item>): string | undefined
}

const text = (v: unknown): string | undefined => {
  const t = typeof v === 'string' || typeof v === 'number' ? fold(String(v)).replace(/\s+/g, ' ').trim() : ''
  return t || undefined
}
/** The number of a volume or an issue, without the words before it. */
const numberOf = (v: unknown): string | undefined =>
  text(v)
    ?.replace(/^(?:vol(?:ume)?|bd|band|no|nr|number|issue|heft|t|tome)\.? ?/u, '')
    .replace(/^0+(?=\d)/, '')

const PLACES: readonly Place[] = [
  { field: 'volume', called: 'volume', of: i => numberOf(i.volume) },
  { field: 'issue', called: 'issue', of: i => numberOf(i.issue) },
  {
    field: 'page',
    called: 'pages',
    of: i => {
      const p = readPages(i.page)
      return p && (p.last >= p.first ? `${p.prefix}${p.first}-${p.last}` : undefined)
    },
  },
  { field: 'issued', called: 'year', of: i => yearOf(i as Item)?.toString() },
  { field: 'DOI', called: 'DOI', of: i => normaliseDoi(i.DOI) },
]

/** What the copy says of one part; a manuscript says nothing of where the work appeared. */
function inCopy({ copy, item }: Checked, { field, of }: Place): string | undefined {
  if (!copy || copy.isScan || isManuscript(copy.version)) return undefined
  if (field === 'DOI') return normaliseDoi(copy.front.doi)
  const source: Source | undefined = copy.front.source
  // a line that names another journal, or is of a newspaper's day, says where something else stands
  const isThere = item.type === 'article-journal' && isSameJournal(source?.['container-title'], item['container-title'])
  return source && isThere ? of(source) : undefined
}

function isSameJournal(printed: string | undefined, given: string | undefined): boolean {
  if (!printed || !given) return false
  const [a, b] = [foldTitle(printed), foldTitle(given)]
  return a.includes(b) || b.includes(a) || isLongFormOf(printed, given) || isLongFormOf(given, printed)
}

function against(of: Checked, place: Place, findings: Findings): void {
  const { field, called } = place
  const ours = place.of(of.item)
  if (of.chosen.includes(field)) return
  const copied = inCopy(of, place)
  const records = alike(of).flatMap(r => {
    const value = place.of(r.item)
    return value ? [{ r, value }] : []
  })
  const shown = (item: Partial<Item>) =>
    field === 'issued' ? (yearOf(item as Item)?.toString() ?? '') : writeField(item as Item, field)
  const seen = of.copy ? { copy: of.copy.id, page: 1 } : null
  const bear = (value: string) => records.filter(x => x.value === value)
  if (ours === undefined) {
    if (shown(of.item)) return
    // what none but the outside has is put in where it is told
    const told = copied ? bear(copied) : records
    if (!copied && !told.length) return
    const value = copied ?? told[0]!.value
    const agree = bear(value)
    const from = agree[0]?.r
    const theirs = from ? shown(from.item) : inItsForm(of, field, value)
    findings.add('missing', {
      field,
      what: `${capital(called)} missing`,
      why: copied
        ? `The copy has ${isMany(called) ? 'them' : 'it'}${from ? `, and so ${agree.length === 1 ? 'has' : 'have'} ${listed(agree.map(x => x.r.source))}` : ''}.`
        : `${capital(listed(agree.map(x => x.r.source)))} ${agree.length === 1 ? 'has' : 'have'} ${isMany(called) ? 'them' : 'it'}.`,
      theirs,
      mend: { value: from ? { record: from.id } : { text: theirs }, called: 'Put it in' },
      seen: copied ? seen : null,
    })
    return
  }
  if (copied !== undefined) {
    if (copied === ours || isPartOf(field, copied, ours)) return
    const from = bear(copied)[0]?.r
    const theirs = from ? shown(from.item) : inItsForm(of, field, copied)
    findings.add('by the copy', {
      field,
      what: `Another ${called === 'pages' ? 'page range' : called} in the copy`,
      why: `Its first pages have it so${from ? `, as ${from.source} does` : ''}.`,
      ours: shown(of.item),
      theirs,
      mend: { value: from ? { record: from.id } : { text: theirs }, called: 'As in the copy' },
      seen,
    })
    return
  }
  const mine = bear(ours)
  const others = new Map<string, CheckedRecord[]>()
  for (const x of records) if (x.value !== ours) others.set(x.value, [...(others.get(x.value) ?? []), x.r])
  const most = [...others.values()].sort((a, b) => b.length - a.length)[0]
  // one against more is that one's slip
  if (!most || most.length < mine.length) return
  const theirs = shown(most[0]!.item)
  findings.add('by records', {
    field,
    what: `Records have another ${called === 'pages' ? 'page range' : called}`,
    why: `${capital(listed(most.map(r => r.source)))} ${most.length === 1 ? 'has' : 'have'} it so; ${mine.length ? `yours is from ${listed(mine.map(x => x.r.source))}` : 'no record has yours'}.`,
    ours: shown(of.item),
    theirs,
    mend: { value: { record: most[0]!.id }, called: `Take ${theirs.length < 30 ? theirs : 'theirs'}` },
  })
}

/** A first page alone is no other range. */
const isPartOf = (field: Field, there: string, ours: string): boolean =>
  field === 'page' && there.split('-')[0] === ours.split('-')[0] && there.split('-')[0] === there.split('-')[1]

/** A value of the copy as it is written into a field. */
const inItsForm = ({ copy }: Checked, field: Field, value: string): string =>
  field === 'DOI' ? value : writeField({ id: '', type: '', ...copy?.front.source }, field) || value

/** Pages that run backwards, or begin or end outside the copy. */
function pagesItself({ item, copy, chosen }: Checked, findings: Findings): void {
  const range = readPages(item.page)
  if (!range || chosen.includes('page')) return
  const numbers =
    copy?.arePrinted && !isManuscript(copy.version) ? copy.labels.filter(l => /^\d+$/.test(l)).map(Number) : []
  const [from, to] = [Math.min(...numbers), Math.max(...numbers)]
  const known = numbers.length >= 3 && to - from < numbers.length * 2
  const printed = known ? `${from}–${to}` : undefined
  const mend = printed ? { value: { text: `${from}-${to}` }, called: `Take ${printed}` } : null
  const seen = known && copy ? { copy: copy.id, page: copy.labels.indexOf(String(from)) + 1 } : null
  if (range.last < range.first)
    findings.add('pages backwards', {
      field: 'page',
      what: 'The pages run backwards',
      why: `The last page comes before the first${printed ? `; those of the copy are numbered ${printed}` : ''}.`,
      ours: item.page ?? '',
      theirs: printed ?? null,
      mend,
      seen,
    })
  else if (known && !range.prefix && (range.first < from || range.first > to || range.last > to))
    findings.add('pages outside the copy', {
      field: 'page',
      what: 'The pages do not lie within the copy',
      why: `Its pages are numbered ${printed!}.`,
      ours: item.page ?? '',
      theirs: printed!,
      mend,
      seen,
    })
}

/** A DOI with what it was found in around it. */
function doiItself({ item }: Checked, findings: Findings): void {
  if (!item.DOI) return
  const doi = normaliseDoi(item.DOI)
  if (doi === undefined)
    findings.add('no DOI', {
      field: 'DOI',
      what: 'What stands for a DOI is none',
      why: 'A DOI begins with 10., a number and a slash.',
      ours: item.DOI,
    })
  else if (doi !== item.DOI.toLowerCase())
    findings.add('around the DOI', {
      field: 'DOI',
      what: 'The DOI has other words around it',
      why: 'A style puts the address before it itself.',
      ours: item.DOI,
      theirs: doi,
      mend: { value: { text: doi }, called: 'The DOI alone' },
    })
}

const NEEDED: Record<string, readonly Asked[]> = {
  'article-journal': ['author', 'issued', 'container-title'],
  'article-magazine': ['issued', 'container-title'],
  'article-newspaper': ['issued', 'container-title'],
  book: ['author', 'issued', 'publisher'],
  chapter: ['author', 'issued', 'container-title', 'publisher'],
  'paper-conference': ['author', 'issued', 'container-title'],
  report: ['issued', 'publisher'],
  thesis: ['author', 'issued', 'publisher'],
}
/** How a type is called, where it is no article. */
const KIND: Record<string, string> = {
  book: 'a book',
  chapter: 'a chapter',
  'paper-conference': 'a conference paper',
  report: 'a report',
  thesis: 'a thesis',
}
const CALLED: Partial<Record<Asked, string>> = {
  author: 'an author',
  issued: 'a year',
  'container-title': 'what it appeared in',
  publisher: 'a publisher',
}

/** What no citation of its kind does without, as far as the style prints it. */
function missing(of: Checked, manner: Manner, findings: Findings): void {
  const { item, records } = of
  const printed = manner.prints[item.type] ?? []
  for (const field of NEEDED[item.type] ?? []) {
    if (!printed.includes(field) || item[field] !== undefined) continue
    if (field === 'author' && item.editor?.length) continue
    const from = alike(of).find(r => r.item[field])
    // what the records have of a date is told above
    if (field === 'issued' && from) continue
    const theirs = from ? writeField(from.item, field) : undefined
    findings.add('missing', {
      field,
      what: `It lacks ${CALLED[field]}`,
      why: `${manner.name} names one for ${KIND[item.type] ?? 'an article'}; ${
        theirs
          ? `${from!.source} has it`
          : records.length === 1
            ? 'its record has none'
            : `none of its ${records.length} records has one`
      }.`,
      ...(theirs ? { theirs, mend: { value: { record: from!.id }, called: 'Put it in' } } : {}),
    })
  }
  const short = item['container-title']
  const full =
    short && /\p{L}\.(?:\s|$)/u.test(short)
      ? records.find(r => isLongFormOf(r.item['container-title'], short))
      : undefined
  if (full && !of.chosen.includes('container-title'))
    findings.add('a short form', {
      field: 'container-title',
      what: 'The journal stands in its short form',
      why: `${full.source} has its whole name; a style shortens it where it wants that.`,
      ours: short!,
      theirs: full.item['container-title']!,
      mend: { value: { record: full.id }, called: 'Its whole name' },
    })
}

/** Whether each word of a short form begins the next word of a name that is written out. */
export function isLongFormOf(long: string | undefined, short: string): boolean {
  if (!long || /\p{L}\.(?:\s|$)/u.test(long)) return false
  const words = foldTitle(long).split(' ')
  let at = 0
  for (const w of foldTitle(short).split(' ')) {
    while (at < words.length && !words[at]!.startsWith(w)) at++
    if (at++ === words.length) return false
  }
  return at > 0 && long.length > short.length
}

const isMany = (called: string): boolean => called === 'pages'
