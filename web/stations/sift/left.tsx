import { api } from '../../../core/schema/api'
import { Box, Button, Text } from '@chakra-ui/react'
import { useChange, useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, Meter, tellError } from '../../frame/parts'

export interface Check {
  id: number
  n: number
  /** Works unread when it began. */
  size: number
  day: string
  drawn: number[]
  decided: number
  wanted: number
  /** The most works that would be kept among those not drawn; null until all drawn are decided. */
  mostLeft: number | null
}
export interface Checks {
  checks: Check[]
  unread: number
  offered: number
}
export const useChecks = (inquiry: number) => useOf(inquiry, api.checks)

const n = (x: number) => x.toLocaleString('en')
const works = (x: number) => `${n(x)} ${x === 1 ? 'work' : 'works'}`

/** How many works that would be kept may be left: said only after a check, a uniform draw that has been decided. */
export function Left() {
  const { inquiry, mayWrite } = useHere()
  const checks = useChecks(inquiry.id).data
  const begin = useChange(inquiry.id, api.beginCheck, (draws: number) => ({ body: { draws } }))
  if (!checks) return null
  const [last] = checks.checks
  const open = last?.mostLeft === null ? last : undefined
  const answered = checks.checks.find(c => c.mostLeft !== null)
  const others = answered ? answered.size - answered.drawn.length : 0
  return (
    <Box mt="18px" role="group" aria-label="What may be left">
      <Heading aside={answered ? `check ${answered.n}, 95% sure of all checks` : undefined}>What may be left</Heading>
      {answered && (
        <Text fontSize="13px" lineHeight="18px" mb="6px">
          {answered.mostLeft === 0 ? (
            <b>Nothing you would keep</b>
          ) : (
            <>
              At most <b>{works(answered.mostLeft!)}</b> you would keep
            </>
          )}{' '}
          {others ? `among the ${n(others)} others then unread` : 'is left: all then unread were drawn'}.
        </Text>
      )}
      {open ? (
        <>
          <Text fontSize="13px" lineHeight="18px" mb="4px">
            Check {open.n}: {n(open.decided)} of {works(open.drawn.length)} decided, drawn by chance. They come first;
            keep or set aside each.
          </Text>
          <Meter share={open.decided / open.drawn.length} label={`Check ${open.n}`} />
        </>
      ) : (
        checks.unread > 0 && (
          <>
            <Text fontSize="13px" lineHeight="18px" color="soft" mb="6px">
              {answered ? '' : 'Too early to say. '}
              {checks.offered >= checks.unread
                ? `With ${n(checks.unread)} unread, reading them all is the shortest check.`
                : `A check draws ${works(checks.offered)} of the ${n(checks.unread)} unread by chance. If you keep none of them, at most one in twenty of the rest is one you would keep.`}
            </Text>
            {mayWrite && checks.offered < checks.unread && (
              <Button
                size="xs"
                variant="outline"
                loading={begin.isPending}
                onClick={() => begin.mutate(checks.offered, { onError: tellError })}
              >
                Begin a check
              </Button>
            )}
          </>
        )
      )}
    </Box>
  )
}
