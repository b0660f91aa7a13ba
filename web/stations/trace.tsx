import { plainTitle } from '../../core/bib/clean'
import { Box, Button, Flex, Tabs, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useSearchParams } from 'react-router'
import { authorLine } from '../../core/bib/names'
import { yearOf } from '../../core/bib/dates'
import { useChange, useOf, useWorks } from '../api/hooks'
import { api, type Trail } from '../../core/schema/api'
import type { WorkLine } from '../../core/sift/line'
import { useHere, useOpenWork } from '../frame/inquiry-frame'
import { Empty, Failed, tell, tellError, Tick, Waiting, withMember } from '../frame/parts'
import { RecordLine } from '../frame/record-line'
import { Trellis } from './trellis'

type Direction = 'references' | 'cited-by'

/** A work in the middle of its field has neighbours on both sides; the citation index needs a DOI. */
function startFrom(kept: WorkLine[]): WorkLine | undefined {
  const findable = kept.filter(w => w.doi)
  return findable[findable.length >> 1] ?? kept[0]
}

interface Walked {
  /** As it was walked last. */
  trail: Trail | undefined
  /** How far the walk is, while it is under way. */
  walking: string | undefined
  /** Why there is none, where asking again would not help. */
  none: string | undefined
  /** What went wrong, and may go right next time. */
  error: Error | undefined
  again: () => void
}

/** A trail of a work. One that was not walked yet is walked as soon as somebody who may looks at it. */
function useTrail(work: WorkLine | undefined, direction: Direction): Walked {
  const { inquiry, jobs, mayWrite } = useHere()
  const id = work?.id ?? 0
  const read = useOf(inquiry.id, api.trail, { params: { work: id, direction }, enabled: id > 0 })
  const { mutate, error: refused } = useChange(inquiry.id, api.walkTrail, (of: number) => ({
    params: { work: of, direction },
  }))
  const job = jobs.findLast(j => j.kind === 'trail' && j.payload.work === id && j.payload.direction === direction)
  const unwalked = read.data?.walkedAt === null
  const findable = Boolean(work?.doi)
  const begun = useRef(new Set<number>())
  useEffect(() => {
    if (!unwalked || !mayWrite || !findable || begun.current.has(id)) return
    begun.current.add(id)
    mutate(id)
  }, [unwalked, mayWrite, findable, id, mutate])
  const from = read.data?.from ?? 'The citation index'
  const none = !unwalked
    ? undefined
    : !findable
      ? `${from} finds works by DOI, and this one has none on record.`
      : !mayWrite
        ? 'This trail was not walked yet. Who owns the inquiry can walk it.'
        : job?.result?.known === false
          ? `${from} does not know this work.`
          : undefined
  const failed = job?.state === 'failed' ? new Error(job.error ?? 'The walk did not come to an end.') : undefined
  const { done, of } = (job?.progress ?? {}) as { done?: number; of?: number }
  return {
    trail: unwalked ? undefined : read.data,
    walking: of ? `Walking the trail: ${done} of ${of}` : undefined,
    none,
    error: read.error ?? (unwalked ? (refused ?? failed) : undefined) ?? undefined,
    again: () => (read.error ? void read.refetch() : mutate(id)),
  }
}

export function Trace() {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id)
  const [search, setSearch] = useSearchParams()
  const [direction, setDirection] = useState<Direction>('references')
  const kept = useMemo(
    () => (works.data ?? []).filter(w => w.state === 'kept').sort((a, b) => (a.year ?? 0) - (b.year ?? 0)),
    [works.data],
  )
  const chosen = kept.find(w => w.id === Number(search.get('from'))) ?? startFrom(kept)
  const choose = (id: number) =>
    setSearch(p => {
      p.set('from', String(id))
      return p
    })
  const references = useTrail(chosen, 'references')
  const citedBy = useTrail(chosen, 'cited-by')
  if (works.isPending) return <Waiting what="Opening the pool" />
  if (works.isError) return <Failed error={works.error} again={() => void works.refetch()} />
  if (!chosen) {
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
  }
  const trail = direction === 'references' ? references : citedBy
  return (
    <Flex direction={{ base: 'column', lg: 'row' }} h={{ lg: 'full' }}>
      <Flex direction="column" flex="1" minW="0" px="20px" pt="14px" maxH={{ lg: '100%' }}>
        <Text fontSize="13.5px" color="soft" mb="6px">
          <Text as="span" fontWeight="600" color="ink">
            Trellis
          </Text>{' '}
          · {kept.length} kept works by year; strokes count the chosen work’s neighbours that are not in your pool
        </Text>
        <Trellis
          kept={kept}
          chosen={chosen}
          references={references.trail?.neighbours ?? []}
          citedBy={citedBy.trail?.neighbours ?? []}
          choose={choose}
        />
        <Box mt="8px" borderTop="1px solid" borderColor="hair" flex="1" minH="160px" overflow="auto">
          {kept.map(w => (
            <RecordLine
              key={w.id}
              {...w}
              pages={w.pageCount}
              current={w.id === chosen.id}
              onOpen={() => choose(w.id)}
            />
          ))}
        </Box>
      </Flex>
      <Box
        w={{ base: '100%', lg: '470px' }}
        flex="none"
        overflow="auto"
        borderLeft="1px solid"
        borderColor="hair"
        px="20px"
        py="14px"
        bg="surface"
      >
        <Neighbours
          key={`${chosen.id} ${direction}`}
          origin={chosen}
          direction={direction}
          setDirection={setDirection}
          {...trail}
          counts={[references.trail?.total, citedBy.trail?.total]}
        />
      </Box>
    </Flex>
  )
}

function Neighbours({
  origin,
  direction,
  setDirection,
  trail,
  walking,
  none,
  error,
  again,
  counts,
}: {
  origin: WorkLine
  direction: Direction
  setDirection: (d: Direction) => void
  counts: [number | undefined, number | undefined]
} & Walked) {
  const { inquiry, mayWrite } = useHere()
  const open = useOpenWork()
  const [chosen, setChosen] = useState<Set<string>>(new Set())
  const add = useChange(inquiry.id, api.bringFromTrail, (keys: string[]) => ({
    params: { work: origin.id, direction },
    body: { keys },
  }))
  return (
    <>
      <Text fontFamily="serif" fontWeight="600" fontSize="17px" lineHeight="23px">
        {origin.title}
      </Text>
      <Flex justify="space-between" fontSize="13px" lineHeight="18px" color="soft" mb="10px">
        <Text>
          {origin.authors} · {origin.year}
        </Text>
        <Button size="2xs" variant="ghost" onClick={() => open(origin.id)}>
          Work sheet
        </Button>
      </Flex>
      <Tabs.Root
        value={direction}
        onValueChange={e => setDirection(e.value as Direction)}
        variant="line"
        colorPalette="grape"
        size="sm"
      >
        <Tabs.List>
          <Tabs.Trigger value="references">References {counts[0] ?? ''}</Tabs.Trigger>
          <Tabs.Trigger value="cited-by">Cited by {counts[1] ?? ''}</Tabs.Trigger>
        </Tabs.List>
        <Tabs.Content value={direction} p="0">
          {none ? (
            <Empty title="No trail from this work">{none} Choose another kept work at the left.</Empty>
          ) : error ? (
            <Failed error={error} again={again} />
          ) : !trail ? (
            <Waiting what={walking ?? 'Walking the trail'} />
          ) : null}
          {trail && (
            <>
              <Flex align="center" py="8px" gap="8px">
                <Text flex="1" fontSize="12.5px" lineHeight="17px" color="soft">
                  From {trail.from}, by citations a year. {trail.neighbours.filter(n => n.work !== null).length} are in
                  your pool.
                  {trail.neighbours.length < trail.total && ` The first ${trail.neighbours.length} of ${trail.total}.`}
                </Text>
                <Button
                  size="xs"
                  colorPalette="grape"
                  disabled={!chosen.size || !mayWrite}
                  loading={add.isPending}
                  onClick={() =>
                    add.mutate([...chosen], {
                      onSuccess: got => {
                        setChosen(new Set())
                        tell(
                          `${got.newWorks} new ${got.newWorks === 1 ? 'work' : 'works'} in the pool${got.known ? `, ${got.known} known` : ''}.`,
                        )
                      },
                      onError: tellError,
                    })
                  }
                >
                  Bring {chosen.size || ''} into the pool
                </Button>
              </Flex>
              <Box borderTop="1px solid" borderColor="hair">
                {!trail.neighbours.length && (
                  <Empty title={direction === 'references' ? 'No references on record' : 'Nobody cites it yet'} />
                )}
                {trail.neighbours.map(n => (
                  <Compact
                    key={n.key}
                    title={plainTitle(n.item.title)}
                    source={[authorLine(n.item.author), n.item['container-title'] ?? n.item.publisher, yearOf(n.item)]
                      .filter(Boolean)
                      .join(' · ')}
                    rate={
                      n.perYear !== null
                        ? `${n.perYear.toFixed(1)} a year`
                        : n.citedBy !== null
                          ? 'too new'
                          : 'not known'
                    }
                    inPool={n.work !== null}
                    open={n.work !== null ? () => open(n.work!) : undefined}
                    chosen={chosen.has(n.key)}
                    disabled={!mayWrite}
                    set={on => setChosen(b => withMember(b, n.key, on))}
                  />
                ))}
              </Box>
            </>
          )}
        </Tabs.Content>
      </Tabs.Root>
    </>
  )
}

/** A neighbour in the narrow column: the record line's order, without its columns. */
function Compact({
  title,
  source,
  rate,
  inPool,
  open,
  chosen,
  disabled,
  set,
}: {
  title: string
  source: string
  rate: string
  inPool: boolean
  open: (() => void) | undefined
  chosen: boolean
  disabled: boolean
  set: (on: boolean) => void
}) {
  return (
    <Flex gap="10px" py="8px" borderBottom="1px solid" borderColor="hair2" align="flex-start">
      <Tick
        voice="grape"
        label={`Choose: ${title}`}
        checked={inPool || chosen}
        disabled={inPool || disabled}
        set={set}
      />
      <Box flex="1" minW="0" onClick={open} cursor={open ? 'pointer' : undefined}>
        <Text fontFamily="serif" fontWeight="600" fontSize="14px" lineHeight="19px">
          {title}
        </Text>
        <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate>
          {source}
        </Text>
      </Box>
      <Text flex="none" w="72px" textAlign="right" fontSize="12.5px" lineHeight="18px" color="grape">
        {rate}
        {inPool && (
          <Text as="span" display="block" color="vine">
            in pool
          </Text>
        )}
      </Text>
    </Flex>
  )
}
