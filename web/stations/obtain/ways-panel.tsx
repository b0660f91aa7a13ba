import { Box, Button, chakra, Flex, Grid, Stack, Text } from '@chakra-ui/react'
import { WhoseRight } from '../../frame/whose-right'
import { format, parseISO } from 'date-fns'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { reportOfWay } from '../../../core/access/letter'
import { wayKey, type Route } from '../../../core/access/routes'
import type { Ended } from '../../../core/access/walk'
import { api, type Answer, type Obtainable } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { weekDay } from '../../frame/due'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { AtHand, CopyPlace, LibraryLetter, Sub } from './at-hand'
import { AuthorLetter } from './author-letter'
import { ByItself } from './by-itself'
import { Band, Bar, COLUMNS, TimeCell, useScale } from './time'
import { beginsAt, END_WORDS, mayAsk, spanOf, wayName, whenOf } from './way-words'
import { chance } from '../../frame/counted'
import { colour as c } from '../../frame/colour'

/** All ways to a text, how the chosen one was walked, and what is at hand to go on with. */
export function WaysPanel({
  row,
  accept,
  askFor,
  bring,
}: {
  row: Obtainable
  accept: (route: Route) => void
  askFor: (rows: readonly Obtainable[]) => void
  bring: ReactNode
}) {
  const { inquiry } = useHere()
  const openWork = useOpenWork()
  const walks = useOf(inquiry.id, api.walksOf, { params: { work: row.id } })
  const routes = row.routes ?? []
  const [chosen, setChosen] = useState<number>()
  const first = routes.findIndex(r => (row.author ? r.way === 'author' : r.walked))
  const at = chosen ?? Math.max(0, first)
  const route = routes[at]
  const walk = walks.data?.find(w => w.url === route?.url)
  const { due } = useScale()
  return (
    <Box bg="surface" borderBottom="1px solid" borderColor="line" pb="16px" data-ways={row.id}>
      {routes.map((r, i) => (
        <WayRow key={wayKey(r)} route={r} n={i + 1} isOn={i === at} choose={() => setChosen(i)} />
      ))}
      {row.trouble && !row.closed.includes(row.trouble) && (
        <Text ps="54px" pe="12px" py="5px" fontSize="12.5px" lineHeight="17px" color="amber">
          {row.trouble}
        </Text>
      )}
      {row.closed.map(said => (
        <Text key={said} ps="54px" pe="12px" py="5px" fontSize="12.5px" lineHeight="17px" color="soft">
          {said}
        </Text>
      ))}
      <Grid
        templateColumns={{ base: '1fr', lg: 'minmax(300px, 1.3fr) minmax(260px, 1fr) minmax(250px, 1fr)' }}
        gap="28px"
        ps="54px"
        pe="12px"
        pt="14px"
      >
        <Box minW="0">
          {route?.way === 'author' ? (
            <AuthorLetter key={row.id} row={row} />
          ) : route?.loan ? (
            <Elsewhere row={row} route={route} ask={() => askFor([row])} />
          ) : (
            route && (
              <>
                <Sub>
                  {wayName(route)}
                  {walk ? `, ${whenWalked(walk)}` : route.url ? ', not walked yet' : ''}
                </Sub>
                <Walked
                  work={row.id}
                  {...{ route, walk }}
                  address={row.addresses[at] ?? null}
                  accept={() => accept(route)}
                />
                <ByItself row={row} route={route} />
              </>
            )
          )}
          {routes.length > 1 && (
            <Text fontSize="12.5px" lineHeight="17px" color="soft" mt="10px">
              In the order of the chance to come {due ? `before ${format(parseISO(due), 'd MMM')}` : 'at all'}, then of
              the version, then of the trouble.
            </Text>
          )}
        </Box>
        <AtHand work={row.id} />
        <Stack gap="8px" minW="0">
          <Sub>The copy’s place</Sub>
          {row.copies
            .filter(x => !x.opening.opens)
            .map(x => (
              <WhoseRight key={x.id} copy={x} />
            ))}
          <CopyPlace row={row} />
          <Flex gap="8px" align="center" wrap="wrap">
            {bring}
            <Button size="2xs" variant="ghost" onClick={() => openWork(row.id)}>
              Work sheet
            </Button>
          </Flex>
          <Text fontSize="12.5px" lineHeight="17px" color="soft">
            Drop the file anywhere on the page. Its own text has to prove it; until then it does not count.
          </Text>
        </Stack>
      </Grid>
    </Box>
  )
}

/** A way by which a text is asked for: when it comes, and asking for it. */
function Elsewhere({ row, route: r, ask }: { row: Obtainable; route: Route; ask: () => void }) {
  const { inquiry, mayWrite } = useHere()
  const { due } = useScale()
  const { askBy } = r.loan!
  return (
    <Stack gap="8px">
      <Sub>{wayName(r)}</Sub>
      <Text fontSize="13px" lineHeight="18px" color="soft">
        {r.evidence} Asked today, it comes {spanOf(r.loan!)} most likely
        {due ? `: ${chance(r.likely)} before you need it.` : '.'}
        {askBy && (
          <>
            {' '}
            Ask by {weekDay(askBy)}: after that it is less sure than{' '}
            <Link className="plain-link" to={`/inquiries/${inquiry.id}/brief?view=time`}>
              your plan
            </Link>{' '}
            wants it.
          </>
        )}
      </Text>
      {row.loan && (
        <Text fontSize="13px" lineHeight="18px">
          {row.loan.stands}.{' '}
          <Link className="plain-link" to="/asked">
            See it under “Asked for”
          </Link>
        </Text>
      )}
      {mayWrite && mayAsk(row) && (
        <Button size="xs" variant="outline" alignSelf="flex-start" onClick={ask}>
          Ask for it
        </Button>
      )}
    </Stack>
  )
}

type Walk = Answer<'walksOf'>[number]
const whenWalked = (w: Walk): string =>
  `walked ${format(parseISO(w.deskDay), 'd MMM')}, ${format(new Date(w.at), 'HH:mm')}`

/** Where a way leads and what speaks for it. What speaks for a loan names its library already. */
const whereOf = (r: Route, isOfMany: boolean): string =>
  r.loan
    ? r.evidence
    : [
        isOfMany && !r.partner ? r.library?.name : undefined,
        beginsAt(r),
        r.way === 'shelf' ? undefined : r.from,
        r.evidence,
      ]
        .filter(Boolean)
        .join('; ')

function WayRow({ route: r, n, isOn, choose }: { route: Route; n: number; isOn: boolean; choose: () => void }) {
  const isOfMany = useHere().inquiry.libraries.length > 1
  const { today } = useScale()
  const shut = r.likely === 0
  return (
    <chakra.button
      type="button"
      onClick={choose}
      aria-pressed={isOn}
      display="grid"
      gridTemplateColumns={COLUMNS}
      columnGap="12px"
      alignItems="center"
      w="full"
      minH="30px"
      textAlign="start"
      cursor="pointer"
      bg={isOn ? 'vine.soft' : undefined}
      _hover={isOn ? undefined : { bg: 'hair2' }}
      borderTop="1px solid"
      borderColor="hair2"
    >
      <Text fontFamily="serif" fontWeight="600" fontSize="13px" textAlign="end">
        {n}
      </Text>
      <Flex gap="10px" minW="0" fontSize="13px" lineHeight="18px" align="baseline" ps="18px">
        <Text fontWeight="600" w="132px" flex="none" textDecoration={shut ? 'line-through' : undefined}>
          {wayName(r)}
        </Text>
        <Text color="soft" truncate title={`${r.from}: ${r.evidence}`}>
          {whereOf(r, isOfMany)}
        </Text>
      </Flex>
      <TimeCell>
        {r.loan && (
          <Band from={r.loan.from} to={r.loan.to}>
            {spanOf(r.loan)}
          </Band>
        )}
        {r.way !== 'author' && !r.loan && !shut && (
          <Bar on={r.expected} kind={r.likely < 0.9 ? 'maybe' : r.expected > today ? 'wait' : 'today'}>
            {whenOf(r, today)}
          </Bar>
        )}
      </TimeCell>
      <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate title={r.asks}>
        <Text as="span" fontWeight="600" color={shut ? 'rust' : 'ink'} mr="8px">
          {shut ? 'no' : chance(r.likely)}
        </Text>
        {r.walked ? (
          <Text as="span" color={END_WORDS[r.walked.ended].voice}>
            {END_WORDS[r.walked.ended].said}
          </Text>
        ) : (
          r.asks
        )}
      </Text>
    </chakra.button>
  )
}

/** The steps of a walk along a stem, and what to do where it stopped. */
function Walked({
  work,
  route,
  walk,
  address,
  accept,
}: {
  work: number
  route: Route
  walk: Walk | undefined
  address: string | null
  accept: () => void
}) {
  const { mayWrite } = useHere()
  const end = walk && END_WORDS[walk.ended]
  const chapters = route.walked?.chapters
  const { library } = route
  return (
    <Stack gap="8px">
      {route.shelf && (
        <Text fontSize="13.5px" lineHeight="20px">
          {[route.partner, route.shelf.branch].filter(Boolean).join(', ')}
          <Text as="span" display="block" fontFamily="serif" fontWeight="600" fontSize="17px" lineHeight="26px">
            {route.shelf.call}
          </Text>
          {saidOf(route.shelf).map(line => (
            <Text as="span" display="block" key={line}>
              {line}
            </Text>
          ))}
        </Text>
      )}
      {!walk && !route.shelf && (
        <Text fontSize="13px" lineHeight="18px" color="soft">
          {route.evidence} It asks: {route.asks}.
        </Text>
      )}
      {walk && (
        <chakra.ol listStyleType="none" aria-label="Steps of this way">
          {walk.steps.map((s, i) => (
            <Flex key={i} as="li" gap="8px" minH="26px">
              <StemLeaf
                n={i}
                isLast={i === walk.steps.length - 1}
                voice={i === walk.steps.length - 1 ? end!.voice : 'vine'}
              />
              <Text flex="1" minW="0" fontSize="13px" lineHeight="18px" py="3px" wordBreak="break-word" title={s.url}>
                <Text
                  as="span"
                  fontFamily="serif"
                  fontWeight="600"
                  display="inline-block"
                  _firstLetter={{ textTransform: 'uppercase' }}
                >
                  {s.what}
                </Text>{' '}
                <Text as="span" color={i === walk.steps.length - 1 ? end!.voice : 'soft'}>
                  · {s.said}
                </Text>
              </Text>
            </Flex>
          ))}
        </chakra.ol>
      )}
      {chapters && (
        <chakra.ul listStyleType="none" fontSize="13px" lineHeight="22px" columns={chapters.length > 8 ? 2 : 1}>
          {chapters.map(ch => (
            <li key={ch.url}>
              <a href={ch.url} target="_blank" rel="noreferrer">
                {ch.text}
              </a>
            </li>
          ))}
        </chakra.ul>
      )}
      <Flex gap="8px" wrap="wrap">
        {route.walked?.terms && mayWrite && (
          <Button size="xs" colorPalette="vine" onClick={accept}>
            Read its terms
          </Button>
        )}
        {address && (
          <Button asChild size="xs" variant="outline">
            <a href={address} target="_blank" rel="noreferrer">
              Open it in your own window
            </a>
          </Button>
        )}
      </Flex>
      {library && walk && THEIRS.includes(walk.ended) && (
        <LibraryLetter
          work={work}
          library={library.key}
          write={(item, from) =>
            reportOfWay(
              item,
              {
                ...{ library: library.name, from: route.from, address: walk.url, day: walk.deskDay },
                ...{ said: walk.said, steps: walk.steps, evidence: route.was?.evidence ?? route.evidence },
              },
              from,
            )
          }
        />
      )}
    </Stack>
  )
}

/** What is said of a place on the shelves, line by line. */
const saidOf = ({ within, room, said, day, note }: NonNullable<Route['shelf']>): string[] =>
  [room, within && `in ${within}`, said && `${said}; asked on ${weekDay(day!)}.`, note].filter(x => x !== undefined)

/** Ends of a walk that the library can do something about. */
const THEIRS: readonly Ended[] = ['not paid', 'gone', 'wrong file', 'lost']

/** A piece of the stem with its leaf, by turns to the left and to the right. */
function StemLeaf({ n, isLast, voice }: { n: number; isLast: boolean; voice: string }) {
  const left = n % 2 === 1
  return (
    <Box position="relative" w="22px" flex="none" aria-hidden="true">
      <Box position="absolute" left="10px" top="0" bottom={isLast ? '50%' : '0'} w="2px" bg="vine" />
      <svg
        width="22"
        height="26"
        viewBox="0 0 22 26"
        style={{ position: 'absolute', top: 0, transform: left ? 'scaleX(-1)' : undefined }}
      >
        <path
          d="M11 14 C12 8 16 7 21 8 C21 13 17 17 11 14Z"
          fill={voice === 'vine' ? c('vine') : c('surface')}
          stroke={c(voice)}
          strokeWidth="1.5"
        />
      </svg>
    </Box>
  )
}
