import { Text } from '@chakra-ui/react'
import { useQueries } from '@tanstack/react-query'
import { useMemo } from 'react'
import { ladder, type Sheet } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { countsOf, n } from './use-counts'

/** Beside a catalogue's 0: the rung of the ladder on which its last record was lost. */
export function WhyNone({ catalogue, sheet, catalogues }: { catalogue: string; sheet: Sheet; catalogues: string[] }) {
  const { inquiry } = useHere()
  const steps = useMemo(() => ladder(sheet).filter(s => s.on && s.how !== 'judged' && s.cql !== undefined), [sheet])
  // the same counts as the ladder's own: nothing is asked twice
  const counts = useQueries({ queries: steps.map(s => countsOf(inquiry.id, s.cql, catalogues)) }).map(
    q => q.data?.counts.find(x => x.catalogue === catalogue)?.count,
  )
  const at = counts.findIndex(c => c === 0)
  const before = counts[at - 1]
  if (at < 0 || (at > 0 && !before)) return null
  return (
    <Text fontSize="12.5px" lineHeight="17px" color="soft" pt="2px">
      {at === 0
        ? `It has nothing on “${steps[0]!.label}”.`
        : `${n(before!)} before “${steps[at]!.not ? '' : 'and '}${steps[at]!.label}”, none with it.`}
    </Text>
  )
}
