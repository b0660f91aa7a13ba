import { GateDialog } from './gate-dialog'
import { Box, Button, chakra, FileUpload, Flex, Stack, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { addDays, format, parseISO } from 'date-fns'
import { useEffect, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { daysBetween } from '../../core/bib/dates'
import type { Route } from '../../core/access/routes'
import { call } from '../api/client'
import { useChange, useOf } from '../api/hooks'
import { jobEnd } from '../api/jobs'
import { api, type Job, type Obtainable } from '../../core/schema/api'
import { useHere, useOpenWork } from '../frame/inquiry-frame'
import { ReachMark } from '../frame/marks'
import { Empty, Failed, Meter, tell, tellError, Waiting } from '../frame/parts'

interface Fetched {
  work: number
  title: string
  state: 'waiting' | 'fetching' | 'proved' | 'doubtful' | 'refused' | 'gate needed' | 'no route'
  said?: string
  from?: string
}

/** Whether what can be had of a work today is had through the gate alone. */
const onlyByGate = (r: Obtainable, today: string): boolean => {
  const ways = (r.routes ?? []).filter(x => x.way !== 'author' && x.expected <= today)
  return ways.length > 0 && ways.every(x => x.way === 'gate')
}

export function Obtain() {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.ways)
  const gate = useQuery({ queryKey: ['gate'], queryFn: () => call(api.gate, {}), refetchInterval: 30_000 })
  const look = useChange(inquiry.id, api.lookForWays, (works: number[] | undefined) => ({
    body: works ? { works } : {},
  }))
  const fetchAll = useChange(inquiry.id, api.fetchTexts, (works: number[]) => ({ body: { works } }))
  /** The dialog of the gate, with what waits to be fetched behind it. */
  const [signing, setSigning] = useState<readonly Obtainable[]>()
  const [folded, setFolded] = useState(true)
  const retrieval = jobs.filter(j => j.kind === 'retrieval').at(-1)
  // the gate may have ended a session while fetching
  const client = useQueryClient()
  const ended = retrieval?.state
  useEffect(() => void client.invalidateQueries({ queryKey: ['gate'] }), [ended, client])
  if (list.isPending) return <Waiting what="Opening the routes" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  if (!list.data.length) {
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
  const rows = list.data
  const inHand = rows.filter(r => r.reach === 'in hand')
  const unknown = rows.filter(r => r.routes === null)
  const now = rows.filter(
    r => r.reach === 'within reach' && r.routes?.some(x => x.way !== 'author' && x.expected <= inquiry.today),
  )
  const out = rows.filter(r => r.reach === 'out of reach')
  const unsure = rows.filter(r => r.routes && r.reach === 'unsure')
  const looking = jobs.find(j => j.kind === 'routes' && (j.state === 'running' || j.state === 'queued'))
  const doubtful = rows.filter(r => r.reach !== 'in hand' && r.copies.some(c => c.outcome === 'doubtful'))
  const waiting = rows.filter(r => r.reach !== 'in hand')
  const fetchThese = (works: readonly Obtainable[]) =>
    fetchAll.mutate(
      works.map(r => r.id),
      { onError: tellError },
    )
  /** Signing in comes before works fail for want of it. */
  const fetchOrSignIn = (works: readonly Obtainable[]) =>
    !gate.data?.until && works.some(r => onlyByGate(r, inquiry.today)) ? setSigning(works) : fetchThese(works)
  const shownRows = [...waiting, ...(folded ? inHand.slice(0, 3) : inHand)]
  return (
    <Flex direction="column" h="full">
      <Box flex="1" overflow="auto" px="24px" pt="14px">
        <Flex align="center" gap="10px" mb="8px" wrap="wrap">
          <Text flex="1" fontSize="14.5px" minW="300px">
            <b>
              {inHand.length} of {rows.length} in hand.
            </b>{' '}
            <Text as="span" color="soft">
              {now.length} can be fetched now
              {doubtful.length > 0 && ` · ${doubtful.length} doubtful`}
              {unsure.length > 0 && ` · ${unsure.length} unsure`}
              {unknown.length > 0 && ` · ${unknown.length} not looked for yet`}
            </Text>
            {out.length > 0 && (
              <Text as="span" color="rust">
                {' '}
                · {out.length} out of reach{inquiry.due && ' in time'}
              </Text>
            )}
          </Text>
          {mayWrite && (
            <>
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
                disabled={
                  !now.length || Boolean(retrieval && (retrieval.state === 'running' || retrieval.state === 'queued'))
                }
                onClick={() => fetchOrSignIn(now)}
              >
                Fetch {now.length || ''} now
              </Button>
            </>
          )}
        </Flex>
        <TimeTable rows={shownRows} today={inquiry.today} due={inquiry.due} fetchOne={row => fetchOrSignIn([row])} />
        {inHand.length > 3 && (
          <chakra.button
            type="button"
            onClick={() => setFolded(!folded)}
            fontSize="13px"
            color="soft"
            py="12px"
            px="36px"
            cursor="pointer"
          >
            {folded ? `▸ ${inHand.length - 3} more in hand` : '▾ fold those in hand'}
          </chakra.button>
        )}
      </Box>
      <Flex
        flex="none"
        bg="surface"
        borderTop="1px solid"
        borderColor="hair"
        px="24px"
        py="14px"
        gap="32px"
        minH="92px"
        align="flex-start"
      >
        <Box w="230px" flex="none" fontSize="13px" lineHeight="18px">
          <Text fontWeight="600">Gate: {gate.data?.until ? 'signed in' : 'not signed in'}</Text>
          <Text color="soft">
            {gate.data?.library}
            {gate.data?.until ? ` · until ${format(new Date(gate.data.until), 'HH:mm')}` : ''}
          </Text>
          {mayWrite && !gate.data?.until && (
            <Button size="xs" variant="outline" mt="6px" onClick={() => setSigning([])}>
              Sign in at the gate
            </Button>
          )}
        </Box>
        <Box flex="1" minW="0">
          <Run
            job={retrieval}
            again={works => fetchAll.mutate(works, { onError: tellError })}
            signIn={() => setSigning([])}
            open={Boolean(gate.data?.until)}
          />
        </Box>
        <Text
          w="250px"
          flex="none"
          fontSize="13px"
          lineHeight="18px"
          color="soft"
          display={{ base: 'none', xl: 'block' }}
        >
          A copy counts as in hand only when its own text shows the right title, authors and DOI.
        </Text>
      </Flex>
      {signing && (
        <GateDialog
          gate={gate.data}
          waiting={signing.length}
          openToAll={signing.filter(r => !onlyByGate(r, inquiry.today)).length}
          fetch={which => {
            const rows = which === 'all' ? signing : signing.filter(r => !onlyByGate(r, inquiry.today))
            if (rows.length) fetchThese(rows)
          }}
          close={() => setSigning(undefined)}
        />
      )}
    </Flex>
  )
}

const wayName = (r: Route): string =>
  r.way === 'open' ? `open, ${r.version}` : r.way === 'gate' ? 'through the gate' : 'from the author'

function bestWay(row: Obtainable, due: string | null): { head: string; tail: string; voice?: string } {
  const proved = row.copies.find(c => c.outcome === 'proved')
  if (proved) return { head: 'Read it', tail: `${proved.version}, ${proved.pages} pages, proved` }
  if (row.routes === null) return { head: 'Not looked up', tail: 'look for ways first' }
  const best = row.routes.find(r => r.way !== 'author')
  const doubtful = row.copies.find(c => c.outcome === 'doubtful')
  if (doubtful) return { head: 'Doubtful copy', tail: doubtful.said.join(' '), voice: 'amber' }
  if (!best)
    return {
      head: due ? 'No way in time' : 'No way',
      tail: row.routes.length ? 'write to the author' : 'no lawful way is known',
      voice: 'rust',
    }
  if (row.reach === 'unsure') return { head: 'Not sure', tail: best.from, voice: 'amber' }
  if (best.way === 'gate') return { head: 'Through the gate', tail: best.from }
  return {
    head: 'Open copy today',
    tail: best.version === 'version of record' ? best.from : `${best.version}: its page numbers differ`,
  }
}

/** Works by row, time across: today at the left, the due date as a line, each work's best route as a bar. */
function TimeTable({
  rows,
  today,
  due,
  fetchOne,
}: {
  rows: Obtainable[]
  today: string
  due: string | null
  fetchOne: (row: Obtainable) => void
}) {
  const open = useOpenWork()
  const { inquiry } = useHere()
  const span = due ? Math.max(14, daysBetween(today, due) + 5) : 30
  const pct = (iso: string) => `${(Math.max(0, Math.min(span, daysBetween(today, iso))) / span) * 100}%`
  const ticks = Array.from({ length: Math.floor(span / 7) + 1 }, (_, i) => addDays(parseISO(today), i * 7)).filter(
    (d, i) => (!due || Math.abs(daysBetween(format(d, 'yyyy-MM-dd'), due)) > 3) && i * 7 < span - 3,
  )
  const columns = '24px minmax(280px, 1.25fr) minmax(220px, 1.4fr) 230px'
  const dueAt = due && pct(due)
  return (
    <Box>
      <Box
        display="grid"
        gridTemplateColumns={columns}
        columnGap="12px"
        fontSize="12.5px"
        color="soft"
        borderBottom="1px solid"
        borderColor="hair"
        pb="6px"
        position="sticky"
        top="-14px"
        bg="paper"
        zIndex="1"
        pt="8px"
      >
        <span />
        <span>work</span>
        <Box position="relative" h="18px">
          {ticks.map(d => (
            <Box key={d.toISOString()} position="absolute" left={pct(format(d, 'yyyy-MM-dd'))} whiteSpace="nowrap">
              {format(d, 'd MMM')}
            </Box>
          ))}
          {dueAt && (
            <Box position="absolute" left={dueAt} transform="translateX(-50%)" color="rust" fontWeight="600">
              due
            </Box>
          )}
        </Box>
        <span>best way</span>
      </Box>
      {rows.map(row => {
        const proved = row.copies.find(c => c.outcome === 'proved')
        const best = row.routes?.find(r => r.way !== 'author')
        const way = bestWay(row, due)
        return (
          <Box
            key={row.id}
            display="grid"
            gridTemplateColumns={columns}
            columnGap="12px"
            borderBottom="1px solid"
            borderColor="hair"
            alignItems="center"
            minH="58px"
            data-work={row.id}
          >
            <ReachMark reach={row.reach} />
            <Box minW="0">
              <chakra.button
                type="button"
                onClick={() => open(row.id)}
                fontFamily="serif"
                fontWeight="600"
                fontSize="14.5px"
                lineHeight="20px"
                display="block"
                w="full"
                truncate
                textAlign="left"
                cursor="pointer"
                title={row.title}
              >
                {row.title}
              </chakra.button>
              <Text
                fontSize="12.5px"
                lineHeight="17px"
                color="soft"
                truncate
                title={best?.evidence ?? row.closed.join(' ')}
              >
                {[`${row.authors.split(',')[0]} ${row.year ?? ''}`, best?.evidence ?? row.closed[0] ?? row.container]
                  .map(part => part.trim())
                  .filter(Boolean)
                  .join(' · ')}
              </Text>
            </Box>
            <Box position="relative" alignSelf="stretch">
              {dueAt && <Box position="absolute" top="0" bottom="0" left={dueAt} w="2px" bg="rust" />}
              {ticks.slice(1).map(d => (
                <Box
                  key={d.toISOString()}
                  position="absolute"
                  top="0"
                  bottom="0"
                  left={pct(format(d, 'yyyy-MM-dd'))}
                  w="1px"
                  bg="hair2"
                />
              ))}
              <Bar
                left={proved ? '0%' : best ? pct(best.expected) : '0%'}
                kind={
                  proved
                    ? 'hand'
                    : !best
                      ? row.routes
                        ? 'none'
                        : 'unknown'
                      : row.reach === 'unsure'
                        ? 'maybe'
                        : best.way
                }
              >
                {proved
                  ? 'in hand'
                  : best
                    ? `${row.reach === 'unsure' ? 'perhaps ' : ''}${best.expected <= today ? 'today' : format(parseISO(best.expected), 'd MMM')}, ${wayName(best)}`
                    : row.routes
                      ? 'no way found'
                      : '?'}
              </Bar>
            </Box>
            <Flex fontSize="13px" lineHeight="17px" gap="6px" align="center" justify="space-between">
              <Box minW="0">
                {proved ? (
                  <Link to={`/inquiries/${inquiry.id}/read/${proved.id}`} style={{ fontWeight: 600 }}>
                    Read it
                  </Link>
                ) : (
                  <Text fontWeight="600" color={way.voice}>
                    {way.head}
                  </Text>
                )}
                <Text fontSize="12.5px" color="soft" lineClamp={2} title={way.tail}>
                  {way.tail}
                </Text>
              </Box>
              {!proved && (
                <RowActions
                  row={row}
                  fetchable={Boolean(best && best.expected <= today)}
                  fetchOne={() => fetchOne(row)}
                />
              )}
            </Flex>
          </Box>
        )
      })}
    </Box>
  )
}

function Bar({
  left,
  kind,
  children,
}: {
  left: string
  kind: 'hand' | 'open' | 'gate' | 'author' | 'maybe' | 'none' | 'unknown'
  children: ReactNode
}) {
  const look = {
    hand: { bg: 'vine.solid', color: 'white' },
    open: { bg: 'vine.soft', color: 'vine' },
    gate: { bg: 'slate.soft', color: 'slate' },
    author: { bg: 'grape.soft', color: 'grape' },
    maybe: { bg: 'paper', color: 'amber' },
    none: { bg: 'transparent', color: 'rust' },
    unknown: { bg: 'transparent', color: 'soft' },
  }[kind]
  return (
    <Box
      position="absolute"
      left={left}
      top="50%"
      transform="translateY(-50%)"
      borderRadius="sm"
      px="8px"
      fontSize="12.5px"
      lineHeight="20px"
      whiteSpace="nowrap"
      border={kind === 'gate' ? '1px solid' : kind === 'maybe' ? '1px dashed' : undefined}
      borderColor={kind === 'maybe' ? 'amber' : 'slate.line'}
      {...look}
    >
      {children}
    </Box>
  )
}

function RowActions({ row, fetchable, fetchOne }: { row: Obtainable; fetchable: boolean; fetchOne: () => void }) {
  const { inquiry, mayWrite } = useHere()
  const send = useChange(inquiry.id, api.bringCopy, (file: File) => ({ params: { work: row.id }, file }))
  const [reading, setReading] = useState(false)
  const bring = async (file: File) => {
    setReading(true)
    try {
      const { job } = await send.mutateAsync(file)
      const { outcome, said } = (await jobEnd(inquiry.id, job)).result as { outcome: string; said: string }
      if (outcome === 'refused') tellError(new Error(said))
      else tell(outcome === 'proved' ? 'Proved: now in hand.' : said)
    } catch (e) {
      tellError(e)
    }
    setReading(false)
  }
  if (!mayWrite) return null
  return (
    <Flex direction="column" gap="2px" flex="none">
      {fetchable && (
        <Button size="2xs" variant="outline" onClick={fetchOne}>
          Fetch
        </Button>
      )}
      <FileUpload.Root
        maxFiles={1}
        accept={undefined}
        key={send.submittedAt}
        onFileAccept={e => e.files[0] && void bring(e.files[0])}
      >
        <FileUpload.HiddenInput aria-label={`A PDF of your own for: ${row.title}`} />
        <FileUpload.Trigger asChild>
          <Button size="2xs" variant="ghost" loading={reading}>
            Own PDF
          </Button>
        </FileUpload.Trigger>
      </FileUpload.Root>
    </Flex>
  )
}

const voices: Record<Fetched['state'], string> = {
  waiting: 'soft',
  fetching: 'slate',
  proved: 'vine',
  doubtful: 'amber',
  refused: 'rust',
  'gate needed': 'slate',
  'no route': 'soft',
}

/** The run panel: what is being fetched, the proof of each, and what to do about those that failed. */
function Run({
  job,
  again,
  signIn,
  open,
}: {
  job: Job | undefined
  again: (works: number[]) => void
  signIn: () => void
  open: boolean
}) {
  const { inquiry, mayWrite } = useHere()
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const works = (job?.progress.works as Fetched[] | undefined) ?? (job?.result?.works as Fetched[] | undefined) ?? []
  if (!job)
    return (
      <Text fontSize="13.5px" color="soft">
        Fetching runs here: one text after the other, each proved against its work before it counts.
      </Text>
    )
  const done = works.filter(w => w.state !== 'waiting' && w.state !== 'fetching')
  const live = job.state === 'running' || job.state === 'queued'
  const at = works.find(w => w.state === 'fetching')
  const count = (s: Fetched['state']) => works.filter(w => w.state === s)
  const gated = count('gate needed')
  const troubled = works.filter(w => w.state === 'refused' || w.state === 'doubtful')
  return (
    <Stack gap="6px" fontSize="13.5px">
      <Flex justify="space-between" gap="12px">
        <Text truncate>
          {live
            ? `Fetching ${Math.min(done.length + 1, works.length || 1)} of ${works.length || '…'}`
            : job.state === 'cancelled'
              ? 'Stopped; what was fetched before is kept'
              : job.state === 'failed'
                ? `Failed: ${job.error ?? ''}`
                : `Fetched: ${works.length} tried`}
          {at && (
            <Text as="span" fontFamily="serif" fontStyle="italic">
              {' '}
              · {at.title}
            </Text>
          )}
        </Text>
        {live && (
          <Button size="2xs" variant="outline" onClick={() => stop.mutate(job.id)} disabled={job.cancelAsked}>
            {job.cancelAsked ? 'Stopping …' : 'Stop'}
          </Button>
        )}
      </Flex>
      {live && <Meter share={works.length ? done.length / works.length : 0} label="Fetching" />}
      <Flex gap="12px" wrap="wrap" fontSize="13px">
        {(['proved', 'doubtful', 'refused', 'gate needed', 'no route'] as const).map(
          s =>
            count(s).length > 0 && (
              <Text key={s} color={voices[s]} fontWeight="600">
                {count(s).length} {s}
              </Text>
            ),
        )}
        {!live && gated.length > 0 && mayWrite && (
          <Button size="2xs" variant="outline" onClick={() => (open ? again(gated.map(g => g.work)) : signIn())}>
            {open ? `Fetch ${gated.length} through the gate` : 'Sign in at the gate'}
          </Button>
        )}
      </Flex>
      {troubled.length > 0 && (
        <Box maxH="84px" overflow="auto">
          {troubled.map(w => (
            <Text key={w.work} fontSize="12.5px" lineHeight="17px" color={voices[w.state]}>
              <i>{w.title}</i>: {w.said}
            </Text>
          ))}
        </Box>
      )}
    </Stack>
  )
}
