import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { useChange } from '../api/hooks'
import { api, type Job } from '../../core/schema/api'
import { useHere } from '../frame/inquiry-frame'
import { Meter } from '../frame/parts'

interface Fetched {
  work: number
  title: string
  state: 'waiting' | 'fetching' | 'proved' | 'doubtful' | 'refused' | 'gate needed' | 'no route'
  said?: string
  from?: string
}

const voices: Record<Fetched['state'], string> = {
  waiting: 'soft',
  fetching: 'slate',
  proved: 'vine',
  doubtful: 'amber',
  refused: 'rust',
  'gate needed': 'slate',
  'no route': 'soft',
}

/** The run panel: what is being fetched, the proof of each, and what to do about those that failed. */
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
  const works = (job?.progress.works as Fetched[] | undefined) ?? (job?.result?.works as Fetched[] | undefined) ?? []
  if (!job)
    return (
      <Text fontSize="13.5px" color="soft">
        Fetching runs here: one text after the other, each proved against its work before it counts.
      </Text>
    )
  const done = works.filter(w => w.state !== 'waiting' && w.state !== 'fetching')
  const live = job.state === 'running' || job.state === 'queued'
  const at = works.find(w => w.state === 'fetching')
  const count = (s: Fetched['state']) => works.filter(w => w.state === s)
  const gated = count('gate needed')
  const troubled = works.filter(w => w.state === 'refused' || w.state === 'doubtful')
  return (
    <Stack gap="6px" fontSize="13.5px">
      <Flex justify="space-between" gap="12px">
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
        </Text>
        {live && (
          <Button size="2xs" variant="outline" onClick={() => stop.mutate(job.id)} disabled={job.cancelAsked}>
            {job.cancelAsked ? 'Stopping …' : 'Stop'}
          </Button>
        )}
      </Flex>
      {live && <Meter share={works.length ? done.length / works.length : 0} label="Fetching" />}
      <Flex gap="12px" wrap="wrap" fontSize="13px">
        {(['proved', 'doubtful', 'refused', 'gate needed', 'no route'] as const).map(
          s =>
            count(s).length > 0 && (
              <Text key={s} color={voices[s]} fontWeight="600">
                {count(s).length} {s}
              </Text>
            ),
        )}
        {!live && gated.length > 0 && mayWrite && (
          <Button size="2xs" variant="outline" onClick={() => (open ? again(gated.map(g => g.work)) : signIn())}>
            {open ? `Fetch ${gated.length} through the gate` : 'Sign in at the gate'}
          </Button>
        )}
      </Flex>
      {troubled.length > 0 && (
        <Box maxH="84px" overflow="auto">
          {troubled.map(w => (
            <Text key={w.work} fontSize="12.5px" lineHeight="17px" color={voices[w.state]}>
              <i>{w.title}</i>: {w.said}
            </Text>
          ))}
        </Box>
      )}
    </Stack>
  )
}
