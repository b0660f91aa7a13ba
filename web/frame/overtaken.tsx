import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { overtakenBy } from '../outbox/letter'
import type { Saved } from '../outbox/use-outbox'
import { Notice } from './parts'

/** Both texts, where another window was faster. */
export function Overtaken({
  editor,
  what,
  theirs,
}: {
  editor: Pick<Saved<unknown>, 'refused' | 'keepMine' | 'takeTheirs'>
  /** What it is: "annotation". */
  what: string
  /** The other's text in what the server told. */
  theirs: (told: Record<string, unknown>) => string
}) {
  if (overtakenBy(editor.refused) === undefined) return null
  const other = theirs(editor.refused!.body.current as Record<string, unknown>)
  return (
    <Box mt="8px">
      <Notice voice="amber">
        <Text mb="6px">This {what} was changed in another window. Both texts are kept; choose which one stands.</Text>
        <Text fontFamily="serif" bg="surface" color="ink" p="8px" borderRadius="md" mb="6px">
          {other || '(empty)'}
        </Text>
        <Flex gap="6px">
          <Button size="xs" variant="outline" onClick={editor.keepMine}>
            Keep mine, above
          </Button>
          <Button size="xs" variant="outline" onClick={editor.takeTheirs}>
            Take the other
          </Button>
        </Flex>
      </Notice>
    </Box>
  )
}
