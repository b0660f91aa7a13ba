import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useMemo, useState, type KeyboardEvent } from 'react'
import { Link } from 'react-router'
import { DOINGS, doingOf, type Doing } from '../../../core/access/doing'
import type { Route } from '../../../core/access/routes'
import { api, type Gate, type Obtainable } from '../../../core/schema/api'
import { useChange, useOf } from '../../api/hooks'
import { ChooseTexts } from '../../frame/brought-texts'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay } from '../../frame/job-meter'
import { Empty, Failed, tellError, Waiting, withMember } from '../../frame/parts'
import { AskLoans } from './ask-loans'
import { GateDialog } from './gate-dialog'
import { gateBefore, Gates, useGates } from './gates'
import { GroupHead } from './groups'
import { Run } from './run'
import { TermsDialog } from './terms-dialog'
import { COLUMNS, Time, TimeHead } from './time'
import { mayAsk } from './way-words'
import { WorkRow } from './work-row'

/** Goes from row to row by the arrow keys. */
function walkRows(e: KeyboardEvent<HTMLElement>) {
  const step = { ArrowDown: 1, ArrowUp: -1 }[e.key]
  const from = (e.target as HTMLElement).closest<HTMLElement>('[data-row]')
  if (!step || !from) return
  const rows = [...e.currentTarget.querySelectorAll<HTMLElement>('[data-row]')]
  const to = rows[rows.indexOf(from) + step]
  if (!to) return
  e.preventDefault()
  to.focus()
}

/** Groups that begin folded: what needs nothing any more. */
const FOLDED: readonly Doing[] = ['in hand']

export function Obtain() {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.ways)
  // what waits for another try is not what runs
  const retrieval = jobs.filter(j => j.kind === 'retrieval' && !isWaiting(j)).at(-1)
  const gates = useGates(inquiry.id, retrieval?.state)
  const look = useChange(inquiry.id, api.lookForWays, (works: number[] | undefined) => ({
    body: works ? { works } : {},
  }))
  const fetchAll = useChange(inquiry.id, api.fetchTexts, (works: number[]) => ({ body: { works } }))
  /** The dialog of the gate, with what waits to be fetched behind it; the terms that are read. */
  const [signing, setSigning] = useState<{ gate: Gate; rows: readonly Obtainable[] }>()
  /** The works that are asked for. */
  const [asking, setAsking] = useState<readonly number[]>()
  const [terms, setTerms] = useState<NonNullable<NonNullable<Route['walked']>['terms']>>()
  const [folded, setFolded] = useState<ReadonlySet<Doing>>(new Set(FOLDED))
  const [opened, setOpened] = useState<number>()
  const toggle = (work: number) => setOpened(was => (was === work ? undefined : work))
  const { today } = inquiry
  const groups = useMemo(() => {
    const of = new Map<Doing, Obtainable[]>()
    const now = new Date().toISOString()
    for (const row of list.data ?? []) {
      const doing = doingOf(row, today, now)
      of.set(doing, [...(of.get(doing) ?? []), row])
    }
    return of
  }, [list.data, today])
  const fetchThese = (works: readonly Obtainable[]) =>
    fetchAll.mutate(
      works.map(r => r.id),
      { onError: tellError },
    )
  const gateOf = (r: Obtainable) => gateBefore(r, today, gates)
  /** Signing in comes before works fail for want of it. */
  const fetchOrSignIn = (works: readonly Obtainable[]) => {
    const gate = works.map(gateOf).find(g => g !== undefined)
    if (gate) setSigning({ gate, rows: works })
    else fetchThese(works)
  }
  const shutGate = gates.find(g => g.manner === 'form' && !g.until)
  const fetchOne = (row: Obtainable) => fetchOrSignIn([row])
  const accept = (route: Route) => setTerms(route.walked?.terms)
  if (list.isPending) return <Waiting what="Opening the ways" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const rows = list.data
  if (!rows.length) {
    return (
      <Empty
        title="Nothing to obtain yet"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/sift`}>To Sift</Link>
          </Button>
        }
      >
        For every work you keep, this page finds the lawful ways to its text and when each would arrive, set against
        your due date.
      </Empty>
    )
  }
  const n = (doing: Doing) => groups.get(doing)?.length ?? 0
  const now = groups.get('fetch now') ?? []
  const unknown = groups.get('not looked for') ?? []
  const toAsk = (groups.get('ask for it') ?? []).filter(mayAsk)
  const askFor = (works: readonly Obtainable[]) => setAsking(works.map(r => r.id))
  const looking = jobs.find(j => j.kind === 'routes' && isUnderWay(j))
  const troubles = [...new Set(rows.flatMap(r => r.trouble ?? []))]
  const running = retrieval && isUnderWay(retrieval)
  return (
    <Flex direction="column" h="full">
      <Box flex="1" overflow="auto" px={{ base: '12px', lg: '24px' }} pt="14px">
        <Flex align="center" gap="10px" mb="6px" wrap="wrap">
          <Text as="h1" flex="1" fontSize="14.5px" fontWeight="400" minW="300px">
            <b>
              {n('in hand')} of {rows.length} in hand.
            </b>{' '}
            <Text as="span" color="soft">
              {now.length} can be fetched now
              {n('waits for you') > 0 && ` · ${n('waits for you')} wait${n('waits for you') === 1 ? 's' : ''} for you`}
              {n('ask for it') > 0 && ` · ${n('ask for it')} to ask for`}
              {n('pick up') > 0 && ` · ${n('pick up')} there for you`}
              {n('on its way') > 0 && ` · ${n('on its way')} on ${n('on its way') === 1 ? 'its' : 'their'} way`}
              {n('at the shelf') > 0 && ` · ${n('at the shelf')} on the shelf`}
              {n('comes later') > 0 && ` · ${n('comes later')} later`}
              {n('not sure') > 0 && ` · ${n('not sure')} unsure`}
              {unknown.length > 0 && ` · ${unknown.length} not looked for yet`}
            </Text>
            {n('no way in time') > 0 && (
              <Text as="span" color="rust">
                {' '}
                · {n('no way in time')} out of reach{inquiry.due && ' in time'}
              </Text>
            )}
          </Text>
          {mayWrite && (
            <>
              {rows.some(r => r.routes?.some(x => x.way === 'shelf')) && (
                <Button asChild size="sm" variant="outline">
                  <Link to={`/inquiries/${inquiry.id}/obtain/shelf`}>Shelf list</Link>
                </Button>
              )}
              {toAsk.length > 1 && (
                <Button size="sm" variant="outline" onClick={() => askFor(toAsk)}>
                  Ask for {toAsk.length}
                </Button>
              )}
              <ChooseTexts>Bring PDFs</ChooseTexts>
              <Button
                size="sm"
                variant="outline"
                loading={Boolean(looking) || look.isPending}
                loadingText={
                  looking?.progress.of
                    ? `Looking, ${(looking.progress.done as number[]).length} of ${String(looking.progress.of)}`
                    : 'Looking'
                }
                onClick={() => look.mutate(unknown.length ? unknown.map(u => u.id) : undefined, { onError: tellError })}
              >
                {unknown.length ? `Look for ways (${unknown.length})` : 'Look for ways again'}
              </Button>
              <Button
                size="sm"
                colorPalette="vine"
                disabled={!now.length || Boolean(running)}
                onClick={() => fetchOrSignIn(now)}
              >
                Fetch {now.length || ''} now
              </Button>
            </>
          )}
        </Flex>
        {troubles[0] !== undefined && !looking && (
          <Text fontSize="13px" lineHeight="18px" color="amber" mb="6px" role="status">
            {troubles[0]}
            {troubles.length > 1 && ` And ${troubles.length - 1} more, each at its works.`} Look for ways again later.
          </Text>
        )}
        <Time today={today} due={inquiry.due}>
          <Box
            display="grid"
            gridTemplateColumns={COLUMNS}
            columnGap="12px"
            fontSize="12.5px"
            color="soft"
            borderBottom="1px solid"
            borderColor="line"
            pb="4px"
            position="sticky"
            top="-14px"
            bg="paper"
            zIndex="2"
            pt="8px"
          >
            <span />
            <span>work</span>
            <TimeHead />
            <span>best way</span>
          </Box>
          <Box onKeyDown={walkRows} pb="24px">
            {DOINGS.filter(n).map(doing => {
              const isOpen = !folded.has(doing) || groups.size === 1
              return (
                <section key={doing} aria-label={doing}>
                  <GroupHead
                    doing={doing}
                    rows={groups.get(doing)!}
                    isOpen={isOpen}
                    toggle={() => setFolded(was => withMember(was, doing, isOpen))}
                  />
                  {isOpen &&
                    groups
                      .get(doing)!
                      .map(row => (
                        <WorkRow
                          key={row.id}
                          {...{ row, doing, toggle, fetchOne, accept, askFor }}
                          isOpen={opened === row.id}
                        />
                      ))}
                </section>
              )
            })}
          </Box>
        </Time>
      </Box>
      <Flex
        flex="none"
        bg="surface"
        borderTop="1px solid"
        borderColor="hair"
        px={{ base: '12px', lg: '24px' }}
        py="10px"
        gap={{ base: '8px', lg: '32px' }}
        minH="64px"
        align="flex-start"
        direction={{ base: 'column', lg: 'row' }}
      >
        <Gates gates={gates} mayWrite={mayWrite} signIn={gate => setSigning({ gate, rows: [] })} />
        <Box flex="1" minW="0" w="full">
          <Run
            job={retrieval}
            again={works => fetchAll.mutate(works, { onError: tellError })}
            signIn={() => shutGate && setSigning({ gate: shutGate, rows: [] })}
            open={!shutGate}
          />
        </Box>
      </Flex>
      {signing && (
        <GateDialog
          gate={signing.gate}
          waiting={signing.rows.length}
          openToAll={signing.rows.filter(r => !gateOf(r)).length}
          fetch={which => {
            const rows = which === 'all' ? signing.rows : signing.rows.filter(r => !gateOf(r))
            if (rows.length) fetchThese(rows)
          }}
          close={() => setSigning(undefined)}
        />
      )}
      {asking && <AskLoans works={asking} close={() => setAsking(undefined)} />}
      {terms && (
        <TermsDialog
          {...terms}
          fetch={() => fetchThese(rows.filter(r => r.routes?.some(x => x.walked?.terms?.host === terms.host)))}
          close={() => setTerms(undefined)}
        />
      )}
    </Flex>
  )
}

/** Whether a job is queued for later only. */
const isWaiting = (j: { state: string; progress: Record<string, unknown> }): boolean =>
  j.state === 'queued' && j.progress.works === undefined
