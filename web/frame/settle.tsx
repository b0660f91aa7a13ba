import { Box, Button, chakra, Flex, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type Answer } from '../../core/schema/api'
import { useChange } from '../api/hooks'
import { useHere } from './inquiry-frame'
import { tell, tellError } from './parts'

export type ListAnswer = Answer<'list'>
export type Entry = ListAnswer['entries'][number]
export type ListNode = ListAnswer['nodes'][number]
/** What can be said of an entry. */
export type Means = 'this' | 'none' | 'as printed' | 'as found'

/** Says what entries of a list mean, and puts their words right, wherever they are shown. */
export function useSettle(id: number) {
  const { inquiry } = useHere()
  const put = useChange(inquiry.id, api.settleEntry, ({ n, ...body }: { n: number; means: Means; node?: number }) => ({
    params: { list: id, n },
    body,
  }))
  const write = useChange(inquiry.id, api.rewriteEntry, ({ n, text }: { n: number; text: string }) => ({
    params: { list: id, n },
    body: { text },
  }))
  return {
    busy: put.isPending || write.isPending,
    settle: (
      { nodes }: ListAnswer,
      { n, byHand, means: before }: Entry,
      means: Means,
      node?: number,
      done: () => void = () => undefined,
    ) =>
      put.mutate(
        { n, means, ...(node === undefined ? {} : { node }) },
        {
          onError: tellError,
          onSuccess: () => {
            const was = before === null ? undefined : nodes[before]!.id
            const again = byHand
              ? was === undefined
                ? ({ means: 'none' } as const)
                : ({ means: 'this', node: was } as const)
              : ({ means: 'as found' } as const)
            tell(means === 'none' ? `Entry ${n} means none of them.` : `Entry ${n} is settled.`, {
              label: 'Undo',
              onClick: () => put.mutate({ n, ...again }, { onError: tellError }),
            })
            done()
          },
        },
      ),
    rewrite: (n: number, text: string, done: () => void) =>
      write.mutate({ n, text }, { onError: tellError, onSuccess: done }),
  }
}

/** The words of an entry, to be put right; and what can be said of one that nobody has. */
export function PutRight({
  entry,
  busy,
  found,
  settle,
  rewrite,
}: {
  entry: Entry
  busy: boolean
  /** Whether there are works that it may mean. */
  found: boolean
  settle: (means: 'as printed' | 'as found') => void
  rewrite: (text: string) => void
}) {
  const [open, setOpen] = useState(!found)
  const [text, setText] = useState(entry.text)
  return (
    <Box mt={found ? '8px' : 0}>
      {!open ? (
        <Button size="2xs" variant="ghost" ml="-8px" onClick={() => setOpen(true)}>
          Put its words right
        </Button>
      ) : (
        <Flex gap="4px 12px" align="flex-start" wrap="wrap">
          <chakra.label flex="1 1 300px" fontSize="13px" color="soft">
            {found ? 'The entry' : 'Nobody who was asked has this. Put its words right, or keep it as it is printed.'}
            <Textarea mt="4px" size="sm" rows={2} value={text} onChange={e => setText(e.target.value)} color="ink" />
          </chakra.label>
          <Flex gap="8px" pt={{ md: '24px' }} wrap="wrap">
            <Button size="xs" variant="outline" disabled={busy || !text.trim()} onClick={() => rewrite(text.trim())}>
              Look again
            </Button>
            <Button size="xs" variant="outline" disabled={busy} onClick={() => settle('as printed')}>
              Keep it as printed
            </Button>
          </Flex>
        </Flex>
      )}
      {entry.byHand && (
        <Button size="2xs" variant="ghost" disabled={busy} onClick={() => settle('as found')}>
          Back to what was found
        </Button>
      )}
    </Box>
  )
}
