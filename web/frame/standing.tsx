import { Box, Button, chakra, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { format, parseISO } from 'date-fns'
import { useState, type ReactNode } from 'react'
import { api, type Standing } from '../../core/schema/api'
import type { BodyOf } from '../../core/schema/api/endpoint'
import { useChange } from '../api/hooks'
import { copyText } from './clipboard'
import { useHere } from './inquiry-frame'
import { isUnderWay } from './job-meter'
import { tellError, Tick } from './parts'

const RHYTHMS = [1, 7, 14, 30]
const sayRhythm = (days: number): string => (days === 1 ? 'every day' : `every ${days} days`)
const sayDay = (day: string): string => format(parseISO(day), 'd MMM yyyy')

/** A sweep or trails that are asked again by themselves: when, what was new, and where the news goes. */
export function StandingRow({
  of: s,
  about,
  show,
}: {
  of: Standing
  /** What is asked. */
  about: string
  /** Shows what was new in a run. */
  show?: (run: number) => void
}) {
  const { inquiry, mayWrite, jobs } = useHere()
  const change = useChange(inquiry.id, api.changeStanding, (body: BodyOf<typeof api.changeStanding>) => ({
    params: { standing: s.id },
    body,
  }))
  const run = useChange(inquiry.id, api.runStanding, () => ({ params: { standing: s.id } }))
  const end = useChange(inquiry.id, api.endStanding, () => ({ params: { standing: s.id } }))
  const [ending, setEnding] = useState(false)
  const last = s.runs[0]
  const running = jobs.some(j => j.payload.standingId === s.id && isUnderWay(j))
  const set = (body: BodyOf<typeof api.changeStanding>) => change.mutate(body, { onError: tellError })
  const copy = () =>
    copyText(
      new URL(s.feed, location.href).href,
      'The address of the feed is copied. Whoever has it can read the feed.',
    )
  // a first sweep has nothing to be held against
  const ended = last && (last.foundNew !== null || (s.query !== null && s.runs.length === 1))
  const said = !last
    ? 'not run yet'
    : !ended
      ? `its run of ${sayDay(last.deskDay)} has not ended`
      : s.runs.length === 1
        ? 'first run done: later ones tell what is new since'
        : `nothing new on ${sayDay(last.deskDay)}`
  return (
    <Box
      role="group"
      aria-label={`Standing ${s.query === null ? 'trail' : 'sweep'} ${s.name}`}
      borderTop="1px solid"
      borderColor="hair"
      px="8px"
      py="8px"
      fontSize="13px"
      lineHeight="20px"
    >
      <Flex gap="2px 14px" align="baseline" wrap="wrap">
        <Text
          fontFamily="serif"
          fontWeight="600"
          fontSize="15px"
          flex="1 1 200px"
          minW="0"
          truncate
          title={`${s.name}: ${about}`}
        >
          {s.name}
        </Text>
        {running ? (
          <Text color="soft">running …</Text>
        ) : last?.foundNew ? (
          show ? (
            <Button size="xs" variant="outline" onClick={() => show(last.id)}>
              {last.foundNew.toLocaleString('en')} new, {sayDay(last.deskDay)}
            </Button>
          ) : (
            <Text>
              {last.foundNew.toLocaleString('en')} new, {sayDay(last.deskDay)}
            </Text>
          )
        ) : (
          <Text color="soft">{said}</Text>
        )}
      </Flex>
      <Flex
        gap="6px 14px"
        align="center"
        wrap="wrap"
        color="soft"
        mt="2px"
        css={{ '& [data-scope=checkbox][data-part=label]': { fontSize: 'inherit' } }}
      >
        <NativeSelect.Root size="xs" w="124px" disabled={!mayWrite}>
          <NativeSelect.Field
            aria-label={`How often ${s.name} runs`}
            value={s.everyDays}
            bg="surface"
            onChange={e => set({ everyDays: Number(e.target.value) })}
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
        <Tick checked={s.mails} set={mails => set({ mails })} disabled={!mayWrite}>
          by mail
        </Tick>
        <Box flex="1" />
        {ending ? (
          <>
            <span>Its runs stay in the log; its feed ends.</span>
            <Button
              size="2xs"
              variant="outline"
              colorPalette="red"
              onClick={() => end.mutate(undefined, { onError: tellError })}
            >
              End it
            </Button>
            <Button size="2xs" variant="ghost" onClick={() => setEnding(false)}>
              Keep it
            </Button>
          </>
        ) : (
          <>
            <Button size="2xs" variant="ghost" onClick={() => void copy()}>
              Copy feed address
            </Button>
            {mayWrite && (
              <>
                <Button
                  size="2xs"
                  variant="ghost"
                  disabled={running}
                  onClick={() => run.mutate(undefined, { onError: tellError })}
                >
                  Run now
                </Button>
                <Button size="2xs" variant="ghost" onClick={() => set({ paused: !s.paused })}>
                  {s.paused ? 'Go on' : 'Let it rest'}
                </Button>
                <Button size="2xs" variant="ghost" onClick={() => setEnding(true)}>
                  End …
                </Button>
              </>
            )}
          </>
        )}
      </Flex>
    </Box>
  )
}

/** Asks how something is to stand: under which name, how often, and whether by mail. */
export function StandingForm({
  label,
  thing,
  named,
  busy,
  isPossible = true,
  make,
  leave,
  children,
}: {
  label: string
  /** What stands, in a word. */
  thing: string
  /** The name that is offered. */
  named: string
  busy: boolean
  isPossible?: boolean
  make: (given: { name: string; everyDays: number; mails: boolean }) => void
  leave: () => void
  /** What is asked before. */
  children?: ReactNode
}) {
  const [own, setOwn] = useState<string>()
  const [everyDays, setEveryDays] = useState(7)
  const [mails, setMails] = useState(true)
  const name = own ?? named
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
      css={{ '& [data-scope=checkbox][data-part=label]': { fontSize: 'inherit' } }}
      aria-label={label}
      onSubmit={e => {
        e.preventDefault()
        make({ name, everyDays, mails })
      }}
    >
      {children}
      <Input
        aria-label={`Name of the standing ${thing}`}
        placeholder="name it"
        size="xs"
        flex="1 1 180px"
        maxW="260px"
        value={name}
        maxLength={190}
        onChange={e => setOwn(e.target.value)}
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
      <Flex gap="10px" ml="auto">
        <Button size="xs" variant="ghost" onClick={leave}>
          Leave it
        </Button>
        <Button size="xs" variant="outline" type="submit" disabled={!name.trim() || !isPossible} loading={busy}>
          Keep it running
        </Button>
      </Flex>
    </chakra.form>
  )
}

/** What a standing trail asks about. */
export const sayWatched = (
  { scope, of }: Pick<Standing, 'scope' | 'of'>,
  strands: readonly { id: number; name: string }[],
  titleOf: (work: number) => string | undefined,
): string => {
  if (scope === 'work') return `what cites “${titleOf(of!) ?? 'a work that was joined into another'}”`
  if (scope !== 'strand') return 'what cites your kept works'
  const strand = strands.find(s => s.id === of)
  return strand ? `what cites those kept on “${strand.name}”` : 'what cites those on a strand that is gone'
}
