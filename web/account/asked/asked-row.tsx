import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { Link } from 'react-router'
import type { LoanEvent } from '../../../core/access/loan'
import type { Reach } from '../../../core/access/reach'
import type { Loan } from '../../../core/schema/api'
import type { LoanAct } from '../../../core/schema/api/loans'
import { ReachMark } from '../../frame/marks'
import { LoanDays } from './days'

const VOICE: Partial<Record<Loan['state'], string>> = {
  'asked back': 'amber',
  'wrong text': 'rust',
  'not sent': 'amber',
  ready: 'vine',
  refused: 'rust',
  'with you': 'vine',
  'on its way': 'slate',
  sent: 'slate',
}
const reachOf = (l: Loan): Reach =>
  l.state === 'with you' || l.state === 'ended'
    ? 'in hand'
    : l.state === 'refused' || l.state === 'given up'
      ? 'out of reach'
      : 'within reach'

/** What can be done with a request next. */
const NEXT: Partial<Record<Loan['state'], (l: Loan) => { act: LoanAct; word: string } | undefined>> = {
  ready: l => (l.kind === 'scan' ? { act: 'fetch', word: 'Fetch' } : { act: 'picked up', word: 'I have it' }),
  'with you': l => (l.waits ? undefined : { act: 'keep longer', word: 'Keep longer' }),
  'not sent': l => (l.said ? { act: 'send again', word: 'Send again' } : undefined),
}

const EVENT_WORDS: Record<LoanEvent['what'], string> = {
  asked: 'You asked for it',
  sent: 'It was sent to the office',
  'not sent': 'It could not be sent',
  received: 'The office has it',
  expected: 'It is being got',
  question: 'The office asks',
  answered: 'You answered',
  note: 'The office writes',
  ready: 'It is there',
  taken: 'You have it',
  wrong: 'Another text came',
  'renewal asked': 'You asked to keep it longer',
  renewed: 'It may be kept longer',
  'not renewed': 'It may not be kept longer',
  recalled: 'It is called back',
  overdue: 'It is overdue',
  returned: 'You gave it back',
  refused: 'It was refused',
  'cancel asked': 'You gave it up',
  'not cancelled': 'It could not be given up any more',
  'given up': 'It is given up',
  ended: 'It is over',
}

/** One request: what it is, how it goes across the days, and what can be done. */
export function AskedRow({
  loan: l,
  today,
  act,
  giveUp,
}: {
  loan: Loan
  today: string
  act: (loan: Loan, act: LoanAct, said?: string) => Promise<boolean>
  giveUp: () => void
}) {
  const [isOpen, setOpen] = useState(false)
  const [busy, setBusy] = useState(false)
  const next = l.busy ? undefined : NEXT[l.state]?.(l)
  const press = async (doing: LoanAct) => {
    setBusy(true)
    await act(l, doing)
    setBusy(false)
  }
  const isUnderWay = ['sent', 'on its way', 'ready', 'wrong text', 'not sent'].includes(l.state)
  return (
    <>
      <div className="asked-row" data-loan={l.id}>
        <ReachMark reach={reachOf(l)} />
        <Box minW="0">
          <chakra.button
            type="button"
            aria-expanded={isOpen}
            onClick={() => setOpen(!isOpen)}
            fontFamily="serif"
            fontWeight="600"
            fontSize="14.5px"
            lineHeight="20px"
            textAlign="start"
            cursor="pointer"
            maxW="full"
            truncate
            title={l.title}
            display="block"
          >
            {l.title}
          </chakra.button>
          <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate>
            {[`${l.authors.split(',')[0]} ${l.year ?? ''}`.trim(), `${l.kind} from ${l.library}`]
              .filter(Boolean)
              .join(' · ')}
          </Text>
        </Box>
        <LoanDays loan={l} />
        <Flex gap="8px" align="center" justify="space-between" minW="0" py="6px">
          <Box minW="0">
            <Text fontWeight="600" fontSize="13.5px" lineHeight="19px" color={l.recalled ? 'rust' : VOICE[l.state]}>
              {l.recalled && l.state === 'with you' ? 'Called back: ' : ''}
              {l.stands}
            </Text>
            <Text fontSize="12.5px" lineHeight="17px" color="soft" lineClamp={2} title={tail(l)}>
              {tail(l)}
            </Text>
          </Box>
          {next && (
            <Button size="xs" variant="outline" flex="none" loading={busy} onClick={() => void press(next.act)}>
              {next.word}
            </Button>
          )}
        </Flex>
      </div>
      {isOpen && (
        <Box className="asked-more">
          <chakra.ol aria-label={`What befell “${l.title}”`}>
            {l.events.map((e, i) => (
              <li key={i}>
                <chakra.time color="soft">{format(parseISO(e.at), 'd MMM')}</chakra.time>
                <span>
                  {EVENT_WORDS[e.what]}
                  {e.until && e.what === 'expected' ? `, to be here by ${format(parseISO(e.until), 'd MMM')}` : ''}
                  {e.said ? `: ${e.said}` : '.'}
                </span>
              </li>
            ))}
          </chakra.ol>
          <Flex gap="8px" mt="8px" wrap="wrap" align="center">
            <Link className="plain-link" to={`/inquiries/${l.inquiry.id}/obtain`}>
              To its ways in Obtain
            </Link>
            {l.state === 'with you' && (
              <Button size="2xs" variant="outline" onClick={() => void press('given back')}>
                I gave it back
              </Button>
            )}
            {isUnderWay && l.waits !== 'cancel' && (
              <Button size="2xs" variant="ghost" color="rust" onClick={giveUp}>
                Give it up …
              </Button>
            )}
            {l.state === 'with you' && l.due && l.due < today && (
              <Text fontSize="12.5px" color="rust">
                It is late: give it back, or ask to keep it longer.
              </Text>
            )}
          </Flex>
        </Box>
      )}
    </>
  )
}

/** The second line of how a request stands. */
function tail(l: Loan): string {
  if (l.waits === 'cancel') return 'The office was told that you give it up.'
  if (l.waits === 'renewal') return 'You asked to keep it longer.'
  if (l.state === 'asked back') return `waiting for you since ${format(parseISO(l.since), 'EEE d MMM')}`
  if (l.said) return l.said
  if (l.state === 'ready') return l.kind === 'book' ? l.pickUp && `at ${l.pickUp}` : 'then the office wipes it'
  if (l.when && l.inquiry.neededBy) return `${Math.round(l.when.likely * 100)}% likely before you need it`
  if (l.when) return `most likely by ${format(parseISO(l.when.to), 'd MMM')}`
  return ''
}
