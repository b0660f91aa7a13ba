import {
  Document,
  HeadingLevel,
  Packer,
  PageOrientation,
  Paragraph,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
} from 'docx'
import { cleanText } from '../../core/bib/clean'

/** The table of works as a word processor's document, on its side: a work a row, its head on every page. */
export function tableAsDocx(title: string, head: readonly string[], rows: readonly string[][]): Promise<Buffer> {
  const cell = (text: string, bold = false) =>
    new TableCell({
      children: text
        .split('\n')
        .map(line => new Paragraph({ children: [new TextRun({ text: cleanText(line), bold, size: 18 })] })),
      margins: { top: 60, bottom: 60, left: 80, right: 80 },
    })
  const table = new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    rows: [
      new TableRow({ tableHeader: true, children: head.map(h => cell(h, true)) }),
      ...rows.map(r => new TableRow({ cantSplit: true, children: r.map((text, i) => cell(text, i === 0)) })),
    ],
  })
  const doc = new Document({
    creator: 'Vine Path',
    title: cleanText(title),
    sections: [
      {
        properties: { page: { size: { orientation: PageOrientation.LANDSCAPE } } },
        children: [new Paragraph({ text: cleanText(title), heading: HeadingLevel.HEADING_1 }), table],
      },
    ],
  })
  return Packer.toBuffer(doc)
}
