import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useMemo, useRef, useEffect, useState } from 'react'
import { Link } from 'react-router'
import { api } from '../../../core/schema/api'
import type { Choice } from '../../../core/sift/decisions'
import type { WorkLine } from '../../../core/sift/line'
import { useChange, useOf } from '../../api/hooks'
import { FormDialog } from '../../frame/form'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { isUnderWay, JobMeter } from '../../frame/job-meter'
import { useKeys } from '../../frame/keys'
import { Empty, Failed, tellError, Waiting } from '../../frame/parts'
import { useSettle, type Means } from '../../frame/settle'
import { CUT } from '../../frame/work-words'
import { AgainstIndex } from './against-index'
import { DecideButtons } from '../../frame/decide-buttons'
import { EntryRow, StandsMark } from './entry-row'
import { shortDay } from '../../frame/due'
import { rowsOf, STANDS, type ListAnswer, type ListNode, type Row, type Stands } from './entry-words'
import { SettlePanel } from './settle-panel'
import { useBring } from '../../frame/use-bring'

/** Entries that are shown at first, and each time more. */
const AT_FIRST = 150

/** A list of references that came without a database: each entry across from the work that it means. */
export function ListPage({
  id,
  works,
  from,
  citing,
  back,
}: {
  id: number
  works: ReadonlyMap<number, WorkLine>
  /** Who is asked for citations. */
  from: string
  /** How many kept works cite a node, as words; empty where that is not known. */
  citing: (node: number) => string
  /** Back to the trellis. */
  back: () => void
}) {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.list, { params: { list: id } })
  const [only, setOnly] = useState<Stands>()
  const [at, setAt] = useState<number>()
  const [opened, setOpened] = useState<number>()
  const [most, setMost] = useState(AT_FIRST)
  const [dropping, setDropping] = useState(false)
  const openWork = useOpenWork()
  const bring = useBring()
  const settling = useSettle(id)
  const lookOn = useChange(inquiry.id, api.lookOn, () => ({ params: { list: id } }))
  const drop = useChange(inquiry.id, api.dropList, () => ({ params: { list: id } }))

  const rows = useMemo(() => (list.data ? rowsOf(list.data, works) : []), [list.data, works])
  const all = only ? rows.filter(r => r.stands === only || r.entry.n === opened) : rows
  const seen = all.slice(0, most)
  const index = Math.max(
    0,
    seen.findIndex(r => r.entry.n === at),
  )
  const current = seen[index]
  const go = (by: 1 | -1) => {
    const next = at === undefined ? seen[0] : seen[index + by]
    if (!next) return
    setAt(next.entry.n)
    setOpened(undefined)
  }
  const unfold = (r: Row | undefined) => {
    if (!r) return
    setAt(r.entry.n)
    setOpened(o => (o === r.entry.n ? undefined : r.entry.n))
  }
  const decide = (choice: Choice) => {
    if (current?.node) bring.decide({ work: current.node.work, node: current.node.id, title: current.title }, choice)
  }
  useKeys({
    next: () => go(1),
    previous: () => go(-1),
    keep: () => decide('keep'),
    aside: () => decide('set aside'),
    later: () => decide('later'),
    undo: () => bring.undo(),
    open: () => unfold(current),
  })
  const box = useRef<HTMLDivElement>(null)
  useEffect(() => {
    if (at !== undefined) box.current?.querySelector('[data-current]')?.scrollIntoView({ block: 'nearest' })
  }, [at])

  if (list.isPending) return <Waiting what="Opening the list" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const data = list.data
  const job = jobs.find(j => j.kind === 'list' && j.id === data.job)
  const running = job && isUnderWay(job) ? job : undefined
  const lacking = [...new Set(rows.flatMap(r => (r.stands === 'you lack' ? r.node!.id : [])))]
  const missing = rows.filter(r => r.entry.missing && !r.node).length
  const settle = (r: Row, means: Means, node?: number) =>
    settling.settle(data, r.entry, means, node, () => {
      // on to the next that is to be settled
      const next = seen.find(x => x.stands === 'to settle' && x.entry.n > r.entry.n)
      setOpened(next?.entry.n)
      if (next) setAt(next.entry.n)
    })
  const noteOf = (r: Row): string => {
    if (r.work) return r.work.state
    if (r.stands === 'you lack') return citing(r.node!.id)
    if (r.stands === 'to settle') return 'settle it'
    return r.stands === 'unknown' && mayWrite ? 'say what it is' : ''
  }
  const ofNode = ({ id: node, work, kind }: ListNode): string =>
    work === null
      ? ['you lack it', citing(node), kind].filter(Boolean).join(' · ')
      : `in pool, ${works.get(work)?.state ?? 'unread'} · ${kind}`

  return (
    <Box px={{ base: '12px', lg: '24px' }} pb="48px" ref={box}>
      <Flex
        direction={{ base: 'column', lg: 'row' }}
        gap="10px 16px"
        align={{ lg: 'flex-start' }}
        py="12px"
        borderBottom="1px solid"
        borderColor="hair"
        position={{ lg: 'sticky' }}
        top="0"
        bg="paper"
        zIndex="1"
      >
        <Box flex="1" minW="0">
          <Text as="h2" fontFamily="serif" fontWeight="600" fontSize="17px" lineHeight="23px" dir="auto">
            {data.name}
          </Text>
          <Text fontSize="13px" lineHeight="19px" color="soft">
            {saidOf(data, works)} ·{' '}
            <chakra.button type="button" color="vine" fontWeight="600" cursor="pointer" onClick={back}>
              Trellis
            </chakra.button>
            {data.copy !== null && (
              <>
                {' · '}
                <chakra.span color="vine" fontWeight="600" asChild>
                  <Link to={`/inquiries/${inquiry.id}/read/${data.copy}`}>Read the copy</Link>
                </chakra.span>
              </>
            )}
            {mayWrite && (
              <>
                {' · '}
                <chakra.button type="button" cursor="pointer" onClick={() => setDropping(true)}>
                  Take out this list
                </chakra.button>
              </>
            )}
          </Text>
        </Box>
        <Flex gap="8px" wrap="wrap" align="center" role="group" aria-label="Show">
          <Button
            size="xs"
            variant={only === undefined ? 'solid' : 'outline'}
            colorPalette="slate"
            aria-pressed={only === undefined}
            onClick={() => setOnly(undefined)}
          >
            all {rows.length}
          </Button>
          {STANDS.map(s => {
            const n = rows.filter(r => r.stands === s).length
            return (
              <Button
                key={s}
                size="xs"
                variant={only === s ? 'solid' : 'outline'}
                colorPalette={only === s ? 'slate' : undefined}
                bg={only === s ? undefined : 'surface'}
                disabled={!n && only !== s}
                aria-pressed={only === s}
                onClick={() => setOnly(only === s ? undefined : s)}
              >
                <StandsMark stands={s} /> {s} {n}
              </Button>
            )
          })}
          {mayWrite && lacking.length > 0 && (
            <Button
              size="sm"
              colorPalette="vine"
              loading={bring.busy}
              onClick={() => bring.bringMany(lacking, () => undefined)}
            >
              Bring {lacking.length} into the pool
            </Button>
          )}
        </Flex>
      </Flex>
      {running ? (
        <Flex align="center" gap="12px" fontSize="13px" role="status" py="8px">
          <JobMeter job={running} {...meterOf(running.progress)} voice="grape" label="Entries looked for" />
        </Flex>
      ) : (
        mayWrite &&
        (data.left > 0 || missing > 0) && (
          <Flex align="center" gap="12px" fontSize="13px" py="8px" role="status">
            <Text>
              {job?.state === 'failed' && job.error ? `${job.error} ` : ''}
              {data.left > 0
                ? `${data.left} ${data.left === 1 ? 'entry was' : 'entries were'} not looked for yet.`
                : `For ${missing} ${missing === 1 ? 'entry' : 'entries'} not everybody could be asked.`}
            </Text>
            <Button
              size="xs"
              variant="outline"
              loading={lookOn.isPending}
              onClick={() => lookOn.mutate(undefined, { onError: tellError })}
            >
              {data.left > 0 ? 'Look on' : 'Ask again'}
            </Button>
          </Flex>
        )
      )}
      {data.indexDay && <AgainstIndex data={data} rows={rows} from={from} works={works} />}
      {!seen.length ? (
        <Empty
          title={
            rows.length
              ? 'None of the entries'
              : running
                ? 'The list is being cut into entries'
                : 'No entry was found in it'
          }
        >
          {rows.length > 0 ? 'No entry of this list stands so.' : undefined}
        </Empty>
      ) : (
        <Box role="list" aria-label={`Entries of ${data.name}`} pt="6px">
          {seen.map((r, i) => (
            <EntryRow
              key={r.entry.n}
              row={r}
              current={r.entry.n === at}
              open={r.entry.n === opened}
              note={noteOf(r)}
              page={r.entry.page === seen[i - 1]?.entry.page ? null : r.entry.page}
              go={() => unfold(r)}
            >
              {r.entry.n === at && r.node && (
                <Flex gap="6px" justify="flex-end" pb="8px" wrap="wrap">
                  {mayWrite && <DecideButtons busy={bring.busy} decide={decide} />}
                  {r.work && (
                    <Button size="2xs" variant="ghost" onClick={() => openWork(r.work!.id)}>
                      Work sheet
                    </Button>
                  )}
                </Flex>
              )}
              {r.entry.n === opened && (
                <SettlePanel
                  entry={r.entry}
                  nodes={data.nodes}
                  stands={ofNode}
                  mayWrite={mayWrite}
                  busy={settling.busy}
                  settle={(means, node) => settle(r, means, node)}
                  rewrite={text => settling.rewrite(r.entry.n, text, () => setOpened(undefined))}
                />
              )}
            </EntryRow>
          ))}
          {all.length > seen.length && (
            <Button size="sm" variant="ghost" mt="8px" onClick={() => setMost(most + AT_FIRST)}>
              {Math.min(AT_FIRST, all.length - seen.length)} more of {all.length}
            </Button>
          )}
        </Box>
      )}
      {dropping && (
        <FormDialog
          title="Take out this list"
          close={() => setDropping(false)}
          submit={() => drop.mutate(undefined, { onError: tellError, onSuccess: () => (setDropping(false), back()) })}
          buttons={
            <>
              <Button variant="outline" onClick={() => setDropping(false)}>
                Leave it
              </Button>
              <Button type="submit" colorPalette="rust" loading={drop.isPending}>
                Take it out
              </Button>
            </>
          }
        >
          <Text>
            “{data.name}” goes, with what was settled in it and the citations that it alone says. Works that were
            brought into the pool stay.
          </Text>
        </FormDialog>
      )}
    </Box>
  )
}

const meterOf = (progress: Record<string, unknown>) => {
  const { done = 0, of = 0 } = progress as { done?: number; of?: number }
  return {
    said: of ? `Looking for works: ${done} of ${of} entries` : 'Cutting the list into entries',
    share: of ? done / of : 0,
  }
}

function saidOf(data: ListAnswer, works: ReadonlyMap<number, WorkLine>): string {
  const own = data.work === null ? undefined : works.get(data.work)
  return [
    `${data.copy === null ? 'pasted' : 'taken from a copy'} on ${shortDay(data.day)}`,
    data.copy !== null ? '' : own ? `the list of “${own.title}”` : 'a lead: it says no citations',
    data.entries.length > 1 && data.by ? (CUT[data.by] ?? data.by) : '',
  ]
    .filter(Boolean)
    .join(' · ')
}
