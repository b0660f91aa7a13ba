import { api } from '../../../core/schema/api'
import { Box, Button, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { printCql } from '../../../core/query/cql'
import type { Harvested } from '../../../core/query/harvest'
import { termNode, type Term } from '../../../core/query/sheet'
import { useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { newId, type SheetHandle } from './use-sheet'
import { range, useCounts } from './use-counts'

const FROM: Record<Harvested['from'], string> = { keyword: 'keyword', subject: 'subject term', title: 'titles' }

/**
 * Words that set kept works apart from the rest of the pool, or all words of one good work; each with what it would
 * find, and put on the sheet with one press.
 */
export function Harvest({ handle, catalogues }: { handle: SheetHandle; catalogues: string[] }) {
  const { inquiry } = useHere()
  const { sheet } = handle
  const [work, setWork] = useState('')
  const [into, setInto] = useState<string>()
  const found = useOf(inquiry.id, api.harvest, { query: work ? { work: Number(work) } : {} })
  const works = useWorks(inquiry.id)
  if (found.isPending) return <Waiting what="Comparing kept works with the rest" />
  if (found.isError) return <Failed error={found.error} again={() => void found.refetch()} />
  const kept = (works.data ?? []).filter(w => w.state === 'kept')
  const concept = sheet.concepts.find(c => c.id === into) ?? sheet.concepts[0]
  const have = new Set(sheet.concepts.flatMap(c => c.terms.map(t => t.text.toLowerCase())))
  const words = found.data.words.filter(w => !have.has(w.text))
  if (!found.data.kept || !concept)
    return (
      <Empty title="Nothing to harvest yet">
        Keep some works in Sift, and have a concept on the sheet. Their keywords, subject terms and titles then show the
        words by which indexers and authors call your subject.
      </Empty>
    )
  return (
    <Box>
      <Flex gap="10px" align="center" mb="8px" fontSize="13px" color="soft" wrap="wrap">
        words of
        <NativeSelect.Root size="xs" w="260px">
          <NativeSelect.Field aria-label="Words of" value={work} onChange={e => setWork(e.target.value)} bg="surface">
            <option value="">the {kept.length} kept works against the rest</option>
            {kept.map(w => (
              <option key={w.id} value={w.id}>
                {w.title}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        into
        <NativeSelect.Root size="xs" w="190px">
          <NativeSelect.Field
            aria-label="Into the concept"
            value={concept.id}
            onChange={e => setInto(e.target.value)}
            bg="surface"
          >
            {sheet.concepts.map(c => (
              <option key={c.id} value={c.id}>
                {c.name || c.terms[0]?.text}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
      {!words.length && (
        <Text py="12px" color="soft">
          Every word that stands out is on the sheet already.
        </Text>
      )}
      <Box
        display="grid"
        gridTemplateColumns="repeat(auto-fill, minmax(370px, 1fr))"
        columnGap="24px"
        borderTop="1px solid"
        borderColor="hair"
      >
        {words.slice(0, 24).map(w => (
          <Word
            key={w.text}
            word={w}
            of={found.data.kept}
            one={Boolean(work)}
            handle={handle}
            into={concept.id}
            catalogues={catalogues}
          />
        ))}
      </Box>
    </Box>
  )
}

function Word({
  word,
  of,
  one,
  handle,
  into,
  catalogues,
}: {
  word: Harvested
  of: number
  one: boolean
  handle: SheetHandle
  into: string
  catalogues: string[]
}) {
  const { inquiry, mayWrite } = useHere()
  const source = one ? FROM[word.from] : `${FROM[word.from]} · ${word.wanted} of ${of} kept, ${word.others} others`
  const term: Term = { id: 'try', text: word.text, role: 'harvested', on: true, from: source.slice(0, 200) }
  const node = termNode(term)
  const counts = useCounts(inquiry.id, node && printCql({ root: node }), catalogues)
  return (
    <Flex align="center" gap="10px" py="6px" borderBottom="1px solid" borderColor="hair" fontSize="13.5px">
      <Box flex="1" minW="0">
        <chakra.b fontWeight="600">{word.text}</chakra.b>
        <Text fontSize="12px" lineHeight="16px" color="soft">
          {source}
        </Text>
      </Box>
      <Text w="92px" textAlign="right" fontFamily="serif" fontWeight="600">
        {counts.data ? range(counts.data) : '…'}
      </Text>
      <Button
        size="2xs"
        variant="outline"
        disabled={!mayWrite}
        aria-label={`Put ${word.text} on the sheet`}
        onClick={() =>
          handle.edit(
            s => ({
              ...s,
              concepts: s.concepts.map(c =>
                c.id === into ? { ...c, terms: [...c.terms, { ...term, id: newId() }] } : c,
              ),
            }),
            `“${word.text}” is on the sheet.`,
          )
        }
      >
        Put on the sheet
      </Button>
    </Flex>
  )
}
