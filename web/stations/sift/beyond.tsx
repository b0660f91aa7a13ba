import { Button } from '@chakra-ui/react'
import { useContext } from 'react'
import { Empty } from '../../frame/parts'
import { Counts } from './counts'
import { useLimits } from './use-limits'

/** What a pass says where its limits leave nothing to decide, though more waits beyond them. */
export function useBeyond() {
  const { left, total } = useContext(Counts)
  const { replace } = useLimits()
  const beyond = total - left
  if (beyond <= 0) return null
  return (
    <Empty
      title="Nothing within the limits is left to decide"
      action={
        <Button size="sm" variant="outline" onClick={() => replace({})}>
          Lift all limits
        </Button>
      }
    >
      {beyond.toLocaleString('en')} {beyond === 1 ? 'work waits' : 'works wait'} beyond them.
    </Empty>
  )
}
