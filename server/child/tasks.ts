import { FOLDER } from '../../core/match/file-nature'
import { readCalendarDays, type CalendarDays, type Window } from '../../core/formats/hours'
import { readVocabulary, type Vocabulary } from '../../core/formats/skos'
import { readBibliography, type ReadFile } from '../../core/formats/read-file'
import { readFileMarks, type FileMarks } from '../../core/pdftext/file-marks'
import { isNonsense } from '../../core/pdftext/nonsense'
import { lettersOf, type DrawnPage } from '../../core/pdftext/page'
import { listOfText } from '../../core/pdftext/plain-list'
import { readText, type CopyText } from '../../core/pdftext/read-text'
import { isIso2709 } from '../../core/formats/iso2709'
import { readMarcFile } from '../../core/formats/library-files'
import { decodeText, decodeXml, type Charset } from '../base/decode'
import { decodeOldMarc } from './old-marc'
import { openPdf, type OpenPdf } from './open-pdf'
import { withMarks, type PageMark } from './pdf-marks'
import { readPictures } from './scan'

/** Pages of a text that are read; no thesis or handbook has more. */
const MOST_PAGES = 3000

/** How a PDF is read: its password, and the language of its text by two letters. */
interface Reading {
  password?: string
  language?: string
}

/** How files begin that are packed: ZIP and gzip, in hexadecimal digits. */
const PACKED = ['504b0304', '1f8b']

/** Letters on the first pages; with fewer they are pictures of a text. */
const FEWEST = 40

function whyScan(drawn: readonly DrawnPage[]): NonNullable<CopyText['scan']>['why'] | undefined {
  const lines = drawn.slice(0, 2).map(p => p.runs.map(r => r.text).join(' '))
  if (lettersOf(lines.join('')) < FEWEST) return 'pictures'
  return isNonsense(lines) ? 'letters' : undefined
}

async function marksOf(doc: OpenPdf): Promise<FileMarks> {
  const { told, unread } = await doc.marks(MOST_PAGES)
  return { ...readFileMarks(told), unread }
}

/** Work on files from outside, done in a process that can be killed: nothing here has a network or a database. */
export const tasks = {
  /** Decodes and reads a bibliography file. */
  bibliography(bytes: Buffer, _how?: undefined): { text: ReadFile | null; charset: Charset } {
    if (isIso2709(bytes)) return { text: readMarcFile(bytes, decodeOldMarc), charset: 'utf-8' }
    // a file of XML says itself how its letters are written
    if (/^\s*(\ufeff|ï»¿)?<\?xml/.test(bytes.subarray(0, 100).toString('latin1')))
      return { text: readBibliography(decodeXml(bytes)) ?? null, charset: 'utf-8' }
    const { text, charset } = decodeText(bytes)
    return { text: readBibliography(text) ?? null, charset }
  },

  /** Reads the days and hours of a calendar: a rule that never comes true would keep it busy for ever. */
  calendar(bytes: Buffer, window: Window = { from: '', to: '' }): CalendarDays {
    return readCalendarDays(decodeText(bytes).text, window)
  },

  /** Reads a vocabulary. */
  async vocabulary(bytes: Buffer, _how?: undefined): Promise<Vocabulary> {
    if (PACKED.some(sign => bytes.toString('hex', 0, 4).startsWith(sign)))
      throw new Error('This is a packed file (ZIP or gzip). Unpack it, and bring what is in it.')
    return readVocabulary(
      /^\s*<\?xml/.test(bytes.subarray(0, 100).toString('latin1').replace(/^ï»¿/, ''))
        ? decodeXml(bytes)
        : decodeText(bytes).text,
    )
  },

  /** Cuts a list of references that was pasted into its entries. */
  list(bytes: Buffer, _how?: undefined) {
    return listOfText(bytes.toString('utf8'))
  },

  /**
   * Takes the text of a PDF apart. Where its pages are pictures, or their letters are not what they show, those by which
   * it can be proved are read by their pictures.
   */
  async pdf(bytes: Buffer, { password, page, language }: Reading & { page?: string } = {}): Promise<CopyText> {
    const doc = await openPdf(bytes, password)
    if (doc.isFolder) throw new Error(FOLDER)
    const drawn: DrawnPage[] = []
    for (let n = 1; n <= Math.min(doc.pages, MOST_PAGES); n++) drawn.push(await doc.page(n))
    const marks = await marksOf(doc)
    const how = { page, left: doc.pages - drawn.length }
    const labels = doc.labels?.slice(0, MOST_PAGES)
    const why = whyScan(drawn)
    if (!why) {
      await doc.close()
      return { ...readText(drawn, labels, how), marks }
    }
    const wanted = [...new Set([1, 2, drawn.length])].filter(n => n <= drawn.length)
    const read = await readPictures(doc, wanted, language)
    await doc.close()
    const pages = drawn.map(({ width, height }, i) => read[wanted.indexOf(i + 1)] ?? { width, height, runs: [] })
    return { ...readText(pages, labels, how), scan: { why, read: wanted, drawn: read }, marks }
  },

  /** Reads some pages of a PDF by their pictures. */
  async scan(bytes: Buffer, { password, language, pages }: Reading & { pages?: number[] } = {}): Promise<DrawnPage[]> {
    const doc = await openPdf(bytes, password)
    const read = await readPictures(doc, pages ?? [], language)
    await doc.close()
    return read
  },

  /** Reads what others marked in a PDF. */
  async marks(bytes: Buffer, { password }: Pick<Reading, 'password'> = {}): Promise<FileMarks> {
    const doc = await openPdf(bytes, password)
    const marks = await marksOf(doc)
    await doc.close()
    return marks
  },

  /** Writes marks into a PDF, behind what is there. */
  async marked(bytes: Buffer, { password, marks }: Pick<Reading, 'password'> & { marks?: PageMark[] } = {}) {
    return Buffer.from(await withMarks(bytes, password, marks ?? []))
  },

  /** Takes the text of pages apart that were read by their pictures before. */
  drawn(bytes: Buffer, { page }: { page?: string } = {}): CopyText {
    return readText(JSON.parse(bytes.toString()) as DrawnPage[], null, { page })
  },
}

export type Tasks = typeof tasks
