import type { Placed } from './placed'
import { cut, headsReferences, type ReferenceList } from './references'
import { Words } from './text'

/** How wide a letter of a text without letters' widths is taken to be, how high a line, in points. */
const LETTER = 6
const LINE = 12
/** Letters of a line that are read, and lines of a list. */
const LONGEST = 4000
const MOST = 5000

/**
 * Cuts a list of references that comes as plain text, as it is copied from a page or a draft: entries of a line each, or
 * over several lines, told apart by numbers, by lines set in, by empty lines or by their words. Nothing is dropped.
 * @returns its entries in order, and how many lines were beyond what is read
 */
export function listOfText(text: string): ReferenceList & { left: number } {
  const raw = text.split(/\r\n|\n|\r/)
  const lines: Placed[] = []
  let heading: string | undefined
  let empty = 0
  let left = 0
  for (const [i, written] of raw.entries()) {
    const line = written.replace(/\t/g, '    ').slice(0, LONGEST)
    const said = line.trim()
    if (!said) empty++
    else if (!lines.length && heading === undefined && headsReferences(said)) heading = said
    else if (lines.length === MOST) left++
    else {
      const indent = (line.length - line.trimStart().length) * LETTER
      lines.push({
        ...{ text: said, page: 1, column: 0, size: LINE, isFirst: !lines.length },
        ...{ x: indent, y: (i + 1) * LINE, width: said.length * LETTER, short: 0 },
        indent,
        gap: lines.length ? 1 + empty : 1,
      })
      empty = 0
    }
  }
  const words = new Words(lines.map(l => l.text))
  return { ...(heading ? { heading } : {}), ...cut(lines, words, true), left }
}
