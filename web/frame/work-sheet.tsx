import { plainTitle } from '../../core/bib/clean'
import { Box, Button, chakra, CloseButton, Drawer, Flex, Portal, Stack, Text } from '@chakra-ui/react'
import { format } from 'date-fns'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { Link, useNavigate, useParams } from 'react-router'
import { wayKey } from '../../core/access/routes'
import { authorLine } from '../../core/bib/names'
import { useChange, useOf } from '../api/hooks'
import { api, type Work } from '../../core/schema/api'
import { CameBy } from './came-by'
import { CiteWork } from './cite-work'
import { CopyParts } from './copy-parts'
import { useDecide } from './decide'
import { Deeds } from './deeds'
import { useDeskTime } from './desk-time'
import { useHere, useOpenWork } from './inquiry-frame'
import { useLead } from './lead'
import { LeafMark, ReachMark } from './marks'
import { Failed, Heading, Notice, Source, tell, tellError, Waiting } from './parts'
import { sureness } from './record-line'
import { Reasons } from './reasons'
import { Fields, OwnKind, YouSay } from './work-words'

/** A work in full, sliding over the right half of any list, which stays in use beside it. */
export function WorkSheet({ work, onClose }: { work: number; onClose: () => void }) {
  const sheet = useRef<HTMLDivElement>(null)
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

function Row({ name, children }: { name: string; children: ReactNode }) {
  return (
    <Flex py="6px" borderBottom="1px solid" borderColor="hair2" fontSize="13.5px" lineHeight="19px" gap="12px">
      <Text color="soft" w="120px" flex="none">
        {name}
      </Text>
      <Box flex="1" minW="0">
        {children}
      </Box>
    </Flex>
  )
}

const WAYS = {
  open: 'Open copy',
  gate: 'Through the gate',
  shelf: 'On the shelf',
  loan: 'From elsewhere',
  author: 'Ask the author',
}

/** A copy of the work: whether it counts, why, and what is in it. */
function CopyRow({ copy: c, work }: { copy: Work['copies'][number]; work: Work }) {
  const { inquiry } = useHere()
  const navigate = useNavigate()
  const [open, setOpen] = useState(false)
  const address = `/inquiries/${inquiry.id}/read/${c.id}`
  const byWord = c.outcome !== c.proof.outcome
  return (
    <>
      <Row name={c.outcome === 'proved' ? 'In hand' : c.outcome === 'doubtful' ? 'Doubtful' : 'Not this work'}>
        <Flex justify="space-between" gap="8px">
          <Box minW="0">
            <Link to={address}>
              {c.version}, {c.pages} {c.pages === 1 ? 'page' : 'pages'}
            </Link>{' '}
            <Text as="span" color="soft">
              from {c.origin}
              {byWord && ', by your word'}
            </Text>
          </Box>
          <Button
            size="2xs"
            variant="ghost"
            flex="none"
            aria-expanded={open}
            aria-label={`What is in the ${c.version}, ${c.pages} pages`}
            onClick={() => setOpen(!open)}
          >
            {open ? 'Fold' : 'What is in it'}
          </Button>
        </Flex>
        {c.proof.evidence.map(e => (
          <Text key={e.said} fontSize="13px" color={e.holds ? 'soft' : 'amber'}>
            {e.holds ? '✓' : '✗'} {e.said}
          </Text>
        ))}
      </Row>
      {open && (
        <Box bg="paper" border="1px solid" borderColor="hair" borderTop="none" px="14px" py="12px" mb="8px">
          <CopyParts copy={c} work={work} go={page => void navigate(`${address}?page=${page}`)} />
        </Box>
      )}
    </>
  )
}

function Sheet({ id }: { id: number }) {
  const { inquiry, mayWrite } = useHere()
  const work = useOf(inquiry.id, api.work, { params: { work: id } })
  const { decide, undo } = useDecide(inquiry.id)
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  const link = useChange(inquiry.id, api.answerPair, (body: { a: number; b: number; verdict: 'same' | 'never' }) => ({
    body,
  }))
  const [raw, setRaw] = useState<number>()
  const [asking, setAsking] = useState(false)
  const lead = useLead()
  const openWork = useOpenWork()
  const onDesk = useDeskTime()
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
      <Box>
        <Heading>Ways to the text</Heading>
        <Flex gap="8px" align="center" fontSize="14px" mb="6px">
          <ReachMark reach={w.reach} /> <b>{w.reach}</b>
        </Flex>
        {!w.routes && (
          <Text fontSize="13.5px" lineHeight="19px" color="soft" mb="6px">
            {w.reachSaid} Obtain looks for the ways to the texts of all works you keep.
          </Text>
        )}
        {w.copies.map(c => (
          <CopyRow key={c.id} copy={c} work={w} />
        ))}
        {w.routes?.routes.map(r => (
          <Row key={wayKey(r)} name={WAYS[r.way]}>
            <Text as="span" textDecoration={r.likely === 0 ? 'line-through' : undefined}>
              {r.way === 'shelf' ? '' : `${r.from}, ${r.version}.`}
            </Text>{' '}
            <Text as="span" color="soft">
              {r.evidence} {r.likely > 0 && `It asks: ${r.asks}.`}
            </Text>
          </Row>
        ))}
        {w.routes?.closed.map(c => (
          <Row key={c} name="Closed">
            <Text color="soft">{c}</Text>
          </Row>
        ))}
      </Box>
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
      <Box>
        <Heading aside={w.records.length > 1 ? 'joined; each stands as it came' : undefined}>Records behind it</Heading>
        {w.records.map(r => (
          <Box key={r.id}>
            <Row name={r.source}>
              <Flex justify="space-between" gap="8px">
                <Text minW="0">
                  {plainTitle(r.item.title)}{' '}
                  <Text as="span" color="soft">
                    · came {format(onDesk(r.at), 'd MMM yyyy, HH:mm')}
                  </Text>
                </Text>
                <Flex gap="4px" flex="none">
                  <Button size="2xs" variant="ghost" onClick={() => setRaw(raw === r.id ? undefined : r.id)}>
                    {raw === r.id ? 'Hide source' : 'Source'}
                  </Button>
                  {w.records.length > 1 && mayWrite && (
                    <Button size="2xs" variant="ghost" onClick={() => apart(r.id)}>
                      Take apart
                    </Button>
                  )}
                </Flex>
              </Flex>
            </Row>
            {raw === r.id && (
              <chakra.pre
                fontSize="12px"
                lineHeight="17px"
                bg="paper"
                border="1px solid"
                borderColor="hair"
                p="10px"
                mt="4px"
                whiteSpace="pre-wrap"
                overflowWrap="anywhere"
                maxH="260px"
                overflow="auto"
              >
                {r.raw}
              </chakra.pre>
            )}
          </Box>
        ))}
      </Box>
      {w.history.length > 0 && (
        <Box>
          <Heading>What was done with it</Heading>
          <Deeds deeds={w.history} ofWork />
        </Box>
      )}
    </Stack>
  )
}
