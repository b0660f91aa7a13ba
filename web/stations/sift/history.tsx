import { api } from '../../../core/schema/api'
import { Box, Button } from '@chakra-ui/react'
import { useInfiniteQuery } from '@tanstack/react-query'
import { call } from '../../api/client'
import { Deeds } from '../../frame/deeds'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'

const PAGE = 100

/** What was done in the inquiry, the latest first; decisions and words can be taken back from here. */
export function HistoryView() {
  const { inquiry } = useHere()
  const pages = useInfiniteQuery({
    queryKey: ['inquiry', inquiry.id, '/history'],
    queryFn: ({ pageParam, signal }) =>
      call(api.history, {
        params: { inquiry: inquiry.id },
        query: { limit: PAGE, ...(pageParam ? { before: pageParam } : {}) },
        signal,
      }),
    initialPageParam: '',
    getNextPageParam: last => (last.length < PAGE ? undefined : last.at(-1)!.at),
  })
  if (pages.isPending) return <Waiting what="Reading the history" />
  if (pages.isError) return <Failed error={pages.error} again={() => void pages.refetch()} />
  const deeds = pages.data.pages.flat()
  if (!deeds.length) return <Empty title="Nothing was done yet">Every step of this inquiry will stand here.</Empty>
  return (
    <Box h="full" overflow="auto" px="24px" py="8px">
      <Box maxW="980px">
        <Deeds deeds={deeds} />
        {pages.hasNextPage && (
          <Button
            size="xs"
            variant="outline"
            my="12px"
            loading={pages.isFetchingNextPage}
            onClick={() => void pages.fetchNextPage()}
          >
            Older
          </Button>
        )}
      </Box>
    </Box>
  )
}
