import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import { plainText } from '../cite/rich-text'
import type { Block, Writing } from './writing'

/** Before what is moved in. */
const IN = '    '

/** A document in letters alone: emphasis is lost, all else stands. */
export const asPlainText = (w: Writing): string => `${w.blocks.map(block).join('\n\n')}\n`

function block(b: Block): string {
  if (b.kind === 'heading') return b.level === 1 ? cleanText(b.text).toUpperCase() : cleanText(b.text)
  if (b.kind === 'cover') return b.lines.map(cleanText).join('\n')
  // a tab parts cells, as it does where a table is pasted
  if (b.kind === 'table') return [b.head, ...b.rows].map(r => r.map(t => inOneLine(cleanText(t))).join('\t')).join('\n')
  if (b.kind === 'list')
    return b.items
      .map((runs, i) => `${b.isBelow ? IN : ''}${b.isNumbered ? `${i + 1}.` : '–'} ${cleanText(plainText(runs))}`)
      .join('\n')
  const text = `${b.label ? `${b.label} ` : ''}${cleanText(plainText(b.runs))}`
  return `${b.look === 'below' ? IN : ''}${b.isQuoted ? IN : ''}${text}`
}
