import { OdtDocument, type ParagraphOptions, type TextFormatting } from 'odf-kit'
import { cleanText } from '../../core/bib/clean'
import type { RichRun } from '../../core/cite/rich-text'
import type { Block, Writing } from '../../core/paper/writing'

const SHEETS = { a4: { width: '21cm', height: '29.7cm' }, letter: { width: '8.5in', height: '11in' } }
const FONT = 'Times New Roman'

const formatting = (r: RichRun): TextFormatting => ({
  ...{ fontFamily: FONT, fontSize: 12 },
  ...(r.italic ? { italic: true } : {}),
  ...(r.bold ? { bold: true } : {}),
  ...(r.smallCaps ? { smallCaps: true } : {}),
  ...(r.underlined ? { underline: true } : {}),
  ...(r.raised === 'super' ? { superscript: true } : r.raised === 'sub' ? { subscript: true } : {}),
})

function add(doc: OdtDocument, b: Block, lineHeight: number): void {
  if (b.kind === 'heading') {
    const align = b.level === 1 ? { align: 'center' as const } : {}
    doc.addHeading(
      p => p.addText(cleanText(b.text), { fontFamily: FONT, bold: true, fontSize: b.level === 1 ? 14 : 12 }),
      b.level,
      {
        ...align,
        spaceBefore: '0.4cm',
        spaceAfter: '0.2cm',
      },
    )
    return
  }
  if (b.kind === 'cover') {
    const centred = { align: 'center' as const, lineHeight }
    doc.addParagraph(p => p.addText(cleanText(b.title), { fontFamily: FONT, bold: true, fontSize: 14 }), {
      ...centred,
      spaceBefore: '8cm',
    })
    for (const l of b.lines) doc.addParagraph(p => p.addText(cleanText(l), formatting({ text: l })), centred)
    doc.addPageBreak()
    return
  }
  if (b.kind === 'table') {
    doc.addTable([b.head, ...b.rows].map(r => r.map(cleanText)))
    return
  }
  const isEntry = b.look === 'hanging' || b.label !== undefined
  const options: ParagraphOptions = {
    lineHeight,
    ...(isEntry
      ? { indentLeft: '0.5in', indentFirst: '-0.5in', spaceBefore: '6pt', tabStops: [{ position: '0.5in' }] }
      : b.look === 'below'
        ? { indentLeft: '0.5in' }
        : b.look === 'middle'
          ? { align: 'center' as const }
          : {}),
  }
  doc.addParagraph(p => {
    if (b.label) p.addText(cleanText(b.label), formatting({ text: b.label })).addTab()
    for (const r of b.runs) {
      if (r.link) p.addLink(cleanText(r.text), r.link, formatting(r))
      else p.addText(cleanText(r.text), formatting(r))
    }
  }, options)
}

/** A document as OpenDocument Text (ISO/IEC 26300). */
export async function asOdt(w: Writing): Promise<Buffer> {
  const doc = new OdtDocument()
  doc.setMetadata({ title: cleanText(w.title), creator: cleanText(w.author) || 'Vine Path' })
  const { width, height } = SHEETS[w.sheet]
  doc.setPageLayout({
    ...(w.isWide ? { width: height, height: width, orientation: 'landscape' as const } : { width, height }),
    ...{ marginTop: '1in', marginBottom: '1in', marginLeft: '1in', marginRight: '1in' },
  })
  doc.setFooter(f => f.addPageNumber())
  for (const b of w.blocks) add(doc, b, w.spacing)
  return Buffer.from(await doc.save())
}
