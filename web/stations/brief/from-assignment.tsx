import { Box, Button, Text, Textarea } from '@chakra-ui/react'
import { format } from 'date-fns'
import { useDeferredValue, useState } from 'react'
import { readAssignment, type ReadRule } from '../../../core/write/assignment'
import { CheckRow, useTaken } from '../../frame/check-row'
import { useDesk } from '../../frame/desk-time'
import { PlainDialog } from '../../frame/plain-dialog'

/** Reads what is asked from the text of an assignment: proposals, each with its words, taken over where they are right. */
export function FromAssignment({ take, close }: { take: (sets: ReadRule['sets'][]) => void; close: () => void }) {
  const today = useDesk().data?.day ?? format(new Date(), 'yyyy-MM-dd')
  const [text, setText] = useState('')
  const given = useDeferredValue(text)
  const { rules, unread } = readAssignment(given, today)
  const { isTaken, take: takeRules } = useTaken()
  const taken = rules.filter(r => isTaken(r.said))
  return (
    <PlainDialog
      close={close}
      size="lg"
      title="What the assignment asks"
      buttons={
        <>
          <Button variant="ghost" onClick={close}>
            Cancel
          </Button>
          <Button
            colorPalette="vine"
            disabled={!taken.length}
            onClick={() => {
              take(taken.map(r => r.sets))
              close()
            }}
          >
            {taken.length === 1 ? 'Take this rule over' : `Take ${taken.length || ''} rules over`}
          </Button>
        </>
      }
    >
      <Text color="soft" mb="8px">
        Paste the text of your assignment, in English. What can be read of it is shown with its words, and nothing is
        set before you say so. The text stays here.
      </Text>
      <Textarea
        aria-label="Text of the assignment"
        rows={7}
        bg="surface"
        maxLength={30_000}
        placeholder="Ten sources, at least seven peer-reviewed, five since 2018; 150 words each …"
        value={text}
        onChange={e => setText(e.target.value)}
      />
      <Box aria-live="polite" mt="12px">
        {given.trim() && !rules.length && <Text>No rule could be read from this text.</Text>}
        {rules.map((r, i) => (
          <CheckRow key={r.said} isTaken={isTaken(r.said)} turn={() => takeRules([r.said], !isTaken(r.said))}>
            <b>{r.said}</b>
            {/* of several rules of one sentence it stands beneath the last */}
            {rules[i + 1]?.from !== r.from && (
              <Text color="soft" fontSize="13px" lineHeight="18px">
                “{shortened(r.from)}”
              </Text>
            )}
          </CheckRow>
        ))}
        {unread.length > 0 && (
          <Box mt="10px" fontSize="13px" lineHeight="19px">
            <Text fontWeight="600">Asks for something that is no rule here</Text>
            {unread.slice(0, FEW).map(s => (
              <Text key={s} color="soft">
                “{shortened(s)}”
              </Text>
            ))}
            {unread.length > FEW && <Text color="soft">and {unread.length - FEW} more</Text>}
          </Box>
        )}
      </Box>
    </PlainDialog>
  )
}
/** Sentences that are shown of what was not read. */
const FEW = 5
const LONGEST = 180
const shortened = (s: string): string => (s.length > LONGEST ? `${s.slice(0, LONGEST)} …` : s)
