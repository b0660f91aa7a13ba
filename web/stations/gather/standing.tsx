import { Box, Text } from '@chakra-ui/react'
import { useNavigate } from 'react-router'
import { api, type Sweep } from '../../../core/schema/api'
import type { BodyOf } from '../../../core/schema/api/endpoint'
import { useChange, useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { sayWatched, StandingForm, StandingRow } from '../../frame/standing'
import { useStrands } from '../../frame/strands'

/** All that is asked again by itself: sweeps, whose news are shown here, and trails, whose news are shown in Trace. */
export function Standing({ show }: { show: (sweep: number) => void }) {
  const { inquiry } = useHere()
  const go = useNavigate()
  const { data } = useOf(inquiry.id, api.standing)
  const strands = useStrands(inquiry.id)
  const works = useWorks(inquiry.id)
  if (!data?.length) return null
  const trails = data.filter(s => s.query === null)
  const heading = trails.length ? (trails.length < data.length ? 'sweeps and trails' : 'trails') : 'sweeps'
  return (
    <Box mb="14px">
      <Text fontSize="13px" fontWeight="600" py="6px">
        Standing {heading}
      </Text>
      {data.map(s => (
        <StandingRow
          key={s.id}
          of={s}
          about={s.query ?? sayWatched(s, strands, id => works.data?.find(w => w.id === id)?.title)}
          show={run => (s.query === null ? void go(`/inquiries/${inquiry.id}/trace?list=new`) : show(run))}
        />
      ))}
    </Box>
  )
}

/** Asks how a sweep is to stand. */
export function MakeStanding({ sweep, leave }: { sweep: Sweep; leave: () => void }) {
  const { inquiry } = useHere()
  const make = useChange(inquiry.id, api.addStanding, (body: BodyOf<typeof api.addStanding>) => ({ body }))
  return (
    <StandingForm
      label="Keep this sweep running"
      thing="sweep"
      named={sweep.name ?? ''}
      busy={make.isPending}
      make={given =>
        make.mutate(
          { sweep: sweep.id, ...given },
          {
            onSuccess: () => {
              tell('It stands. Its first run is what later ones are held against.')
              leave()
            },
            onError: tellError,
          },
        )
      }
      leave={leave}
    />
  )
}
