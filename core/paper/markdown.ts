import { escapeMarkdown, toMarkdown } from '../cite/rich-text'
import type { Block, Writing } from './writing'

/** A document as Markdown (CommonMark, with tables of GFM): nothing that somebody wrote becomes markup. */
export const asMarkdown = (w: Writing): string => `${w.blocks.map(block).join('\n\n')}\n`

function block(b: Block): string {
  if (b.kind === 'heading') return `${'#'.repeat(b.level)} ${escapeMarkdown(b.text)}`
  if (b.kind === 'cover') return `${b.lines.map(escapeMarkdown).join('  \n')}\n\n---`
  if (b.kind === 'table') {
    const row = (cells: readonly string[]) => `| ${cells.map(t => escapeMarkdown(t)).join(' | ')} |`
    return [row(b.head), `|${' --- |'.repeat(b.head.length)}`, ...b.rows.map(row)].join('\n')
  }
  if (b.kind === 'list')
    return b.items
      .map((runs, i) => `${b.isBelow ? '> ' : ''}${b.isNumbered ? `${i + 1}.` : '-'} ${toMarkdown(runs)}`)
      .join('\n')
  const text = `${b.label ? `${escapeMarkdown(b.label)} ` : ''}${toMarkdown(b.runs)}`
  return `${b.look === 'below' ? '> ' : ''}${b.isQuoted ? '> ' : ''}${text}`
}
