import type { RichRun } from '../cite/rich-text'
import type { Layout } from './layout'

/** A part of a document, whatever file it becomes. */
export type Block =
  /** A page of its own at the beginning. */
  | { kind: 'cover'; title: string; lines: string[] }
  | { kind: 'heading'; level: 1 | 2; text: string }
  | {
      kind: 'paragraph'
      runs: RichRun[]
      /** Its first line stands out to the left; or it stands below such a one, moved in. */
      look?: 'hanging' | 'below' | 'middle' | undefined
      /** A number before it, for which room is left. */
      label?: string | undefined
      /** It stays on one page with what follows. */
      leads?: boolean | undefined
      /** It is all a quotation, moved in. */
      isQuoted?: boolean | undefined
    }
  | {
      kind: 'list'
      isNumbered: boolean
      items: RichRun[][]
      /** It stands below a citation, moved in. */
      isBelow: boolean
    }
  | { kind: 'table'; head: string[]; rows: string[][] }

/** A document before it becomes a file of some format. */
export interface Writing extends Pick<Layout, 'sheet' | 'spacing'> {
  /** On its side, for what is wide. */
  isWide?: boolean
  title: string
  author: string
  /** The tag of the language that it is written in. */
  language: string
  blocks: Block[]
}

export const plainly = (text: string): RichRun[] => [{ text }]

/** Letters of scripts that are written from right to left (Unicode, Bidi_Class R and AL by script). */
const RIGHT = /[\p{sc=Hebr}\p{sc=Arab}\p{sc=Syrc}\p{sc=Thaa}\p{sc=Nkoo}]/u

/** Whether a text is written from right to left: its first letter says so (Unicode Bidirectional Algorithm, P2). */
export const isRightToLeft = (text: string): boolean => RIGHT.test(/\p{L}/u.exec(text)?.[0] ?? '')
