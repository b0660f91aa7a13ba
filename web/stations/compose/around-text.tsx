import { Box, chakra, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import type { Bibliography } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Overtaken } from '../../frame/overtaken'
import { useSaved } from '../../outbox/use-outbox'

const asContent = (content: string): unknown => ({ content })
const contentOf = (body: unknown): string => (body as { content: string }).content

/** A text around the list, which saves itself. */
export function useAroundText(list: Pick<Bibliography, 'texts'>, place: string, said: string) {
  const { inquiry } = useHere()
  const stands = list.texts.find(t => t.place === place)
  return useSaved<string>({
    inquiry: inquiry.id,
    slot: `text ${place}`,
    method: 'PUT',
    path: `/texts/${place}`,
    said,
    stands: { value: stands?.content ?? '', version: stands?.version ?? 0 },
    body: asContent,
    read: contentOf,
  })!
}

/** Words at a place of the printed page; where there are none, a way to write some. */
export function AroundText({
  list,
  place,
  label,
  invite,
}: {
  list: Pick<Bibliography, 'texts'>
  place: string
  label: string
  /** What begins it: "Write an opening". */
  invite: string
}) {
  const { mayWrite } = useHere()
  const editor = useAroundText(list, place, label)
  const [isBegun, setBegun] = useState(false)
  if (!editor.value && !isBegun)
    return mayWrite ? (
      <Box className="around-text">
        <chakra.button type="button" className="plain-link" onClick={() => setBegun(true)}>
          {invite}
        </chakra.button>
      </Box>
    ) : null
  return (
    <Box className="around-text">
      <Textarea
        aria-label={label}
        variant="flushed"
        bg="transparent"
        border="1px solid transparent"
        borderRadius="3px"
        _hover={{ borderColor: 'hair' }}
        _focus={{ borderColor: 'vine' }}
        fontFamily="serif"
        fontSize="16px"
        lineHeight="25px"
        p="4px 6px"
        minH="35px"
        autoresize
        rows={1}
        autoFocus={isBegun && !editor.value}
        readOnly={!mayWrite}
        maxLength={20_000}
        value={editor.value}
        onChange={e => editor.write(e.target.value)}
        onBlur={() => setBegun(false)}
      />
      <Overtaken editor={editor} what="text" theirs={told => String(told.content)} />
    </Box>
  )
}
