import { Button } from '@chakra-ui/react'
import type { Choice } from '../../core/sift/decisions'
import { keyName, useKeyMap } from './keys'
import { Kbd } from './parts'

const CHOICES = [
  ['keep', 'Keep', 'keep'],
  ['set aside', 'Set aside', 'aside'],
  ['later', 'Later', 'later'],
] as const

/** What can be decided on a work where it is listed, each with its key, where keys decide there. */
export function DecideButtons({
  busy,
  decide,
  keyed = true,
}: {
  busy: boolean
  decide: (choice: Choice) => void
  keyed?: boolean
}) {
  const map = useKeyMap()
  return CHOICES.map(([choice, name, action]) => (
    <Button key={choice} size="2xs" variant="outline" bg="surface" disabled={busy} onClick={() => decide(choice)}>
      {name} {keyed && <Kbd>{keyName(map[action])}</Kbd>}
    </Button>
  ))
}
