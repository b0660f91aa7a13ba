import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { Choice } from '../../../core/sift/decisions'
import type { WorkLine } from '../../api/types'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { keyMap, keyName, useKeys } from '../../frame/keys'
import { Empty, Kbd } from '../../frame/parts'
import { RecordLine } from '../../frame/record-line'

/**
 * The pass by title: a list at a glance, one key a work, no reason asked. What is decided here stays where it stands
 * until the list is left, so that a slip is seen and mended.
 */
export function Titles({
  works,
  queue,
  query,
  mayWrite,
}: {
  works: WorkLine[]
  queue: WorkLine[]
  query: QueryNode | undefined
  mayWrite: boolean
}) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const { decide, undo } = useDecide(inquiry.id)
  const [passed, setPassed] = useState<number[]>([])
  const [cursor, setCursor] = useState(0)
  const byId = useMemo(() => new Map(works.map(w => [w.id, w])), [works])
  const rows = useMemo(() => {
    const done = new Set(passed)
    return [...passed.flatMap(id => byId.get(id) ?? []), ...queue.filter(w => !done.has(w.id))]
  }, [passed, queue, byId])
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 58,
    overscan: 10,
  })
  const here = rows[Math.min(cursor, rows.length - 1)]
  const go = (to: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, to))
    setCursor(next)
    // what comes next is seen before it is reached
    virtual.scrollToIndex(Math.min(rows.length - 1, next + 4))
  }
  const choose = (choice: Choice) => {
    if (!here || !mayWrite) return
    decide([here.id], choice, 'title')
    // the works before the cursor stay above it, in their places
    setPassed(p => [...p, ...rows.slice(p.length, cursor + 1).map(w => w.id)])
    go(cursor + 1)
  }
  useKeys({
    keep: () => choose('keep'),
    aside: () => choose('set aside'),
    later: () => choose('later'),
    undo: () => {
      undo()
      go(cursor - 1)
    },
    next: () => go(cursor + 1),
    previous: () => go(cursor - 1),
    open: () => here && open(here.id),
  })
  const map = keyMap()
  if (!rows.length)
    return <Empty title="Every title has been decided">What you kept waits for its abstract, one view on.</Empty>
  return (
    <Flex direction="column" h="full" minH="0" px="24px">
      <Box ref={scroller} flex="1" overflow="auto" minH="0" role="list" aria-label="Titles to decide on">
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
                css={w.state === 'set aside' ? { '& button': { color: 'soft', fontWeight: 400 } } : undefined}
                style={{ transform: `translateY(${v.start}px)` }}
              >
                <RecordLine
                  {...w}
                  pages={w.pageCount}
                  query={query}
                  current={v.index === cursor}
                  note={w.state === 'unread' ? undefined : ` · ${w.state}`}
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
      <Flex py="10px" gap="18px" borderTop="1px solid" borderColor="hair2" fontSize="13px" color="soft" flex="none">
        {(
          [
            ['keep', 'keep', () => choose('keep')],
            ['set aside', 'aside', () => choose('set aside')],
            ['later', 'later', () => choose('later')],
          ] as const
        ).map(([name, key, act]) => (
          <chakra.button key={key} type="button" onClick={act} cursor="pointer" disabled={!mayWrite}>
            {name} <Kbd>{keyName(map[key])}</Kbd>
          </chakra.button>
        ))}
        <Box flex="1" />
        <Text>
          {rows.length - queue.length > 0 && `${(rows.length - queue.length).toLocaleString('en')} decided here · `}
          no reason is asked by title
        </Text>
      </Flex>
    </Flex>
  )
}
