import { Button, Flex, Text } from '@chakra-ui/react'
import { api, type Answer } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { shortDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay, JobMeter } from '../../frame/job-meter'
import { tellError } from '../../frame/parts'

/** How far the DOIs of the entries were held against what they are registered for, and the asking for the rest. */
export function Registrations({ of: { asked, of, day } }: { of: Answer<'entryChecks'>['registrations'] }) {
  const { inquiry, jobs, mayWrite } = useHere()
  const ask = useChange(inquiry.id, api.askRegistrations, () => ({}))
  const job = jobs.findLast(j => j.kind === 'registrations')
  if (!of) return null
  if (job && isUnderWay(job)) {
    const { done = 0, of: all = 0 } = job.progress as Partial<Record<string, number>>
    return (
      <Flex align="center" gap="10px" role="status">
        <JobMeter
          job={job}
          said={all ? `Asking for ${done} of ${all} DOIs` : 'Asking for DOIs'}
          share={all ? done / all : 0}
          label="DOIs asked for"
        />
      </Flex>
    )
  }
  if (asked === of) return <Text color="soft">DOIs as registered, {shortDay(day!)}</Text>
  const left = of - asked
  return (
    <Flex align="center" gap="10px" minW="0">
      {job?.state === 'failed' && job.error && (
        <Text color="rust" role="alert" truncate title={job.error} maxW="300px">
          {job.error}
        </Text>
      )}
      {mayWrite && (
        <Button
          size="xs"
          variant="outline"
          loading={ask.isPending}
          onClick={() => ask.mutate(undefined, { onError: tellError })}
        >
          Hold {left === of ? 'the' : `${left} more`} {left === 1 ? 'DOI' : 'DOIs'} against registrations
        </Button>
      )}
    </Flex>
  )
}
