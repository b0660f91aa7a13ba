import { api } from '../../../core/schema/api'
import { Box, Button, Flex, NativeSelect, Tabs } from '@chakra-ui/react'
import { createContext, lazy, Suspense, useContext, useMemo, useState, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Query, QueryNode } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { joined, placesWith, STANDING, type PoolIndex } from '../../../core/sift/limits'
import { placeOf } from '../../../core/sift/line'
import type { Described } from '../../../core/sift/order'
import { useOf, useWorks } from '../../api/hooks'
import { usePool } from '../../api/pool-store'
import type { WorkLine } from '../../../core/sift/line'
import { useHere } from '../../frame/inquiry-frame'
import { keyName, useKeyMap, useKeys, type Action } from '../../frame/keys'
import { Empty, Failed, Kbd, Waiting } from '../../frame/parts'
import { useStable } from '../../frame/use-stable'
import { Counts, PoolNow } from './counts'
import { FlowView } from './flow'
import { HistoryView } from './history'
import { useChecks } from './left'
import { LimitBar } from './limits'
import { useCopyWords } from './use-copy-words'
import { DenseList } from './list'
import { Misfits } from './misfits'
import { OneAtATime } from './one'
import { StrandsBoard } from './strands'
import { Titles } from './titles'
import { TwinsView } from './twins'
import { useLimits } from './use-limits'
import { Citations } from './citations'
import { inOrder, ORDERS, useReadingOrder, type OrderKey } from './use-order'

const FieldView = lazy(() => import('./field').then(m => ({ default: m.FieldView })))

const VIEWS = ['titles', 'abstracts', 'list', 'strands', 'twins', 'field', 'flow', 'history'] as const
/** Views of the pool within its limits; the others speak of all of it. */
const LIMITED: readonly string[] = ['titles', 'abstracts', 'list', 'strands', 'field']
/** Views that stand in the order of reading. */
const ORDERED: readonly string[] = ['titles', 'abstracts', 'list']
type View = (typeof VIEWS)[number]
const STORE = 'vine-path order of reading'
const n = (x: number) => x.toLocaleString('en')

/**
 * Sift in passes: titles fast, abstracts one at a time; all as a list; strands; pairs in doubt; what there is and was
 * done.
 */
export function Sift() {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id)
  const pool = usePool(inquiry.id)
  if (works.isPending) return <Waiting what="Opening the pool" />
  if (works.isError) return <Failed error={works.error} again={() => void works.refetch()} />
  if (!works.data.length) {
    return (
      <Empty
        title="The pool is empty"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/gather`}>To Gather</Link>
          </Button>
        }
      >
        Works come here from Gather: sweep the catalogues or bring your own files, then decide on them one at a time.
      </Empty>
    )
  }
  return pool && <Passes pool={pool} />
}

function Passes({ pool: bare }: { pool: PoolIndex<WorkLine> }) {
  const { inquiry, mayWrite } = useHere()
  const query = useMemo(() => {
    const p = inquiry.query ? parseCql(inquiry.query) : undefined
    return p?.ok ? p.query : undefined
  }, [inquiry.query])
  const handle = useLimits()
  const { limits, words, any } = handle
  const { pool, copies } = useCopyWords(inquiry.id, bare, limits.text, query)
  const { works, members, standing } = pool
  const [params, setParams] = useSearchParams()
  const given = params.get('view') as View
  const view: View = VIEWS.includes(given) ? given : 'abstracts'
  const show = (v: View) =>
    setParams(
      p => {
        if (v === 'abstracts') p.delete('view')
        else p.set('view', v)
        return p
      },
      { replace: true, flushSync: true },
    )
  const twins = useOf(inquiry.id, api.twins)
  const [order, setOrder] = useState<OrderKey>(() => {
    const kept = localStorage.getItem(STORE)
    return ORDERS.find(o => o.key === kept)?.key ?? 'likely'
  })
  const asked = useMemo<Described>(
    () => ({ title: inquiry.question, keywords: query ? wordsOf(query) : [] }),
    [inquiry.question, query],
  )
  const reading = useReadingOrder(inquiry.id, pool, asked, order === 'likely')
  // asked once, whether answered or not: a check that cannot be read holds nobody up
  const { data: checks, isFetched: checked } = useChecks(inquiry.id)
  // in the list the learned order stands as it was when the list was opened: nothing moves under the pointer
  const stamp = `${view} ${order} ${works.length} ${reading.ranked !== undefined}`
  const [held, setHeld] = useState({ stamp, ranked: reading.ranked })
  if (held.stamp !== stamp) setHeld({ stamp, ranked: reading.ranked })
  const learned = order !== 'likely' ? undefined : view === 'list' ? held.ranked : reading.ranked
  const ordered = useMemo(() => inOrder(members, order, learned), [members, order, learned])
  const barred = useMemo(
    () =>
      // the passes have their own states
      any ? pool.barred(view === 'list' || view === 'field' ? limits : { ...limits, state: [] }, words) : undefined,
    [pool, limits, words, any, view],
  )
  // of a hundred thousand works only numbers are looked at with each decision: places in the pool, in the order of
  // reading
  const rows = useMemo(() => (barred ? placesWith(ordered, barred, 0) : ordered), [ordered, barred])
  const byTitle = useMemo(() => {
    const unread = placesWith(rows, standing, STANDING.UNREAD)
    // what a check drew is decided first, in the order drawn, whatever the limits
    const open = checks?.checks.find(c => c.mostLeft === null)
    if (!open) return unread
    const first = open.drawn.map(id => placeOf(members, id)).filter(at => standing[at] === STANDING.UNREAD)
    const drawn = new Set(first)
    return joined(
      first,
      unread.filter(at => !drawn.has(at)),
    )
  }, [members, standing, rows, checks])
  const described = useMemo(() => Uint8Array.from(works, w => (w.hasAbstract ? 1 : 0)), [works])
  const checking = checks?.checks.some(c => c.mostLeft === null) ?? false
  // what was kept by its title comes before what nobody has looked at, and what has an abstract before what has none
  const byAbstract = useMemo(() => {
    const first = (places: Uint32Array) => joined(placesWith(places, described, 1), placesWith(places, described, 0))
    const kept = placesWith(rows, standing, STANDING.KEPT_BY_TITLE)
    return joined(first(kept), checking ? byTitle : first(byTitle))
  }, [standing, rows, byTitle, described, checking])
  const lines = useMemo(
    () => (view === 'strands' || view === 'field' ? Array.from(rows, at => works[at]!) : []),
    [view, rows, works],
  )
  const stateCounts = useMemo(
    () => new Map(view === 'list' ? pool.counts('state', limits, words).map(c => [c.value, c.works]) : []),
    [pool, limits, words, view],
  )
  useKeys({ list: () => show(view === 'list' ? 'abstracts' : 'list') })
  const pairs = twins.data?.length ?? 0
  const left =
    view === 'titles'
      ? byTitle.length
      : view === 'abstracts'
        ? byAbstract.length
        : tally(
            rows.map(at => standing[at]!),
            COUNTED[view],
          )
  const total = any ? tally(standing, COUNTED[view]) : left
  const counts = useMemo(
    () => ({ titles: byTitle.length, abstracts: byAbstract.length, left, total, what: CALLED[view] ?? 'works' }),
    [byTitle.length, byAbstract.length, left, total, view],
  )
  const waiting = !checked || (!reading.ready && order === 'likely') || copies.isPending
  const shown = useStable(show)
  // drawn once for each view: with a decision only its counts and what stands within it move
  const shell = useMemo(
    () => (
      <Tabs.Root
        value={view}
        onValueChange={e => shown(e.value as View)}
        variant="line"
        size="sm"
        activationMode="manual"
        display="flex"
        flexDirection="column"
        h={{ md: 'full' }}
        minH="0"
      >
        <Flex
          align="center"
          px={{ base: '8px', md: '20px' }}
          gap="12px"
          borderBottom="1px solid"
          borderColor="hair"
          flex="none"
          wrap="wrap"
        >
          <Tabs.List
            colorPalette="vine"
            borderBottom="none"
            maxW="full"
            overflowX={{ base: 'auto', lg: 'visible' }}
            css={{ '& > button': { flex: 'none', whiteSpace: 'nowrap', paddingInline: '10px' } }}
          >
            <Tabs.Trigger value="titles">
              By title <CountOf which="titles" />
            </Tabs.Trigger>
            <Tabs.Trigger value="abstracts">
              By abstract <CountOf which="abstracts" />
            </Tabs.Trigger>
            <Tabs.Trigger value="list">
              All as a list <KeyOf action="list" />
            </Tabs.Trigger>
            <Tabs.Trigger value="strands">Strands</Tabs.Trigger>
            <Tabs.Trigger value="twins">One or two works? {pairs ? n(pairs) : ''}</Tabs.Trigger>
            <Tabs.Trigger value="field">Field</Tabs.Trigger>
            <Tabs.Trigger value="flow">Flow</Tabs.Trigger>
            <Tabs.Trigger value="history">History</Tabs.Trigger>
          </Tabs.List>
          <Box flex="1" />
          {ORDERED.includes(view) && (
            <NativeSelect.Root size="xs" w="158px" display={{ base: 'none', md: 'block' }}>
              <NativeSelect.Field
                value={order}
                onChange={e => {
                  setOrder(e.target.value as OrderKey)
                  localStorage.setItem(STORE, e.target.value)
                }}
                aria-label="Order of reading"
                bg="surface"
              >
                {ORDERS.map(o => (
                  <option key={o.key} value={o.key}>
                    {o.name}
                  </option>
                ))}
              </NativeSelect.Field>
              <NativeSelect.Indicator />
            </NativeSelect.Root>
          )}
        </Flex>
        <Tabs.Content
          value={view}
          flex="1"
          minH="0"
          p="0"
          display="flex"
          flexDirection="column"
          _focusVisible={{ outlineOffset: '-2px' }}
        >
          <WithinShell />
        </Tabs.Content>
      </Tabs.Root>
    ),
    [view, order, pairs, shown],
  )
  return (
    <PoolNow value={pool}>
      <Counts value={counts}>
        <Within
          value={
            <>
              {LIMITED.includes(view) && <LimitBar handle={handle} copies={copies} />}
              {order === 'cited' && ORDERED.includes(view) && <Citations works={works} />}
              {(view === 'titles' || view === 'list') && <Misfits rows={rows} works={works} />}
              <div style={{ flex: 1, minHeight: 0 }}>
                {waiting && ORDERED.includes(view) ? (
                  <Waiting what={copies.isPending ? 'Looking in your copies' : 'Putting the works in order'} />
                ) : view === 'titles' ? (
                  <Titles
                    key={JSON.stringify([order, limits, words, checks?.checks.find(k => k.mostLeft === null)?.id])}
                    works={works}
                    queue={byTitle}
                    query={query?.root}
                    mayWrite={mayWrite}
                  />
                ) : (
                  view === 'abstracts' && (
                    <OneAtATime
                      works={works}
                      standing={standing}
                      queue={byAbstract}
                      order={reading}
                      learned={order === 'likely'}
                      query={query?.root}
                      mayWrite={mayWrite}
                    />
                  )
                )}
                {view === 'list' && (
                  <DenseList
                    works={works}
                    places={rows}
                    stateCounts={stateCounts}
                    handle={handle}
                    query={query?.root}
                    mayWrite={mayWrite}
                  />
                )}
                {view === 'strands' && <StrandsBoard works={lines} />}
                {view === 'twins' && <TwinsView />}
                {view === 'field' && (
                  <Suspense fallback={<Waiting what="Drawing the field" />}>
                    <FieldView works={lines} handle={handle} />
                  </Suspense>
                )}
                {view === 'flow' && <FlowView />}
                {view === 'history' && <HistoryView />}
              </div>
            </>
          }
        >
          {shell}
        </Within>
      </Counts>
    </PoolNow>
  )
}

function KeyOf({ action }: { action: Action }) {
  return <Kbd>{keyName(useKeyMap()[action])}</Kbd>
}
const Within = createContext<ReactNode>(null)
function WithinShell() {
  return useContext(Within)
}
function CountOf({ which }: { which: 'titles' | 'abstracts' }) {
  return n(useContext(Counts)[which])
}

const CALLED: Partial<Record<View, string>> = { titles: 'to decide', abstracts: 'to decide', strands: 'kept' }

/** The standings of the works that a view is about. */
const COUNTED: Partial<Record<View, readonly number[]>> = {
  titles: [STANDING.UNREAD],
  abstracts: [STANDING.UNREAD, STANDING.KEPT_BY_TITLE],
  strands: [STANDING.KEPT_BY_TITLE, STANDING.KEPT],
}

/** How many are of the standings that are named; all of them where none is. */
function tally(standings: Iterable<number>, of: readonly number[] | undefined): number {
  let n = 0
  for (const s of standings) if (!of || of.includes(s)) n++
  return n
}

/** The terms of a query that are asked for, as plain words. */
function wordsOf(query: Query): string[] {
  const out: string[] = []
  const walk = (node: QueryNode): void => {
    if (node.kind === 'boolean') {
      walk(node.left)
      if (node.op !== 'not') walk(node.right)
    } else if (!/^(year|language|type)$/.test(node.index ?? '')) out.push(node.term.replace(/[*?]/g, ' '))
  }
  walk(query.root)
  return out
}
