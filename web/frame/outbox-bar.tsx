import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState, useSyncExternalStore } from 'react'
import { some } from './counted'
import { Notice } from './parts'
import { overtakenBy, type Letter } from '../outbox/letter'
import { useLetters, useOutbox } from '../outbox/use-outbox'

const SHOWN = 3

/** What stands between the student and a saved change: no answer, no room, a refusal. Silent while all goes well. */
export function OutboxBar({ inquiry, away }: { inquiry: number; away: boolean }) {
  const outbox = useOutbox()
  const letters = useLetters(inquiry)
  const failing = useSyncExternalStore(outbox.subscribe, outbox.away)
  const refused = letters.filter(l => l.refused)
  const waiting = letters.length - refused.length
  const silent = away || (failing && waiting > 0)
  if (!silent && !refused.length && !outbox.homeless) return null
  return (
    <Box px="20px" py="8px" borderBottom="1px solid" borderColor="hair" display="grid" gap="8px">
      {silent && (
        <Notice voice="amber">
          Vine Path does not answer at the moment.{' '}
          {waiting > 0
            ? `${some(waiting, 'change')} ${waiting === 1 ? 'is' : 'are'} kept in this browser and sent once it is back; all else is saved.`
            : 'What you did is saved; this page goes on by itself once it is back.'}
        </Notice>
      )}
      {outbox.homeless && waiting > 0 && (
        <Notice voice="rust">
          This browser has no room left to keep what is on its way. Leave this page open until it is sent:{' '}
          {some(waiting, 'change')} {waiting === 1 ? 'waits' : 'wait'}.
        </Notice>
      )}
      {refused.length > 0 && <Refused letters={refused} />}
    </Box>
  )
}

/** Each change that was not taken, why, and what can be done with it. */
function Refused({ letters }: { letters: readonly Letter[] }) {
  const outbox = useOutbox()
  const [all, setAll] = useState(false)
  const shown = all ? letters : letters.slice(0, SHOWN)
  return (
    <Box
      bg="rust.soft"
      color="rust"
      borderRadius="md"
      px="12px"
      py="8px"
      fontSize="13px"
      lineHeight="18px"
      role="alert"
      maxH="220px"
      overflow="auto"
    >
      <Flex align="center" mb="2px" gap="12px">
        <Text fontWeight="600" flex="1">
          {some(letters.length, 'change')} {letters.length === 1 ? 'was' : 'were'} not taken.{' '}
          {letters.length === 1 ? 'It is' : 'They are'} kept in this browser until you choose.
        </Text>
        {letters.length > 1 && (
          <Button
            size="2xs"
            variant="outline"
            bg="surface"
            flex="none"
            onClick={() => letters.forEach(l => outbox.again(l.id, overtakenBy(l.refused)))}
          >
            Try all again
          </Button>
        )}
      </Flex>
      <chakra.ul listStyleType="none">
        {shown.map(l => (
          <Flex as="li" key={l.id} gap="12px" align="center" py="3px">
            <Text flex="1" minW="0">
              <chakra.span color="ink">{l.said}</chakra.span> · {l.refused!.said}
            </Text>
            <Button
              size="2xs"
              variant="outline"
              bg="surface"
              flex="none"
              onClick={() => outbox.again(l.id, overtakenBy(l.refused))}
            >
              {overtakenBy(l.refused) === undefined ? 'Try again' : 'Keep mine'}
            </Button>
            <Button size="2xs" variant="ghost" flex="none" onClick={() => outbox.takeBack(l.id)}>
              {overtakenBy(l.refused) === undefined ? 'Take it back' : 'Take the other'}
            </Button>
          </Flex>
        ))}
      </chakra.ul>
      {letters.length > shown.length && (
        <Button size="2xs" variant="ghost" mt="2px" onClick={() => setAll(true)}>
          {letters.length - shown.length} more
        </Button>
      )}
    </Box>
  )
}
