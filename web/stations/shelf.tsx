import { Box, Button, chakra, Flex, Stack, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { api } from '../../core/schema/api'
import { useOf, useWorks } from '../api/hooks'
import { useHere } from '../frame/inquiry-frame'
import { ReachMark } from '../frame/marks'
import { Empty, Failed, Waiting } from '../frame/parts'

/** What is in hand, to choose from. */
export function Shelf() {
  const { inquiry } = useHere()
  const list = useOf(inquiry.id, api.ways)
  const works = useWorks(inquiry.id).data
  const byText = new Set(works?.filter(w => w.pass === 'full text').map(w => w.id))
  if (list.isPending) return <Waiting what="Opening your copies" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const held = list.data.filter(r => r.copies.length)
  if (!held.length) {
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
    <Box maxW="860px" mx="auto" px="24px" py="24px">
      <chakra.h1 fontFamily="serif" fontSize="24px" lineHeight="32px" fontWeight="600" mb="12px">
        Your copies
      </chakra.h1>
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
              <Flex key={c.id} align="center" justify="space-between" gap="10px" wrap="wrap">
                <Text fontSize="13px" lineHeight="18px" color={c.outcome === 'doubtful' ? 'amber' : 'soft'}>
                  {c.version}, {c.pages} {c.pages === 1 ? 'page' : 'pages'}
                  {c.outcome === 'doubtful' && ', doubtful'}
                </Text>
                <Button asChild size="xs" variant="outline">
                  <Link
                    to={`/inquiries/${inquiry.id}/read/${c.id}`}
                    aria-label={`Read the ${c.version} of “${r.title}”, ${c.pages} pages`}
                  >
                    Read
                  </Link>
                </Button>
              </Flex>
            ))}
          </Stack>
        </Flex>
      ))}
    </Box>
  )
}
