import { Box, Button, Flex, NativeSelect, Tabs } from '@chakra-ui/react'
import { useMemo, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import type { Query, QueryNode } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import type { Described } from '../../../core/sift/order'
import { useOf } from '../../api/hooks'
import type { WorkLine } from '../../api/types'
import { useHere } from '../../frame/inquiry-frame'
import { keyMap, keyName, useKeys } from '../../frame/keys'
import { Empty, Failed, Kbd, Waiting } from '../../frame/parts'
import { FlowView } from './flow'
import { useChecks } from './left'
import { DenseList } from './list'
import { OneAtATime } from './one'
import { Titles } from './titles'
import { TwinsView, type Twins } from './twins'
import { inOrder, ORDERS, useReadingOrder, type OrderKey } from './use-order'

const VIEWS = ['titles', 'abstracts', 'list', 'twins', 'flow'] as const
type View = (typeof VIEWS)[number]
const STORE = 'vine-path order of reading'
const n = (x: number) => x.toLocaleString('en')

/** Sift in passes: titles fast, abstracts one at a time; all as a list; pairs in doubt. */
export function Sift() {
  const { inquiry } = useHere()
  const works = useOf<WorkLine[]>(inquiry.id, '/works')
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
  return <Passes works={works.data} />
}

function Passes({ works }: { works: WorkLine[] }) {
  const { inquiry, mayWrite } = useHere()
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
      { replace: true },
    )
  const twins = useOf<Twins[]>(inquiry.id, '/twins')
  const [order, setOrder] = useState<OrderKey>(() => {
    const kept = localStorage.getItem(STORE)
    return ORDERS.find(o => o.key === kept)?.key ?? 'likely'
  })
  const query = useMemo(() => {
    const p = inquiry.query ? parseCql(inquiry.query) : undefined
    return p?.ok ? p.query : undefined
  }, [inquiry.query])
  const asked = useMemo<Described>(
    () => ({ title: inquiry.question, keywords: query ? wordsOf(query) : [] }),
    [inquiry.question, query],
  )
  const reading = useReadingOrder(inquiry.id, works, asked)
  // asked once, whether answered or not: a check that cannot be read holds nobody up
  const { data: checks, isFetched: checked } = useChecks(inquiry.id)
  const byTitle = useMemo(() => {
    const unread = inOrder(
      works.filter(w => w.state === 'unread'),
      order,
      reading.place,
    )
    // what a check drew is decided first, in the order drawn
    const open = checks?.checks.find(c => c.mostLeft === null)
    if (!open) return unread
    const byId = new Map(unread.map(w => [w.id, w]))
    const drawn = new Set(open.drawn)
    return [...open.drawn.flatMap(id => byId.get(id) ?? []), ...unread.filter(w => !drawn.has(w.id))]
  }, [works, order, reading.place, checks])
  // what was kept by its title comes before what nobody has looked at
  const byAbstract = useMemo(
    () => [...works.filter(w => w.state === 'kept' && w.pass === 'title'), ...byTitle],
    [works, byTitle],
  )
  useKeys({ list: () => show(view === 'list' ? 'abstracts' : 'list') })
  const pairs = twins.data?.length ?? 0
  return (
    <Tabs.Root
      value={view}
      onValueChange={e => show(e.value as View)}
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
          overflowX={{ base: 'auto', md: 'visible' }}
          css={{ '& > button': { flex: 'none', whiteSpace: 'nowrap' } }}
        >
          <Tabs.Trigger value="titles">By title {n(byTitle.length)}</Tabs.Trigger>
          <Tabs.Trigger value="abstracts">By abstract {n(byAbstract.length)}</Tabs.Trigger>
          <Tabs.Trigger value="list">
            All as a list <Kbd>{keyName(keyMap().list)}</Kbd>
          </Tabs.Trigger>
          <Tabs.Trigger value="twins">One or two works? {pairs ? n(pairs) : ''}</Tabs.Trigger>
          <Tabs.Trigger value="flow">Flow</Tabs.Trigger>
        </Tabs.List>
        <Box flex="1" />
        {view !== 'twins' && view !== 'flow' && (
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
      <Tabs.Content value={view} flex="1" minH="0" p="0" _focusVisible={{ outlineOffset: '-2px' }}>
        {(!checked || (!reading.ready && order === 'likely')) && (view === 'titles' || view === 'abstracts') ? (
          <Waiting what="Putting the works in order" />
        ) : (
          <>
            {view === 'titles' && <Titles works={works} queue={byTitle} query={query?.root} mayWrite={mayWrite} />}
            {view === 'abstracts' && (
              <OneAtATime
                works={works}
                queue={byAbstract}
                order={reading}
                learned={order === 'likely'}
                query={query?.root}
                mayWrite={mayWrite}
              />
            )}
          </>
        )}
        {view === 'list' && (
          <DenseList works={works} order={order} place={reading.place} query={query?.root} mayWrite={mayWrite} />
        )}
        {view === 'twins' && <TwinsView />}
        {view === 'flow' && <FlowView />}
      </Tabs.Content>
    </Tabs.Root>
  )
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
