import { Button, Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** Asks before what cannot be undone is done. */
export function AskDialog({
  open,
  close,
  title,
  children,
  leave,
  word,
  go,
}: {
  open: boolean
  close: () => void
  title: string
  children: ReactNode
  /** What leaves everything as it is, and what goes on, in words. */
  leave: string
  word: string
  go: () => void
}) {
  return (
    <Dialog.Root open={open} onOpenChange={e => !e.open && close()} role="alertdialog" size="sm">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            <Dialog.Header>
              <Dialog.Title fontFamily="serif">{title}</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>{children}</Dialog.Body>
            <Dialog.Footer>
              <Button variant="outline" onClick={close}>
                {leave}
              </Button>
              <Button colorPalette="rust" onClick={go}>
                {word}
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
