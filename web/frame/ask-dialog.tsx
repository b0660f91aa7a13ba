import { Button } from '@chakra-ui/react'
import type { ReactNode } from 'react'
import { PlainDialog } from './plain-dialog'

/** Asks before what cannot be undone is done. */
export function AskDialog({
  leave,
  word,
  go,
  ...dialog
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
    <PlainDialog
      role="alertdialog"
      buttons={
        <>
          <Button variant="outline" onClick={dialog.close}>
            {leave}
          </Button>
          <Button colorPalette="rust" onClick={go}>
            {word}
          </Button>
        </>
      }
      {...dialog}
    />
  )
}
