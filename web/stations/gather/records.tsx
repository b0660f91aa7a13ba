import { plainTitle } from '../../../core/bib/clean'
import type { BodyOf } from '../../../core/schema/api/endpoint'
import { Box, Button, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link } from 'react-router'
import { authorLine } from '../../../core/bib/names'
import { yearOf } from '../../../core/bib/dates'
import { readOut } from '../../../core/query/concepts'
import { parseCql } from '../../../core/query/parse-cql'
import type { Sheet } from '../../../core/query/sheet'
import { useChange, useOf } from '../../api/hooks'
import { api, type FoundRecord, type Sweep } from '../../../core/schema/api'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { Empty, Meter, Notice, tell, tellError, Tick, Waiting, withMember } from '../../frame/parts'
import { LineTick, RecordLine } from '../../frame/record-line'
import { Marked } from '../../frame/rich'
import { n } from './use-counts'
import { useNearness } from './use-nearness'
import { useWorks } from './use-works'

/** Records drawn at first; more on request. */
const SHOWN = 50

const ORDERS = {
  near: {
    name: 'nearest the question',
    by: (a: FoundRecord, b: FoundRecord, near: ReadonlyMap<number, number>) =>
      (near.get(b.id) ?? 0) - (near.get(a.id) ?? 0),
  },
  new: { name: 'newest', by: (a: FoundRecord, b: FoundRecord) => (yearOf(b.item) ?? 0) - (yearOf(a.item) ?? 0) },
  old: { name: 'oldest', by: (a: FoundRecord, b: FoundRecord) => (yearOf(a.item) ?? 9999) - (yearOf(b.item) ?? 9999) },
  cited: { name: 'citations a year', by: (a: FoundRecord, b: FoundRecord) => (b.perYear ?? -1) - (a.perYear ?? -1) },
}
type Order = keyof typeof ORDERS

/** Limits that are judged on the records fetched. */
type Limits = Pick<Sheet, 'kinds' | 'refereed' | 'withAbstract' | 'withinReach'>

/** Whether a fetched record holds to the limits that are judged on records. */
export function passes(r: FoundRecord, l: Limits): boolean {
  if (l.withinReach && !r.within) return false
  if (l.refereed && !r.refereed) return false
  if (l.kinds?.length && !l.kinds.includes(r.kind)) return false
  return !l.withAbstract || Boolean(r.item.abstract)
}

type Choice = 'keep' | 'set aside'

interface Pooled {
  records: number
  newWorks: number
  known: number
  asked: number
  arrival: number | null
}
/** The records of a sweep as record lines; chosen ones, or all, are brought into the pool. */
export function Records({
  sweep,
  limits,
  isApart,
}: {
  sweep: Sweep
  limits: Limits
  /** It asked something else than the sheet does. */
  isApart: boolean
}) {
  const { inquiry, jobs, mayWrite } = useHere()
  const open = useOpenWork()
  const records = useOf(inquiry.id, api.foundRecords, { params: { sweep: sweep.id } })
  const [chosen, setChosen] = useState<Set<number>>(new Set())
  const bring = useChange(inquiry.id, api.bring, (body: BodyOf<typeof api.bring>) => ({ body }))
  const asked = useMemo(() => {
    const p = parseCql(sweep.cql)
    return p.ok ? p.query : undefined
  }, [sweep.cql])
  const query = asked?.root
  const names = useMemo(() => new Map(inquiry.catalogues.map(c => [c.id, c.name])), [inquiry.catalogues])
  const running = jobs.some(
    j =>
      (j.kind === 'sweep' || j.kind === 'standing') &&
      j.payload.sweepId === sweep.id &&
      (j.state === 'running' || j.state === 'queued'),
  )
  const [order, setOrder] = useState<Order>('near')
  const [told, setTold] = useState(false)
  const [unfolded, setUnfolded] = useState<Set<number>>(new Set())
  const [onlyNew, setOnlyNew] = useState(true)
  const [shown, setShown] = useState(SHOWN)
  const [brought, setBrought] = useState<Pooled | 'closed'>()
  const everything = useMemo(() => records.data ?? [], [records.data])
  const near = useNearness(everything, asked)
  const standsFor = useWorks(everything)
  const newOnly = sweep.foundNew !== null && onlyNew
  const list = everything
    .filter(r => passes(r, limits) && (!newOnly || r.isNew))
    .map((r, i) => ({ r, i }))
    .sort((a, b) => ORDERS[order].by(a.r, b.r, near) || a.i - b.i)
    .map(({ r }) => r)
  // a work once, with the catalogues that have it
  const works = new Map<number, FoundRecord[]>()
  for (const r of list) {
    const one = standsFor.get(r.id) ?? r.id
    works.set(one, [...(works.get(one) ?? []), r])
  }
  const lines = [...works].map(([id, of]) => ({ id, of, r: of.find(x => x.item.abstract) ?? of[0]! }))
  const isFresh = ({ of }: (typeof lines)[number]) => of.some(x => x.work === null)
  const fresh = list.filter(r => r.work === null)
  const chosenLines = lines.filter(line => isFresh(line) && chosen.has(line.id))
  const picked = chosenLines.flatMap(line => line.of.filter(x => x.work === null))
  const counts = sweep.catalogues.map(c => c.count ?? 0)
  const [least, most] = [Math.max(0, ...counts), counts.reduce((a, b) => a + b, 0)]
  const bringing = jobs.find(j => j.kind === 'pool' && j.payload.sweepId === sweep.id)
  const ended = useRef(new Set<number>())
  useEffect(() => {
    if (!bringing || ended.current.has(bringing.id)) return
    if (bringing.state === 'cancelled') tell('Stopped. Nothing was brought in.')
    else if (bringing.state === 'failed') tell(`Nothing was brought in: ${bringing.error}`)
    else return
    ended.current.add(bringing.id)
  }, [bringing])
  const came =
    brought === 'closed'
      ? undefined
      : (brought ?? (bringing?.state === 'done' ? (bringing.result as unknown as Pooled) : undefined))
  const busy = bringing && (bringing.state === 'running' || bringing.state === 'queued') ? bringing : undefined
  const stop = useChange(inquiry.id, api.stopJob, (job: number) => ({ params: { job } }))
  const doBring = (records: FoundRecord[], choice?: Choice) =>
    bring.mutate(
      {
        sweep: sweep.id,
        // all that was fetched is more than what is shown
        all: !choice && !newOnly && records === fresh && list.length === everything.length,
        records: records.map(r => r.id),
        ...(choice ? { decide: { group: crypto.randomUUID(), choice } } : {}),
      },
      {
        onSuccess: got => {
          setChosen(new Set())
          if (got.job === undefined) setBrought(got as Pooled)
        },
        onError: tellError,
      },
    )
  const fetched = sweep.catalogues.reduce((t, c) => t + c.fetched, 0)
  return (
    <>
      <Flex align="center" gap="12px" mb="6px" minH="36px" position="sticky" top="0" bg="paper" zIndex="1" py="4px">
        <Text fontSize="14px" flex="1">
          {isApart && query && (
            <Text as="span" display="block" color="soft" lineClamp={2}>
              Asked beside the sheet:{' '}
              {readOut(query)
                .map(p => p.text)
                .join('')}
            </Text>
          )}
          <b>{least === most ? n(most) : `${n(least)} to ${n(most)}`} found</b>
          <Text as="span" color="soft">
            {` on ${format(parseISO(sweep.deskDay), 'd MMM')} in ${sweep.catalogues.length === 1 ? 'one catalogue' : `${sweep.catalogues.length} catalogues`}`}{' '}
            · {n(fetched)} fetched
            {lines.length < list.length && `, ${n(lines.length)} works`}
            {list.length < everything.length ? `, ${n(list.length)} within your limits` : ''} ·{' '}
            {fresh.length ? `${n(list.length - fresh.length)} of them in your pool` : 'all in your pool'}
            {running && ' · more are coming'}
          </Text>
        </Text>
        {fresh.length > 0 && (
          <Button
            size="xs"
            variant="ghost"
            onClick={() => setChosen(chosen.size ? new Set() : new Set(lines.filter(isFresh).map(line => line.id)))}
          >
            {chosen.size ? 'Choose none' : 'Choose all'}
          </Button>
        )}
        {picked.length > 0 && (
          <>
            <Button size="xs" variant="outline" disabled={!mayWrite} onClick={() => doBring(picked, 'set aside')}>
              Set aside {n(chosenLines.length)}
            </Button>
            <Button size="xs" variant="outline" disabled={!mayWrite} onClick={() => doBring(picked, 'keep')}>
              Keep {n(chosenLines.length)}
            </Button>
          </>
        )}
        <Button
          colorPalette="vine"
          size="sm"
          disabled={!mayWrite || fresh.length === 0}
          loading={bring.isPending || Boolean(busy)}
          onClick={() => doBring(picked.length ? picked : fresh)}
        >
          {fresh.length === 0
            ? 'All are in the pool'
            : `Bring ${picked.length ? n(chosenLines.length) : `all ${n(fresh.length)}`} into the pool`}
        </Button>
      </Flex>
      {everything.length > 0 && (
        <Flex gap="10px" align="center" mb="6px" fontSize="13px" color="soft">
          <NativeSelect.Root size="xs" w="190px">
            <NativeSelect.Field
              aria-label="Order of records"
              value={order}
              onChange={e => setOrder(e.target.value as Order)}
              bg="surface"
            >
              {Object.entries(ORDERS).map(([key, o]) => (
                <option key={key} value={key}>
                  {o.name}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <Tick checked={told} set={setTold}>
            abstracts
          </Tick>
          {sweep.foundNew !== null && (
            <Tick checked={onlyNew} set={setOnlyNew}>
              only what is new since the run before ({n(sweep.foundNew)})
            </Tick>
          )}
          {fetched > everything.length && (
            <span>The first {n(everything.length)} are listed; bringing all takes every one.</span>
          )}
        </Flex>
      )}
      {busy && (
        <Flex gap="12px" align="center" mb="6px" fontSize="13px" role="status">
          <Box w="220px">
            <Meter
              share={Number(busy.progress.of) ? Number(busy.progress.done) / Number(busy.progress.of) : 0}
              label="Bringing records in"
            />
          </Box>
          {busy.progress.of
            ? `${n(Number(busy.progress.done))} of ${n(Number(busy.progress.of))} are in`
            : 'looking which are one work'}
          <Button size="2xs" variant="outline" disabled={busy.cancelAsked} onClick={() => stop.mutate(busy.id)}>
            {busy.cancelAsked ? 'Stopping …' : 'Stop'}
          </Button>
          <chakra.span color="soft">They come in together or not at all.</chakra.span>
        </Flex>
      )}
      {came && <Brought what={came} close={() => setBrought('closed')} />}
      {records.isPending && <Waiting what="Fetching records" />}
      {!records.isPending && !running && list.length === 0 && (
        <Empty
          title={sweep.catalogues.every(c => c.state === 'failed') ? 'No catalogue answered' : 'Nothing was found'}
        >
          {sweep.catalogues.every(c => c.state === 'failed')
            ? 'Each says at the left what went wrong, and can be asked again.'
            : 'Take out the narrowest word, or put an asterisk behind a word’s stem to take all its endings.'}
        </Empty>
      )}
      <Box
        borderTop="1px solid"
        borderColor="hair"
        css={{
          '@media (hover: hover)': {
            '& .one': { opacity: 0, position: 'absolute', right: '8px', bottom: '4px', background: 'inherit' },
            '& > *:hover .one, & > *:focus-within .one': { opacity: 1, background: 'var(--chakra-colors-surface)' },
          },
        }}
      >
        {lines.slice(0, shown).map(line => {
          const { id, of, r } = line
          const inPool = of.find(x => x.work !== null)
          return (
            <RecordLine
              key={id}
              title={plainTitle(r.item.title)}
              authors={authorLine(r.item.author ?? r.item.editor)}
              container={r.item['container-title'] ?? r.item.publisher ?? ''}
              year={yearOf(r.item) ?? null}
              pages={r.pages}
              kind={r.kind}
              confidence={r.confidence}
              perYear={r.perYear}
              state={inPool?.state ?? 'unread'}
              query={query}
              below={
                (told || unfolded.has(id)) &&
                r.item.abstract && (
                  <Text mt="4px" fontFamily="serif" fontSize="13.5px" lineHeight="20px">
                    <Marked text={r.item.abstract} query={query} />
                  </Text>
                )
              }
              aside={
                <>
                  <Catalogues names={[...new Set(of.map(x => names.get(x.catalogue) ?? x.catalogue))]} />
                  {inPool ? (
                    <chakra.span display="block" color="vine">
                      in your pool
                    </chakra.span>
                  ) : (
                    mayWrite && (
                      <OneRecord
                        title={plainTitle(r.item.title)}
                        act={choice =>
                          doBring(
                            of.filter(x => x.work === null),
                            choice,
                          )
                        }
                      />
                    )
                  )}
                </>
              }
              {...(inPool
                ? { onOpen: () => open(inPool.work!) }
                : r.item.abstract
                  ? { onOpen: () => setUnfolded(before => withMember(before, id, !before.has(id))) }
                  : {})}
              choose={
                isFresh(line) ? (
                  <LineTick
                    label={`Choose: ${plainTitle(r.item.title)}`}
                    disabled={!mayWrite}
                    checked={chosen.has(id)}
                    set={on => setChosen(before => withMember(before, id, on))}
                  />
                ) : (
                  fresh.length > 0 && <Box w="16px" flex="none" />
                )
              }
            />
          )
        })}
      </Box>
      {lines.length > shown && (
        <Flex py="12px" gap="12px" align="center" fontSize="13px" color="soft">
          <Button size="xs" variant="outline" onClick={() => setShown(x => x + 4 * SHOWN)}>
            Show {n(Math.min(4 * SHOWN, lines.length - shown))} more
          </Button>
          {n(shown)} of {n(lines.length)} are shown; bringing all takes every one.
        </Flex>
      )}
    </>
  )
}

const count = (x: number, one: string): string => `${n(x)} ${x === 1 ? one : `${one}s`}`

/** What came into the pool, with a way to see each part of it. */
function Brought({ what: p, close }: { what: Pooled; close: () => void }) {
  const { inquiry } = useHere()
  const to = (which: 'new' | 'known', words: string) => (
    <Link
      to={`/inquiries/${inquiry.id}/sift?view=list&came=${encodeURIComponent(`${p.arrival} ${which}`)}`}
      style={{ textDecoration: 'underline', textUnderlineOffset: 3 }}
    >
      {words}
    </Link>
  )
  return (
    <Box mb="8px">
      <Notice
        voice="vine"
        action={
          <Button size="2xs" variant="ghost" onClick={close}>
            Close
          </Button>
        }
      >
        {count(p.records, 'record')}: {p.newWorks ? to('new', count(p.newWorks, 'new work')) : '0 new works'},{' '}
        {p.known && p.arrival ? to('known', `${n(p.known)} known`) : `${n(p.known)} known`}
        {p.asked > 0 && (
          <>
            {'; '}
            <Link to={`/inquiries/${inquiry.id}/sift?view=twins`} style={{ textDecoration: 'underline' }}>
              {count(p.asked, 'pair')} to look at
            </Link>
          </>
        )}
        .
      </Notice>
    </Box>
  )
}

/** The catalogues that have a work: the first by name, of many the others by their number. */
function Catalogues({ names }: { names: string[] }) {
  const [first, ...others] = names
  if (!others.length) return <>{first}</>
  return (
    <span title={names.join(', ')}>
      {first} <chakra.span whiteSpace="nowrap">and {others.length} more</chakra.span>
    </span>
  )
}

/** What can be done with one record: shown where the pointer or the keys are. */
function OneRecord({ title, act }: { title: string; act: (choice?: Choice) => void }) {
  const acts: { word: string; choice?: Choice }[] = [
    { word: 'bring in' },
    { word: 'keep', choice: 'keep' },
    { word: 'set aside', choice: 'set aside' },
  ]
  return (
    <Flex className="one" gap="12px" zIndex="1" pl="10px">
      {acts.map(a => (
        <chakra.button
          key={a.word}
          type="button"
          aria-label={`${a.word}: ${title}`}
          minH="24px"
          color="vine"
          textDecoration="underline"
          textDecorationColor="hair"
          textUnderlineOffset="3px"
          onClick={() => act(a.choice)}
        >
          {a.word}
        </chakra.button>
      ))}
    </Flex>
  )
}
