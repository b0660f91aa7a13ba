import { Box, Button, chakra, Flex, NativeSelect, Tabs, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { REACHES } from '../../../core/access/reach'
import { api, type GraphAnswer } from '../../../core/schema/api'
import { BROUGHT } from '../../../core/schema/api/trace'
import type { Choice } from '../../../core/sift/decisions'
import type { End, ListKind } from '../../../core/trails/field'
import { useChange } from '../../api/hooks'
import { useDecide } from '../../frame/decide'
import { useHere } from '../../frame/inquiry-frame'
import { keyName, useKeyMap, useKeys } from '../../frame/keys'
import { LeafMark, ReachMark } from '../../frame/marks'
import { Empty, Kbd, tell, tellError, Tick, Waiting, withMember } from '../../frame/parts'
import type { Overview, Row } from './field-desk'
import { who, type Shown } from './naming'

export type Tab = 'lack' | ListKind
export const TABS: { tab: Tab; name: string; said: string; ofAll: string }[] = [
  { tab: 'lack', name: 'You lack', said: '', ofAll: 'Cited by many works you kept, more than their fame explains, and not in your pool.' },
  { tab: 'references', name: 'References', said: 'What this work refers to; what more of your kept works are tied to stands first.', ofAll: 'What your kept works refer to, by how many of them do.' },
  { tab: 'cited by', name: 'Cited by', said: 'What cites this work; what more of your kept works are tied to stands first.', ofAll: 'What cites your kept works, by how many of them it cites.' },
  { tab: 'shared', name: 'Shared', said: 'Works that refer to what this one refers to, by the share of it.', ofAll: 'Works that refer to what your kept works refer to, by the share of it.' },
  { tab: 'together', name: 'Together', said: 'Works that are cited where this one is cited.', ofAll: 'Works that are cited where your kept works are cited.' },
  { tab: 'alike', name: 'Alike', said: 'Near this work by shared references, by being cited together, and by the words of the title.', ofAll: 'Near your kept works by shared references, by being cited together, and by the words of the title.' },
] // prettier-ignore

const ORDERS = [
  { key: 'rank', name: 'as ranked' },
  { key: 'rate', name: 'citations a year' },
  { key: 'percentile', name: 'rank in its field and year' },
  { key: 'new', name: 'newest first' },
  { key: 'old', name: 'oldest first' },
] as const
const WHICH = [
  { key: 'all', name: 'all' },
  { key: 'new', name: 'not in my pool' },
  { key: 'known', name: 'in my pool' },
] as const
type OrderKey = (typeof ORDERS)[number]['key']
type WhichKey = (typeof WHICH)[number]['key']
interface Limits {
  order: OrderKey
  which: WhichKey
  kind: string
  reach: string
  since: string
}
const NO_LIMITS: Limits = { order: 'rank', which: 'all', kind: '', reach: '', since: '' }

/** A row as it is shown: the work, why it is here, and the numbers it can be ordered by. */
interface Line {
  key: string
  end: End
  shown: Shown
  why: string
  percentile: number | null
}
const AT_FIRST = 30

/** The ranked lists beside the trellis; what is in them is decided on here, by the keys of Sift. */
export function Lists({
  overview,
  graph,
  shownOf,
  tab,
  setTab,
  rows,
  chosen,
  ofAll,
  setOfAll,
  onRow,
  lookFrom,
  open,
  kept,
}: {
  overview: Overview
  graph: GraphAnswer
  shownOf: (end: End) => Shown | undefined
  tab: Tab
  setTab: (tab: Tab) => void
  /** Of the chosen list; undefined while it is reckoned. */
  rows: readonly Row[] | undefined
  chosen: Shown | undefined
  ofAll: boolean
  setOfAll: (all: boolean) => void
  /** A row was gone to: its work is shown in the trellis. */
  onRow: (end: End) => void
  /** Makes a row's work the one that the lists and the trellis speak of. */
  lookFrom: (end: End) => void
  open: (work: number) => void
  kept: number
}) {
  const { inquiry, mayWrite } = useHere()
  const [limits, setLimits] = useState(NO_LIMITS)
  const [folded, setFolded] = useState(true)
  const [ticked, setTicked] = useState<ReadonlySet<string>>(new Set())
  const [at, setAt] = useState<string>()
  const [most, setMost] = useState(AT_FIRST)
  const map = useKeyMap()
  const { decide, undo, said: noted } = useDecide(inquiry.id)
  const bring = useChange(
    inquiry.id,
    api.bringPointers,
    (body: { nodes: number[]; group?: string; choice?: Choice }) => ({ body }),
  )
  const about = TABS.find(t => t.tab === tab)!
  const all = ofAll || tab === 'lack'

  const lines = useMemo(() => {
    const of = (end: End, why: string, percentile: number | null): Line[] => {
      const shown = shownOf(end)
      return shown ? [{ key: `${end.work ?? ''} ${end.node ?? ''}`, end, shown, why, percentile }] : []
    }
    const list =
      tab === 'lack'
        ? overview.lacking.flatMap(l => of(overview.ends[l.node]!, whyLacking(l, kept), l.percentile))
        : (rows ?? []).flatMap(r => of(r.end, whyRanked(tab, r, all, kept), r.percentile))
    return limited(list, limits)
  }, [tab, overview, rows, shownOf, limits, kept, all])
  const unlimited = tab === 'lack' ? overview.lacking.length : (rows?.length ?? 0)
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
  const said: Record<Choice, string> = { keep: 'Kept', 'set aside': 'Set aside', later: 'Left for later' }
  const decideOn = (line: Line | undefined, choice: Choice) => {
    if (!line || !mayWrite || bring.isPending) return
    const { work, node, title } = line.shown
    if (work) return decide([work.id], choice)
    if (node === null) return
    const group = crypto.randomUUID()
    bring.mutate(
      { nodes: [node], group, choice },
      {
        onSuccess: () => {
          noted(group)
          tell(`${said[choice]}, and brought into the pool: “${title}”`, { label: 'Undo', onClick: () => undo(group) })
        },
        onError: tellError,
      },
    )
    const next = seen[index + 1] ?? seen[index - 1]
    if (next) setAt(next.key)
  }
  const bringMany = () =>
    bring.mutate(
      { nodes: chosenNodes.slice(0, BROUGHT) },
      {
        onSuccess: got => {
          setTicked(new Set())
          tell(
            `${got.newWorks} new ${got.newWorks === 1 ? 'work' : 'works'} in the pool, to be sifted${got.known ? `; ${got.known} were there` : ''}.`,
          )
        },
        onError: tellError,
      },
    )
  useKeys({
    next: () => go(1),
    previous: () => go(-1),
    keep: () => decideOn(current, 'keep'),
    aside: () => decideOn(current, 'set aside'),
    later: () => decideOn(current, 'later'),
    undo: () => undo(),
    open: () => current?.shown.work && open(current.shown.work.id),
  })
  const list = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (at === undefined) return
    const el = list.current?.querySelector('[data-current]')
    if (el && 'scrollIntoView' in el) el.scrollIntoView({ block: 'nearest' })
  }, [at])
  const arrival = overview.enough.rounds.some(r => r.brought)

  return (
    <Flex direction="column" minH="0" flex="1">
      <Tabs.Root
        value={tab}
        onValueChange={e => (setTab(e.value as Tab), setMost(AT_FIRST), setAt(undefined))}
        variant="line"
        colorPalette="grape"
        size="sm"
      >
        <Tabs.List gap="0" justifyContent="space-between">
          {TABS.map(t => (
            <Tabs.Trigger key={t.tab} value={t.tab} px="3px" fontSize="13px">
              {t.name}
              {t.tab === 'lack' && overview.lacking.length > 0 && ` ${overview.lacking.length}`}
            </Tabs.Trigger>
          ))}
        </Tabs.List>
      </Tabs.Root>
      {tab !== 'lack' && (
        <Flex mt="8px" align="baseline" gap="8px" fontSize="13px" lineHeight="18px">
          <Box flex="1" minW="0">
            {all ? (
              <b>Of all {kept} kept works</b>
            ) : (
              chosen && (
                <Text truncate title={chosen.title}>
                  Of <b>{chosen.title}</b>
                </Text>
              )
            )}
          </Box>
          <Button size="2xs" variant="ghost" flex="none" onClick={() => setOfAll(!ofAll)}>
            {ofAll ? 'Of the chosen one' : 'Of all kept'}
          </Button>
        </Flex>
      )}
      <Flex mt="6px" align="flex-start" gap="8px">
        <Text flex="1" fontSize="13px" lineHeight="18px" color="soft">
          {all ? about.ofAll : about.said}
        </Text>
        <Button size="2xs" variant="outline" flex="none" aria-expanded={!folded} onClick={() => setFolded(!folded)}>
          Order and limits
        </Button>
      </Flex>
      {!folded && <LimitRow limits={limits} set={setLimits} kinds={kindsOf(rows, overview, shownOf)} />}
      <Box
        ref={list}
        flex="1"
        minH="120px"
        overflow="auto"
        mt="8px"
        borderTop="1px solid"
        borderColor="hair"
        role="list"
        aria-label={about.name}
        tabIndex={0}
      >
        {tab !== 'lack' && rows === undefined ? (
          <Waiting what="Reckoning" />
        ) : !seen.length ? (
          <Nothing
            tab={tab}
            limited={unlimited > 0}
            walked={graph.walks.length > 0}
            lift={() => setLimits(NO_LIMITS)}
          />
        ) : (
          seen.map(l => (
            <ListRow
              key={l.key}
              line={l}
              current={l.key === current?.key && at !== undefined}
              ticked={ticked.has(l.key)}
              mayWrite={mayWrite}
              busy={bring.isPending}
              keys={map}
              tick={on => setTicked(b => withMember(b, l.key, on))}
              go={() => (setAt(l.key), onRow(l.end))}
              decide={choice => (setAt(l.key), decideOn(l, choice))}
              look={() => lookFrom(l.end)}
              open={open}
            />
          ))
        )}
        {lines.length > most && (
          <Button size="xs" variant="ghost" my="8px" onClick={() => setMost(most + 100)}>
            {lines.length - most} more
          </Button>
        )}
      </Box>
      {mayWrite && seen.length > 0 && (
        <Flex pt="8px" gap="8px" align="center" wrap="wrap">
          <Button
            size="xs"
            colorPalette="grape"
            disabled={!chosenNodes.length}
            loading={bring.isPending}
            onClick={bringMany}
          >
            Bring {chosenNodes.length || ''} into the pool
          </Button>
          <Button
            size="xs"
            variant="ghost"
            disabled={!seen.some(l => !l.shown.work)}
            onClick={() =>
              setTicked(new Set(chosenNodes.length ? [] : seen.filter(l => !l.shown.work).map(l => l.key)))
            }
          >
            {chosenNodes.length ? 'Choose none' : 'Choose all shown'}
          </Button>
          {arrival && (
            <chakra.a asChild fontSize="13px" color="vine" ml="auto">
              <Link to={`/inquiries/${inquiry.id}/sift?state=unread&catalogue=${encodeURIComponent(graph.from)}`}>
                Sift what came
              </Link>
            </chakra.a>
          )}
        </Flex>
      )}
    </Flex>
  )
}

const times = (n: number, one: string, many: string) => `${n.toLocaleString('en')} ${n === 1 ? one : many}`
function whyLacking({ citing, fame }: Overview['lacking'][number], kept: number): string {
  const by = `${citing} of your ${kept} cite it`
  return fame === undefined
    ? `${by} · its fame is not known`
    : `${by} · fame explains ${fame < 0.05 ? 'none' : fame.toFixed(1)}`
}
function whyRanked(tab: ListKind, r: Row, all: boolean, kept: number): string {
  const tied = r.tied ? `tied to ${r.tied} of your ${kept}` : ''
  switch (tab) {
    case 'references':
      return all ? `${r.shared} of your ${kept} cite it` : tied
    case 'cited by':
      return all ? `cites ${r.shared} of your ${kept}` : tied
    case 'shared':
      return `${times(r.shared, 'shared reference', 'shared references')} · ${share(r.value)}`
    case 'together':
      return `cited together ${times(r.shared, 'time', 'times')} · ${share(r.value)}`
    default:
      return [`${Math.round(r.value * 100)}% alike`, tied].filter(Boolean).join(' · ')
  }
}
const share = (value: number): string => (value >= 0.01 ? `${Math.round(value * 100)}% of both` : 'under 1% of both')

function limited(list: Line[], { order, which, kind, reach, since }: Limits): Line[] {
  const kept = list.filter(
    ({ shown: s }) =>
      (which === 'all' || (which === 'new') === !s.work) &&
      (!kind || s.kind === kind) &&
      (!reach || s.reach === reach) &&
      (!since || (s.year !== null && s.year >= Number(since))),
  )
  const by: Record<OrderKey, ((l: Line) => number) | undefined> = {
    rank: undefined,
    rate: l => l.shown.perYear ?? -1,
    percentile: l => l.percentile ?? -1,
    new: l => l.shown.year ?? 0,
    old: l => -(l.shown.year ?? 9999),
  }
  const value = by[order]
  return value ? kept.sort((a, b) => value(b) - value(a)) : kept
}

function kindsOf(
  rows: readonly Row[] | undefined,
  overview: Overview,
  shownOf: (end: End) => Shown | undefined,
): string[] {
  const ends = [...(rows ?? []).map(r => r.end), ...overview.lacking.map(l => overview.ends[l.node]!)]
  return [...new Set(ends.flatMap(e => shownOf(e)?.kind ?? []))].sort()
}

function LimitRow({ limits, set, kinds }: { limits: Limits; set: (l: Limits) => void; kinds: readonly string[] }) {
  const choice = (name: string, field: keyof Limits, options: readonly { key: string; name: string }[]) => (
    <chakra.label fontSize="12.5px" color="soft">
      {name}
      <NativeSelect.Root size="xs" mt="2px">
        <NativeSelect.Field
          bg="surface"
          value={limits[field]}
          onChange={e => set({ ...limits, [field]: e.target.value })}
        >
          {options.map(o => (
            <option key={o.key} value={o.key}>
              {o.name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </chakra.label>
  )
  const any = { key: '', name: 'any' }
  const same = (list: readonly string[]) => [any, ...list.map(key => ({ key, name: key }))]
  return (
    <Box display="grid" gridTemplateColumns="1fr 1fr 1fr" gap="6px 10px" mt="8px">
      {choice('Order', 'order', ORDERS)}
      {choice('Show', 'which', WHICH)}
      {choice('Kind', 'kind', same(kinds))}
      {choice('Text', 'reach', same(REACHES))}
      {choice('Since', 'since', [any, ...['2024', '2021', '2016', '2006', '1996'].map(key => ({ key, name: key }))])}
      <Button size="2xs" variant="ghost" alignSelf="end" mb="4px" onClick={() => set(NO_LIMITS)}>
        As it was
      </Button>
    </Box>
  )
}

function Nothing({ tab, limited, walked, lift }: { tab: Tab; limited: boolean; walked: boolean; lift: () => void }) {
  if (limited)
    return (
      <Empty
        title="The limits leave nothing"
        action={
          <Button size="xs" variant="outline" onClick={lift}>
            Lift them
          </Button>
        }
      />
    )
  if (!walked)
    return (
      <Empty title="No trail was walked yet">
        Walk a round: then what your kept works build on, and what builds on them, stands here.
      </Empty>
    )
  return tab === 'lack' ? (
    <Empty title="You lack nothing that stands out">
      No work outside your pool is cited by three of your kept works beyond what its fame explains.
    </Empty>
  ) : (
    <Empty title="Nothing on record">The index knows of none. Its trails may not have been walked yet.</Empty>
  )
}

function ListRow({
  line: { shown: s, why, percentile },
  current,
  ticked,
  mayWrite,
  busy,
  keys,
  tick,
  go,
  decide,
  look,
  open,
}: {
  line: Line
  current: boolean
  ticked: boolean
  mayWrite: boolean
  busy: boolean
  keys: Record<'keep' | 'aside' | 'later', string>
  tick: (on: boolean) => void
  go: () => void
  decide: (choice: Choice) => void
  look: () => void
  open: (work: number) => void
}) {
  const rate =
    s.perYear !== null
      ? `${s.perYear.toFixed(1)} a year`
      : s.citedBy !== null && s.year !== null
        ? 'too new to tell'
        : ''
  return (
    <Flex
      role="listitem"
      data-current={current || undefined}
      gap="10px"
      py="8px"
      px="6px"
      borderBottom="1px solid"
      borderColor="hair2"
      bg={current ? 'grape.soft' : undefined}
      align="flex-start"
    >
      {s.work ? (
        <Box pt="3px">
          <LeafMark state={s.work.state} />
        </Box>
      ) : (
        <Tick voice="grape" label={`Choose: ${s.title}`} checked={ticked} disabled={!mayWrite} set={tick} />
      )}
      <Box flex="1" minW="0">
        <chakra.button
          type="button"
          textAlign="start"
          fontFamily="serif"
          fontWeight="600"
          fontSize="14px"
          lineHeight="19px"
          onClick={go}
          dir="auto"
          cursor="pointer"
        >
          {s.title}
        </chakra.button>
        <Text
          fontSize="12.5px"
          lineHeight="17px"
          color="soft"
          truncate
          title={[s.authors, s.container].filter(Boolean).join(' · ')}
        >
          {[who(s), s.kind, s.container].filter(Boolean).join(' · ')}
        </Text>
        <Text fontSize="12.5px" lineHeight="17px" color="grape">
          {[
            why,
            rate,
            percentile !== null && percentile >= 50 && `above ${Math.round(percentile)}% of its field and year`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </Text>
        {current && (
          <Flex gap="6px" mt="6px" wrap="wrap">
            {mayWrite &&
              (
                [
                  ['keep', 'Keep', keys.keep],
                  ['set aside', 'Set aside', keys.aside],
                  ['later', 'Later', keys.later],
                ] as const
              ).map(([choice, name, key]) => (
                <Button
                  key={choice}
                  size="2xs"
                  variant="outline"
                  bg="surface"
                  disabled={busy}
                  onClick={() => decide(choice)}
                >
                  {name} <Kbd>{keyName(key)}</Kbd>
                </Button>
              ))}
            <Button size="2xs" variant="ghost" onClick={look}>
              Look from here
            </Button>
            {s.work && (
              <Button size="2xs" variant="ghost" onClick={() => open(s.work!.id)}>
                Work sheet
              </Button>
            )}
          </Flex>
        )}
      </Box>
      <Box pt="2px" flex="none">
        <ReachMark reach={s.reach} />
      </Box>
    </Flex>
  )
}
