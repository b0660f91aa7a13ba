import { Box, Button, Flex, NativeSelect, Stack, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type RoundPlan, type WalkedRound } from '../../../core/schema/api'
import { BUDGET, MOST_CALLS, type Scope } from '../../../core/schema/api/trace'
import type { Forecast } from '../../../core/trails/rounds'
import { useChange, useOf } from '../../api/hooks'
import { FormDialog } from '../../frame/form'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay, JobMeter } from '../../frame/job-meter'
import { Failed, Notice, tell, tellError, Tick, Waiting } from '../../frame/parts'
import { useForecast, type FieldHandle } from './use-field'

const n = (x: number): string => x.toLocaleString('en')
const count = (x: number, one: string, many = `${one}s`): string => `${n(x)} ${x === 1 ? one : many}`

export interface Meant {
  scope: Scope
  of?: number | undefined
}

/** How a round is called. */
export const roundName = (round: Pick<WalkedRound, 'n' | 'isStanding'>): string =>
  round.n !== null ? `round ${round.n}` : round.isStanding ? 'a standing trail' : 'a look at one work'

/** How far a round is; what is left of one that was stopped or failed. */
export function RoundStatus({
  rounds,
  lackingOf,
}: {
  rounds: readonly WalkedRound[]
  /** How many works that one lacks a round met first. */
  lackingOf: (round: number) => number
}) {
  const { inquiry, jobs, mayWrite } = useHere()
  const walkOn = useChange(inquiry.id, api.walkOn, (round: number) => ({ params: { round } }))
  const job = jobs.findLast(j => j.payload.round !== undefined)
  if (job && isUnderWay(job)) {
    const { done = 0, of = 0, found = 0, calls = 0, comparing } = job.progress as Partial<Record<string, number>>
    const said = comparing
      ? 'Comparing with works of the same fields and years'
      : of
        ? `Walking: ${n(done)} of ${count(of, 'trail')}, ${n(found)} found, ${count(calls, 'call')}`
        : 'The round waits for its turn'
    return (
      <Flex align="center" gap="12px" fontSize="13px" role="status" py="6px">
        <JobMeter job={job} said={said} share={of ? done / of : 0} voice="grape" label="Trails walked" />
      </Flex>
    )
  }
  const left = rounds.findLast(r => r.left > 0)
  if (!left) {
    const walked = job?.state === 'done' ? rounds.find(r => r.id === job.payload.round) : undefined
    return walked ? <Came of={walked} lacking={lackingOf(walked.id)} left={job?.result?.unasked} /> : null
  }
  const own = job && job.id === left.job ? job : undefined
  const why = own?.state === 'failed' ? own.error : own?.result?.trouble
  const walked = left.trails - left.left
  return (
    <Box py="6px">
      <Notice
        voice="amber"
        action={
          mayWrite && (
            <Button
              size="xs"
              variant="outline"
              loading={walkOn.isPending}
              onClick={() => walkOn.mutate(left.id, { onError: tellError })}
            >
              Walk on
            </Button>
          )
        }
      >
        {typeof why === 'string' && `${why} `}
        {count(left.left, 'trail')} of {roundName(left)} {left.left === 1 ? 'is' : 'are'} not walked yet
        {walked > 0 &&
          `; ${walked === 1 ? 'the one that was' : `the ${n(walked)} that were`} walked ${walked === 1 ? 'is' : 'are'} kept`}
        .
      </Notice>
    </Box>
  )
}

/** What a round that was walked to its end came to. */
function Came({
  of,
  lacking,
  left,
}: {
  of: WalkedRound
  lacking: number
  /** What was left to compare, in words. */
  left: unknown
}) {
  const named = roundName(of)
  return (
    <Text fontSize="13px" lineHeight="18px" role="status" py="4px">
      <b>{named[0]!.toUpperCase() + named.slice(1)}</b>: {n(of.found)} found, {n(of.fresh)} new
      {lacking > 0 && `, ${n(lacking)} of them you lack`}.{typeof left === 'string' && ` ${left}`}
    </Text>
  )
}

/** Whose trails there are to choose from: of all kept works, of a strand, of the chosen work. */
export interface Whose {
  strands: readonly { id: number; name: string }[]
  chosen: { id: number; title: string } | undefined
}
export function WhoseTrails({
  meant,
  set,
  whose: { strands, chosen },
  size,
}: {
  meant: Meant
  set: (meant: Meant) => void
  whose: Whose
  size: 'xs' | 'sm'
}) {
  const key = (m: Meant) => `${m.scope} ${m.of ?? ''}`
  const options: { meant: Meant; name: string }[] = [
    { meant: { scope: 'kept' }, name: 'All kept works' },
    ...strands.map(s => ({ meant: { scope: 'strand' as const, of: s.id }, name: `On the strand “${s.name}”` })),
    ...(chosen
      ? [{ meant: { scope: 'work' as const, of: chosen.id }, name: `“${chosen.title.slice(0, 60)}” alone` }]
      : []),
  ]
  return (
    <NativeSelect.Root size={size}>
      <NativeSelect.Field
        aria-label="Whose trails"
        bg="surface"
        value={key(meant)}
        onChange={e => set(options.find(o => key(o.meant) === e.target.value)!.meant)}
      >
        {options.map(o => (
          <option key={key(o.meant)} value={key(o.meant)}>
            {o.name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

/** What a round would ask and is expected to bring, before it is walked. */
export function PlanDialog({
  meant: first,
  from,
  whose,
  field,
  close,
}: {
  meant: Meant
  from: string
  whose: Whose
  field: FieldHandle
  close: () => void
}) {
  const { inquiry } = useHere()
  const [meant, setMeant] = useState(first)
  const [again, setAgain] = useState(false)
  const query = {
    scope: meant.scope,
    ...(meant.of ? { of: meant.of } : {}),
    ...(again ? { again: 'yes' as const } : {}),
  }
  const plan = useOf(inquiry.id, api.planRound, { query })
  const walk = useChange(inquiry.id, api.walkRound, (body: typeof query & { most?: number }) => ({ body }))
  const trails = plan.data?.trails ?? 0
  const hope = useForecast(field, trails)
  const go = () =>
    walk.mutate(
      {
        ...query,
        ...(plan.data && plan.data.calls > BUDGET ? { most: Math.min(MOST_CALLS, plan.data.calls + 200) } : {}),
      },
      {
        onSuccess: () => {
          tell('The trails are being walked. You can go on meanwhile.')
          close()
        },
        onError: tellError,
      },
    )
  return (
    <FormDialog
      title={plan.data?.n ? `Walk round ${plan.data.n}` : 'Walk the trails of one work'}
      submit={go}
      close={close}
      buttons={
        <>
          <Button variant="outline" onClick={close}>
            Not now
          </Button>
          <Button type="submit" colorPalette="grape" disabled={!trails} loading={walk.isPending}>
            Walk {trails ? count(trails, 'trail') : 'it'}
          </Button>
        </>
      }
    >
      <WhoseTrails meant={meant} set={setMeant} whose={whose} size="sm" />
      <Tick checked={again} set={setAgain} voice="grape">
        Ask again for trails that were walked, for what is new
      </Tick>
      {plan.isPending ? (
        <Waiting what="Counting" />
      ) : plan.isError ? (
        <Failed error={plan.error} again={() => void plan.refetch()} />
      ) : (
        <Planned plan={plan.data} from={from} hope={hope} />
      )}
    </FormDialog>
  )
}

function Planned({
  plan,
  from,
  hope,
}: {
  plan: RoundPlan
  from: string
  hope: { brought: Forecast; kept: Forecast } | undefined
}) {
  const range = (f: Forecast) => (f.least === f.most ? n(f.least) : `${n(f.least)} to ${n(f.most)}`)
  return (
    <Stack gap="8px" fontSize="14px" lineHeight="20px">
      {plan.trails ? (
        <>
          <Text>
            <b>{count(plan.trails, 'trail')}</b> of {count(plan.origins, 'work')}: what each of them refers to, and what
            cites it.
          </Text>
          <Text>
            About <b>{count(plan.calls, 'call')}</b> to {from}
            {plan.comparing > 0 &&
              `, and at most ${count(plan.comparing, 'call')} to compare with other works of their fields and years`}
            . Each trail is kept as soon as it is walked; you can stop at any time.
          </Text>
          {hope && plan.n !== null && plan.n > 1 && (
            <Text>
              By the rounds so far it brings about <b>{count(Math.round(hope.brought.about), 'work')}</b> (
              {range(hope.brought)}) into the pool, of which you keep <b>{Math.round(hope.kept.about)}</b> (
              {range(hope.kept)}).
            </Text>
          )}
        </>
      ) : (
        <Text>
          {plan.walked
            ? 'All of these trails were walked. Keep more works, or ask again for what is new.'
            : 'There is no trail to walk from here.'}
        </Text>
      )}
      {plan.walked > 0 && plan.trails > 0 && (
        <Text color="soft">{count(plan.walked, 'trail was', 'trails were')} walked before.</Text>
      )}
      {plan.withoutDoi.length > 0 && (
        <Text color="amber">
          {count(plan.withoutDoi.length, 'work has', 'works have')} no DOI on record, by which {from} finds works.
        </Text>
      )}
    </Stack>
  )
}
