import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { Link } from 'react-router'
import { printCql, type QueryNode } from '../../../core/query/cql'
import type { FoundSentence, FoundText } from '../../../core/query/texts'
import type { Answer } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Marked } from '../../frame/rich'

/** Sentences of one copy that are shown at most. */
const MOST = 500
const times = (n: number): string => (n === 1 ? 'once' : n === 2 ? 'twice' : `${n.toLocaleString('en')} times`)

/** A copy in which words were found: how often and where, and the sentences in which they stand. */
export function FoundCopy({
  copy,
  found,
  query,
  question,
  all,
}: {
  copy: Answer<'searchable'>[number]
  found: FoundText
  query: QueryNode
  question: QueryNode | undefined
  /** Fetches all its sentences. */
  all: (most: number) => Promise<FoundText[]>
}) {
  const { inquiry } = useHere()
  const [more, setMore] = useState<{ of: FoundText; sentences: FoundSentence[] }>()
  const sentences = more?.of === found ? more.sentences : found.sentences
  const on = found.byPage.filter(Boolean).length
  const to = (page: number) =>
    `/inquiries/${inquiry.id}/read/${copy.id}?${new URLSearchParams({ page: String(page), words: printCql({ root: query }) }).toString()}`
  const open = async () => setMore({ of: found, sentences: (await all(MOST))[0]?.sentences ?? [] })
  return (
    <Box as="article" aria-label={copy.title} py="12px" borderBottom="1px solid" borderColor="hair">
      <Flex columnGap="20px" rowGap="4px" align="flex-start" wrap={{ base: 'wrap', md: 'nowrap' }}>
        <Box flex="1" minW="0">
          <chakra.h2 fontFamily="serif" fontSize="16px" lineHeight="22px" fontWeight="600">
            <Link to={to(found.sentences[0]?.page ?? 1)}>{copy.title}</Link>
          </chakra.h2>
          <Text fontSize="13px" color="soft">
            {[copy.authors, copy.year, copy.version].filter(Boolean).join(' · ')}
            {copy.outcome === 'doubtful' && (
              <chakra.span color="amber"> · whether it is the work is doubtful</chakra.span>
            )}
          </Text>
        </Box>
        <Box flex="none" w={{ base: 'full', md: '236px' }}>
          <Strip byPage={found.byPage} labels={copy.labels} />
          <Text fontSize="12.5px" lineHeight="17px" color="soft" mt="2px">
            {times(found.hits)}, on {on} of {found.byPage.length} {found.byPage.length === 1 ? 'page' : 'pages'}
          </Text>
        </Box>
      </Flex>
      <Box as="ul" mt="4px" listStyleType="none">
        {sentences.map((s, i) => (
          <li key={`${s.page} ${i}`}>
            <chakra.a
              asChild
              display="grid"
              gridTemplateColumns="64px 1fr"
              gap="10px"
              py="3px"
              fontSize="14.5px"
              lineHeight="21px"
              _hover={{ bg: 'surface' }}
            >
              <Link to={to(s.page)}>
                <chakra.span color="soft" fontSize="13px" textAlign="right" truncate>
                  p. {copy.labels[s.page - 1] ?? s.page}
                </chakra.span>
                <chakra.span fontFamily="serif" overflowWrap="anywhere">
                  <Marked text={s.text} query={question} found={query} />
                </chakra.span>
              </Link>
            </chakra.a>
          </li>
        ))}
      </Box>
      {found.all > sentences.length && (
        <Button size="2xs" variant="ghost" ml="66px" mt="2px" onClick={() => void open()}>
          All {found.all.toLocaleString('en')} sentences
        </Button>
      )}
    </Box>
  )
}

/** How often something stands on each page, from the first to the last. */
function Strip({ byPage, labels }: { byPage: readonly number[]; labels: readonly string[] }) {
  const most = Math.max(1, ...byPage)
  const wide = 236 / Math.max(8, byPage.length)
  return (
    <Box aria-hidden="true" mt="4px">
      <svg width="100%" height="22" viewBox="0 0 236 22" preserveAspectRatio="none" style={{ display: 'block' }}>
        <path d="M0 21.5 H236" stroke="var(--chakra-colors-hair)" vectorEffect="non-scaling-stroke" />
        {byPage.map(
          (n, i) =>
            n > 0 && (
              <rect
                key={i}
                x={i * wide}
                width={Math.max(1.5, wide - (wide > 4 ? 1 : 0))}
                y={21 - 3 - (17 * n) / most}
                height={3 + (17 * n) / most}
                fill="var(--chakra-colors-slate-solid)"
              >
                <title>{`page ${labels[i] ?? i + 1}: ${n}`}</title>
              </rect>
            ),
        )}
      </svg>
    </Box>
  )
}
