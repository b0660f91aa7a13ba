import { PDFDocument, StandardFonts, rgb, type PDFFont, type PDFImage, type PDFPage } from 'pdf-lib'
import { PNG } from 'pngjs'
import { authorLine, spokenName } from '../core/bib/names'
import type { Version } from '../core/bib/item'
import { seeded, type Random } from '../core/world/random'
import { capital } from '../core/world/spin'
import { tellSection } from '../core/world/tell'
import type { Form, Section, Venue, WorldWork } from '../core/world/types'
import { abbreviateRef, citedInText } from './references'
import { dataBehind, type ServedWorld } from './world'

/** Which version of a text is drawn; as pictures of its pages, or one chapter of a book. */
export interface Drawn {
  version: Version
  scan?: boolean
  part?: string
}

const WIDTH = 595
const HEIGHT = 842
const MARGIN = 62
const TOP = HEIGHT - 84
const BOTTOM = 70
/** A thesis or a report is drawn up to here. */
const MOST_PAGES = 60

const HEADINGS: Partial<Record<Form, [string, Section][]>> = {
  'editorial or letter': [['', 'discussion']],
  'review of a book': [['', 'discussion']],
  correction: [],
  magazine: [['', 'introduction'], ['', 'discussion']],
  news: [['', 'introduction']],
  'conference abstract': [['', 'introduction']],
  'literature review': [['1 Introduction', 'introduction'], ['2 How the studies were found', 'methods'], ['3 What they found', 'results'], ['4 Outlook', 'discussion']],
  chapter: [['', 'introduction'], ['The setting', 'methods'], ['What was seen', 'results'], ['Looking back', 'discussion']],
} // prettier-ignore
const ARTICLE: [string, Section][] = [
  ['1 Introduction', 'introduction'],
  ['2 Methods', 'methods'],
  ['3 Results', 'results'],
  ['4 Discussion', 'discussion'],
]

/**
 * The text of a work as a PDF, the same bytes every time: title block, running heads, printed page numbers that are
 * not the file's, sections, figures, footnotes, and a reference list in the journal's manner of the works it cites.
 */
export async function drawPdf(world: ServedWorld, w: WorldWork, how: Drawn): Promise<Uint8Array> {
  const doc = await PDFDocument.create()
  const made = new Date(Date.UTC(w.year, 0, 1))
  doc.setCreationDate(made)
  doc.setModificationDate(made)
  doc.setTitle(w.item.title!)
  doc.setProducer('Made-up press')
  if (how.scan) await drawScan(doc, w)
  else await drawText(doc, world, w, how)
  return doc.save({ useObjectStreams: false })
}

interface Fonts {
  roman: PDFFont
  bold: PDFFont
  italic: PDFFont
}

async function drawText(doc: PDFDocument, world: ServedWorld, w: WorldWork, how: Drawn): Promise<void> {
  const fonts: Fonts = {
    roman: await doc.embedFont(StandardFonts.TimesRoman),
    bold: await doc.embedFont(StandardFonts.TimesRomanBold),
    italic: await doc.embedFont(StandardFonts.TimesRomanItalic),
  }
  const r = seeded(w.text.seed)
  const v = w.venue ? world.venues.get(w.venue) : undefined
  const ofRecord = how.version === 'version of record'
  const sheet = new Sheet(doc, fonts, {
    columns: ofRecord && v && !how.part ? v.columns : 1,
    first:
      ofRecord && !how.part
        ? Number(/\d+/.exec(String(w.item.page ?? '1'))?.[0] ?? 1)
        : how.part
          ? 20 * Number(how.part)
          : 1,
    head: headOf(w, v, how),
    foot: ofRecord ? undefined : 'Deposited in Fennmark Open Repository',
    loose: !ofRecord,
  })
  titleBlock(sheet, world, w, v, how, r)
  const wanted = how.part ? 12 : Math.min(Math.max(1, w.pages), MOST_PAGES)
  const references = w.form === 'magazine' || w.form === 'news' ? [] : w.references
  const cite = citing(world, w, references.length, v?.style ?? 0)
  const last = Math.max(0.6, wanted - references.length / (sheet.columns === 2 ? 62 : 34))
  const sections = HEADINGS[w.form] ?? ARTICLE
  sections.forEach(([heading, section], k) => {
    if (heading) sheet.paragraph(heading, 'bold', 11, 3)
    const until = ((k + 1) / sections.length) * last
    const sentences = tellSection(world.facts.grammar, w, section, 90 * Math.ceil(wanted / sections.length + 1))
    let at = 0
    let paragraphs = 0
    while (at < sentences.length && sheet.filled() < until) {
      const n = r.int(4, 8)
      const told = sentences.slice(at, at + n).map(s => cite(s, section))
      sheet.paragraph(told.join(' '), 'roman', 10, 5)
      at += n
      if (section === 'results' && paragraphs++ === 1)
        sheet.figure(
          r,
          `Figure ${k}. ${capital(w.text.story.measure)} and ${w.text.story.second} in ${w.text.story.place}.`,
        )
      if (section === 'methods' && paragraphs === 0 && k === 1)
        sheet.footnote('1  The full list of sites is held by the first author.')
    }
  })
  const data = ofRecord ? dataBehind(world, w.id) : undefined
  if (data) {
    sheet.paragraph('Data availability', 'bold', 11, 3)
    sheet.paragraph(`The counts are kept in the ${data.item.publisher}: doi ${data.item.DOI}.`, 'roman', 10, 5)
  }
  if (references.length) {
    sheet.paragraph(v?.style === 1 ? 'Literature cited' : 'References', 'bold', 11, 3)
    references.forEach((id, n) => sheet.paragraph(abbreviateRef(world, w, id, v?.style ?? 0, n + 1), 'roman', 8.6, 2))
  }
}

/** Of a hundred sentences of a section so many cite somebody. */
const CITING: Record<Section, number> = { introduction: 0.55, methods: 0.2, results: 0.08, discussion: 0.45 }

/** Puts citations into sentences, one reference after another and some of them again. */
function citing(world: ServedWorld, w: WorldWork, references: number, manner: 0 | 1 | 2) {
  // the layout draws its own lots, which stay as they were
  const r = seeded(w.text.seed + 1)
  // about thirty sentences stand on a page: each reference is cited some two times
  const share = Math.min(1, (references * 2) / (Math.min(Math.max(1, w.pages), MOST_PAGES) * 6))
  let next = 0
  return (sentence: string, section: Section): string => {
    if (!references || !sentence.endsWith('.') || !r.chance(CITING[section] * share)) return sentence
    const ns = Array.from({ length: r.pick([1, 1, 1, 2, 2, 3]) }, () => (next++ % references) + 1)
    const cited = citedInText(world, w, r.chance(0.15) ? [...ns, r.int(1, references)] : ns, manner)
    return cited ? `${sentence.slice(0, -1)} ${cited}.` : sentence
  }
}

function headOf(w: WorldWork, v: Venue | undefined, how: Drawn): (even: boolean) => string {
  const journal = w.item['container-title'] ?? w.item.publisher ?? ''
  if (how.version === 'preprint') return () => 'Preprint, not peer-reviewed'
  if (how.version === 'accepted manuscript') return () => 'Accepted manuscript'
  if (v?.kind === 'proceedings' && !v.refereed) return () => 'Draft. Not for citation without the authors’ permission.'
  return even => (even ? authorLine(w.item.author, 2) : `${journal} ${w.item.volume ?? ''}`.trim())
}

function titleBlock(sheet: Sheet, world: ServedWorld, w: WorldWork, v: Venue | undefined, how: Drawn, r: Random): void {
  const journal = w.item['container-title'] ?? w.item.publisher ?? ''
  const numbers = [
    w.item.volume && `${w.item.volume}${w.item.issue ? `(${w.item.issue})` : ''}`,
    w.item.page?.replace('-', '–'),
  ]
    .filter(Boolean)
    .join(', ')
  sheet.wide(
    how.version === 'preprint'
      ? `Preprint. This text has not been peer-reviewed. ${w.year}`
      : how.version === 'accepted manuscript'
        ? `Accepted manuscript of an article in ${journal} (${w.year})`
        : `${journal} ${numbers} (${w.year})`,
    'italic',
    9.5,
    10,
  )
  const kind = {
    'review of a book': 'Book review',
    'editorial or letter': 'Editorial',
    correction: 'Correction',
    'literature review': 'Review',
    news: 'News',
  }[w.form as string]
  if (kind) sheet.wide(kind.toUpperCase(), 'roman', 8.5, 14)
  sheet.wide(how.part ? `Chapter ${how.part}: ${capital(w.text.story.thing)}` : w.item.title!, 'bold', 17, 6)
  if (how.part) sheet.wide(w.item.title!, 'italic', 11, 4)
  sheet.wide((w.item.author ?? []).map(spokenName).join(', '), 'roman', 11.5, 4)
  const doi = how.version === 'preprint' ? w.deposits.find(d => d.version === 'preprint')?.doi : w.item.DOI
  if (doi) sheet.wide(`https://doi.org/${doi}`, 'roman', 9, 8)
  if (
    v?.refereed &&
    ['research article', 'literature review'].includes(w.form) &&
    how.version === 'version of record' &&
    w.year > 1960
  )
    sheet.footnote(
      `Received ${r.int(1, 28)} ${r.pick(['January', 'March', 'May'])} ${w.year - 1}; accepted ${r.int(1, 28)} ${r.pick(['September', 'October', 'November'])} ${w.year - 1}.`,
    )
  if (w.form === 'review of a book') {
    const book = world.byId.get(w.about ?? '')
    if (book)
      sheet.wide(
        `${book.item.title!}. By ${(book.item.author ?? []).map(spokenName).join(' and ')}. ${book.item.publisher ?? ''}, ${book.year}. ${book.pages} pp.`,
        'roman',
        10,
        8,
      )
  }
  if (w.form === 'correction') {
    const of = world.byId.get(w.about ?? '')
    sheet.wide(
      `In the article “${of?.item.title ?? 'named above'}”${of?.item.DOI ? ` (https://doi.org/${of.item.DOI})` : ''}, ${w.item.title!.startsWith('Retraction') ? 'the data could not be confirmed. The article is retracted at the wish of the editors.' : 'the values of the second table were given in the wrong order. The conclusions are not affected.'}`,
      'roman',
      10,
      8,
    )
  }
  if (w.item.abstract) {
    sheet.wide('Abstract', 'bold', 10.5, 0)
    sheet.wide(w.item.abstract, 'italic', 10, 12)
  }
  if (w.keywords.length) sheet.wide(`Keywords: ${w.keywords.join('; ')}`, 'roman', 9, 10)
  sheet.beginColumns()
}

/** Pages that are filled from top to bottom, column after column. */
class Sheet {
  readonly columns: number
  private page!: PDFPage
  private column = 0
  private y = 0
  private columnTop = TOP
  private bottom = BOTTOM
  private number: number
  private readonly columnWidth: number
  private readonly gutter = 22

  constructor(
    private readonly doc: PDFDocument,
    private readonly fonts: Fonts,
    private readonly look: {
      columns: number
      first: number
      head: (even: boolean) => string
      foot: string | undefined
      loose: boolean
    },
  ) {
    this.columns = look.columns
    this.columnWidth = this.columns === 2 ? (WIDTH - 2 * MARGIN - this.gutter) / 2 : WIDTH - 2 * MARGIN
    this.number = look.first - 1
    this.newPage()
  }

  /** Pages filled so far, the last one in part. */
  filled(): number {
    const part = (this.column + (this.columnTop - this.y) / (this.columnTop - this.bottom)) / this.columns
    return this.doc.getPageCount() - 1 + part
  }
  /** Both columns begin below the title block on the first page. */
  beginColumns(): void {
    this.columnTop = this.y
  }
  paragraph(text: string, font: keyof Fonts, size: number, gap: number): void {
    const lead = size * (this.look.loose ? 1.42 : 1.26)
    for (const line of wrap(text, this.fonts[font], size, this.columnWidth)) {
      if (this.y < this.bottom) this.nextColumn()
      this.put(line, MARGIN + this.column * (this.columnWidth + this.gutter), this.y, size, font)
      this.y -= lead
    }
    this.y -= gap
  }
  wide(text: string, font: keyof Fonts, size: number, gap: number): void {
    for (const line of wrap(text, this.fonts[font], size, WIDTH - 2 * MARGIN)) {
      if (this.y < this.bottom) this.newPage()
      this.put(line, MARGIN, this.y, size, font)
      this.y -= size * 1.3
    }
    this.y -= gap
  }
  footnote(text: string): void {
    this.page.drawLine({
      start: { x: MARGIN, y: this.bottom + 2 },
      end: { x: MARGIN + 90, y: this.bottom + 2 },
      thickness: 0.4,
    })
    this.put(text, MARGIN, this.bottom - 9, 8, 'roman')
    this.bottom += 16
  }
  /** Bars or a line over axes, with its caption. */
  figure(r: Random, caption: string): void {
    const height = 96
    if (this.y - height - 30 < this.bottom) return
    const x = MARGIN + this.column * (this.columnWidth + this.gutter)
    const base = this.y - height
    const ink = { color: rgb(0.2, 0.2, 0.2), thickness: 0.7 }
    this.page.drawLine({ start: { x: x + 14, y: base }, end: { x: x + this.columnWidth - 6, y: base }, ...ink })
    this.page.drawLine({ start: { x: x + 14, y: base }, end: { x: x + 14, y: base + height - 8 }, ...ink })
    const step = (this.columnWidth - 40) / 7
    for (let i = 0; i < 7; i++)
      this.page.drawRectangle({
        x: x + 22 + i * step,
        y: base,
        width: step * 0.6,
        height: r.int(12, 82),
        color: rgb(0.55, 0.6, 0.62),
      })
    this.y = base - 12
    this.paragraph(caption, 'italic', 8.6, 8)
  }

  private nextColumn(): void {
    if (++this.column >= this.columns) this.newPage()
    else this.y = this.columnTop
  }
  private newPage(): void {
    this.page = this.doc.addPage([WIDTH, HEIGHT])
    this.number++
    this.column = 0
    this.columnTop = TOP
    this.bottom = BOTTOM
    this.y = TOP
    const even = this.number % 2 === 0
    const head = this.look.head(even)
    this.put(even ? `${this.number}   ${head}` : head, MARGIN, HEIGHT - 48, 9, 'italic')
    if (!even) this.put(String(this.number), WIDTH - MARGIN - 14, HEIGHT - 48, 9, 'roman')
    if (this.look.foot) this.put(this.look.foot, MARGIN, 34, 8, 'italic')
  }
  private put(text: string, x: number, y: number, size: number, font: keyof Fonts): void {
    this.page.drawText(printable(text), { x, y, size, font: this.fonts[font], color: rgb(0.1, 0.1, 0.1) })
  }
}

/** The standard fonts know Western letters only: others lose their marks, as in many an old file. */
const printable = (s: string): string =>
  s
    .replace(/[^\u0020-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d]/gu, c => c.normalize('NFKD').replace(/\p{M}/gu, ''))
    .replace(/[^\u0020-\u00ff\u2013\u2014\u2018\u2019\u201c\u201d]/gu, '?')

const widths = new WeakMap<PDFFont, Map<string, number>>()
function wrap(text: string, font: PDFFont, size: number, width: number): string[] {
  let known = widths.get(font)
  if (!known) widths.set(font, (known = new Map()))
  const of = (word: string): number => {
    let n = known.get(word)
    if (n === undefined) known.set(word, (n = font.widthOfTextAtSize(word, 1)))
    return n * size
  }
  const space = of(' ')
  const lines: string[] = []
  let line = ''
  let used = 0
  for (const word of printable(text).split(' ')) {
    const n = of(word)
    if (line && used + space + n > width) {
      lines.push(line)
      line = word
      used = n
    } else {
      used += line ? space + n : n
      line = line ? `${line} ${word}` : word
    }
  }
  if (line) lines.push(line)
  return lines
}

/** A scan: pictures of pages, no letters in them that a program could read. */
async function drawScan(doc: PDFDocument, w: WorldWork): Promise<void> {
  const images: PDFImage[] = []
  for (let k = 0; k < 3; k++) images.push(await doc.embedPng(pageImage(w.text.seed + k, k === 0)))
  for (let n = 0; n < Math.min(Math.max(1, w.pages), 30); n++)
    doc.addPage([WIDTH, HEIGHT]).drawImage(images[n ? 1 + (n % 2) : 0]!, { x: 0, y: 0, width: WIDTH, height: HEIGHT })
}

/** A grey page with dark marks in lines, like print seen from afar. */
function pageImage(seed: number, titled: boolean): Buffer {
  const r = seeded(seed)
  const [width, height] = [420, 594]
  const png = new PNG({ width, height, colorType: 0, inputColorType: 0, inputHasAlpha: false, bitDepth: 8 })
  const data = Buffer.alloc(width * height, 0)
  for (let i = 0; i < data.length; i++) data[i] = 226 + (i % 7)
  for (let y = 50; y < height - 50; y += 8)
    for (let x = 44; x < width - 44;) {
      const letters = r.int(5, 34)
      const tall = titled && y < 80 ? 7 : 4
      for (let dx = 0; dx < letters && x + dx < width - 44; dx++)
        for (let dy = 0; dy < tall; dy++)
          if ((dx * 7 + dy * 3 + letters) % 4) data[(y + dy) * width + x + dx] = 40 + ((dx * dy) % 50)
      x += letters + 4
    }
  png.data = data
  return PNG.sync.write(png, { colorType: 0, inputColorType: 0, inputHasAlpha: false })
}
