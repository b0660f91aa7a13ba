import { Box } from '@chakra-ui/react'
import { addDays, format, parseISO } from 'date-fns'
import { createContext, useContext, useMemo, type ReactNode } from 'react'
import { daysBetween } from '../../../core/bib/dates'

/** Mark, work, time, best way. */
export const COLUMNS = { base: '20px 1fr 96px', lg: '24px minmax(280px, 1.25fr) minmax(220px, 1.3fr) 250px' }

interface Scale {
  today: string
  due: string | null
  /** Where a day stands, as a share of the width in percent. */
  at: (iso: string) => string
  ticks: Date[]
}
const ScaleContext = createContext<Scale | undefined>(undefined)
export const useScale = (): Scale => useContext(ScaleContext)!

const iso = (d: Date): string => format(d, 'yyyy-MM-dd')
/** Days that are shown where nothing is due, and after the due date. */
const SPAN = 30
const AFTER = 5

/** Days that two words in the head stand apart at least, as a share of all. */
const APART = 0.14
const DUE_APART = 0.11

/** The days across which works stand: from today to a while after the due date. */
export function Time({ today, due, children }: { today: string; due: string | null; children: ReactNode }) {
  const scale = useMemo((): Scale => {
    const span = due ? Math.max(14, daysBetween(today, due) + AFTER) : SPAN
    const share = (day: string) => Math.max(0, Math.min(span, daysBetween(today, day))) / span
    const weeks = Math.ceil((span * APART) / 7)
    return {
      ...{ today, due },
      at: day => `${share(day) * 100}%`,
      ticks: Array.from({ length: Math.floor(span / 7 / weeks) }, (_, i) =>
        addDays(parseISO(today), (i + 1) * 7 * weeks),
      ).filter(d => share(iso(d)) < 1 - APART / 2 && (!due || Math.abs(share(iso(d)) - share(due)) > DUE_APART)),
    }
  }, [today, due])
  return <ScaleContext value={scale}>{children}</ScaleContext>
}

/** The head of the time column. */
export function TimeHead() {
  const { due, at, ticks } = useScale()
  return (
    <Box position="relative" h="18px" display={{ base: 'none', lg: 'block' }}>
      <Box position="absolute" left="0" color="ink" fontWeight="600" whiteSpace="nowrap">
        today
      </Box>
      {ticks.map(d => (
        <Box key={iso(d)} position="absolute" left={at(iso(d))} transform="translateX(-50%)" whiteSpace="nowrap">
          {format(d, 'd MMM')}
        </Box>
      ))}
      {due && (
        <Box position="absolute" left={at(due)} transform="translateX(-50%)" color="rust" fontWeight="600">
          due {format(parseISO(due), 'd')}
        </Box>
      )}
    </Box>
  )
}

/** A stretch of the time column with its lines, and what stands in it. */
export function TimeCell({ children }: { children?: ReactNode }) {
  const { due, at, ticks } = useScale()
  return (
    <Box position="relative" alignSelf="stretch" minH="20px" display={{ base: 'none', lg: 'block' }}>
      <Box position="absolute" top="0" bottom="0" left="0" w="1px" bg="ink" />
      {ticks.map(d => (
        <Box key={iso(d)} position="absolute" top="0" bottom="0" left={at(iso(d))} w="1px" bg="hair2" />
      ))}
      {due && <Box position="absolute" top="0" bottom="0" left={at(due)} w="2px" bg="rust" />}
      {children}
    </Box>
  )
}

export type BarKind = 'hand' | 'today' | 'wait' | 'maybe' | 'shut' | 'none'

const LOOKS: Record<BarKind, object> = {
  hand: { bg: 'vine.solid', color: 'white' },
  today: { bg: 'vine.soft', color: 'vine', boxShadow: 'inset 3px 0 0 {colors.vine}' },
  wait: { bg: 'grape.soft', color: 'grape', border: '1px solid', borderColor: 'grape.line' },
  maybe: { bg: 'paper', color: 'amber', border: '1px dashed', borderColor: 'amber' },
  shut: { bg: 'transparent', color: 'rust' },
  none: { bg: 'transparent', color: 'soft' },
}

/** Words that stand in the middle of a row, on a ground. */
const WORDS = {
  position: 'absolute',
  top: '50%',
  transform: 'translateY(-50%)',
  borderRadius: 'sm',
  px: '8px',
  fontSize: '12.5px',
  lineHeight: '20px',
  whiteSpace: 'nowrap',
} as const

/** What comes most likely between two days: words on a hatched ground. */
export function Band({ from, to, children }: { from: string; to: string; children: ReactNode }) {
  const { at } = useScale()
  // near the right edge words need more room than their days
  const isLate = parseFloat(at(from)) > 60
  return (
    <Box
      {...WORDS}
      {...(isLate ? { right: `calc(100% - ${at(to)})` } : { left: at(from) })}
      minW={`calc(${at(to)} - ${at(from)})`}
      color="grape"
      bgImage="repeating-linear-gradient(90deg, {colors.grape.soft} 0 8px, {colors.tint.c} 8px 16px)"
    >
      {children}
    </Box>
  )
}

/** What stands on a day: words on a ground of their kind. */
export function Bar({ on, kind, children }: { on: string; kind: BarKind; children: ReactNode }) {
  const { at, today } = useScale()
  // near the right edge words stand to the left of their day
  const isLate = parseFloat(at(on)) > 60
  return (
    <Box
      {...WORDS}
      {...(isLate ? { right: `calc(100% - ${at(on)})` } : { left: on <= today ? '1px' : at(on) })}
      maxW="100%"
      overflow="hidden"
      textOverflow="ellipsis"
      {...LOOKS[kind]}
    >
      {children}
    </Box>
  )
}
