import { normaliseDoi, normaliseIsbn } from '../bib/identifiers'
import { readReference, type Reference } from './reference'

/** One thing to look up in pasted lines: an identifier, or a reference as people write it. */
export interface Pasted {
  /** Line of the text, from 1. */
  line: number
  text: string
  by: 'doi' | 'isbn' | 'reference'
  /** The identifier in its normal form; of a reference its title. */
  value: string
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
    const dois = (found.match(/10\.\d{4,9}(?:\/|%2f)[^\s"<>]+/gi) ?? []).flatMap(d => normaliseDoi(d) ?? [])
    for (const value of dois) put({ line, text: found, by: 'doi', value })
    if (dois.length) return
    const isbns = (found.match(/(?:97[89][\s-]?)?(?:\d[\s-]?){9}[\dXx]/g) ?? []).flatMap(x => normaliseIsbn(x) ?? [])
    for (const value of isbns) put({ line, text: found, by: 'isbn', value })
    if (isbns.length) return
    const reference = readReference(found)
    put({ line, text: found, by: 'reference', value: String(reference.item.title ?? found), reference })
  })
  return [...out.values()]
}
