import { plainTitle } from '../bib/clean'
import type { Reach } from '../access/reach'
import { yearOf } from '../bib/dates'
import { given, type Facts, type Item } from '../bib/item'
import { languageOf } from '../bib/languages'
import { authorLine, familyName } from '../bib/names'
import type { Limited } from './limits'
import type { Part } from './marks'

/** A work of a pool as a record line: what lists show of it and what it can be limited by. */
export interface WorkLine extends Limited {
  authors: string
  doi: string | null
  pages: string | null
  confidence: number
  /** Citations a year; null where it is too new to tell, or nobody knows. */
  perYear: number | null
  citedBy: number | null
  reach: Reach
  part: Part | null
  hasNote: boolean
  /** Whether the student said what kind it is. */
  ownKind: boolean
}

/** What a line shows of the description of a work: it changes with its records alone, and is kept ready. */
export type LineFacts = Pick<
  WorkLine,
  | 'title'
  | 'authors'
  | 'container'
  | 'year'
  | 'doi'
  | 'pages'
  | 'pageCount'
  | 'citedBy'
  | 'references'
  | 'language'
  | 'hasAbstract'
  | 'people'
  | 'subjects'
> & {
  /** By what its reach is decided before anybody looked; not shown. */
  access: { item: Pick<Item, 'type'> & Partial<Item>; facts: Pick<Facts, 'openUrl' | 'embargoUntil' | 'shelf'> }
}

/**
 * @example lineFacts({ type: 'book', title: 'Owls', author: [{ family: 'Ruiz', given: 'Bea' }] }, {}).people //
 * ['Ruiz, B']
 */
export function lineFacts(item: Item, facts: Facts): LineFacts {
  const names = item.author ?? item.editor ?? []
  return {
    title: plainTitle(item.title),
    authors: authorLine(names),
    container: item['container-title'] ?? item.publisher ?? '',
    year: yearOf(item) ?? null,
    doi: item.DOI ?? null,
    pages: item.page ?? null,
    pageCount: facts.pageCount ?? null,
    citedBy: facts.citedByCount ?? null,
    references: facts.referenceCount ?? null,
    language: languageOf(item, facts),
    hasAbstract: Boolean(item.abstract),
    people: names.slice(0, 12).map(n => [familyName(n), n.given?.[0]].filter(Boolean).join(', ')),
    subjects: (facts.subjects ?? []).slice(0, 12),
    access: {
      item: {
        type: item.type,
        ...given(item, ['issued', 'volume', 'ISSN', 'ISBN', 'container-title']),
        ...(item.type === 'book' ? given(item, ['title']) : {}),
      },
      facts: given(facts, ['openUrl', 'embargoUntil', 'shelf']),
    },
  }
}

/** Place of a work among lines, which stand by their ids; -1 where it is not among them. */
export function placeOf(lines: readonly { id: number }[], id: number): number {
  let low = 0
  let high = lines.length - 1
  while (low <= high) {
    const middle = (low + high) >> 1
    const found = lines[middle]!.id
    if (found === id) return middle
    if (found < id) low = middle + 1
    else high = middle - 1
  }
  return -1
}

/** The line of a work. */
export const lineIn = <L extends { id: number }>(lines: readonly L[], id: number): L | undefined =>
  lines[placeOf(lines, id)]

/** The lines that changed after a revision, for whoever has the others. */
export interface Changes {
  revision: number
  /**
   * What they were told by beside it: the day of the desk, and the library's holdings. With another all are told
   * anew.
   */
  day: string
  /** All lines, instead of those that changed. */
  whole: boolean
  lines: WorkLine[]
  /** Works that were joined into others. */
  gone: number[]
  /** There are more: they are asked for by this number, as `after`. */
  next: number | null
}

/** One thing that was done in an inquiry, as it can be told and, where it has a group, taken back. */
export interface Deed {
  at: string
  who: string | null
  what: 'decision' | 'mark' | 'undo' | 'arrival' | 'sweep' | 'check'
  /** By which it is taken back; null for what only adds. */
  group: string | null
  undone: boolean
  works: number
  /** The first of its works. */
  first: { id: number; title: string } | null
  detail: Record<string, unknown>
}
