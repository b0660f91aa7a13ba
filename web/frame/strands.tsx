import { Box, chakra, Flex } from '@chakra-ui/react'
import { useId, useMemo } from 'react'
import { useOf } from '../api/hooks'
import { api, type Strand } from '../../core/schema/api'
import type { WorkLine } from '../../core/sift/line'
import { STRAND_VOICES } from '../../core/write/mark-colours'
import { colour as c } from './colour'
/** Each strand has a pattern and a colour of its own, so that neither has to be told from the other alone. */
const PATTERNS: { d: string; wide?: boolean }[] = [
  { d: 'M-2 2 L2 -2 M0 8 L8 0 M6 10 L10 6' },
  { d: 'M0 2 H8 M0 6 H8' },
  { d: 'M2 0 V8 M6 0 V8' },
  { d: 'M0 4 H8 M4 0 V8' },
  { d: 'M0 6 L2 2 L4 6 L6 2 L8 6' },
  { d: 'M-2 6 L2 10 M0 0 L8 8 M6 -2 L10 2' },
  { d: 'M2 2 h.01 M6 6 h.01 M6 2 h.01 M2 6 h.01', wide: true },
  { d: 'M0 0 L8 8 M8 0 L0 8' },
]

/** The colour of a pattern, as a token. */
export const colourOf = (n: number): string => STRAND_VOICES[n % STRAND_VOICES.length]!

export interface StrandLook extends Strand {
  /** Which pattern it has. */
  n: number
}

/** The strands of an inquiry in their order, each with its pattern. */
export function useStrands(inquiry: number): StrandLook[] {
  const { data } = useOf(inquiry, api.strands)
  return useMemo(() => {
    const ids = (data ?? []).map(s => s.id).sort((a, b) => a - b)
    return (data ?? []).map(s => ({ ...s, n: ids.indexOf(s.id) % PATTERNS.length }))
  }, [data])
}

/** A strand's pattern, to fill something with. */
export function StrandPattern({
  id,
  n,
  size = 8,
  onPaper = false,
}: {
  id: string
  n: number
  /** Of its tile. */
  size?: number
  /** On a page, which is white in the dark, too. */
  onPaper?: boolean
}) {
  const p = PATTERNS[n % PATTERNS.length]!
  return (
    <pattern id={id} width="8" height="8" patternUnits="userSpaceOnUse" patternTransform={`scale(${size / 8})`}>
      <path
        d={p.d}
        stroke={c(onPaper ? `${colourOf(n)}-solid` : colourOf(n))}
        strokeWidth={p.wide ? 2.6 : 1.4}
        strokeLinecap="round"
        fill="none"
      />
    </pattern>
  )
}

/** A strand's pattern as a small patch. */
export function Swatch({ n, width = 18, height = 12 }: { n: number; width?: number; height?: number }) {
  const id = useId()
  return (
    <svg width={width} height={height} aria-hidden="true" style={{ display: 'inline-block', flex: 'none' }}>
      <defs>
        <StrandPattern id={id} n={n} />
      </defs>
      <rect x="0.5" y="0.5" width={width - 1} height={height - 1} rx="2" fill={`url(#${id})`} stroke={c(colourOf(n))} />
    </svg>
  )
}

/** What was said of a work, in a line: its part, its strands, its tags. */
export function SaidOf({ work, strands }: { work: WorkLine; strands: readonly StrandLook[] }) {
  const on = strands.filter(s => work.strands.includes(s.id))
  if (!work.part && !on.length && !work.tags.length && !work.hasNote) return null
  return (
    <Flex gap="10px" mt="2px" fontSize="12.5px" lineHeight="17px" color="soft" wrap="wrap" align="center">
      {work.part && (
        <chakra.span fontWeight="600" color="ink">
          {work.part}
        </chakra.span>
      )}
      {on.map(s => (
        <Flex as="span" key={s.id} align="center" gap="5px">
          <Swatch n={s.n} /> {s.name}
        </Flex>
      ))}
      {work.tags.map(t => (
        <Box as="span" key={t} border="1px dashed" borderColor="line" borderRadius="sm" px="5px">
          {t}
        </Box>
      ))}
      {work.hasNote && <span>with a note</span>}
    </Flex>
  )
}
