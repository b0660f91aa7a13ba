import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import { readBibliography, type ReadFile } from '../../core/formats/read-file'
import { headingOf, pageLabels, readLines, type Line } from '../../core/pdftext/lines'
import type { PageText } from '../../core/match/proof'
import { isIso2709 } from '../../core/formats/iso2709'
import { readMarcFile } from '../../core/formats/library-files'
import { decodeText, decodeXml, type Charset } from '../base/decode'
import { decodeOldMarc } from './old-marc'

/** Where pdf.js keeps what files name without carrying it. */
const assets = dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'))

export interface PdfText {
  pages: PageText[]
  labels: string[]
}

/** Work on files from outside, done in a process that can be killed: nothing here has a network or a database. */
export const tasks = {
  /** Decodes and reads a bibliography file. */
  bibliography(bytes: Buffer): { text: ReadFile | null; charset: Charset } {
    if (isIso2709(bytes)) return { text: readMarcFile(bytes, decodeOldMarc), charset: 'utf-8' }
    // a file of XML says itself how its letters are written
    if (/^\s*(\ufeff|ï»¿)?<\?xml/.test(bytes.subarray(0, 100).toString('latin1')))
      return { text: readBibliography(decodeXml(bytes)) ?? null, charset: 'utf-8' }
    const { text, charset } = decodeText(bytes)
    return { text: readBibliography(text) ?? null, charset }
  },

  async pdf(bytes: Buffer): Promise<PdfText> {
    const { getDocument, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs')
    const task = getDocument({
      data: new Uint8Array(bytes),
      verbosity: VerbosityLevel.ERRORS,
      isEvalSupported: false,
      useSystemFonts: false,
      standardFontDataUrl: `${assets}/standard_fonts/`,
      cMapUrl: `${assets}/cmaps/`,
      stopAtErrors: false,
    })
    const doc = await task.promise
    const laid: Line[][] = []
    for (let n = 1; n <= Math.min(doc.numPages, 600); n++) {
      const page = await doc.getPage(n)
      const content = await page.getTextContent()
      const runs = content.items.flatMap(i =>
        'str' in i
          ? [
              {
                text: i.str,
                x: i.transform[4] as number,
                y: i.transform[5] as number,
                width: i.width,
                size: Math.hypot(i.transform[2] as number, i.transform[3] as number) || i.height,
              },
            ]
          : [],
      )
      laid.push(readLines(runs, page.getViewport({ scale: 1 }).width))
    }
    await task.destroy()
    return {
      pages: laid.map((lines, i) => {
        const heading = i === 0 ? headingOf(lines) : undefined
        return { page: i + 1, lines: lines.map(l => l.text), ...(heading ? { heading } : {}) }
      }),
      labels: pageLabels(laid),
    }
  },
}

export type Tasks = typeof tasks
