import { Box, Button, Flex, Tabs } from '@chakra-ui/react'
import { DndContext, PointerSensor, useSensor, useSensors, type DragEndEvent } from '@dnd-kit/core'
import { useMemo, useState } from 'react'
import { useSearchParams } from 'react-router'
import { plainCql, printCql } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { emptySheet, ladder, sheetOf, sheetQuery } from '../../../core/query/sheet'
import { useChange, useOf } from '../../api/hooks'
import { api, type Sweep } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, tellError, Waiting } from '../../frame/parts'
import { Imports } from '../imports'
import { Catalogues } from './catalogues'
import { Grid } from './grid'
import { Harvest } from './harvest'
import { Advice } from './advice'
import { Ladder, type Judged } from './ladder'
import { LadderStrip } from './ladder-strip'
import { move, moveRung, withSweep } from './lists'
import { Log, type NamedSweep } from './log'
import { QuestionSheet } from './question-sheet'
import { passes, Records } from './records'
import { Related } from './related'
import { Shares } from './shares'
import { useSheet } from './use-sheet'

/** A query in the order that a sheet gives it, so that two ways of writing the same thing are one. */
function normal(cql: string): string {
  const p = parseCql(cql)
  if (!p.ok) return cql
  let i = 0
  const query = sheetQuery(sheetOf(p.query, emptySheet(), () => String(++i)))
  return query ? printCql(query) : cql
}

/** Rungs from which the ladder takes so much of the page that it folds. */
const FOLDS_FROM = 3

/** Gather: the question sheet at the left, the ladder beside it, and below what was found. */
export function Gather() {
  const { inquiry, jobs, mayWrite } = useHere()
  const { handle, error, again } = useSheet(inquiry.id)
  const sweeps = useOf(inquiry.id, api.sweeps)
  const [params, setParams] = useSearchParams()
  const shown = Number(params.get('sweep')) || undefined
  const harvest = params.get('harvest')
  const [tab, setTab] = useState(harvest === null ? 'records' : 'harvest')
  // it folds of itself when something below is turned to, until it is unfolded by hand
  const [fold, setFold] = useState<'open' | 'folded' | 'kept open'>('open')
  // by keys terms and rungs are moved through their menus and buttons
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const run = useChange(inquiry.id, api.beginSweep, (body: { query: string; catalogues: string[] }) => ({ body }))
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const sheet = handle?.sheet
  const off = useMemo(() => new Set(sheet?.notAsked ?? []), [sheet?.notAsked])
  const on = useMemo(() => inquiry.catalogues.filter(c => !off.has(c.id)).map(c => c.id), [inquiry.catalogues, off])
  const query = useMemo(() => (sheet ? sheetQuery(sheet) : undefined), [sheet])
  const cql = query && printCql(query)
  const list = sweeps.data ?? []
  const now = useMemo(() => cql && normal(cql), [cql])
  const isOfThis = (s: Sweep): boolean => normal(s.cql) === now
  const sweep = list.find(s => s.id === shown) ?? list.find(isOfThis) ?? list[0]
  const ofThis = sweep && isOfThis(sweep) ? sweep : undefined
  const records = useOf(inquiry.id, api.foundRecords, {
    params: { sweep: ofThis?.id ?? 0 },
    enabled: ofThis !== undefined,
  })
  const judged = useMemo((): Judged | undefined => {
    if (!sheet || !ofThis || !records.data) return undefined
    const left: Record<string, number> = {}
    let so: Parameters<typeof passes>[1] = {}
    for (const r of ladder(sheet).filter(x => x.how === 'judged' && x.on)) {
      if (r.id === 'refereed') so = { ...so, refereed: true }
      if (r.id === 'kinds') so = { ...so, kinds: sheet.kinds ?? [] }
      if (r.id === 'abstract') so = { ...so, withAbstract: true }
      if (r.id === 'reach') so = { ...so, withinReach: true }
      left[r.id] = records.data.filter(x => passes(x, so)).length
    }
    return { fetched: records.data.length, left }
  }, [sheet, ofThis, records.data])
  if (error) return <Failed error={error} again={again} />
  if (!handle || !sheet) return <Waiting what="Opening the question sheet" />
  const running = jobs.find(j => j.kind === 'sweep' && (j.state === 'running' || j.state === 'queued'))
  const point = (id: number) => setParams({ sweep: String(id) }, { replace: true })
  const show = (id: number) => {
    point(id)
    setTab('records')
  }
  const sweepFor = (text: string) => {
    // at once: who has gone on to another list by the time it is begun stays there
    setTab('records')
    run.mutate({ query: text, catalogues: on }, { onSuccess: made => point(made.id), onError: tellError })
  }
  const submit = () => {
    if (query && on.length) sweepFor(plainCql(query))
  }
  const drop = ({ active, over }: DragEndEvent) => {
    const what = active.data.current as { term?: string; list?: string; rung?: string; sweep?: NamedSweep } | undefined
    const onto = over?.data.current as { list?: string; rung?: string } | undefined
    if (what?.rung && onto?.rung) handle.edit(s => moveRung(s, what.rung!, onto.rung!))
    else if (what?.term && onto?.list) handle.edit(s => move(s, what.term!, what.list!, onto.list!))
    else if (what?.sweep && onto?.list)
      handle.edit(s => withSweep(s, what.sweep!, onto.list!), `“${what.sweep.name}” stands on the sheet as a term.`)
  }
  const isOn = (id: string): boolean => !sheet.off.includes(id)
  return (
    <DndContext sensors={sensors} onDragEnd={drop}>
      <Flex direction={{ base: 'column', lg: 'row' }} minH="full">
        <Box
          w={{ base: '100%', lg: '420px' }}
          flex="none"
          p="20px"
          // beside a long list the sheet stays where it is, beside a short one it leaves nothing empty
          position={{ lg: 'sticky' }}
          top="0"
          alignSelf={{ lg: 'flex-start' }}
          maxH={{ lg: 'calc(100vh - 84px)' }}
          overflowY={{ lg: 'auto' }}
        >
          <QuestionSheet handle={handle} catalogues={on} run={submit} />
          <Catalogues
            query={cql}
            sheet={sheet}
            sweep={ofThis}
            off={off}
            setOff={next => handle.edit(s => ({ ...s, notAsked: [...next] }))}
          />
        </Box>
        <Box
          flex="1"
          minW="0"
          px="24px"
          py="20px"
          minH={{ lg: 'calc(100vh - 84px)' }}
          borderLeft={{ lg: '1px solid' }}
          borderColor={{ lg: 'hair' }}
        >
          {fold === 'folded' ? (
            <LadderStrip sheet={sheet} catalogues={on} unfold={() => setFold('kept open')} />
          ) : (
            <Ladder handle={handle} catalogues={on} judged={judged} look={sweepFor} fold={() => setFold('folded')} />
          )}
          <Flex mt="10px" gap="12px" align="flex-start" minH="36px">
            <Advice handle={handle} catalogues={on} />
            {running && (
              <Button
                size="sm"
                variant="outline"
                onClick={() => stop.mutate(running.id)}
                disabled={running.cancelAsked}
              >
                {running.cancelAsked ? 'Stopping …' : 'Stop'}
              </Button>
            )}
            {(!ofThis || !list.length) && (
              <Button
                colorPalette="vine"
                size="sm"
                ml="auto"
                flex="none"
                disabled={!mayWrite || !query || !on.length}
                loading={run.isPending}
                onClick={submit}
              >
                Sweep{' '}
                {on.length === inquiry.catalogues.length
                  ? 'all catalogues'
                  : `${on.length} ${on.length === 1 ? 'catalogue' : 'catalogues'}`}
              </Button>
            )}
          </Flex>
          <Tabs.Root
            value={tab}
            onValueChange={e => {
              setTab(e.value)
              if (fold === 'open' && ladder(sheet).length >= FOLDS_FROM) setFold('folded')
            }}
            variant="line"
            colorPalette="vine"
            size="sm"
            lazyMount
            mt="6px"
          >
            <Tabs.List>
              <Tabs.Trigger value="records">Records</Tabs.Trigger>
              <Tabs.Trigger value="grid">Grid</Tabs.Trigger>
              <Tabs.Trigger value="related">Related words</Tabs.Trigger>
              <Tabs.Trigger value="harvest">Harvest</Tabs.Trigger>
              <Tabs.Trigger value="shares">What each catalogue adds</Tabs.Trigger>
              <Tabs.Trigger value="log">Log {list.length || ''}</Tabs.Trigger>
              <Tabs.Trigger value="files">Your own files</Tabs.Trigger>
            </Tabs.List>
            <Tabs.Content value="records" pt="10px">
              {sweeps.isPending ? (
                <Waiting />
              ) : sweep ? (
                <Records
                  key={sweep.id}
                  sweep={sweep}
                  isApart={!ofThis}
                  limits={{
                    ...(isOn('refereed') && sheet.refereed ? { refereed: true } : {}),
                    ...(isOn('kinds') && sheet.kinds ? { kinds: sheet.kinds } : {}),
                    ...(isOn('abstract') && sheet.withAbstract ? { withAbstract: true } : {}),
                    ...(isOn('reach') && sheet.withinReach ? { withinReach: true } : {}),
                  }}
                />
              ) : (
                <Empty title="No sweep yet">
                  Put the words of your question on the sheet at the left; the ladder counts before you commit. A sweep
                  then fetches the records. Each catalogue answers in its own time; nothing enters your pool until you
                  bring it in.
                </Empty>
              )}
            </Tabs.Content>
            <Tabs.Content value="grid" pt="14px">
              <Grid handle={handle} catalogues={on} />
            </Tabs.Content>
            <Tabs.Content value="related" pt="14px">
              <Related handle={handle} catalogues={on} />
            </Tabs.Content>
            <Tabs.Content value="harvest" pt="14px">
              <Harvest handle={handle} catalogues={on} first={harvest ?? ''} />
            </Tabs.Content>
            <Tabs.Content value="shares" pt="10px">
              <Shares />
            </Tabs.Content>
            <Tabs.Content value="log" pt="6px">
              <Log sweeps={list} current={sweep?.id} show={show} handle={handle} />
            </Tabs.Content>
            <Tabs.Content value="files" pt="14px">
              <Imports />
            </Tabs.Content>
          </Tabs.Root>
        </Box>
      </Flex>
    </DndContext>
  )
}
