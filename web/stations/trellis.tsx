import { yearOf } from '../../core/bib/dates'
import type { Neighbour } from '../../core/schema/api'
import type { WorkLine } from '../../core/sift/line'

const c = (name: string): string => `var(--chakra-colors-${name})`
const W = 790
const STEM = 74
const FLOOR = 160
const LEAF = 'M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z'

/**
 * Years run left to right along a stem; kept works are its leaves, alternating above and below. The chosen work's
 * references reach left and its citing works right as tendrils where they are kept; what is not in the pool is a
 * tally of strokes by year under the stem.
 */
export function Trellis({
  kept,
  chosen,
  references,
  citedBy,
  choose,
}: {
  kept: WorkLine[]
  chosen: WorkLine
  references: Neighbour[]
  citedBy: Neighbour[]
  choose: (id: number) => void
}) {
  const neighbours = [...references.map(n => ({ n, back: true })), ...citedBy.map(n => ({ n, back: false }))]
  const years = [...kept.map(w => w.year), ...neighbours.map(x => yearOf(x.n.item))].filter(
    (y): y is number => typeof y === 'number',
  )
  const from = Math.floor((Math.min(...years) - 1) / 5) * 5
  const to = Math.max(...years) + 1
  const x = (year: number) => 30 + ((year - from) / Math.max(1, to - from)) * (W - 60)
  const dated = kept.filter(w => w.year !== null)
  const seen = new Map<number, number>()
  const leaves = dated.map(w => {
    const k = seen.get(w.year!) ?? 0
    seen.set(w.year!, k + 1)
    return { w, x: x(w.year!) + Math.floor(k / 2) * 5, up: k % 2 === 0, lift: Math.floor(k / 2) * 11 }
  })
  const at = leaves.find(l => l.w.id === chosen.id)
  const tally = (back: boolean) => {
    const count = new Map<number, number>()
    for (const { n } of neighbours.filter(q => q.back === back && q.n.work === null)) {
      const y = yearOf(n.item)
      if (y) count.set(y, (count.get(y) ?? 0) + 1)
    }
    return count
  }
  const [out, into] = [tally(true), tally(false)]
  const step = to - from > 45 ? 10 : 5
  const ticks = Array.from({ length: Math.floor((to - from) / step) + 1 }, (_, i) => from + i * step)
  const tied = neighbours.flatMap(({ n, back }) => {
    const leaf = leaves.find(l => l.w.id === n.work)
    return leaf && at && leaf !== at ? [{ leaf, back }] : []
  })
  return (
    <svg
      viewBox={`0 0 ${W} 204`}
      width="100%"
      style={{ display: 'block', maxHeight: 220 }}
      role="group"
      aria-label={`Kept works from ${from} to ${to}`}
    >
      {ticks.map(y => (
        <g key={y}>
          <path d={`M${x(y)} 8 V168`} stroke={c('hair2')} />
          <text x={x(y)} y="184" textAnchor="middle" style={{ fontSize: 12 }} fill={c('soft')}>
            {y}
          </text>
        </g>
      ))}
      <path
        d={`M20 ${STEM + 2} C${W * 0.3} ${STEM - 5} ${W * 0.6} ${STEM + 6} ${W - 16} ${STEM}`}
        stroke={c('vine')}
        strokeWidth="2.4"
        fill="none"
        opacity=".75"
      />
      {tied.map(({ leaf, back }, i) => {
        const mid = (leaf.x + at!.x) / 2
        const lift = 24 + Math.min(44, Math.abs(leaf.x - at!.x) / 5)
        return (
          <path
            key={i}
            d={`M${at!.x} ${STEM} C${mid} ${STEM - lift} ${mid} ${STEM - lift} ${leaf.x} ${STEM}`}
            fill="none"
            stroke={back ? c('grape') : c('vine')}
            strokeWidth="1.6"
            strokeDasharray={back ? undefined : '5 3'}
          />
        )
      })}
      {[...out].map(([y, k]) =>
        Array.from({ length: Math.min(k, 12) }, (_, i) => (
          <path key={`o${y}-${i}`} d={`M${x(y) - 6} ${FLOOR - i * 5} h5`} stroke={c('grape')} strokeWidth="1.6" />
        )),
      )}
      {[...into].map(([y, k]) =>
        Array.from({ length: Math.min(k, 12) }, (_, i) => (
          <path key={`i${y}-${i}`} d={`M${x(y) + 1} ${FLOOR - i * 5} h5`} stroke={c('vine')} strokeWidth="1.6" />
        )),
      )}
      {leaves.map(({ w, x: lx, up, lift }) => {
        const on = w.id === chosen.id
        const s = on ? 1.7 : 1.05
        const y = up ? STEM - lift : STEM + lift
        return (
          <g
            key={w.id}
            transform={`translate(${lx},${y}) scale(${s},${up ? s : -s}) translate(-2,-9) rotate(-14)`}
            style={{ cursor: 'pointer' }}
            tabIndex={0}
            role="button"
            aria-pressed={on}
            aria-label={`${w.title}, ${w.year}`}
            onClick={() => choose(w.id)}
            onKeyDown={e => e.key === 'Enter' && choose(w.id)}
          >
            <title>{`${w.title}\n${w.authors} ${w.year}`}</title>
            <path d={LEAF} fill={c('vine')} stroke={on ? c('ink') : c('paper')} strokeWidth={on ? 0.9 : 0.7} />
          </g>
        )
      })}
      <g style={{ fontSize: 12 }} fill={c('soft')}>
        <path d="M30 199 h7 M30 195 h7" stroke={c('grape')} strokeWidth="1.6" />
        <text x="43" y="201">
          references not in the pool, by year
        </text>
        <path d="M262 199 h7 M262 195 h7" stroke={c('vine')} strokeWidth="1.6" />
        <text x="275" y="201">
          works citing it, not in the pool
        </text>
        <path d="M478 197 h18" stroke={c('grape')} strokeWidth="1.6" />
        <text x="502" y="201">
          kept reference
        </text>
        <path d="M602 197 h18" stroke={c('vine')} strokeWidth="1.6" strokeDasharray="5 3" />
        <text x="626" y="201">
          kept work citing it
        </text>
      </g>
    </svg>
  )
}
