import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { api, type GraphAnswer } from '../../../core/schema/api'
import type { BodyOf } from '../../../core/schema/api/endpoint'
import { useChange, useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, Failed, tell, tellError, Waiting } from '../../frame/parts'
import { sayWatched, StandingForm, StandingRow } from '../../frame/standing'
import { who } from './naming'
import type { Line } from './ranking'
import { WhoseTrails, type Meant, type Whose } from './round'
import { Rows, type RowActs } from './rows'

/** What newly cites the works that standing trails watch, and those trails themselves. */
export function StandingTrails({
  graph,
  whose,
  titleOf,
  sift,
  acts,
  back,
}: {
  graph: GraphAnswer
  whose: Whose
  titleOf: (work: number) => string | undefined
  sift: string | undefined
  acts: RowActs
  back: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const standing = useOf(inquiry.id, api.standing)
  const news = useOf(inquiry.id, api.trailNews)
  const [making, setMaking] = useState(false)
  const trails = standing.data?.filter(s => s.query === null) ?? []
  const failed = standing.error ?? news.error
  return (
    <Flex direction="column" minH="0" flex="1">
      <Flex align="center" gap="8px" pb="8px">
        <Text as="h2" flex="1" fontSize="14px" fontWeight="600">
          What newly cites your works
        </Text>
        <Button size="xs" variant="ghost" onClick={back}>
          Back to the lists
        </Button>
      </Flex>
      {failed ? (
        <Failed error={failed} again={() => void Promise.all([standing.refetch(), news.refetch()])} />
      ) : !standing.data || !news.data ? (
        <Waiting />
      ) : (
        <>
          <Box flex="none" maxH="45%" overflow="auto">
            {trails.map(s => (
              <StandingRow key={s.id} of={s} about={sayWatched(s, whose.strands, titleOf)} />
            ))}
          </Box>
          {making ? (
            <MakeTrail whose={whose} leave={() => setMaking(false)} />
          ) : (
            mayWrite &&
            trails.length > 0 && (
              <Box borderTop="1px solid" borderColor="hair" pt="8px">
                <Button size="xs" variant="outline" onClick={() => setMaking(true)}>
                  Watch others too …
                </Button>
              </Box>
            )
          )}
          <Rows
            name="What newly cites your works"
            lines={newLines(news.data, graph, acts)}
            empty={
              trails.length ? (
                <Empty title="Nothing new so far">
                  What comes to cite your works stands here as soon as {graph.from || 'the citation index'} knows it.
                </Empty>
              ) : (
                <Empty
                  title="Nobody watches for you yet"
                  action={
                    mayWrite &&
                    !making && (
                      <Button size="sm" colorPalette="grape" onClick={() => setMaking(true)}>
                        Tell me what cites these …
                      </Button>
                    )
                  }
                >
                  {graph.from || 'The citation index'} is asked again and again what cites your works; what is new
                  stands here, and comes by mail and as a feed.
                </Empty>
              )
            }
            sift={sift}
            acts={acts}
          />
        </>
      )}
    </Flex>
  )
}

/** The news as rows: when they were told, and what they cite. */
function newLines(
  news: readonly { node: number; day: string; cites: readonly number[] }[],
  graph: GraphAnswer,
  { shownOf }: RowActs,
): Line[] {
  const nodes = new Map(graph.nodes.map(n => [n.id, n]))
  const endOf = (id: number) => {
    const n = nodes.get(id)
    return n && { work: n.work, node: n.id, year: n.year }
  }
  return news.flatMap(({ node, day, cites }) => {
    const end = endOf(node)
    const shown = end && shownOf(end)
    if (!shown) return []
    const cited = cites.flatMap(id => {
      const of = endOf(id)
      return (of && shownOf(of)) ?? []
    })
    const [first, ...others] = cited
    const why = [
      `new on ${format(parseISO(day), 'd MMM')}`,
      first && `cites ${who(first)}${others.length ? ` and ${others.length} more of yours` : ''}`,
    ]
    return [{ key: `${end.work ?? ''} ${node}`, end, shown, why: why.filter(Boolean).join(' · '), percentile: null }]
  })
}

/** How many of them are not in the pool yet. */
export const stillOutside = (news: readonly { node: number }[] | undefined, graph: GraphAnswer): number => {
  const outside = new Set(graph.nodes.filter(n => n.work === null).map(n => n.id))
  return news?.filter(n => outside.has(n.node)).length ?? 0
}

/** Asks whose trails are to stand, and how. */
function MakeTrail({ whose, leave }: { whose: Whose; leave: () => void }) {
  const { inquiry } = useHere()
  const [meant, setMeant] = useState<Meant>({ scope: 'kept' })
  const query = { scope: meant.scope, ...(meant.of ? { of: meant.of } : {}) }
  const plan = useOf(inquiry.id, api.planRound, { query: { ...query, again: 'yes' } })
  const make = useChange(inquiry.id, api.addStandingTrail, (body: BodyOf<typeof api.addStandingTrail>) => ({ body }))
  const strand = whose.strands.find(s => meant.scope === 'strand' && s.id === meant.of)
  const named = strand
    ? `What cites “${strand.name}”`
    : meant.scope === 'work'
      ? `What cites “${whose.chosen?.title.slice(0, 100) ?? ''}”`
      : 'What cites my kept works'
  const n = plan.data?.origins ?? 0
  const without = plan.data?.withoutDoi.length ?? 0
  return (
    <StandingForm
      label="Have it told what cites these"
      thing="trail"
      named={named}
      busy={make.isPending}
      isPossible={n > 0}
      make={given =>
        make.mutate(
          { ...query, ...given },
          {
            onSuccess: () => {
              tell('It stands. What nobody asked about before is what later runs are held against.')
              leave()
            },
            onError: tellError,
          },
        )
      }
      leave={leave}
    >
      <Box w="100%">
        <WhoseTrails meant={meant} set={setMeant} whose={whose} size="xs" />
        {plan.data && (
          <Text mt="6px" color={n ? 'soft' : 'amber'}>
            {n === 0
              ? 'None of these can be asked about'
              : `${n.toLocaleString('en')} ${n === 1 ? 'work is' : 'works are'} asked about`}
            {without > 0 && `; ${without} without a DOI on record ${without === 1 ? 'is' : 'are'} left out`}.
          </Text>
        )}
      </Box>
    </StandingForm>
  )
}
