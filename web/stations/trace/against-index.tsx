import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { plainTitle } from '../../../core/bib/clean'
import type { WorkLine } from '../../../core/sift/line'
import { shortDay } from '../../frame/due'
import { type ListAnswer, type ListNode, type Row } from './entry-words'

/** Where the index and the list agree on what the work cites, and where they do not. */
export function AgainstIndex({
  data,
  rows,
  from,
  works,
}: {
  data: ListAnswer
  rows: readonly Row[]
  from: string
  works: ReadonlyMap<number, WorkLine>
}) {
  const [open, setOpen] = useState(false)
  const both = rows.filter(r => r.entry.inIndex === true).length
  const here = rows.filter(r => r.entry.inIndex === false)
  const only = data.indexOnly.map(i => data.nodes[i]!)
  const title = (n: ListNode) =>
    (n.work === null ? undefined : works.get(n.work)?.title) ?? plainTitle(n.item.title, 'untitled')
  return (
    <Box fontSize="13px" py="8px" borderBottom="1px solid" borderColor="hair2">
      <Text color="soft">
        {from}, asked on {shortDay(data.indexDay!)}, has {both} of these among the work’s references.{' '}
        {here.length || only.length
          ? `${here.length} ${here.length === 1 ? 'stands' : 'stand'} in the list alone, ${only.length} in the index alone; both are kept.`
          : 'It has no other.'}{' '}
        {(here.length > 0 || only.length > 0) && (
          <Button size="2xs" variant="ghost" aria-expanded={open} onClick={() => setOpen(!open)}>
            {open ? 'Fold' : 'Which'}
          </Button>
        )}
      </Text>
      {open && (
        <Flex gap="24px" direction={{ base: 'column', md: 'row' }} pt="6px">
          <Side head="In the list alone" titles={here.map(r => r.title)} />
          <Side head={`In ${from} alone`} titles={only.map(title)} />
        </Flex>
      )}
    </Box>
  )
}

function Side({ head, titles }: { head: string; titles: readonly string[] }) {
  return (
    <Box flex="1" minW="0">
      <Text fontWeight="600">{head}</Text>
      {titles.length ? (
        <chakra.ul fontFamily="serif" fontSize="14px" lineHeight="20px" ps="16px" listStyleType="disc">
          {titles.map((t, i) => (
            <li key={i} dir="auto">
              {t}
            </li>
          ))}
        </chakra.ul>
      ) : (
        <Text color="soft">none</Text>
      )}
    </Box>
  )
}
