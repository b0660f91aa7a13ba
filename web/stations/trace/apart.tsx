import { Button, Flex, Text } from '@chakra-ui/react'
import { Empty } from '../../frame/parts'
import type { Overview } from './field-desk'
import type { Line } from './ranking'
import { Rows, type RowActs } from './rows'

/** Kept works that sweeps found and to which no trail leads from another kept one: the other side of what sweeps missed. */
export function Apart({
  overview,
  sift,
  acts,
  back,
}: {
  overview: Overview
  sift: string | undefined
  acts: RowActs
  back: () => void
}) {
  const lines = overview.enough.captures.apart.flatMap(({ at, cites, citedBy }): Line[] => {
    const end = overview.ends[at]!
    const shown = acts.shownOf(end)
    if (!shown) return []
    const why = [
      cites ? `cites ${cites.toLocaleString('en')} works, none of them kept` : 'its references are not known',
      citedBy ? `cited by ${citedBy.toLocaleString('en')}, none of them kept` : 'nobody is known to cite it',
    ]
    return [{ key: `${end.work}`, end, shown, why: why.join(' · '), percentile: null }]
  })
  return (
    <Flex direction="column" minH="0" flex="1">
      <Flex align="center" gap="8px" pb="4px">
        <Text as="h2" flex="1" fontSize="14px" fontWeight="600">
          Kept, and tied to nothing you kept
        </Text>
        <Button size="xs" variant="ghost" onClick={back}>
          Back to the lists
        </Button>
      </Flex>
      <Text fontSize="13px" lineHeight="18px" color="soft" pb="6px">
        Sweeps found these; no reference and no citation ties them to another kept work. They are the beginning of a
        strand that is still thin, or do not belong here.
      </Text>
      <Rows
        name="Kept, and tied to nothing you kept"
        lines={lines}
        empty={<Empty title="None">Every kept work that a sweep found is tied to another one by a citation.</Empty>}
        sift={sift}
        acts={acts}
      />
    </Flex>
  )
}
