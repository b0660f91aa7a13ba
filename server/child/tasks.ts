import { readBibliography, type ReadFile } from '../../core/formats/read-file'
import type { DrawnPage } from '../../core/pdftext/page'
import { readText, type CopyText } from '../../core/pdftext/read-text'
import { isIso2709 } from '../../core/formats/iso2709'
import { readMarcFile } from '../../core/formats/library-files'
import { decodeText, decodeXml, type Charset } from '../base/decode'
import { decodeOldMarc } from './old-marc'
import { openPdf } from './open-pdf'

/** Pages of a text that are read; no thesis or handbook has more. */
const MOST_PAGES = 3000

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

  /** Takes the text of a PDF apart. */
  async pdf(bytes: Buffer, { password, page }: { password?: string; page?: string } = {}): Promise<CopyText> {
    const doc = await openPdf(bytes, password)
    const drawn: DrawnPage[] = []
    for (let n = 1; n <= Math.min(doc.pages, MOST_PAGES); n++) drawn.push(await doc.page(n))
    await doc.close()
    return readText(drawn, doc.labels?.slice(0, MOST_PAGES), { page, left: doc.pages - drawn.length })
  },
}

export type Tasks = typeof tasks
