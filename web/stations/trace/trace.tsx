import { Box, Button, chakra, Flex, Slider, Text } from '@chakra-ui/react'
import { useMemo, useState, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { api, type GraphAnswer } from '../../../core/schema/api'
import type { End } from '../../../core/trails/field-shapes'
import type { Forecast } from '../../../core/trails/rounds'
import { useQuery } from '@tanstack/react-query'
import { ofQuery, useChange, useOf, useWorks } from '../../api/hooks'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { Empty, Failed, tell, tellError, Waiting } from '../../frame/parts'
import { useStrands } from '../../frame/strands'
import { spanOf } from './layout'
import { IsItEnough } from './enough'
import { Lists } from './lists'
import { TABS, type Tab } from './ranking'
import { showing, who } from './naming'
import { PlanDialog, RoundStatus, type Meant } from './round'
import { AsTable } from './as-table'
import { strokeOf, Trellis } from './trellis'
import { useField, useRanked } from './use-field'
import type { Overview } from './field-desk'

/** Trace: what the kept works build on, what builds on them, and what is still lacking. */
export function Trace() {
  const { inquiry, mayWrite } = useHere()
  const works = useWorks(inquiry.id)
  const graph = useQuery({
    ...ofQuery(inquiry.id, api.graph, {}),
    // decisions leave it as it is: thousands of nodes are not compared one by one
    structuralSharing: (had, now) =>
      (had as GraphAnswer | undefined)?.stamp === (now as GraphAnswer).stamp ? had : now,
  })
  const strands = useStrands(inquiry.id)
  const openWork = useOpenWork()
  const [search, setSearch] = useSearchParams()
  const [plan, setPlan] = useState<Meant>()
  const [asTable, setAsTable] = useState(false)
  const [row, setRow] = useState<End>()
  const [zoom, setZoom] = useState<[number, number]>()
  const lines = useMemo(() => new Map((works.data ?? []).map(w => [w.id, w])), [works.data])
  const field = useField(graph.data, works.data, strands, inquiry.today)
  const { overview } = field
  const keptCount = useMemo(() => (works.data ?? []).filter(w => w.state === 'kept').length, [works.data])
  const shownOf = useMemo(
    () => (graph.data ? showing(graph.data, lines, inquiry.today) : () => undefined),
    [graph.data, lines, inquiry.today],
  )

  const tab = (TABS.find(t => t.tab === search.get('list'))?.tab ?? 'lack') satisfies Tab
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
  // a work of the pool stands in the address by its number, a pointer by its own
  const asked = search.get('from')
  const chosen = useMemo(() => {
    if (!overview) return undefined
    const { ends, stems } = overview
    const found = ends.findIndex(e => asked === (e.work === null ? `p${e.node}` : String(e.work)))
    if (found >= 0) return found
    // one in the middle of its field has neighbours on both sides
    const kept = stems.flatMap(s => s.works).sort((a, b) => (ends[a]!.year ?? 0) - (ends[b]!.year ?? 0))
    return kept[kept.length >> 1]
  }, [overview, asked])
  const choose = (at: number) => {
    const end = overview!.ends[at]!
    set('from', end.work !== null ? String(end.work) : `p${end.node}`)
  }
  const references = useRanked(field, 'references', chosen)
  const citedBy = useRanked(field, 'cited by', chosen)
  const rows = useRanked(field, tab === 'lack' ? 'references' : tab, ofAll ? undefined : chosen, tab !== 'lack')
  const forecast = async (trails: number) => (await field.desk?.next(trails)) ?? undefined
  const next = useNext(overview?.of, forecast, keptCount > 0)

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
  if (!keptCount)
    return (
      <Empty
        title="No trails without a kept work"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/sift`}>To Sift</Link>
          </Button>
        }
      >
        A trail leads from a work you kept to what it cites and to what cites it. Keep a work in Sift first.
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
        <Flex align="center" gap="10px" mb="2px">
          <Text flex="1" minW="0" fontSize="13.5px" lineHeight="19px" color="soft">
            <Text as="span" fontWeight="600" color="ink">
              Trellis
            </Text>{' '}
            · {rounds.length ? `round ${rounds.at(-1)!.n}` : 'no round yet'} · {keptCount} kept{' '}
            {keptCount === 1 ? 'work' : 'works'}
            {overview.stems.length > 1 &&
              ` on ${overview.stems.length} ${overview.stems[0]!.strand === null ? 'suggested strands' : 'strands'}`}
            {undated > 0 && ` · ${undated} without a year ${undated === 1 ? 'stands' : 'stand'} in the table`}
          </Text>
          <Button size="xs" variant="ghost" aria-pressed={asTable} onClick={() => setAsTable(!asTable)}>
            {asTable ? 'As the trellis' : 'As a table'}
          </Button>
          {mayWrite && overview.suggested.length > 1 && overview.stems.every(s => s.strand === null) && (
            <TakeStrands overview={overview} />
          )}
          {mayWrite && here?.work && !walked && (
            <Button size="xs" variant="outline" onClick={() => setPlan({ scope: 'work', of: here.work!.id })}>
              Walk this one
            </Button>
          )}
          {mayWrite && (
            <Button
              size="sm"
              colorPalette="grape"
              variant={rounds.length ? 'outline' : 'solid'}
              onClick={() => setPlan({ scope: 'kept' })}
            >
              Walk round {(rounds.at(-1)?.n ?? 0) + 1}
            </Button>
          )}
        </Flex>
        <RoundStatus graph={graph.data} mayWrite={mayWrite} />
        {asTable ? (
          <AsTable overview={overview} shownOf={shownOf} works={lines} choose={choose} chosen={chosen} />
        ) : (
          <>
            <Trellis
              {...naming}
              overview={overview}
              works={lines}
              strands={strands}
              years={years}
              chosen={chosen}
              shown={row && placeOfEnd(overview, row)}
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
        <Lists
          overview={overview}
          graph={graph.data}
          shownOf={shownOf}
          tab={tab}
          setTab={t => (setRow(undefined), set('list', t === 'lack' ? undefined : t))}
          rows={rows}
          chosen={here}
          ofAll={ofAll}
          setOfAll={all => set('of', all ? 'all' : undefined)}
          onRow={setRow}
          chainTo={async end =>
            chosen === undefined ? undefined : await field.desk?.chain(overview.ends[chosen]!, end)
          }
          lookFrom={end => (setRow(undefined), set('from', end.work !== null ? String(end.work) : `p${end.node}`))}
          open={openWork}
          kept={keptCount}
        />
        <Box borderTop="1px solid" borderColor="hair" mt="10px" pt="10px" flex="none">
          <IsItEnough
            walked={graph.data.walks.length > 0}
            enough={overview.enough}
            next={next && rounds.length > 0 ? next : undefined}
          />
        </Box>
      </Flex>
      {plan && (
        <PlanDialog
          meant={plan}
          from={graph.data.from || 'the citation index'}
          strands={strands}
          chosen={here?.work ? { id: here.work.id, title: here.title } : undefined}
          forecast={forecast}
          close={() => setPlan(undefined)}
        />
      )}
    </Flex>
  )
}

const NONE: never[] = []

function placeOfEnd({ ends }: Overview, { work, node }: End): number | undefined {
  const at = ends.findIndex(e => (work !== null ? e.work === work : e.work === null && e.node === node))
  return at < 0 ? undefined : at
}

/** The year before which a quarter of the strokes stand. */
function quarterYear(strokes: readonly { year: number; n: number }[]): number | undefined {
  const sorted = [...strokes].sort((a, b) => a.year - b.year)
  let left = sorted.reduce((sum, s) => sum + s.n, 0) / 4
  return sorted.find(s => (left -= s.n) <= 0)?.year
}

/** Makes strands of the suggested groups, in the student's name. */
function TakeStrands({ overview }: { overview: Overview }) {
  const { inquiry } = useHere()
  const { strand } = useDecide(inquiry.id)
  const make = useChange(inquiry.id, api.addStrand, (body: { name: string }) => ({ body }))
  const take = async () => {
    try {
      for (const s of overview.suggested) {
        const made = await make.mutateAsync({ name: s.name.slice(0, 80) })
        const works = s.works.flatMap(at => overview.ends[at]!.work ?? [])
        if (works.length) strand(works, made, true)
      }
      tell(`${overview.suggested.length} strands taken. Name them anew and move works in Sift.`)
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Button size="xs" variant="outline" loading={make.isPending} onClick={() => void take()}>
      Take these strands
    </Button>
  )
}

/** What the next round over all kept works would bring, by the rounds so far. */
function useNext(
  of: number | undefined,
  forecast: (trails: number) => Promise<{ brought: Forecast; kept: Forecast } | undefined>,
  enabled: boolean,
) {
  const { inquiry } = useHere()
  const plan = useOf(inquiry.id, api.planRound, { query: { scope: 'kept' }, enabled })
  const trails = plan.data?.trails ?? 0
  const hope = useQuery({
    queryKey: ['field', of ?? 0, 'next', trails],
    queryFn: async () => (await forecast(trails)) ?? null,
    enabled: of !== undefined && trails > 0,
    gcTime: 60_000,
  })
  return hope.data && plan.data?.n ? { n: plan.data.n, trails, ...hope.data } : undefined
}

/** Two ends by which the years are narrowed. */
function Years({
  span,
  years,
  set,
}: {
  span: { from: number; to: number }
  years: { from: number; to: number }
  set: (z: [number, number] | undefined) => void
}) {
  return (
    <Slider.Root
      ml="116px"
      mr="14px"
      size="sm"
      colorPalette="grape"
      aria-label={['First year shown', 'Last year shown']}
      min={span.from}
      max={span.to}
      minStepsBetweenThumbs={3}
      value={[Math.max(span.from, years.from), Math.min(span.to, years.to)]}
      onValueChange={({ value: [from, to] }) => set(from === span.from && to === span.to ? undefined : [from!, to!])}
    >
      <Slider.Control>
        <Slider.Track h="3px">
          <Slider.Range />
        </Slider.Track>
        <Slider.Thumbs boxSize="14px" />
      </Slider.Control>
    </Slider.Root>
  )
}

const c = (name: string): string => `var(--chakra-colors-${name})`
function Legend({ each, children }: { each: number; children?: ReactNode }) {
  const bud = (stroke: string, dash?: string) => (
    <svg width="12" height="16" viewBox="-6 -8 12 16" aria-hidden="true">
      <path
        d="M0 -7 C4.6 -3.4 4.6 3.4 0 7 C-4.6 3.4 -4.6 -3.4 0 -7Z"
        fill="none"
        stroke={c(stroke)}
        strokeWidth="1.8"
        strokeDasharray={dash}
      />
    </svg>
  )
  return (
    <Flex gap="6px 16px" wrap="wrap" fontSize="12px" lineHeight="16px" color="soft" pl="116px" mt="4px" align="center">
      {(
        [
          [
            'kept',
            <svg key="k" width="14" height="12" viewBox="0 0 16 12" aria-hidden="true">
              <path d="M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z" fill={c('vine')} />
            </svg>,
          ],
          ['it refers to', bud('grape')],
          ['cites it', bud('vine')],
          ['you lack it', bud('grape', '2.4 1.8')],
          [
            each === 1 ? 'a stroke: a work outside your pool' : `a stroke: up to ${each} works outside your pool`,
            <svg key="s" width="10" height="12" aria-hidden="true">
              <path d="M1 3 h7 M1 7 h7" stroke={c('line')} strokeWidth="1.5" />
            </svg>,
          ],
          [
            'main path',
            <svg key="m" width="20" height="8" aria-hidden="true">
              <path d="M1 4 h18" stroke={c('line')} strokeWidth="4" strokeLinecap="round" opacity=".55" />
            </svg>,
          ],
        ] as const
      ).map(([name, mark]) => (
        <chakra.span key={name} display="inline-flex" alignItems="center" gap="5px">
          {mark} {name}
        </chakra.span>
      ))}
      {children}
    </Flex>
  )
}
