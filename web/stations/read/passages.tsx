import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type Copy, type Passage } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, tell, tellError } from '../../frame/parts'
import { useOutbox, useShowing } from '../../outbox/use-outbox'

/** Words that are selected on a page. */
export interface Chosen {
  page: number
  text: string
  /** Height on the page of the selection's first line, 0 to 1. */
  at: number
}

/** Passages that are on their way to the server, as they will stand. */
export function usePassagesUnderWay(copy: number): Passage[] {
  const { inquiry } = useHere()
  const path = `/copies/${copy}/passages`
  return useShowing(inquiry.id).flatMap(l => {
    if (l.path !== path) return []
    const { id: ownId, ...p } = l.body as { id: string } & Pick<Passage, 'page' | 'kind' | 'quote' | 'note'>
    return { ...p, ownId, id: 0, copyId: copy, label: '' } as Passage
  })
}

/** What is noted of a page. */
export function PassageCard({ passage, mayWrite }: { passage: Passage; mayWrite: boolean }) {
  const { inquiry } = useHere()
  const remove = useChange(inquiry.id, api.dropPassage, (id: number) => ({ params: { passage: id } }))
  const restore = useChange(inquiry.id, api.notePassage, (p: Passage) => ({
    params: { copy: p.copyId },
    body: { page: p.page, kind: p.kind, quote: p.quote, note: p.note },
  }))
  const quoted = passage.kind === 'quoted'
  return (
    <Box
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderLeft="3px solid"
      borderLeftColor={quoted ? 'grape' : 'vine'}
      borderRadius="md"
      p="10px"
      data-testid="passage"
    >
      <Flex justify="space-between" fontSize="12.5px" color="soft" mb="3px">
        <Text fontWeight="600" color={quoted ? 'grape' : 'vine'}>
          {quoted ? 'Quoted' : 'In my words'}, {passage.id ? `page ${passage.label}` : 'on its way'}
        </Text>
        {mayWrite && (
          <chakra.button
            type="button"
            cursor="pointer"
            onClick={() =>
              remove.mutate(passage.id, {
                onSuccess: () =>
                  tell('The passage is removed.', { label: 'Undo', onClick: () => restore.mutate(passage) }),
                onError: tellError,
              })
            }
          >
            remove
          </chakra.button>
        )}
      </Flex>
      {passage.quote && (
        <Text fontFamily="serif" lineHeight="20px">
          “{passage.quote}”
        </Text>
      )}
      {passage.note && <Text mt={passage.quote ? '4px' : 0}>{passage.note}</Text>}
    </Box>
  )
}

/** A passage that is being noted: quoted as it was selected, or in the student's words. */
export function NewPassage({
  copy,
  page,
  label,
  draft,
  clear,
}: {
  copy: Copy
  page: number
  label: string
  draft: Chosen | undefined
  clear: () => void
}) {
  const { inquiry } = useHere()
  const [note, setNote] = useState('')
  const outbox = useOutbox()
  const save = (kind: Passage['kind']) => {
    const id = crypto.randomUUID()
    outbox.add({
      id,
      inquiry: inquiry.id,
      method: 'POST',
      path: `/copies/${copy.id}/passages`,
      said: `A passage from page ${label} of “${copy.title}”`,
      body: { id, page, kind, quote: kind === 'quoted' ? (draft?.text ?? '') : '', note },
      shownBy: JSON.stringify(['inquiry', inquiry.id, `/copies/${copy.id}`]),
    })
    setNote('')
    clear()
    window.getSelection()?.removeAllRanges()
    tell(`Noted from page ${label}.`)
  }
  return (
    <Box bg="surface" border="1px dashed" borderColor="line" borderRadius="md" p="10px">
      <Heading>{draft ? `From page ${label}` : 'Select words on a page, or note in your own'}</Heading>
      {draft && (
        <Text fontFamily="serif" lineHeight="20px" mb="6px" lineClamp={6}>
          “{draft.text}”
        </Text>
      )}
      <Textarea
        size="sm"
        rows={2}
        value={note}
        onChange={e => setNote(e.target.value)}
        placeholder="What does it say, in your words?"
        aria-label={`Note on page ${label}`}
      />
      <Flex gap="6px" mt="6px">
        {draft && (
          <Button size="xs" colorPalette="grape" onClick={() => save('quoted')}>
            Keep as quoted
          </Button>
        )}
        <Button size="xs" variant="outline" disabled={!note.trim()} onClick={() => save('in my words')}>
          Keep in my words
        </Button>
        {draft && (
          <Button size="xs" variant="ghost" onClick={clear}>
            Leave it
          </Button>
        )}
      </Flex>
    </Box>
  )
}
