import { Checkbox } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'

/** Something that is taken or left, in a list of such. */
export function CheckRow({ isTaken, turn, children }: { isTaken: boolean; turn: () => void; children: ReactNode }) {
  return (
    <Checkbox.Root
      checked={isTaken}
      onCheckedChange={turn}
      size="sm"
      colorPalette="vine"
      alignItems="flex-start"
      w="full"
      py="6px"
      borderTop="1px solid"
      borderColor="hair2"
      className="check-row"
    >
      <Checkbox.HiddenInput />
      <Checkbox.Control mt="2px" />
      <Checkbox.Label fontWeight="400" minW="0">
        {children}
      </Checkbox.Label>
    </Checkbox.Root>
  )
}

/** What of a list is taken: all of it at first, by its keys. */
export function useTaken() {
  const [left, setLeft] = useState<ReadonlySet<string>>(new Set())
  return {
    isTaken: (key: string) => !left.has(key),
    take: (keys: readonly string[], isTaken: boolean) => {
      const now = new Set(left)
      for (const key of keys)
        if (isTaken) now.delete(key)
        else now.add(key)
      setLeft(now)
    },
  }
}
