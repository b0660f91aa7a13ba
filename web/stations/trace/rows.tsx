import { Box, Button, chakra, Flex } from '@chakra-ui/react'
import { useEffect, useRef, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import type { Choice } from '../../../core/sift/decisions'
import type { End } from '../../../core/trails/field-shapes'
import { useHere } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { withMember } from '../../frame/parts'
import type { Link as ChainLink } from './field-desk'
import { ListRow } from './list-row'
import { who, type Shown } from './naming'
import type { Line } from './ranking'
import { useBring } from '../../frame/use-bring'

const AT_FIRST = 30

/** What rows of works can be asked for, whichever list they stand in. */
export interface RowActs {
  /** A row was gone to: its work is shown in the trellis. */
  onRow: (end: End) => void
  /** A shortest chain of citations from the chosen work; undefined where none is known. */
  chainTo: (end: End) => Promise<ChainLink[] | undefined>
  /** Makes a row's work the one that the lists and the trellis speak of. */
  lookFrom: (end: End) => void
  open: (work: number) => void
  shownOf: (end: End) => Shown | undefined
  chosen: Shown | undefined
}

/** Works in a list, gone through and decided on by the keys of Sift, brought into the pool one by one or many at once. */
export function Rows({
  name,
  lines,
  empty,
  sift,
  acts: { onRow, chainTo, lookFrom, open, shownOf, chosen },
}: {
  name: string
  lines: readonly Line[]
  /** In place of rows. */
  empty: ReactNode
  /** Where what came by trails is sifted, where anything did. */
  sift: string | undefined
  acts: RowActs
}) {
  const { mayWrite } = useHere()
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set())
  const [at, setAt] = useState<string>()
  const [most, setMost] = useState(AT_FIRST)
  const [chain, setChain] = useState<{ key: string; said: string }>()
  const bring = useBring()
  const seen = lines.slice(0, most)
  const index = Math.max(
    0,
    seen.findIndex(l => l.key === at),
  )
  const current = seen[index]
  const chosenNodes = lines.filter(l => ticked.has(l.key) && !l.shown.work).flatMap(l => l.shown.node ?? [])

  const go = (by: 1 | -1) => {
    const next = at === undefined ? seen[0] : seen[index + by]
    if (!next) return
    setAt(next.key)
    onRow(next.end)
  }
  const decideOn = (line: Line | undefined, choice: Choice) => {
    if (!line) return
    const { work, node, title } = line.shown
    const isPointer = !work
    if (!bring.decide({ work: work?.id ?? null, node, title }, choice) || !isPointer) return
    const next = seen[index + 1] ?? seen[index - 1]
    if (next) setAt(next.key)
  }
  const sayChain = async (line: Line) => {
    const links = await chainTo(line.end)
    const nameOf = (end: End) => {
      const s = shownOf(end)
      return s ? `${who(s)}, “${s.title}”` : 'a work'
    }
    const said = links?.length
      ? `${chosen ? who(chosen) : 'It'} ${links.map(({ end, by }) => `${by} ${nameOf(end)}`).join(', which ')}.`
      : links
        ? 'It is the chosen work itself.'
        : 'No chain of citations is known between the two.'
    setChain({ key: line.key, said })
  }
  const bringMany = () => bring.bringMany(chosenNodes, () => setTicked(new Set()))
  useKeys({
    next: () => go(1),
    previous: () => go(-1),
    keep: () => decideOn(current, 'keep'),
    aside: () => decideOn(current, 'set aside'),
    later: () => decideOn(current, 'later'),
    undo: () => bring.undo(),
    open: () => current?.shown.work && open(current.shown.work.id),
  })
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (at === undefined) return
    const el = list.current?.querySelector('[data-current]')
    if (el && 'scrollIntoView' in el) el.scrollIntoView({ block: 'nearest' })
  }, [at, chain])

  return (
    <>
      <Box ref={list} flex="1" minH="120px" overflow="auto" mt="8px" borderTop="1px solid" borderColor="hair">
        {!seen.length ? (
          empty
        ) : (
          <div role="list" aria-label={name} tabIndex={0}>
            {seen.map(l => (
              <ListRow
                key={l.key}
                line={l}
                current={l.key === current?.key && at !== undefined}
                ticked={ticked.has(l.key)}
                mayWrite={mayWrite}
                busy={bring.busy}
                tick={on => setTicked(b => withMember(b, l.key, on))}
                go={() => (setAt(l.key), onRow(l.end))}
                decide={choice => (setAt(l.key), decideOn(l, choice))}
                chain={chain?.key === l.key ? chain.said : undefined}
                sayChain={() => void sayChain(l)}
                look={() => lookFrom(l.end)}
                open={open}
              />
            ))}
          </div>
        )}
        {lines.length > most && (
          <Button size="xs" variant="ghost" my="8px" onClick={() => setMost(most + 100)}>
            {lines.length - most} more
          </Button>
        )}
      </Box>
      {mayWrite && seen.some(l => !l.shown.work) && (
        <Flex pt="8px" gap="8px" align="center" wrap="wrap">
          <Button
            size="xs"
            colorPalette="grape"
            disabled={!chosenNodes.length}
            loading={bring.busy}
            onClick={bringMany}
          >
            Bring {chosenNodes.length || ''} into the pool
          </Button>
          <Button
            size="xs"
            variant="ghost"
            onClick={() =>
              setTicked(new Set(chosenNodes.length ? [] : seen.filter(l => !l.shown.work).map(l => l.key)))
            }
          >
            {chosenNodes.length ? 'Choose none' : 'Choose all shown'}
          </Button>
          {sift && (
            <chakra.a asChild fontSize="13px" color="vine" ml="auto">
              <Link to={sift}>Sift what came</Link>
            </chakra.a>
          )}
        </Flex>
      )}
    </>
  )
}
