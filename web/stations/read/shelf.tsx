import { Box, Button, chakra, CloseButton, Flex, Input, Stack, Text } from '@chakra-ui/react'
import { useDeferredValue, useMemo } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { QueryNode } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { conceptSearches } from '../../../core/query/texts'
import { api, type Answer } from '../../../core/schema/api'
import { useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { ReachMark } from '../../frame/marks'
import { some } from '../../frame/counted'
import { sayMinutes } from '../../frame/due'
import { Empty, Failed, Meter, Notice, Waiting } from '../../frame/parts'
import { useFound, useTexts } from '../../frame/texts'
import { AllPassages } from './all-passages'
import { FoundCopy } from './found'
import { TableOfWorks } from './table'

/** What is in hand, to choose from. */
export function Shelf() {
  const { inquiry } = useHere()
  const list = useOf(inquiry.id, api.ways)
  const works = useWorks(inquiry.id).data
  const [search] = useSearchParams()
  const byText = new Set(works?.filter(w => w.pass === 'full text').map(w => w.id))
  if (list.isPending) return <Waiting what="Opening your copies" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const held = list.data.filter(r => r.copies.length)
  const view = search.get('view') === 'passages' ? 'passages' : search.get('view') === 'table' ? 'table' : 'copies'
  if (!held.length && view === 'copies') {
    return (
      <Empty
        title="Nothing to read yet"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/obtain`}>To Obtain</Link>
          </Button>
        }
      >
        Copies come here from Obtain: fetched through a lawful route, or dropped as a PDF of your own.
      </Empty>
    )
  }
  return (
    <Flex direction="column" h="full" minH="0">
      <Views copies={held.filter(r => r.copies.some(c => c.opening.opens)).length} view={view} />
      <Box flex="1" minH="0" overflow="auto">
        {view === 'table' ? (
          <TableOfWorks />
        ) : (
          <Box maxW="860px" mx="auto" px={{ base: '12px', md: '24px' }} py="18px">
            {view === 'passages' ? <AllPassages /> : <Copies held={held} byText={byText} />}
          </Box>
        )}
      </Box>
    </Flex>
  )
}
type View = 'copies' | 'table' | 'passages'
const NAMES: Record<View, string> = { copies: 'Your copies', table: 'Table of works', passages: 'Passages' }

/** What there is to read, and what was noted of it. */
function Views({ copies, view }: { copies: number; view: View }) {
  const { inquiry } = useHere()
  const passages = useOf(inquiry.id, api.passages).data?.passages.length
  const at = `/inquiries/${inquiry.id}/read`
  return (
    <chakra.nav aria-label="Views of Read" className="views">
      <chakra.h1 srOnly>{NAMES[view]}</chakra.h1>
      <Link to={at} aria-current={view === 'copies' ? 'page' : undefined}>
        Your copies {copies}
      </Link>
      <Link to={`${at}?view=table`} aria-current={view === 'table' ? 'page' : undefined}>
        Table of works
      </Link>
      <Link to={`${at}?view=passages`} aria-current={view === 'passages' ? 'page' : undefined}>
        Passages {passages ?? ''}
      </Link>
    </chakra.nav>
  )
}

function Copies({ held, byText }: { held: Answer<'ways'>; byText: ReadonlySet<number> }) {
  const { inquiry } = useHere()
  const [search] = useSearchParams()
  return (
    <>
      {!search.get('words') && <NextToRead />}
      <Finder />
      {!search.get('words') && (
        <Box>
          {held.map(r => (
            <Flex
              key={r.id}
              gap="12px"
              py="10px"
              borderBottom="1px solid"
              borderColor="hair"
              align="center"
              wrap={{ base: 'wrap', md: 'nowrap' }}
            >
              <ReachMark reach={r.reach} />
              <Box flex="1" minW="0">
                <Text fontFamily="serif" fontWeight="600" lineClamp={2} title={r.title}>
                  {r.title}
                </Text>
                <Text fontSize="13px" color="soft">
                  {r.authors} · {r.year}
                  {byText.has(r.id) ? ' · decided by its text' : ''}
                </Text>
              </Box>
              <Stack gap="6px" flex="none" w={{ base: 'full', md: '256px' }} pl={{ base: '30px', md: '0' }}>
                {r.copies.map(c => (
                  <Flex key={c.id} align="center" justify="space-between" gap="10px">
                    <Text
                      fontSize="13px"
                      lineHeight="18px"
                      minW="0"
                      color={c.outcome === 'doubtful' ? 'amber' : 'soft'}
                    >
                      {c.version}, {c.pages} {c.pages === 1 ? 'page' : 'pages'}
                      {c.outcome === 'doubtful' && ', doubtful'}
                    </Text>
                    {c.opening.opens ? (
                      <Button asChild size="xs" variant="outline">
                        <Link
                          to={`/inquiries/${inquiry.id}/read/${c.id}`}
                          aria-label={`Read the ${c.version} of “${r.title}”, ${c.pages} pages`}
                        >
                          Read
                        </Link>
                      </Button>
                    ) : (
                      <Link
                        to={`/inquiries/${inquiry.id}/read/${c.id}`}
                        className="plain-link"
                        style={{ fontSize: '13px', whiteSpace: 'nowrap' }}
                        title={c.opening.said}
                        aria-label={`Why the ${c.version} of “${r.title}” does not open`}
                      >
                        another’s
                      </Link>
                    )}
                  </Flex>
                ))}
              </Stack>
            </Flex>
          ))}
        </Box>
      )}
    </>
  )
}

/** What is best read next, by the plan. */
function NextToRead() {
  const { inquiry } = useHere()
  const plan = useOf(inquiry.id, api.plan).data
  const next = plan?.reading.find(r => r.copy !== null && r.pages > 0)
  if (!plan || !next) return null
  const rest = plan.reading.filter(r => r.pages > 0).length - 1
  return (
    <Flex as="section" aria-label="Next to read" align="center" gap="12px" mb="14px" fontSize="13px" color="soft">
      <Text minW="0" flex="1">
        Next:{' '}
        <chakra.b fontFamily="serif" fontWeight="600" fontSize="14px" color="ink">
          {next.title}
        </chakra.b>
        , {some(next.pages, 'page')}, {sayMinutes(next.read)}
      </Text>
      <Button asChild size="xs" colorPalette="vine" flex="none">
        <Link to={`/inquiries/${inquiry.id}/read/${next.copy}`} aria-label={`Read next: “${next.title}”`}>
          Read
        </Link>
      </Button>
      <chakra.a asChild color="vine" textDecoration="underline" flex="none">
        <Link to={`/inquiries/${inquiry.id}/brief?view=time`}>{rest ? `${rest} more, and the time` : 'The time'}</Link>
      </chakra.a>
    </Flex>
  )
}

/** Looks for words in all copies at once. What is looked for stands in the address, so that one comes back to it. */
function Finder() {
  const { inquiry } = useHere()
  const [search, setSearch] = useSearchParams()
  const words = search.get('words') ?? ''
  const look = (w: string) => setSearch(p => (w ? p.set('words', w) : p.delete('words'), p), { replace: true })
  const list = useOf(inquiry.id, api.searchable)
  const { texts, reading } = useTexts(inquiry.id, list.data)
  const asked = useDeferredValue(words)
  const query = useMemo(() => (asked.trim() ? parseCql(asked) : undefined), [asked])
  const root = query?.ok ? query.query.root : undefined
  const question = useMemo(() => {
    const p = inquiry.query ? parseCql(inquiry.query) : undefined
    return p?.ok ? p.query.root : undefined
  }, [inquiry.query])
  const { found, trouble } = useFound({ texts, reading }, root)
  const hits = found?.reduce((n, f) => n + f.hits, 0) ?? 0
  const isReading = reading.read + reading.failed < reading.of
  const wrong = query && !query.ok ? query.error.message : trouble
  return (
    <Box mb="12px">
      <Flex role="search" gap="8px" align="center" position="relative">
        <Input
          size="sm"
          bg="surface"
          type="search"
          aria-label="Words in your copies"
          placeholder={'Words in your copies: lamp*, "street light", moth or butterfly'}
          value={words}
          onChange={e => look(e.target.value)}
          css={{ '&::-webkit-search-cancel-button': { display: 'none' } }}
        />
        {words && (
          <CloseButton
            size="xs"
            position="absolute"
            right="4px"
            aria-label="Show all copies again"
            onClick={() => look('')}
          />
        )}
      </Flex>
      {question && <Concepts question={question} words={words} look={look} />}
      {words && isReading && (
        <Box mt="8px">
          <Text fontSize="13px" color="soft">
            {reading.read} of {reading.of} copies searched so far
          </Text>
          <Meter share={reading.read / reading.of} label="Reading the copies" />
        </Box>
      )}
      {reading.failed > 0 && (
        <Box mt="8px">
          <Notice
            voice="amber"
            action={
              <Button size="xs" variant="outline" flex="none" onClick={texts.again}>
                Try again
              </Button>
            }
          >
            {reading.failed === reading.of
              ? 'The words of your copies could not be fetched.'
              : `The words of ${reading.failed} ${reading.failed === 1 ? 'copy' : 'copies'} could not be fetched; the others are searched.`}
          </Notice>
        </Box>
      )}
      {words.trim() && reading.failed < reading.of && (
        <Text mt="10px" fontSize="13.5px" color={wrong ? 'amber' : 'soft'} role="status">
          {wrong ??
            (found
              ? found.length
                ? `In ${found.length} of ${reading.read} ${reading.read === 1 ? 'copy' : 'copies'}, ${hits.toLocaleString('en')} ${hits === 1 ? 'place' : 'places'}. Terms of your question are tinted.`
                : `In none of ${reading.read} copies. Fewer words find more, and lamp* finds lamps, too.`
              : 'Looking …')}{' '}
          {root && !wrong && Boolean(found?.length) && (
            <chakra.a asChild color="vine" textDecoration="underline">
              <Link to={`/inquiries/${inquiry.id}/sift?${new URLSearchParams({ view: 'list', text: words })}`}>
                These works in Sift
              </Link>
            </chakra.a>
          )}
        </Text>
      )}
      {root &&
        !wrong &&
        found?.map(f => {
          const copy = list.data?.find(c => c.id === f.copy)
          return (
            copy && (
              <FoundCopy
                key={f.copy}
                {...{ copy, question }}
                found={f}
                query={root}
                all={most => texts.foundIn(f.copy, root, most)}
              />
            )
          )
        })}
    </Box>
  )
}

/** The concepts of the question, each a search that is ready. */
function Concepts({ question, words, look }: { question: QueryNode; words: string; look: (w: string) => void }) {
  const ready = useMemo(() => conceptSearches(question), [question])
  if (!ready.length) return null
  return (
    <Flex mt="6px" gap="6px" align="center" wrap="wrap" fontSize="13px" color="soft">
      Where do they speak of
      {ready.map(({ words: text, said }, i) => (
        <Button
          key={text}
          size="2xs"
          variant="outline"
          aria-pressed={words === text}
          title={text}
          bg={words === text ? `tint.${'abc'[i % 3]!}` : 'surface'}
          borderBottomWidth="3px"
          borderBottomColor={`tint.${'abc'[i % 3]!}`}
          onClick={() => look(words === text ? '' : text)}
        >
          {said}
        </Button>
      ))}
    </Flex>
  )
}
