import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useVirtualizer } from '@tanstack/react-virtual'
import { useMemo, useRef, useState } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { State } from '../../../core/sift/decisions'
import type { WorkLine } from '../../api/types'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { Empty, Tick, withMember } from '../../frame/parts'
import { RecordLine } from '../../frame/record-line'
import { Reasons } from './reasons'
import { inOrder, type OrderKey, type ReadingOrder } from './use-order'

/** All works as lines: limited by state, chosen, decided together. */
export function DenseList({
  works,
  order,
  place,
  query,
  mayWrite,
}: {
  works: WorkLine[]
  order: OrderKey
  place: ReadingOrder['place']
  query: QueryNode | undefined
  mayWrite: boolean
}) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const { decide, undo } = useDecide(inquiry.id)
  const [state, setState] = useState<State | 'all'>('unread')
  const [chosen, setChosen] = useState<Set<number>>(new Set())
  const [cursor, setCursor] = useState(0)
  const rows = useMemo(
    () =>
      inOrder(
        works.filter(w => state === 'all' || w.state === state),
        order,
        place,
      ),
    [works, state, order, place],
  )
  const scroller = useRef<HTMLDivElement>(null)
  const virtual = useVirtualizer({
    count: rows.length,
    getScrollElement: () => scroller.current,
    estimateSize: () => 61,
    overscan: 12,
  })
  const here = rows[Math.min(cursor, rows.length - 1)]
  const targets = chosen.size ? rows.filter(r => chosen.has(r.id)).map(r => r.id) : here ? [here.id] : []
  const [asking, setAsking] = useState(false)
  const act = (choice: 'keep' | 'set aside' | 'later', reason?: string) => {
    if (!mayWrite || !targets.length) return
    decide(targets, choice, 'abstract', reason)
    setChosen(new Set())
    setAsking(false)
  }
  const aside = () => mayWrite && targets.length > 0 && setAsking(true)
  const move = (by: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, cursor + by))
    setCursor(next)
    virtual.scrollToIndex(next)
  }
  useKeys(
    {
      keep: () => act('keep'),
      aside,
      later: () => act('later'),
      undo: () => undo(),
      next: () => move(1),
      previous: () => move(-1),
      open: () => here && open(here.id),
    },
    !asking,
  )
  const count = (s: State) => works.filter(w => w.state === s).length
  return (
    <Flex direction="column" h="full" px="24px" pt="12px">
      <Flex gap="10px" align="center" pb="8px" wrap="wrap" fontSize="13.5px">
        {(['unread', 'kept', 'later', 'set aside', 'all'] as const).map(s => (
          <Button
            key={s}
            size="xs"
            variant={state === s ? 'solid' : 'outline'}
            colorPalette={state === s ? 'slate' : undefined}
            onClick={() => {
              setState(s)
              setCursor(0)
              setChosen(new Set())
            }}
            aria-pressed={state === s}
          >
            {s} {s === 'all' ? works.length : count(s)}
          </Button>
        ))}
        <Box flex="1" />
        {chosen.size > 0 && <Text color="soft">{chosen.size} chosen</Text>}
        <Button size="xs" variant="outline" onClick={aside} disabled={!mayWrite || !targets.length}>
          Set aside
        </Button>
        <Button size="xs" variant="outline" onClick={() => act('later')} disabled={!mayWrite || !targets.length}>
          Later
        </Button>
        <Button size="xs" colorPalette="vine" onClick={() => act('keep')} disabled={!mayWrite || !targets.length}>
          Keep
        </Button>
      </Flex>
      <Box ref={scroller} flex="1" overflow="auto" borderTop="1px solid" borderColor="hair">
        {!rows.length && (
          <Empty title={`No work is ${state === 'all' ? 'here' : state}`}>Choose another state above.</Empty>
        )}
        <Box position="relative" style={{ height: virtual.getTotalSize() }}>
          {virtual.getVirtualItems().map(v => {
            const w = rows[v.index]!
            return (
              <Box
                key={w.id}
                ref={virtual.measureElement}
                data-index={v.index}
                position="absolute"
                top="0"
                left="0"
                right="0"
                style={{ transform: `translateY(${v.start}px)` }}
              >
                <RecordLine
                  {...w}
                  pages={w.pageCount}
                  query={query}
                  current={v.index === cursor}
                  note={w.reason ? ` · ${w.reason}` : undefined}
                  onOpen={() => {
                    setCursor(v.index)
                    open(w.id)
                  }}
                  choose={
                    <Tick
                      label={`Choose: ${w.title}`}
                      checked={chosen.has(w.id)}
                      set={on => setChosen(b => withMember(b, w.id, on))}
                    />
                  }
                />
              </Box>
            )
          })}
        </Box>
      </Box>
      {asking && <Reasons choose={r => act('set aside', r)} cancel={() => setAsking(false)} />}
    </Flex>
  )
}
