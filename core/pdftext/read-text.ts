import { frontOf, type Front } from './front'
import type { FileMarks } from './file-marks'
import { headingsOf, setApart, type Heading } from './headings'
import { pageLabels, type PageLabels } from './labels'
import { captionsOf, type Caption } from './captions'
import { bodyOf, partNotes, type Body } from './notes'
import { lettersOf } from '../match/of-itself'
import type { PageText } from '../match/proof'
import type { DrawnPage, ReadPage } from './page'
import { placeLines, type Placed } from './placed'
import { readPages } from './read-pages'
import { listsBeneath, referencesOf, type ReferenceList } from './references'
import { joinLines, joinParagraphs, paragraphsOf, Words } from './text'

export interface TextPage {
  /** Number in the file, from 1. */
  page: number
  /** Lines as they are printed, in the order of reading: heads, columns, notes and feet. */
  lines: string[]
  /** The same without notes and lists of references: what the text says of itself. */
  own: string[]
  /** What is set apart from the text on it, by larger letters or another font. */
  apart: string[]
  /** Running text, a paragraph a line, without running heads, feet and notes. */
  text: string
  /** Notes at the foot of the page, one a line. */
  notes: string
}

/** A text taken apart. */
export interface CopyText extends PageLabels {
  pages: TextPage[]
  headings: Pick<Heading, 'text' | 'level' | 'page' | 'y'>[]
  captions: Caption[]
  references: ReferenceList[]
  front: Front
  /** Pages that were not read. */
  left: number
  /** What others marked in the file. */
  marks?: FileMarks
  /** Where its pages are pictures, or their letters not what they show: the ones that were read by machine. */
  scan?: Scan & { drawn: DrawnPage[] }
}

export interface Scan {
  why: 'pictures' | 'letters'
  read: number[]
}

/** What is known of a copy's text beside its words. */
export interface CopyParts {
  /** Who said how each page is called. */
  by: PageLabels['by']
  said: string
  headings: CopyText['headings']
  captions: Caption[]
  front: Front
  /** Its lists of references: how each is headed and cut, and how many entries it has. */
  lists: (Pick<ReferenceList, 'heading' | 'by'> & { entries: number })[]
  /** Pages that were not read, since it has more than any text. */
  left: number
  scan?: Scan
}

/** A text's parts without its words and without the references themselves. */
export const partsOf = ({ by, said, headings, captions, front, references, left, scan }: CopyText): CopyParts => ({
  ...{ by, said, headings, captions, front, left, ...(scan ? { scan: { why: scan.why, read: scan.read } } : {}) },
  lists: references.map(({ entries, ...l }) => ({ ...l, entries: entries.length })),
})

/**
 * Takes a text apart.
 * @param own the file's own labels of its pages
 * @param of the pages as a record gives them, and how many of the file were not read
 */
export function readText(
  drawn: readonly DrawnPage[],
  own?: readonly string[] | null,
  { page, left = 0 }: { page?: unknown; left?: number } = {},
): CopyText {
  const { pages, numbers } = readPages(drawn)
  const labelled = pageLabels(numbers, own, page)
  const words = new Words(pages.flatMap(p => p.columns.flatMap(c => c.lines.map(l => l.text))))
  const lines = placeLines(pages)
  const body = bodyOf(lines)
  const headings = headingsOf(lines, body)
  const lists = listsBeneath(lines, headings)
  const cited = new Set(lists.flatMap(l => l.own))
  const byPage = pages.map((): Placed[] => [])
  for (const l of lines) if (!cited.has(l)) byPage[l.page - 1]!.push(l)
  return {
    ...labelled,
    left,
    pages: overPages(
      pages.map((p, i) => textPage(p, i + 1, words, byPage[i]!, body)),
      words,
    ),
    headings: headings.map(({ text, level, page: of, y }) => ({ text, level, page: of, y })),
    captions: captionsOf(lines, body, words),
    references: referencesOf(lists, pages, words),
    front: frontOf(
      lines,
      pages.slice(0, 2).flatMap(p => [...p.heads, ...p.notes, ...p.feet].map(l => l.text)),
      headings,
      body,
      words,
    ),
  }
}

/** The pages of a text as its proof looks at them. */
export const proofPages = ({ pages, front, scan }: CopyText): PageText[] =>
  pages.map(({ page, lines, own, notes, apart }, i) => ({
    ...{ page, lines: own, notes: notes.split('\n'), apart, letters: lettersOf(lines) },
    ...(scan && !scan.read.includes(page) ? { isUnread: true } : {}),
    ...(i === 0 && front.title ? { heading: front.title } : {}),
    ...(i === 0 && front.source ? { source: front.source } : {}),
  }))
/** Pages on which a title may stand. */
const FRONT = 3

/** A word that is broken at the end of a page stands whole on that page. */
function overPages(pages: TextPage[], words: Words): TextPage[] {
  pages.forEach((page, i) => {
    const next = pages[i + 1]
    const before = /(?:^|\s)(\S*\p{L}[-‐\u00ad])$/u.exec(page.text.slice(-80))?.[1]
    const after = /^\p{Ll}\S*/u.exec(next?.text.slice(0, 80) ?? '')?.[0]
    if (!next || !before || !after) return
    page.text = page.text.slice(0, -before.length) + joinLines([{ text: before }, { text: after }], words)
    next.text = next.text.slice(after.length).trimStart()
  })
  return pages
}

function textPage(p: ReadPage, page: number, words: Words, own: readonly Placed[], body: Body): TextPage {
  const columns = p.columns.flatMap(c => c.lines)
  return {
    page,
    lines: [...p.heads, ...columns, ...p.notes, ...p.feet].map(l => l.text),
    own: [...p.heads, ...own, ...p.feet].map(l => l.text),
    // a title stands in front
    apart: page <= FRONT ? setApart(own, body) : [],
    text: joinParagraphs(p.columns.map(paragraphsOf), words),
    notes: partNotes(p.notes)
      .map(n => joinLines(n, words))
      .filter(Boolean)
      .join('\n'),
  }
}
