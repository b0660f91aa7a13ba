import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import type { PDFPageProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import type { DrawnPage, Run } from '../../core/pdftext/page'

/** Where pdf.js keeps what files name without carrying it. */
const assets = dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'))

/** The library that reads PDF, loaded where it is used first. */
export const pdfjs = () => import('pdfjs-dist/legacy/build/pdf.mjs')

/**
 * Opens a PDF. Scripts, launched programs and attachments in it are never run or opened.
 * @throws PasswordException where it asks for another password than the one given
 */
export async function loadPdf(bytes: Uint8Array, password?: string) {
  const { getDocument, VerbosityLevel } = await pdfjs()
  const task = getDocument({
    data: new Uint8Array(bytes),
    ...(password === undefined ? {} : { password }),
    verbosity: VerbosityLevel.ERRORS,
    isEvalSupported: false,
    useSystemFonts: false,
    standardFontDataUrl: `${assets}/standard_fonts/`,
    cMapUrl: `${assets}/cmaps/`,
    stopAtErrors: false,
  })
  return { doc: await task.promise, close: () => task.destroy() }
}

/** A page as the file draws its words. */
export async function drawnPage(page: PDFPageProxy): Promise<DrawnPage> {
  const { Util } = await pdfjs()
  const view = page.getViewport({ scale: 1 })
  const content = await page.getTextContent()
  const runs: Run[] = []
  for (const item of content.items) {
    if (!('str' in item) || !item.str) continue
    const style = content.styles[item.fontName]
    const [a, b, c, d, x, y] = Util.transform(view.transform, item.transform) as number[]
    const isUpright = Boolean(style?.vertical)
    runs.push({
      text: item.str,
      ...{ x: x!, y: y! },
      width: isUpright ? item.height : item.width,
      size: Math.hypot(c!, d!) || Math.hypot(a!, b!) || item.height,
      font: item.fontName,
      turn: (((Math.round((Math.atan2(b!, a!) * 2) / Math.PI) * 90) % 360) + 360) % 360,
      ...(isUpright ? { upright: true } : {}),
    })
  }
  return { width: view.width, height: view.height, runs }
}
