import { Button, chakra, Input } from '@chakra-ui/react'
import { useState } from 'react'
import type { CopyWords } from './use-copy-words'
import type { LimitHandle } from './use-limits'

const n = (x: number): string => x.toLocaleString('en')

/** Other words to look for in the copies, and how far these are read. */
export function InCopies({
  handle,
  copies: { reading, error, isLooking, wrong, again },
}: {
  handle: LimitHandle
  copies: CopyWords
}) {
  const [words, setWords] = useState('')
  const { read, failed, of } = reading
  const trouble = words && wrong(words)
  return (
    <>
      <chakra.form
        display="flex"
        gap="8px"
        onSubmit={e => {
          e.preventDefault()
          if (!words.trim() || trouble) return
          handle.set('text', [...(handle.limits.text ?? []), words.trim()])
          setWords('')
        }}
      >
        <Input
          size="2xs"
          w="250px"
          bg="surface"
          placeholder={'lamp*, "street light", moth or butterfly'}
          aria-label="Words in the copies"
          value={words}
          maxLength={300}
          onChange={e => setWords(e.target.value)}
        />
        <Button size="2xs" type="submit" variant="outline">
          Look
        </Button>
      </chakra.form>
      <chakra.span color={trouble || error ? 'amber' : undefined} role="status">
        {trouble ||
          error?.message ||
          (read + failed < of
            ? `${n(read)} of ${n(of)} copies searched so far`
            : failed
              ? `${n(failed)} of ${n(of)} copies could not be fetched`
              : isLooking
                ? 'Looking …'
                : of
                  ? `searched in ${n(of)} ${of === 1 ? 'copy' : 'copies'}`
                  : 'no copy is in hand yet')}
      </chakra.span>
      {(failed > 0 || error) && (
        <Button size="2xs" variant="ghost" onClick={again}>
          Try again
        </Button>
      )}
    </>
  )
}
