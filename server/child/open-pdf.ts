import { createRequire } from 'node:module'
import { dirname } from 'node:path'
import type { DrawnPage, Run } from '../../core/pdftext/page'

/** Where pdf.js keeps what files name without carrying it. */
const assets = dirname(createRequire(import.meta.url).resolve('pdfjs-dist/package.json'))

export interface OpenPdf {
  pages: number
  /** The file's own labels of its pages, where it has them. */
  labels: string[] | null
  /** It is a folder of other files, with a page that says so. */
  isFolder: boolean
  page: (n: number) => Promise<DrawnPage>
  /** A page as a picture, `scale` dots to a point or fewer; its size in points. */
  picture: (n: number, scale: number, most: number) => Promise<Picture>
  close: () => Promise<void>
}

export interface Picture {
  png: Buffer
  width: number
  height: number
  /** Dots to a point. */
  scale: number
}

/**
 * Opens a PDF. Scripts, launched programs and attachments in it are never run or opened.
 * @throws PasswordException where it asks for another password than the one given
 */
export async function openPdf(bytes: Uint8Array, password?: string): Promise<OpenPdf> {
  const { getDocument, Util, VerbosityLevel } = await import('pdfjs-dist/legacy/build/pdf.mjs')
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
  const doc = await task.promise
  return {
    pages: doc.numPages,
    labels: await doc.getPageLabels().catch(() => null),
    isFolder: await doc.getMetadata().then(
      ({ info }) => Boolean((info as { IsCollectionPresent?: boolean }).IsCollectionPresent),
      () => false,
    ),
    page: async n => {
      const page = await doc.getPage(n)
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
      page.cleanup()
      return { width: view.width, height: view.height, runs }
    },
    picture: async (n, wanted, most) => {
      const { createCanvas } = await import('@napi-rs/canvas')
      const page = await doc.getPage(n)
      const { width, height } = page.getViewport({ scale: 1 })
      const scale = Math.min(wanted, most / Math.max(width, height))
      const canvas = createCanvas(Math.max(1, Math.ceil(width * scale)), Math.max(1, Math.ceil(height * scale)))
      await page.render({ canvas: canvas as never, viewport: page.getViewport({ scale }) }).promise
      page.cleanup()
      return { png: canvas.toBuffer('image/png'), width, height, scale }
    },
    close: () => task.destroy(),
  }
}
