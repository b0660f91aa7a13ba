import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useMemo, useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { api, type GraphAnswer } from '../../../core/schema/api'
import type { End } from '../../../core/trails/field-shapes'
import { useQuery } from '@tanstack/react-query'
import { ofQuery, useOf, useWorks } from '../../api/hooks'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { useStrands } from '../../frame/strands'
import { quarterYear, spanOf } from './layout'
import { IsItEnough } from './enough'
import { ListPage } from './list-page'
import { Lists } from './lists'
import { TABS, type Tab } from './ranking'
import { showing, who } from './naming'
import { PlanDialog, RoundStatus, type Meant } from './round'
import type { RowActs } from './rows'
import { SaveTrails } from './save'
import { StandingTrails, stillOutside } from './standing-trails'
import { TakeList } from './take-list'
import { Apart } from './apart'
import { AsTable } from './as-table'
import { strokeOf, Trellis } from './trellis'
import { Legend, TakeStrands, Years } from './trellis-parts'
import { useField, useForecast, useRanked } from './use-field'
import { placeAmong } from './field-desk'

/** Trace: what the kept works build on, what builds on them, and what is still lacking. */
export function Trace() {
  const { inquiry, mayWrite } = useHere()
  const works = useWorks(inquiry.id)
  const drawing = useRef<SVGSVGElement>(null)
  const graph = useQuery({
    ...ofQuery(inquiry.id, api.graph, {}),
    // decisions leave it as it is: thousands of nodes are not compared one by one
    structuralSharing: (had, now) =>
      (had as GraphAnswer | undefined)?.stamp === (now as GraphAnswer).stamp ? had : now,
  })
  const strands = useStrands(inquiry.id)
  const openWork = useOpenWork()
  const [search, setSearch] = useSearchParams()
  const [meant, setMeant] = useState<Meant>()
  const [asTable, setAsTable] = useState(false)
  const [row, setRow] = useState<End>()
  const [taking, setTaking] = useState(false)
  const [zoom, setZoom] = useState<[number, number]>()
  const lines = useMemo(() => new Map((works.data ?? []).map(w => [w.id, w])), [works.data])
  const field = useField(graph.data, works.data, strands, inquiry.today)
  const { overview } = field
  const keptWorks = useMemo(() => (works.data ?? []).filter(w => w.state === 'kept'), [works.data])
  const keptCount = keptWorks.length
  const shownOf = useMemo(
    () => (graph.data ? showing(graph.data, lines, inquiry.today) : () => undefined),
    [graph.data, lines, inquiry.today],
  )

  const tab = (TABS.find(t => t.tab === search.get('list'))?.tab ?? 'lack') satisfies Tab
  const showsNews = search.get('list') === 'new'
  const showsApart = search.get('list') === 'apart'
  const news = useOf(inquiry.id, api.trailNews, { enabled: keptCount > 0 })
  const ofAll = search.get('of') === 'all'
  const set = (name: string, value: string | undefined) =>
    setSearch(
      p => {
        if (value) p.set(name, value)
        else p.delete(name)
        return p
      },
      { replace: true },
    )
  const asked = search.get('from')
  const chosen = useMemo(() => {
    if (!overview) return undefined
    const { ends, stems } = overview
    const found = ends.findIndex(e => asked === addressOf(e))
    if (found >= 0) return found
    // one in the middle of its field has neighbours on both sides
    const kept = stems.flatMap(s => s.works).sort((a, b) => (ends[a]!.year ?? 0) - (ends[b]!.year ?? 0))
    return kept[kept.length >> 1]
  }, [overview, asked])
  const choose = (at: number) => {
    set('from', addressOf(overview!.ends[at]!))
  }
  const references = useRanked(field, 'references', chosen)
  const citedBy = useRanked(field, 'cited by', chosen)
  const rows = useRanked(field, tab === 'lack' ? 'references' : tab, ofAll ? undefined : chosen, tab !== 'lack')
  const plan = useOf(inquiry.id, api.planRound, { query: { scope: 'kept' }, enabled: keptCount > 0 })
  const hope = useForecast(field, plan.data?.trails ?? 0)

  const span = useMemo(() => {
    const years = overview?.stems.flatMap(s => s.works.map(at => overview.ends[at]!.year ?? 0)) ?? []
    const named = overview?.lacking.slice(0, 5).map(l => overview.ends[l.node]!.year ?? 0) ?? []
    // a few old neighbours would push everything else to the right: they are told at the edge
    const old = overview && quarterYear(overview.strokes)
    return spanOf([...years, ...named, ...(old ? [old] : [])], Number(inquiry.today.slice(0, 4)))
  }, [overview, inquiry.today])
  const years = useMemo(() => (zoom ? { from: zoom[0], to: zoom[1] } : span), [zoom, span])

  if (works.isPending || graph.isPending) return <Waiting what="Opening the trails" />
  if (works.isError) return <Failed error={works.error} again={() => void works.refetch()} />
  if (graph.isError) return <Failed error={graph.error} again={() => void graph.refetch()} />
  const dialog = taking && (
    <TakeList
      kept={keptWorks}
      open={id => (setTaking(false), set('entries', String(id)))}
      close={() => setTaking(false)}
    />
  )
  const entriesOf = Number(search.get('entries') ?? 0)
  if (entriesOf)
    return (
      <ListPage
        key={entriesOf}
        id={entriesOf}
        works={lines}
        from={graph.data.from || 'the citation index'}
        citing={node => {
          const found = overview?.lacking.find(l => overview.ends[l.node]!.node === node)
          return found ? `${found.citing} of your ${keptCount} cite it` : ''
        }}
        back={() => set('entries', undefined)}
      />
    )
  if (!keptCount)
    return (
      <Empty
        title="No trails without a kept work"
        action={
          <Flex gap="10px">
            <Button asChild colorPalette="vine" size="sm">
              <Link to={`/inquiries/${inquiry.id}/sift`}>To Sift</Link>
            </Button>
            <Button size="sm" variant="outline" onClick={() => setTaking(true)}>
              A list of references
            </Button>
          </Flex>
        }
      >
        A trail leads from a work you kept to what it cites and to what cites it. Keep a work in Sift first, or paste a
        list of references and find its works.
        {dialog}
      </Empty>
    )
  if (field.failed) return <Failed error={new Error('The trails could not be reckoned in this browser.')} />
  if (!overview) return <Waiting what="Reckoning the trails" />
  const here = chosen === undefined ? undefined : shownOf(overview.ends[chosen]!)
  const rounds = graph.data.rounds.filter(r => r.n !== null)
  const undated = overview.stems.flatMap(s => s.works).filter(at => !overview.ends[at]!.year).length
  const name = (at: number) => shownOf(overview.ends[at]!)
  const naming = {
    title: (at: number) => name(at)?.title ?? '',
    who: (at: number) => (name(at) ? who(name(at)!) : ''),
  }
  const openAt = (at: number) => {
    const { work } = overview.ends[at]!
    if (work !== null) openWork(work)
  }
  const walked = here?.work && graph.data.walks.some(w => graph.data.nodes[w.node]!.work === here.work!.id)
  const each = strokeOf(overview.strokes)
  const metIn = new Map(graph.data.nodes.map(x => [x.id, x.round]))
  const lackingOf = (round: number) =>
    overview.lacking.filter(l => metIn.get(overview.ends[l.node]!.node ?? 0) === round).length
  const fresh = stillOutside(news.data, graph.data)
  const whose = { strands, chosen: here?.work ? { id: here.work.id, title: here.title } : undefined }
  const sift = overview.enough.rounds.some(r => r.brought)
    ? `/inquiries/${inquiry.id}/sift?state=unread&catalogue=${encodeURIComponent(graph.data.from)}`
    : undefined
  const acts: RowActs = {
    shownOf,
    chosen: here,
    onRow: setRow,
    chainTo: async end => (chosen === undefined ? undefined : await field.desk?.chain(overview.ends[chosen]!, end)),
    lookFrom: end => (setRow(undefined), set('from', addressOf(end))),
    open: openWork,
  }
  return (
    <Flex direction={{ base: 'column', lg: 'row' }} h={{ lg: 'full' }}>
      <Flex
        direction="column"
        flex={{ base: 'none', lg: '1' }}
        minW="0"
        px={{ base: '12px', lg: '20px' }}
        pt="10px"
        pb="8px"
        h={{ base: '640px', lg: '100%' }}
      >
        <Flex align="center" gap={{ base: '4px', lg: '10px' }} mb="2px" wrap={{ base: 'wrap', lg: 'nowrap' }}>
          <Text flex={{ base: '1 0 100%', lg: '1' }} minW="0" fontSize="13.5px" lineHeight="19px" color="soft">
            <Text as="span" fontWeight="600" color="ink">
              Trellis
            </Text>{' '}
            · {rounds.length ? `round ${rounds.at(-1)!.n}` : 'no round yet'} · {keptCount} kept{' '}
            {keptCount === 1 ? 'work' : 'works'}
            {overview.stems.length > 1 &&
              ` on ${overview.stems.length} ${overview.stems[0]!.strand === null ? 'suggested strands' : 'strands'}`}
            {undated > 0 && ` · ${undated} without a year ${undated === 1 ? 'stands' : 'stand'} in the table`}
          </Text>
          <Button size="xs" variant="ghost" onClick={() => setTaking(true)}>
            Lists
          </Button>
          <Button
            size="xs"
            variant="ghost"
            aria-pressed={showsNews}
            onClick={() => (setRow(undefined), set('list', showsNews ? undefined : 'new'))}
          >
            Standing trails
            {fresh > 0 && (
              <chakra.b color="grape" aria-label={`${fresh} new`}>
                {fresh}
              </chakra.b>
            )}
          </Button>
          <Button size="xs" variant="ghost" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? 'As the trellis' : 'As a table'}
          </Button>
          <SaveTrails drawing={drawing} isDrawn={!asTable} />
          {mayWrite && overview.suggested.length > 1 && overview.stems.every(s => s.strand === null) && (
            <TakeStrands overview={overview} />
          )}
          {mayWrite && here?.work && !walked && (
            <Button size="xs" variant="outline" onClick={() => setMeant({ scope: 'work', of: here.work!.id })}>
              Walk this one
            </Button>
          )}
          {mayWrite && (
            <Button
              size="sm"
              colorPalette="grape"
              variant={rounds.length ? 'outline' : 'solid'}
              onClick={() => setMeant({ scope: 'kept' })}
            >
              Walk round {(rounds.at(-1)?.n ?? 0) + 1}
            </Button>
          )}
        </Flex>
        <RoundStatus rounds={graph.data.rounds} lackingOf={lackingOf} />
        {asTable ? (
          <AsTable overview={overview} shownOf={shownOf} works={lines} choose={choose} chosen={chosen} />
        ) : (
          <>
            <Trellis
              drawing={drawing}
              {...naming}
              overview={overview}
              works={lines}
              strands={strands}
              years={years}
              chosen={chosen}
              shown={row && placeAmong(overview.ends, row)}
              references={references ?? NONE}
              citedBy={citedBy ?? NONE}
              choose={choose}
              open={openAt}
            />
            <Years span={span} years={years} set={setZoom} />
            <Legend each={each}>
              {zoom && (
                <Button size="2xs" variant="ghost" ml="auto" onClick={() => setZoom(undefined)}>
                  All years
                </Button>
              )}
            </Legend>
          </>
        )}
      </Flex>
      <Flex
        direction="column"
        w={{ base: '100%', lg: '420px' }}
        flex="none"
        minH="0"
        h={{ base: '900px', lg: '100%' }}
        borderLeft="1px solid"
        borderColor="hair"
        px="20px"
        pt="8px"
        pb="12px"
        bg="surface"
      >
        {showsNews ? (
          <StandingTrails
            graph={graph.data}
            whose={whose}
            titleOf={id => lines.get(id)?.title}
            sift={sift}
            acts={acts}
            back={() => (setRow(undefined), set('list', undefined))}
          />
        ) : showsApart ? (
          <Apart overview={overview} sift={sift} acts={acts} back={() => (setRow(undefined), set('list', undefined))} />
        ) : (
          <Lists
            overview={overview}
            graph={graph.data}
            tab={tab}
            setTab={t => (setRow(undefined), set('list', t === 'lack' ? undefined : t))}
            rows={rows}
            ofAll={ofAll}
            setOfAll={all => set('of', all ? 'all' : undefined)}
            sift={sift}
            acts={acts}
            kept={keptCount}
          />
        )}
        {!showsNews && !showsApart && (
          <Box borderTop="1px solid" borderColor="hair" mt="10px" pt="10px" flex="none">
            <IsItEnough
              walked={graph.data.walks.length > 0}
              missed={keptWorks.filter(w => !w.sweeps.length).length}
              enough={overview.enough}
              next={hope && plan.data?.n && rounds.length > 0 ? { n: plan.data.n, ...hope } : undefined}
            />
          </Box>
        )}
      </Flex>
      {dialog}
      {meant && (
        <PlanDialog
          meant={meant}
          from={graph.data.from || 'the citation index'}
          whose={whose}
          field={field}
          close={() => setMeant(undefined)}
        />
      )}
    </Flex>
  )
}

const NONE: never[] = []

/** How a work stands in the address: one of the pool by its number, a pointer by its own. */
const addressOf = ({ work, node }: End): string => (work === null ? `p${node}` : String(work))
