import { Box, Button, Text } from '@chakra-ui/react'
import { api, type Copy } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Meter, Notice, tellError } from '../../frame/parts'

/** Of a scan: how many of its pages are read by machine, and the way to read the others. */
export function ScanNotice({ copy }: { copy: Copy & { scanned: number } }) {
  const { inquiry, jobs, mayWrite } = useHere()
  const begin = useChange(inquiry.id, api.readScan, () => ({ params: { copy: copy.id } }))
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const job = jobs.filter(j => j.kind === 'scan' && j.payload.copy === copy.id).at(-1)
  const isLive = job && (job.state === 'running' || job.state === 'queued')
  if (copy.scanned >= copy.pages && !isLive) return null
  const read = Number(job?.progress.read ?? 0)
  const ended =
    job?.state === 'failed'
      ? ` ${job.error ?? 'It could not be read.'} What was read is kept.`
      : job?.state === 'cancelled'
        ? ' Stopped; what was read is kept, and goes on from there.'
        : ''
  return (
    <Box mb="10px" maxW="1180px" mx="auto">
      <Notice
        voice="slate"
        action={
          mayWrite &&
          (isLive ? (
            <Button
              size="xs"
              variant="outline"
              flex="none"
              disabled={job.cancelAsked}
              onClick={() => stop.mutate(job.id)}
            >
              {job.cancelAsked ? 'Stopping …' : 'Stop'}
            </Button>
          ) : (
            <Button
              size="xs"
              variant="outline"
              flex="none"
              loading={begin.isPending}
              onClick={() => begin.mutate(undefined, { onError: tellError })}
            >
              Read all its pages
            </Button>
          ))
        }
      >
        <Text as="span" role="status">
          {isLive
            ? `Reading the pages by machine: ${read} of ${copy.pages}. One takes some ten seconds.`
            : `This copy is a scan: ${copy.scanned} of its ${copy.pages} pages are read by machine, for its proof. The words of the others are not found, and lead to no references.${ended}`}
        </Text>
        {isLive && <Meter share={read / copy.pages} voice="slate" label="Reading the scan" />}
      </Notice>
    </Box>
  )
}
