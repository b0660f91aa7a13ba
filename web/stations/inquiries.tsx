import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { format, parseISO } from 'date-fns'
import { Link } from 'react-router'
import { call } from '../api/client'
import { api, type Inquiry } from '../../core/schema/api'
import { sayDays } from '../frame/due'
import { Empty, Failed, Notice, Waiting } from '../frame/parts'
import { stations } from '../frame/path-bar'
import { AccountMenu } from '../frame/session'
import { useLetters } from '../outbox/use-outbox'

/** The station where an inquiry is best taken up again. */
function nextStation(q: Inquiry): (typeof stations)[number] {
  const n = q.numbers
  const key = n.pool === 0 ? 'gather' : n.unread > 0 ? 'sift' : n.inHand < n.kept ? 'obtain' : 'compose'
  return stations.find(s => s.key === key)!
}

/** What was done in an inquiry and waits in this browser is said here too, with the way to it. */
function WaitingElsewhere({ inquiries }: { inquiries: readonly Inquiry[] }) {
  const letters = useLetters()
  const refused = letters.filter(l => l.refused)
  const places = inquiries.filter(q => refused.some(l => l.inquiry === q.id))
  if (!places.length) return null
  return (
    <Box mb="16px">
      <Notice voice="rust">
        Changes that were not taken wait for your choice in{' '}
        {places.map((q, i) => (
          <span key={q.id}>
            {i > 0 && ', '}
            <Link to={`/inquiries/${q.id}/${nextStation(q).key}`}>{q.title}</Link>
          </span>
        ))}
        .
      </Notice>
    </Box>
  )
}

export function Inquiries() {
  const list = useQuery({ queryKey: ['inquiries'], queryFn: () => call(api.inquiries, {}) })
  return (
    <Box maxW="920px" mx="auto" px="24px" py="32px">
      <Flex justify="space-between" align="flex-start" mb="28px">
        <Box>
          <chakra.h1 fontFamily="serif" fontSize="28px" lineHeight="36px" fontWeight="600">
            Your inquiries
          </chakra.h1>
          <Text color="soft">One question each, from the assignment to the annotated bibliography.</Text>
        </Box>
        <Flex gap="8px">
          <Button asChild colorPalette="vine" size="sm">
            <Link to="/new">Begin an inquiry</Link>
          </Button>
          <AccountMenu />
        </Flex>
      </Flex>
      <WaitingElsewhere inquiries={list.data ?? []} />
      {list.isPending && <Waiting />}
      {list.isError && <Failed error={list.error} again={() => void list.refetch()} />}
      {list.data?.length === 0 && (
        <Empty
          title="Nothing begun yet"
          action={
            <Button asChild colorPalette="vine">
              <Link to="/new">Begin an inquiry</Link>
            </Button>
          }
        >
          An inquiry holds one question, what the assignment asks, and everything you find, decide, obtain and write for
          it.
        </Empty>
      )}
      {list.data?.map(q => {
        const next = nextStation(q)
        const written = q.numbers.annotated > 0 && q.numbers.annotated >= (q.rules.entriesWanted ?? Infinity)
        return (
          <Flex
            key={q.id}
            bg="surface"
            border="1px solid"
            borderColor="hair"
            borderRadius="md"
            mb="12px"
            p="20px"
            gap="24px"
            align="center"
            position="relative"
            _hover={{ borderColor: 'vine.line' }}
          >
            <Box flex="1" minW="0">
              <Text fontFamily="serif" fontWeight="600" fontSize="19px" lineHeight="26px">
                <chakra.a asChild _after={{ content: '""', position: 'absolute', inset: 0 }}>
                  <Link to={`/inquiries/${q.id}/${next.key}`} style={{ textDecoration: 'none' }}>
                    {q.title}
                  </Link>
                </chakra.a>
              </Text>
              <Text color="soft" fontSize="14px" lineHeight="20px" lineClamp={2}>
                {q.question}
              </Text>
              <Flex mt="12px" gap="20px" fontSize="13px" color="soft" wrap="wrap">
                <span>
                  <b>{q.numbers.pool}</b> works in the pool
                </span>
                <span>
                  <b>{q.numbers.kept}</b> kept
                </span>
                <span>
                  <b>{q.numbers.inHand}</b> in hand
                </span>
                <span>
                  <b>{q.numbers.annotated}</b> {q.rules.entriesWanted ? `of ${q.rules.entriesWanted} ` : ''}
                  {q.numbers.annotated === 1 && !q.rules.entriesWanted ? 'annotation' : 'annotations'} begun
                </span>
              </Flex>
            </Box>
            <Box textAlign="right" flex="none">
              <Text
                fontFamily="serif"
                fontWeight="600"
                fontSize="19px"
                lineHeight="26px"
                color={(q.daysLeft ?? 0) < 0 && !written ? 'rust' : 'ink'}
              >
                {written ? 'written' : q.daysLeft === null ? '' : sayDays(q.daysLeft)}
              </Text>
              {q.due && (
                <Text fontSize="12.5px" color="soft">
                  due {format(parseISO(q.due), 'EEE d MMM yyyy')}
                </Text>
              )}
              <Text fontSize="13px" mt="8px" color="vine" fontWeight="600">
                {written ? 'Hand it in at' : 'Go on with'} {next.name}
              </Text>
            </Box>
          </Flex>
        )
      })}
    </Box>
  )
}
