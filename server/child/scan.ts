import { createRequire } from 'node:module'
import { dirname, join } from 'node:path'
import { middleOf, type DrawnPage, type Run } from '../../core/pdftext/page'
import type { OpenPdf } from './open-pdf'

/** Dots an inch at which letters are told well; a page of any size is drawn with so many along its longer side at most. */
const DPI = 200
const MOST_DOTS = 3300

const require = createRequire(import.meta.url)
/** What is known of the letters of a language; of others they are read as English ones. */
const DATA: Record<string, string> = { en: 'eng', de: 'deu', fr: 'fra', es: 'spa' }

/**
 * Reads pages by their pictures.
 * @param language of the text, by its two letters
 */
export async function readPictures(doc: OpenPdf, pages: readonly number[], language = 'en'): Promise<DrawnPage[]> {
  const { createWorker, OEM } = await import('tesseract.js')
  const data = DATA[language] ?? 'eng'
  const worker = await createWorker(data, OEM.LSTM_ONLY, {
    langPath: join(dirname(require.resolve(`@tesseract.js-data/${data}/package.json`)), '4.0.0_best_int'),
    gzip: true,
    cacheMethod: 'none',
  })
  try {
    const out: DrawnPage[] = []
    for (const n of pages) {
      const { png, width, height, scale } = await doc.picture(n, DPI / 72, MOST_DOTS)
      const { data: read } = await worker.recognize(png, {}, { blocks: true, text: false })
      const lines = (read.blocks ?? []).flatMap(b => b.paragraphs.flatMap(p => p.lines))
      const heights = lines.map(l => l.rowAttributes.rowHeight)
      out.push({ width, height, runs: lines.flatMap(l => runsOf(l, heights, scale)) })
    }
    return out
  } finally {
    await worker.terminate()
  }
}

type ReadLine = { rowAttributes: { rowHeight: number }; baseline: Record<'x0' | 'y0' | 'x1' | 'y1', number> } & {
  words: { text: string; confidence: number; bbox: Record<'x0' | 'y0' | 'x1' | 'y1', number> }[]
}

/** Rows whose heights differ by less are of one size of letters: how high one seems depends on the letters in it. */
const ALIKE = 0.1
/** Words that were told with less certainty (0 to 100) are spots. */
const LEAST_SURE = 25

/** The words of a line, in points; a row is as high as its letters with what reaches below them. */
function runsOf(
  { words, baseline: b, rowAttributes: { rowHeight } }: ReadLine,
  heights: readonly number[],
  scale: number,
): Run[] {
  const slope = b.x1 > b.x0 ? (b.y1 - b.y0) / (b.x1 - b.x0) : 0
  const height = middleOf(heights.filter(h => Math.abs(h / rowHeight - 1) < ALIKE))
  const size = Math.round((height / scale) * 2) / 2
  return words
    .filter(w => w.text.trim() && w.confidence >= LEAST_SURE)
    .map(({ text, bbox: { x0, x1 } }) => ({
      text,
      x: x0 / scale,
      y: (b.y0 + slope * (x0 - b.x0)) / scale,
      width: (x1 - x0) / scale,
      size,
    }))
}
