import { Box, Button, chakra, CloseButton, Dialog, Flex, Portal, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { api } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Failed, Waiting } from '../../frame/parts'
import { n } from './use-counts'
import { copyText } from '../../frame/clipboard'

/** Letters of a record that are shown; all of it can be copied. */
const SHOWN = 4000

/** Records of a catalogue that could not be read: they are counted, and kept as they came. */
export function Unread({
  sweep,
  catalogue,
  name,
  count,
}: {
  sweep: number
  catalogue: string
  name: string
  count: number
}) {
  const [open, setOpen] = useState(false)
  return (
    <>
      <Button size="2xs" variant="outline" mt="4px" onClick={() => setOpen(true)}>
        {count === 1 ? 'One record' : `${n(count)} records`} could not be read
      </Button>
      <Dialog.Root open={open} onOpenChange={e => setOpen(e.open)} size="xl" scrollBehavior="inside">
        <Portal>
          <Dialog.Backdrop />
          <Dialog.Positioner>
            <Dialog.Content>
              <Dialog.Header>
                <Dialog.Title fontFamily="serif">Not read of {name}</Dialog.Title>
              </Dialog.Header>
              <Dialog.Body>{open && <AsTheyCame sweep={sweep} catalogue={catalogue} count={count} />}</Dialog.Body>
              <Dialog.CloseTrigger asChild>
                <CloseButton size="sm" />
              </Dialog.CloseTrigger>
            </Dialog.Content>
          </Dialog.Positioner>
        </Portal>
      </Dialog.Root>
    </>
  )
}

function AsTheyCame({ sweep, catalogue, count }: { sweep: number; catalogue: string; count: number }) {
  const { inquiry } = useHere()
  const all = useOf(inquiry.id, api.unreadRecords, { params: { sweep } })
  if (all.isPending) return <Waiting what="Opening them" />
  if (all.isError) return <Failed error={all.error} again={() => void all.refetch()} />
  const kept = all.data.filter(r => r.catalogue === catalogue)
  return (
    <>
      <Text color="soft" fontSize="13.5px" mb="12px">
        They are in no list of yours. Who runs the catalogue, or this Vine Path, can tell from them what is wrong.
        {kept.length < count && ` The first ${n(kept.length)} of ${n(count)} were kept.`}
      </Text>
      {kept.map(r => (
        <Box key={r.position} borderTop="1px solid" borderColor="hair" py="10px">
          <Flex justify="space-between" align="baseline" gap="12px">
            <Text fontSize="13.5px" minW="0">
              <b>Record {n(r.position)}</b> · {r.why}
            </Text>
            {r.raw && (
              <Button
                size="2xs"
                variant="ghost"
                aria-label={`Copy record ${n(r.position)}`}
                onClick={() => void copyText(r.raw, 'Copied as it came.')}
              >
                Copy
              </Button>
            )}
          </Flex>
          <chakra.pre
            mt="6px"
            fontSize="12px"
            lineHeight="17px"
            maxH="220px"
            overflow="auto"
            whiteSpace="pre-wrap"
            overflowWrap="anywhere"
            color="soft"
            tabIndex={0}
          >
            {r.raw.length > SHOWN ? `${r.raw.slice(0, SHOWN)} …` : r.raw || 'Nothing came in its place.'}
          </chakra.pre>
        </Box>
      ))}
    </>
  )
}
