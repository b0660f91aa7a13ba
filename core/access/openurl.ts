import type { Item } from '../bib/item'
import { normaliseDoi, normaliseIsbn } from '../bib/identifiers'
import { readPages } from '../bib/pages'

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
    au: author?.literal,
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
