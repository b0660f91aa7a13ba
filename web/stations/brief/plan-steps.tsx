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
  const { today, due } = p
  const lacking = p.reading.filter(r => r.copy === null && r.pages > 0).length
  const span = due ? Math.max(1, daysBetween(today, due)) + 1 : 1
  const at = (day: string) => (Math.max(0, Math.min(span, daysBetween(today, day))) / span) * 100
  const isAhead = due !== null && due >= today
  const aside =
    !isAhead || p.plan.aDay === null || !p.plan.minutes
      ? undefined
      : p.plan.lastStart
        ? 'each as late as it can be'
        : `at ${sayMinutes(p.plan.aDay)} a day`
  return (
    <Box as="section" aria-label="The steps, back from the due date" mb="28px">
      <Heading aside={aside}>What is left</Heading>
      <chakra.ul className="plan-steps" role="list">
        {p.plan.steps.map(s => (
          <Row
            key={s.step}
            name={NAMES[s.step]}
            to={`/inquiries/${inquiry.id}/${STATIONS[s.step]}`}
            what={said(s.step, p, inquiry)}
            minutes={s.minutes}
            days={
              isAhead && (
                <Days today={at(today)} due={at(due)} isFirst={s.step === 'search' && (!s.begin || at(s.begin) > 30)}>
                  {s.begin && s.end && (
                    <Bar from={at(s.begin)} to={at(s.end) + 100 / span}>
                      {s.begin === today ? 'begin today' : `begin by ${shortDay(s.begin)}`}
                    </Bar>
                  )}
                </Days>
              )
            }
          >
            {s.step === 'read' && p.neededBy && lacking > 0 && (
              <Row
                name="Texts"
                to={`/inquiries/${inquiry.id}/obtain`}
                what={`${some(lacking, 'text is', 'texts are')} not in hand yet; the last is needed by ${weekDay(p.neededBy)}`}
                days={
                  isAhead && (
                    <Days today={at(today)} due={at(due)}>
                      <i className="plan-needed" style={{ left: `${at(p.neededBy)}%` }} />
                    </Days>
                  )
                }
              />
            )}
          </Row>
        ))}
        {isAhead && p.plan.lastDay && (
          <Row
            name="Look over"
            to={`/inquiries/${inquiry.id}/compose/hand-in`}
            what={`${some(p.rhythm.spare, 'spare day')}, and handing in on ${weekDay(due)}`}
            days={
              <Days
                today={at(today)}
                due={at(due)}
                word={{ said: `due ${shortDay(due)}`, before: at(p.plan.lastDay) + 100 / span }}
              >
                {p.rhythm.spare > 0 && p.plan.lastDay >= today && (
                  <Bar from={at(p.plan.lastDay) + 100 / span} to={at(due)} isSpare />
                )}
              </Days>
            }
          />
        )}
      </chakra.ul>
    </Box>
  )
}

function Row({
  name,
  to,
  what,
  minutes,
  days,
  children,
}: {
  name: string
  to: string
  what: string
  minutes?: number
  days: ReactNode
  children?: ReactNode
}) {
  return (
    <>
      {children}
      <li data-done={minutes === 0 || undefined}>
        <Link to={to}>{name}</Link>
        <span>
          {minutes ? <b>{sayMinutes(minutes)}</b> : null} {what}
        </span>
        {days}
      </li>
    </>
  )
}

function Days({
  today,
  due,
  word,
  isFirst,
  children,
}: {
  today: number
  due: number
  word?: { said: string; before: number }
  isFirst?: boolean
  children?: ReactNode
}) {
  return (
    <div className="plan-days">
      <i data-today style={{ left: `${today}%` }} />
      <i data-due style={{ left: `${due}%` }} />
      {isFirst && <span style={{ left: `calc(${today}% + 6px)` }}>today</span>}
      {children}
      {word && (
        <span data-due style={{ right: `calc(${100 - word.before}% + 6px)` }}>
          {word.said}
        </span>
      )}
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
