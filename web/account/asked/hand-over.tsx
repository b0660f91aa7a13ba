import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { LoanAct } from '../../../core/access/loan-acts'
import type { Loan } from '../../../core/schema/api'
import { copyText } from '../../frame/clipboard'
import { LetterBox } from '../../frame/letter-box'

/** How a request is sent on the form of a library. */
export const formSaid = (library: string): string =>
  `The form of ${library} opens in a window of its own, filled in as far as it takes that over. Send it there, then say so here.`

/** What a student sends themselves, where an office takes no messages: its form opens filled in, or a letter stands ready. */
export function HandOver({
  loan,
  act,
  said = true,
}: {
  loan: Loan
  act: (loan: Loan, act: LoanAct) => Promise<boolean>
  /** Whether it is said how it goes on. */
  said?: boolean
}) {
  const [busy, setBusy] = useState(false)
  const { hand, library } = loan
  if (!hand) return null
  const sent = async () => {
    setBusy(true)
    await act(loan, 'handed over')
    setBusy(false)
  }
  const done = (
    <Button size="xs" variant="outline" loading={busy} onClick={() => void sent()}>
      I sent it
    </Button>
  )
  if (!hand.form)
    return (
      <Box maxW="62ch">
        <LetterBox
          letter={{ subject: hand.subject, text: hand.letter }}
          {...(hand.to ? { to: hand.to } : {})}
          name={`Letter to the loan office for “${loan.title}”`}
          hint={
            hand.to
              ? `It goes to ${hand.to}, and is answered to your own mail.`
              : `Where the loan office of ${library} is written to is not known here; its own pages will say.`
          }
        />
        <Box mt="8px">{done}</Box>
      </Box>
    )
  return (
    <Box>
      {said && (
        <Text fontSize="13px" lineHeight="18px" color="soft" maxW="62ch" mb="8px">
          {formSaid(library)}
        </Text>
      )}
      <Flex gap="8px" wrap="wrap" align="center">
        <Button asChild size="xs" colorPalette="vine">
          <a href={hand.form} target="_blank" rel="noopener noreferrer">
            Open its form
          </a>
        </Button>
        <Button size="xs" variant="ghost" onClick={() => void copyText(hand.details, 'The details: copied.')}>
          Copy the details
        </Button>
        {done}
      </Flex>
    </Box>
  )
}
