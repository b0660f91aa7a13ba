import { Document, ExternalHyperlink, HeadingLevel, Packer, Paragraph, TextRun } from 'docx'
import { cleanText } from '../../core/bib/clean'
import { escapeMarkdown, toHtml, toMarkdown, type RichRun } from '../../core/cite/rich-text'

export interface Printed {
  title: string
  question: string
  hangingIndent: boolean
  entries: { label?: string | undefined; citation: RichRun[]; annotation: string }[]
}

const paragraphs = (text: string): string[] =>
  cleanText(text)
    .split(/\n{1,}/)
    .map(s => s.trim())
    .filter(Boolean)
const escapeHtml = (s: string): string =>
  cleanText(s).replace(/[&<>"']/g, c => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;', "'": '&#39;' })[c]!)

/** The bibliography as a word processor's document: hanging indents, annotations indented below their citation. */
export async function asDocx(p: Printed): Promise<Buffer> {
  const run = (r: RichRun) => {
    const made = new TextRun({
      text: cleanText(r.text),
      italics: r.italic ?? false,
      bold: r.bold ?? false,
      smallCaps: r.smallCaps ?? false,
      ...(r.underlined ? { underline: {} } : {}),
      superScript: r.raised === 'super',
      subScript: r.raised === 'sub',
      ...(r.link ? { style: 'Hyperlink' } : {}),
    })
    return r.link ? new ExternalHyperlink({ link: r.link, children: [made] }) : made
  }
  const runs = (e: Printed['entries'][number]) => Array.from(e.citation, run)
  const body = p.entries.flatMap(e => [
    new Paragraph({
      children: [...(e.label ? [new TextRun(`${e.label.trim()}\t`)] : []), ...runs(e)],
      indent: p.hangingIndent || e.label ? { left: 720, hanging: 720 } : {},
      spacing: { line: 480, before: 120 },
      keepNext: Boolean(e.annotation),
    }),
    ...paragraphs(e.annotation).map(
      t => new Paragraph({ children: [new TextRun(t)], indent: { left: 720 }, spacing: { line: 480 } }),
    ),
  ])
  const doc = new Document({
    creator: 'Vine Path',
    title: cleanText(p.title),
    styles: { default: { document: { run: { font: 'Times New Roman', size: 24 } } } },
    sections: [
      {
        children: [
          new Paragraph({ text: 'Annotated bibliography', heading: HeadingLevel.HEADING_1 }),
          new Paragraph({
            children: [new TextRun({ text: cleanText(p.question), italics: true })],
            spacing: { after: 240 },
          }),
          ...body,
        ],
      },
    ],
  })
  return Packer.toBuffer(doc)
}

export function asHtml(p: Printed): string {
  const entries = p.entries
    .map(
      e =>
        `<div class="entry"><p class="citation">${e.label ? `${escapeHtml(e.label)} ` : ''}${toHtml(e.citation)}</p>${paragraphs(
          e.annotation,
        )
          .map(t => `<p class="annotation">${escapeHtml(t)}</p>`)
          .join('')}</div>`,
    )
    .join('\n')
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escapeHtml(p.title)}</title>
<style>body{font:12pt/2 serif;max-width:42em;margin:2em auto}.citation{${p.hangingIndent ? 'padding-left:.5in;text-indent:-.5in;' : ''}margin:1em 0 0}.annotation{margin:0 0 0 .5in}</style></head>
<body><h1>Annotated bibliography</h1><p><i>${escapeHtml(p.question)}</i></p>
${entries}
</body></html>
`
}

export function asMarkdown(p: Printed): string {
  const entries = p.entries.map(e =>
    [
      `${e.label ? `${escapeMarkdown(e.label.trim())} ` : ''}${toMarkdown(e.citation)}`,
      ...paragraphs(e.annotation).map(t => `> ${escapeMarkdown(t)}`),
    ].join('\n\n'),
  )
  return `# Annotated bibliography\n\n*${escapeMarkdown(p.question)}*\n\n${entries.join('\n\n')}\n`
}
