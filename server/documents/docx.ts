import {
  AlignmentType,
  Document,
  ExternalHyperlink,
  Footer,
  HeadingLevel,
  LevelFormat,
  Packer,
  PageBreak,
  PageNumber,
  PageOrientation,
  Paragraph,
  Tab,
  Table,
  TableCell,
  TableRow,
  TextRun,
  WidthType,
  type IParagraphOptions,
} from 'docx'
import { cleanText } from '../../core/bib/clean'
import { plainText, type RichRun } from '../../core/cite/rich-text'
import { isRightToLeft, type Block, type Writing } from '../../core/paper/writing'

/** Twentieths of a point. */
const INCH = 1440
const SHEETS = { a4: { width: 11906, height: 16838 }, letter: { width: 12240, height: 15840 } }
const LINE = 240
const NAMES = {
  ...{ entry: 'Bibliography', annotation: 'Annotation', quotation: 'Quotation' },
  ...{ item: 'List item', cover: 'Cover' },
}
/** Lists at the margin, and below a citation. */
const [BULLETS, NUMBERED] = ['bullets', 'numbered']
const levels = (format: (typeof LevelFormat)[keyof typeof LevelFormat], text: (level: number) => string) =>
  [0, 1].map(level => ({
    ...{ level, format, text: text(level), alignment: AlignmentType.START },
    style: { paragraph: { indent: { left: (INCH / 2) * (level + 1), hanging: INCH / 4 } } },
  }))

function run(r: RichRun, rightToLeft: boolean) {
  const made = new TextRun({
    text: cleanText(r.text),
    rightToLeft,
    italics: r.italic ?? false,
    bold: r.bold ?? false,
    smallCaps: r.smallCaps ?? false,
    ...(r.underlined ? { underline: {} } : {}),
    superScript: r.raised === 'super',
    subScript: r.raised === 'sub',
  })
  return r.link ? new ExternalHyperlink({ link: r.link, children: [made] }) : made
}

/** @param n its place, by which each list counts for itself */
function parts(b: Block, n: number): (Paragraph | Table)[] {
  if (b.kind === 'heading') {
    const level = b.level === 1 ? HeadingLevel.HEADING_1 : HeadingLevel.HEADING_2
    return [new Paragraph({ text: cleanText(b.text), heading: level, bidirectional: isRightToLeft(b.text) })]
  }
  if (b.kind === 'cover')
    return [
      new Paragraph({
        style: NAMES.cover,
        spacing: { before: 4 * INCH },
        children: [new TextRun({ text: cleanText(b.title), bold: true, size: 28 })],
      }),
      ...b.lines.map(l => new Paragraph({ style: NAMES.cover, text: cleanText(l) })),
      new Paragraph({ children: [new PageBreak()] }),
    ]
  if (b.kind === 'table') return [table(b)]
  if (b.kind === 'list')
    return b.items.map(
      runs =>
        new Paragraph({
          style: NAMES.item,
          numbering: { reference: b.isNumbered ? NUMBERED : BULLETS, level: b.isBelow ? 1 : 0, instance: n },
          children: runs.map(r => run(r, isRightToLeft(plainText(runs)))),
          bidirectional: isRightToLeft(plainText(runs)),
        }),
    )
  const right = isRightToLeft(plainText(b.runs))
  const isEntry = b.look === 'hanging' || b.label !== undefined
  const look: Partial<IParagraphOptions> = isEntry
    ? { style: NAMES.entry }
    : b.isQuoted
      ? { style: NAMES.quotation, ...(b.look === 'below' ? { indent: { left: INCH } } : {}) }
      : b.look === 'below'
        ? { style: NAMES.annotation }
        : b.look === 'middle'
          ? { alignment: AlignmentType.CENTER }
          : {}
  const label = b.label ? [new TextRun({ children: [cleanText(b.label), new Tab()] })] : []
  return [
    new Paragraph({
      ...look,
      children: [...label, ...b.runs.map(r => run(r, right))],
      keepNext: b.leads ?? false,
      bidirectional: right,
    }),
  ]
}

function table({ head, rows }: Extract<Block, { kind: 'table' }>): Table {
  const cell = (text: string, bold = false) =>
    new TableCell({
      children: text.split('\n').map(
        line =>
          new Paragraph({
            children: [new TextRun({ text: cleanText(line), bold, size: 18 })],
            bidirectional: isRightToLeft(line),
            spacing: { line: LINE },
          }),
      ),
      margins: { top: 60, bottom: 60, left: 80, right: 80 },
    })
  return new Table({
    width: { size: 100, type: WidthType.PERCENTAGE },
    rows: [
      new TableRow({ tableHeader: true, children: head.map(h => cell(h, true)) }),
      ...rows.map(r => new TableRow({ cantSplit: true, children: r.map((text, i) => cell(text, i === 0)) })),
    ],
  })
}

/** A document as a word processor's (Office Open XML): its looks are named styles, so that they are changed in one place. */
export async function asDocx(w: Writing): Promise<Buffer> {
  const line = w.spacing * LINE
  const heading = { font: 'Times New Roman', color: '000000', bold: true }
  const doc = new Document({
    creator: cleanText(w.author) || 'Vine Path',
    title: cleanText(w.title),
    styles: {
      default: {
        document: {
          run: { font: 'Times New Roman', size: 24, language: { value: w.language } },
          paragraph: { spacing: { line } },
        },
        heading1: {
          run: { ...heading, size: 28 },
          paragraph: { alignment: AlignmentType.CENTER, spacing: { line, after: 120 }, keepNext: true },
        },
        heading2: { run: { ...heading, size: 24 }, paragraph: { spacing: { line, before: 240 }, keepNext: true } },
      },
      paragraphStyles: [
        {
          ...{ id: NAMES.entry, name: NAMES.entry, basedOn: 'Normal', quickFormat: true },
          paragraph: { indent: { left: INCH / 2, hanging: INCH / 2 }, spacing: { line, before: 120 } },
        },
        {
          ...{ id: NAMES.annotation, name: NAMES.annotation, basedOn: 'Normal', quickFormat: true },
          paragraph: { indent: { left: INCH / 2 }, spacing: { line } },
        },
        {
          ...{ id: NAMES.quotation, name: NAMES.quotation, basedOn: 'Normal', quickFormat: true },
          paragraph: { indent: { left: INCH / 2 }, spacing: { line } },
        },
        {
          ...{ id: NAMES.item, name: NAMES.item, basedOn: 'Normal', quickFormat: true },
          paragraph: { spacing: { line } },
        },
        {
          ...{ id: NAMES.cover, name: NAMES.cover, basedOn: 'Normal', quickFormat: true },
          paragraph: { alignment: AlignmentType.CENTER, spacing: { line } },
        },
      ],
    },
    numbering: {
      config: [
        { reference: BULLETS, levels: levels(LevelFormat.BULLET, () => '•') },
        { reference: NUMBERED, levels: levels(LevelFormat.DECIMAL, level => `%${level + 1}.`) },
      ],
    },
    sections: [
      {
        properties: {
          page: {
            size: {
              ...SHEETS[w.sheet],
              orientation: w.isWide ? PageOrientation.LANDSCAPE : PageOrientation.PORTRAIT,
            },
            margin: { top: INCH, right: INCH, bottom: INCH, left: INCH },
          },
        },
        footers: {
          default: new Footer({
            children: [
              new Paragraph({
                alignment: AlignmentType.CENTER,
                children: [new TextRun({ children: [PageNumber.CURRENT], size: 20 })],
              }),
            ],
          }),
        },
        children: w.blocks.flatMap(parts),
      },
    ],
  })
  return Packer.toBuffer(doc)
}
