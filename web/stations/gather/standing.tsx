import type { BodyOf } from '../../../core/schema/api/endpoint'
import { Box, Button, chakra, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { useChange, useOf } from '../../api/hooks'
import { api, type Standing as Row, type Sweep } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError, Tick } from '../../frame/parts'
import { n } from './use-counts'
import { copyText } from '../../frame/clipboard'

const RHYTHMS = [1, 7, 14, 30]
const sayRhythm = (days: number): string => (days === 1 ? 'every day' : `every ${days} days`)
const sayDay = (day: string): string => format(parseISO(day), 'd MMM yyyy')

/** Sweeps that run again by themselves: when, what was new, and where the news goes. */
export function Standing({ show }: { show: (sweep: number) => void }) {
  const { inquiry, mayWrite, jobs } = useHere()
  const standing = useOf(inquiry.id, api.standing)
  const change = useChange(
    inquiry.id,
    api.changeStanding,
    ({ id, ...body }: { id: number } & BodyOf<typeof api.changeStanding>) => ({ params: { standing: id }, body }),
  )
  const run = useChange(inquiry.id, api.runStanding, (id: number) => ({ params: { standing: id } }))
  const end = useChange(inquiry.id, api.endStanding, (id: number) => ({ params: { standing: id } }))
  const [ending, setEnding] = useState<number>()
  if (!standing.data?.length) return null
  const copy = (s: Row) =>
    copyText(
      new URL(s.feed, location.href).href,
      'The address of the feed is copied. Whoever has it can read the feed.',
    )
  return (
    <Box mb="14px">
      <Text fontSize="13px" fontWeight="600" py="6px">
        Standing sweeps
      </Text>
      {standing.data.map(s => {
        const last = s.runs[0]
        const running = jobs.some(
          j =>
            j.kind === 'standing' && j.payload.standingId === s.id && (j.state === 'running' || j.state === 'queued'),
        )
        return (
          <Box
            key={s.id}
            role="group"
            aria-label={`Standing sweep ${s.name}`}
            borderTop="1px solid"
            borderColor="hair"
            px="8px"
            py="8px"
            fontSize="13px"
            lineHeight="20px"
          >
            <Flex gap="14px" align="baseline">
              <Text fontFamily="serif" fontWeight="600" fontSize="15px" flex="1" minW="0" truncate title={s.query}>
                {s.name}
              </Text>
              {running ? (
                <Text color="soft">running …</Text>
              ) : last?.foundNew ? (
                <Button size="xs" variant="outline" onClick={() => show(last.id)}>
                  {n(last.foundNew)} new, {sayDay(last.deskDay)}
                </Button>
              ) : (
                <Text color="soft">
                  {last?.foundNew === 0
                    ? `nothing new on ${sayDay(last.deskDay)}`
                    : 'first run done: later ones tell what is new since'}
                </Text>
              )}
            </Flex>
            <Flex gap="6px 14px" align="center" wrap="wrap" color="soft" mt="2px">
              <NativeSelect.Root size="xs" w="124px" disabled={!mayWrite}>
                <NativeSelect.Field
                  aria-label={`How often ${s.name} runs`}
                  value={s.everyDays}
                  bg="surface"
                  onChange={e => change.mutate({ id: s.id, everyDays: Number(e.target.value) }, { onError: tellError })}
                >
                  {[...new Set([...RHYTHMS, s.everyDays])].map(d => (
                    <option key={d} value={d}>
                      {sayRhythm(d)}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
              <span>{s.paused ? 'rests' : `next on ${sayDay(s.nextDay)}`}</span>
              <Tick
                checked={s.mails}
                set={mails => change.mutate({ id: s.id, mails }, { onError: tellError })}
                disabled={!mayWrite}
              >
                by mail
              </Tick>
              <Box flex="1" />
              <Button size="2xs" variant="ghost" onClick={() => void copy(s)}>
                Copy feed address
              </Button>
              {mayWrite &&
                (ending === s.id ? (
                  <>
                    <span>Its runs stay in the log; its feed ends.</span>
                    <Button
                      size="2xs"
                      variant="outline"
                      colorPalette="red"
                      onClick={() => end.mutate(s.id, { onError: tellError })}
                    >
                      End it
                    </Button>
                    <Button size="2xs" variant="ghost" onClick={() => setEnding(undefined)}>
                      Keep it
                    </Button>
                  </>
                ) : (
                  <>
                    <Button
                      size="2xs"
                      variant="ghost"
                      disabled={running}
                      onClick={() => run.mutate(s.id, { onError: tellError })}
                    >
                      Run now
                    </Button>
                    <Button
                      size="2xs"
                      variant="ghost"
                      onClick={() => change.mutate({ id: s.id, paused: !s.paused }, { onError: tellError })}
                    >
                      {s.paused ? 'Go on' : 'Let it rest'}
                    </Button>
                    <Button size="2xs" variant="ghost" onClick={() => setEnding(s.id)}>
                      End …
                    </Button>
                  </>
                ))}
            </Flex>
          </Box>
        )
      })}
    </Box>
  )
}

/** Asks how a sweep is to stand: under which name, how often, and whether by mail. */
export function MakeStanding({ sweep, leave }: { sweep: Sweep; leave: () => void }) {
  const { inquiry } = useHere()
  const [name, setName] = useState(sweep.name ?? '')
  const [everyDays, setEveryDays] = useState(7)
  const [mails, setMails] = useState(true)
  const make = useChange(inquiry.id, api.addStanding, (body: BodyOf<typeof api.addStanding>) => ({ body }))
  return (
    <chakra.form
      display="flex"
      gap="10px"
      alignItems="center"
      flexWrap="wrap"
      mt="6px"
      p="8px 10px"
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderRadius="md"
      fontSize="13px"
      aria-label="Keep this sweep running"
      onSubmit={e => {
        e.preventDefault()
        make.mutate(
          { sweep: sweep.id, name, everyDays, mails },
          {
            onSuccess: () => {
              tell('It stands. Its first run is what later ones are held against.')
              leave()
            },
            onError: tellError,
          },
        )
      }}
    >
      <Input
        aria-label="Name of the standing sweep"
        placeholder="name it"
        size="xs"
        w="180px"
        value={name}
        maxLength={190}
        onChange={e => setName(e.target.value)}
        autoFocus
      />
      <NativeSelect.Root size="xs" w="124px">
        <NativeSelect.Field
          aria-label="How often it runs"
          value={everyDays}
          bg="surface"
          onChange={e => setEveryDays(Number(e.target.value))}
        >
          {RHYTHMS.map(d => (
            <option key={d} value={d}>
              {sayRhythm(d)}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
      <Tick checked={mails} set={setMails}>
        mail me what is new
      </Tick>
      <Box flex="1" />
      <Button size="xs" variant="ghost" onClick={leave}>
        Leave it
      </Button>
      <Button size="xs" variant="outline" type="submit" disabled={!name.trim()} loading={make.isPending}>
        Keep it running
      </Button>
    </chakra.form>
  )
}
