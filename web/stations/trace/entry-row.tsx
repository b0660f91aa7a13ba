import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { useMemo, type ReactNode } from 'react'
import { LeafMark } from '../../frame/marks'
import { toldBy, type Row, type Stands } from './entry-words'
import { colour as c } from '../../frame/colour'
const VOICE: Record<Stands, string> = { 'in pool': 'vine', 'you lack': 'grape', 'to settle': 'amber', unknown: 'slate' }
const DASH: Partial<Record<Stands, string>> = { 'you lack': '5 3', unknown: '1.5 4' }

/** What stands for an entry: the leaf of its work, a shut bud, a fork, a bare ring. */
export function StandsMark({ stands, row }: { stands: Stands | undefined; row?: Row }) {
  if (stands === 'in pool' && row?.work) return <LeafMark state={row.work.state} />
  const stroke = {
    fill: 'none',
    stroke: c(stands ? VOICE[stands] : 'line'),
    strokeWidth: 1.5,
    strokeLinecap: 'round' as const,
  }
  return (
    <svg width="16" height="16" viewBox="0 0 16 16" aria-hidden="true" style={{ flex: 'none', display: 'block' }}>
      {stands === 'in pool' ? (
        <path d="M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z" fill={c('vine')} />
      ) : stands === 'you lack' ? (
        <path d="M8 1 C12.6 4.6 12.6 11.4 8 15 C3.4 11.4 3.4 4.6 8 1Z" {...stroke} />
      ) : stands === 'to settle' ? (
        <path d="M1 8 H6 C9 8 9 3.5 13 3.5 M6 8 C9 8 9 12.5 13 12.5" {...stroke} />
      ) : (
        <circle cx="8" cy="8" r="5.5" {...stroke} strokeDasharray="2.2 2.6" />
      )}
    </svg>
  )
}

/** A bracket round the printed words, and the tendril that leads from them to what they mean. */
function Lead({ stands, forked }: { stands: Stands | undefined; forked: boolean }) {
  const colour = c(stands ? VOICE[stands] : 'line')
  return (
    <Box position="relative" h="100%" minH="36px" aria-hidden="true">
      <svg
        width="100%"
        height="100%"
        preserveAspectRatio="none"
        viewBox="0 0 100 40"
        style={{ position: 'absolute', inset: 0 }}
      >
        <path d="M2 3 H8 V37 H2" fill="none" stroke={colour} strokeWidth="1.4" vectorEffect="non-scaling-stroke" />
        <path
          d={forked ? 'M8 16 H34 C60 16 60 8 96 8 M34 16 C60 16 60 24 96 24' : 'M8 20 C40 20 54 10 96 10'}
          fill="none"
          stroke={colour}
          strokeWidth="1.4"
          strokeDasharray={stands ? DASH[stands] : '1.5 4'}
          vectorEffect="non-scaling-stroke"
        />
      </svg>
    </Box>
  )
}

/** Without a title and a DOI nobody was asked. */
const whyUnknown = ({ entry: { item } }: Row): string =>
  item.title || item.DOI ? 'nobody who was asked has it' : 'it names no title to ask for'

/** An entry as it is printed, and across from it the work that it means. */
export function EntryRow({
  row,
  current,
  open,
  note,
  page,
  go,
  children,
}: {
  row: Row
  current: boolean
  open: boolean
  /** What else is known of its work. */
  note: string
  /** The page of the copy that begins with it. */
  page: number | null
  go: () => void
  children?: ReactNode
}) {
  const { entry, stands, title } = row
  const by = useMemo(() => toldBy(row), [row])
  const called =
    title ||
    (stands === 'to settle'
      ? entry.matches.length > 1
        ? `${entry.matches.length === 2 ? 'Two' : 'Three'} works may fit`
        : 'One work may fit'
      : stands === 'unknown'
        ? entry.byHand
          ? 'None of those found'
          : 'No work found'
        : 'Being looked for')
  const why =
    entry.byHand && title
      ? 'as you said'
      : by || (entry.missing ?? (stands === 'unknown' && !entry.byHand ? whyUnknown(row) : ''))
  return (
    <Box role="listitem" data-current={current || undefined} data-entry={entry.n} scrollMarginTop="110px">
      <Box
        display="grid"
        gridTemplateColumns={{ base: '1fr', lg: 'minmax(0, 5fr) 96px minmax(0, 6fr)' }}
        gap={{ base: '4px', lg: '12px' }}
        py="7px"
        px="8px"
        mx="-8px"
        bg={current ? 'grape.soft' : undefined}
        borderRadius="md"
      >
        <Flex gap="10px" fontFamily="serif" fontSize="14px" lineHeight="19px">
          <Text color="soft" minW="24px" fontFamily="body" fontSize="13px">
            {entry.label ?? entry.n}.
          </Text>
          <Text dir="auto" minW="0" overflowWrap="anywhere">
            {entry.text}
            {page !== null && (
              <chakra.span color="soft" fontFamily="body" fontSize="12.5px">
                {' '}
                · page {page} of the copy
              </chakra.span>
            )}
          </Text>
        </Flex>
        <Box display={{ base: 'none', lg: 'block' }}>
          <Lead stands={stands} forked={stands === 'to settle' && entry.matches.length > 1} />
        </Box>
        <Flex gap="10px" minW="0">
          <Box pt="2px">
            <StandsMark stands={stands} row={row} />
          </Box>
          <Box flex="1" minW="0">
            <chakra.button
              type="button"
              textAlign="start"
              fontFamily="serif"
              fontWeight="600"
              fontSize="14.5px"
              lineHeight="19px"
              cursor="pointer"
              aria-expanded={open}
              onClick={go}
              dir="auto"
            >
              {called}
            </chakra.button>
            <Flex justify="space-between" gap="12px" fontSize="13px" lineHeight="18px" wrap="wrap">
              <Text>
                <chakra.span fontWeight="600" color={stands ? VOICE[stands] : 'soft'}>
                  {stands === 'you lack' ? 'you lack it' : (stands ?? 'waits')}
                </chakra.span>
                {note && <chakra.span color="soft"> · {note}</chakra.span>}
              </Text>
              <Text color="soft">{why}</Text>
            </Flex>
          </Box>
        </Flex>
      </Box>
      {children}
    </Box>
  )
}
