import { Button, Flex, Text } from '@chakra-ui/react'
import { api } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay, JobMeter } from '../../frame/job-meter'
import { tellError } from '../../frame/parts'

const n = (x: number): string => x.toLocaleString('en')

/** Where works are ordered by their citations: of how many those are known, and asking for the others. */
export function Citations({ works }: { works: readonly WorkLine[] }) {
  const { inquiry, jobs, mayWrite } = useHere()
  const ask = useChange(inquiry.id, api.askCitations, () => ({}))
  const unknown = works.filter(w => w.citedBy === null).length
  const job = jobs.findLast(j => j.kind === 'citations')
  const running = job && isUnderWay(job) ? job : undefined
  const { done = 0, of } = (running?.progress ?? {}) as { done?: number; of?: number }
  if (!running && !unknown) return null
  const withoutDoi = works.filter(w => w.citedBy === null && !w.doi).length
  return (
    <Flex
      align="center"
      gap="12px"
      px={{ base: '12px', md: '24px' }}
      py="8px"
      borderBottom="1px solid"
      borderColor="hair"
      fontSize="13px"
      flex="none"
      wrap="wrap"
      role="status"
    >
      {running ? (
        <JobMeter
          job={running}
          said={of ? `Asking for citations: ${n(done)} of ${n(of)}` : 'Asking for citations'}
          share={of ? done / of : 0}
          label="Citations asked for"
        />
      ) : (
        <>
          <Text color="soft">
            How often it is cited is not known of <b>{n(unknown)}</b> of {n(works.length)} works; they come last.
            {withoutDoi > 0 &&
              ` ${withoutDoi === 1 ? 'One of them has' : `${n(withoutDoi)} of them have`} no DOI to ask by.`}
          </Text>
          {job?.state === 'failed' && <Text color="amber">{job.error}</Text>}
          {mayWrite && unknown > withoutDoi && (
            <Button
              size="2xs"
              variant="outline"
              loading={ask.isPending}
              onClick={() => ask.mutate(undefined, { onError: tellError })}
            >
              Ask the citation index
            </Button>
          )}
        </>
      )}
    </Flex>
  )
}
