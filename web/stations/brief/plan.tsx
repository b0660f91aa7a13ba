import { Box, chakra, Grid, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { api, type PlanInFull } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { sayMinutes, weekDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'
import { some } from '../../frame/counted'
import { LaterStart } from './later-start'
import { PlanSteps } from './plan-steps'
import { RhythmForm } from './rhythm-form'
import { ToRead } from './to-read'

/** What is left until the inquiry is due, back from that day. */
export function PlanView() {
  const { inquiry, mayWrite } = useHere()
  const plan = useOf(inquiry.id, api.plan)
  if (plan.isPending) return <Waiting what="Reckoning what is left" />
  if (plan.isError) return <Failed error={plan.error} again={() => void plan.refetch()} />
  const p = plan.data
  return (
    <Box maxW="1180px" mx="auto" px={{ base: '12px', md: '24px' }} py="24px">
      <Verdict plan={p} brief={`/inquiries/${inquiry.id}/brief`} />
      <Grid templateColumns={{ base: 'minmax(0, 1fr)', lg: 'minmax(0, 1fr) 300px' }} gap="28px 40px" mt="20px">
        <Box minW="0">
          <PlanSteps plan={p} inquiry={inquiry} />
          {p.plan.later.length > 1 && p.plan.minutes > 0 && <LaterStart plan={p} />}
          <ToRead plan={p} />
        </Box>
        <RhythmForm key={JSON.stringify(p.rhythm)} plan={p} disabled={!mayWrite} />
      </Grid>
    </Box>
  )
}

/** Whether it can be done in time, in two sentences. */
function Verdict({ plan: p, brief }: { plan: PlanInFull; brief: string }) {
  const { lead, then, isLate } = verdictOf(p)
  return (
    <>
      <chakra.h1
        fontFamily="serif"
        fontSize="24px"
        lineHeight="32px"
        fontWeight="600"
        color={isLate ? 'rust' : undefined}
      >
        {lead}
      </chakra.h1>
      <Text color="soft" maxW="78ch">
        {then}{' '}
        {!p.due && (
          <Link className="plain-link" to={brief}>
            Give it a due date
          </Link>
        )}
      </Text>
    </>
  )
}

/** @returns what the eye meets first, and what follows from it */
export function verdictOf({ plan: p, today, due, rhythm, reading }: PlanInFull): {
  lead: string
  then: string
  isLate: boolean
} {
  const left = sayMinutes(p.minutes)
  const own = sayMinutes(rhythm.minutesADay)
  const asked = reading.length + p.missing
  if (!p.minutes) return { lead: 'All that was reckoned is done', then: spareWords(p.lastDay, today), isLate: false }
  if (!due || !p.lastDay)
    return {
      lead: `${left} of work are left`,
      then: p.doneBy ? `At ${own} a day it is done by ${weekDay(p.doneBy)}, begun today.` : '',
      isLate: false,
    }
  if (p.aDay === null)
    return {
      lead: `No day of work is left, and ${left} of work are`,
      then: `The last day before ${weekDay(due)} was ${weekDay(p.lastDay)}. Fewer spare days or free days give some back; a later date can only be asked for.`,
      isLate: true,
    }
  const days = `${some(p.days, 'day')} of work until ${weekDay(p.lastDay)}`
  if (p.lastStart)
    return {
      lead: `${sayMinutes(p.aDay)} a day will do`,
      then: `${left} are left, and ${days}. At your ${own} a day it can begin on ${weekDay(p.lastStart)} at the latest${p.doneBy ? `; begun today, it is done by ${weekDay(p.doneBy)}` : ''}.`,
      isLate: false,
    }
  return {
    lead: `It asks for ${sayMinutes(p.aDay)} a day from today`,
    then: `${left} are left, and ${days}. At your ${own} a day ${p.reached} of ${some(asked, 'entry', 'entries')} can be done until then${p.doneBy ? `, and all of them by ${weekDay(p.doneBy)}` : ''}.`,
    isLate: true,
  }
}
const spareWords = (lastDay: string | null, today: string): string =>
  lastDay && lastDay > today
    ? `What is left is to look it over, after ${weekDay(lastDay)} by your plan, and to hand it in.`
    : 'What is left is to look it over, and to hand it in.'
