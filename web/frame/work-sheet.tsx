import { plainTitle } from '../../core/bib/clean'
import { Box, Button, chakra, CloseButton, Drawer, Flex, Portal, Stack, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { Link, useParams } from 'react-router'
import { authorLine } from '../../core/bib/names'
import { sayLanguage } from '../../core/query/languages'
import { useChange, useOf } from '../api/hooks'
import { api } from '../../core/schema/api'
import { DataBehind, PaidBy } from './beside'
import { CameBy } from './came-by'
import { useSayAge } from './cited-ages'
import { CiteWork } from './cite-work'
import { useDecide } from './decide'
import { Deeds } from './deeds'
import { useHere, useOpenWork } from './inquiry-frame'
import { useLead } from './lead'
import { LeafMark } from './marks'
import { Failed, Heading, Notice, Source, tell, tellError, Waiting } from './parts'
import { sureness } from './record-line'
import { toEntry } from './to-entry'
import { Reasons } from './reasons'
import { SaidOf } from './said-of'
import { TakenBack } from './taken-back'
import { RecordsBehind, Row, WaysTo, WrittenBy } from './work-sheet-parts'
import { Fields, OwnKind, YouSay } from './work-words'

/** Who closes the sheet goes on where it was opened; what is gone from the page by then leaves the page itself. */
function giveBack(opener: Element | null) {
  if (document.activeElement && document.activeElement !== document.body) return
  const back = opener?.isConnected && opener !== document.body ? opener : document.querySelector('main')
  if (back instanceof HTMLElement || back instanceof SVGElement) back.focus()
}

/** A work in full, sliding over the right half of any list, which stays in use beside it. */
export function WorkSheet({ work, onClose }: { work: number; onClose: () => void }) {
  const sheet = useRef<HTMLDivElement>(null)
  // asked before the sheet draws the keys to itself
  const [opener] = useState(() => document.activeElement)
  useEffect(() => () => giveBack(opener), [opener])
  // another work in the same sheet: its reading begins at the top
  useEffect(() => {
    sheet.current?.focus()
    if (sheet.current) sheet.current.scrollTop = 0
  }, [work])
  return (
    <Drawer.Root
      open
      onOpenChange={e => !e.open && onClose()}
      modal={false}
      trapFocus={false}
      preventScroll={false}
      closeOnInteractOutside={false}
      initialFocusEl={() => sheet.current}
      placement="end"
    >
      <Portal>
        <Drawer.Positioner pointerEvents="none">
          <Drawer.Content
            ref={sheet}
            tabIndex={-1}
            aria-label="Work sheet"
            pointerEvents="auto"
            w={{ base: '100%', lg: '50%' }}
            maxW="none"
            minW={{ lg: '600px' }}
            bg="surface"
            borderLeft="1px solid"
            borderColor="hair"
            boxShadow="-12px 0 32px rgba(31,36,48,.12)"
            overflow="auto"
            outline="none"
          >
            <Flex
              position="sticky"
              top="0"
              bg="surface"
              zIndex="1"
              justify="space-between"
              align="center"
              px="24px"
              pt="12px"
              pb="4px"
            >
              <Text fontSize="12.5px" color="soft">
                Work sheet · <Link to={`works/${work}`}>open alone</Link>
              </Text>
              <CloseButton size="sm" onClick={onClose} aria-label="Close the work sheet" />
            </Flex>
            <Sheet id={work} />
          </Drawer.Content>
        </Drawer.Positioner>
      </Portal>
    </Drawer.Root>
  )
}

export function WorkPage() {
  const id = Number(useParams().work)
  return (
    <Box maxW="860px" mx="auto" py="16px" bg="surface" minH="full" borderX="1px solid" borderColor="hair">
      <Sheet id={id} />
    </Box>
  )
}

function Sheet({ id }: { id: number }) {
  const { inquiry, mayWrite } = useHere()
  const work = useOf(inquiry.id, api.work, { params: { work: id } })
  const age = useSayAge()
  const { decide, undo } = useDecide(inquiry.id)
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  const link = useChange(inquiry.id, api.answerPair, (body: { a: number; b: number; verdict: 'same' | 'never' }) => ({
    body,
  }))
  const [asking, setAsking] = useState(false)
  const lead = useLead()
  const openWork = useOpenWork()
  if (work.isPending) return <Waiting what="Opening the work" />
  if (work.isError) return <Failed error={work.error} again={() => void work.refetch()} />
  const w = work.data
  const i = w.item
  const join = (record: number, verdict: 'same' | 'never') =>
    link.mutate(
      { a: w.records[0]!.id, b: record, verdict },
      {
        onSuccess: () =>
          tell(
            verdict === 'same' ? 'Joined as one work. Their records stay as they came.' : 'Noted: two different works.',
          ),
        onError: tellError,
      },
    )
  const apart = (record: number) => {
    const other = w.records.find(r => r.id !== record)!
    link.mutate(
      { a: other.id, b: record, verdict: 'never' },
      { onSuccess: () => tell('Taken apart: the record stands as a work of its own again.'), onError: tellError },
    )
  }
  return (
    <Stack gap="22px" px="24px" pb="40px" pt="8px">
      <Box>
        <Flex gap="10px">
          <Box pt="7px">
            <LeafMark state={w.state} size={18} />
          </Box>
          <chakra.h1 dir="auto" fontFamily="serif" fontSize="22px" lineHeight="29px" fontWeight="600">
            {w.title}
          </chakra.h1>
        </Flex>
        <Box mt="6px">
          <Source
            authors={authorLine(i.author ?? i.editor, 12)}
            container={w.container}
            numbers={[i.volume, i.issue && `(${i.issue})`].filter(Boolean).join(' ')}
            year={w.year}
            pages={i.page}
          />
        </Box>
        {mayWrite && (
          <Flex gap="8px" mt="12px" wrap="wrap">
            <Button
              size="xs"
              variant={w.state === 'kept' ? 'solid' : 'outline'}
              colorPalette="vine"
              onClick={() => decide([w.id], 'keep')}
            >
              Keep
            </Button>
            <Button size="xs" variant="outline" aria-expanded={asking} onClick={() => setAsking(a => !a)}>
              Set aside
            </Button>
            <Button size="xs" variant="outline" onClick={() => decide([w.id], 'later')}>
              Later
            </Button>
            <Button size="xs" variant="ghost" onClick={() => undo()}>
              Undo
            </Button>
            {w.state === 'kept' && !w.entry && (
              <Button
                size="xs"
                variant="outline"
                onClick={() =>
                  enter.mutate(w.id, {
                    onSuccess: () => tell('Now an entry of your bibliography.'),
                    onError: tellError,
                  })
                }
              >
                Put into the bibliography
              </Button>
            )}
          </Flex>
        )}
        {w.entry && (
          <Text mt="8px">
            It is an entry of the bibliography.{' '}
            <Link className="plain-link" to={toEntry(inquiry.id, w.entry.id)}>
              Go there
            </Link>
          </Text>
        )}
        {asking && (
          <Box mt="10px" border="1px solid" borderColor="hair" borderRadius="md" overflow="hidden">
            <Reasons
              choose={reason => {
                decide([w.id], 'set aside', 'abstract', reason)
                setAsking(false)
              }}
              cancel={() => setAsking(false)}
            />
          </Box>
        )}
      </Box>
      <TakenBack work={w.id} />
      {w.asked.length > 0 && (
        <Stack gap="8px">
          {w.asked.map(a => (
            <Notice
              key={a.record}
              voice="amber"
              action={
                mayWrite && (
                  <Flex gap="6px" flex="none">
                    <Button size="xs" variant="outline" onClick={() => join(a.record, 'same')}>
                      Same work
                    </Button>
                    <Button size="xs" variant="ghost" onClick={() => join(a.record, 'never')}>
                      Two works
                    </Button>
                  </Flex>
                )
              }
            >
              Perhaps the same work, from {a.source}: “{plainTitle(a.item.title)}”
              {a.item.DOI ? `, DOI ${a.item.DOI}` : ', without a DOI'}
            </Notice>
          ))}
        </Stack>
      )}
      {i.abstract && (
        <Text fontFamily="serif" fontSize="15px" lineHeight="24px">
          {i.abstract}
        </Text>
      )}
      <YouSay work={w} />
      <Box>
        <Heading aside={sureness(w.kind, w.confidence, w.ownKind)}>What this is: {w.kind}</Heading>
        {w.judged && (
          <Text fontSize="13.5px" lineHeight="20px" mb="4px">
            The evidence speaks for{' '}
            {[w.judged.kind, sureness(w.judged.kind, w.judged.confidence)].filter(Boolean).join(', ')}:
          </Text>
        )}
        {w.evidence.map(e => (
          <p key={e} className="speaks">
            {e}
          </p>
        ))}
        <OwnKind work={w} />
        {w.lead && (
          <Flex gap="10px" align="center" mt="8px" fontSize="13.5px" lineHeight="19px">
            <Box flex="1">
              A lead: {w.lead.what}, “{w.lead.title}”{w.lead.author && `, ${w.lead.author}`}
            </Box>
            {mayWrite && (
              <Button size="2xs" variant="outline" onClick={() => lead(w.id)}>
                Look for it
              </Button>
            )}
          </Flex>
        )}
        {w.linked.map(l => (
          <Text key={l.work} fontSize="13.5px" lineHeight="20px" mt="6px">
            Belongs together with{' '}
            <chakra.button
              type="button"
              fontFamily="serif"
              textDecoration="underline"
              textUnderlineOffset="3px"
              onClick={() => openWork(l.work)}
            >
              {l.title}
            </chakra.button>{' '}
            ({[l.kind, l.year].filter(Boolean).join(', ')}), a work of its own.
          </Text>
        ))}
        <Box mt="8px">
          <WrittenBy names={i.author ?? i.editor ?? []} work={id} />
          <PaidBy work={id} />
          <Row name="Venue">
            {w.facts.refereedVenue === undefined
              ? 'no catalogue says whether it is refereed'
              : w.facts.refereedVenue
                ? 'refereed'
                : 'not refereed'}
          </Row>
          {i.DOI && <Row name="DOI">{i.DOI}</Row>}
          <Row name="As cited">
            <CiteWork work={id} />
          </Row>
          {w.facts.otherTitles && <Row name="Also called">{w.facts.otherTitles.join(' · ')}</Row>}
          {w.facts.keywords && <Row name="Keywords">{w.facts.keywords.join(', ')}</Row>}
          {w.facts.languageTold && (
            <Row name="Language">{sayLanguage(w.facts.languageTold)}, by its words; no record says it</Row>
          )}
          {w.year !== null && <Row name="Age">{age(w.year)}</Row>}
          {w.citedBy !== null && (
            <Row name="Cited">
              {w.perYear !== null
                ? `${w.citedBy} times, ${w.perYear.toFixed(1)} a year`
                : `${w.citedBy} times; too new to tell a rate`}
            </Row>
          )}
        </Box>
      </Box>
      {w.byTrail && <CameBy work={w.id} />}
      <WaysTo work={w} />
      <SaidOf work={w.id} />
      <DataBehind work={w.id} />
      {w.passages.length > 0 && (
        <Box>
          <Heading>Passages</Heading>
          {w.passages.map(p => (
            <Row key={p.id} name={`page ${p.label}`}>
              {p.quote && <Text fontFamily="serif">“{p.quote}”</Text>}
              {p.note && <Text>{p.note}</Text>}
            </Row>
          ))}
        </Box>
      )}
      <Fields work={w} />
      <RecordsBehind work={w} apart={apart} />
      {w.history.length > 0 && (
        <Box>
          <Heading>What was done with it</Heading>
          <Deeds deeds={w.history} ofWork />
        </Box>
      )}
    </Stack>
  )
}
