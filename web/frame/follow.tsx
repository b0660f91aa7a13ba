import { Button, Flex, Text } from '@chakra-ui/react'
import { api, type Answer } from '../../core/schema/api'
import type { Follow as What } from '../../core/schema/api/follow'
import { useChange } from '../api/hooks'
import { shortDay } from './due'
import { useHere } from './inquiry-frame'
import { isUnderWay, JobMeter } from './job-meter'
import { tellError } from './parts'

/** By what somebody is asked. */
type By =
  | { what: 'author'; author: string }
  | { what: 'grant'; number: string; funder?: string }
  | { what: 'data'; work: number }

/** Whom one can ask for more, what they said last, and the asking under way. */
export function Follow({
  by,
  asked: { of, subject, last },
  looksFor,
}: {
  by: By
  asked: Answer<'beside'>['asked']
  /** What is asked for, in words that follow “Ask … for”. */
  looksFor: string
}) {
  const { inquiry, jobs, mayWrite } = useHere()
  const ask = useChange(inquiry.id, api.follow, (body: By) => ({ body }))
  const what: What = by.what
  const job = jobs.findLast(j => j.kind === 'follow' && j.payload.what === what && j.payload.subject === subject)
  if (!of || !subject) return null
  if (job && isUnderWay(job)) {
    const { done = 0, of: all = 0 } = job.progress as Partial<Record<string, number>>
    return (
      <Flex align="center" gap="10px" fontSize="13px" role="status" wrap="wrap">
        <JobMeter job={job} said={`Asking ${of}`} share={all ? done / all : 0} label={`Answers of ${of}`} />
      </Flex>
    )
  }
  const failed = job?.state === 'failed' ? job.error : null
  return (
    <Flex align="center" gap="10px" fontSize="13px" lineHeight="18px" wrap="wrap">
      {mayWrite && (
        <Button
          size="2xs"
          variant="outline"
          flex="none"
          loading={ask.isPending}
          onClick={() => ask.mutate(by, { onError: tellError })}
        >
          {last ? 'Ask again' : `Ask ${of} for ${looksFor}`}
        </Button>
      )}
      {failed ? (
        <Text color="rust" role="alert" minW="0" overflowWrap="anywhere">
          {failed}
        </Text>
      ) : (
        last && (
          <Text color="soft" minW="0" overflowWrap="anywhere">
            {[
              `${last.source}, ${shortDay(last.day)}`,
              last.trouble ?? (last.total ? `${last.total} found` : 'nothing'),
            ].join(': ')}
          </Text>
        )
      )}
    </Flex>
  )
}
