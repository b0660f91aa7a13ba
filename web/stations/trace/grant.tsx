import { Box, chakra, Text } from '@chakra-ui/react'
import { useSearchParams } from 'react-router'
import { api } from '../../../core/schema/api'
import { useOf, useWorks } from '../../api/hooks'
import { some } from '../../frame/counted'
import { Follow } from '../../frame/follow'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { KnownWorks, summed } from './known-works'

/** A grant: what of its works is known here, and the asking for the others. */
export function GrantPage() {
  const { inquiry } = useHere()
  const [search] = useSearchParams()
  const number = search.get('number') ?? ''
  const funder = search.get('funder')
  const query = { number, ...(funder ? { funder } : {}) }
  const told = useOf(inquiry.id, api.grantWorks, { query, enabled: number !== '' })
  const works = useWorks(inquiry.id).data ?? []
  if (!number) return <Empty title="No grant is named">Press on a grant on a work sheet.</Empty>
  if (told.isError) return <Failed error={told.error} again={() => void told.refetch()} />
  if (told.isPending) return <Waiting what={`Looking for ${number}`} />
  const { grant, works: of, asked } = told.data
  return (
    <Box
      maxW="860px"
      mx="auto"
      py="18px"
      px={{ base: '14px', md: '28px' }}
      bg="surface"
      minH="full"
      borderX="1px solid"
      borderColor="hair"
    >
      <Text fontSize="13.5px" color="soft" dir="auto">
        {[grant.funder ?? 'A grant', grant.title && grant.number].filter(Boolean).join(', ')}
      </Text>
      <chakra.h1
        fontFamily="serif"
        fontSize="24px"
        lineHeight="31px"
        fontWeight="600"
        dir="auto"
        overflowWrap="anywhere"
      >
        {grant.title ?? grant.number}
      </chakra.h1>
      <Text fontSize="13.5px" color="soft">
        {[of.length ? `${some(of.length, 'work')} known here` : 'No work of it is known here', ...summed(of, works)]
          .filter(Boolean)
          .join(' · ')}
      </Text>
      <Box my="12px">
        <Follow
          by={{ what: 'grant', number, ...(funder ? { funder } : {}) }}
          asked={asked}
          looksFor="its other works"
        />
      </Box>
      <KnownWorks of={of} works={works} name="Works of this grant" />
    </Box>
  )
}
