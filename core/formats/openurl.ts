import { readDate } from '../bib/dates'
import type { Item, Name } from '../bib/item'
import { normaliseDoi, normaliseIsbn, normaliseIssn } from '../bib/identifiers'
import { isBodyName, readName } from '../bib/names'
import { readPages } from '../bib/pages'
import { withoutUndefined } from './terms'

const BOOKS: readonly string[] = ['book', 'chapter', 'entry-encyclopedia', 'report']

/** A day, month or year of an item, as far as it is known (ISO 8601). */
const isoDate = ({ issued }: Partial<Item>): string | undefined => {
  const parts = issued?.['date-parts']?.[0]
  return parts?.map((n, i) => String(n).padStart(i ? 2 : 4, '0')).join('-')
}

/**
 * The address at which a link resolver is asked for an item: an OpenURL 1.0 by keys and values (ANSI/NISO Z39.88-2004),
 * in the formats of journals, books and dissertations. What is not known is left out.
 * @example openUrl('http://resolver.example/openurl', { type: 'book', title: 'Moths' })
 * // 'http://resolver.example/openurl?url_ver=Z39.88-2004&…&rft.btitle=Moths'
 */
export function openUrl(resolver: string, item: Partial<Item>): string {
  const isThesis = item.type === 'thesis'
  const isChapter = item.type === 'chapter' || item.type === 'entry-encyclopedia'
  const format = isThesis ? 'dissertation' : BOOKS.includes(item.type ?? '') ? 'book' : 'journal'
  const author = item.author?.[0]
  const pages = readPages(item.page)
  const doi = normaliseDoi(item.DOI)
  const rft: Record<string, string | number | undefined> = {
    ...(format === 'journal'
      ? {
          genre: item.title ? 'article' : 'journal',
          atitle: item.title,
          jtitle: item['container-title'],
          issn: item.ISSN,
        }
      : isThesis
        ? { title: item.title, inst: item.publisher }
        : isChapter
          ? { genre: 'bookitem', atitle: item.title, btitle: item['container-title'] }
          : { genre: item.type === 'report' ? 'report' : 'book', btitle: item.title }),
    ...(format === 'book' ? { isbn: normaliseIsbn(item.ISBN), pub: item.publisher, edition: item.edition } : {}),
    aulast: author?.family,
    aufirst: author?.given,
    ...(author?.literal ? { [isBodyName(author.literal) ? 'aucorp' : 'au']: author.literal } : {}),
    date: isoDate(item),
    ...(format === 'dissertation' ? {} : { pages: item.page, spage: pages && `${pages.prefix}${pages.first}` }),
    ...(format === 'journal' ? { volume: item.volume, issue: item.issue } : {}),
  }
  const url = new URL(resolver)
  const put = (key: string, value: string | number | undefined) => {
    if (value !== undefined && value !== '') url.searchParams.append(key, String(value))
  }
  put('url_ver', 'Z39.88-2004')
  put('ctx_ver', 'Z39.88-2004')
  put('rft_val_fmt', `info:ofi/fmt:kev:mtx:${format}`)
  if (doi) put('rft_id', `info:doi/${doi}`)
  for (const [key, value] of Object.entries(rft)) put(`rft.${key}`, value)
  return url.href
}

/** What a genre of an OpenURL is here; of those that are not named the format tells. */
const GENRES: Record<string, Item['type']> = {
  ...{ article: 'article-journal', proceeding: 'paper-conference', preprint: 'article', report: 'report' },
  ...{ bookitem: 'chapter', book: 'book', dissertation: 'thesis' },
}
const FORMATS: Record<string, Item['type']> = { journal: 'article-journal', book: 'book', dissertation: 'thesis' }
/** Keys that no address has by chance: of version 1.0 by their names, of version 0.1 two of them together. */
const TELLS = ['atitle', 'stitle', 'spage', 'aulast', 'issn', 'eissn', 'isbn', 'genre', 'volume', 'sid', 'pid']

/**
 * What an OpenURL describes: an address of a link resolver, or the keys and values alone as pages carry them (COinS). Reads
 * version 1.0 (ANSI/NISO Z39.88-2004) and version 0.1, whose keys have no prefix and whose `title` is that of what it is in.
 * @returns undefined where it is none, or describes nothing that has a title or a number
 */
export function readOpenUrl(text: string): Partial<Item> | undefined {
  const query = URL.canParse(text) ? new URL(text).search : text
  const values = new Map<string, string[]>()
  for (const [key, value] of new URLSearchParams(query)) {
    // copied out of the text of a page, the signs between keys are written out
    const name = key.replace(/^amp;/, '').toLowerCase()
    if (value.trim()) values.set(name, [...(values.get(name) ?? []), value.trim()])
  }
  const isNew = [...values.keys()].some(k => k.startsWith('rft.') || k === 'rft_val_fmt')
  if (!isNew && TELLS.filter(k => values.has(k)).length < 2) return undefined
  const all = (...keys: string[]) => keys.flatMap(k => values.get(isNew ? `rft.${k}` : k) ?? [])
  const one = (...keys: string[]): string | undefined => all(...keys)[0]
  const format = values.get('rft_val_fmt')?.[0]?.split(':').at(-1) ?? ''
  const genre = one('genre')?.toLowerCase() ?? ''
  // of version 0.1 a number alone says which it is
  const fallback = one('isbn') && !one('issn') ? (one('atitle') ? 'chapter' : 'book') : 'article-journal'
  const type = GENRES[genre] ?? (one('atitle') && format === 'book' ? 'chapter' : (FORMATS[format] ?? fallback))
  const isPart =
    type === 'chapter' || type === 'article-journal' || (type === 'paper-conference' && Boolean(one('atitle')))
  const title = isPart ? one('atitle') : one('btitle', 'title', 'atitle')
  const ids = [...(values.get('rft_id') ?? []), ...(values.get('id') ?? [])]
  const item = withoutUndefined({
    type,
    title,
    'container-title': isPart ? one('jtitle', 'btitle', 'title', 'stitle') : undefined,
    author: authorsOf(one, all('au')),
    issued: readDate(one('date') ?? ''),
    volume: one('volume'),
    issue: one('issue'),
    page: one('pages') ?? ([one('spage'), one('epage')].filter(Boolean).join('-') || undefined),
    edition: one('edition'),
    publisher: one('pub', 'inst'),
    'publisher-place': one('place'),
    ISSN: normaliseIssn(one('issn', 'eissn')),
    ISBN: normaliseIsbn(one('isbn') ?? ids.find(i => /^urn:isbn:/i.test(i))),
    DOI: normaliseDoi(ids.find(i => normaliseDoi(i))),
  }) as Partial<Item>
  return (item.title ?? item.DOI ?? item.ISBN) ? item : undefined
}

/** The first author by parts, and the others as they are written; the first is often among these, too. */
function authorsOf(one: (...keys: string[]) => string | undefined, others: readonly string[]): Name[] | undefined {
  const family = one('aulast')
  const given = one('aufirst', 'auinit', 'auinit1')
  const body = one('aucorp')
  const named = others.map(readName)
  const first: Name[] = family ? [{ family, ...(given ? { given } : {}) }] : body ? [{ literal: body }] : []
  const rest = named.filter(n => !family || (n.family ?? n.literal) !== family || n.given?.[0] !== given?.[0])
  const all = [...first, ...rest]
  return all.length ? all : undefined
}
