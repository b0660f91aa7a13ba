import * as pdfjs from 'pdfjs-dist'
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url'
import { useEffect, useState, type RefObject } from 'react'
import { LATE, Reader } from './viewer'

pdfjs.GlobalWorkerOptions.workerSrc = workerUrl

export interface Opening {
  reader?: Reader
  /** Why the file cannot be shown. */
  trouble?: string
  /** Nothing of it came for a while. */
  late?: boolean
  /** The file asks for its password: what to do with it, and whether one was wrong. */
  locked?: { open: (password: string) => void; wrong: boolean }
  /** Fetches the file once more. */
  again: () => void
}

/** The file of a copy in its room. It comes in parts: the first page is there before the rest. */
export function useReader(inquiry: number, copy: number, room: RefObject<HTMLDivElement | null>): Opening {
  const [opening, setOpening] = useState<Omit<Opening, 'again'>>({})
  const [tries, setTries] = useState(0)
  useEffect(() => {
    let reader: Reader | undefined
    const task = pdfjs.getDocument({
      url: `/api/inquiries/${inquiry}/copies/${copy}/file`,
      isEvalSupported: false,
      // for files that name a font or a way of writing without carrying it; a browser's own fonts differ in width
      useSystemFonts: false,
      standardFontDataUrl: '/pdf/standard_fonts/',
      cMapUrl: '/pdf/cmaps/',
      wasmUrl: '/pdf/wasm/',
    })
    task.onPassword = (open: (password: string) => void, reason: number) =>
      setOpening({ locked: { open, wrong: reason === pdfjs.PasswordResponses.INCORRECT_PASSWORD } })
    task.promise.then(
      doc => {
        if (task.destroyed || !room.current) return
        reader = new Reader(room.current, doc)
        setOpening({ reader })
      },
      (e: Error) => !task.destroyed && setOpening({ trouble: saidOf(e) }),
    )
    const timer = setTimeout(() => setOpening(now => (Object.keys(now).length ? now : { late: true })), LATE)
    return () => {
      clearTimeout(timer)
      reader?.end()
      void task.destroy()
      setOpening({})
    }
  }, [inquiry, copy, room, tries])
  return { ...opening, again: () => setTries(n => n + 1) }
}

/** What came of a file, in words for the student. */
function saidOf(e: Error): string {
  if (e instanceof pdfjs.InvalidPDFException) return 'The file is not a PDF that can be drawn.'
  const isGone = e instanceof pdfjs.ResponseException && e.status === 404
  return isGone
    ? 'The file is not there any more.'
    : 'The file could not be fetched: the server or the network did not answer. What you noted of it is kept.'
}
