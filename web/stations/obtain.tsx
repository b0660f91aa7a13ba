import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useQuery, useQueryClient } from '@tanstack/react-query'
import { format } from 'date-fns'
import { useEffect, useState } from 'react'
import { Link } from 'react-router'
import { call } from '../api/client'
import { useChange, useOf } from '../api/hooks'
import { api, type Obtainable } from '../../core/schema/api'
import { ChooseTexts } from '../frame/brought-texts'
import { useHere } from '../frame/inquiry-frame'
import { Empty, Failed, tellError, Waiting } from '../frame/parts'
import { GateDialog } from './gate-dialog'
import { Run } from './obtain-run'
import { TimeTable } from './obtain-table'

/** Whether what can be had of a work today is had through the gate alone. */
const onlyByGate = (r: Obtainable, today: string): boolean => {
  const ways = (r.routes ?? []).filter(x => x.way !== 'author' && x.expected <= today)
  return ways.length > 0 && ways.every(x => x.way === 'gate')
}

export function Obtain() {
  const { inquiry, jobs, mayWrite } = useHere()
  const list = useOf(inquiry.id, api.ways)
  const gate = useQuery({ queryKey: ['gate'], queryFn: () => call(api.gate, {}), refetchInterval: 30_000 })
  const look = useChange(inquiry.id, api.lookForWays, (works: number[] | undefined) => ({
    body: works ? { works } : {},
  }))
  const fetchAll = useChange(inquiry.id, api.fetchTexts, (works: number[]) => ({ body: { works } }))
  /** The dialog of the gate, with what waits to be fetched behind it. */
  const [signing, setSigning] = useState<readonly Obtainable[]>()
  const [folded, setFolded] = useState(true)
  const retrieval = jobs.filter(j => j.kind === 'retrieval').at(-1)
  // the gate may have ended a session while fetching
  const client = useQueryClient()
  const ended = retrieval?.state
  useEffect(() => void client.invalidateQueries({ queryKey: ['gate'] }), [ended, client])
  if (list.isPending) return <Waiting what="Opening the routes" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  if (!list.data.length) {
    return (
      <Empty
        title="Nothing to obtain yet"
        action={
          <Button asChild colorPalette="vine" size="sm">
            <Link to={`/inquiries/${inquiry.id}/sift`}>To Sift</Link>
          </Button>
        }
      >
        For every work you keep, this page finds the lawful ways to its text and when each would arrive, set against
        your due date.
      </Empty>
    )
  }
  const rows = list.data
  const inHand = rows.filter(r => r.reach === 'in hand')
  const unknown = rows.filter(r => r.routes === null)
  const now = rows.filter(
    r => r.reach === 'within reach' && r.routes?.some(x => x.way !== 'author' && x.expected <= inquiry.today),
  )
  const out = rows.filter(r => r.reach === 'out of reach')
  const unsure = rows.filter(r => r.routes && r.reach === 'unsure')
  const looking = jobs.find(j => j.kind === 'routes' && (j.state === 'running' || j.state === 'queued'))
  const doubtful = rows.filter(r => r.reach !== 'in hand' && r.copies.some(c => c.outcome === 'doubtful'))
  const waiting = rows.filter(r => r.reach !== 'in hand')
  const fetchThese = (works: readonly Obtainable[]) =>
    fetchAll.mutate(
      works.map(r => r.id),
      { onError: tellError },
    )
  /** Signing in comes before works fail for want of it. */
  const fetchOrSignIn = (works: readonly Obtainable[]) =>
    !gate.data?.until && works.some(r => onlyByGate(r, inquiry.today)) ? setSigning(works) : fetchThese(works)
  const shownRows = [...waiting, ...(folded ? inHand.slice(0, 3) : inHand)]
  return (
    <Flex direction="column" h="full">
      <Box flex="1" overflow="auto" px="24px" pt="14px">
        <Flex align="center" gap="10px" mb="8px" wrap="wrap">
          <Text flex="1" fontSize="14.5px" minW="300px">
            <b>
              {inHand.length} of {rows.length} in hand.
            </b>{' '}
            <Text as="span" color="soft">
              {now.length} can be fetched now
              {doubtful.length > 0 && ` · ${doubtful.length} doubtful`}
              {unsure.length > 0 && ` · ${unsure.length} unsure`}
              {unknown.length > 0 && ` · ${unknown.length} not looked for yet`}
            </Text>
            {out.length > 0 && (
              <Text as="span" color="rust">
                {' '}
                · {out.length} out of reach{inquiry.due && ' in time'}
              </Text>
            )}
          </Text>
          {mayWrite && (
            <>
              <ChooseTexts>Bring PDFs</ChooseTexts>
              <Button
                size="sm"
                variant="outline"
                loading={Boolean(looking) || look.isPending}
                loadingText={
                  looking?.progress.of
                    ? `Looking, ${(looking.progress.done as number[]).length} of ${String(looking.progress.of)}`
                    : 'Looking'
                }
                onClick={() => look.mutate(unknown.length ? unknown.map(u => u.id) : undefined, { onError: tellError })}
              >
                {unknown.length ? `Look for ways (${unknown.length})` : 'Look for ways again'}
              </Button>
              <Button
                size="sm"
                colorPalette="vine"
                disabled={
                  !now.length || Boolean(retrieval && (retrieval.state === 'running' || retrieval.state === 'queued'))
                }
                onClick={() => fetchOrSignIn(now)}
              >
                Fetch {now.length || ''} now
              </Button>
            </>
          )}
        </Flex>
        <TimeTable rows={shownRows} today={inquiry.today} due={inquiry.due} fetchOne={row => fetchOrSignIn([row])} />
        {inHand.length > 3 && (
          <chakra.button
            type="button"
            onClick={() => setFolded(!folded)}
            fontSize="13px"
            color="soft"
            py="12px"
            px="36px"
            cursor="pointer"
          >
            {folded ? `▸ ${inHand.length - 3} more in hand` : '▾ fold those in hand'}
          </chakra.button>
        )}
      </Box>
      <Flex
        flex="none"
        bg="surface"
        borderTop="1px solid"
        borderColor="hair"
        px="24px"
        py="14px"
        gap="32px"
        minH="92px"
        align="flex-start"
      >
        <Box w="230px" flex="none" fontSize="13px" lineHeight="18px">
          <Text fontWeight="600">Gate: {gate.data?.until ? 'signed in' : 'not signed in'}</Text>
          <Text color="soft">
            {gate.data?.library}
            {gate.data?.until ? ` · until ${format(new Date(gate.data.until), 'HH:mm')}` : ''}
          </Text>
          {mayWrite && !gate.data?.until && (
            <Button size="xs" variant="outline" mt="6px" onClick={() => setSigning([])}>
              Sign in at the gate
            </Button>
          )}
        </Box>
        <Box flex="1" minW="0">
          <Run
            job={retrieval}
            again={works => fetchAll.mutate(works, { onError: tellError })}
            signIn={() => setSigning([])}
            open={Boolean(gate.data?.until)}
          />
        </Box>
        <Text
          w="250px"
          flex="none"
          fontSize="13px"
          lineHeight="18px"
          color="soft"
          display={{ base: 'none', xl: 'block' }}
        >
          A copy counts as in hand only when its own text shows the right title, authors and DOI.
        </Text>
      </Flex>
      {signing && (
        <GateDialog
          gate={gate.data}
          waiting={signing.length}
          openToAll={signing.filter(r => !onlyByGate(r, inquiry.today)).length}
          fetch={which => {
            const rows = which === 'all' ? signing : signing.filter(r => !onlyByGate(r, inquiry.today))
            if (rows.length) fetchThese(rows)
          }}
          close={() => setSigning(undefined)}
        />
      )}
    </Flex>
  )
}
