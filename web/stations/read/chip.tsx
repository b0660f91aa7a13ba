import { Button } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** One of a row of limits: pressed, it shows what it names alone. */
export function Chip({ on, onClick, children }: { on: boolean; onClick: () => void; children: ReactNode }) {
  return (
    <Button
      size="2xs"
      h="26px"
      px="9px"
      variant={on ? 'solid' : 'outline'}
      colorPalette="slate"
      bg={on ? undefined : 'surface'}
      aria-pressed={on}
      onClick={onClick}
    >
      {children}
    </Button>
  )
}
