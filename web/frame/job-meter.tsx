import { Box, Button, Text } from '@chakra-ui/react'
import { api, type Job } from '../../core/schema/api'
import { useChange } from '../api/hooks'
import { useHere } from './inquiry-frame'
import { Meter, tellError } from './parts'

export const isUnderWay = ({ state }: Job): boolean => state === 'queued' || state === 'running'

/** A job under way, in a row: what it does, how far it is, and a way to stop it for who may. */
export function JobMeter({
  job,
  said,
  share,
  label,
  voice = 'vine',
}: {
  job: Job
  said: string
  share: number
  label: string
  voice?: string
}) {
  const { inquiry, mayWrite } = useHere()
  const stop = useChange(inquiry.id, api.stopJob, (of: number) => ({ params: { job: of } }))
  return (
    <>
      <Text>{said}</Text>
      <Box w="160px">
        <Meter share={share} voice={voice} label={label} />
      </Box>
      {mayWrite && (
        <Button
          size="2xs"
          variant="ghost"
          disabled={job.cancelAsked}
          onClick={() => stop.mutate(job.id, { onError: tellError })}
        >
          {job.cancelAsked ? 'Stopping …' : 'Stop'}
        </Button>
      )}
    </>
  )
}
