import { Box, Button, chakra, Flex, Input } from '@chakra-ui/react'
import { useEffect, useState } from 'react'
import { Heading, Kbd } from '../../frame/parts'

const reasons = [
  'Not about the question',
  'Not a research source',
  'Review of a book, not a study',
  'In a language I do not read',
  'Too old for the brief',
  'Only an abstract',
]
const known = (r: string): boolean => reasons.includes(r)

/** Asks why; digits choose, Escape does nothing. */
export function Reasons({ choose, cancel }: { choose: (reason: string) => void; cancel: () => void }) {
  const [own, setOwn] = useState('')
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      if (e.key === 'Escape') cancel()
      const typing = (e.target as HTMLElement).tagName === 'INPUT'
      const n = Number(e.key)
      if (!typing && n >= 1 && n <= reasons.length) {
        e.preventDefault()
        choose(reasons[n - 1]!)
      }
    }
    window.addEventListener('keydown', pressed)
    return () => window.removeEventListener('keydown', pressed)
  })
  return (
    <Box
      borderTop="1px solid"
      borderColor="hair"
      px="36px"
      py="14px"
      bg="paper"
      flex="none"
      role="group"
      aria-label="Why is it set aside?"
    >
      <Heading
        aside={
          <>
            <Kbd>Esc</Kbd> does nothing
          </>
        }
      >
        Why is it set aside?
      </Heading>
      <Flex wrap="wrap" gap="8px">
        {reasons.map((r, i) => (
          <Button key={r} size="xs" variant="outline" bg="surface" onClick={() => choose(r)}>
            <Kbd>{i + 1}</Kbd> {r}
          </Button>
        ))}
        <chakra.form
          display="flex"
          gap="6px"
          onSubmit={e => {
            e.preventDefault()
            if (own.trim()) choose(own.trim())
          }}
        >
          <Input
            size="xs"
            w="200px"
            bg="surface"
            placeholder="a reason of your own"
            aria-label="A reason of your own"
            value={own}
            onChange={e => setOwn(e.target.value)}
            maxLength={500}
          />
          <Button size="xs" type="submit" variant="outline" disabled={!own.trim() || known(own)}>
            Use
          </Button>
        </chakra.form>
      </Flex>
    </Box>
  )
}
