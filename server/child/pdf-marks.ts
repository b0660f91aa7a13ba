import type { PDFDocumentProxy, PDFPageProxy } from 'pdfjs-dist/legacy/build/pdf.mjs'
import type { PageBox } from '../../core/pdftext/anchor'
import { HOW, type ToldMark } from '../../core/pdftext/file-marks'
import { linesOf } from '../../core/pdftext/turned'
import { wordsOnPage } from '../../core/pdftext/words-on-page'
import { drawnPage, loadPdf, pdfjs } from './pdfjs'

/** What is marked on a page of a file that is written out. */
export interface PageMark {
  page: number
  /** Where it lies, in points from the upper left corner of the page as it is seen; none where that was not kept. */
  boxes: PageBox[]
  /** Its words, which are looked for on the page where it has no box; of a note on the page there are none. */
  words: string
  /** A frame around it, in place of a colour over it. */
  isFrame: boolean
  note: string
  /** Red, green, blue: 0 to 255. */
  colour: [number, number, number]
  /** ISO 8601. */
  at: string
}

/** What the library tells of an annotation; all of it comes from the file. */
interface Annotation {
  id: string
  subtype?: string
  rect?: number[]
  quadPoints?: ArrayLike<number> | null
  overlaidText?: string
  contentsObj?: { str: string }
  titleObj?: { str: string }
  richText?: { str?: string | null } | null
  color?: ArrayLike<number> | null
  modificationDate?: string | null
  creationDate?: string | null
  inReplyTo?: string | null
  stateModel?: string | null
  annotationFlags?: number
}

export interface MarksTold {
  told: ToldMark[]
  /** Pages whose marks cannot be read. */
  unread: number
}

/** What others marked on the first pages of a file. What is odd about marks is no reason not to read its text. */
export async function marksIn(doc: PDFDocumentProxy, most: number): Promise<MarksTold> {
  const all: MarksTold = { told: [], unread: 0 }
  for (const n of await pagesWithMarks(doc, Math.min(doc.numPages, most))) {
    const page = doc.getPage(n)
    const on = await page.then(marksOn).catch(() => undefined)
    if (on) all.told.push(...on)
    else all.unread++
  }
  return all
}

/** The pages that have marks: on others the letters beneath links, of which a text may have thousands, are not asked for. */
async function pagesWithMarks(doc: PDFDocumentProxy, most: number): Promise<number[]> {
  const { AnnotationType } = await pdfjs()
  const numbers: Record<string, unknown> = AnnotationType
  const types = Object.keys(HOW).flatMap(name => {
    const type = numbers[name.toUpperCase()]
    return typeof type === 'number' ? [type] : []
  })
  const beyond = Array.from({ length: Math.max(0, doc.numPages - most) }, (_, i) => most + i)
  const every = Array.from({ length: most }, (_, i) => i + 1)
  const found = await doc.getAnnotationsByType(new Set(types), new Set(beyond)).catch(() => undefined)
  const on = new Set((found as { pageIndex: number }[] | undefined)?.map(a => a.pageIndex + 1))
  return found ? every.filter(n => on.has(n)) : every
}

async function marksOn(page: PDFPageProxy): Promise<ToldMark[]> {
  const { PDFDateString } = await pdfjs()
  const all = (await page.getAnnotations()) as Annotation[]
  page.cleanup()
  return all
    .filter(a => !((a.annotationFlags ?? 0) & HIDDEN))
    .map(a => {
      const at = PDFDateString.toDateObject(a.modificationDate ?? a.creationDate ?? '')
      return {
        ...{ key: a.id, subtype: a.subtype ?? '', page: page.pageNumber, boxes: boxesOf(a, page) },
        words: a.quadPoints ? (a.overlaidText ?? '') : '',
        // what was written with looks alone has no plain words
        note: a.contentsObj?.str || (a.richText?.str ?? ''),
        by: a.titleObj?.str ?? '',
        at: at && !Number.isNaN(at.getTime()) ? at.toISOString() : null,
        colour: a.color?.length === 3 ? `#${Buffer.from(Array.from(a.color)).toString('hex')}` : null,
        of: a.inReplyTo ?? null,
        isState: Boolean(a.stateModel),
      }
    })
}
/** The bit of an annotation that is not shown (ISO 32000-2, table 167). */
const HIDDEN = 2

/** Where an annotation lies on its page as it is seen: its corners, or all of it. */
function boxesOf({ quadPoints, rect }: Annotation, page: PDFPageProxy): PageBox[] {
  const view = page.getViewport({ scale: 1 })
  const boxOf = (xs: number[], ys: number[]): PageBox[] => {
    const [a, b] = [Math.min(...xs), Math.min(...ys)]
    const [c, d] = [Math.max(...xs), Math.max(...ys)]
    const corners = [view.convertToViewportPoint(a, b), view.convertToViewportPoint(c, d)] as [number, number][]
    const [x, y] = [Math.min(...corners.map(p => p[0])), Math.min(...corners.map(p => p[1]))]
    const [right, foot] = [Math.max(...corners.map(p => p[0])), Math.max(...corners.map(p => p[1]))]
    const box = { page: page.pageNumber, x, y, width: right - x, height: foot - y }
    return [x, y, right, foot].every(Number.isFinite) ? [box] : []
  }
  const quads = Array.from(quadPoints ?? [])
  if (quads.length >= 8)
    return Array.from({ length: Math.floor(quads.length / 8) }, (_, i) => quads.slice(i * 8, i * 8 + 8)).flatMap(q =>
      boxOf(
        q.filter((_, i) => i % 2 === 0),
        q.filter((_, i) => i % 2 === 1),
      ),
    )
  return rect?.length === 4 ? boxOf([rect[0]!, rect[2]!], [rect[1]!, rect[3]!]) : []
}

/** The makers of a file allow no notes in it. */
export const RESTRICTED = 'Its makers allow no notes in the file.'
/** Points of the side of what stands for a note on a page. */
const NOTE = 14
/** Points of the line around a figure. */
const LINE = 1.5

/**
 * The same file with marks written behind it, as annotations that every reader of PDF shows: what was there stays as it is,
 * byte by byte.
 * @throws Error RESTRICTED
 */
export async function withMarks(bytes: Uint8Array, password: string | undefined, marks: readonly PageMark[]) {
  const { AnnotationEditorType, PermissionFlag } = await pdfjs()
  const { doc, close } = await loadPdf(bytes, password)
  const allowed = await doc.getPermissions()
  const may = [PermissionFlag.MODIFY_ANNOTATIONS, PermissionFlag.MODIFY_CONTENTS]
  if (allowed && !may.some(f => allowed.includes(f))) throw new Error(RESTRICTED)
  /** Notes that stand on a page already, one beneath the other. */
  const beside = new Map<number, number>()
  let n = 0
  for (const m of marks) {
    const own = m.boxes.filter(b => b.page <= doc.numPages)
    const all = own.length || !m.words || m.page > doc.numPages ? own : await found(await doc.getPage(m.page), m.words)
    const pages = [...new Set(all.map(b => b.page))]
    for (const [i, at] of (pages.length ? pages : [Math.min(m.page, doc.numPages)]).entries()) {
      const page = await doc.getPage(at)
      const view = page.getViewport({ scale: 1 })
      const above = beside.get(at) ?? 0
      if (!pages.length) beside.set(at, above + 1)
      const boxes = pages.length
        ? all.filter(b => b.page === at)
        : [{ page: at, x: 6, y: 6 + above * (NOTE + 4), width: NOTE, height: NOTE }]
      const point = (x: number, y: number) => view.convertToPdfPoint(x, y) as [number, number]
      /** Left and right above, left and right below. */
      const quads = boxes.map(({ x, y, width, height }) => [
        ...[point(x, y), point(x + width, y)],
        ...[point(x, y + height), point(x + width, y + height)],
      ])
      const rect = around(quads.flat(), m.isFrame ? LINE : 0)
      const rings = quads.map(([a, b, c, d]) => [...a!, ...b!, ...d!, ...c!])
      const common = {
        ...{ pageIndex: at - 1, rect, rotation: 0, color: m.colour, date: new Date(m.at) },
        // of a passage over pages it is written once
        ...(m.note && i === 0 ? { popup: { contents: m.note, rect: popupBeside(rect) } } : {}),
      }
      doc.annotationStorage.setValue(
        // the prefix by which the library knows what is new
        `pdfjs_internal_editor_${n++}`,
        m.isFrame
          ? {
              ...{ ...common, annotationType: AnnotationEditorType.INK, thickness: LINE, opacity: 1 },
              paths: { lines: rings.map(lineAround), points: rings.map(closed) },
            }
          : {
              ...{ ...common, annotationType: AnnotationEditorType.HIGHLIGHT, opacity: 1 },
              ...{ quadPoints: quads.flat(2), outlines: rings },
            },
      )
      page.cleanup()
    }
  }
  const written = n ? await doc.saveDocument() : bytes
  await close()
  return written
}

const found = async (page: PDFPageProxy, words: string): Promise<PageBox[]> =>
  linesOf(wordsOnPage(words, await drawnPage(page), page.pageNumber))

function around(points: readonly (readonly [number, number])[], by: number): number[] {
  const [xs, ys] = [points.map(p => p[0]), points.map(p => p[1])]
  return [Math.min(...xs) - by, Math.min(...ys) - by, Math.max(...xs) + by, Math.max(...ys) + by]
}
const popupBeside = ([, , right, top]: readonly number[]): number[] => [right!, top! - 100, right! + 200, top!]
const closed = (ring: readonly number[]): number[] => [...ring, ...ring.slice(0, 2)]
/** A line from corner to corner as the library takes it: six numbers a point, of which a straight one has two. */
const lineAround = (ring: readonly number[]): number[] => {
  const points = closed(ring)
  return Array.from({ length: points.length / 2 }, (_, i) => [
    NaN,
    NaN,
    NaN,
    NaN,
    points[i * 2]!,
    points[i * 2 + 1]!,
  ]).flat()
}
