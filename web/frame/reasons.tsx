import { Box, Button, chakra, Flex, Input } from '@chakra-ui/react'
import { useEffect, useMemo, useState } from 'react'
import { REASON_OF } from '../../core/sift/misfits'
import { useWorks } from '../api/hooks'
import { useHere } from './inquiry-frame'
import { Heading, Kbd } from './parts'

const FIRST = [
  'Not about the question',
  'Not a research source',
  'Review of a book, not a study',
  REASON_OF.language,
  REASON_OF.age,
  'Only an abstract',
]
/** At most as many as there are digits. */
const MOST = 9

/** The reasons offered: what people usually say, what the brief's rules give, what was used here before. */
function useReasons(): string[] {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id).data
  return useMemo(() => {
    const ruled = inquiry.rules.kindsOut?.length ? [REASON_OF.kind] : []
    const used = new Map<string, number>()
    for (const w of works ?? []) if (w.reason) used.set(w.reason, (used.get(w.reason) ?? 0) + 1)
    const own = [...used].sort((a, b) => b[1] - a[1]).map(([r]) => r)
    return [...new Set([...FIRST, ...ruled, ...own])].slice(0, MOST)
  }, [inquiry.rules, works])
}

/** Asks why; digits choose, Escape does nothing. */
export function Reasons({
  choose,
  cancel,
  works = 1,
}: {
  choose: (reason: string) => void
  cancel: () => void
  /** How many are set aside by it. */
  works?: number
}) {
  const reasons = useReasons()
  const why = works === 1 ? 'Why is it set aside?' : `Why are these ${works.toLocaleString('en')} set aside?`
  const [own, setOwn] = useState('')
  useEffect(() => {
    const pressed = (e: KeyboardEvent) => {
      if (e.key === 'Escape') {
        e.preventDefault()
        cancel()
      }
      const typing = (e.target as HTMLElement).tagName === 'INPUT'
      const n = Number(e.key)
      if (!typing && n >= 1 && n <= reasons.length) {
        e.preventDefault()
        choose(reasons[n - 1]!)
      }
    }
    // before a sheet that would close on the same key
    window.addEventListener('keydown', pressed, true)
    return () => window.removeEventListener('keydown', pressed, true)
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
      aria-label={why}
    >
      <Heading
        aside={
          <>
            <Kbd>Esc</Kbd> does nothing
          </>
        }
      >
        {why}
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
          <Button size="xs" type="submit" variant="outline" disabled={!own.trim()}>
            Use
          </Button>
        </chakra.form>
      </Flex>
    </Box>
  )
}
