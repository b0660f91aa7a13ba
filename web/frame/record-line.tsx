import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import type { Reach } from '../../core/access/routes'
import type { QueryNode } from '../../core/query/cql'
import type { State } from '../../core/sift/decisions'
import { LeafMark, ReachMark } from './marks'
import { Marked } from './rich'

export interface RecordLineProps {
  title: string
  authors: string
  container: string
  year: number | null
  pages?: number | null
  kind: string
  confidence: number
  perYear: number | null
  citedBy?: number | null
  state: State
  reach?: Reach | undefined
  query?: QueryNode | undefined
  /** Before the leaf mark: a box to choose by. */
  choose?: ReactNode
  /** In place of the citations: where it was found. */
  aside?: ReactNode
  /** After the sources: why it was set aside. */
  note?: ReactNode
  /** Under the sources: the abstract. */
  below?: ReactNode
  current?: boolean
  onOpen?: () => void
}

const voiceOf = (kind: string): string =>
  kind === 'research article' || kind === 'literature review' ? 'slate' : kind === 'unknown' ? 'rust' : 'amber'

/** A record, the same everywhere: state, title, source, kind with its confidence, citations a year, reach. */
export function RecordLine(p: RecordLineProps) {
  const source = [p.authors, p.container, p.year, p.pages ? `${p.pages} pages` : null].filter(Boolean).join(' · ')
  const sure = Math.round(p.confidence * 100)
  return (
    <Flex
      align="flex-start"
      gap="12px"
      px="8px"
      py="9px"
      borderBottom="1px solid"
      borderColor="hair"
      bg={p.current ? 'vine.soft' : undefined}
      _hover={p.onOpen ? { bg: p.current ? 'vine.soft' : 'surface' } : undefined}
      position="relative"
    >
      {p.choose}
      <Box pt="4px">
        <LeafMark state={p.state} />
      </Box>
      <Box flex="1" minW="0">
        <chakra.button
          type="button"
          display="block"
          w="full"
          textAlign="left"
          cursor={p.onOpen ? 'pointer' : 'default'}
          onClick={p.onOpen}
          fontFamily="serif"
          fontWeight="600"
          fontSize="15px"
          lineHeight="20px"
          _after={p.onOpen ? { content: '""', position: 'absolute', inset: 0 } : {}}
        >
          <Marked text={p.title} query={p.query} />
        </chakra.button>
        <Text fontSize="13px" lineHeight="18px" color="soft" truncate title={source}>
          {source || 'no source given'}
          {p.note}
        </Text>
        {p.below}
      </Box>
      <Box flex="none" w="150px" pt="2px" display={{ base: 'none', md: 'block' }}>
        <Box
          as="span"
          display="inline-block"
          bg={`${voiceOf(p.kind)}.soft`}
          color={voiceOf(p.kind)}
          fontSize="12.5px"
          lineHeight="18px"
          px="7px"
          borderRadius="sm"
        >
          {p.kind}
        </Box>
        <Text fontSize="12px" lineHeight="16px" color="soft" mt="1px">
          {sure}% sure
        </Text>
      </Box>
      <Text
        flex="none"
        w="112px"
        fontSize="12.5px"
        lineHeight="16px"
        color="soft"
        pt="3px"
        display={{ base: 'none', md: 'block' }}
      >
        {p.aside ??
          (p.perYear !== null ? `${p.perYear.toFixed(1)} a year` : p.citedBy != null ? 'too new to tell' : '')}
      </Text>
      <Box flex="none" w="18px" pt="3px">
        {p.reach && <ReachMark reach={p.reach} />}
      </Box>
    </Flex>
  )
}
