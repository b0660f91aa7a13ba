import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useDeferredValue, useMemo, useState } from 'react'
import { Link } from 'react-router'
import { misfits, type Misfit } from '../../../core/sift/misfits'
import { lineIn } from '../../../core/sift/line'
import type { WorkLine } from '../../../core/sift/line'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'

const n = (x: number): string => x.toLocaleString('en')
function* placed(rows: Uint32Array, works: readonly WorkLine[]): Generator<WorkLine> {
  for (const at of rows) if (works[at]) yield works[at]
}
/** Titles shown of each proposal; the others stand in the list. */
const SHOWN = 200

/**
 * Undecided works that a rule of the brief shuts out: shown, and set aside together when the student says so; `rows`
 * are the places of those within the limits.
 */
export function Misfits({ rows, works }: { rows: Uint32Array; works: readonly WorkLine[] }) {
  const { inquiry, mayWrite } = useHere()
  const { decide } = useDecide(inquiry.id)
  const [shown, setShown] = useState(false)
  const [looking, setLooking] = useState<string>()
  // told a moment later than what was decided is drawn
  const late = useDeferredValue(useMemo(() => ({ rows, works }), [rows, works]))
  const groups = useMemo(() => misfits(inquiry.rules, placed(late.rows, late.works)), [inquiry.rules, late])
  if (!groups.length || !mayWrite) return null
  const total = groups.reduce((t, g) => t + g.works.length, 0)
  return (
    <Box
      flex="none"
      bg="amber.soft"
      borderBottom="1px solid"
      borderColor="amber.line"
      fontSize="13px"
      lineHeight="19px"
    >
      <Flex px={{ base: '8px', md: '24px' }} py="5px" gap="12px" align="center">
        <Text color="amber" role="status">
          <b>
            {n(total)} undecided {total === 1 ? 'work does' : 'works do'} not fit the brief
          </b>
          :{' '}
          {groups
            .slice(0, 3)
            .map(g => `${n(g.works.length)} ${g.said}`)
            .join(', ')}
          {groups.length > 3 && ' and others'}.
        </Text>
        <Box flex="1" />
        <Button size="2xs" variant="outline" aria-expanded={shown} onClick={() => setShown(s => !s)}>
          {shown ? 'Fold' : 'Look at them'}
        </Button>
      </Flex>
      {shown && (
        <Box px={{ base: '8px', md: '24px' }} pb="10px">
          {groups.map(g => (
            <Proposal
              key={g.rule + g.said}
              group={g}
              open={looking === g.rule + g.said}
              look={() => setLooking(l => (l === g.rule + g.said ? undefined : g.rule + g.said))}
              titles={g.works.slice(0, SHOWN).flatMap(id => lineIn(works, id) ?? [])}
              aside={() => void decide(g.works, 'set aside', 'abstract', g.reason)}
            />
          ))}
          <Text color="soft" mt="6px">
            Nothing is set aside by itself. The rules stand in the{' '}
            <chakra.span textDecoration="underline">
              <Link to={`/inquiries/${inquiry.id}/brief`}>brief</Link>
            </chakra.span>
            .
          </Text>
        </Box>
      )}
    </Box>
  )
}

function Proposal({
  group: g,
  open,
  look,
  titles,
  aside,
}: {
  group: Misfit
  open: boolean
  look: () => void
  titles: readonly WorkLine[]
  aside: () => void
}) {
  const openWork = useOpenWork()
  return (
    <Box borderTop="1px solid" borderColor="amber.line" py="5px">
      <Flex gap="10px" align="center">
        <Text flex="1">
          <b>{n(g.works.length)}</b> {g.said} <chakra.span color="soft">· the reason: {g.reason}</chakra.span>
        </Text>
        <Button size="2xs" variant="ghost" aria-expanded={open} onClick={look}>
          {open ? 'Fold' : 'Titles'}
        </Button>
        <Button size="2xs" variant="outline" bg="surface" onClick={aside}>
          Set aside {n(g.works.length)}
        </Button>
      </Flex>
      {open && (
        <Box maxH="160px" overflow="auto" mt="4px" bg="surface" borderRadius="md" px="10px" py="4px">
          {titles.map(w => (
            <chakra.button
              key={w.id}
              type="button"
              display="block"
              w="full"
              textAlign="left"
              minH="24px"
              fontFamily="serif"
              truncate
              onClick={() => openWork(w.id)}
            >
              {w.title}{' '}
              <chakra.span fontFamily="body" color="soft">
                · {[w.authors, w.year].filter(Boolean).join(' · ')}
              </chakra.span>
            </chakra.button>
          ))}
          {g.works.length > titles.length && <Text color="soft">and {n(g.works.length - titles.length)} more</Text>}
        </Box>
      )}
    </Box>
  )
}
