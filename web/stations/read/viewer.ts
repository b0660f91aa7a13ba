import * as pdfjs from 'pdfjs-dist'
import {
  EventBus,
  FindState,
  LinkTarget,
  PDFFindController,
  PDFLinkService,
  PDFViewer,
  RenderingStates,
  SpreadMode,
} from 'pdfjs-dist/web/pdf_viewer.mjs'
import 'pdfjs-dist/web/pdf_viewer.css'
import { findLetters, lettersIn } from '../../../core/bib/found'
import type { PageBox } from '../../../core/pdftext/anchor'
import { linesOf, turned, unturned, type Turn } from '../../../core/pdftext/turned'
import { wordsOn } from './words-on'

/** How a page fits its room: by its width, or whole. */
export type Fit = 'page-width' | 'page-fit'

/** What is shown of a text now. */
export interface View {
  /** The page in the middle of what is seen. */
  page: number
  /** 1 is the size in which it prints. */
  scale: number
  fit: Fit | undefined
  turn: Turn
  twoPages: boolean
  /** Raised with all that moves on the screen. */
  moved: number
  /** The page in sight, where it has not come for a while or could not be drawn. */
  late: number | undefined
}

/** What looking for words in the text came to. */
export interface Hits {
  words: string
  /** Which of them is chosen, from 1; 0 where none is. */
  current: number
  total: number
  isLooking: boolean
  /** How many on each page, from the first. */
  byPage: number[]
}

/** A place on the screen, from the upper left corner of the pages' room. */
export interface OnScreen {
  left: number
  top: number
  right: number
  bottom: number
}

/** A page that is drawn: where what belongs over it is put. */
export interface Drawn {
  page: number
  over: HTMLElement
  words: HTMLElement | undefined
  /** Raised whenever it is drawn anew. */
  times: number
}

/** Sizes between which one goes step by step. */
const SIZES = [0.5, 0.67, 0.8, 0.9, 1, 1.1, 1.25, 1.5, 1.75, 2, 2.5, 3, 4]
/** Milliseconds after which a page that is looked at is late: the library tells of none that does not come. */
export const LATE = 10_000
/** Milliseconds in which what was found is told once. */
const SOON = 120
/** Pixels of the picture of a page at most, in all and on a side: of a page of 200 inches what is seen is drawn sharply. */
const MOST_PIXELS = 2 ** 23
const MOST_WIDE = 8192
/** Where a page is in the window, without the frame that the library puts around it. */
function within(page: HTMLElement): { left: number; top: number; right: number; bottom: number } {
  const { left, top, right, bottom } = page.getBoundingClientRect()
  const [x, y] = [page.clientLeft, page.clientTop]
  return { left: left + x, top: top + y, right: right - x, bottom: bottom - y }
}

/** In points. */
const A4 = { width: 595, height: 842 }

/** A bookmark of the file. */
export interface Bookmark {
  title: string
  /** How deep it lies, from 0. */
  level: number
  /** The page that it leads to; undefined where it leads nowhere in the file. */
  page: number | undefined
  go: () => void
}
/** Bookmarks that are told, and how deep. */
const MOST_BOOKMARKS = 1000
const DEEPEST = 6
interface OutlineItem {
  title: string
  dest: string | unknown[] | null
  items: OutlineItem[]
}
/** A page as the file refers to it. */
const isRef = (v: unknown): v is { num: number; gen: number } =>
  typeof v === 'object' && v !== null && 'num' in v && 'gen' in v

/** What the library tells of its looking for words. */
interface LookedUp {
  matchesCount: { current: number; total: number }
  state?: number
}

/**
 * The pages of a text in their room: drawn as they come into sight, with words to be selected and found. The parts of
 * the PDF library do that; this knows where on the screen a place of the text is.
 */
export class Reader {
  private readonly bus = new EventBus()
  private readonly links: PDFLinkService
  private readonly finder: PDFFindController
  private readonly viewer: PDFViewer
  private readonly watching = new Set<() => void>()
  private readonly sized: ResizeObserver
  private at: View = {
    ...{ page: 1, scale: 1, fit: 'page-width', turn: 0, twoPages: false, moved: 0 },
    late: undefined,
  }
  private found: Hits | undefined
  private readonly onPages = new Map<number, Drawn>()
  private list: readonly Drawn[] = []
  private frame = 0
  private soon: ReturnType<typeof setTimeout> | undefined
  private isReady = false
  private readonly looking: ReturnType<typeof setInterval>
  private waits: { page: number; since: number } | undefined
  /** Pages that could not be drawn. */
  private readonly broken = new Set<number>()
  private wanted: (() => void) | undefined
  private readonly sought = new Map<string, PageBox[]>()

  constructor(
    readonly room: HTMLDivElement,
    readonly doc: pdfjs.PDFDocumentProxy,
  ) {
    const { bus } = this
    this.links = new PDFLinkService({ eventBus: bus, externalLinkTarget: LinkTarget.BLANK })
    this.finder = new PDFFindController({ eventBus: bus, linkService: this.links, updateMatchesCountOnProgress: true })
    this.viewer = new PDFViewer({
      container: room,
      eventBus: bus,
      linkService: this.links,
      findController: this.finder,
      // fields of forms are shown as they were filled, not to be filled here
      annotationMode: pdfjs.AnnotationMode.ENABLE,
      annotationEditorMode: pdfjs.AnnotationEditorType.DISABLE,
      maxCanvasPixels: MOST_PIXELS,
      maxCanvasDim: MOST_WIDE,
      imageResourcesPath: '/pdf/images/',
    })
    this.links.setViewer(this.viewer)
    bus.on('pagesinit', () => {
      this.viewer.currentScaleValue = this.at.fit ?? '1'
      this.isReady = true
      this.wanted?.()
    })
    bus.on('pagechanging', ({ pageNumber }: { pageNumber: number }) => this.set({ page: pageNumber }))
    bus.on('scalechanging', ({ scale }: { scale: number }) => this.set({ scale }))
    bus.on('rotationchanging', () => this.moves())
    bus.on('spreadmodechanged', () => this.moves())
    bus.on('pagerendered', ({ pageNumber, error }: { pageNumber: number; error?: unknown }) => {
      if (error) this.broken.add(pageNumber)
      else this.broken.delete(pageNumber)
      this.draws(pageNumber)
    })
    bus.on('textlayerrendered', ({ pageNumber }: { pageNumber: number }) => this.draws(pageNumber, true))
    bus.on('updatetextlayermatches', () => this.later())
    const looked = (told: LookedUp) => this.looked(told)
    bus.on('updatefindmatchescount', looked)
    bus.on('updatefindcontrolstate', looked)
    room.addEventListener('scroll', this.moves, { passive: true })
    this.sized = new ResizeObserver(() => {
      if (this.isReady && this.at.fit) this.viewer.currentScaleValue = this.at.fit
      this.moves()
    })
    this.sized.observe(room)
    this.viewer.setDocument(doc)
    this.links.setDocument(doc)
    this.looking = setInterval(() => this.look(), 1000)
  }

  /** Whether the page in sight came; one that is not looked at is not drawn. */
  private look(): void {
    const { page } = this.at
    const isThere = this.isReady && this.pageView(page).renderingState === RenderingStates.FINISHED
    if (isThere || document.hidden) this.waits = undefined
    else if (this.waits?.page !== page) this.waits = { page, since: Date.now() }
    const isLate = this.broken.has(page) || (this.waits !== undefined && Date.now() - this.waits.since > LATE)
    const late = isLate ? page : undefined
    if (late !== this.at.late) this.set({ late })
  }

  end(): void {
    clearInterval(this.looking)
    this.sized.disconnect()
    this.room.removeEventListener('scroll', this.moves)
    cancelAnimationFrame(this.frame)
    clearTimeout(this.soon)
    // the library takes null for no document; its types do not say so
    const show = this.viewer.setDocument.bind(this.viewer) as (doc: pdfjs.PDFDocumentProxy | null) => void
    show(null)
    this.viewer.cleanup()
  }

  subscribe = (f: () => void) => {
    this.watching.add(f)
    return () => void this.watching.delete(f)
  }
  view = (): View => this.at
  hits = (): Hits | undefined => this.found
  drawn = (): readonly Drawn[] => this.list

  private tell(): void {
    for (const f of this.watching) f()
  }
  private set(now: Partial<View>): void {
    this.at = { ...this.at, ...now, moved: this.at.moved + 1 }
    this.tell()
  }
  /** At most once for each picture of the screen. */
  private readonly moves = () => {
    cancelAnimationFrame(this.frame)
    this.frame = requestAnimationFrame(() => this.set({}))
  }

  private draws(page: number, hasWords = false): void {
    const { div, textLayer } = this.pageView(page)
    const was = this.onPages.get(page)
    const over = was?.over ?? document.createElement('div')
    over.className = 'over-page'
    // drawn anew, the page has put away what lay over it
    if (over.parentElement !== div) div.append(over)
    // the library makes room for the words before they are there
    const words = hasWords ? textLayer?.div : was?.words
    this.onPages.set(page, { page, over, words, times: (was?.times ?? 0) + 1 })
    this.list = [...this.onPages.values()].filter(d => d.over.isConnected)
    this.set({})
  }
  /** The words of drawn pages were taken apart anew, for the marks of what was found. */
  private redraws(): void {
    for (const [page, d] of this.onPages) this.onPages.set(page, { ...d, times: d.times + 1 })
    this.list = [...this.onPages.values()].filter(d => d.over.isConnected)
    this.tell()
  }

  private pageView(page: number) {
    return this.viewer.getPageView(page - 1) as {
      div: HTMLElement
      viewport: { width: number; height: number; scale: number }
      textLayer?: { div: HTMLElement }
      renderingState: number
    }
  }

  /** The size of a page unturned, in points; of one that was not shown yet, that of the first. */
  sizeOf(page: number): { width: number; height: number } {
    if (!this.isReady) return A4
    const { width, height, scale } = this.pageView(page).viewport
    const [w, h] = [width / scale, height / scale]
    return this.at.turn % 180 ? { width: h, height: w } : { width: w, height: h }
  }

  /** What is on the screen, in pages from the first: 1.5 is the middle of the second. */
  seen(): { from: number; to: number } | undefined {
    if (!this.isReady) return undefined
    const room = this.room.getBoundingClientRect()
    const at = (y: number): number => {
      const page = this.at.page
      for (let p = Math.max(1, page - 3); p <= Math.min(this.doc.numPages, page + 3); p++) {
        const on = this.pageView(p).div.getBoundingClientRect()
        if (y < on.bottom) return p - 1 + Math.max(0, (y - on.top) / on.height)
      }
      return Math.min(this.doc.numPages, page + 3)
    }
    return { from: at(room.top), to: at(room.bottom) }
  }

  /** Where a part of a page is on the screen now. */
  place(box: PageBox): OnScreen | undefined {
    return this.placer()(box)
  }

  /** The same for many at once: each page is measured once. It holds as long as nothing moves. */
  placer(): (box: PageBox) => OnScreen | undefined {
    const room = this.room.getBoundingClientRect()
    const pages = new Map<number, { left: number; top: number; scale: number }>()
    return box => {
      if (!this.isReady || box.page > this.doc.numPages) return undefined
      const on = pages.get(box.page) ?? this.measured(box.page)
      pages.set(box.page, on)
      const b = turned(box, this.at.turn, this.sizeOf(box.page))
      const [left, top] = [on.left - room.left + b.x * on.scale, on.top - room.top + b.y * on.scale]
      return { left, top, right: left + b.width * on.scale, bottom: top + b.height * on.scale }
    }
  }
  private measured(page: number) {
    const { div, viewport } = this.pageView(page)
    const { left, top } = within(div)
    return { left, top, scale: viewport.scale }
  }

  /** The part of a page that lies at a place of the window; of the page on which its middle is. */
  boxAt(at: { left: number; top: number; width: number; height: number }): PageBox | undefined {
    const middle = { x: at.left + at.width / 2, y: at.top + at.height / 2 }
    for (const { page } of this.list) {
      const { div, viewport } = this.pageView(page)
      const on = within(div)
      if (middle.x < on.left || middle.x > on.right || middle.y < on.top || middle.y > on.bottom) continue
      const inPoints = (n: number) => Math.round((n / viewport.scale) * 10) / 10
      const lies = {
        ...{ page, x: inPoints(at.left - on.left), y: inPoints(at.top - on.top) },
        ...{ width: inPoints(at.width), height: inPoints(at.height) },
      }
      return unturned(lies, this.at.turn, this.sizeOf(page))
    }
    return undefined
  }

  /** Goes to a page, or to a place on it; as soon as there are pages. */
  go(page: number, y?: number): void {
    const then = () => {
      if (page < 1 || page > this.doc.numPages) return
      this.viewer.scrollPageIntoView({ pageNumber: page })
      if (!y) return
      const at = this.place({ page, x: 0, y, width: 1, height: 1 })
      // a little of what stands above is seen, too
      if (at) this.room.scrollTop += at.top - this.room.clientHeight / 4
    }
    if (this.isReady) then()
    else this.wanted = then
  }

  /** The file's own bookmarks, in their order. */
  async bookmarks(): Promise<Bookmark[]> {
    const outline: OutlineItem[] | null = await this.doc.getOutline().catch(() => null)
    const found: Promise<Bookmark>[] = []
    const walk = (items: readonly OutlineItem[], level: number) => {
      for (const { title, dest, items: below } of items) {
        if (found.length >= MOST_BOOKMARKS) return
        found.push(
          this.pageOf(dest).then(page => ({
            ...{ title: title.replace(/\s+/g, ' ').trim(), level, page },
            go: () =>
              void (dest && this.links.goToDestination(dest as Parameters<PDFLinkService['goToDestination']>[0])),
          })),
        )
        if (level < DEEPEST) walk(below, level + 1)
      }
    }
    walk(outline ?? [], 0)
    return (await Promise.all(found)).filter(b => b.title && b.page !== undefined)
  }
  private async pageOf(dest: string | unknown[] | null): Promise<number | undefined> {
    try {
      const told = typeof dest === 'string' ? await this.doc.getDestination(dest) : dest
      const first: unknown = told?.[0]
      if (typeof first === 'number') return first + 1
      return isRef(first) ? (await this.doc.getPageIndex(first)) + 1 : undefined
    } catch {
      return undefined
    }
  }

  fit(fit: Fit): void {
    this.set({ fit })
    if (this.isReady) this.viewer.currentScaleValue = fit
  }
  /** To the next larger size, or the next smaller one. */
  zoom(by: 1 | -1): void {
    const { scale } = this.at
    const next = by > 0 ? SIZES.find(s => s > scale * 1.01) : SIZES.findLast(s => s < scale * 0.99)
    if (!next) return
    this.set({ fit: undefined })
    this.viewer.currentScale = next
  }
  turn(): void {
    const turn = ((this.at.turn + 90) % 360) as Turn
    this.set({ turn })
    this.viewer.pagesRotation = turn
  }
  twoPages(on: boolean): void {
    this.set({ twoPages: on })
    this.viewer.spreadMode = on ? SpreadMode.ODD : SpreadMode.NONE
    if (this.at.fit) this.viewer.currentScaleValue = this.at.fit
  }

  /** Looks for words in the whole text, and goes to the first after where one is; again, to the next. */
  find(words: string, how: 'new' | 'next' | 'previous' = 'new'): void {
    if (!words.trim()) return this.findNothing()
    this.found = { words, current: 0, total: 0, byPage: [], isLooking: true, ...(how === 'new' ? {} : this.found) }
    this.bus.dispatch('find', {
      source: this,
      type: how === 'new' ? '' : 'again',
      query: words,
      highlightAll: true,
      caseSensitive: false,
      entireWord: false,
      matchDiacritics: false,
      findPrevious: how === 'previous',
    })
    this.tell()
  }
  findNothing(): void {
    this.found = undefined
    this.bus.dispatch('findbarclose', { source: this })
    this.tell()
  }
  private looked({ matchesCount: { current, total }, state }: LookedUp): void {
    if (!this.found) return
    const isLooking = state === undefined ? this.found.isLooking && !total : state === FindState.PENDING
    const byPage = (this.finder.pageMatches ?? []).map((m: unknown[] | undefined) => m?.length ?? 0)
    this.found = { ...this.found, current, total, isLooking, byPage }
    this.later()
  }
  /** Of a long text the library tells page after page what it found, and that its marks changed. */
  private later(): void {
    this.soon ??= setTimeout(() => {
      this.soon = undefined
      this.redraws()
    }, SOON)
  }

  /** Where words stand on drawn pages, of passages that came without their place; each is looked for once. */
  seek(passages: readonly { key: string; page: number; quote: string }[]): void {
    let isNew = false
    for (const { key, page, quote } of passages) {
      const words = this.sought.has(key) ? undefined : this.onPages.get(page)?.words
      // a page that went out of sight was put away with its words
      if (!words?.isConnected) continue
      const { text, range } = wordsOn(words)
      const [place] = findLetters(lettersIn(text), quote, 0.1)
      const pieces = place ? [...range(place.from, place.to).getClientRects()] : []
      this.sought.set(key, linesOf(pieces.flatMap(r => this.boxAt(r) ?? [])))
      isNew = true
    }
    if (isNew) this.set({})
  }
  soughtOf = (key: string): readonly PageBox[] | undefined => this.sought.get(key)
}
