import { Box, Button, Flex, Tabs, Text } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import type { GraphAnswer } from '../../../core/schema/api'
import type { End } from '../../../core/trails/field-shapes'
import { Waiting } from '../../frame/parts'
import type { Overview, Row } from './field-desk'
import { LimitRow, Nothing } from './list-parts'
import { kindsOf, limited, NO_LIMITS, TABS, whyLacking, whyRanked, type Line, type Tab } from './ranking'
import { Rows, type RowActs } from './rows'

/** The ranked lists beside the trellis; what is in them is decided on here, by the keys of Sift. */
export function Lists({
  overview,
  graph,
  tab,
  setTab,
  rows,
  ofAll,
  setOfAll,
  sift,
  acts,
  kept,
}: {
  overview: Overview
  graph: GraphAnswer
  tab: Tab
  setTab: (tab: Tab) => void
  /** Of the chosen list; undefined while it is reckoned. */
  rows: readonly Row[] | undefined
  ofAll: boolean
  setOfAll: (all: boolean) => void
  sift: string | undefined
  acts: RowActs
  kept: number
}) {
  const [limits, setLimits] = useState(NO_LIMITS)
  const [folded, setFolded] = useState(true)
  const about = TABS.find(t => t.tab === tab)!
  const all = ofAll || tab === 'lack'
  const { shownOf, chosen } = acts

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

  return (
    <Tabs.Root
      value={tab}
      onValueChange={e => setTab(e.value as Tab)}
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
        <Rows
          key={tab}
          name={about.name}
          lines={lines}
          empty={
            tab !== 'lack' && rows === undefined ? (
              <Waiting what="Reckoning" />
            ) : (
              <Nothing
                tab={tab}
                limited={unlimited > 0}
                walked={graph.walks.length > 0}
                lift={() => setLimits(NO_LIMITS)}
              />
            )
          }
          sift={sift}
          acts={acts}
        />
      </Tabs.Content>
    </Tabs.Root>
  )
}
