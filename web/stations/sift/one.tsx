import { Box, Button, Flex } from '@chakra-ui/react'
import { memo, useEffect, useMemo, useState } from 'react'
import { useQueryClient } from '@tanstack/react-query'
import { Link } from 'react-router'
import { isComplete, itemRefereed } from '../../../core/appraise/kind'
import { authorLine } from '../../../core/bib/names'
import type { QueryNode } from '../../../core/query/cql'
import type { Choice, State } from '../../../core/sift/decisions'
import { STANDING } from '../../../core/sift/limits'
import { lineIn, placeOf } from '../../../core/sift/line'
import { ofQuery, useOf } from '../../api/hooks'
import { api } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { sayLanguage } from '../../../core/query/languages'
import { useSayAge } from '../../frame/cited-ages'
import { useDecide } from '../../frame/decide'
import { useLead } from '../../frame/lead'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeyMap, keyName, useKeys } from '../../frame/keys'
import { ReachMark } from '../../frame/marks'
import { sureness } from '../../frame/record-line'
import { Empty, Heading, Kbd, Source, Waiting } from '../../frame/parts'
import { Marked } from '../../frame/rich'
import { useStable } from '../../frame/use-stable'
import { NothingLeft } from './beyond'
import { Left } from './left'
import { Reasons } from '../../frame/reasons'
import type { ReadingOrder } from './use-order'
import { Vine } from './vine'

/** Letters beyond which a title is set smaller, so that its abstract stays in sight. */
const LONG = 220
/** Decided works that the vine has room for, at the most. */
const REACH = 60

/** The pass by abstract: one work in the middle, the queue as a vine beside it. */
export function OneAtATime({
  works,
  standing,
  queue,
  order: reading,
  learned,
  query,
  mayWrite,
}: {
  works: readonly WorkLine[]
  /** Where each work stands, in its place: one of `STANDING`. */
  standing: Uint8Array
  /** Places of what is to be decided, in the order of reading. */
  queue: Uint32Array
  order: ReadingOrder
  /** Whether the queue stands in the learned order. */
  learned: boolean
  query: QueryNode | undefined
  mayWrite: boolean
}) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const { decide, undo } = useDecide(inquiry.id)
  const follow = useLead()
  // the order of the session: what was decided before it stays behind, what is decided in it grows on the vine
  const [trail, setTrail] = useState<number[]>([])
  // what is being read stays, however the order changes behind it
  const idAt = (place: number | undefined) => (place === undefined ? undefined : works[place]?.id)
  const [at, setAt] = useState<number | undefined>(() => idAt(queue[0]))
  const passed = useMemo(() => new Set(trail), [trail])
  /** The first that is neither decided here nor `but`. */
  const firstLeft = (but?: number) => idAt(queue.find(place => idAt(place) !== but && !passed.has(idAt(place)!)))
  const id = at ?? firstLeft() ?? idAt(queue[0])
  const line = id === undefined ? undefined : lineIn(works, id)
  /** The work so many after the one that is read, or before it: first what was decided here, then what is to be. */
  const beside = (by: 1 | -1): number | undefined => {
    let before: number | undefined
    let found = false
    for (const next of sequence()) {
      if (found) return next
      found = next === id
      if (found && by < 0) return before
      before = next
    }
    return undefined
  }
  function* sequence(): Generator<number> {
    yield* trail
    for (const place of queue) if (!passed.has(works[place]!.id)) yield works[place]!.id
  }
  const [asking, setAsking] = useState(false)
  const step = (by: 1 | -1) => {
    const next = beside(by)
    if (next !== undefined) setAt(next)
  }
  const choose = (choice: 'keep' | 'set aside' | 'later', reason?: string) => {
    if (!line || !mayWrite) return
    decide([line.id], choice, 'abstract', reason)
    setAsking(false)
    setTrail(t => (t.includes(line.id) ? t : [...t, line.id]))
    setAt(firstLeft(line.id))
  }
  const back = () => {
    undo()
    setTrail(t => {
      const last = t.at(-1)
      if (last !== undefined) setAt(last)
      return t.slice(0, -1)
    })
  }
  useKeys(
    {
      keep: () => choose('keep'),
      aside: () => setAsking(true),
      later: () => choose('later'),
      undo: back,
      next: () => step(1),
      previous: () => step(-1),
      open: () => line && open(line.id),
      lead: () => line && mayWrite && follow(line.id),
    },
    !asking,
  )
  // nothing of it hangs on the work that is read
  const left = useMemo(() => <Left />, [])
  const chosen = useStable((c: Choice) => (c === 'set aside' ? setAsking(true) : choose(c)))
  const wentBack = useStable(back)
  const opened = useStable(() => line && open(line.id))
  const upcoming = useStable(() => beside(1))
  // the next work is there before it is asked for
  const client = useQueryClient()
  useEffect(() => {
    // once the one that is read has been painted
    const timer = setTimeout(() => {
      const following = upcoming()
      if (following !== undefined)
        void client.prefetchQuery({
          ...ofQuery(inquiry.id, api.work, { params: { work: following } }),
          staleTime: 60_000,
        })
    }, 40)
    return () => clearTimeout(timer)
  }, [client, inquiry.id, id, upcoming])
  const decided = useMemo(() => {
    const states = trail.filter(t => t !== id).flatMap(t => lineIn(works, t)?.state ?? [])
    // what was decided before stands further up, as far as the vine reaches
    for (let place = works.length - 1; place >= 0 && states.length < REACH; place--) {
      const w = works[place]!
      if (standing[place]! >= STANDING.KEPT && w.id !== id && !passed.has(w.id)) states.unshift(w.state)
    }
    return states
  }, [works, standing, trail, passed, id])
  return (
    <div className="pass">
      <div className="pass-vine">
        <Vine
          decided={decided}
          unread={queue.length - Number(line !== undefined && standing[placeOf(works, line.id)]! < STANDING.KEPT)}
          choose={chosen}
          active={Boolean(line) && mayWrite}
        />
      </div>
      <div className="pass-work">
        <div className="pass-text">
          {line ? (
            <Reading id={line.id} line={line} query={query} />
          ) : (
            <NothingLeft>
              <Done works={works} />
            </NothingLeft>
          )}
        </div>
        {asking && line && <Reasons choose={r => choose('set aside', r)} cancel={() => setAsking(false)} />}
        {line && !asking && <Thumbs choose={chosen} mayWrite={mayWrite} />}
        <Below back={wentBack} open={opened} />
      </div>
      <div className="pass-side">
        {line && (
          <>
            {learned && <WhyHere id={line.id} order={reading} decided={standing.some(s => s !== STANDING.UNREAD)} />}
            <Evidence id={line.id} line={line} follow={follow} />
            {left}
          </>
        )}
      </div>
    </div>
  )
}

/** The three choices in reach of a thumb, where the screen is small. */
const Thumbs = memo(function Thumbs({ choose, mayWrite }: { choose: (c: Choice) => void; mayWrite: boolean }) {
  return (
    <Flex
      display={{ base: 'flex', md: 'none' }}
      gap="8px"
      p="12px"
      borderTop="1px solid"
      borderColor="hair"
      position="sticky"
      bottom="0"
      bg="surface"
      zIndex="1"
    >
      <Button flex="1" variant="outline" onClick={() => choose('set aside')} disabled={!mayWrite}>
        Set aside
      </Button>
      <Button flex="1" variant="outline" onClick={() => choose('later')} disabled={!mayWrite}>
        Later
      </Button>
      <Button flex="1" colorPalette="vine" onClick={() => choose('keep')} disabled={!mayWrite}>
        Keep
      </Button>
    </Flex>
  )
})

const Below = memo(function Below({ back, open }: { back: () => void; open: () => void }) {
  const map = useKeyMap()
  return (
    <div className="foot" data-wide>
      <button type="button" onClick={back}>
        undo <Kbd>{keyName(map.undo)}</Kbd>
      </button>
      <button type="button" onClick={open}>
        work sheet <Kbd>{keyName(map.open)}</Kbd>
      </button>
      <button type="button" data-last onClick={() => window.dispatchEvent(new Event('vine-help'))}>
        keys <Kbd>?</Kbd>
      </button>
    </div>
  )
})

const Reading = memo(function Reading({
  id,
  line,
  query,
}: {
  id: number
  line: WorkLine
  query: QueryNode | undefined
}) {
  const { inquiry } = useHere()
  const work = useOf(inquiry.id, api.work, { params: { work: id } })
  const i = work.data?.item
  return (
    <article aria-live="polite" aria-label="Work to decide on">
      {line.state !== 'unread' && (
        <p className="small soft" style={{ marginBottom: 8 }}>
          now {line.state}
          {line.reason ? `: ${line.reason}` : ''}
        </p>
      )}
      <h1 className="pass-title" data-long={line.title.length > LONG || undefined} dir="auto">
        <Marked text={line.title} query={query} />
      </h1>
      <Source
        authors={authorLine(i?.author ?? i?.editor, 6) || line.authors}
        container={line.container}
        numbers={[i?.volume, i?.issue && `(${i.issue})`].filter(Boolean).join(' ')}
        year={line.year ?? 'no year'}
        pages={line.pages}
      />
      {work.isPending && <Waiting what="Fetching the abstract" />}
      {i?.abstract && (
        <p className="pass-abstract" dir="auto">
          <Marked text={i.abstract} query={query} />
        </p>
      )}
      {work.data && !i?.abstract && (
        <p className="soft" style={{ marginTop: 14, fontSize: 14 }}>
          No catalogue gives an abstract.
        </p>
      )}
      {work.data?.facts.keywords && (
        <div className="keywords">
          Keywords
          {work.data.facts.keywords.map(k => (
            <span key={k}>{k}</span>
          ))}
        </div>
      )}
    </article>
  )
})

const yes = (v: boolean | undefined): string => (v === undefined ? 'not known' : v ? 'yes' : 'no')

/** Why the learned order brings this work now. */
function WhyHere({ id, order, decided }: { id: number; order: ReadingOrder; decided: boolean }) {
  const [words, setWords] = useState<{ id: number; towards: string[]; away: string[] }>()
  const { why, ranked } = order
  useEffect(() => {
    let here = true
    if (ranked) void why(id).then(w => here && setWords({ id, ...w }))
    return () => {
      here = false
    }
  }, [id, why, ranked])
  const shown = words?.id === id ? words : undefined
  return (
    <div style={{ marginBottom: 18, minHeight: 62 }}>
      <Heading>Why now</Heading>
      <p className="small">
        {order.chance.has(id)
          ? 'Drawn by chance, as every tenth is, so that what was not thought of can come up.'
          : !shown
            ? ''
            : !shown.towards.length
              ? 'Nothing speaks for it yet'
              : decided
                ? 'Your decisions so far speak for '
                : 'Nothing is decided yet; of your question’s words it has '}
        {!order.chance.has(id) &&
          shown?.towards.map((w, i) => (
            <span key={w}>
              {i > 0 && ', '}
              <b className="word">{w}</b>
            </span>
          ))}
        {!order.chance.has(id) && shown && shown.away.length > 0 && decided && (
          <span className="soft">; against it, {shown.away.slice(0, 2).join(', ')}</span>
        )}
        {!order.chance.has(id) && shown && '.'}
      </p>
    </div>
  )
}

const Evidence = memo(function Evidence({
  id,
  line,
  follow,
}: {
  id: number
  line: WorkLine
  follow: (work: number) => void
}) {
  const { inquiry, mayWrite } = useHere()
  const map = useKeyMap()
  const work = useOf(inquiry.id, api.work, { params: { work: id } }).data
  const age = useSayAge()
  const pair = (name: string, value: React.ReactNode) => (
    <div className="fact">
      <span>{name}</span>
      <b>{value}</b>
    </div>
  )
  return (
    <>
      <Heading>What this is</Heading>
      <p className="kind-is">
        <b>{line.kind.charAt(0).toUpperCase() + line.kind.slice(1)}</b>
        <span className="soft">{sureness(line.kind, line.confidence, line.ownKind)}</span>
      </p>
      {work?.judged && (
        <p className="small soft" style={{ marginBottom: 6 }}>
          The evidence speaks for{' '}
          {[work.judged.kind, sureness(work.judged.kind, work.judged.confidence)].filter(Boolean).join(', ')}:
        </p>
      )}
      {work?.evidence.map(e => (
        <p key={e} className="speaks">
          {e}
        </p>
      ))}
      {work?.lead && (
        <Flex
          gap="8px"
          fontSize="13px"
          lineHeight="18px"
          my="8px"
          align="center"
          bg="grape.soft"
          borderRadius="md"
          p="8px 10px"
        >
          <Box flex="1" color="grape">
            A lead: {work.lead.what}, “{work.lead.title}”{work.lead.author && `, ${work.lead.author}`}
          </Box>
          {mayWrite && (
            <Button size="2xs" variant="outline" bg="surface" flex="none" onClick={() => follow(id)}>
              Look for it <Kbd>{keyName(map.lead)}</Kbd>
            </Button>
          )}
        </Flex>
      )}
      {work && !work.copies.some(c => c.outcome === 'proved') && (
        <p className="speaks" data-lacking>
          Not yet checked against its own text
        </p>
      )}
      {work && (
        <div style={{ marginTop: 10 }}>
          {pair('Venue refereed', yes(work.facts.refereedVenue))}
          {pair('Itself refereed', yes(itemRefereed(line.kind, work.facts, work.signs)))}
          {isComplete(line.kind) === false && pair('Complete', 'no, an abstract only')}
          {pair(
            'Language',
            line.language ? sayLanguage(line.language) + (work.facts.languageTold ? ', by its words' : '') : 'not said',
          )}
          {pair('Pages', line.pageCount ?? 'not said')}
          {line.year !== null && pair('Age', age(line.year))}
          {pair(
            'Cited',
            line.perYear !== null
              ? `${line.perYear.toFixed(1)} a year`
              : line.citedBy !== null
                ? 'too new to tell'
                : 'not known',
          )}
          {pair(
            'Records',
            `${work.records.length}, from ${new Set(work.records.map(r => r.source)).size === 1 ? work.records[0]!.source : `${new Set(work.records.map(r => r.source)).size} sources`}`,
          )}
          {work.asked.length > 0 &&
            pair(
              'To look at',
              `${work.asked.length} possible ${work.asked.length === 1 ? 'twin' : 'twins'}, on the work sheet`,
            )}
        </div>
      )}
      <div style={{ marginTop: 18 }}>
        <Heading>Reach</Heading>
        <div className="small" style={{ display: 'flex', gap: 8 }}>
          <ReachMark reach={line.reach} />
          <p>
            <b>{line.reach.charAt(0).toUpperCase() + line.reach.slice(1)}</b>
            {line.reach === 'not asked'
              ? ': Obtain looks for the ways of all works you keep.'
              : work && `: ${work.reachSaid}`}
          </p>
        </div>
      </div>
    </>
  )
})

function Done({ works }: { works: readonly WorkLine[] }) {
  const { inquiry } = useHere()
  const count = (s: State) => works.filter(w => w.state === s).length
  return (
    <Empty
      title="Every work of the pool is decided"
      action={
        <Button asChild colorPalette="vine" size="sm">
          <Link to={`/inquiries/${inquiry.id}/trace`}>On to Trace</Link>
        </Button>
      }
    >
      {count('kept')} kept, {count('set aside')} set aside, {count('later')} left for later. The list shows them all;
      what is left for later can be taken up again there.
    </Empty>
  )
}
