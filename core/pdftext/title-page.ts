import { foldTitle } from '../bib/fold'
import { normaliseDoi } from '../bib/identifiers'
import type { Item, Name } from '../bib/item'
import { familyName } from '../bib/names'
import { readPages } from '../bib/pages'
import { readField, writeField, type Field } from '../match/best-fields'
import type { Signed } from './authors'
import type { Front } from './front'

/** What the title page says of a field, beside what the records say. */
export interface PageWord {
  field: Field
  page: string
  record: string
}

const same: Partial<Record<Field, (page: string, record: string) => boolean>> = {
  DOI: (a, b) => normaliseDoi(a) === normaliseDoi(b),
  page: (a, b) => {
    const [x, y] = [readPages(a), readPages(b)]
    return x?.first === y?.first && (x?.last === y?.last || !/\d\D+\d/.test(a) || !/\d\D+\d/.test(b))
  },
  author: (a, b) => {
    const names = [a, b].map(t => (readField('author', t) as Name[]).map(n => foldTitle(familyName(n))).join('; '))
    return names[0] === names[1]
  },
  // a page says the year, a record perhaps the day
  issued: (a, b) => a.slice(0, 4) === b.slice(0, 4),
}
const isSame = (field: Field, page: string, record: string): boolean =>
  (same[field] ?? ((a, b) => foldTitle(a) === foldTitle(b)))(page, record)

/** Names beneath a title are its authors where one of them is an author in the records, or the records have none. */
const isOf = (authors: readonly Signed[], { author = [] }: Item): boolean => {
  const known = new Set(author.map(a => foldTitle(familyName(a))))
  return !known.size || authors.some(a => known.has(foldTitle(familyName(a.name))))
}

/**
 * Which fields of a work its title page confirms, and where it says something else, or something that no record gives.
 * @returns in `confirms` the fields alone; in `says` what the student may take from the page
 */
export function titlePageSays(
  item: Item,
  version: string,
  { title, authors, doi, abstract, source }: Front,
): { confirms: Field[]; says: PageWord[] } {
  const told: [Field, string | undefined][] = [
    ['title', title],
    [
      'author',
      authors && isOf(authors, item) ? writeField({ author: authors.map(a => a.name) } as Item, 'author') : undefined,
    ],
    ['issued', source && writeField(source as Item, 'issued').slice(0, 4)],
    ['container-title', source?.['container-title']],
    ['volume', source?.volume === undefined ? undefined : String(source.volume)],
    ['issue', source?.issue === undefined ? undefined : String(source.issue)],
    ['page', source?.page],
    ['DOI', doi],
    // an abstract of the records is not put beside another: its words are cut and changed in many ways
    ['abstract', item.abstract ? undefined : abstract],
  ]
  const confirms: Field[] = []
  const says: PageWord[] = []
  for (const [field, page] of told) {
    if (!page) continue
    const record = writeField(item, field)
    if (record && isSame(field, page, record)) confirms.push(field)
    // a manuscript has a DOI, pages and perhaps a title of its own
    else if (version === 'version of record' || field === 'abstract') says.push({ field, page, record })
  }
  return { confirms, says }
}
