import { Box, Button, chakra, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { ArrowLeft } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { sayLanguage } from '../../../core/query/languages'
import type { Role, SheetConcept } from '../../../core/query/sheet'
import { termOfLabel } from '../../../core/query/vocabulary'
import { api, type Answer } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { Offer } from './offer'
import { n } from './use-counts'
import type { SheetHandle } from './use-sheet'
import { BringVocabulary, ReadButton, Vocabularies, type Vocabulary } from './vocabularies'

type Concept = Answer<'vocabularyConcept'>
type Place = { vocabulary: string; place: number }

/** Words of a concept that are offered to be looked up, and words of a kind that are shown at first. */
const [WORDS, FIRST] = [10, 8]

/** Words that vocabularies know beside those of the sheet: broader, narrower, related, and by other names. */
export function Related({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const { inquiry } = useHere()
  const list = useOf(inquiry.id, api.vocabularies)
  if (list.isPending) return <Waiting what="Opening the vocabularies" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const read = list.data.filter(v => v.concepts)
  return (
    <Box>
      {read.length ? <LookUp handle={handle} catalogues={catalogues} vocabularies={read} /> : <None list={list.data} />}
      {list.data.length > 0 && <Vocabularies list={list.data} />}
    </Box>
  )
}

function None({ list }: { list: readonly Vocabulary[] }) {
  const unread = list.find(v => v.state === 'unread')
  return (
    <Empty
      title="No vocabulary is read yet"
      action={unread ? <ReadButton vocabulary={unread} word={`Read “${unread.name}”`} /> : <BringVocabulary />}
    >
      A vocabulary knows by which words indexers call a subject, and what is broader, narrower and related to it. Once
      one is read, the words on your sheet are looked up in it, and what it offers is put beside them with one press.
    </Empty>
  )
}

function LookUp({
  handle,
  catalogues,
  vocabularies,
}: {
  handle: SheetHandle
  catalogues: string[]
  vocabularies: readonly Vocabulary[]
}) {
  const { inquiry } = useHere()
  const { concepts } = handle.sheet
  const [into, setInto] = useState<string>()
  const concept = concepts.find(c => c.id === into) ?? concepts[0]
  const own = concept ? plainWords(concept) : []
  /** What was chosen or typed; otherwise the first word of the concept. */
  const [asked, setAsked] = useState<string>()
  const [typed, setTyped] = useState('')
  const [walked, setWalked] = useState<Place>()
  const words = asked ?? own[0] ?? ''
  const found = useOf(inquiry.id, api.relatedWords, { query: { words }, enabled: Boolean(words) })
  const there = useOf(inquiry.id, api.vocabularyConcept, {
    params: { vocabulary: walked?.vocabulary ?? '', concept: String(walked?.place) },
    enabled: Boolean(walked),
  })
  const ask = (next: string) => {
    setAsked(next)
    setWalked(undefined)
  }
  if (!concept)
    return (
      <Empty title="No concept on the sheet yet">
        Put a word of your question on the sheet at the left: it is looked up here, with what is broader, narrower and
        related to it.
      </Empty>
    )
  const told = walked ? there : found
  const shown = walked ? (there.data ? [there.data] : []) : (found.data?.named ?? [])
  const near = walked ? [] : (found.data?.near ?? [])
  return (
    <Box>
      <Flex gap="8px 10px" align="center" mb="8px" fontSize="13px" color="soft" wrap="wrap">
        into
        <NativeSelect.Root size="xs" w="170px">
          <NativeSelect.Field
            aria-label="Into the concept"
            value={concept.id}
            bg="surface"
            onChange={e => {
              setInto(e.target.value)
              setAsked(undefined)
              setWalked(undefined)
            }}
          >
            {concepts.map(c => (
              <option key={c.id} value={c.id}>
                {c.name || c.terms[0]?.text || 'new concept'}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        <chakra.form
          onSubmit={e => {
            e.preventDefault()
            if (typed.trim()) ask(typed.trim())
            setTyped('')
          }}
        >
          <Input
            size="xs"
            w="170px"
            bg="surface"
            aria-label="Words to look up"
            placeholder="look up other words"
            maxLength={200}
            value={typed}
            onChange={e => setTyped(e.target.value)}
          />
        </chakra.form>
        <Flex gap="6px" wrap="wrap" role="group" aria-label="Words of the concept">
          {[...new Set([...own.slice(0, WORDS), words])].filter(Boolean).map(w => (
            <Button
              key={w}
              size="2xs"
              variant={w === words ? 'subtle' : 'outline'}
              aria-pressed={w === words}
              onClick={() => ask(w)}
              maxW="280px"
            >
              <chakra.span truncate>{w}</chakra.span>
            </Button>
          ))}
        </Flex>
      </Flex>
      {walked && (
        <Button size="2xs" variant="ghost" mb="4px" ml="-8px" onClick={() => setWalked(undefined)}>
          <ArrowLeft size={13} />
          <chakra.span truncate maxW="280px">
            back to “{words}”
          </chakra.span>
        </Button>
      )}
      {found.data && !walked && (!shown.length || found.data.words !== words) && (
        <Text pb="10px" color="soft" fontSize="14px">
          No vocabulary knows “{words}” by that name.{' '}
          {found.data.words !== words
            ? `This is what they know of “${found.data.words}”.`
            : near.length
              ? 'These come near to it.'
              : 'Try a single word, or what it belongs to.'}
        </Text>
      )}
      {told.isError ? (
        <Failed error={told.error} again={() => void told.refetch()} />
      ) : told.isPending && words ? (
        <Waiting what="Looking up" />
      ) : (
        shown.map(c => (
          <Found
            key={`${c.vocabulary} ${c.place}`}
            concept={c}
            vocabulary={vocabularies.find(v => v.key === c.vocabulary)?.name ?? c.vocabulary}
            into={concept.id}
            handle={handle}
            catalogues={catalogues}
            walk={place => setWalked({ vocabulary: c.vocabulary, place })}
          />
        ))
      )}
      {near.length > 0 && (
        <Flex gap="6px" wrap="wrap" align="center" fontSize="13px" color="soft" mt="10px">
          {shown.length > 0 && 'near to it:'}
          {near.map(({ vocabulary, place, name, by }) => (
            <Button
              key={`${vocabulary} ${place}`}
              size="2xs"
              variant="outline"
              borderStyle="dashed"
              onClick={() => setWalked({ vocabulary, place })}
            >
              {by ? `${name} (${by})` : name}
            </Button>
          ))}
        </Flex>
      )}
    </Box>
  )
}

/** The words of a concept as they are looked up: no masks, no CQL. */
const plainWords = (c: SheetConcept): string[] => [
  ...new Set(c.terms.filter(t => t.cql === undefined).map(t => t.text.replace(/[*?]/g, '').trim())),
]

interface Offering {
  name: string
  role: Role
  said: string
  /** Where it can be walked to. */
  place?: number
  narrower?: number
}

function Found({
  concept: c,
  vocabulary,
  into,
  handle,
  catalogues,
  walk,
}: {
  concept: Concept
  vocabulary: string
  into: string
  handle: SheetHandle
  catalogues: string[]
  walk: (place: number) => void
}) {
  const main = c.names.find(l => l.text === c.name)?.language
  const sameLanguage = (l?: string): boolean => !l || !main || l.split('-')[0] === main.split('-')[0]
  const near = (list: Concept['broader'], role: Role, said: string): Offering[] =>
    list.map(({ name, place, narrower }) => ({ name, role, said, place, narrower }))
  const groups: { title: string; inAll?: number; of: Offering[] }[] = [
    { title: 'Used instead', of: near(c.instead, 'main', `used instead of ${c.name}`) },
    {
      title: 'Its names',
      of: c.names
        .filter(l => sameLanguage(l.language))
        .map(l => ({ name: l.text, role: 'main', said: l.text === c.name ? 'its name' : `another name of ${c.name}` })),
    },
    { title: 'Narrower', inAll: c.inAll.narrower, of: near(c.narrower, 'narrower', `narrower than ${c.name}`) },
    { title: 'Broader', inAll: c.inAll.broader, of: near(c.broader, 'broader', `broader than ${c.name}`) },
    { title: 'Related', inAll: c.inAll.related, of: near(c.related, 'related', `related to ${c.name}`) },
    {
      title: 'In other languages',
      of: c.names
        .filter(l => !sameLanguage(l.language))
        .map(l => ({ name: l.text, role: 'main', said: `${sayLanguage(l.language!)} for ${c.name}` })),
    },
  ]
  return (
    <Box as="article" aria-label={`${c.name}, ${vocabulary}`} mb="18px">
      <Flex gap="2px 8px" wrap="wrap" align="baseline" fontSize="12.5px" color="soft">
        <span>{vocabulary}</span>
        {c.above.map(a => (
          <span key={a.place}>
            ›{' '}
            <Walk go={() => walk(a.place)} name={a.name}>
              {a.name}
            </Walk>
          </span>
        ))}
      </Flex>
      <Text as="h3" fontFamily="serif" fontWeight="600" fontSize="19px" lineHeight="26px" mt="2px">
        {c.name}
        {c.by && (
          <chakra.span fontWeight="400" fontSize="14px" color="soft">
            {' '}
            also called {c.by}
          </chakra.span>
        )}
      </Text>
      {c.retired && (
        <Text fontSize="13px" color="amber">
          The vocabulary uses this name no more{c.instead.length ? '' : ', and names nothing instead'}.
        </Text>
      )}
      {c.note && (
        <Text fontSize="13.5px" lineHeight="20px" color="soft" maxW="68ch" fontStyle="italic">
          {c.note}
        </Text>
      )}
      <Box css={{ columns: '340px 2', columnGap: '28px' }}>
        {groups
          .filter(g => g.of.length)
          .map(g => (
            <Group
              key={g.title}
              {...g}
              from={vocabulary}
              into={into}
              handle={handle}
              catalogues={catalogues}
              walk={walk}
            />
          ))}
      </Box>
    </Box>
  )
}

function Group({
  title,
  inAll,
  of,
  from,
  into,
  handle,
  catalogues,
  walk,
}: {
  title: string
  inAll?: number
  of: Offering[]
  from: string
  into: string
  handle: SheetHandle
  catalogues: string[]
  walk: (place: number) => void
}) {
  const [all, setAll] = useState(false)
  const count = inAll ?? of.length
  return (
    <Box role="group" aria-label={title} pt="10px" minW="0" breakInside="avoid">
      <Flex fontSize="12.5px" color="soft" borderBottom="1px solid" borderColor="line" pb="2px">
        <span>{title}</span>
        <chakra.span ml="auto">{count > 1 ? n(count) : ''}</chakra.span>
      </Flex>
      {(all ? of : of.slice(0, FIRST)).map(({ name, role, said, place, narrower }) => {
        const term = termOfLabel(name, role)
        return (
          <Offer
            key={`${place ?? ''} ${name}`}
            term={{ ...term, from: `${from}: ${said}`.slice(0, 200) }}
            said={narrower ? `${n(narrower)} narrower` : undefined}
            into={into}
            handle={handle}
            catalogues={catalogues}
          >
            {place === undefined ? (
              name
            ) : (
              <Walk go={() => walk(place)} name={name}>
                {name}
              </Walk>
            )}
          </Offer>
        )
      })}
      {of.length > FIRST && !all && (
        <Button size="2xs" variant="ghost" mt="4px" ml="-8px" onClick={() => setAll(true)}>
          all {n(of.length)}
        </Button>
      )}
      {all && count > of.length && (
        <Text fontSize="12px" color="soft" mt="4px">
          {n(count - of.length)} more are not shown; look one up by its name.
        </Text>
      )}
    </Box>
  )
}

/** Leads to another concept. */
function Walk({ go, name, children }: { go: () => void; name: string; children: ReactNode }) {
  return (
    <chakra.button
      type="button"
      textAlign="left"
      aria-label={`Go to ${name}`}
      textDecoration="underline"
      textDecorationColor="line"
      textUnderlineOffset="3px"
      _hover={{ color: 'vine' }}
      onClick={go}
    >
      {children}
    </chakra.button>
  )
}
