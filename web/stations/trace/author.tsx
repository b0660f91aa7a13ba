import { Box, Button, chakra, Flex, Stack, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { Link, useNavigate, useSearchParams } from 'react-router'
import { nameKey, spokenName } from '../../../core/bib/names'
import { plainCql } from '../../../core/query/cql'
import { api, type Answer } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { useChange, useOf, useWorks } from '../../api/hooks'
import { some } from '../../frame/counted'
import { Follow } from '../../frame/follow'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Heading, Notice, tellError, Waiting } from '../../frame/parts'
import { toAuthor } from '../../frame/to-author'
import { KnownWorks, summed } from './known-works'

type Person = Answer<'author'>['persons'][number]

/** A name: who seems to stand behind it, what of theirs is known here, and others who are called so. */
export function Author() {
  const { inquiry } = useHere()
  const [search] = useSearchParams()
  const asked = {
    family: search.get('family') ?? '',
    ...(search.get('given') ? { given: search.get('given')! } : {}),
    ...(search.get('body') ? { body: 'yes' as const } : {}),
    ...(Number(search.get('of')) ? { work: Number(search.get('of')) } : {}),
  }
  const author = useOf(inquiry.id, api.author, { query: asked, enabled: asked.family !== '' })
  const works = useWorks(inquiry.id).data ?? []
  const name = [asked.given, asked.family].filter(Boolean).join(' ')
  if (!asked.family) return <Empty title="No author is named">Press on a name on a work sheet.</Empty>
  if (author.isError) return <Failed error={author.error} again={() => void author.refetch()} />
  if (author.isPending) return <Waiting what={`Looking for ${name}`} />
  const [person, ...others] = author.data.persons
  if (!person)
    return (
      <Empty
        title={`Nothing by ${name} is known here`}
        action={<EveryCatalogue family={asked.family} given={asked.given} />}
      >
        Neither your pool nor the trails have a work of theirs.
      </Empty>
    )
  return (
    <Box
      maxW="1060px"
      mx="auto"
      py="18px"
      px={{ base: '14px', md: '28px' }}
      bg="surface"
      minH="full"
      borderX="1px solid"
      borderColor="hair"
    >
      <Flex gap="14px" align="flex-start" justify="space-between" wrap="wrap">
        <Box>
          <chakra.h1 fontFamily="serif" fontSize="24px" lineHeight="31px" fontWeight="600" dir="auto">
            {spokenName(person.name)}
          </chakra.h1>
          <Text fontSize="13.5px" color="soft">
            {[
              `${some(person.works.length, 'work')} known here`,
              person.years && (person.years[0] === person.years[1] ? person.years[0] : person.years.join('–')),
              ...summed(person.works, works),
            ]
              .filter(Boolean)
              .join(' · ')}
          </Text>
          {person.id && (
            <Text fontSize="13.5px" color="soft" title="An identifier of this person by ISO 27729">
              {person.id}, in {person.withId === person.works.length ? 'all' : person.withId} of these works
            </Text>
          )}
          {person.id && (
            <Box mt="8px">
              <Follow
                by={{ what: 'author', author: person.id }}
                asked={author.data.asked}
                looksFor="all under this identifier"
              />
            </Box>
          )}
        </Box>
        <EveryCatalogue family={asked.family} given={asked.given} />
      </Flex>
      <Flex gap={{ base: '20px', md: '36px' }} mt="18px" align="flex-start" direction={{ base: 'column', md: 'row' }}>
        <Box flex="1" minW="0" w="full">
          <KnownWorks of={person.works} works={works} name={`Works of ${spokenName(person.name)}`} />
        </Box>
        <Stack w={{ base: 'full', md: '280px' }} flex="none" gap="20px">
          {person.with.length > 0 && (
            <Box>
              <Heading>With</Heading>
              {person.with.map(w => (
                <Counted key={nameKey(w.name)} times={w.times}>
                  <Link className="plain-link" to={toAuthor(inquiry.id, w.name)}>
                    {spokenName(w.name)}
                  </Link>
                </Counted>
              ))}
            </Box>
          )}
          {person.words.length > 0 && (
            <Box>
              <Heading>Writes of</Heading>
              {person.words.map(w => (
                <Counted key={w.word} times={w.times}>
                  {w.word}
                </Counted>
              ))}
            </Box>
          )}
        </Stack>
      </Flex>
      {others.length > 0 && (
        <Box mt="28px">
          <Heading aside="put together by identifiers, co-authors, journals and subjects; only you can know">
            {others.length === 1 ? 'One more of this name' : `${others.length} more of this name`}
          </Heading>
          {others.map(o => (
            <Other key={o.works.map(w => w.work ?? `p${w.pointer?.node}`).join()} person={o} works={works} />
          ))}
        </Box>
      )}
    </Box>
  )
}

function Counted({ times, children }: { times: number; children: ReactNode }) {
  return (
    <Flex
      justify="space-between"
      gap="10px"
      py="4px"
      fontSize="13.5px"
      lineHeight="19px"
      borderBottom="1px solid"
      borderColor="hair2"
    >
      <Box minW="0" overflowWrap="anywhere" dir="auto">
        {children}
      </Box>
      <Text color="soft" flex="none">
        {times}
      </Text>
    </Flex>
  )
}

/** Works that bear the name too and were not put together with the first. */
function Other({ person, works }: { person: Person; works: readonly WorkLine[] }) {
  const { inquiry } = useHere()
  const [shown, setShown] = useState(false)
  const from = person.works.find(w => w.work)?.work ?? undefined
  return (
    <Box borderTop="1px solid" borderColor="hair" py="10px">
      <Flex gap="14px" align="baseline" wrap="wrap">
        <Text fontSize="14.5px" lineHeight="20px" fontFamily="serif" fontWeight="600" dir="auto">
          {from ? (
            <Link to={toAuthor(inquiry.id, person.name, from)}>{spokenName(person.name)}</Link>
          ) : (
            spokenName(person.name)
          )}
        </Text>
        <Text fontSize="13px" color="soft" flex="1" minW="220px">
          {[some(person.works.length, 'work'), person.years && [...new Set(person.years)].join('–')]
            .filter(Boolean)
            .join(' · ')}
          {' · '}
          {person.isOther
            ? person.id
              ? `another person, ${person.id}`
              : 'another given name'
            : person.shares.length
              ? `perhaps the same: also ${person.shares.join(', ')}`
              : 'nothing in common but the name'}
        </Text>
        <Button size="2xs" variant="ghost" aria-expanded={shown} onClick={() => setShown(!shown)}>
          {shown ? 'Fold' : some(person.works.length, 'work')}
        </Button>
      </Flex>
      {shown && (
        <Box mt="6px" pl={{ md: '26px' }}>
          <KnownWorks of={person.works} works={works} name={`Works of another ${spokenName(person.name)}`} />
        </Box>
      )}
    </Box>
  )
}

/** Asks every catalogue of the inquiry for works of the author at once, and goes to what they have. */
function EveryCatalogue({ family, given }: { family: string; given?: string | undefined }) {
  const { inquiry, mayWrite } = useHere()
  const navigate = useNavigate()
  const run = useChange(inquiry.id, api.beginSweep, (body: { query: string; catalogues: string[] }) => ({ body }))
  if (!mayWrite) return null
  if (!inquiry.catalogues.length) return <Notice voice="slate">No catalogue is asked in this inquiry.</Notice>
  return (
    <Button
      size="sm"
      variant="outline"
      flex="none"
      loading={run.isPending}
      onClick={() =>
        run.mutate(
          { query: queryFor(family, given), catalogues: inquiry.catalogues.map(c => c.id) },
          {
            onSuccess: made => void navigate(`/inquiries/${inquiry.id}/gather?sweep=${made.id}`),
            onError: tellError,
          },
        )
      }
    >
      Look in {inquiry.catalogues.length === 1 ? 'the catalogue' : `all ${inquiry.catalogues.length} catalogues`}
    </Button>
  )
}

/** Catalogues write given names in many ways: one that is written out narrows, an initial would lose what has it in full. */
const queryFor = (family: string, given = ''): string => {
  const first = /^\p{L}{2,}/u.exec(given)?.[0]
  const term = [family, first]
    .filter(Boolean)
    .join(' ')
    .replace(/(["\\*?^])/g, '\\$1')
  return plainCql({ root: { kind: 'clause', index: 'author', relation: 'all', modifiers: [], term } })
}
