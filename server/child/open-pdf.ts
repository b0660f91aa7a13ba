import type { DrawnPage } from '../../core/pdftext/page'
import { marksIn, type MarksTold } from './pdf-marks'
import { drawnPage, loadPdf } from './pdfjs'

export interface OpenPdf {
  pages: number
  /** The file's own labels of its pages, where it has them. */
  labels: string[] | null
  /** It is a folder of other files, with a page that says so. */
  isFolder: boolean
  page: (n: number) => Promise<DrawnPage>
  /** What others marked on the first pages. */
  marks: (most: number) => Promise<MarksTold>
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

/** Opens a PDF to read what is on its pages. @throws PasswordException as `loadPdf` */
export async function openPdf(bytes: Uint8Array, password?: string): Promise<OpenPdf> {
  const { doc, close } = await loadPdf(bytes, password)
  return {
    pages: doc.numPages,
    labels: await doc.getPageLabels().catch(() => null),
    isFolder: await doc.getMetadata().then(
      ({ info }) => Boolean((info as { IsCollectionPresent?: boolean }).IsCollectionPresent),
      () => false,
    ),
    page: async n => {
      const page = await doc.getPage(n)
      const drawn = await drawnPage(page)
      page.cleanup()
      return drawn
    },
    marks: most => marksIn(doc, most),
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
    close,
  }
}
