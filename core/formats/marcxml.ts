import { readDate } from '../bib/dates'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { readName } from '../bib/names'
import type { Facts, Item, Name, ReadRecord } from '../bib/item'
import { typeOfGenre, withoutUndefined } from './mods'
import { all, first, readXml, textOf, type Xml } from './xml'

/** Trailing punctuation that cataloguing rules put between the parts of a record (ISBD). */
const bare = (s: string | undefined): string | undefined =>
  s
    ?.trim()
    .replace(/[/:;,=]$/, '')
    .trim() || undefined

/**
 * Reads one bibliographic record of MARC 21 in XML: books, chapters, theses, recordings, journals. Where it stands on
 * a shelf (852) and which run is held (866) become facts.
 * @throws Error where it is not well-formed XML or no MARC record
 */
export function readMarcXml(xml: string): ReadRecord {
  const root = readXml(xml)
  const record = (first(root, 'record') ?? first(root, 'collection', 'record')) as Xml | undefined
  if (!record || !('leader' in record)) throw new Error('The record is not MARC 21 in XML.')
  const fields = all(record, 'datafield')
  const tagged = (tag: string): Xml[] => fields.filter(f => f['@tag'] === tag)
  const sub = (f: Xml | undefined, code: string): string | undefined =>
    f ? textOf(all(f, 'subfield').find(s => s['@code'] === code)) : undefined
  const one = (tag: string, code = 'a'): string | undefined => sub(tagged(tag)[0], code)
  const controls = all(record, 'controlfield')
  const serial = /^.{7}s/.test(textOf(record.leader) ?? '')
  const genre = serial ? 'journal' : one('502') ? one('502') : bare(one('655'))
  const host = tagged('773')[0]
  const item: Item = {
    id: textOf(controls.find(c => c['@tag'] === '001')) ?? '',
    type: serial ? 'periodical' : one('502') ? 'thesis' : host ? 'chapter' : typeOfGenre(genre, false),
  }
  if (item.type === 'document' && one('020')) item.type = 'book'
  item.title = [bare(one('245')), bare(one('245', 'b'))].filter(Boolean).join(': ')
  const names = ['100', '110', '700', '710'].flatMap(tag =>
    tagged(tag).flatMap(f => {
      const text = bare(sub(f, 'a'))
      const name: Name | undefined = text ? (tag.endsWith('10') ? { literal: text } : readName(text)) : undefined
      return name ? [{ name, role: sub(f, 'e') ?? 'author' }] : []
    }),
  )
  const by = (role: RegExp) => names.filter(n => role.test(n.role)).map(n => n.name)
  if (by(/author|creator/).length) item.author = by(/author|creator/)
  if (by(/editor/).length) item.editor = by(/editor/)
  const origin = tagged('264')[0] ?? tagged('260')[0]
  Object.assign(item, {
    publisher: bare(sub(origin, 'b')),
    'publisher-place': bare(sub(origin, 'a')),
    issued: readDate(sub(origin, 'c') ?? one('502', 'd') ?? ''),
    edition: /\d+/.exec(one('250') ?? '')?.[0],
    ISBN: normaliseIsbn(one('020')) ?? normaliseIsbn(sub(host, 'z')),
    ISSN: normaliseIssn(one('022')),
    DOI: normaliseDoi(
      tagged('024')
        .map(f => (sub(f, '2') === 'doi' ? sub(f, 'a') : undefined))
        .find(Boolean),
    ),
    language: one('041'),
    abstract: one('520'),
    URL: one('856', 'u'),
    'container-title': bare(sub(host, 't')),
    page: /pages?\s+(\S+)/.exec(sub(host, 'g') ?? '')?.[1],
    ...(item.type === 'thesis' ? { genre: one('502'), publisher: one('502', 'c') ?? bare(sub(origin, 'b')) } : {}),
  })
  const pages = Number(/(?<!\d)(\d{1,6})\s{0,3}p/.exec(one('300') ?? '')?.[1])
  const shelf = tagged('852').map(f =>
    withoutUndefined({ branch: sub(f, 'b') ?? '', call: sub(f, 'h') ?? '', note: sub(f, 'z') }),
  )
  const runs = tagged('866').map(f => [sub(f, 'a'), sub(f, 'z')].filter(Boolean).join(', '))
  const subjects = tagged('650').flatMap(f => bare(sub(f, 'a')) ?? [])
  const facts: Facts = withoutUndefined({
    genre,
    subjects: subjects.length ? subjects : undefined,
    pageCount: pages || undefined,
    shelf: shelf.length ? shelf : undefined,
    runs: runs.length ? runs : undefined,
  }) as Facts
  return { item: withoutUndefined(item), facts }
}
