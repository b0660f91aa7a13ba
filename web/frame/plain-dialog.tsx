import { Dialog, Portal } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** What all dialogs share: a title, what is asked, and beneath it what can be done. */
export function PlainDialog({
  open = true,
  close,
  title,
  role = 'dialog',
  size = 'sm',
  children,
  buttons,
  around = inner => inner,
}: {
  open?: boolean
  close: () => void
  title: string
  role?: 'dialog' | 'alertdialog'
  size?: 'sm' | 'md' | 'lg'
  children: ReactNode
  buttons: ReactNode
  /** Puts all of it into a form, say. */
  around?: (inner: ReactNode) => ReactNode
}) {
  return (
    <Dialog.Root open={open} onOpenChange={e => !e.open && close()} role={role} size={size}>
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content>
            {around(
              <>
                <Dialog.Header>
                  <Dialog.Title fontFamily="serif">{title}</Dialog.Title>
                </Dialog.Header>
                <Dialog.Body>{children}</Dialog.Body>
                <Dialog.Footer>{buttons}</Dialog.Footer>
              </>,
            )}
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}
