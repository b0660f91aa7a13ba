import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { useQueryClient } from '@tanstack/react-query'
import { format } from 'date-fns'
import { useEffect, useMemo, useRef } from 'react'
import { Link } from 'react-router'
import { isFetchable } from '../../../core/access/routes'
import { api, type Gate, type Obtainable } from '../../../core/schema/api'
import { call } from '../../api/client'
import { ofQuery, useOf } from '../../api/hooks'

/** What is kept of the gates of an inquiry. */
const gatesKey = (inquiry: number) => ofQuery(inquiry, api.gates, {}).queryKey

/** Puts what the gates say now in the place of what is kept of them. */
export function useTellGates(inquiry: number) {
  const client = useQueryClient()
  return (now: Gate[]) => void client.setQueryData(gatesKey(inquiry), now)
}

/** How one stands at the gates of the libraries; what is kept of it is held against what the gates themselves say. */
export function useGates(inquiry: number, ended: string | undefined): readonly Gate[] {
  const client = useQueryClient()
  const tell = useTellGates(inquiry)
  const { data } = useOf(inquiry, api.gates)
  const gates = useMemo(() => data ?? [], [data])
  const isIn = gates.some(g => g.until)
  const looked = useRef(false)
  useEffect(() => {
    if (!isIn || looked.current) return
    looked.current = true
    call(api.lookAtGates, { params: { inquiry } }).then(tell, () => undefined)
  })
  // a gate may have ended a session while fetching, or by itself
  useEffect(() => {
    const again = () => void client.invalidateQueries({ queryKey: gatesKey(inquiry) })
    again()
    const timer = setInterval(again, 30_000)
    return () => clearInterval(timer)
  }, [ended, client, inquiry])
  return gates
}

/** Ways of a work that can be fetched today and lead through a gate; none where one leads through no gate. */
const gateWays = (r: Obtainable, today: string) => {
  const ways = (r.routes ?? []).filter(x => isFetchable(x, today))
  return ways.every(x => x.way === 'gate') ? ways : []
}

/** The gate at which one signs in first for a work, where it is had by gates alone and one is signed in at none of them. */
export function gateBefore(r: Obtainable, today: string, gates: readonly Gate[]): Gate | undefined {
  const ways = gateWays(r, today)
  const of = ways.flatMap(x => gates.find(g => g.library === (x.library?.key ?? g.library)) ?? [])
  return of.some(g => g.until) ? undefined : of.find(g => g.manner === 'form')
}

/** The gates, one beneath the other: where one is signed in, how long, and what of a day's files is used. */
export function Gates({
  gates,
  mayWrite,
  signIn,
}: {
  gates: readonly Gate[]
  mayWrite: boolean
  signIn: (gate: Gate) => void
}) {
  if (!gates.length)
    return (
      <Box w="250px" flex="none" fontSize="13px" lineHeight="18px">
        <Text fontWeight="600">No gate</Text>
        <Text color="soft">
          None of <Link to="/libraries">your libraries</Link> has one.
        </Text>
      </Box>
    )
  const [only] = gates.length === 1 ? gates : []
  return (
    <Box w={{ base: 'full', lg: only ? '250px' : '330px' }} flex="none" fontSize="13px" lineHeight="18px">
      {gates.map(g => (
        <Box key={g.library}>
          <Flex gap="10px" align="center">
            <Text fontWeight="600" truncate>
              {only ? 'Gate' : g.name}: {stateOf(g)}
            </Text>
            {mayWrite &&
              !g.until &&
              !g.onCampus &&
              (g.manner === 'form' ? (
                <Button
                  size="2xs"
                  variant="outline"
                  flex="none"
                  aria-label={only ? undefined : `Sign in at the gate of ${g.name}`}
                  onClick={() => signIn(g)}
                >
                  {only ? 'Sign in at the gate' : 'Sign in'}
                </Button>
              ) : (
                <Button asChild size="2xs" variant="outline" flex="none">
                  <a
                    href={g.address}
                    target="_blank"
                    rel="noreferrer"
                    aria-label={`Open the sign-in page of ${g.name}`}
                  >
                    Its sign-in page
                  </a>
                </Button>
              ))}
          </Flex>
          {only && (
            <Text color="soft">
              {g.name}
              {g.until ? ` · until ${format(new Date(g.until), 'HH:mm')}` : ''}
            </Text>
          )}
          {g.daily !== null && g.today > 0 && (
            <Text color={g.today >= g.daily ? 'rust' : 'soft'}>
              {g.today} of {g.daily} files of today
            </Text>
          )}
        </Box>
      ))}
    </Box>
  )
}

const stateOf = (g: Gate): string =>
  g.until ? 'signed in' : g.onCampus ? 'you are on its network' : g.manner === 'window' ? 'by hand' : 'not signed in'
