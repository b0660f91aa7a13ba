import { Box } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { memo, useCallback, useEffect, useRef } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { WorkLine } from '../../../core/sift/line'
import { useOpenWork } from '../../frame/inquiry-frame'
import { LineTick, RecordLine } from '../../frame/record-line'
import { useStable } from '../../frame/use-stable'
import { SaidOf, type StrandLook } from '../../frame/strands'

/** Works as record lines, only those in sight drawn; the line under the cursor is kept in sight with some after it. */
export function WorkRows({
  works,
  rows,
  label,
  cursor,
  setCursor,
  query,
  strands,
  note,
  chosen,
  choose,
  dim = false,
}: {
  works: readonly WorkLine[]
  /** Places in `works` of those that are listed: the same list as long as nothing comes, goes or moves. */
  rows: Uint32Array
  label: string
  cursor: number
  setCursor: (to: number) => void
  query: QueryNode | undefined
  strands: readonly StrandLook[]
  /** The same function throughout, as is `choose`: a line is drawn anew only where something of it changed. */
  note: (w: WorkLine) => string | undefined
  chosen?: ReadonlySet<number>
  choose?: (work: number, on: boolean) => void
  /** Whether what is set aside steps back. */
  dim?: boolean
}) {
  const open = useOpenWork()
  const opened = useStable((work: number, index: number) => {
    setCursor(index)
    open(work)
  })
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 58,
    getItemKey: useCallback((i: number) => rows[i]!, [rows]),
    overscan: 10,
    // lines are moved without being drawn anew; others are drawn as they come into sight
    directDomUpdates: true,
    useFlushSync: false,
  })
  // works that came or went moved the places by which heights are remembered
  useEffect(() => virtual.measure(), [works.length, virtual])
  const last = rows.length - 1
  useEffect(() => {
    if (last < 0) return
    const to = Math.min(last, cursor + 4)
    // asking the browser for places costs a layout: most moves stay in sight
    const { scrollOffset: top, scrollRect, measurementsCache: lines } = virtual
    const seen = top !== null && scrollRect && lines[to] && lines[cursor]
    if (seen && lines[to]!.end <= top + scrollRect.height && lines[cursor]!.start >= top) return
    virtual.scrollToIndex(to)
    // the virtualiser is the same object throughout
  }, [cursor, last, virtual])
  return (
    <Box ref={scroller} flex="1" overflow="auto" minH="0" role="list" aria-label={label} tabIndex={-1}>
      <div ref={virtual.containerRef} style={{ position: 'relative' }}>
        {virtual.getVirtualItems().map(v => {
          const w = works[rows[v.index]!]
          if (!w) return null
          return (
            <div
              key={w.id}
              ref={virtual.measureElement}
              data-index={v.index}
              role="listitem"
              aria-current={v.index === cursor ? 'true' : undefined}
              className={dim && w.state === 'set aside' ? 'row-dim' : undefined}
              style={{ position: 'absolute', top: 0, left: 0, right: 0 }}
            >
              <Row
                work={w}
                index={v.index}
                current={v.index === cursor}
                query={query}
                strands={strands}
                note={note}
                chosen={chosen ? chosen.has(w.id) : undefined}
                choose={choose}
                open={opened}
              />
            </div>
          )
        })}
      </div>
    </Box>
  )
}

const Row = memo(function Row({
  work: w,
  index,
  current,
  query,
  strands,
  note,
  chosen,
  choose,
  open,
}: {
  work: WorkLine
  index: number
  current: boolean
  query: QueryNode | undefined
  strands: readonly StrandLook[]
  note: (w: WorkLine) => string | undefined
  chosen: boolean | undefined
  choose: ((work: number, on: boolean) => void) | undefined
  open: (work: number, index: number) => void
}) {
  return (
    <RecordLine
      {...w}
      pages={w.pageCount}
      query={query}
      current={current}
      note={note(w)}
      below={<SaidOf work={w} strands={strands} />}
      choose={
        choose && <LineTick label={`Choose: ${w.title}`} checked={chosen === true} set={on => choose(w.id, on)} />
      }
      onOpen={() => open(w.id, index)}
    />
  )
})
