import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { createContext, useContext, useMemo, useState } from 'react'
import { Link, Outlet, useParams, useSearchParams } from 'react-router'
import { useLive, useOf } from '../api/hooks'
import { api, type InquiryInFull, type Job } from '../../core/schema/api'
import { BroughtTexts } from './brought-texts'
import { sayDays } from './due'
import { OutboxBar } from './outbox-bar'
import { Failed, Notice, Waiting } from './parts'
import { PathBar } from './path-bar'
import { AccountMenu } from './session'
import { WorkSheet } from './work-sheet'

interface Here {
  inquiry: InquiryInFull
  jobs: Job[]
  mayWrite: boolean
}
const HereContext = createContext<Here | undefined>(undefined)
/** The inquiry one stands in, its running jobs, and whether one may change it. */
export const useHere = (): Here => {
  const here = useContext(HereContext)
  if (!here) throw new Error('outside of an inquiry')
  return here
}
/** Opens a work in the sheet, which has its own address. */
export function useOpenWork(): (work: number) => void {
  const [, set] = useSearchParams()
  return work =>
    set(p => {
      p.set('work', String(work))
      return p
    })
}

export function InquiryFrame() {
  const id = Number(useParams().inquiry)
  const inquiry = useOf(id, api.inquiry)
  const { jobs, away } = useLive(id)
  if (inquiry.isPending)
    return <Waiting what={inquiry.failureReason ? 'Waiting for an answer' : 'Opening the inquiry'} />
  if (inquiry.isError) return <Failed error={inquiry.error} again={() => void inquiry.refetch()} />
  return <Framed q={inquiry.data} jobs={jobs} away={away} />
}

/** All that a station is told of its inquiry, but for the numbers that move with every decision. */
function useStill(q: InquiryInFull): InquiryInFull {
  const text = JSON.stringify({ ...q, numbers: null, revision: null })
  const [held, setHeld] = useState({ text, q })
  if (held.text === text) return held.q
  setHeld({ text, q })
  return q
}

function Framed({ q, jobs, away }: { q: InquiryInFull; jobs: Job[]; away: boolean }) {
  const [search, setSearch] = useSearchParams()
  const sheet = Number(search.get('work')) || undefined
  const days = q.daysLeft
  const still = useStill(q)
  const here = useMemo(() => ({ inquiry: still, jobs, mayWrite: still.role === 'owner' }), [still, jobs])
  const outlet = useMemo(() => <Outlet />, [])
  return (
    <HereContext value={here}>
      <BroughtTexts>
        <Flex direction="column" h="100vh" minH="0">
          <Flex
            as="header"
            bg="surface"
            borderBottom="1px solid"
            borderColor="hair"
            h="84px"
            px={{ base: '12px', md: '20px' }}
            gap="16px"
            flex="none"
            align="stretch"
          >
            <Box w="236px" flex="none" pt="6px" minW="0" display={{ base: 'none', lg: 'block' }}>
              <Link
                to={`/inquiries/${q.id}/brief`}
                style={{ textDecoration: 'none' }}
                title="Its brief: what is asked, and by when"
              >
                <Text fontFamily="serif" fontWeight="600" fontSize="15px" lineHeight="20px" truncate>
                  {q.title}
                </Text>
                {/* a name that was taken from the question need not be read twice */}
                {!q.question.startsWith(q.title.replace(/ …$/, '')) && (
                  <Text fontSize="12px" lineHeight="15px" color="soft" mt="1px" lineClamp={2} title={q.question}>
                    {q.question}
                  </Text>
                )}
              </Link>
              <chakra.a asChild fontSize="12px" lineHeight="16px" color="vine">
                <Link to="/">All inquiries</Link>
              </chakra.a>
            </Box>
            <Flex flex="1" justify="center" minW="0">
              <PathBar inquiry={q} />
            </Flex>
            <Flex flex="none" align="flex-start" gap="4px" pt="14px">
              {days !== null && q.due && (
                <chakra.a
                  asChild
                  textAlign="right"
                  display={{ base: 'none', md: 'block' }}
                  textDecoration="none"
                  title="The time that is left, and what it is for"
                >
                  <Link to={`/inquiries/${q.id}/brief?view=time`}>
                    <Text
                      fontFamily="serif"
                      fontWeight="600"
                      fontSize="21px"
                      lineHeight="26px"
                      color={days < 0 ? 'rust' : days <= 3 ? 'amber' : 'ink'}
                      whiteSpace="nowrap"
                    >
                      {sayDays(days)}
                    </Text>
                    <Text fontSize="12px" lineHeight="16px" color="soft" whiteSpace="nowrap">
                      due {format(parseISO(q.due), 'EEE d MMM yyyy')}
                    </Text>
                  </Link>
                </chakra.a>
              )}
              <AccountMenu />
            </Flex>
          </Flex>
          <OutboxBar inquiry={q.id} away={away} />
          {q.role === 'reader' && (
            <Box px="20px" py="8px" borderBottom="1px solid" borderColor="hair">
              <Notice voice="slate">You may look at this inquiry, but not change it.</Notice>
            </Box>
          )}
          <chakra.main tabIndex={-1} outline="none" flex="1" minH="0" overflow="auto" position="relative">
            {outlet}
          </chakra.main>
        </Flex>
        {sheet && (
          <WorkSheet
            work={sheet}
            onClose={() =>
              setSearch(p => {
                p.delete('work')
                return p
              })
            }
          />
        )}
      </BroughtTexts>
    </HereContext>
  )
}
