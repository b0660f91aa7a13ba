import { readPages } from '../bib/pages'
import { escapeMarkdown } from '../cite/rich-text'
import { exactOf, type Selector } from '../pdftext/anchor'

/** A passage with what a file of passages says of it. */
export interface ToldPassage {
  id: number
  workId: number
  page: number
  /** How its page, or its pages, are called. */
  label: string
  kind: 'quoted' | 'in my words' | 'figure'
  quote: string
  note: string
  tags: readonly string[]
  selectors: readonly Selector[] | null
  /** ISO 8601. */
  at: string
  title: string
  authors: string
  year: number | null
  /** As the style cites it in a text. */
  cited: string
  strand: string | null
  /** Address of the copy in which it was noted. */
  source: string
  doi: string | null
}

/** What was changed of the words of a quotation; undefined where they stand as on the page. */
export function changedFrom(p: {
  kind: string
  quote: string
  selectors: readonly Selector[] | null
}): string | undefined {
  const exact = exactOf(p.selectors)
  return p.kind === 'quoted' && exact && inOne(exact) !== inOne(p.quote) ? exact : undefined
}
const inOne = (text: string): string => text.replace(/\s+/g, ' ').trim()

/** Its page or pages as a citation names them. @example onPages('147–148') // 'pp. 147–148' */
export const onPages = (label: string): string => `${label.includes('–') ? 'pp.' : 'p.'} ${label}`

/** Whether a page is one of those that are named: "147" of "146–147", "46-7" included. */
export function isWithin(label: string, named: string): boolean {
  if (label === named) return true
  const range = readPages(named)
  return range !== undefined && /^\d+$/.test(label) && range.first <= Number(label) && Number(label) <= range.last
}

/** A passage to be put into a text: the words, quoted or not, and how they are cited. */
export const citable = (p: { kind: string; quote: string; note: string; cited: string }): string =>
  p.kind === 'quoted' ? `“${p.quote}” ${p.cited}` : `${p.note || p.quote} ${p.cited}`.trim()

/** Passages as a text to read, by work (Markdown). */
export function passagesAsText(title: string, passages: readonly ToldPassage[]): string {
  const lines = [`# Passages: ${escapeMarkdown(title)}`]
  let work: number | undefined
  for (const p of passages) {
    if (p.workId !== work) {
      work = p.workId
      const by = [p.authors, p.year].filter(Boolean).join(', ')
      lines.push('', `## ${escapeMarkdown(p.title)}`, ...(by ? ['', escapeMarkdown(by)] : []))
    }
    const said = [
      p.strand && `strand: ${escapeMarkdown(p.strand)}`,
      p.tags.length > 0 && `tags: ${p.tags.map(escapeMarkdown).join(', ')}`,
    ]
    lines.push(
      '',
      `**${escapeMarkdown(onPages(p.label))}**, ${p.kind}${said
        .filter(Boolean)
        .map(s => `; ${String(s)}`)
        .join('')}`,
    )
    if (p.kind === 'quoted') lines.push('', ...p.quote.split('\n').map(l => `> ${escapeMarkdown(l)}`))
    if (p.kind === 'quoted' && p.cited) lines.push('>', `> ${escapeMarkdown(p.cited)}`)
    if (p.note) lines.push('', ...p.note.split('\n').map(escapeMarkdown))
    if (p.kind !== 'quoted' && p.cited) lines.push('', escapeMarkdown(p.cited))
  }
  return `${lines.join('\n')}\n`
}

const CONTEXT = 'http://www.w3.org/ns/anno.jsonld'

/** Passages as annotations (W3C Web Annotation Data Model, a collection in one page). */
export function passagesAsAnnotations(passages: readonly ToldPassage[]): object {
  return {
    '@context': CONTEXT,
    type: 'AnnotationPage',
    items: passages.map(p => ({
      id: `${p.source}#passage-${p.id}`,
      type: 'Annotation',
      motivation: p.kind === 'quoted' ? 'highlighting' : 'commenting',
      created: p.at,
      body: [
        ...(p.note ? [textual(p.note, 'commenting')] : []),
        ...(p.strand ? [textual(p.strand, 'classifying')] : []),
        ...p.tags.map(t => textual(t, 'tagging')),
      ],
      target: {
        source: p.source,
        ...(p.doi ? { 'schema:sameAs': `https://doi.org/${p.doi}` } : {}),
        selector: p.selectors?.length
          ? p.selectors
          : [{ type: 'FragmentSelector', conformsTo: 'http://tools.ietf.org/rfc/rfc8118', value: `page=${p.page}` }],
      },
    })),
  }
}
const textual = (value: string, purpose: string) => ({ type: 'TextualBody', value, format: 'text/plain', purpose })
