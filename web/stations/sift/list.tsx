import { Box, Button, chakra, Flex, Input, Menu, Portal, Text } from '@chakra-ui/react'
import { useCallback, useMemo, useState } from 'react'
import type { QueryNode } from '../../../core/query/cql'
import { PARTS } from '../../../core/sift/marks'
import type { Choice } from '../../../core/sift/decisions'
import type { WorkLine } from '../../../core/sift/line'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { LetterDialog } from '../../frame/letter-dialog'
import { Empty, withMember } from '../../frame/parts'
import { Swatch, useStrands } from '../../frame/strands'
import { Reasons } from '../../frame/reasons'
import { WorkRows } from './rows'
import type { LimitHandle } from './use-limits'

const n = (x: number): string => x.toLocaleString('en')
const reasonOf = (w: WorkLine): string | undefined => (w.reason ? ` · ${w.reason}` : undefined)
/** Works of one letter. */
const MOST_MAILED = 500
const STATES = ['unread', 'kept', 'later', 'set aside'] as const

/** All works within the limits as lines: chosen one by one or all together, then decided, parted, strung and tagged. */
export function DenseList({
  works,
  places,
  stateCounts,
  handle,
  query,
  mayWrite,
}: {
  works: readonly WorkLine[]
  /** Places of those within the limits, in order. */
  places: Uint32Array
  /** How many of each state the other limits leave. */
  stateCounts: ReadonlyMap<string, number>
  handle: LimitHandle
  query: QueryNode | undefined
  mayWrite: boolean
}) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const marks = useDecide(inquiry.id)
  const strands = useStrands(inquiry.id)
  const rows = useMemo(() => Array.from(places, at => works[at]!), [places, works])
  const [chosen, setChosen] = useState<ReadonlySet<number>>(new Set())
  const [cursor, setCursor] = useState(0)
  const [asking, setAsking] = useState(false)
  const choose = useCallback((work: number, on: boolean) => setChosen(b => withMember(b, work, on)), [])
  const here = rows[Math.min(cursor, rows.length - 1)]
  const [mailed, setMailed] = useState<readonly number[]>()
  // what the limits no longer let through is not decided unseen
  const picked = useMemo(() => (chosen.size ? rows.filter(r => chosen.has(r.id)).map(r => r.id) : []), [rows, chosen])
  const targets = picked.length ? picked : here ? [here.id] : []
  const act = (choice: Choice, reason?: string) => {
    if (!mayWrite || !targets.length) return
    marks.decide(targets, choice, 'abstract', reason)
    setChosen(new Set())
    setAsking(false)
  }
  const aside = () => mayWrite && targets.length > 0 && setAsking(true)
  const move = (by: number) => setCursor(c => Math.max(0, Math.min(rows.length - 1, c + by)))
  useKeys(
    {
      keep: () => act('keep'),
      aside,
      later: () => act('later'),
      undo: () => marks.undo(),
      next: () => move(1),
      previous: () => move(-1),
      open: () => here && open(here.id),
    },
    !asking,
  )
  const state = handle.limits.state?.length === 1 ? handle.limits.state[0] : undefined
  const idle = !mayWrite || !targets.length
  return (
    <Flex direction="column" h="full" minH="0" px={{ base: '8px', md: '24px' }} pt="8px">
      <Flex gap="8px" align="center" pb="8px" wrap="wrap" fontSize="13px" borderBottom="1px solid" borderColor="hair">
        {[undefined, ...STATES].map(s => (
          <Button
            key={s ?? 'all'}
            size="2xs"
            variant={state === s ? 'solid' : 'outline'}
            colorPalette={state === s ? 'slate' : undefined}
            onClick={() => {
              handle.set('state', s ? [s] : [])
              setCursor(0)
              setChosen(new Set())
            }}
            aria-pressed={state === s}
          >
            {s ?? 'all'} {n(s ? (stateCounts.get(s) ?? 0) : [...stateCounts.values()].reduce((t, x) => t + x, 0))}
          </Button>
        ))}
        <Box flex="1" />
        <Button
          size="2xs"
          variant="ghost"
          disabled={!rows.length}
          onClick={() => setChosen(chosen.size ? new Set() : new Set(rows.map(r => r.id)))}
        >
          {chosen.size ? `Choose none (${n(picked.length)} chosen)` : `Choose all ${n(rows.length)}`}
        </Button>
        <Say idle={idle} marks={marks} targets={targets} strands={strands} rows={rows} />
        <Button
          size="2xs"
          variant="outline"
          disabled={!targets.length || targets.length > MOST_MAILED}
          title={targets.length > MOST_MAILED ? `A letter has ${MOST_MAILED} works at most` : undefined}
          onClick={() => setMailed(targets)}
        >
          Mail …
        </Button>
        {mailed && <LetterDialog works={mailed} close={() => setMailed(undefined)} />}
        <Button size="2xs" variant="outline" onClick={aside} disabled={idle}>
          Set aside
        </Button>
        <Button size="2xs" variant="outline" onClick={() => act('later')} disabled={idle}>
          Later
        </Button>
        <Button size="2xs" colorPalette="vine" onClick={() => act('keep')} disabled={idle}>
          Keep
        </Button>
      </Flex>
      {rows.length ? (
        <WorkRows
          works={works}
          rows={places}
          label="Works of the pool"
          cursor={cursor}
          setCursor={setCursor}
          query={query}
          strands={strands}
          note={reasonOf}
          chosen={chosen}
          choose={choose}
        />
      ) : (
        <Empty
          title={state ? `No work is ${state} within the limits` : 'No work is within the limits'}
          action={
            handle.any && (
              <Button size="sm" variant="outline" onClick={() => handle.replace({})}>
                Lift all limits
              </Button>
            )
          }
        >
          {handle.any ? 'Lift one of the limits above, or all of them.' : ''}
        </Empty>
      )}
      {asking && <Reasons choose={r => act('set aside', r)} cancel={() => setAsking(false)} works={targets.length} />}
    </Flex>
  )
}

/** Part, strands and tags for what is chosen, or for the line under the cursor. */
function Say({ idle, ...of }: { idle: boolean } & Sayings) {
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }} closeOnSelect={false} lazyMount unmountOnExit>
      <Menu.Trigger asChild>
        <Button size="2xs" variant="outline" disabled={idle}>
          Part, strand, tag …
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <SayOf {...of} />
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

interface Sayings {
  marks: ReturnType<typeof useDecide>
  targets: readonly number[]
  strands: ReturnType<typeof useStrands>
  rows: readonly WorkLine[]
}

/** Reads through the works listed, so it is there only while its menu is open. */
function SayOf({ marks, targets, strands, rows }: Sayings) {
  const [tag, setTag] = useState('')
  const wanted = new Set(targets)
  const them = rows.filter(r => wanted.has(r.id))
  const tags = [...new Set(rows.flatMap(r => r.tags))].sort((a, b) => a.localeCompare(b)).slice(0, 12)
  const all = (test: (w: WorkLine) => boolean) => them.length > 0 && them.every(test)
  const mark = (t: string) => {
    if (t.trim()) marks.tag(targets, t.trim(), !all(w => w.tags.includes(t.trim())))
    setTag('')
  }
  return (
    <Menu.Content minW="260px" maxH="70vh">
      <Menu.ItemGroup>
        <Menu.ItemGroupLabel>
          {targets.length === 1 ? 'This work is' : `These ${n(targets.length)} works are`}
        </Menu.ItemGroupLabel>
        {PARTS.map(p => (
          <Menu.Item key={p} value={p} onClick={() => marks.part(targets, all(w => w.part === p) ? null : p)}>
            {p} {all(w => w.part === p) && <chakra.b ml="auto">✓</chakra.b>}
          </Menu.Item>
        ))}
      </Menu.ItemGroup>
      <Menu.ItemGroup>
        <Menu.ItemGroupLabel>on the strand</Menu.ItemGroupLabel>
        {strands.map(s => (
          <Menu.Item
            key={s.id}
            value={`s${s.id}`}
            onClick={() => marks.strand(targets, s, !all(w => w.strands.includes(s.id)))}
          >
            <Swatch n={s.n} /> {s.name} {all(w => w.strands.includes(s.id)) && <chakra.b ml="auto">✓</chakra.b>}
          </Menu.Item>
        ))}
        {!strands.length && (
          <Text px="8px" py="4px" fontSize="13px" color="soft">
            No strand yet; the view Strands makes them.
          </Text>
        )}
      </Menu.ItemGroup>
      <Menu.ItemGroup>
        <Menu.ItemGroupLabel>with the tag</Menu.ItemGroupLabel>
        {tags.map(t => (
          <Menu.Item key={t} value={`t${t}`} onClick={() => mark(t)}>
            {t} {all(w => w.tags.includes(t)) && <chakra.b ml="auto">✓</chakra.b>}
          </Menu.Item>
        ))}
        <chakra.form
          px="8px"
          py="4px"
          display="flex"
          gap="6px"
          onSubmit={e => {
            e.preventDefault()
            mark(tag)
          }}
        >
          <Input
            size="xs"
            placeholder="a new tag"
            aria-label="A new tag"
            maxLength={60}
            value={tag}
            onChange={e => setTag(e.target.value)}
            onKeyDown={e => e.stopPropagation()}
          />
          <Button size="xs" type="submit" variant="outline" disabled={!tag.trim()}>
            Tag
          </Button>
        </chakra.form>
      </Menu.ItemGroup>
    </Menu.Content>
  )
}
