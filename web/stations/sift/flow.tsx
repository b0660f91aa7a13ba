import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useRef } from 'react'
import type { Flow, Reasoned } from '../../../core/sift/flow'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'

const n = (x: number) => x.toLocaleString('en')
const c = (name: string) => `var(--chakra-colors-${name})`
const total = (list: Reasoned[]) => list.reduce((t, r) => t + r.works, 0)

interface Step {
  label: string
  count: number
  /** What leaves the way here, with its reasons. */
  out?: { label: string; count: number; lines: string[] } | undefined
}

/** The steps of the way, each with what leaves it there. */
function stepsOf(f: Flow): Step[] {
  const reasons = (list: Reasoned[]) => [
    ...list.slice(0, 4).map(r => `${r.reason}: ${n(r.works)}`),
    ...(list.length > 4 ? [`other reasons: ${n(total(list.slice(4)))}`] : []),
  ]
  const found = f.found.catalogues + f.found.files + f.found.trails
  const past = f.works - f.unread - f.later - total(f.asideByTitle)
  return [
    { label: 'Records found', count: found, out: { label: 'Not brought into the pool', count: f.left, lines: [] } },
    {
      label: 'Records in the pool',
      count: found - f.left,
      out: { label: 'Describe a work already there', count: f.joined, lines: [] },
    },
    {
      label: 'Works to sift',
      count: f.works,
      out: {
        label: 'Set aside by title',
        count: total(f.asideByTitle),
        lines: [`not yet read: ${n(f.unread)}`, ...(f.later ? [`left for later: ${n(f.later)}`] : [])],
      },
    },
    {
      label: 'Works read by abstract, or waiting for it',
      count: past,
      out: {
        label: 'Set aside by abstract',
        count: total(f.asideByAbstract),
        lines: [
          ...(f.awaitingAbstract ? [`still waiting: ${n(f.awaitingAbstract)}`] : []),
          ...reasons(f.asideByAbstract),
        ],
      },
    },
    { label: 'Texts sought', count: f.sought, out: { label: 'Not in hand yet', count: f.notInHand, lines: [] } },
    {
      label: 'Texts in hand',
      count: f.inHand,
      out: {
        label: 'Set aside by text',
        count: total(f.asideByText),
        lines: [...(f.awaitingText ? [`still to be decided: ${n(f.awaitingText)}`] : []), ...reasons(f.asideByText)],
      },
    },
    { label: 'Kept by their text', count: f.keptByText },
  ]
}

const W = 920
const MAIN = { x: 150, w: 330 }
const SIDE = { x: 580, w: 330 }
const HEAD = 44
const LINE = 17

/** The flow from what was found to what is kept, after the PRISMA 2020 statement; live, and always adding up. */
export function FlowView() {
  const { inquiry } = useHere()
  const flow = useOf<Flow>(inquiry.id, '/flow')
  const svg = useRef<SVGSVGElement>(null)
  if (flow.isPending) return <Waiting what="Counting" />
  if (flow.isError) return <Failed error={flow.error} again={() => void flow.refetch()} />
  const steps = stepsOf(flow.data)
  const heights = steps.map(s =>
    Math.max(HEAD, HEAD + (s.out?.lines.length ?? 0) * LINE + (s.out?.lines.length ? 6 : 0)),
  )
  const tops = heights.map((_, i) => 70 + heights.slice(0, i).reduce((t, h) => t + h + 18, 0))
  const height = tops.at(-1)! + heights.at(-1)! + 12
  const { found } = flow.data
  const save = () => {
    const copy = svg.current!.cloneNode(true) as SVGSVGElement
    // colours are the page's own; a file has to carry them
    const style = getComputedStyle(document.documentElement)
    const text = new XMLSerializer()
      .serializeToString(copy)
      .replace(/var\((--chakra-[\w-]+)\)/g, (_, name: string) =>
        style.getPropertyValue(name).trim().replaceAll('"', "'"),
      )
    const link = document.createElement('a')
    link.href = URL.createObjectURL(new Blob([text], { type: 'image/svg+xml' }))
    link.download = 'flow.svg'
    link.click()
    URL.revokeObjectURL(link.href)
  }
  const box = (x: number, y: number, w: number, h: number, label: string, count: number, lines: string[] = []) => (
    <g>
      <rect x={x} y={y} width={w} height={h} rx="4" fill={c('surface')} stroke={c('hair')} />
      <text x={x + 14} y={y + 27} fontSize="14" fill={c('ink')}>
        {label}
      </text>
      <text
        x={x + w - 14}
        y={y + 28}
        fontSize="17"
        fontWeight="600"
        textAnchor="end"
        fill={c('ink')}
        style={{ fontFamily: 'var(--chakra-fonts-serif)' }}
      >
        {n(count)}
      </text>
      {lines.map((l, i) => (
        <text key={l} x={x + 14} y={y + HEAD + 6 + i * LINE} fontSize="12.5" fill={c('soft')}>
          {l.length > 50 ? `${l.slice(0, 40)}…${/: [\d,]+$/.exec(l)?.[0] ?? ''}` : l}
        </text>
      ))}
    </g>
  )
  return (
    <Box h="full" overflow="auto" px={{ base: '12px', md: '36px' }} py="18px">
      <Flex align="baseline" maxW={`${W}px`} mx="auto" mb="4px" gap="12px">
        <chakra.h1 fontFamily="serif" fontWeight="600" fontSize="21px" lineHeight="28px" flex="1">
          From what was found to what is kept
        </chakra.h1>
        <Button size="xs" variant="outline" bg="surface" onClick={save}>
          Save as SVG
        </Button>
      </Flex>
      <Box maxW={`${W}px`} mx="auto">
        <svg
          ref={svg}
          xmlns="http://www.w3.org/2000/svg"
          viewBox={`0 0 ${W} ${height}`}
          width="100%"
          role="img"
          aria-label="Flow of records and works; the same numbers stand in the table below"
          style={{ fontFamily: 'var(--chakra-fonts-body)' }}
        >
          {box(MAIN.x, 8, MAIN.w, HEAD, 'In catalogues', found.catalogues)}
          {box(
            SIDE.x,
            8,
            SIDE.w,
            HEAD,
            `Other ways: files ${n(found.files)}, trails ${n(found.trails)}`,
            found.files + found.trails,
          )}
          <path d={`M${MAIN.x + 60} ${8 + HEAD} V70`} stroke={c('vine')} strokeWidth="2" fill="none" />
          <path
            d={`M${SIDE.x + 60} ${8 + HEAD} C${SIDE.x + 60} 68 ${MAIN.x + MAIN.w - 40} ${8 + HEAD} ${MAIN.x + MAIN.w - 40} 70`}
            stroke={c('vine')}
            strokeWidth="2"
            fill="none"
          />
          {steps.map((s, i) => {
            const y = tops[i]!
            const down = tops[i + 1]
            return (
              <g key={s.label}>
                {down !== undefined && (
                  <path d={`M${MAIN.x + 60} ${y + HEAD} V${down}`} stroke={c('vine')} strokeWidth="2" fill="none" />
                )}
                {s.out && (
                  <path
                    d={`M${MAIN.x + MAIN.w} ${y + HEAD / 2} H${SIDE.x}`}
                    stroke={c('line')}
                    strokeWidth="1.5"
                    strokeDasharray="3 4"
                    fill="none"
                  />
                )}
                {box(MAIN.x, y, MAIN.w, HEAD, s.label, s.count)}
                {s.out && box(SIDE.x, y, SIDE.w, heights[i]!, s.out.label, s.out.count, s.out.lines)}
              </g>
            )
          })}
          {(
            [
              ['records', 0, 1],
              ['works', 2, 3],
              ['texts', 4, 6],
            ] as const
          ).map(([word, from, to]) => (
            <g key={word}>
              <path d={`M118 ${tops[from]! + 4} V${tops[to]! + HEAD - 4}`} stroke={c('hair')} strokeWidth="2" />
              <text x="104" y={(tops[from]! + tops[to]! + HEAD) / 2} fontSize="13" fill={c('soft')} textAnchor="end">
                {word}
              </text>
            </g>
          ))}
        </svg>
        <chakra.details mt="12px" fontSize="13.5px">
          <chakra.summary cursor="pointer" lineHeight="24px" color="soft">
            The same in numbers
          </chakra.summary>
          <chakra.table mt="6px" css={{ borderCollapse: 'collapse' }}>
            <tbody>
              {steps.map(s => (
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
        </chakra.details>
        <Text fontSize="12.5px" color="soft" mt="8px">
          Laid out after the PRISMA 2020 statement: records until they are joined, works after it.
        </Text>
      </Box>
    </Box>
  )
}
