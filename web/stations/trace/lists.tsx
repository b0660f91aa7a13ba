import { Box, Button, chakra, Flex, Tabs, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import type { GraphAnswer } from '../../../core/schema/api'
import type { Choice } from '../../../core/sift/decisions'
import type { End } from '../../../core/trails/field-shapes'
import { useHere } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { Waiting, withMember } from '../../frame/parts'
import type { Link as ChainLink, Overview, Row } from './field-desk'
import { LimitRow, Nothing } from './list-parts'
import { ListRow } from './list-row'
import { who, type Shown } from './naming'
import { useBring } from './use-bring'
import { kindsOf, limited, NO_LIMITS, TABS, whyLacking, whyRanked, type Line, type Tab } from './ranking'

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
  chainTo,
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
  /** A shortest chain of citations from the chosen work; undefined where none is known. */
  chainTo: (end: End) => Promise<ChainLink[] | undefined>
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
  const [chain, setChain] = useState<{ key: string; said: string }>()
  const bring = useBring()
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
    const name = (end: End) => {
      const s = shownOf(end)
      return s ? `${who(s)}, “${s.title}”` : 'a work'
    }
    const said = links?.length
      ? `${chosen ? who(chosen) : 'It'} ${links.map(({ end, by }) => `${by} ${name(end)}`).join(', which ')}.`
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
  const arrival = overview.enough.rounds.some(r => r.brought)

  return (
    <Tabs.Root
      value={tab}
      onValueChange={e => {
        setTab(e.value as Tab)
        setMost(AT_FIRST)
        setAt(undefined)
      }}
      variant="line"
      colorPalette="grape"
      size="sm"
      display="flex"
      flexDirection="column"
      minH="0"
      flex="1"
    >
      <Tabs.List gap="0" justifyContent="space-between">
        {TABS.map(t => (
          <Tabs.Trigger key={t.tab} value={t.tab} px="3px" fontSize="13px">
            {t.name}
            {t.tab === 'lack' && overview.lacking.length > 0 && ` ${overview.lacking.length}`}
          </Tabs.Trigger>
        ))}
      </Tabs.List>
      <Tabs.Content value={tab} p="0" display="flex" flexDirection="column" minH="0" flex="1">
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
        <Box ref={list} flex="1" minH="120px" overflow="auto" mt="8px" borderTop="1px solid" borderColor="hair">
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
            <div role="list" aria-label={about.name} tabIndex={0}>
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
        {mayWrite && seen.length > 0 && (
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
      </Tabs.Content>
    </Tabs.Root>
  )
}
