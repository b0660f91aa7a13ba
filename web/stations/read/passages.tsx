import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { api, type Answer, type Copy, type Passage } from '../../../core/schema/api'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, tell, tellError } from '../../frame/parts'
import { useOutbox, useShowing } from '../../outbox/use-outbox'

export type PassageElsewhere = Answer<'passagesElsewhere'>[number]

/** Words that are selected on a page. */
export interface Chosen {
  page: number
  text: string
  /** Where the words stand on their pages, in points. */
  boxes: { page: number; x: number; y: number; width: number; height: number }[]
}

/** Words that are selected on drawn pages. */
export function chosenNow(): Chosen | undefined {
  const s = window.getSelection()
  if (!s || s.isCollapsed || !s.rangeCount) return undefined
  const range = s.getRangeAt(0)
  const start = range.startContainer.parentElement?.closest<HTMLElement>('[data-page]')
  const text = s
    .toString()
    .replace(/(\p{L})-\n(\p{Ll})/gu, '$1$2')
    .replace(/\s+/g, ' ')
    .trim()
  if (!start || !text) return undefined
  const pages = [...document.querySelectorAll<HTMLElement>('[data-page]')].map(of => ({
    page: Number(of.dataset.page),
    at: of.getBoundingClientRect(),
    scale: Number(of.style.getPropertyValue('--scale-factor')) || 1,
  }))
  const boxes = [...range.getClientRects()].slice(0, MOST_BOXES).flatMap(r => {
    const p = pages.find(({ at }) => r.top < at.bottom && r.bottom > at.top)
    if (!p || !r.width) return []
    const inPoints = (n: number) => Math.round((n / p.scale) * 10) / 10
    return [
      {
        page: p.page,
        x: inPoints(r.left - p.at.left),
        y: inPoints(r.top - p.at.top),
        width: inPoints(r.width),
        height: inPoints(r.height),
      },
    ]
  })
  return { page: Number(start.dataset.page), text, boxes }
}
/** Pieces of a selection whose places are kept. */
const MOST_BOXES = 200

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
      body: { id, page, kind, quote: kind === 'quoted' ? (draft?.text ?? '') : '', note, boxes: draft?.boxes ?? [] },
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

/** A passage that was noted in another version of the work, where its words stand in this one. */
export function Elsewhere({ copy, told, mayWrite }: { copy: Copy; told: PassageElsewhere; mayWrite: boolean }) {
  const { inquiry } = useHere()
  const { passage, version, here } = told
  const take = useChange(inquiry.id, api.notePassage, (at: NonNullable<PassageElsewhere['here']>) => ({
    params: { copy: copy.id },
    body: { page: at.page, kind: passage.kind, quote: at.exact, note: passage.note },
  }))
  const isChanged = here && here.exact !== passage.quote
  return (
    <Box bg="paper" border="1px solid" borderColor="hair" borderRadius="md" p="10px" data-testid="passage elsewhere">
      <Text fontSize="12.5px" color="soft" mb="3px">
        Noted in {version === copy.version ? 'another copy' : `the ${version}`}, there page {passage.label}
      </Text>
      <Text fontFamily="serif" lineHeight="20px" lineClamp={6}>
        “{here?.exact ?? passage.quote}”
      </Text>
      {isChanged && (
        <Text mt="4px" fontSize="12.5px" color="soft" lineClamp={4}>
          There it reads: “{passage.quote}”
        </Text>
      )}
      {!here && (
        <Text mt="4px" fontSize="12.5px" color="amber">
          These words do not stand in this version.
        </Text>
      )}
      {here && mayWrite && (
        <Button
          size="2xs"
          variant="outline"
          mt="6px"
          loading={take.isPending}
          onClick={() =>
            take.mutate(here, { onSuccess: () => tell(`Noted from page ${here.label}.`), onError: tellError })
          }
        >
          Note it here, page {here.label}
        </Button>
      )}
    </Box>
  )
}
