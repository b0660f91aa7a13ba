import { Button, CloseButton, Dialog, Flex, Portal, Text } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { actions, keyMap, keyName, resetKeys, setKey, useKeys, type Action } from './keys'
import { Kbd } from './parts'

/** All keys behind "?", each changeable by pressing another. */
export function KeysDialog() {
  const [open, setOpen] = useState(false)
  const [waiting, setWaiting] = useState<Action>()
  const [map, setMap] = useState(keyMap)
  useKeys({ help: () => setOpen(true) }, !open)
  useEffect(() => {
    const show = () => setOpen(true)
    const changed = () => setMap(keyMap())
    window.addEventListener('vine-help', show)
    window.addEventListener('vine-keys', changed)
    return () => {
      window.removeEventListener('vine-help', show)
      window.removeEventListener('vine-keys', changed)
    }
  }, [])
  useEffect(() => {
    if (!waiting) return
    const pressed = (e: KeyboardEvent) => {
      e.preventDefault()
      e.stopPropagation()
      const taken = actions.find(a => a.action !== waiting && map[a.action].toLowerCase() === e.key.toLowerCase())
      if (e.key !== 'Escape' && !taken && (e.key.length === 1 || /^Arrow|^Enter/.test(e.key))) setKey(waiting, e.key)
      setWaiting(undefined)
    }
    window.addEventListener('keydown', pressed, true)
    return () => window.removeEventListener('keydown', pressed, true)
  }, [waiting, map])
  return (
    <Dialog.Root open={open} onOpenChange={e => setOpen(e.open)} size="sm" closeOnEscape={!waiting}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title fontFamily="serif">Keys</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              {actions.map(a => (
                <Flex
                  key={a.action}
                  justify="space-between"
                  align="center"
                  py="5px"
                  borderBottom="1px solid"
                  borderColor="hair2"
                >
                  <Text fontSize="14px">{a.said}</Text>
                  <Button
                    size="xs"
                    variant="ghost"
                    onClick={() => setWaiting(a.action)}
                    aria-label={`Change the key for: ${a.said}`}
                  >
                    {waiting === a.action ? 'press a key …' : <Kbd>{keyName(map[a.action])}</Kbd>}
                  </Button>
                </Flex>
              ))}
              <Text fontSize="13px" color="soft" mt="12px">
                Choose a key to change it. One key has one meaning; a key in use is not taken.
              </Text>
            </Dialog.Body>
            <Dialog.Footer>
              <Button variant="outline" size="sm" onClick={resetKeys}>
                Keys as they were
              </Button>
            </Dialog.Footer>
            <Dialog.CloseTrigger asChild>
              <CloseButton size="sm" />
            </Dialog.CloseTrigger>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
