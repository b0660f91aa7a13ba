import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { format } from 'date-fns'
import { useState } from 'react'
import { isDone, type Fetched } from '../../../core/access/fetched'
import type { Ended } from '../../../core/access/walk'
import { api, type Job } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay } from '../../frame/job-meter'
import { Meter } from '../../frame/parts'
import { END_WORDS } from './way-words'

const OTHER_WORDS: Partial<Record<Fetched['state'], { many: string; voice: string }>> = {
  proved: { many: 'proved', voice: 'vine' },
  doubtful: { many: 'doubtful', voice: 'amber' },
  'gate needed': { many: 'behind the gate', voice: 'slate' },
  limit: { many: 'over the card’s limit', voice: 'slate' },
  'no route': { many: 'without a way today', voice: 'soft' },
}
const wordsOf = (state: Fetched['state']) => OTHER_WORDS[state] ?? END_WORDS[state as Ended]

const worksOf = (job: Job | undefined): Fetched[] =>
  ((job?.result?.works ?? job?.progress.works) as Fetched[] | undefined) ?? []

/** What is being fetched, or was last: in a line, and of each text what became of it where that is asked for. */
export function Run({
  job,
  again,
  signIn,
  open,
}: {
  job: Job | undefined
  again: (works: number[]) => void
  signIn: () => void
  open: boolean
}) {
  const { inquiry, mayWrite } = useHere()
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const [all, setAll] = useState(false)
  if (!job)
    return (
      <Text fontSize="13.5px" color="soft">
        Fetching runs here: one text after the other, each proved against its work before it counts.
      </Text>
    )
  const works = worksOf(job)
  const done = works.filter(isDone)
  const live = isUnderWay(job)
  const at = works.find(w => w.state === 'fetching')
  const states = [...new Set(done.map(w => w.state))]
  const gated = done.filter(w => w.state === 'gate needed')
  const failed = done.filter(w => w.state !== 'proved')
  const left = works.filter(w => !isDone(w))
  const later = job.result?.again as string | undefined
  const step = at?.steps?.at(-1)
  return (
    <Stack gap="4px" fontSize="13.5px" lineHeight="19px">
      <Flex justify="space-between" gap="12px" align="center" minH="24px">
        <Text truncate>
          {live
            ? `Fetching ${Math.min(done.length + 1, works.length || 1)} of ${works.length || '…'}`
            : job.state === 'cancelled'
              ? 'Stopped; what was fetched before is kept'
              : job.state === 'failed'
                ? `Failed: ${job.error ?? ''}`
                : `Fetched: ${works.length} tried`}
          {at && (
            <Text as="span" fontFamily="serif" fontStyle="italic">
              {' '}
              · {at.title}
            </Text>
          )}
          {!live &&
            states.map(s => (
              <Text key={s} as="span" color={wordsOf(s).voice} fontWeight="600" ml="12px">
                {done.filter(w => w.state === s).length} {wordsOf(s).many}
              </Text>
            ))}
        </Text>
        <Flex gap="6px" flex="none">
          {failed.length > 0 && (
            <Button size="2xs" variant="ghost" aria-expanded={all} onClick={() => setAll(!all)}>
              {all ? 'Fold' : `Why ${failed.length === 1 ? 'one' : failed.length} did not come`}
            </Button>
          )}
          {live && (
            <Button size="2xs" variant="outline" onClick={() => stop.mutate(job.id)} disabled={job.cancelAsked}>
              {job.cancelAsked ? 'Stopping …' : 'Stop'}
            </Button>
          )}
          {!live && left.length > 0 && mayWrite && (
            <Button size="2xs" variant="outline" onClick={() => again(left.map(w => w.work))}>
              Fetch the other {left.length}
            </Button>
          )}
          {!live && gated.length > 0 && mayWrite && (
            <Button size="2xs" variant="outline" onClick={() => (open ? again(gated.map(g => g.work)) : signIn())}>
              {open ? `Fetch ${gated.length} through the gate` : 'Sign in at the gate'}
            </Button>
          )}
        </Flex>
      </Flex>
      {live && <Meter share={works.length ? done.length / works.length : 0} label="Fetching" />}
      {live && step && (
        <Text fontSize="12.5px" color="soft" truncate>
          {step.what} · {step.said}
        </Text>
      )}
      {!live && later && (
        <Text fontSize="12.5px" color="soft">
          What was out of service is tried again by itself at {format(new Date(later), 'HH:mm')}.
        </Text>
      )}
      {all && (
        <Box maxH="150px" overflow="auto" tabIndex={0} role="region" aria-label="What did not come">
          {failed.map(w => (
            <Text key={w.work} fontSize="12.5px" lineHeight="18px">
              <Text as="span" color={wordsOf(w.state).voice} fontWeight="600">
                {wordsOf(w.state).many}
              </Text>{' '}
              <i>{w.title}</i>: {w.said}
            </Text>
          ))}
        </Box>
      )}
    </Stack>
  )
}
