import { Button } from '@chakra-ui/react'
import { useContext, type ReactNode } from 'react'
import { Empty } from '../../frame/parts'
import { Counts } from './counts'
import { useLimits } from './use-limits'

/** What a pass says at its end: that more waits beyond the limits, or else that all is done. */
export function NothingLeft({ children }: { children: ReactNode }) {
  const { left, total } = useContext(Counts)
  const { replace } = useLimits()
  const beyond = total - left
  if (beyond <= 0) return children
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
