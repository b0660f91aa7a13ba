import { foldTitle } from '../bib/fold'
import { normaliseDoi, normaliseIsbn } from '../bib/identifiers'

/** One thing to look up in pasted lines: an identifier, or a reference as people write it. */
export interface Pasted {
  /** Line of the text, from 1. */
  line: number
  text: string
  by: 'doi' | 'isbn' | 'reference'
  /** The identifier in its normal form; of a reference what is most likely its title. */
  value: string
}

/** What pasted lines ask for: every DOI and ISBN in them, and lines with neither as references. Doubles count once. */
export function readPasted(text: string): Pasted[] {
  const out = new Map<string, Pasted>()
  const put = (p: Pasted) => {
    const key = `${p.by} ${p.value}`
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
    if (!isbns.length) put({ line, text: found, by: 'reference', value: titleIn(found) })
  })
  return [...out.values()]
}

/**
 * The part of a reference that is most likely its title: what stands in quotes; else what follows the year up to the
 * next full stop; else the longest stretch between full stops.
 */
export function titleIn(reference: string): string {
  const quoted = inQuotes(reference)
  if (quoted) return quoted.replace(/[,.]$/, '').trim()
  const afterYear = /\(?\b(?:1[89]|20)\d{2}[a-z]?\b\)?[.,:]?\s+(.{8,})/.exec(reference)?.[1]
  const parts = (afterYear ?? reference).split(/\.\s+/).map(p => p.trim())
  if (afterYear && foldTitle(parts[0]!).split(' ').length > 2) return parts[0]!
  return parts.sort((a, b) => b.length - a.length)[0] ?? reference
}

/** What stands in the first quotation of eight letters or more. */
function inQuotes(text: string): string | undefined {
  let from = -1
  for (let i = 0; i < text.length; i++) {
    const c = text[i]!
    if (from >= 0 && '”"’»'.includes(c)) {
      if (i - from >= 8) return text.slice(from, i)
      from = -1
      if (c !== '"') continue
    }
    if (from < 0 && '“"‘«'.includes(c)) from = i + 1
  }
  return undefined
}

/** How well a found title answers a wanted one: the share of words that both have, 0 to 1. */
export function titleFit(wanted: string, found: string): number {
  const a = new Set(foldTitle(wanted).split(' ').filter(Boolean))
  const b = new Set(foldTitle(found).split(' ').filter(Boolean))
  if (!a.size || !b.size) return 0
  const both = [...a].filter(w => b.has(w)).length
  return both / Math.max(a.size, b.size)
}
