import { useEffect, useMemo } from 'react'
import { lettersIn } from '../../../core/bib/found'
import { citationOn } from '../../../core/pdftext/cited'
import type { CitingSentence } from '../../../core/pdftext/cited-sentence'
import type { CopyInParts } from '../../../core/schema/api'
import type { Reader } from './viewer'
import { wordsOn } from './words-on'

/** Where the text cites an entry of its list. */
export interface Place extends CitingSentence {
  /** The number of the entry. */
  n: number
}

/** All citations of a text; the same list as long as the text is. */
export const usePlaces = (parts: CopyInParts | undefined): readonly Place[] =>
  useMemo(() => parts?.references.flatMap(r => r.cited.map(c => ({ ...c, n: r.n }))) ?? [], [parts])

/** Under these names the page’s style paints citations, and those of the entries that are looked at. */
const [ALL, PICKED] = ['cited', 'cited-picked']

/** Marks the citations of a page without touching its words: by the browser’s own highlights, where it has them. */
export function CitedOn({
  layer,
  page,
  places,
  picked,
}: {
  layer: HTMLElement
  page: number
  places: readonly Place[]
  picked: readonly number[]
}) {
  useEffect(() => {
    const own = places.filter(p => p.page === page)
    if (typeof Highlight === 'undefined' || !own.length) return
    const { text, range } = wordsOn(layer)
    const letters = lettersIn(text)
    const put: [Highlight, Range][] = own.flatMap((p): [Highlight, Range][] => {
      const at = citationOn(letters, p)
      return at ? [[highlight(picked.includes(p.n) ? PICKED : ALL), range(at.from, at.to)]] : []
    })
    for (const [of, r] of put) of.add(r)
    return () => {
      for (const [of, r] of put) of.delete(r)
    }
  }, [layer, page, places, picked])
  return null
}

function highlight(name: string): Highlight {
  const there = CSS.highlights.get(name) ?? new Highlight()
  CSS.highlights.set(name, there)
  return there
}

/** The entries that are cited where somebody pressed on a page. */
export function entriesAt(
  reader: Reader,
  places: readonly Place[],
  { clientX, clientY }: { clientX: number; clientY: number },
): number[] {
  const on = document.caretPositionFromPoint(clientX, clientY)
  if (!on) return []
  const drawn = reader.drawn().find(d => d.words?.contains(on.offsetNode))
  if (!drawn?.words) return []
  const { text, placeOf } = wordsOn(drawn.words)
  const pressed = placeOf(on.offsetNode, on.offset)
  if (pressed === undefined) return []
  const letters = lettersIn(text)
  const here = places.filter(p => {
    const at = p.page === drawn.page ? citationOn(letters, p) : undefined
    return at && at.from <= pressed && pressed <= at.to
  })
  return [...new Set(here.map(p => p.n))]
}
