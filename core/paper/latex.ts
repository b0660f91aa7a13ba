import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import type { RichRun } from '../cite/rich-text'
import type { Block, Writing } from './writing'

const SPECIAL: Record<string, string> = {
  '\\': '\\textbackslash{}',
  '{': '\\{',
  '}': '\\}',
  $: '\\$',
  '&': '\\&',
  '#': '\\#',
  '^': '\\textasciicircum{}',
  _: '\\_',
  '~': '\\textasciitilde{}',
  '%': '\\%',
  // these become other letters or ligatures in some fonts
  '<': '\\textless{}',
  '>': '\\textgreater{}',
  '|': '\\textbar{}',
  '"': '\\textquotedbl{}',
  '`': '\\textasciigrave{}',
}
/** A text that LaTeX sets as it is. @example escapeLatex('50 % & more') // '50 \\% \\& more' */
export const escapeLatex = (text: string): string =>
  inOneLine(cleanText(text))
    .replace(/[\\{}$&#^_~%<>|"`]/g, c => SPECIAL[c]!)
    // what would join into a dash of another length
    .replace(/--+/g, dashes => dashes.split('').join('{}'))

/** An address as hyperref takes it: what would end or break the argument is percent-encoded (RFC 3986). */
const address = (link: string): string =>
  link.replace(/[\\{}^`\s]/g, c => encodeURIComponent(c)).replace(/[%#&~_$]/g, c => `\\${c === '~' ? 'string~' : c}`)

function run(r: RichRun): string {
  let t = escapeLatex(r.text)
  if (!t) return ''
  if (r.raised) t = r.raised === 'super' ? `\\textsuperscript{${t}}` : `\\textsubscript{${t}}`
  if (r.smallCaps) t = `\\textsc{${t}}`
  if (r.underlined) t = `\\underline{${t}}`
  if (r.italic) t = `\\emph{${t}}`
  if (r.bold) t = `\\textbf{${t}}`
  return r.link ? `\\href{${address(r.link)}}{${t}}` : t
}
const runs = (list: readonly RichRun[]): string => list.map(run).join('')

const PAPER = { a4: 'a4paper', letter: 'letterpaper' }
const SPREAD = { 1: '\\singlespacing', 1.5: '\\onehalfspacing', 2: '\\doublespacing' }

/** A document as LaTeX, which every engine of today sets: letters beyond Latin need one that reads fonts by itself. */
export function asLatex(w: Writing): string {
  return `\\documentclass[12pt,${PAPER[w.sheet]}]{article}
\\usepackage{iftex}
\\ifPDFTeX
  \\usepackage[T1]{fontenc}
  \\usepackage{textcomp}
\\else
  \\usepackage{fontspec}
\\fi
\\usepackage[margin=25.4mm${w.isWide ? ',landscape' : ''}]{geometry}
\\usepackage{setspace}
\\usepackage{longtable}
\\usepackage[hidelinks,pdftitle={${escapeLatex(w.title)}},pdfauthor={${escapeLatex(w.author)}}]{hyperref}
\\newcommand{\\entry}[1]{\\par\\addvspace{6pt}\\noindent\\hangindent=0.5in\\hangafter=1 #1\\par}
\\newcommand{\\numbered}[2]{\\par\\addvspace{6pt}\\noindent\\hangindent=0.5in\\hangafter=1 \\makebox[0.5in][l]{#1}#2\\par}
\\newenvironment{below}{\\begin{list}{}{\\leftmargin=0.5in\\topsep=0pt\\partopsep=0pt\\parsep=0pt}\\item\\relax}{\\end{list}}
\\setlength{\\parindent}{0pt}
\\raggedright
${SPREAD[w.spacing]}
\\begin{document}
${w.blocks.map(block).join('\n\n')}
\\end{document}
`
}

function block(b: Block): string {
  if (b.kind === 'heading') return `\\${b.level === 1 ? 'section' : 'subsection'}*{${escapeLatex(b.text)}}`
  if (b.kind === 'cover')
    return `\\begin{titlepage}\\centering\\vspace*{\\stretch{1}}
{\\Large ${escapeLatex(b.title)}\\par}
${b.lines.map(l => `{${escapeLatex(l)}\\par}`).join('\n')}
\\vspace*{\\stretch{2}}\\end{titlepage}`
  if (b.kind === 'table') {
    const row = (cells: readonly string[]) => `${cells.map(escapeLatex).join(' & ')} \\\\ \\hline`
    const wide = (0.92 / Math.max(1, b.head.length)).toFixed(3)
    return `{\\small\\singlespacing\\begin{longtable}{|*{${b.head.length}}{p{${wide}\\textwidth}|}}
\\hline ${row(b.head)} \\endhead
${b.rows.map(row).join('\n')}
\\end{longtable}}`
  }
  const below = (text: string, isBelow: boolean) => (isBelow ? `\\begin{below}${text}\\end{below}` : text)
  if (b.kind === 'list') {
    const env = b.isNumbered ? 'enumerate' : 'itemize'
    const items = b.items.map(i => `\\item ${runs(i)}`).join('\n')
    return below(`\\begin{${env}}\n${items}\n\\end{${env}}`, b.isBelow)
  }
  const text = runs(b.runs)
  if (b.isQuoted) return below(`\\begin{quote}${text}\\end{quote}`, b.look === 'below')
  if (b.label) return `\\numbered{${escapeLatex(b.label)}}{${text}}`
  if (b.look === 'hanging') return `\\entry{${text}}`
  if (b.look === 'below') return below(text, true)
  return b.look === 'middle' ? `{\\centering ${text}\\par}` : `${text}\\par`
}
