import { Box, Button, Flex } from '@chakra-ui/react'
import { useState } from 'react'
import { lineIn } from '../../../core/sift/line'
import { useWorks } from '../../api/hooks'
import { useDecide } from '../../frame/decide'
import { useHere } from '../../frame/inquiry-frame'
import { useKeyMap, keyName, useKeys } from '../../frame/keys'
import { Kbd, tell } from '../../frame/parts'
import { Reasons } from '../../frame/reasons'

/** The third pass of Sift: kept or set aside by the text itself. */
export function ByText({ work }: { work: number }) {
  const { inquiry } = useHere()
  const { decide, undo } = useDecide(inquiry.id)
  const [asking, setAsking] = useState(false)
  const map = useKeyMap()
  const line = lineIn(useWorks(inquiry.id).data ?? [], work)
  const choose = (choice: 'keep' | 'set aside', reason?: string) => {
    decide([work], choice, 'full text', reason)
    setAsking(false)
    tell(choice === 'keep' ? 'Kept by its text.' : 'Set aside by its text.', { label: 'Undo', onClick: () => undo() })
  }
  useKeys({ keep: () => choose('keep'), aside: () => setAsking(true), undo: () => undo() }, !asking)
  if (!line) return null
  const decided = line.pass === 'full text'
  return (
    <Flex role="group" aria-label="Decide by its text" gap="6px" align="baseline" flex="none">
      <Button
        size="2xs"
        variant={decided && line.state === 'kept' ? 'solid' : 'outline'}
        colorPalette="vine"
        bg={decided && line.state === 'kept' ? undefined : 'surface'}
        aria-pressed={decided && line.state === 'kept'}
        onClick={() => choose('keep')}
      >
        Keep <Kbd>{keyName(map.keep)}</Kbd>
      </Button>
      <Button
        size="2xs"
        variant={decided && line.state === 'set aside' ? 'solid' : 'outline'}
        bg={decided && line.state === 'set aside' ? undefined : 'surface'}
        aria-pressed={decided && line.state === 'set aside'}
        title={decided && line.reason ? line.reason : undefined}
        onClick={() => setAsking(true)}
      >
        Set aside <Kbd>{keyName(map.aside)}</Kbd>
      </Button>
      {asking && (
        <Box position="absolute" bottom="0" left="0" right="0" zIndex="3">
          <Reasons choose={r => choose('set aside', r)} cancel={() => setAsking(false)} />
        </Box>
      )}
    </Flex>
  )
}
