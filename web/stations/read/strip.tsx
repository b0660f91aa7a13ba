import { Box, Flex, Text } from '@chakra-ui/react'
import { memo, useState, useSyncExternalStore } from 'react'
import type { Standing } from '../../../core/query/texts'
import type { CopyInParts } from '../../../core/schema/api'
import { Kbd } from '../../frame/parts'
import { keyName, useKeyMap } from '../../frame/keys'
import { colourOf } from '../../frame/strands'
import type { Mark } from './over-pages'
import type { Hits, Reader } from './viewer'

const WIDE = 176
/** Where labels of pages end, headings begin, concepts stand, and passages. */
const [LABELS, HEADINGS, FIRST, BETWEEN, PASSAGES] = [26, 32, 106, 20, 166]
/** More places where all meet are marked at the edge alone. */
const FEW = 16
/** Concepts that have room beside each other. */
const MOST = 3
const COLOURS = ['amber', 'vine', 'grape'] as const
const colour = (name: string): string => `var(--chakra-colors-${name})`

/**
 * The whole text from its first page to its last: its headings, where the concepts of the question stand, what was
 * found and noted, and where one is.
 */
export function Strip({
  reader,
  labels,
  headings,
  concepts,
  standing,
  marks,
  hits,
}: {
  reader: Reader
  labels: readonly string[]
  headings: CopyInParts['headings']
  concepts: readonly { said: string }[]
  standing: Standing | undefined
  marks: readonly Mark[]
  hits: Hits | undefined
}) {
  const map = useKeyMap()
  const [height, setHeight] = useState(480)
  const [watch] = useState(() => new ResizeObserver(([e]) => e && setHeight(e.contentRect.height)))
  const n = labels.length
  const row = Math.max(height, 1) / n
  const y = (page: number, at: number) => (page - 1 + at) * row
  const shown = concepts.slice(0, MOST)
  const every = Math.max(1, Math.ceil(15 / row))
  const rows = labels.flatMap((label, i) => (i % every ? [] : [{ label, i }]))
  const titled = headingsByRow(headings, every, n)
  const found = hits?.byPage.reduce((a, b) => a + b, 0) ?? 0
  return (
    <Flex
      direction="column"
      w="192px"
      flex="none"
      display={{ base: 'none', lg: 'flex' }}
      borderRight="1px solid"
      borderColor="hair"
      px="8px"
      pt="8px"
      pb="10px"
      minH="0"
      fontSize="12px"
      lineHeight="16px"
    >
      {shown.length > 0 && standing && (
        <Box mb="6px">
          {shown.map((c, k) => (
            <Flex key={c.said} gap="6px" align="center">
              <svg width="14" height="8" aria-hidden="true">
                <path d={tick(k, 3, 4, 9)} stroke={colour(COLOURS[k]!)} strokeWidth="2" />
              </svg>
              <Text truncate title={c.said}>
                {c.said}
              </Text>
              <Text color="soft">{standing.each[k]?.length ?? 0}</Text>
            </Flex>
          ))}
        </Box>
      )}
      <Box
        ref={(el: HTMLDivElement | null) => {
          if (!el) return
          watch.observe(el)
          return () => watch.unobserve(el)
        }}
        flex="1"
        minH="0"
        position="relative"
        cursor="pointer"
        onClick={e => {
          const at = ((e.clientY - e.currentTarget.getBoundingClientRect().top) / height) * n
          const page = Math.min(n, Math.floor(at) + 1)
          reader.go(page, (at - page + 1) * reader.sizeOf(page).height)
        }}
      >
        <svg
          width={WIDE}
          height={height}
          role="img"
          aria-label={`The text from page ${labels[0] ?? ''} to ${labels.at(-1) ?? ''}`}
          style={{ position: 'absolute', inset: 0 }}
        >
          {rows.map(({ label, i }) => (
            <text key={i} x={LABELS} y={i * row + 11} textAnchor="end" className="strip-label">
              {label.length > 5 ? `${label.slice(0, 4)}…` : label}
            </text>
          ))}
          {titled.map(([i, title]) => (
            <text key={i} x={HEADINGS} y={i * row + 11} className="strip-heading">
              {title.length > 12 ? `${title.slice(0, 11)}…` : title}
              <title>{title}</title>
            </text>
          ))}
          <path
            d={rows.map(({ i }) => `M${FIRST - 6} ${i * row}H${PASSAGES + 8}`).join('')}
            stroke={colour('hair')}
            strokeWidth="1"
          />
          {standing && <Concepts {...{ standing, row }} />}
          <Passages marks={marks} reader={reader} y={y} />
          {(hits?.byPage ?? []).map(
            (count, i) =>
              count > 0 && (
                <path key={i} d={`M${WIDE} ${y(i + 1, 0.5) - 4}v8l-6 -4z`} fill={colour('ink')}>
                  <title>{`page ${labels[i] ?? i + 1}: found ${count}`}</title>
                </path>
              ),
          )}
          <Here reader={reader} row={row} />
        </svg>
      </Box>
      <Box mt="8px" color="soft">
        {standing && standing.meet.length > 0 && (
          <Flex justify="space-between" align="center">
            <Text>
              <b>{shown.length === 2 ? 'both' : `all ${shown.length}`} meet</b>: {standing.meet.length}
            </Text>
            <Kbd>{keyName(map.meet)}</Kbd>
          </Flex>
        )}
        <Text>
          {[
            found > 0 && `found ${found}`,
            marks.length > 0 && `${marks.length} ${marks.length === 1 ? 'passage' : 'passages'}`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </Text>
      </Box>
    </Flex>
  )
}

/** Where each concept stands, and where all meet: drawn once, however much of it there is. */
const Concepts = memo(function Concepts({ standing, row }: { standing: Standing; row: number }) {
  const each = standing.each.slice(0, MOST)
  // what stands within half a pixel is one
  const heights = (places: Standing['meet']) => [
    ...new Set(places.map(p => Math.round((p.page - 1 + p.at) * row * 2) / 2)),
  ]
  const across = FIRST + (each.length - 1) * BETWEEN + 12
  // where they meet often, marks across would hide what they mark
  const meet = (y: number) =>
    standing.meet.length > FEW ? `M${FIRST - 5} ${y}h5` : `M${FIRST - 3} ${y - 3}v6m0 -3H${across}m0 -3v6`
  return (
    <>
      {each.map((places, k) => (
        <path
          key={k}
          d={heights(places)
            .map(y => tick(k, FIRST + k * BETWEEN, y, 10))
            .join('')}
          stroke={colour(COLOURS[k]!)}
          strokeWidth="1.8"
          strokeDasharray={k === 2 ? '3 2' : undefined}
        />
      ))}
      <path d={heights(standing.meet).map(meet).join('')} stroke={colour('ink')} strokeWidth="1" fill="none" />
    </>
  )
})

/** A place of a concept: each has a slant of its own beside its colour. */
const tick = (k: number, x: number, y: number, wide: number): string =>
  `M${x} ${y + (k === 1 ? 1.5 : 0)}l${wide} ${k === 1 ? -3 : 0}`

/** The first heading on each row; of headings close to each other the higher one. */
function headingsByRow(headings: CopyInParts['headings'], every: number, pages: number): [row: number, text: string][] {
  const by = new Map<number, { text: string; level: number }>()
  for (const h of headings) {
    const row = Math.min(pages - 1, Math.floor((h.page - 1) / every) * every)
    const there = by.get(row)
    if (!there || h.level < there.level) by.set(row, h)
  }
  return [...by].map(([row, { text }]) => [row, text.replace(/^[\dIVX.]+\s+/, '')])
}

function Passages({
  marks,
  reader,
  y,
}: {
  marks: readonly Mark[]
  reader: Reader
  y: (page: number, at: number) => number
}) {
  return marks.map(m => {
    const b = m.boxes[0]
    if (!b) return null
    const at = y(b.page, Math.min(0.98, b.y / reader.sizeOf(b.page).height))
    return (
      <rect
        key={m.key}
        {...{ x: PASSAGES - 5, y: at - 2.5, width: 11, height: 5, rx: 1 }}
        fill={colour('paper')}
        stroke={colour(m.strand === undefined ? 'slate' : colourOf(m.strand))}
        strokeWidth="1.4"
      />
    )
  })
}

/** What of the text is on the screen. */
function Here({ reader, row }: { reader: Reader; row: number }) {
  const { page } = useSyncExternalStore(reader.subscribe, reader.view)
  const seen = reader.seen()
  if (!seen) return <rect x="1" y={(page - 1) * row} width={WIDE - 2} height={row} className="strip-here" />
  const high = Math.max(8, (seen.to - seen.from) * row)
  return <rect x="1" y={seen.from * row} width={WIDE - 2} height={high} rx="3" className="strip-here" />
}
