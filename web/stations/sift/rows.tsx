import { Box } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useEffect, useRef, type ReactNode } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { WorkLine } from '../../api/types'
import { useOpenWork } from '../../frame/inquiry-frame'
import { RecordLine } from '../../frame/record-line'
import { SaidOf, type StrandLook } from '../../frame/strands'

/** Works as record lines, only those in sight drawn; the line under the cursor is kept in sight with some after it. */
export function WorkRows({
  rows,
  label,
  cursor,
  setCursor,
  query,
  strands,
  note,
  choose,
  dim = false,
}: {
  rows: readonly WorkLine[]
  label: string
  cursor: number
  setCursor: (to: number) => void
  query: QueryNode | undefined
  strands: readonly StrandLook[]
  note: (w: WorkLine) => string | undefined
  choose?: (w: WorkLine) => ReactNode
  /** Whether what is set aside steps back. */
  dim?: boolean
}) {
  const open = useOpenWork()
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 58,
    getItemKey: i => rows[i]!.id,
    overscan: 10,
  })
  const last = rows.length - 1
  useEffect(() => {
    if (last >= 0) virtual.scrollToIndex(Math.min(last, cursor + 4))
    // the virtualiser is the same object throughout
  }, [cursor, last, virtual])
  return (
    <Box ref={scroller} flex="1" overflow="auto" minH="0" role="list" aria-label={label} tabIndex={-1}>
      <Box position="relative" style={{ height: virtual.getTotalSize() }}>
        {virtual.getVirtualItems().map(v => {
          const w = rows[v.index]!
          return (
            <Box
              key={w.id}
              ref={virtual.measureElement}
              data-index={v.index}
              role="listitem"
              aria-current={v.index === cursor ? 'true' : undefined}
              position="absolute"
              top="0"
              left="0"
              right="0"
              css={dim && w.state === 'set aside' ? { '& button': { color: 'soft', fontWeight: 400 } } : undefined}
              style={{ transform: `translateY(${v.start}px)` }}
            >
              <RecordLine
                {...w}
                pages={w.pageCount}
                query={query}
                current={v.index === cursor}
                note={note(w)}
                below={<SaidOf work={w} strands={strands} />}
                choose={choose?.(w)}
                onOpen={() => {
                  setCursor(v.index)
                  open(w.id)
                }}
              />
            </Box>
          )
        })}
      </Box>
    </Box>
  )
}
