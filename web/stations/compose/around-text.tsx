import { Box, chakra } from '@chakra-ui/react'
import { useRef, useState } from 'react'
import type { Bibliography } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Overtaken } from '../../frame/overtaken'
import type { WritingDesk } from '../../frame/writing/written-field'
import { useAroundText, type Cited } from './use-written'
import { Writing } from './writing'

/** Words at a place of the printed page; where there are none, a way to write some. */
export function AroundText({
  list,
  place,
  label,
  invite,
  cited,
}: {
  list: Pick<Bibliography, 'texts'>
  place: string
  label: string
  /** What begins it: "Write an opening". */
  invite: string
  cited: Cited
}) {
  const { mayWrite } = useHere()
  const { value, write, editor } = useAroundText(list, place, label, cited)
  const [isOpen, setOpen] = useState(false)
  /** It was empty, and somebody goes to write in it. */
  const [isBegun, setBegun] = useState(false)
  const desk = useRef<WritingDesk>(null)
  if (!value.text && !isOpen)
    return mayWrite ? (
      <Box className="around-text">
        <chakra.button
          type="button"
          className="plain-link"
          onClick={() => {
            setBegun(true)
            setOpen(true)
          }}
        >
          {invite}
        </chakra.button>
      </Box>
    ) : null
  return (
    <Box
      className="around-text"
      onBlur={e => !e.currentTarget.contains(e.relatedTarget) && document.hasFocus() && setOpen(false)}
    >
      <Writing
        {...{ value, write, label, mayWrite, isOpen, desk }}
        placeholder={`${invite} here`}
        most={20_000}
        autoFocus={isBegun}
        opened={() => setOpen(true)}
      />
      <Overtaken editor={editor} what="text" theirs={told => String(told.content)} />
    </Box>
  )
}
