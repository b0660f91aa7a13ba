import { Box } from '@chakra-ui/react'
import { useState } from 'react'
import type { Chosen } from './chosen'
import type { Reader } from './viewer'

/** Smaller boxes are slips of the hand, in pixels. */
const LEAST = 8

/** Over the pages: a box is drawn around a figure or a table, from one corner to the other. */
export function BoxDrawing({ reader, choose }: { reader: Reader; choose: (chosen: Chosen | undefined) => void }) {
  const [from, setFrom] = useState<{ x: number; y: number }>()
  const [to, setTo] = useState<{ x: number; y: number }>()
  const at = from &&
    to && {
      left: Math.min(from.x, to.x),
      top: Math.min(from.y, to.y),
      width: Math.abs(to.x - from.x),
      height: Math.abs(to.y - from.y),
    }
  const room = reader.room.getBoundingClientRect()
  const end = () => {
    const box = at && at.width > LEAST && at.height > LEAST ? reader.boxAt(at) : undefined
    setFrom(undefined)
    setTo(undefined)
    choose(box && { page: box.page, text: '', boxes: [box] })
  }
  return (
    <Box
      position="absolute"
      inset="0"
      zIndex="2"
      cursor="crosshair"
      touchAction="none"
      data-testid="box drawing"
      onPointerDown={e => {
        e.currentTarget.setPointerCapture(e.pointerId)
        setFrom({ x: e.clientX, y: e.clientY })
        setTo({ x: e.clientX, y: e.clientY })
      }}
      onPointerMove={e => from && setTo({ x: e.clientX, y: e.clientY })}
      onPointerUp={end}
      onPointerCancel={() => choose(undefined)}
      onWheel={e => reader.room.scrollBy(e.deltaX, e.deltaY)}
    >
      {at && (
        <Box
          position="absolute"
          border="2px dashed"
          borderColor="slate.solid"
          style={{ left: at.left - room.left, top: at.top - room.top, width: at.width, height: at.height }}
        />
      )}
    </Box>
  )
}
