import { cleanText } from '../bib/clean'
import { longDay } from '../bib/dates'
import type { Item } from '../bib/item'
import { plainText, type RichRun } from '../cite/rich-text'
import { printedLines, type Mark } from '../write/written'
import type { Layout, Place } from './layout'
import { plainly, type Block, type Writing } from './writing'

export interface PaperEntry {
  entry: number
  work: number
  /** Of its work, in plain letters. */
  title: string
  label?: string | undefined
  citation: RichRun[]
  /** How it is cited in a text. */
  inText: string
  annotation: string
  /** What stretches of the annotation are; states that were kept before there were any have none. */
  marks?: Mark[]
  item: Item
}
export interface PaperSection {
  /** Its heading, where there is one. */
  heading: string | null
  /** The strand that it is about. */
  strand: number | null
  text: string
  marks?: Mark[]
  entries: PaperEntry[]
}

/** A bibliography as it stands at one moment: all of it that is handed in, so that it can be kept and compared. */
export interface Paper {
  title: string
  question: string
  author: string
  course: string
  /** ISO date of the desk. */
  day: string
  style: string
  styleName: string
  /** The tag of the language of its citations; null where that is the style's own. */
  language: string | null
  hangingIndent: boolean
  opening: string
  closing: string
  /** What stretches of these texts are. */
  marks?: { [P in Place]?: Mark[] }
  sections: PaperSection[]
}

export const TITLE = 'Annotated bibliography'

export const entriesIn = (paper: Paper): PaperEntry[] => paper.sections.flatMap(s => s.entries)

/** What somebody wrote, as parts of a document: lines that make a list are one. */
export function blocksOf(text: string, marks: readonly Mark[] = [], look?: 'below'): Block[] {
  const out: Block[] = []
  for (const { kind, runs } of printedLines({ text, marks: [...marks] })) {
    const last = out.at(-1)
    if (kind !== 'bullet' && kind !== 'number') {
      out.push({ kind: 'paragraph', runs, look, ...(kind === 'quotation' ? { isQuoted: true } : {}) })
    } else if (last?.kind === 'list' && last.isNumbered === (kind === 'number')) last.items.push(runs)
    else out.push({ kind: 'list', isNumbered: kind === 'number', items: [runs], isBelow: look === 'below' })
  }
  return out
}

/** A bibliography as a document. */
export function writingOf(paper: Paper, layout: Layout): Writing {
  const names = [paper.author, paper.course].map(s => s.trim()).filter(Boolean)
  const top: Block[] = layout.cover
    ? [
        { kind: 'cover', title: paper.title, lines: [paper.question, ...names, longDay(paper.day)] },
        { kind: 'heading', level: 1, text: paper.title },
      ]
    : [
        { kind: 'heading', level: 1, text: paper.title },
        { kind: 'paragraph', runs: [{ text: paper.question, italic: true }], look: 'middle' },
        ...(names.length
          ? [
              {
                kind: 'paragraph' as const,
                runs: plainly([...names, longDay(paper.day)].join(' · ')),
                look: 'middle' as const,
              },
            ]
          : []),
      ]
  const entry = (e: PaperEntry): Block[] => {
    const below = layout.annotated ? blocksOf(e.annotation, e.marks, 'below') : []
    return [
      {
        kind: 'paragraph',
        runs: e.citation,
        label: e.label?.trim(),
        look: paper.hangingIndent ? 'hanging' : undefined,
        leads: below.length > 0,
      },
      ...below,
    ]
  }
  return {
    title: cleanText(paper.title === TITLE ? `${TITLE}: ${paper.question}` : paper.title),
    author: paper.author.trim(),
    language: paper.language ?? 'en',
    sheet: layout.sheet,
    spacing: layout.spacing,
    blocks: [
      ...top,
      ...blocksOf(paper.opening, paper.marks?.opening),
      ...paper.sections.flatMap(s => [
        ...(s.heading ? [{ kind: 'heading' as const, level: 2 as const, text: s.heading }] : []),
        ...blocksOf(s.text, s.marks),
        ...s.entries.flatMap(entry),
      ]),
      ...blocksOf(paper.closing, paper.marks?.closing),
    ],
  }
}

/** The whole of it in letters alone, to tell whether two are the same. */
export const plainOf = (e: PaperEntry): string => [e.label ?? '', plainText(e.citation), e.annotation].join('\n')
