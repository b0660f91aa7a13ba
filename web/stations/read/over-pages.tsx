import { useEffect, useId } from 'react'
import { createPortal } from 'react-dom'
import type { QueryNode } from '../../../core/query/cql'
import { matchSpans } from '../../../core/query/spans'
import type { PageBox } from '../../../core/pdftext/anchor'
import { turned } from '../../../core/pdftext/turned'
import { StrandPattern } from '../../frame/strands'
import type { Drawn, Reader } from './viewer'
import { CitedOn, type Place } from './cited'
import { wordsOn } from './words-on'

/** A passage on its pages. */
export interface Mark {
  key: string
  boxes: readonly PageBox[]
  /** The look of its strand; none where it is on none. */
  strand: number | undefined
  kind: 'quoted' | 'in my words' | 'figure'
  /** It is looked at, or being chosen. */
  isOpen: boolean
}

/** Height of the band below the words of a passage, in points. */
const BAND = 3.2
/** The same where it is on no strand. */
const THIN = 1.2

/** What lies over the pages that are drawn: passages in the patterns of their strands. */
export function OverPages({
  reader,
  drawn,
  marks,
  query,
  places,
  picked,
}: {
  reader: Reader
  drawn: readonly Drawn[]
  marks: readonly Mark[]
  /** What was looked for in all copies, to be marked. */
  query: QueryNode | undefined
  /** Where the text cites its list of references, and the entries that are looked at. */
  places: readonly Place[]
  picked: readonly number[]
}) {
  return drawn.map(d => {
    const on = marks.filter(m => m.boxes.some(b => b.page === d.page))
    return createPortal(
      <>
        {query && d.words && <FoundOn key={d.times} layer={d.words} query={query} />}
        {d.words && <CitedOn key={`cited ${d.times}`} layer={d.words} page={d.page} {...{ places, picked }} />}
        {on.length > 0 && <PageMarks reader={reader} page={d.page} marks={on} />}
      </>,
      d.over,
      String(d.page),
    )
  })
}

function PageMarks({ reader, page, marks }: { reader: Reader; page: number; marks: readonly Mark[] }) {
  const id = useId()
  const { turn } = reader.view()
  const size = reader.sizeOf(page)
  const [width, height] = turn % 180 ? [size.height, size.width] : [size.width, size.height]
  return (
    <svg width="100%" height="100%" viewBox={`0 0 ${width} ${height}`} preserveAspectRatio="none" aria-hidden="true">
      <defs>
        {[...new Set(marks.flatMap(m => m.strand ?? []))].map(n => (
          <StrandPattern key={n} id={`${id}-${n}`} n={n} size={4.5} onPaper />
        ))}
      </defs>
      {marks.map(m =>
        m.boxes
          .filter(b => b.page === page)
          .map((box, i) => {
            const b = turned(box, turn, size)
            const hasStrand = m.strand !== undefined
            const fill = hasStrand ? `url(#${id}-${m.strand})` : 'var(--chakra-colors-slate-solid)'
            return m.kind === 'figure' ? (
              <rect
                key={`${m.key} ${i}`}
                {...{ x: b.x, y: b.y, width: b.width, height: b.height, stroke: fill, fill: 'none' }}
                strokeWidth={hasStrand ? BAND : THIN}
                className={m.isOpen ? 'mark-open' : undefined}
              />
            ) : (
              <g key={`${m.key} ${i}`}>
                {m.isOpen && <rect x={b.x} y={b.y} width={b.width} height={b.height} className="mark-open" />}
                <rect x={b.x} y={b.y + b.height - 1} width={b.width} height={hasStrand ? BAND : THIN} fill={fill} />
              </g>
            )
          }),
      )}
    </svg>
  )
}

/** Under this name the page's style paints what was found. */
const NAME = 'found'

/** Marks what was looked for without touching the words of the page: by the browser's own highlights, where it has them. */
function FoundOn({ layer, query }: { layer: HTMLElement; query: QueryNode }) {
  useEffect(() => {
    if (typeof Highlight === 'undefined') return
    const all = CSS.highlights.get(NAME) ?? new Highlight()
    CSS.highlights.set(NAME, all)
    const { text, range } = wordsOn(layer)
    const own = matchSpans(query, text).map(({ start, end }) => range(start, end))
    for (const r of own) all.add(r)
    return () => {
      for (const r of own) all.delete(r)
    }
  }, [layer, query])
  return null
}
