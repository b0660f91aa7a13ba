import { normaliseDoi, normaliseIsbn } from '../bib/identifiers'
import type { Item } from '../bib/item'
import { readOpenUrl } from '../formats/openurl'
import { readReference, type Reference } from './reference'

/** One thing to look up in pasted lines: an identifier, or a reference as people write it. */
export interface Pasted {
  /** Line of the text, from 1. */
  line: number
  text: string
  by: 'doi' | 'isbn' | 'reference'
  /** The identifier in its normal form; of a reference its title. */
  value: string
  /** The same without the last part of an address, which a platform may have put behind the DOI. */
  or?: string
  /** What a link for a resolver says of its work. */
  link?: Partial<Item>
  /** What a line without an identifier says. */
  reference?: Reference
}

/** What pasted lines ask for: every DOI and ISBN in them, and lines with neither as references. Doubles count once. */
export function readPasted(text: string): Pasted[] {
  const out = new Map<string, Pasted>()
  const put = (p: Pasted) => {
    const said = p.reference?.item
    // a title may be that of several works
    const key = JSON.stringify([p.by, p.value, said?.author?.[0]?.family, said?.issued?.['date-parts']?.[0]?.[0]])
    if (!out.has(key)) out.set(key, p)
  }
  text.split(/\r\n|\n|\r/).forEach((raw, i) => {
    const line = i + 1
    const found = raw.trim()
    if (!found) return
    const link = described(found)
    if (link) {
      const { DOI, ISBN, title, type } = link
      const of = { line, text: found, link }
      if (DOI) return put({ ...of, by: 'doi', value: DOI })
      if (ISBN && type === 'book') return put({ ...of, by: 'isbn', value: ISBN })
      const reference = { item: link, sure: {}, others: false }
      return put({ ...of, by: 'reference', value: String(title ?? ISBN), reference })
    }
    const dois = doisIn(found)
    for (const doi of dois) put({ line, text: found, by: 'doi', ...doi })
    if (dois.length) return
    const isbns = (found.match(/(?:97[89][\s-]?)?(?:\d[\s-]?){9}[\dXx]/g) ?? []).flatMap(x => normaliseIsbn(x) ?? [])
    for (const value of isbns) put({ line, text: found, by: 'isbn', value })
    if (isbns.length) return
    const reference = readReference(found)
    put({ line, text: found, by: 'reference', value: String(reference.item.title ?? found), reference })
  })
  return [...out.values()]
}

/** What a line describes that is a link for a resolver, or what a page carries for one. */
function described(line: string): Partial<Item> | undefined {
  const link = ADDRESS.exec(line)?.[0] ?? CARRIED.exec(line)?.[1] ?? line
  return link.includes('=') ? readOpenUrl(link) : undefined
}
/** As the source of a page carries it. */
const CARRIED = /title=["']([^"']{1,4000})["']/i
const ADDRESS = /https?:\/\/[^\s"<>]+/i

/** DOIs of a line: those in addresses end where their part of the address ends. */
function doisIn(line: string): { value: string; or?: string }[] {
  const linked = (line.match(new RegExp(ADDRESS, 'gi')) ?? []).flatMap(address => {
    const value = normaliseDoi(address)
    if (!value) return []
    const or = normaliseDoi(value.slice(0, value.lastIndexOf('/')))
    return [{ value, ...(or ? { or } : {}) }]
  })
  const rest = line.replace(new RegExp(ADDRESS, 'gi'), ' ')
  const plain = (rest.match(/10\.\d{4,9}(?:\/|%2f)[^\s"<>]+/gi) ?? []).flatMap(d => normaliseDoi(d) ?? [])
  return [...linked, ...plain.map(value => ({ value }))]
}
