import type { BodyOf } from '../../../core/schema/api/endpoint'
import { call } from '../../api/client'
import { Box, Button, chakra, Flex, Spinner, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useQuery } from '@tanstack/react-query'
import { useState } from 'react'
import type { Sheet } from '../../../core/query/sheet'
import { medianYear } from '../../../core/query/years'
import { useChange } from '../../api/hooks'
import { api, type Sweep, type SweepCatalogue } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, Notice, tellError, Tick, Waiting, withMember } from '../../frame/parts'
import { n, useCounts } from './use-counts'
import { Unread } from './unread'
import { WhyNone } from './why-none'

/**
 * The catalogues, each on or off: what it counts for the query now, what it cannot do with it, and what it gave in the
 * sweep that is shown.
 */
export function Catalogues({
  query,
  sheet,
  sweep,
  off,
  setOff,
}: {
  query: string | undefined
  sheet: Sheet
  /** The sweep that is shown, where it is of this query. */
  sweep: Sweep | undefined
  off: ReadonlySet<string>
  setOff: (off: Set<string>) => void
}) {
  const { inquiry, jobs, mayWrite } = useHere()
  const running = jobs.find(
    j =>
      (j.kind === 'sweep' || j.kind === 'standing') &&
      j.payload.sweepId === sweep?.id &&
      (j.state === 'running' || j.state === 'queued'),
  )
  const far = running?.progress.catalogues as Record<string, Far> | undefined
  const on = inquiry.catalogues.filter(c => !off.has(c.id)).map(c => c.id)
  const counts = useCounts(inquiry.id, query, on)
  const [about, setAbout] = useState<string>()
  const again = useChange(inquiry.id, api.fetchMore, (body: BodyOf<typeof api.fetchMore>) => ({
    params: { sweep: sweep?.id ?? 0 },
    body,
  }))
  return (
    <Box mt="20px">
      <Heading
        aside={
          sweep
            ? `as swept on ${format(parseISO(sweep.deskDay), 'd MMM')}, ${format(new Date(sweep.at), 'HH:mm')}`
            : undefined
        }
      >
        Catalogues
      </Heading>
      {inquiry.catalogues.map(c => {
        const part = sweep?.catalogues.find(x => x.catalogue === c.id)
        const now = counts.data?.counts.find(x => x.catalogue === c.id)
        const changes = part?.changes ?? now?.changes ?? []
        return (
          <Box key={c.id} borderTop="1px solid" borderColor="hair2" py="6px">
            <Flex align="center" gap="10px" fontSize="14px">
              <Tick checked={!off.has(c.id)} set={x => setOff(withMember(off, c.id, !x))}>
                {c.name}
              </Tick>
              <chakra.button
                type="button"
                aria-expanded={about === c.id}
                aria-label={`About ${c.name}`}
                color="soft"
                fontSize="12.5px"
                minH="24px"
                textDecoration="underline"
                textDecorationColor="hair"
                textUnderlineOffset="3px"
                onClick={() => setAbout(a => (a === c.id ? undefined : c.id))}
              >
                what it holds
              </chakra.button>
              <Box flex="1" />
              {part ? (
                <Answer part={part} far={far?.[c.id]} />
              ) : now?.error ? (
                <chakra.span fontSize="13px" color="amber" title={now.error}>
                  does not answer
                </chakra.span>
              ) : (
                <chakra.b color={now?.count ? 'ink' : 'soft'}>
                  {now ? (now.count === null ? '–' : n(now.count)) : query && !off.has(c.id) ? '…' : ''}
                </chakra.b>
              )}
            </Flex>
            {about === c.id && <About id={c.id} />}
            {part?.state === 'failed' && (
              <Box mt="6px">
                <Notice
                  voice="rust"
                  action={
                    mayWrite && (
                      <Button
                        size="2xs"
                        variant="outline"
                        onClick={() => again.mutate({ catalogue: c.id }, { onError: tellError })}
                      >
                        Ask again
                      </Button>
                    )
                  }
                >
                  {part.error} What it gave before and the others’ results stand.
                </Notice>
              </Box>
            )}
            {part?.state === 'done' && part.count !== null && part.fetched < part.count && (
              <Flex mt="4px" fontSize="12.5px" color="soft" align="center" gap="8px">
                <Text>
                  first {n(part.fetched)} of {n(part.count)} fetched
                </Text>
                {mayWrite && (
                  <Button
                    size="2xs"
                    variant="outline"
                    onClick={() =>
                      again.mutate(
                        { catalogue: c.id, most: Math.min(part.count!, part.fetched + 400) },
                        { onError: tellError },
                      )
                    }
                  >
                    Fetch {n(Math.min(400, part.count - part.fetched))} more
                  </Button>
                )}
              </Flex>
            )}
            {(part ? part.state === 'done' && part.count === 0 : now?.count === 0) && !off.has(c.id) && (
              <WhyNone catalogue={c.id} sheet={sheet} catalogues={on} />
            )}
            {sweep && part && part.unread > 0 && (
              <Unread sweep={sweep.id} catalogue={c.id} name={c.name} count={part.unread} />
            )}
            {changes.length > 0 && !off.has(c.id) && (
              <chakra.details fontSize="12.5px" lineHeight="17px" color="amber">
                <chakra.summary cursor="pointer" lineHeight="24px">
                  {part ? 'asked differently' : 'cannot ask it all'}:{' '}
                  {changes.length === 1 ? 'one change' : `${changes.length} changes`}
                </chakra.summary>
                {changes.map(x => (
                  <Text key={x}>– {x}</Text>
                ))}
              </chakra.details>
            )}
          </Box>
        )
      })}
    </Box>
  )
}

/** What a catalogue covers and can be asked, as it says itself. */
function About({ id }: { id: string }) {
  const { inquiry } = useHere()
  const held = useQuery({
    queryKey: ['catalogue', inquiry.id, id],
    queryFn: ({ signal }) => call(api.catalogue, { params: { inquiry: inquiry.id, catalogue: id }, signal }),
    staleTime: 600_000,
    retry: false,
  })
  if (held.isPending) return <Waiting what="Asking what it holds" />
  if (held.isError)
    return (
      <Text fontSize="12.5px" color="rust" py="4px">
        {held.error.message}
      </Text>
    )
  const { description, extent, abilities: can, years, subjects, types } = held.data
  const able = [
    can.truncation && 'any endings',
    can.proximity && 'words near each other',
    can.indexes?.includes('year') && 'limits of years',
    can.indexes?.includes('abstract') && 'words of the abstract',
  ].filter(Boolean)
  const most = (list: typeof types) =>
    list
      .slice(0, 5)
      .map(x => x.value)
      .join(', ')
  return (
    <Box fontSize="12.5px" lineHeight="18px" pb="4px" pl="26px">
      <Text>{description}</Text>
      <Text color="soft">
        {[
          extent,
          years.length > 1 && `of ${years[0]!.year} to ${years.at(-1)!.year}, half of them since ${medianYear(years)}`,
        ]
          .filter(Boolean)
          .join(', ')}
        .{types.length > 0 && ` Mostly ${most(types)}.`}
        {subjects.length > 0 && ` Subjects: ${most(subjects)}.`}
      </Text>
      <Text color="soft">
        It takes {able.length ? able.join(', ') : 'plain words only'}
        {can.window ? `, and gives the first ${n(can.window)} of an answer` : ''}.
      </Text>
    </Box>
  )
}

/** How far a catalogue is within a sweep that runs; `takenIn` while a repository is being taken in. */
interface Far {
  count: number | null
  fetched: number
  takenIn?: boolean
}

function Answer({ part, far }: { part: SweepCatalogue; far: Far | undefined }) {
  if (part.state === 'asking' || part.state === 'waiting') {
    return (
      <Flex align="center" gap="6px" color="soft" fontSize="13px">
        <Spinner size="xs" color="vine" />{' '}
        {far?.takenIn
          ? `taking in ${n(far.fetched)}${far.count ? ` of ${n(far.count)}` : ''}`
          : part.count === null
            ? 'asking'
            : `${n(part.fetched)} of ${n(part.count)}`}
      </Flex>
    )
  }
  if (part.state === 'failed')
    return (
      <Text fontSize="13px" color="rust">
        failed
      </Text>
    )
  return <Text fontWeight="600">{n(part.count ?? 0)}</Text>
}
