import { Box } from '@chakra-ui/react'
import { shortDay } from '../../frame/due'
import { addDays, format, parseISO } from 'date-fns'
import { createContext, useContext, type ReactNode } from 'react'
import { daysBetween } from '../../../core/bib/dates'
import type { Loan } from '../../../core/schema/api'

interface Days {
  today: string
  /** Where a day stands, in percent of the width. */
  at: (iso: string) => number
  weeks: Date[]
}
const DaysContext = createContext<Days | undefined>(undefined)
const useDays = (): Days => useContext(DaysContext)!

const iso = (d: Date): string => format(d, 'yyyy-MM-dd')

/** Days that are shown before today and after it at least, and at most. */
const BEFORE = [14, 45] as const
const AFTER = [35, 90] as const
const within = (n: number, [least, most]: readonly [number, number]): number => Math.max(least, Math.min(most, n))

/** The days across which requests stand: from when the oldest was sent to when the last is due. */
export function AskedDays({ today, loans, children }: { today: string; loans: readonly Loan[]; children: ReactNode }) {
  const back = Math.max(0, ...loans.map(l => daysBetween(l.asked.slice(0, 10), today) + 7))
  const ahead = Math.max(0, ...loans.map(l => daysBetween(today, l.inquiry.due ?? l.due ?? l.when?.to ?? today) + 5))
  const [before, after] = [within(back, BEFORE), within(ahead, AFTER)]
  const span = before + after
  const first = addDays(parseISO(today), -before)
  const step = span > 80 ? 14 : 7
  const monday = addDays(first, (8 - (first.getDay() || 7)) % 7)
  const days: Days = {
    today,
    at: day => (Math.max(0, Math.min(span, daysBetween(iso(first), day.slice(0, 10)))) / span) * 100,
    weeks: Array.from({ length: Math.ceil(span / step) }, (_, i) => addDays(monday, i * step)).filter(
      d => daysBetween(iso(first), iso(d)) < span,
    ),
  }
  return <DaysContext value={days}>{children}</DaysContext>
}

/** The head of the days. */
export function DaysHead() {
  const { today, at, weeks } = useDays()
  return (
    <Box className="asked-days" h="20px" aria-hidden="true">
      {weeks
        .filter(d => Math.abs(at(iso(d)) - at(today)) > 8 && at(iso(d)) > 3 && at(iso(d)) < 97)
        .map(d => (
          <span key={iso(d)} className="asked-word" data-mid style={{ left: `${at(iso(d))}%` }}>
            {shortDay(iso(d))}
          </span>
        ))}
      <b className="asked-word" data-mid style={{ left: `${at(today)}%` }}>
        today
      </b>
    </Box>
  )
}

/** The lines of weeks, of today, and of the day on which an inquiry is due, with the words for it. */
export function DaysCell({
  due,
  neededBy,
  words,
  children,
}: Partial<Loan['inquiry']> & { words?: boolean; children?: ReactNode }) {
  const { today, at, weeks } = useDays()
  return (
    <Box className="asked-days">
      {weeks.map(d => (
        <i key={iso(d)} style={{ left: `${at(iso(d))}%` }} />
      ))}
      <i data-today style={{ left: `${at(today)}%` }} />
      {due && <i data-due style={{ left: `${at(due)}%` }} />}
      {words && neededBy && neededBy > today && at(due ?? neededBy) - at(neededBy) > 2 && (
        <span className="asked-word" data-needed data-before style={{ right: `calc(${100 - at(neededBy)}% - 3px)` }}>
          needed by {shortDay(neededBy)}
        </span>
      )}
      {words && due && (
        <span className="asked-word" data-due style={{ left: `calc(${at(due)}% + 6px)` }}>
          due {shortDay(due)}
        </span>
      )}
      {children}
    </Box>
  )
}

/** A stretch from one day to another. */
function Stretch({ from, to, kind }: { from: string; to: string; kind: string }) {
  const { at } = useDays()
  return (
    <span
      className="asked-stretch"
      data-kind={kind}
      style={{ left: `${at(from)}%`, width: `${Math.max(0.6, at(to) - at(from))}%` }}
    />
  )
}

function Word({
  on,
  kind,
  before = false,
  children,
}: {
  on: string
  kind: string
  before?: boolean
  children: ReactNode
}) {
  const { at } = useDays()
  const style = before ? { right: `calc(${100 - at(on)}% + 6px)` } : { left: `calc(${at(on)}% + 6px)` }
  return (
    <span className="asked-word" data-kind={kind} data-before={before || undefined} style={style}>
      {children}
    </span>
  )
}

/** How a request went and goes on, across the days. */
export function LoanDays({ loan: l }: { loan: Loan }) {
  const { today, at } = useDays()
  const since = l.since.slice(0, 10)
  const asked = l.asked.slice(0, 10)
  const ready = l.events.find(e => e.what === 'ready')?.at.slice(0, 10)
  const isOver = l.state === 'refused' || l.state === 'given up'
  const wayTo = ready ?? (isOver || l.state === 'asked back' ? since : today)
  const with_ = l.events.find(e => e.what === 'taken')?.at.slice(0, 10)
  // what was sent long ago begins beyond the edge
  const isShown = at(asked) > 8
  return (
    <DaysCell due={l.inquiry.due}>
      <Stretch from={asked} to={wayTo} kind="way" />
      {isShown && (
        <Word on={asked} kind="soft" before>
          {l.state === 'not sent' ? 'asked' : 'sent'} {asked === today ? 'today' : shortDay(asked)}
        </Word>
      )}
      {l.state === 'asked back' && <Stretch from={since} to={today} kind="yours" />}
      {l.when && <Stretch from={l.when.from} to={l.when.to} kind="band" />}
      {l.state === 'ready' && ready && l.until && (
        <>
          <Stretch from={ready} to={l.until} kind="kept" />
          <Word on={l.until} kind="vine">
            until {shortDay(l.until)}
          </Word>
        </>
      )}
      {l.state === 'with you' && with_ && l.due && (
        <>
          <Stretch from={with_} to={l.due} kind="kept" />
          <Word on={l.due} kind={l.due < today ? 'rust' : 'vine'}>
            back by {shortDay(l.due)}
          </Word>
        </>
      )}
      {isOver && (
        <>
          <span className="asked-stretch" data-kind="cut" style={{ left: `${at(since)}%` }} />
          <Word on={since} kind={l.again ? 'amber' : l.state === 'refused' ? 'rust' : 'soft'}>
            {l.again ? 'sent back' : l.state} {shortDay(since)}
          </Word>
        </>
      )}
      {l.inquiry.neededBy && !isOver && !['ready', 'with you', 'ended'].includes(l.state) && (
        <span className="needed-mark" style={{ left: `${at(l.inquiry.neededBy)}%` }} />
      )}
    </DaysCell>
  )
}
