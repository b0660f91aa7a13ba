import { zip } from '../documents/zip'
import { citationKeys } from '../../core/cite/citation-keys'
import { writeBibtex } from '../../core/formats/bibtex'
import { writeRis } from '../../core/formats/ris'
import { writeMods } from '../../core/formats/write-mods'
import { entriesIn, writingOf, type Paper } from '../../core/paper/bibliography'
import { CITATION_KEYS, formatOf, type CitationFormat, type DocumentFormat } from '../../core/paper/formats'
import { asHtml } from '../../core/paper/html'
import { asLatex } from '../../core/paper/latex'
import type { Layout } from '../../core/paper/layout'
import { asMarkdown } from '../../core/paper/markdown'
import { fileName } from '../../core/paper/names'
import { asPlainText } from '../../core/paper/plain'
import type { Writing } from '../../core/paper/writing'
import { Problem } from '../base/problem'
import { inThread } from '../threads/threads'
import { asPdf } from './pdf'

export interface MadeFile {
  name: string
  type: string
  body: string | Buffer | NodeJS.ReadableStream
}
export interface State {
  paper: Paper
  layout: Layout
}
export type Single = Exclude<DocumentFormat, 'bundle'>

/** A document in a format of one file. */
export async function documentIn(format: Single, writing: Writing, paper?: Paper): Promise<string | Buffer> {
  switch (format) {
    case 'pdf':
      return asPdf(writing)
    case 'docx':
      return Buffer.from(await inThread('docx', { writing }))
    case 'html':
      return asHtml(writing)
    case 'markdown':
      return asMarkdown(writing)
    case 'text':
      return asPlainText(writing)
    case 'latex':
      return zip([
        { name: 'bibliography.tex', body: asLatex(writing) },
        ...(paper ? [{ name: 'citations.bib', body: citationsIn('bibtex', paper) }] : []),
      ])
  }
}

/** The citations alone, in the order in which the list prints. */
export function citationsIn(format: CitationFormat, paper: Paper): string {
  const items = entriesIn(paper).map(e => e.item)
  if (format === 'csl') return `${JSON.stringify(items, null, 2)}\n`
  const keys = citationKeys(items)
  if (format === 'mods') return writeMods(items, keys)
  const write = format === 'bibtex' ? writeBibtex : writeRis
  return items.map((item, i) => write(item, keys[i]!)).join(format === 'bibtex' ? '\n' : '\r\n')
}

export const nameOf = (paper: Paper, question = paper.question): string =>
  fileName(paper.title === 'Annotated bibliography' ? `${paper.title} ${question}` : paper.title, 80)

/** @throws Problem 422 where there is no entry */
export function requireEntries(paper: Paper): void {
  if (!entriesIn(paper).length) throw new Problem(422, 'no-entries', 'There is no entry to hand in yet.')
}

const isCitations = (format: Single | CitationFormat): format is CitationFormat =>
  (CITATION_KEYS as readonly string[]).includes(format)

/** The bibliography in a format of one file. @throws Problem 422 where there is no entry */
export async function fileOf({ paper, layout }: State, format: Single | CitationFormat): Promise<MadeFile> {
  requireEntries(paper)
  const { ending, type } = formatOf(format)
  const body = isCitations(format)
    ? citationsIn(format, paper)
    : await documentIn(format, writingOf(paper, layout), paper)
  return { name: `${nameOf(paper)}.${ending}`, type, body }
}
