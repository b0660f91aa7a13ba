import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { Link } from 'react-router'
import { OVER } from '../../../core/access/loan'
import { api, type Loan } from '../../../core/schema/api'
import { placeOf } from '../../api/client'
import { AskDialog } from '../../frame/ask-dialog'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { Page } from '../page'
import { AskedDays, DaysCell, DaysHead } from './days'
import { AskedRow } from './asked-row'
import { useLoans, type Act } from './use-loans'

const many = (n: number, one: string, more = `${one}s`): string => `${n} ${n === 1 ? one : more}`

/** What one asked for, across inquiries: how each stands, and what there is to do. */
export function Asked() {
  const { query, act } = useLoans()
  const [givingUp, setGivingUp] = useState<Loan>()
  const [all, setAll] = useState(false)
  const today = query.data?.day ?? ''
  const loans = query.data?.loans ?? []
  const open = loans.filter(l => !isOver(l, loans))
  const over = loans.filter(l => isOver(l, loans))
  const shown = all || !open.length ? loans : open
  const inquiries = [...new Map(shown.map(l => [l.inquiry.id, l.inquiry])).values()]
  const question = open.find(l => l.acts.includes('answer') && !l.busy)
  return (
    <Page
      wide
      title="Asked for"
      about={
        open.length
          ? `${many(open.length, 'scan or book', 'scans and books')} for ${many(new Set(open.map(l => l.inquiry.id)).size, 'inquiry', 'inquiries')}, as they stand on ${format(parseISO(today), 'EEEE d MMMM')}.`
          : 'Scans and books that you ask a library’s office for, with where each stands.'
      }
      action={
        loans.length > 0 && (
          <Button asChild size="sm" variant="outline">
            <a href={`/api${placeOf(api.loansCalendar, {})}`} download>
              As a calendar file
            </a>
          </Button>
        )
      }
    >
      {query.isPending && <Waiting />}
      {query.isError && <Failed error={query.error} again={() => void query.refetch()} />}
      {query.data && !loans.length && (
        <Empty title="Nothing asked for yet">
          Where no library of yours holds a text, its office may get it from elsewhere: a scan, or the book itself. In
          Obtain each work says when it would come; ask there, and follow it here.
        </Empty>
      )}
      {question && <Question key={question.id} loan={question} act={act} giveUp={() => setGivingUp(question)} />}
      {loans.length > 0 && (
        <AskedDays today={today} loans={shown}>
          <div className="asked-row" data-head>
            <span />
            <span />
            <DaysHead />
            <span />
          </div>
          {inquiries.map(i => (
            <section key={i.id} aria-labelledby={`inquiry-${i.id}`}>
              <div className="asked-row" data-group>
                <chakra.h2 id={`inquiry-${i.id}`}>
                  <Link to={`/inquiries/${i.id}/obtain`}>{i.title}</Link>
                </chakra.h2>
                <DaysCell due={i.due} neededBy={i.neededBy} words />
                <span />
              </div>
              {shown
                .filter(l => l.inquiry.id === i.id)
                .toSorted((a, b) => urgencyOf(a, loans) - urgencyOf(b, loans))
                .map(l => (
                  <AskedRow key={l.id} loan={l} today={today} act={act} giveUp={() => setGivingUp(l)} />
                ))}
            </section>
          ))}
          <Legend />
        </AskedDays>
      )}
      {open.length > 0 && over.length > 0 && (
        <Button size="2xs" variant="ghost" mt="6px" onClick={() => setAll(!all)}>
          {all ? 'Only what is under way' : `Also ${many(over.length, 'request that is', 'requests that are')} over`}
        </Button>
      )}
      <AskDialog
        open={givingUp !== undefined}
        close={() => setGivingUp(undefined)}
        title={`Give up “${givingUp?.title ?? ''}”?`}
        leave="Keep waiting"
        word="Give it up"
        go={() => {
          setGivingUp(undefined)
          void act(givingUp!, 'give up')
        }}
      >
        {givingUp?.hand
          ? 'Its office takes no messages from here: tell it yourself. '
          : givingUp?.state === 'not sent'
            ? ''
            : 'The office is told. '}
        The work stays kept, and can be asked for again.
      </AskDialog>
    </Page>
  )
}

/** What was sent back waits for the student until it is asked for once more. */
const waits = ({ id, work, inquiry, again }: Loan, all: readonly Loan[]): boolean =>
  again && !all.some(l => l.id > id && l.work === work && l.inquiry.id === inquiry.id)
const isOver = (l: Loan, all: readonly Loan[]): boolean => OVER.includes(l.state) && !waits(l, all)
/** What waits for the student comes first. */
const URGENT: readonly Loan['state'][] = [
  ...(['asked back', 'wrong text', 'ready', 'not sent', 'on its way', 'sent', 'with you'] as const),
  ...OVER,
]
const urgencyOf = (l: Loan, all: readonly Loan[]): number => (waits(l, all) ? 0 : URGENT.indexOf(l.state))

/** What an office asked, with the place to answer. */
function Question({ loan, act, giveUp }: { loan: Loan; act: Act; giveUp: () => void }) {
  const [words, setWords] = useState('')
  const [busy, setBusy] = useState(false)
  const answer = async (said: string) => {
    setBusy(true)
    await act(loan, 'answer', { said })
    setBusy(false)
  }
  const own = words.trim()
  return (
    <section className="asked-question" aria-labelledby="question">
      <Box minW="0">
        <Box fontSize="13.5px">
          <chakra.h2 id="question" display="inline" fontWeight="600" color="amber">
            First, answer {loan.library}.
          </chakra.h2>{' '}
          <chakra.span color="soft">Until you do, this stands still.</chakra.span>
        </Box>
        <Text fontFamily="serif" fontWeight="600" fontSize="17px" lineHeight="24px" mt="4px" lineClamp={2}>
          {loan.title}
        </Text>
        <chakra.blockquote fontFamily="serif" fontStyle="italic" fontSize="15px" lineHeight="22px">
          “{loan.said}”
        </chakra.blockquote>
      </Box>
      <Box>
        <Textarea
          aria-label="Your answer"
          placeholder="In your words, if you like"
          rows={2}
          bg="surface"
          value={words}
          onChange={e => setWords(e.target.value)}
        />
        <Flex gap="8px" mt="8px" wrap="wrap">
          <Button size="sm" colorPalette="vine" loading={busy} onClick={() => void answer(own || 'Yes, that will do.')}>
            {own ? 'Send my words' : 'Yes, that will do'}
          </Button>
          {!own && (
            <Button
              size="sm"
              variant="outline"
              disabled={busy}
              onClick={() => void answer('No, that will not do. Please look for another.')}
            >
              No, look for another
            </Button>
          )}
          <Button size="sm" variant="ghost" ms="auto" disabled={busy} onClick={giveUp}>
            Give it up
          </Button>
        </Flex>
      </Box>
    </section>
  )
}

const KEYS = [
  { kind: 'way', said: 'on its way through offices' },
  { kind: 'yours', said: 'waits for you' },
  { kind: 'band', said: 'comes most likely here' },
  { kind: 'kept', said: 'with you, or kept for you' },
  { kind: 'needed', said: 'needed by' },
]
const Legend = () => (
  <Flex
    gap="8px 24px"
    wrap="wrap"
    pt="14px"
    fontSize="12.5px"
    lineHeight="18px"
    color="soft"
    display={{ base: 'none', lg: 'flex' }}
  >
    {KEYS.map(k => (
      <Flex key={k.kind} gap="8px" align="center">
        <span className="asked-key" aria-hidden="true">
          {k.kind === 'needed' ? (
            <span className="needed-mark" style={{ left: '45%' }} />
          ) : (
            <span className="asked-stretch" data-kind={k.kind} style={{ left: 0, width: '100%' }} />
          )}
        </span>
        {k.said}
      </Flex>
    ))}
  </Flex>
)
