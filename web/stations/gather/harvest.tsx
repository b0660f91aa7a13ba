import { api } from '../../../core/schema/api'
import { Box, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import type { Harvested } from '../../../core/query/harvest'
import { useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { WITHOUT } from './lists'
import { Offer, termFor } from './offer'
import type { SheetHandle } from './use-sheet'

const FROM: Record<Harvested['from'], string> = { keyword: 'keyword', subject: 'subject term', title: 'titles' }

/** Of fewer works than this little can be said. */
const FEW = 6

/**
 * Words that set kept works apart from the rest of the pool, or all words of one good work; each with what it would
 * find, and put on the sheet with one press.
 */
export function Harvest({
  handle,
  catalogues,
  first,
}: {
  handle: SheetHandle
  catalogues: string[]
  /** Of whom words are harvested at first. */
  first: string
}) {
  const { inquiry } = useHere()
  const { sheet } = handle
  const [whose, setWhose] = useState(first)
  const [chosen, setInto] = useState<string>()
  const of = (['missed', 'aside'] as const).find(x => x === whose)
  const work = of ? 0 : Number(whose)
  const found = useOf(inquiry.id, api.harvest, { query: of ? { of } : work ? { work } : {} })
  const works = useWorks(inquiry.id)
  if (found.isPending) return <Waiting what="Comparing kept works with the rest" />
  if (found.isError) return <Failed error={found.error} again={() => void found.refetch()} />
  const kept = (works.data ?? []).filter(w => w.state === 'kept')
  const swept = (works.data ?? []).filter(w => w.sweeps.length).length
  const missed = kept.filter(w => !w.sweeps.length).length
  const aside = (works.data ?? []).filter(w => w.state === 'set aside').length
  const into = of === 'aside' ? WITHOUT : (sheet.concepts.find(c => c.id === chosen) ?? sheet.concepts[0])?.id
  const { wanted, others } = found.data
  const words = found.data.words.filter(w => !termFor(sheet, w.text))
  const [called, against] =
    of === 'missed' ? ['missed', 'swept'] : of === 'aside' ? ['set aside', 'kept'] : ['kept', 'others']
  const sourceOf = (w: Harvested): string =>
    work ? FROM[w.from] : `${FROM[w.from]} · ${w.wanted} of ${wanted} ${called}, ${w.others} of ${others} ${against}`
  if (!kept.length || !into)
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
        <NativeSelect.Root size="xs" w="340px" maxW="100%">
          <NativeSelect.Field aria-label="Words of" value={whose} onChange={e => setWhose(e.target.value)} bg="surface">
            <option value="">the {kept.length} kept works against the rest</option>
            {((missed > 0 && swept > 0) || of === 'missed') && (
              <option value="missed">{missed} kept that no sweep met, against what was swept</option>
            )}
            {aside > 0 && <option value="aside">{aside} set aside against the kept, to leave out</option>}
            {kept.map(w => (
              <option key={w.id} value={w.id}>
                {w.title}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        {of !== 'aside' && (
          <>
            into
            <NativeSelect.Root size="xs" w="190px">
              <NativeSelect.Field
                aria-label="Into the concept"
                value={into}
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
          </>
        )}
      </Flex>
      {!work && wanted > 0 && wanted < FEW && (
        <Text fontSize="13px" color="amber" mb="8px">
          Of {wanted} {wanted === 1 ? 'work' : 'works'} only: what two of them share may be chance.
        </Text>
      )}
      {!words.length && (
        <Text py="12px" color="soft">
          {found.data.words.length
            ? 'Every word that stands out is on the sheet already.'
            : of === 'aside'
              ? 'No word of these is in none of the kept works.'
              : 'No word stands out. Choose one of them above for all its words.'}
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
            into={into}
            catalogues={catalogues}
          >
            <chakra.b fontWeight="600">{w.text}</chakra.b>
          </Offer>
        ))}
      </Box>
    </Box>
  )
}
