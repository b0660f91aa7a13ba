import { Flex } from '@chakra-ui/react'
import { memo, useMemo, useState } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import type { Choice } from '../../../core/sift/decisions'
import { joined, placesWith } from '../../../core/sift/limits'
import { placeOf } from '../../../core/sift/line'
import type { WorkLine } from '../../../core/sift/line'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeyMap, keyName, useKeys } from '../../frame/keys'
import { Empty, Kbd } from '../../frame/parts'
import { useStrands } from '../../frame/strands'
import { useStable } from '../../frame/use-stable'
import { NothingLeft } from './beyond'
import { WorkRows } from './rows'

const stateOf = (w: WorkLine): string | undefined => (w.state === 'unread' ? undefined : ` · ${w.state}`)

/** Lines after the cursor that keep their place: more than fit on a screen. */
const AHEAD = 24

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
  works: readonly WorkLine[]
  /** Places of the works to be decided, in the order of reading. */
  queue: Uint32Array
  query: QueryNode | undefined
  mayWrite: boolean
}) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const { decide, undo } = useDecide(inquiry.id)
  const strands = useStrands(inquiry.id)
  // what is in sight keeps its place, however the order changes behind it: a key never meets another work than was read
  const [fixed, setFixed] = useState(() => Array.from(queue.subarray(0, AHEAD), at => works[at]!.id))
  const [cursor, setCursor] = useState(0)
  const now = useMemo(() => {
    const first = fixed.map(id => placeOf(works, id)).filter(at => at >= 0)
    const held = new Uint8Array(works.length)
    for (const at of first) held[at] = 1
    return joined(first, placesWith(queue, held, 0))
  }, [fixed, queue, works])
  // what is decided here keeps its place: the list is then the same, and its lines need no measuring
  const [rows, setRows] = useState(now)
  if (rows !== now && (rows.length !== now.length || rows.some((at, i) => at !== now[i]))) setRows(now)
  const here = works[rows[Math.min(cursor, rows.length - 1)]!]
  const go = (to: number) => {
    const next = Math.max(0, Math.min(rows.length - 1, to))
    setCursor(next)
    if (next + AHEAD > fixed.length) setFixed(Array.from(rows.subarray(0, next + AHEAD), at => works[at]!.id))
  }
  const choose = (choice: Choice) => {
    if (!here || !mayWrite) return
    decide([here.id], choice, 'title')
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
  const chosen = useStable(choose)
  if (!rows.length)
    return (
      <NothingLeft>
        <Empty title="Every title has been decided">What you kept waits for its abstract, one view on.</Empty>
      </NothingLeft>
    )
  return (
    <Flex direction="column" h="full" minH="0" px={{ base: '8px', md: '24px' }}>
      <WorkRows
        works={works}
        rows={rows}
        label="Titles to decide on"
        cursor={cursor}
        setCursor={go}
        query={query}
        strands={strands}
        note={stateOf}
        dim
      />
      <Foot choose={chosen} mayWrite={mayWrite} decided={rows.length - queue.length} />
    </Flex>
  )
}

const Foot = memo(function Foot({
  choose,
  mayWrite,
  decided,
}: {
  choose: (c: Choice) => void
  mayWrite: boolean
  decided: number
}) {
  const map = useKeyMap()
  return (
    <div className="foot">
      {(
        [
          ['keep', 'keep', 'keep'],
          ['set aside', 'set aside', 'aside'],
          ['later', 'later', 'later'],
        ] as const
      ).map(([name, choice, key]) => (
        <button key={key} type="button" onClick={() => choose(choice)} disabled={!mayWrite}>
          {name} <Kbd>{keyName(map[key])}</Kbd>
        </button>
      ))}
      <span>
        {decided > 0 && `${decided.toLocaleString('en')} decided here · `}
        no reason is asked by title
      </span>
    </div>
  )
})
