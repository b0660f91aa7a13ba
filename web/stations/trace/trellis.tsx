import { memo, useEffect, useMemo, useRef, useState, type KeyboardEvent, type RefObject } from 'react'
import type { WorkLine } from '../../../core/sift/line'
import { Swatch, colourOf } from '../../frame/strands'
import type { Overview, Row } from './field-desk'
import {
  beside,
  floorOf,
  labelsClear,
  layLeaves,
  stemAt,
  tendril,
  ticksOf,
  xOf,
  type Laid,
  type Laying,
  type Rect,
} from './layout'
import { colour as c } from '../../frame/colour'
const LEAF = 'M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z'
/** A leaf that is not in the pool: a bud shut, standing on its point. */
const BUD = 'M0 -7 C4.6 -3.4 4.6 3.4 0 7 C-4.6 3.4 -4.6 -3.4 0 -7Z'
/** Neighbours outside the pool that are drawn for the chosen work, to each side; all others are strokes. */
const DRAWN = 7
/** Works one lacks that are drawn whatever is chosen. */
const NAMED = 5
/** Strokes over one another at most; where there are more works, a stroke stands for several. */
const STROKES = 10
/** How many works a stroke stands for. */
export const strokeOf = (strokes: Overview['strokes']): number =>
  Math.max(1, Math.ceil(Math.max(0, ...strokes.map(s => s.n)) / STROKES))

export interface Naming {
  title: (at: number) => string
  /** Author and year, in short. */
  who: (at: number) => string
}

interface Props extends Naming {
  /** The drawing itself, to be saved. */
  drawing: RefObject<SVGSVGElement | null>
  overview: Overview
  works: ReadonlyMap<number, WorkLine>
  strands: readonly { id: number; n: number }[]
  years: { from: number; to: number }
  /** The chosen work, and its neighbours both ways, ranked. */
  chosen: number | undefined
  references: readonly Row[]
  citedBy: readonly Row[]
  /** The work of the row that is read beside it. */
  shown: number | undefined
  choose: (at: number) => void
  open: (at: number) => void
}

/** The size of an element, as it is drawn. */
function useSize() {
  const box = useRef<HTMLDivElement>(null)
  const [size, setSize] = useState({ width: 850, height: 560 })
  useEffect(() => {
    const el = box.current
    if (!el || typeof ResizeObserver === 'undefined') return
    const watch = new ResizeObserver(([entry]) => {
      const { width, height } = entry!.contentRect
      if (width && height) setSize({ width: Math.round(width), height: Math.round(height) })
    })
    watch.observe(el)
    return () => watch.disconnect()
  }, [])
  return { box, ...size }
}

/**
 * Years run from left to right, each strand is a stem, and kept works are its leaves. What the chosen work builds on
 * reaches left, what builds on it reaches right; works one lacks stand as shut buds at their year; everything else
 * outside the pool is a tally of strokes. The main path of the field is the thicker line.
 */
export function Trellis(props: Props) {
  const { overview, years, chosen, shown, references, citedBy, title, who, choose, open, strands, works, drawing } =
    props
  const { box, width, height } = useSize()
  const stemsHeight = Math.max(120, height - 26)
  const laying: Laying = useMemo(
    () => ({ width, height: stemsHeight, left: 116, right: 14, ...years, stems: overview.stems.length }),
    [width, stemsHeight, years, overview.stems.length],
  )
  const { ends, stemOf, stems, lacking } = overview
  const leaves = useMemo(() => {
    const list = stems.flatMap((s, stem) =>
      s.works.flatMap(at => (ends[at]!.year ? { at, year: ends[at]!.year, stem } : [])),
    )
    return layLeaves(list, laying)
  }, [stems, ends, laying])
  const byAt = useMemo(() => new Map(leaves.map(l => [l.at, l])), [leaves])
  /** Neighbours and works one lacks, beside the leaves. */
  const around = useMemo(() => {
    const drawn = new Map<number, 'reference' | 'citing' | 'lacking' | 'shown'>()
    const outside = (list: readonly Row[]) => list.filter(x => !byAt.has(x.at)).slice(0, DRAWN)
    for (const x of outside(references)) drawn.set(x.at, 'reference')
    for (const x of outside(citedBy)) drawn.set(x.at, 'citing')
    for (const l of lacking.slice(0, NAMED)) drawn.set(l.node, 'lacking')
    if (shown !== undefined && !byAt.has(shown) && !drawn.has(shown)) drawn.set(shown, 'shown')
    const list = [...drawn].flatMap(([at, as]) => {
      const year = ends[at]?.year
      const stem = stemOf[at] ?? -1
      if (!year || year < laying.from || year > laying.to) return []
      const x = xOf(laying, year)
      return [{ at, as, x, y: stemAt(laying, Math.max(0, stem), x) }]
    })
    // those of one place step aside from one another, and from the leaves of their year
    const taken = new Map<string, number>()
    return list.map(l => {
      const key = `${Math.round(l.x)} ${Math.round(l.y / 20)}`
      const leavesThere = leaves.filter(f => Math.abs(f.x - l.x) < 10 && Math.abs(f.y - l.y) < 12).length
      const k = taken.get(key) ?? (leavesThere ? 1 : 0)
      taken.set(key, k + 1)
      return { ...l, y: l.y + (k ? (k % 2 ? -1 : 1) * 16 * Math.ceil(k / 2) : 0) }
    })
  }, [references, citedBy, lacking, ends, stemOf, laying, byAt, leaves, shown])
  const here = chosen === undefined ? undefined : byAt.get(chosen)
  const placeOf = (at: number) => byAt.get(at) ?? around.find(a => a.at === at)
  const tied = here
    ? [...references.flatMap(x => ({ x, back: true })), ...citedBy.flatMap(x => ({ x, back: false }))].flatMap(
        ({ x, back }) => {
          const to = placeOf(x.at)
          return to && x.at !== chosen ? [{ at: x.at, to, back, kept: byAt.has(x.at) }] : []
        },
      )
    : []
  const arcs = overview.arcs.flatMap(([a, b]) => {
    const [from, to] = [placeOf(a), placeOf(b)]
    return from && to ? [tendril(from, to)] : []
  })

  /** Keys lead along the links: left to what it builds on, right to what builds on it, up and down to other strands. */
  const keys = (e: KeyboardEvent) => {
    if (e.ctrlKey || e.metaKey || e.altKey) return
    const next = along(e.key)
    if (e.key === 'Enter' && chosen !== undefined) open(chosen)
    else if (next !== undefined) choose(next)
    else if (!/^Arrow/.test(e.key)) return
    e.preventDefault()
  }
  function along(key: string): number | undefined {
    if (!here) return leaves.at(-1)?.at
    if (key === 'ArrowLeft') return references.find(x => byAt.has(x.at))?.at ?? nextOnStem(-1)
    if (key === 'ArrowRight') return citedBy.find(x => byAt.has(x.at))?.at ?? nextOnStem(1)
    const by = key === 'ArrowUp' ? -1 : key === 'ArrowDown' ? 1 : 0
    if (!by) return undefined
    for (let stem = here.stem + by; stem >= 0 && stem < stems.length; stem += by) {
      const [near] = leaves
        .filter(l => l.stem === stem)
        .sort((a, b) => Math.abs(a.x - here.x) - Math.abs(b.x - here.x) || a.at - b.at)
      if (near) return near.at
    }
    return undefined
  }
  /** Where no link leads on, the leaf beside it on its stem. */
  function nextOnStem(by: 1 | -1): number | undefined {
    const own = leaves.filter(l => l.stem === here!.stem)
    return own[own.findIndex(l => l.at === chosen) + by]?.at
  }

  /** Neighbours of the chosen work that stand beyond the years shown. */
  const beyond = here
    ? (['before', 'after'] as const).map(side => {
        const out = [...references, ...citedBy].filter(x => {
          const y = ends[x.at]?.year
          return y && (side === 'before' ? y < laying.from : y > laying.to)
        })
        return { side, n: new Set(out.map(x => x.at)).size }
      })
    : []
  // a name in a thicket is read by nobody: it stands in the list
  const inThicket = (x: number, y: number, width: number) =>
    leaves.some(l => Math.abs(l.x - x) < width / 2 && Math.abs(l.y - y) < 12)
  const labels = labelsClear(
    around
      .filter(a => a.as === 'lacking' || a.at === shown)
      .sort((a, b) => Number(b.at === shown) - Number(a.at === shown))
      .map(a => ({ ...a, y: a.y + 22, width: who(a.at).length * 6.4 }))
      .filter(l => l.at === shown || !inThicket(l.x, l.y - 4, l.width)),
  )
  return (
    <div ref={box} style={{ flex: 1, minHeight: 0, position: 'relative' }}>
      <svg
        ref={drawing}
        width={width}
        height={height}
        style={{ display: 'block', position: 'absolute', inset: 0 }}
        role="application"
        aria-label="Trellis: kept works by strand and year. Arrow keys lead along citations and between strands, Enter opens the work."
        tabIndex={0}
        className="trellis"
        onKeyDown={keys}
      >
        <Ground laying={laying} overview={overview} strands={strands} />
        {arcs.map((d, i) => (
          <path key={i} d={d} fill="none" stroke={c('line')} strokeWidth="4" strokeLinecap="round" opacity=".55" />
        ))}
        {tied.map(({ at, to, back, kept }) => (
          <path
            key={`${at} ${back}`}
            d={tendril(here!, to)}
            fill="none"
            stroke={c(back ? 'grape' : 'vine')}
            strokeWidth={kept ? 2 : 1.2}
            strokeDasharray={back ? undefined : kept ? '6 3' : '4 3'}
            opacity=".85"
          />
        ))}
        {leaves.map(l => (
          <Leaf key={l.at} laid={l} on={l.at === chosen} title={`${title(l.at)}\n${who(l.at)}`} choose={choose} />
        ))}
        {around.map(a => (
          <g
            key={a.at}
            transform={`translate(${a.x},${a.y})`}
            style={{ cursor: 'pointer' }}
            onClick={() => choose(a.at)}
            data-bud={a.as}
          >
            <title>{`${title(a.at)}\n${who(a.at)}`}</title>
            <path
              d={BUD}
              fill={c('surface')}
              stroke={c(a.as === 'citing' ? 'vine' : a.as === 'shown' ? 'slate' : 'grape')}
              strokeWidth="1.8"
              strokeDasharray={a.as === 'lacking' ? '2.4 1.8' : undefined}
            />
          </g>
        ))}
        {shown !== undefined && placeOf(shown) && shown !== chosen && (
          <circle {...centre(placeOf(shown)!)} r="13" fill="none" stroke={c('ink')} strokeWidth="1.4" data-shown />
        )}
        {labels.map(l => (
          <text
            key={l.at}
            x={l.x}
            y={l.y}
            textAnchor="middle"
            style={{ fontSize: 12, paintOrder: 'stroke' }}
            stroke={c('paper')}
            strokeWidth="3"
          >
            <tspan fontWeight={l.at === shown ? 700 : 500} fill={c(l.as === 'lacking' ? 'grape' : 'ink')}>
              {who(l.at)}
            </tspan>
          </text>
        ))}
        {beyond.map(
          ({ side, n }) =>
            n > 0 && (
              <text
                key={side}
                x={side === 'before' ? laying.left - 4 : width - laying.right}
                y={here!.y - 8}
                textAnchor={side === 'before' ? 'start' : 'end'}
                style={{ fontSize: 12 }}
                fill={c('grape')}
              >
                {side === 'before' ? `← ${n} before ${laying.from}` : `${n} after ${laying.to} →`}
              </text>
            ),
        )}
        {here && <Callout at={calloutAt(here)} title={title(here.at)} said={saidOf(here.at)} />}
      </svg>
    </div>
  )

  function calloutAt(laid: Laid): Rect {
    const drawn = [
      ...leaves.filter(l => l.at !== laid.at).map(l => ({ x: l.x - 8, y: l.y - 9, width: 18, height: 18 })),
      ...around.map(a => ({ x: a.x - 6, y: a.y - 9, width: 12, height: 18 })),
      // a name that is covered is read by nobody
      ...labels.flatMap(l => [1, 2].map(() => ({ x: l.x - l.width / 2, y: l.y - 12, width: l.width, height: 16 }))),
    ]
    return beside(laid, { width: 250, height: 56 }, { width, height: stemsHeight }, drawn)
  }

  function saidOf(at: number): string {
    const w = works.get(ends[at]!.work ?? 0)
    const [out, into] = [references.length, citedBy.length]
    return [w ? who(at) : '', out && `${out} references`, into && `${into} cite it`].filter(Boolean).join(' · ')
  }
}

const centre = ({ x, y }: { x: number; y: number }) => ({ cx: x + 1, cy: y })

/** What does not move with the chosen work: years, stems with their names, strokes. */
const Ground = memo(function Ground({
  laying,
  overview,
  strands,
}: {
  laying: Laying
  overview: Overview
  strands: readonly { id: number; n: number }[]
}) {
  const { width, height, left, right, from, to } = laying
  const each = strokeOf(overview.strokes)
  const colour = (stem: number): string => {
    const { strand } = overview.stems[stem]!
    return strand === null ? 'line' : colourOf(strands.find(s => s.id === strand)?.n ?? 0)
  }
  return (
    <>
      {ticksOf(laying).map(y => (
        <g key={y}>
          <path d={`M${xOf(laying, y)} 4 V${height}`} stroke={c('hair2')} />
          <text x={xOf(laying, y)} y={height + 18} textAnchor="middle" style={{ fontSize: 12 }} fill={c('soft')}>
            {y}
          </text>
        </g>
      ))}
      <path d={`M${left - 6} ${height} H${width - right}`} stroke={c('hair')} />
      {overview.stems.map((s, stem) => {
        const points = Array.from({ length: 60 }, (_, i) => left - 8 + (i / 59) * (width - left - right + 8))
        const d = points
          .map((x, i) => `${i ? 'L' : 'M'}${x.toFixed(1)} ${stemAt(laying, stem, x).toFixed(1)}`)
          .join(' ')
        const y = stemAt(laying, stem, left)
        const floor = floorOf(laying, stem)
        const strokes = overview.strokes
          .filter(k => k.stem === stem && k.year >= from && k.year <= to)
          .flatMap(({ year, n }) =>
            Array.from(
              { length: Math.ceil(n / each) },
              (_, i) => `M${(xOf(laying, year) - 3).toFixed(1)} ${floor - i * 4} h6`,
            ),
          )
        return (
          <g key={stem}>
            <path d={strokes.join('')} stroke={c('line')} strokeWidth="1.4" opacity=".8" />
            <path d={d} fill="none" stroke={c(colour(stem))} strokeWidth="2" opacity=".6" />
            <foreignObject x="0" y={y - 22} width={left - 14} height="64">
              <div className="stem-name">
                {s.strand !== null && <Swatch n={strands.find(x => x.id === s.strand)?.n ?? 0} />}
                <b title={s.name}>{s.name}</b>
                <span>
                  {s.works.length} {s.works.length === 1 ? 'work' : 'works'}
                </span>
              </div>
            </foreignObject>
          </g>
        )
      })}
    </>
  )
})

const Leaf = memo(function Leaf({
  laid: { at, x, y, up },
  on,
  title,
  choose,
}: {
  laid: Laid
  on: boolean
  title: string
  choose: (at: number) => void
}) {
  const s = on ? 1.7 : 1.05
  return (
    <g
      transform={`translate(${x.toFixed(1)},${y.toFixed(1)}) scale(${s},${up ? s : -s}) translate(-2,-9) rotate(-14)`}
      style={{ cursor: 'pointer' }}
      data-leaf={at}
      data-on={on || undefined}
      onClick={() => choose(at)}
    >
      <title>{title}</title>
      <path d={LEAF} fill={c('vine')} stroke={on ? c('ink') : c('surface')} strokeWidth={on ? 0.9 : 0.7} />
    </g>
  )
})

/** The chosen work, named beside its leaf where it covers least. */
function Callout({ at, title, said }: { at: Rect; title: string; said: string }) {
  return (
    <foreignObject {...at} style={{ pointerEvents: 'none' }}>
      <div className="callout">
        <b>{title}</b>
        <span>{said}</span>
      </div>
    </foreignObject>
  )
}
