import { Box, chakra } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { Link } from 'react-router'
import { daysBetween } from '../../../core/bib/dates'
import type { Inquiry, PlanInFull } from '../../../core/schema/api'
import { TYPICAL_PAGES, type Pace, type Step } from '../../../core/write/plan'
import { some } from '../../frame/counted'
import { sayMinutes, shortDay, weekDay } from '../../frame/due'
import { Heading } from '../../frame/parts'

const NAMES: Record<Step['step'], string> = { search: 'Search', sift: 'Sift', read: 'Read', write: 'Write' }
const STATIONS: Record<Step['step'], string> = { search: 'gather', sift: 'sift', read: 'read', write: 'compose' }

/** Each step across the days: between which it has to be done at the latest. */
export function PlanSteps({ plan: p, inquiry }: { plan: PlanInFull; inquiry: Inquiry }) {
  const { today, due, neededBy } = p
  const { steps, aDay, lastDay, lastStart, minutes } = p.plan
  const lacking = p.reading.filter(r => r.copy === null && r.pages > 0).length
  const isAhead = due !== null && due >= today
  const span = isAhead ? daysBetween(today, due) + 1 : 1
  const at = (day: string) => (Math.max(0, Math.min(span, daysBetween(today, day))) / span) * 100
  /** Where a day ends. */
  const end = (day: string) => at(day) + 100 / span
  const onDays = (inside?: ReactNode) => isAhead && <Days due={at(due)}>{inside}</Days>
  const rows = steps.map(s => ({
    ...{ key: s.step, name: NAMES[s.step], to: STATIONS[s.step], what: said(s.step, p, inquiry), minutes: s.minutes },
    days: onDays(
      <>
        {s.step === 'search' && (!s.begin || at(s.begin) > 30) && <span data-today>today</span>}
        {s.begin && s.end && (
          <Bar from={at(s.begin)} to={end(s.end)}>
            {s.begin === today ? 'begin today' : `begin by ${shortDay(s.begin)}`}
          </Bar>
        )}
      </>,
    ),
  }))
  const texts = neededBy &&
    lacking > 0 && {
      ...{ key: 'texts', name: 'Texts', to: 'obtain', minutes: undefined },
      what: `${some(lacking, 'text is', 'texts are')} not in hand yet; the last ${neededBy < today ? 'was' : 'is'} needed by ${weekDay(neededBy)}`,
      days: onDays(<span className="needed-mark" style={{ left: `${at(neededBy)}%` }} />),
    }
  const over = isAhead &&
    lastDay && {
      ...{ key: 'over', name: 'Look over', to: 'compose/hand-in', minutes: undefined },
      what: `${some(p.rhythm.spare, 'spare day')}, and handing in on ${weekDay(due)}`,
      days: onDays(
        <>
          {p.rhythm.spare > 0 && lastDay >= today && <Bar from={end(lastDay)} to={at(due)} isSpare />}
          <span data-due style={{ right: `calc(${100 - end(lastDay)}% + 6px)` }}>
            due {shortDay(due)}
          </span>
        </>,
      ),
    }
  const reads = rows.findIndex(r => r.key === 'read')
  const all = [...rows.slice(0, reads), texts, ...rows.slice(reads), over].filter(
    r => r !== false && r !== null && r !== '',
  )
  const aside = lastStart ? 'each as late as it can be' : aDay !== null && `at ${sayMinutes(aDay)} a day`
  return (
    <Box as="section" aria-label="The steps, back from the due date" mb="28px">
      <Heading aside={isAhead && minutes > 0 && aside}>What is left</Heading>
      <chakra.ul className="plan-steps" role="list">
        {all.map(r => (
          <li key={r.key} data-done={r.minutes === 0 || undefined}>
            <Link to={`/inquiries/${inquiry.id}/${r.to}`}>{r.name}</Link>
            <span>
              {r.minutes ? <b>{sayMinutes(r.minutes)}</b> : null} {r.what}
            </span>
            {r.days}
          </li>
        ))}
      </chakra.ul>
    </Box>
  )
}

/** The days from today on, with the line of the due date. */
function Days({ due, children }: { due: number; children: ReactNode }) {
  return (
    <div className="plan-days">
      <i data-today />
      <i data-due style={{ left: `${due}%` }} />
      {children}
    </div>
  )
}

function Bar({ from, to, isSpare, children }: { from: number; to: number; isSpare?: boolean; children?: ReactNode }) {
  // words stand where there is room for them
  const isRight = from < 30
  return (
    <>
      <span
        className="plan-bar"
        data-spare={isSpare || undefined}
        style={{ left: `${from}%`, width: `${Math.max(0.8, to - from)}%` }}
      />
      {children && (
        <span style={isRight ? { left: `calc(${to}% + 6px)` } : { right: `calc(${100 - from}% + 6px)` }}>
          {children}
        </span>
      )}
    </>
  )
}

/** What a step's minutes are made of. */
function said(step: Step['step'], p: PlanInFull, { numbers }: Inquiry): string {
  if (step === 'search')
    return numbers.pool ? `done so far: ${some(numbers.pool, 'work')} in the pool` : 'a first search'
  if (step === 'sift')
    return numbers.unread
      ? `${some(numbers.unread, 'work')} to decide, ${each(p.paces.decision)}`
      : 'nothing is left to decide'
  const { missing } = p.plan
  const more = missing ? (p.reading.length ? `, ${missing} of them not kept yet` : ', none of them kept yet') : ''
  if (step === 'read') {
    const texts = p.reading.filter(r => r.pages > 0)
    const pages = texts.reduce((n, r) => n + r.pages, 0)
    if (!texts.length && !missing) return 'everything is read'
    return `${some(texts.length + missing, 'text')}${more}; ${some(pages + missing * TYPICAL_PAGES, 'page')}, ${each(p.paces.page)}`
  }
  const left = p.reading.filter(r => r.write > 0).length + missing
  return left ? `${some(left, 'annotation')}, ${each(p.paces.entry)}` : 'every annotation is written'
}

/** How long one takes, and how that is known. */
export function each({ minutes, from, seen }: Pace): string {
  const said = minutes < 1 ? `${Math.round(minutes * 60)} s each` : `${+minutes.toFixed(1)} min each`
  return `${said}, ${{ said: 'as you say', seen: `as seen of ${seen}`, guessed: 'guessed' }[from]}`
}
