import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { Link } from 'react-router'
import { compareCalls } from '../../../core/access/call-number'
import { reportOfShelf } from '../../../core/access/letter'
import { bestWay } from '../../../core/access/doing'
import { hoursAt } from '../../../core/access/hours'
import type { Route } from '../../../core/access/routes'
import { api, type Obtainable } from '../../../core/schema/api'
import { useChange, useOf } from '../../api/hooks'
import { weekDay } from '../../frame/due'
import { useHere } from '../../frame/inquiry-frame'
import { isUnderWay } from '../../frame/job-meter'
import { Empty, Failed, tellError, Waiting } from '../../frame/parts'
import { LibraryLetter } from './at-hand'
import { wayName } from './way-words'

interface OnShelf {
  row: Obtainable
  route: Route & { shelf: NonNullable<Route['shelf']> }
}

/**
 * What stands where, in the order in which one walks along the shelves: by branch, then by call number.
 * @param isOfMany several libraries are asked, so that it is said which of them it is
 */
function byBranch(rows: readonly Obtainable[], isOfMany: boolean): [branch: string, list: OnShelf[]][] {
  const all = rows
    .filter(r => r.reach !== 'in hand')
    .flatMap(row =>
      (row.routes ?? []).flatMap(r => (r.way === 'shelf' && r.shelf ? { row, route: { ...r, shelf: r.shelf } } : [])),
    )
  const of = new Map<string, OnShelf[]>()
  for (const x of all) {
    const at = [isOfMany && !x.route.partner ? x.route.library?.name : undefined, x.route.from]
      .filter(Boolean)
      .join(', ')
    of.set(at, [...(of.get(at) ?? []), x])
  }
  // one goes along the own shelves first
  const isFar = (list: readonly OnShelf[]) => Number(list[0]!.route.partner !== undefined)
  return [...of]
    .sort(([a, one], [b, other]) => isFar(one) - isFar(other) || a.localeCompare(b))
    .map(([branch, list]) => [branch, list.sort((a, b) => compareCalls(a.route.shelf.call, b.route.shelf.call))])
}

/** A list to take along to the shelves, on paper or on a phone. */
export function ShelfList() {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.ways)
  const hours = useOf(inquiry.id, api.hours)
  const look = useChange(inquiry.id, api.lookForWays, (works: number[]) => ({ body: { works } }))
  const looking = jobs.some(j => j.kind === 'routes' && isUnderWay(j))
  if (list.isPending) return <Waiting what="Opening the shelf list" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const branches = byBranch(list.data, inquiry.libraries.length > 1)
  /** Whether a branch is open; its own hours, else those of its library. */
  const opens = ({ route }: OnShelf): string =>
    hoursAt(hours.data?.filter(h => h.library === route.library?.key) ?? [], route)?.said ?? ''
  const back = (
    <Button asChild size="xs" variant="ghost">
      <Link to={`/inquiries/${inquiry.id}/obtain`}>All ways</Link>
    </Button>
  )
  if (!branches.length)
    return (
      <Empty title="Nothing on a shelf" action={back}>
        Books and theses that stand in the library come here with their call numbers, as soon as ways were looked for.
      </Empty>
    )
  const all = branches.flatMap(([, l]) => l)
  const out = all.filter(x => x.route.shelf.out).length
  // what was asked longest ago says how far all of it is to be trusted
  const asked = all.flatMap(x => x.route.shelf.day ?? []).sort()[0]
  return (
    <Box overflow="auto" h="full" data-shelf-list>
      <Box maxW="820px" mx="auto" px={{ base: '12px', md: '24px' }} py="16px">
        <Flex align="baseline" gap="12px" mb="10px" wrap="wrap">
          <Text as="h1" fontFamily="serif" fontWeight="600" fontSize="21px" flex="1" minW="200px">
            Shelf list{' '}
            <Text as="span" fontFamily="body" fontWeight="400" fontSize="14px" color="soft">
              {all.length} at {branches.length === 1 ? 'one branch' : `${branches.length} branches`}
              {out > 0 && `, ${out} of them out`}
              {asked && `; asked on ${weekDay(asked)}`}
            </Text>
          </Text>
          <Flex gap="12px" align="center" fontSize="13.5px" data-screen>
            {back}
            {mayWrite && asked && (
              <Button
                size="xs"
                variant="outline"
                loading={looking || look.isPending}
                loadingText="Asking the shelves"
                onClick={() => look.mutate([...new Set(all.map(x => x.row.id))], { onError: tellError })}
              >
                Ask again
              </Button>
            )}
            <Button size="xs" variant="outline" onClick={() => window.print()}>
              Print
            </Button>
          </Flex>
        </Flex>
        {branches.map(([branch, list]) => (
          <section key={branch} aria-label={branch}>
            <Text
              as="h2"
              fontWeight="600"
              fontSize="14px"
              pt="14px"
              pb="4px"
              borderBottom="1px solid"
              borderColor="line"
            >
              {branch}{' '}
              <Text as="span" fontWeight="400" fontSize="13px" color="soft">
                {[list[0]!.route.partner && list[0]!.route.asks, opens(list[0]!)].filter(Boolean).join(' · ')}
              </Text>
            </Text>
            <ul style={{ listStyle: 'none' }}>
              {list.map(x => (
                <Standing key={`${x.row.id} ${x.route.shelf.call}`} {...x} />
              ))}
            </ul>
          </section>
        ))}
      </Box>
    </Box>
  )
}

function Standing({ row, route }: OnShelf) {
  const { inquiry, mayWrite } = useHere()
  const { library } = route
  const { within, room, out, said, note, stays } = route.shelf
  const say = useChange(inquiry.id, api.lookedOnShelf, (found: boolean | null) => ({
    params: { work: row.id },
    body: { branch: route.from, call: route.shelf.call, library: route.library?.key, found },
  }))
  const found = route.walked && route.walked.ended === 'taken'
  const missing = found ? undefined : route.walked
  const next = missing ? bestWay(row.routes) : undefined
  const tick = (value: boolean, label: string, on: boolean | undefined) => (
    <Button
      size="xs"
      variant={on ? 'solid' : 'outline'}
      colorPalette={on && !value ? 'rust' : 'vine'}
      aria-pressed={Boolean(on)}
      onClick={() => say.mutate(on ? null : value, { onError: tellError })}
    >
      {label}
    </Button>
  )
  return (
    <Flex
      as="li"
      gap="14px"
      py="9px"
      borderBottom="1px solid"
      borderColor="hair"
      align={{ base: 'flex-start', md: missing ? 'flex-start' : 'center' }}
      direction={{ base: 'column', md: 'row' }}
    >
      <Text
        fontFamily="serif"
        fontWeight="600"
        fontSize="17px"
        lineHeight="24px"
        w={{ md: '170px' }}
        flex="none"
        textDecoration={found ? 'line-through' : undefined}
      >
        {route.shelf.call}
      </Text>
      <Stack gap="1px" flex="1" minW="0">
        <Text fontSize="14px" lineHeight="19px">
          {row.title}
        </Text>
        <Text fontSize="12.5px" lineHeight="17px" color="soft">
          {[row.authors, row.year].filter(Boolean).join(' · ')}
        </Text>
        {within && (
          <Text fontSize="12.5px" lineHeight="17px">
            in {within}
          </Text>
        )}
        {!found && (
          <Text fontSize="12.5px" lineHeight="17px" color={out ? 'amber' : 'soft'}>
            {[room, stays && 'to be read there', out ? said : undefined, note].filter(Boolean).join(' · ')}
          </Text>
        )}
        {missing && (
          <Text fontSize="12.5px" lineHeight="17px" color="rust">
            {next
              ? `Next: ${wayName(next).toLowerCase()}, ${next.from}.`
              : 'There is no other way in time but its author.'}
          </Text>
        )}
        {missing && library && !route.partner && (
          <Box pt="6px" data-screen>
            <LibraryLetter
              work={row.id}
              library={library.key}
              write={(item, from) =>
                reportOfShelf(
                  item,
                  {
                    ...{ library: library.name, branch: route.from, call: route.shelf.call },
                    ...{ evidence: route.was?.evidence ?? route.evidence, day: missing.day },
                  },
                  from,
                )
              }
            />
          </Box>
        )}
      </Stack>
      {mayWrite && !out && (
        <Flex gap="6px" flex="none" data-screen>
          {tick(true, stays ? 'Found it' : 'Took it', found)}
          {tick(false, 'Not there', Boolean(missing))}
        </Flex>
      )}
    </Flex>
  )
}
