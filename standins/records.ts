import { authorLine } from '../core/bib/names'
import type { Item, Name } from '../core/bib/item'
import { escapeXml as x } from '../core/formats/xml'
import { tellSection } from '../core/world/tell'
import type { Deposit, Description, Venue, WorldWork } from '../core/world/types'
import { lot, type ServedWorld } from './world'

/** One line of a catalogue: a work as it describes it, one deposit of it, or a journal on the shelf. */
export interface Entry {
  id: string
  /** ISO day from which it is listed. */
  from: string
  how: Description
  work: WorldWork
  deposit?: Deposit
  journal?: Venue
}

export const el = (name: string, value: unknown, attributes = ''): string =>
  value === undefined || value === '' ? '' : `<${name}${attributes}>${x(String(value))}</${name}>`

/** The item as a careless cataloguer would enter it. */
export function entered(e: Entry): Item {
  const { work, how, deposit } = e
  const item = { ...work.item }
  if (how.noDoi) delete item.DOI
  if (how.noPages) delete item.page
  if (how.noAbstract) delete item.abstract
  if (how.firstOnly) item.author = item.author?.slice(0, 1)
  if (how.year) item.issued = { 'date-parts': [[how.year]] }
  if (how.slip !== undefined && item.title!.length > how.slip + 2)
    item.title = item.title!.slice(0, how.slip) + item.title!.slice(how.slip + 1)
  if (how.capitals) item.title = item.title!.toUpperCase()
  if (how.initials)
    item.author = item.author?.map(n =>
      n.given ? { ...n, given: n.given.replace(/(\p{L})[\p{L}-]+\.?/gu, '$1.') } : n,
    )
  if (deposit) {
    const [y, m, d] = deposit.from.split('-').map(Number)
    if (deposit.version !== 'version of record') {
      for (const k of ['volume', 'issue', 'page']) delete item[k]
      item.issued = { 'date-parts': [[y!, m!, d!]] }
    }
    if (deposit.version === 'preprint') {
      for (const k of ['container-title', 'ISSN', 'publisher']) delete item[k]
      item.DOI = deposit.doi!
      // titles change a little between a preprint and its article
      if (lot(work.id, 'preprint title', 5) < 1) item.title = item.title!.replace(/: [^:]+$/, '')
    }
  }
  return item
}

const isoDate = (item: Item): string =>
  (item.issued?.['date-parts']?.[0] ?? []).map(p => String(p).padStart(2, '0')).join('-')
const familyOf = (n: Name): string =>
  [n['non-dropping-particle'], n.family].filter(Boolean).join(' ') || n.literal || ''
const inverted = (n: Name): string => (n.given ? `${familyOf(n)}, ${n.given}` : familyOf(n))

const modsName = (n: Name, role: string, id?: string): string =>
  n.literal && !n.given
    ? `<name type="corporate">${el('namePart', n.literal)}<role><roleTerm type="text">${role}</roleTerm></role></name>`
    : `<name type="personal">${el('namePart', familyOf(n), ' type="family"')}${el('namePart', n.given, ' type="given"')}${el('nameIdentifier', id, ' type="isni"')}<role><roleTerm type="text">${role}</roleTerm></role></name>`

/** A MODS 3.8 record. `authority` names the catalogue's list of subject terms. */
export function toMods(e: Entry, authority: string, more: { references?: boolean; grant?: string } = {}): string {
  const w = e.work
  const i = entered(e)
  const [title, ...rest] = i.title!.split(': ')
  const [start, end] = (i.page ?? '').split('-')
  const host = i['container-title']
    ? `<relatedItem type="host"><titleInfo>${el('title', i['container-title'])}</titleInfo>${(i.editor ?? []).map(n => modsName(n, 'editor')).join('')}` +
      `<originInfo>${el('publisher', i.publisher)}</originInfo>${el('identifier', i.ISSN, ' type="issn"')}${el('identifier', i.ISBN, ' type="isbn"')}` +
      `<part>${i.volume ? `<detail type="volume">${el('number', i.volume)}</detail>` : ''}${i.issue ? `<detail type="issue">${el('number', i.issue)}</detail>` : ''}` +
      `${start ? `<extent unit="pages">${el('start', start)}${el('end', end ?? start)}</extent>` : ''}</part></relatedItem>`
    : el('identifier', i.ISBN, ' type="isbn"')
  return (
    `<mods xmlns="http://www.loc.gov/mods/v3" version="3.8"><titleInfo>${el('title', title)}${el('subTitle', rest.join(': '))}</titleInfo>` +
    (i.author ?? []).map((n, at) => modsName(n, 'author', w.authorIds?.[at])).join('') +
    `<typeOfResource>text</typeOfResource>${el('genre', genreFor(w))}<originInfo>${host.includes('type="host"') ? '' : el('publisher', i.publisher)}<dateIssued encoding="w3cdtf">${isoDate(i)}</dateIssued></originInfo>` +
    `<language><languageTerm type="code" authority="rfc3066">${i.language ?? 'en'}</languageTerm></language>` +
    `<physicalDescription>${el('extent', `${w.pages} p.`)}</physicalDescription>${el('abstract', i.abstract)}` +
    `${el('note', w.refereedVenue ? 'refereed venue' : 'not refereed', ' type="venue"')}${more.references && w.references.length ? el('note', `${w.references.length} references`, ' type="references"') : ''}` +
    `${el('note', more.grant, ' type="funding"')}${el('note', i['original-title'] ? `Translation of: ${String(i['original-title'])}` : undefined, ' type="original"')}` +
    w.keywords.map(k => `<subject>${el('topic', k)}</subject>`).join('') +
    w.subjects.map(s => `<subject authority="${authority}">${el('topic', s)}</subject>`).join('') +
    host +
    `${el('identifier', i.DOI, ' type="doi"')}<recordInfo>${el('recordIdentifier', e.id)}</recordInfo></mods>`
  )
}

/** Authors as registrations give them: with their identifiers as addresses. */
export const signed = (w: WorldWork): Name[] =>
  (w.item.author ?? []).map((n, i) => {
    const id = w.authorIds?.[i]
    return id ? { ...n, identifier: `https://people.example/${id}` } : n
  })

/** Under which licence data are given out; of some nothing is said. */
export const licenceOf = (w: WorldWork): string | undefined =>
  w.form === 'dataset'
    ? [
        'https://creativecommons.org/licenses/by/4.0/',
        'https://creativecommons.org/publicdomain/zero/1.0/',
        'For study, with the name of whoever gathered them',
        undefined,
      ][Math.floor(lot(w.id, 'licence', 4))]
    : undefined

/** Catalogues have no "review of a book" or "correction" in journals: such items are plain articles there. */
export function genreFor(w: WorldWork): string {
  switch (w.form) {
    case 'review of a book':
    case 'editorial or letter':
    case 'correction':
      return 'article'
    case 'research article':
    case 'literature review':
      return 'journal article'
    case 'magazine':
      return 'magazine article'
    case 'news':
      return 'newspaper article'
    case 'image or recording':
      return w.item.genre ?? 'image'
    case 'thesis':
      return w.item.genre ?? 'thesis'
    default:
      return w.form
  }
}

/** A record of simple Dublin Core; the citation is squeezed into `source`, as such catalogues do. */
export function toDublinCore(e: Entry): string {
  const i = entered(e)
  const w = e.work
  const numbers = i.volume ? ` ${i.volume}${i.issue ? `(${i.issue})` : ''}${i.page ? `, ${i.page}` : ''}` : ''
  return (
    `<dc:dc xmlns:dc="http://purl.org/dc/elements/1.1/">${el('dc:title', i.title)}` +
    (i.author ?? []).map(n => el('dc:creator', inverted(n))).join('') +
    `${el('dc:date', e.how.noPages ? isoDate(i).slice(0, 4) : isoDate(i))}${e.deposit ? depositElements(e) : el('dc:type', genreFor(w))}${el('dc:publisher', i.publisher)}` +
    `${i['container-title'] ? el('dc:source', i['container-title'] + numbers) : ''}${i.DOI ? el('dc:identifier', `https://doi.org/${i.DOI}`) : ''}` +
    `${i.ISSN ? el('dc:relation', `ISSN ${i.ISSN}`) : ''}${i.ISBN ? el('dc:identifier', `ISBN ${i.ISBN}`) : ''}${el('dc:language', i.language ?? 'en')}` +
    `${el('dc:description', i.abstract)}${w.keywords.map(k => el('dc:subject', k)).join('')}</dc:dc>`
  )
}

/** How a repository marks a deposit: version, right to read, address of the file. */
function depositElements(e: Entry): string {
  const d = e.deposit!
  const type =
    e.work.form === 'thesis'
      ? 'thesis'
      : d.version === 'preprint'
        ? 'preprint, submitted version'
        : d.version === 'accepted manuscript'
          ? 'article, accepted version'
          : 'article, published version'
  return `${el('dc:type', type)}${el('dc:rights', d.embargoUntil ? `embargoed until ${d.embargoUntil}` : 'open access')}${el('dc:identifier', `http://fennmark.example/deposit/${d.id}.pdf`)}`
}

export const field = (tag: string, subfields: [string, unknown][], indicators = '  '): string => {
  const inner = subfields.flatMap(([code, v]) =>
    v === undefined || v === '' ? [] : [`<subfield code="${code}">${x(String(v))}</subfield>`],
  )
  return inner.length
    ? `<datafield tag="${tag}" ind1="${indicators[0]}" ind2="${indicators[1]}">${inner.join('')}</datafield>`
    : ''
}

/** Where a thing stands in the home library. */
function placesOf({ journal, work: { shelf } }: Entry): string {
  const print = journal?.print
  if (print)
    return (
      field('852', [
        ['b', print.branch],
        ['h', print.call],
      ]) +
      field('866', [
        ['a', `${print.from}-${print.to ?? ''}`],
        ['z', print.gaps],
      ]) +
      (print.microfilm
        ? field('866', [
            ['a', print.microfilm],
            ['z', 'microfilm, reading room'],
          ])
        : '')
    )
  if (journal || !shelf || shelf.ebook) return ''
  return field('852', [
    ['b', shelf.branch],
    ['h', shelf.call],
    ['z', shelf.loanUntil ? `on loan until ${shelf.loanUntil}` : undefined],
  ])
}

/** A MARCXML record of the shelf catalogue: books, chapters, theses, recordings, and journals with their runs. */
export function toMarcXml(e: Entry, places = placesOf(e)): string {
  const open = `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000n${e.journal ? 'as' : 'am'} a2200000 i 4500</leader><controlfield tag="001">${e.id}</controlfield>`
  if (e.journal) {
    const j = e.journal
    return (
      `${open}${field('022', [['a', j.issnPrint]])}${field('222', [['a', j.title]], ' 0')}${field('245', [['a', j.title]], '00')}${field(
        '264',
        [
          ['b', j.imprint],
          ['c', `${j.since}-`],
        ],
        ' 1',
      )}` +
      `${field('310', [['a', `${j.issues} issues a year`]])}${
        j.former
          ? field(
              '780',
              [
                ['t', j.former.title],
                ['x', j.former.issnPrint],
              ],
              '00',
            )
          : ''
      }` +
      `${places}</record>`
    )
  }
  const w = e.work
  const i = entered(e)
  const [first, ...others] = i.author ?? []
  const [title, ...rest] = i.title!.split(': ')
  return (
    `${open}<controlfield tag="008">${String(w.year).padEnd(40, ' ')}</controlfield>${field('020', [['a', i.ISBN]])}${
      i.DOI
        ? field(
            '024',
            [
              ['a', i.DOI],
              ['2', 'doi'],
            ],
            '7 ',
          )
        : ''
    }` +
    `${field('041', [['a', i.language]])}${
      first
        ? field(
            first.given ? '100' : '110',
            [
              ['a', inverted(first)],
              ['e', 'author'],
            ],
            '1 ',
          )
        : ''
    }` +
    `${field(
      '245',
      [
        ['a', rest.length ? `${title} :` : title],
        ['b', rest.join(': ')],
      ],
      '10',
    )}${field('250', [['a', i.edition ? `${i.edition}. edition` : undefined]])}` +
    `${field(
      '264',
      [
        ['a', i['publisher-place']],
        ['b', i.publisher],
        ['c', w.year],
      ],
      ' 1',
    )}${field('300', [['a', w.pages > 1 ? `${w.pages} pages` : undefined]])}` +
    `${
      w.form === 'thesis'
        ? field('502', [
            ['a', i.genre],
            ['c', i.publisher],
            ['d', w.year],
          ])
        : ''
    }${field('520', [['a', i.abstract]])}` +
    `${w.subjects.map(s => field('650', [['a', s]], ' 0')).join('')}${field('655', [['a', genreFor(w)]], ' 7')}${others
      .map(n =>
        field(
          '700',
          [
            ['a', inverted(n)],
            ['e', 'author'],
          ],
          '1 ',
        ),
      )
      .join('')}` +
    `${
      i['container-title']
        ? field(
            '773',
            [
              ['t', i['container-title']],
              ['g', i.page ? `pages ${i.page}` : undefined],
              ['z', i.ISBN],
            ],
            '0 ',
          )
        : ''
    }` +
    places +
    `${
      w.shelf?.ebook
        ? field(
            '856',
            [
              ['u', `http://${w.host}/book/${w.id}`],
              ['y', 'e-book'],
            ],
            '40',
          )
        : ''
    }</record>`
  )
}

export type Fields = Record<string, string | string[] | undefined>

export const searchFields = (e: Entry): Fields => {
  if (e.journal)
    return {
      title: [e.journal.title, ...(e.journal.former ? [e.journal.former.title] : [])],
      type: 'journal',
      issn: e.journal.issnPrint,
    }
  const i = entered(e)
  return {
    title: i.title,
    author: (i.author ?? []).map(n => `${authorLine([n])} ${n.given ?? ''}`),
    abstract: i.abstract,
    keyword: e.work.keywords,
    subject: e.work.subjects,
    journal: i['container-title'],
    language: i.language,
    type: genreFor(e.work),
    doi: i.DOI ? [i.DOI] : [],
    isbn: i.ISBN,
    issn: i.ISSN,
  }
}

/** The text of a work as a vault of back runs indexes it, page by page. */
export function fullText(world: ServedWorld, w: WorldWork): string[] {
  const many = Math.min(12, 2 + Math.floor(w.pages / 2))
  return (['introduction', 'methods', 'results', 'discussion'] as const).map(s =>
    tellSection(world.facts.grammar, w, s, many).join(' '),
  )
}
