import { api } from '../../../core/schema/api'
import { Box, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Harvested } from '../../../core/query/harvest'
import { useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { Offer, termFor } from './offer'
import type { SheetHandle } from './use-sheet'

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
  const words = found.data.words.filter(w => !termFor(sheet, w.text))
  const sourceOf = (w: Harvested): string =>
    work ? FROM[w.from] : `${FROM[w.from]} · ${w.wanted} of ${found.data.kept} kept, ${w.others} others`
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
          <Offer
            key={w.text}
            term={{ text: w.text, role: 'harvested', from: sourceOf(w).slice(0, 200) }}
            said={sourceOf(w)}
            handle={handle}
            into={concept.id}
            catalogues={catalogues}
          >
            <chakra.b fontWeight="600">{w.text}</chakra.b>
          </Offer>
        ))}
      </Box>
    </Box>
  )
}
