import { Box, Button, Text } from '@chakra-ui/react'
import type { ReactNode } from 'react'

/** A part of a form that has any number of rows. */
export function FormPart({
  title,
  about,
  another,
  add,
  children,
}: {
  title: string
  about: string
  /** What adds a row. */
  another: string
  add: () => void
  children: ReactNode
}) {
  return (
    <Box>
      <Text fontWeight="600" fontSize="14px">
        {title}
      </Text>
      <Text fontSize="13px" lineHeight="18px" color="soft" mb="6px">
        {about}
      </Text>
      {children}
      <Button size="2xs" variant="outline" onClick={add}>
        {another}
      </Button>
    </Box>
  )
}

/** Takes a row out of a form. */
export const LeaveOut = ({ what, go }: { what: string; go: () => void }) => (
  <Button size="xs" variant="ghost" aria-label={`Leave out ${what}`} onClick={go}>
    Leave out
  </Button>
)
