import { api } from '../../../core/schema/api'
import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useRef } from 'react'
import { stepsOf, type Flow, type FlowStep } from '../../../core/sift/flow'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'
import { colour as c } from '../../frame/colour'
import { savePicture } from '../../frame/save-picture'

const n = (x: number) => x.toLocaleString('en')
const HEAD = 44
const LINE = 17
const TOP = 70
/** Where a column's own boxes and those of what leaves it stand, from its left edge. */
const MAIN = { x: 0, w: 262 }
const SIDE = { x: 292, w: 262 }
const COLUMN = SIDE.x + SIDE.w
const LEFT = 84
const GAP = 46

interface Drawn {
  name: string
  found: number
  steps: FlowStep[]
}

/** The flow from what was found to what is kept, after the PRISMA 2020 statement; live, and always adding up. */
export function FlowView() {
  const { inquiry } = useHere()
  const flow = useOf(inquiry.id, api.flow)
  const svg = useRef<SVGSVGElement>(null)
  if (flow.isPending) return <Waiting what="Counting" />
  if (flow.isError) return <Failed error={flow.error} again={() => void flow.refetch()} />
  const { catalogues, others } = flow.data
  const all = (f: Flow) => f.found.catalogues + f.found.files + f.found.trails
  const given: Drawn = { name: 'By catalogues', found: all(catalogues), steps: stepsOf(catalogues) }
  const otherwise: Drawn = {
    name: `Other ways: files ${n(others.found.files)}, trails ${n(others.found.trails)}`,
    found: all(others),
    steps: stepsOf(others),
  }
  // a way by which nothing came has no column
  const columns = [given, otherwise].filter(x => x.found)
  if (!columns.length) columns.push(given)
  const steps = columns[0]!.steps
  // boxes of one step stand at one height in both columns
  const heights = steps.map((_, i) =>
    Math.max(
      ...columns.map(({ steps: s }) => {
        const lines = s[i]!.out?.lines.length ?? 0
        return HEAD + lines * LINE + (lines ? 6 : 0)
      }),
    ),
  )
  const tops = heights.map((_, i) => TOP + heights.slice(0, i).reduce((t, h) => t + h + 18, 0))
  const width = LEFT + columns.length * COLUMN + (columns.length - 1) * GAP + 10
  const last = tops.at(-1)! + HEAD
  const height = last + (columns.length > 1 ? 84 : 12)
  const kept = catalogues.keptByText + others.keptByText
  const save = () => savePicture('flow.svg', svg.current!)
  return (
    <Box h="full" overflow="auto" px={{ base: '12px', md: '24px' }} py="18px">
      <Flex align="baseline" maxW={`${width}px`} mx="auto" mb="4px" gap="12px">
        <chakra.h1 fontFamily="serif" fontWeight="600" fontSize="21px" lineHeight="28px" flex="1">
          From what was found to what is kept
        </chakra.h1>
        <Button size="xs" variant="outline" bg="surface" onClick={save}>
          Save as SVG
        </Button>
      </Flex>
      <Box maxW={`${width}px`} mx="auto">
        <svg
          ref={svg}
          xmlns="http://www.w3.org/2000/svg"
          viewBox={`0 0 ${width} ${height}`}
          width="100%"
          role="img"
          aria-label="Flow of records and works; the same numbers stand in the table below"
          style={{ fontFamily: 'var(--chakra-fonts-body)' }}
        >
          {columns.map((column, k) => (
            <g key={column.name} transform={`translate(${LEFT + k * (COLUMN + GAP)} 0)`}>
              <Column column={column} tops={tops} heights={heights} />
            </g>
          ))}
          {columns.length > 1 && (
            <g>
              <path
                d={`M${LEFT + 60} ${last} V${last + 30} M${LEFT + COLUMN + GAP + 60} ${last} C${LEFT + COLUMN + GAP + 60} ${last + 40} ${LEFT + MAIN.w + 90} ${last + 54} ${LEFT + MAIN.w} ${last + 54}`}
                stroke={c('vine')}
                strokeWidth="2"
                fill="none"
              />
              <g transform={`translate(${LEFT} 0)`}>
                <Boxed x={MAIN.x} y={last + 30} w={MAIN.w} h={HEAD} label="Kept by their text, in all" count={kept} />
              </g>
            </g>
          )}
          {(
            [
              ['records', 0, 1],
              ['works', 2, 3],
              ['texts', 4, 6],
            ] as const
          ).map(([word, from, to]) => (
            <g key={word}>
              <path d={`M72 ${tops[from]! + 4} V${tops[to]! + HEAD - 4}`} stroke={c('hair')} strokeWidth="2" />
              <text
                x="62"
                y={(tops[from]! + tops[to]! + HEAD) / 2}
                style={{ fontSize: 13 }}
                fill={c('soft')}
                textAnchor="end"
              >
                {word}
              </text>
            </g>
          ))}
        </svg>
        <chakra.details mt="12px" fontSize="13.5px">
          <chakra.summary cursor="pointer" lineHeight="24px" color="soft">
            The same in numbers
          </chakra.summary>
          {columns.map(column => (
            <chakra.table key={column.name} mt="6px" mb="14px" css={{ borderCollapse: 'collapse' }}>
              <chakra.caption textAlign="left" fontWeight="600">
                {column.name}
              </chakra.caption>
              <tbody>
                {column.steps.map(s => (
                  <chakra.tr key={s.label} borderBottom="1px solid" borderColor="hair2">
                    <chakra.th textAlign="left" fontWeight="400" py="4px" pr="24px" scope="row">
                      {s.label}
                    </chakra.th>
                    <chakra.td textAlign="right" pr="32px" fontWeight="600">
                      {n(s.count)}
                    </chakra.td>
                    <chakra.td color="soft" pr="24px">
                      {s.out?.label}
                    </chakra.td>
                    <chakra.td textAlign="right" pr="24px">
                      {s.out ? n(s.out.count) : ''}
                    </chakra.td>
                    <chakra.td color="soft">{s.out?.lines.join('; ')}</chakra.td>
                  </chakra.tr>
                ))}
              </tbody>
            </chakra.table>
          ))}
        </chakra.details>
        <Text fontSize="12.5px" color="soft" mt="8px">
          Laid out after the PRISMA 2020 statement: records until they are joined, works after it. A work that any
          catalogue gave stands in the first column, with all its records.
        </Text>
      </Box>
    </Box>
  )
}

/** One way of finding, from top to bottom, with what leaves it at its right. */
function Column({ column, tops, heights }: { column: Drawn; tops: number[]; heights: number[] }) {
  return (
    <>
      <Boxed x={MAIN.x} y={8} w={COLUMN} h={HEAD} label={column.name} count={column.found} />
      <path d={`M60 ${8 + HEAD} V${TOP}`} stroke={c('vine')} strokeWidth="2" fill="none" />
      {column.steps.map((s, i) => {
        const y = tops[i]!
        const down = tops[i + 1]
        return (
          <g key={s.label}>
            {down !== undefined && (
              <path d={`M60 ${y + HEAD} V${down}`} stroke={c('vine')} strokeWidth="2" fill="none" />
            )}
            {s.out && (
              <path
                d={`M${MAIN.w} ${y + HEAD / 2} H${SIDE.x}`}
                stroke={c('line')}
                strokeWidth="1.5"
                strokeDasharray="3 4"
                fill="none"
              />
            )}
            <Boxed x={MAIN.x} y={y} w={MAIN.w} h={HEAD} label={s.label} count={s.count} />
            {s.out && (
              <Boxed
                x={SIDE.x}
                y={y}
                w={SIDE.w}
                h={heights[i]!}
                label={s.out.label}
                count={s.out.count}
                lines={s.out.lines}
              />
            )}
          </g>
        )
      })}
    </>
  )
}

/** Letters of a line in a box; a longer one keeps its number. */
const FITS = 40

function Boxed(p: { x: number; y: number; w: number; h: number; label: string; count: number; lines?: string[] }) {
  return (
    <g>
      <rect x={p.x} y={p.y} width={p.w} height={p.h} rx="4" fill={c('surface')} stroke={c('hair')} />
      <text x={p.x + 14} y={p.y + 27} style={{ fontSize: 13.5 }} fill={c('ink')}>
        {p.label}
      </text>
      <text
        x={p.x + p.w - 14}
        y={p.y + 28}
        fontSize="17"
        fontWeight="600"
        textAnchor="end"
        fill={c('ink')}
        style={{ fontFamily: 'var(--chakra-fonts-serif)' }}
      >
        {n(p.count)}
      </text>
      {p.lines?.map((l, i) => (
        <text key={l} x={p.x + 14} y={p.y + HEAD + 6 + i * LINE} style={{ fontSize: 12.5 }} fill={c('soft')}>
          {l.length > FITS ? `${l.slice(0, FITS - 8)}…${/: [\d,]+$/.exec(l)?.[0] ?? ''}` : l}
        </text>
      ))}
    </g>
  )
}
