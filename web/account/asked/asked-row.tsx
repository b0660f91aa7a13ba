import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { Link } from 'react-router'
import type { LoanEvent } from '../../../core/access/loan'
import type { Reach } from '../../../core/access/reach'
import type { Loan } from '../../../core/schema/api'
import type { LoanAct } from '../../../core/access/loan-acts'
import { HandOver } from './hand-over'
import { SayDialog, SAYS } from './say-dialog'
import type { Act } from './use-loans'
import { chance } from '../../frame/counted'
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
    : (l.state === 'refused' && !l.again) || l.state === 'given up'
      ? 'out of reach'
      : 'within reach'

const ACT_WORDS: Partial<Record<LoanAct, string>> = {
  fetch: 'Fetch',
  'it came': 'It is there',
  'picked up': 'I have it',
  'keep longer': 'Keep longer',
  'due on': 'Kept longer …',
  'turned down': 'It was refused …',
  'given back': 'I gave it back',
  'send again': 'Send again',
}

/** What can be done with a request next: it stands in its row, the rest is folded out. */
function nextOf(l: Loan): LoanAct | undefined {
  if (l.busy) return undefined
  const first: (LoanAct | false)[] = [
    'fetch',
    l.state === 'ready' && 'picked up',
    l.hand !== null && 'it came',
    !l.waits && 'keep longer',
    Boolean(l.said) && 'send again',
  ]
  return first.find((act): act is LoanAct => act !== false && l.acts.includes(act))
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
  'sent back': 'It was sent back, to be asked for again',
  'cancel asked': 'You gave it up',
  'not cancelled': 'It could not be given up any more',
  'given up': 'It is given up',
  ended: 'It is over',
}

/** One request: what it is, how it goes across the days, and what can be done. */
export function AskedRow({ loan: l, today, act, giveUp }: { loan: Loan; today: string; act: Act; giveUp: () => void }) {
  const [isOpen, setOpen] = useState(false)
  const [busy, setBusy] = useState(false)
  const [saying, setSaying] = useState<LoanAct>()
  const next = nextOf(l)
  const handsOver = l.acts.includes('handed over')
  const comesByMail = l.hand !== null && l.kind === 'scan' && !handsOver && isComing(l)
  const press = async (doing: LoanAct) => {
    // an office that writes messages says itself until when a book is lent
    if (SAYS[doing] && l.hand) return setSaying(doing)
    setBusy(true)
    await act(l, doing)
    setBusy(false)
  }
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
          <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate title={about(l)}>
            {about(l)}
          </Text>
        </Box>
        <LoanDays loan={l} />
        <Flex gap="8px" align="center" justify="space-between" minW="0" py="6px">
          <Box minW="0">
            <Text
              fontWeight="600"
              fontSize="13.5px"
              lineHeight="19px"
              color={l.recalled ? 'rust' : l.again ? 'amber' : VOICE[l.state]}
            >
              {l.recalled && l.state === 'with you' ? 'Called back: ' : ''}
              {l.stands}
            </Text>
            <Text fontSize="12.5px" lineHeight="17px" color="soft" lineClamp={2} title={tail(l)}>
              {tail(l)}
            </Text>
          </Box>
          {next && (
            <Button size="xs" variant="outline" flex="none" loading={busy} onClick={() => void press(next)}>
              {ACT_WORDS[next]}
            </Button>
          )}
          {handsOver && (
            <Button size="xs" variant="outline" flex="none" aria-expanded={isOpen} onClick={() => setOpen(!isOpen)}>
              Send it
            </Button>
          )}
          {l.again && (
            <Button asChild size="xs" variant="outline" flex="none">
              <Link to={`/inquiries/${l.inquiry.id}/obtain`}>Ask again</Link>
            </Button>
          )}
          {comesByMail && (
            <Button asChild size="xs" variant="outline" flex="none">
              <Link to={`/inquiries/${l.inquiry.id}/obtain`}>Bring the file</Link>
            </Button>
          )}
        </Flex>
      </div>
      {isOpen && (
        <Box className="asked-more">
          {handsOver && (
            <Box mb="12px">
              <HandOver loan={l} act={act} />
            </Box>
          )}
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
            {(['it came', 'picked up', 'due on', 'given back', 'turned down'] as const)
              .filter(doing => doing !== next && l.acts.includes(doing))
              .map(doing => (
                <Button key={doing} size="2xs" variant="outline" onClick={() => void press(doing)}>
                  {ACT_WORDS[doing]}
                </Button>
              ))}
            {l.acts.includes('give up') && !l.acts.includes('answer') && l.waits !== 'cancel' && (
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
      {saying && (
        <SayDialog
          title={l.title}
          asked={SAYS[saying]!}
          go={told => act(l, saying, told)}
          close={() => setSaying(undefined)}
        />
      )}
    </>
  )
}

const isComing = ({ state }: Loan): boolean => state === 'sent' || state === 'on its way'

/** Who wrote it, and who was asked for it. */
const about = (l: Loan): string =>
  [
    `${l.authors.split(',')[0]} ${l.year ?? ''}`.trim(),
    `${l.kind} from ${[l.suppliers[0], l.library].filter(Boolean).join(', by ')}`,
  ]
    .filter(Boolean)
    .join(' · ')

/** The second line of how a request stands. */
function tail(l: Loan): string {
  if (l.waits === 'cancel') return 'The office was told that you give it up.'
  if (l.waits === 'renewal') return 'You asked to keep it longer.'
  if (l.hand && l.state === 'not sent')
    return l.hand.form ? 'on the form of its office' : 'by a letter that stands ready'
  if (l.hand && l.kind === 'scan' && isComing(l)) return 'it comes to your mail: bring it in Obtain'
  if (l.state === 'asked back') return `waiting for you since ${format(parseISO(l.since), 'EEE d MMM')}`
  if (l.said) return l.said
  if (l.state === 'ready') return l.kind === 'book' ? l.pickUp && `at ${l.pickUp}` : 'then the office wipes it'
  if (l.when && l.inquiry.neededBy) return `${chance(l.when.likely)} likely before you need it`
  if (l.when) return `most likely by ${format(parseISO(l.when.to), 'd MMM')}`
  return ''
}
