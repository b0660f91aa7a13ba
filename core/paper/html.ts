import { escapeHtml, toHtml } from '../cite/rich-text'
import type { Block, Writing } from './writing'

const SIZES = { a4: 'A4', letter: 'letter' }

/** How it looks on screen and on paper; page numbers stand below (CSS Paged Media, margin boxes). */
const look = ({ sheet, spacing, isWide }: Writing, fonts: string): string => `
@page{size:${SIZES[sheet]}${isWide ? ' landscape' : ''};margin:25.4mm;@bottom-center{content:counter(page);font:10pt ${fonts}}}
body{font:12pt/${spacing} ${fonts};color:#000;background:#fff;overflow-wrap:anywhere}
@media screen{body{max-width:42em;margin:2em auto;padding:0 1.5em}}
h1{font-size:1.2em;text-align:center;margin:0 0 .5em}h2{font-size:1.05em;margin:1em 0 0}h1,h2{break-after:avoid}
p{margin:0;orphans:2;widows:2}.middle{text-align:center}.hanging{padding-inline-start:.5in;text-indent:-.5in}
.labelled{position:relative;padding-inline-start:.5in}.label{position:absolute;inset-inline-start:0}
.citation{margin-top:.5em}.leads{break-after:avoid}.below{padding-inline-start:.5in}
.cover{text-align:center;break-after:page}@media print{.cover{padding-top:30vh}}.cover b{font-size:1.3em}
sup,sub{line-height:0}ul,ol{margin:0;padding-inline-start:1.6em}blockquote{margin:0;padding-inline-start:.5in}
a{color:inherit;text-decoration:none}
table{border-collapse:collapse;width:100%;font-size:.85em;line-height:1.35;margin:.5em 0}
th,td{border:1px solid #888;padding:.25em .5em;text-align:start;vertical-align:top;white-space:pre-line}`

/**
 * A document as a web page that stands alone: no script, and nothing in it is markup but what is written here.
 * @param o.sheets addresses of style sheets with the fonts, where it becomes a page of paper
 */
export function asHtml(w: Writing, o: { sheets?: readonly string[]; fonts?: string } = {}): string {
  const sources = o.sheets ? "style-src 'unsafe-inline' file:; font-src file:" : "style-src 'unsafe-inline'"
  return `<!doctype html>
<html lang="${escapeHtml(w.language)}"><head><meta charset="utf-8"><title>${escapeHtml(w.title)}</title>
<meta http-equiv="Content-Security-Policy" content="default-src 'none'; ${sources}">
<meta name="viewport" content="width=device-width">${w.author ? `<meta name="author" content="${escapeHtml(w.author)}">` : ''}
${(o.sheets ?? []).map(s => `<link rel="stylesheet" href="${escapeHtml(s)}">`).join('')}<style>${look(w, o.fonts ?? "'Times New Roman','Liberation Serif',serif")}</style></head>
<body><main>
${w.blocks.map(block).join('\n')}
</main></body></html>
`
}

function block(b: Block): string {
  if (b.kind === 'heading') return `<h${b.level}>${escapeHtml(b.text)}</h${b.level}>`
  if (b.kind === 'cover')
    return `<header class="cover"><p><b>${escapeHtml(b.title)}</b></p>${b.lines.map(l => `<p>${escapeHtml(l)}</p>`).join('')}</header>`
  if (b.kind === 'table') {
    const head = b.head.map(t => `<th scope="col">${escapeHtml(t)}</th>`).join('')
    const rows = b.rows.map(r => `<tr>${r.map(t => `<td>${escapeHtml(t)}</td>`).join('')}</tr>`).join('')
    return `<table><thead><tr>${head}</tr></thead><tbody>${rows}</tbody></table>`
  }
  const below = (isBelow: boolean) => (isBelow ? ' class="below"' : '')
  if (b.kind === 'list') {
    const tag = b.isNumbered ? 'ol' : 'ul'
    const items = b.items.map(i => `<li dir="auto">${toHtml(i)}</li>`).join('')
    return `<div${below(b.isBelow)}><${tag}>${items}</${tag}></div>`
  }
  if (b.isQuoted)
    return `<div${below(b.look === 'below')}><blockquote><p dir="auto">${toHtml(b.runs)}</p></blockquote></div>`
  const isEntry = b.look === 'hanging' || b.label !== undefined || b.leads
  const classes = [
    ...(b.label ? ['labelled'] : b.look === 'hanging' ? ['hanging'] : []),
    ...(isEntry ? ['citation'] : []),
    ...(b.leads ? ['leads'] : []),
    ...(b.look === 'below' || b.look === 'middle' ? [b.look] : []),
  ]
  const label = b.label ? `<span class="label">${escapeHtml(b.label)}</span> ` : ''
  return `<p dir="auto"${classes.length ? ` class="${classes.join(' ')}"` : ''}>${label}${toHtml(b.runs)}</p>`
}
