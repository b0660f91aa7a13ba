import { Box, Stack, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { formSaid, HandOver } from '../../account/asked/hand-over'
import { useLoans } from '../../account/asked/use-loans'
import { Failed, Waiting } from '../../frame/parts'

/** Requests whose office takes no messages: each is sent by the student, now or later. */
export function SendByHand({ loans }: { loans: readonly number[] }) {
  const { query, act } = useLoans()
  const asked = (query.data?.loans ?? []).filter(l => loans.includes(l.id)).toSorted((a, b) => a.id - b.id)
  return (
    <>
      {query.isPending && <Waiting />}
      {query.isError && <Failed error={query.error} again={() => void query.refetch()} />}
      {asked[0]?.hand?.form && (
        <Text fontSize="13px" lineHeight="18px" color="soft">
          {formSaid(asked[0].library)}
        </Text>
      )}
      <Stack gap="16px" maxH="440px" overflow="auto">
        {asked.map(l => (
          <Box key={l.id} borderTop="1px solid" borderColor="hair" pt="10px">
            <Text fontFamily="serif" fontWeight="600" fontSize="14.5px" lineHeight="20px" mb="6px">
              {l.title}
            </Text>
            {l.acts.includes('handed over') ? (
              <HandOver loan={l} act={act} said={false} />
            ) : (
              <Text fontSize="13px" lineHeight="18px" color="vine">
                {l.stands}.
              </Text>
            )}
          </Box>
        ))}
      </Stack>
      <Text fontSize="13px" lineHeight="18px" color="soft">
        What you leave for later waits under{' '}
        <Link className="plain-link" to="/asked">
          Asked for
        </Link>
        .
      </Text>
    </>
  )
}
