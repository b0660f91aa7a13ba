import { withoutEnd } from '../bib/clean'
import { normaliseDoi } from '../bib/identifiers'
import type { DataLink } from '../bib/item'
import { sentencesOf } from '../bib/sentences'

/** Where a text says what became of its data. */
export interface DataSaid {
  page: number
  said: string
  /** What is named in it by DOI or address. */
  links: DataLink[]
}

/** Letters of a statement at most. */
const LONGEST = 1200
/** Fewer letters behind the words of a heading are none of the statement. */
const SHORTEST = 20

const NUMBER = String.raw`(?:\d{1,2}(?:\.\d{1,2}){0,3}\.?\s{1,3})?`
/** What such statements are headed with, in the languages that texts here come in. */
const HEAD = new RegExp(
  String.raw`^${NUMBER}(?:(?:open |research )?data(?:,? (?:and |& )?(?:code|software|materials?)){0,2} (?:availability|accessibility|access|archiving|sharing|deposition)(?: statements?)?|(?:accessibility|availability) of (?:the |supporting )?(?:research )?data(?:(?:,| and) (?:code|software|materials?)){0,2}|open data(?: statement)?|(?:forschungs)?daten(?:verfügbarkeit|zugang)|verfügbarkeit der (?:forschungs)?daten|disponibilité des données|accès aux données|disponibilidad de (?:los )?datos|disponibilidade d[eo]s? dados|disponibilità dei dati|tillgång till data|datatillgänglighet)(?:\s{0,3}[.:—–-]\s{0,3}|\s{0,3}$)`,
  'iu',
)
/** A sentence that says it without a heading. */
const SAYS =
  /\b(?:data(?: ?sets?)?|measurements|records|daten|données|datos)\b.{0,160}\b(?:available|accessible|deposited|archived|stored|hinterlegt|verfügbar|archiviert|disponibles?|déposées|depositad[oa]s)\b/iu
const DOI = /\b10\.\d{4,9}\/[^\s"<>]+/g
const ADDRESS = /\bhttps?:\/\/[^\s"<>]+/gi

/**
 * What a text says of its data: under a heading of its own, else in a sentence that names where they lie. The last such
 * place is it, since a text may speak of the data of others before.
 * @param pages words of the text, page by page, a paragraph a line
 */
export function dataSaid(pages: readonly string[]): DataSaid | undefined {
  return headed(pages) ?? inSentence(pages)
}

function headed(pages: readonly string[]): DataSaid | undefined {
  const lines = pages.flatMap((p, i) => p.split('\n').map(line => ({ page: i + 1, line: line.trim() })))
  for (let i = lines.length - 1; i >= 0; i--) {
    const { line, page } = lines[i]!
    const head = HEAD.exec(line)?.[0]
    if (head === undefined) continue
    const rest = line.slice(head.length)
    if (rest.length >= SHORTEST) return statement(page, rest)
    // the heading stands alone: what follows it, and what goes on from there over the break of a page
    const next = lines.slice(i + 1).filter(l => l.line)
    const [first] = next
    if (!first || first.line.length < SHORTEST) continue
    const goesOn = !/[.!?)\]]$/.test(first.line) && next[1] ? ` ${next[1].line}` : ''
    return statement(first.page, first.line + goesOn)
  }
  return undefined
}

function inSentence(pages: readonly string[]): DataSaid | undefined {
  for (let i = pages.length - 1; i >= 0; i--)
    for (const { from, to } of sentencesOf(pages[i]!).toReversed()) {
      const said = pages[i]!.slice(from, to)
      if (said.length > LONGEST || !SAYS.test(said)) continue
      const found = statement(i + 1, said)
      if (found.links.length) return found
    }
  return undefined
}

function statement(page: number, text: string): DataSaid {
  const said = text.slice(0, LONGEST).trim()
  const dois = [...said.matchAll(DOI)].flatMap(m => normaliseDoi(m[0]) ?? [])
  const addresses = [...said.matchAll(ADDRESS)].map(m => withoutEnd(m[0], /[.,;:)\]'’”]/))
  const links: DataLink[] = [
    ...[...new Set(dois)].map(doi => ({ doi })),
    ...[...new Set(addresses)].filter(a => !normaliseDoi(a) && URL.canParse(a)).map(address => ({ address })),
  ]
  return { page, said, links }
}
