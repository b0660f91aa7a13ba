import { api } from '../../core/schema/api'
import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { format } from 'date-fns'
import { call } from '../api/client'
import { useSession } from '../api/session'
import { Failed, Heading, tell, tellError, Waiting } from '../frame/parts'
import { browserOf } from './browser'
import { Page } from './page'
import { PasswordForm } from '../frame/password-form'

/** One's own account: the password, and where one is signed in. */
export function YourAccount() {
  const session = useSession()
  const client = useQueryClient()
  const again = () => void client.invalidateQueries({ queryKey: ['sessions'] })
  const user = session.data?.user
  return (
    <Page title="Your account" about={user ? `${user.name}, ${user.email}` : ''}>
      <Flex gap="56px" align="flex-start" direction={{ base: 'column', lg: 'row' }}>
        <Box w={{ base: '100%', lg: '340px' }} flex="none">
          <Heading>Password</Heading>
          <PasswordForm
            done={ended => {
              tell(
                ended
                  ? `The password is changed, and ${ended} other ${ended === 1 ? 'browser is' : 'browsers are'} signed out.`
                  : 'The password is changed.',
              )
              again()
            }}
          />
        </Box>
        <Box flex="1" minW="0" w="full">
          <Sessions again={again} />
        </Box>
      </Flex>
    </Page>
  )
}

function Sessions({ again }: { again: () => void }) {
  const list = useQuery({ queryKey: ['sessions'], queryFn: () => call(api.sessions, {}) })
  const end = async (ending: Promise<unknown>, said: string) => {
    try {
      await ending
      tell(said)
    } catch (e) {
      tellError(e)
    }
    again()
  }
  if (list.isPending) return <Waiting />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const others = list.data.filter(s => !s.here)
  return (
    <>
      <Heading aside="end what you do not know, or do not use any more">Where you are signed in</Heading>
      {list.data.map(s => (
        <Flex
          key={s.id}
          align="center"
          gap="12px"
          minH="52px"
          py="6px"
          borderBottom="1px solid"
          borderColor="hair2"
          fontSize="14px"
          lineHeight="19px"
        >
          <Box flex="1" minW="0">
            <Text fontWeight={s.here ? '600' : undefined} truncate title={s.agent}>
              {browserOf(s.agent)}
              {s.here && ', this one'}
            </Text>
            <Text color="soft" fontSize="13px">
              since {format(new Date(s.began), 'd MMM yyyy, HH:mm')} · last used{' '}
              {format(new Date(Math.max(+new Date(s.used), +new Date(s.began))), 'd MMM yyyy')}
            </Text>
          </Box>
          {!s.here && (
            <Button
              size="xs"
              variant="outline"
              onClick={() =>
                void end(call(api.endSession, { params: { session: s.id } }), 'That browser is signed out.')
              }
            >
              End
            </Button>
          )}
        </Flex>
      ))}
      {others.length > 1 && (
        <Button
          size="xs"
          variant="ghost"
          mt="10px"
          onClick={() => void end(call(api.endOtherSessions, {}), 'All other browsers are signed out.')}
        >
          End all others
        </Button>
      )}
    </>
  )
}
