import { Button, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState, type ReactNode } from 'react'
import type { Sweep } from '../../../core/schema/api'
import { n } from './use-counts'

const askedOf = (s: Sweep): string => [s.cql, ...s.catalogues.map(c => c.catalogue).toSorted()].join('\n')

/** The latest sweep before this one that asked the same catalogues for the same. */
export const askedBefore = (of: Sweep, sweeps: readonly Sweep[]): Sweep | undefined =>
  sweeps.filter(s => s.id < of.id && askedOf(s) === askedOf(of)).toSorted((a, b) => b.id - a.id)[0]

/** What a sweep counts otherwise than the same one before it; what came and what went is one press away. */
export function Since({
  of,
  sweeps,
  difference,
}: {
  of: Sweep
  sweeps: readonly Sweep[]
  difference: (before: Sweep) => ReactNode
}) {
  const [open, setOpen] = useState(false)
  const before = askedBefore(of, sweeps)
  if (!before) return null
  const counts = new Map(before.catalogues.map(c => [c.catalogue, c.count]))
  const moved = of.catalogues.flatMap(c => {
    const then = counts.get(c.catalogue)
    if (c.count === null || then === null || then === undefined || c.count === then) return []
    const by = c.count - then
    return [`${c.name} ${by > 0 ? '+' : '−'}${n(Math.abs(by))}`]
  })
  const when =
    before.deskDay === of.deskDay ? format(new Date(before.at), 'HH:mm') : format(parseISO(before.deskDay), 'd MMM')
  return (
    <>
      <Flex align="baseline" gap="8px" wrap="wrap" fontSize="12.5px" lineHeight="18px">
        <Text color="soft">
          Against {when}: {moved.length ? <b>{moved.join(' · ')}</b> : 'all count the same'}
        </Text>
        <Button size="2xs" variant="ghost" aria-expanded={open} onClick={() => setOpen(!open)}>
          {open ? 'Fold' : 'What came and went'}
        </Button>
      </Flex>
      {open && difference(before)}
    </>
  )
}
