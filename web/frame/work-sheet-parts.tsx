import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { format } from 'date-fns'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate } from 'react-router'
import { wayKey } from '../../core/access/routes'
import { plainTitle } from '../../core/bib/clean'
import type { Name } from '../../core/bib/item'
import { spokenName } from '../../core/bib/names'
import type { Work } from '../../core/schema/api'
import { CopyParts } from './copy-parts'
import { useDeskTime } from './desk-time'
import { useHere } from './inquiry-frame'
import { ReachMark } from './marks'
import { some } from './counted'
import { Heading } from './parts'
import { toAuthor } from './to-author'
import { WhoseRight } from './whose-right'

/** A line of the sheet: what it is called, and what it says. */
export function Row({ name, children }: { name: string; children: ReactNode }) {
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

/** Authors that are named at first. */
const NAMED = 8

/** Who wrote it, each leading to what else is known of them. */
export function WrittenBy({ names, work }: { names: readonly Name[]; work: number }) {
  const { inquiry } = useHere()
  const [all, setAll] = useState(false)
  if (!names.length) return null
  return (
    <Row name="By">
      {names.slice(0, all ? undefined : NAMED).map((n, i) => (
        <span key={i}>
          {i > 0 && ' · '}
          <Link className="plain-link" to={toAuthor(inquiry.id, n, work)} title="What else of them is known">
            {spokenName(n)}
          </Link>
        </span>
      ))}
      {names.length > NAMED && !all && (
        <Button size="2xs" variant="ghost" ml="6px" onClick={() => setAll(true)}>
          All {names.length}
        </Button>
      )}
    </Row>
  )
}

const WAYS = {
  open: 'Open copy',
  gate: 'Through the gate',
  shelf: 'On the shelf',
  loan: 'From elsewhere',
  author: 'Ask the author',
}

const WHAT_IT_IS = { proved: 'In hand', doubtful: 'Doubtful', 'not this work': 'Not this work' }

/** A copy of the work: whether it counts, by whose right it is here, why, and what is in it. */
function CopyRow({ copy: c, work }: { copy: Work['copies'][number]; work: Work }) {
  const { inquiry } = useHere()
  const navigate = useNavigate()
  const [open, setOpen] = useState(false)
  const address = `/inquiries/${inquiry.id}/read/${c.id}`
  const byWord = c.outcome !== c.proof.outcome
  return (
    <>
      <Row name={c.opening.opens ? WHAT_IT_IS[c.outcome] : 'Another’s copy'}>
        <Flex justify="space-between" gap="8px">
          <Box minW="0">
            <Link to={address}>
              {c.version}, {some(c.pages, 'page')}
            </Link>{' '}
            <Text as="span" color="soft">
              from {c.origin}
              {byWord && ', by your word'}
            </Text>
          </Box>
          {c.opening.opens && (
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
          )}
        </Flex>
        <WhoseRight copy={c} />
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

/** How the text of a work can be had: its copies, the ways that are open, and those that are closed. */
export function WaysTo({ work: w }: { work: Work }) {
  return (
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
  )
}

/** The records that a work was made of, each as it came. */
export function RecordsBehind({ work: w, apart }: { work: Work; apart: (record: number) => void }) {
  const { mayWrite } = useHere()
  const onDesk = useDeskTime()
  const [raw, setRaw] = useState<number>()
  return (
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
  )
}
