import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { format } from 'date-fns'
import { memo, useContext, useMemo, useState } from 'react'
import { parseCql } from '../../../core/query/parse-cql'
import { conceptSearches } from '../../../core/query/texts'
import { FACETS, sayValue, type Facet } from '../../../core/sift/limits'
import { useOf } from '../../api/hooks'
import { api } from '../../../core/schema/api'
import { useDeskTime } from '../../frame/desk-time'
import { useHere } from '../../frame/inquiry-frame'
import { tell } from '../../frame/parts'
import { useStrands } from '../../frame/strands'
import { Counts, PoolNow } from './counts'
import { InCopies } from './in-copies'
import type { CopyWords } from './use-copy-words'
import type { LimitHandle } from './use-limits'
import { KeepView, Views } from './views'

export const FACET_NAMES: Record<Facet, string> = {
  state: 'state',
  pass: 'decided by',
  reason: 'set aside because',
  part: 'part',
  strand: 'strand',
  tag: 'tag',
  kind: 'kind',
  year: 'year',
  language: 'language',
  catalogue: 'catalogue',
  sweep: 'sweep',
  came: 'arrival',
  reach: 'reach',
  text: 'words in its copies',
  abstract: 'abstract',
  pages: 'pages',
  references: 'references',
  decided: 'decided when',
  journal: 'journal or publisher',
  author: 'author',
  subject: 'subject',
}
/** Values listed at first; the others are found by typing. */
const LISTED = 48
const n = (x: number): string => x.toLocaleString('en')

const HOW = { sweep: 'a sweep', file: 'a file', trail: 'a trail' }

/** Values as a person reads them: strands and sweeps by their names. */
export function useNames(): (facet: Facet, value: string) => string {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const concepts = useMemo(() => {
    const p = inquiry.query ? parseCql(inquiry.query) : undefined
    return p?.ok ? conceptSearches(p.query.root) : []
  }, [inquiry.query])
  const sweeps = useOf(inquiry.id, api.sweeps).data
  const arrivals = useOf(inquiry.id, api.arrivals).data
  const onDesk = useDeskTime()
  return useMemo(() => {
    const named = (facet: Facet, value: string): string | undefined => {
      if (facet === 'strand') return strands.find(s => s.id === Number(value))?.name ?? 'a strand taken away'
      if (facet === 'sweep') {
        const s = sweeps?.find(x => x.id === Number(value))
        return s && (s.name ?? s.query)
      }
      if (facet === 'came') {
        const [id, what] = value.split(' ')
        const a = arrivals?.find(x => x.id === Number(id))
        return a && `${what} with ${HOW[a.how]}, ${format(onDesk(a.at), 'd MMM, HH:mm')}`
      }
      if (facet === 'text') return concepts.find(c => c.words === value)?.said
      return undefined
    }
    return (facet, value) => sayValue(facet, value, named)
  }, [strands, sweeps, arrivals, concepts, onDesk])
}

/** A run of years in few words: "2015 to 2019, 2022". */
function sayChosen(facet: Facet, values: readonly string[], name: (f: Facet, v: string) => string): string {
  if (facet === 'year') {
    const years = values
      .map(Number)
      .filter(Boolean)
      .sort((a, b) => a - b)
    if (years.length > 2) return `${years[0]} to ${years.at(-1)}`
  }
  const said = values.slice(0, 3).map(v => name(facet, v))
  return `${said.join(' or ')}${values.length > 3 ? ` or ${values.length - 3} more` : ''}`
}

/** The limits as a sentence, each lifted by itself; a panel sets more of them, with what each would leave. */
export const LimitBar = memo(function LimitBar({ handle, copies }: { handle: LimitHandle; copies: CopyWords }) {
  const { inquiry, mayWrite } = useHere()
  const name = useNames()
  const [facet, setFacet] = useState<Facet>()
  const views = useOf(inquiry.id, api.views).data ?? []
  const { limits, words } = handle
  const set = FACETS.filter(f => limits[f]?.length)
  return (
    <Box flex="none" borderBottom="1px solid" borderColor="hair2" fontSize="13px">
      <Flex px={{ base: '8px', md: '24px' }} py="6px" gap="8px" align="center" wrap="wrap" minH="40px">
        <Tally limited={handle.any} />
        {set.map(f => (
          <Lifted key={f} label={FACET_NAMES[f]} lift={() => handle.set(f, [])} edit={() => setFacet(f)}>
            {sayChosen(f, limits[f]!, name)}
          </Lifted>
        ))}
        {words && (
          <Lifted label="with" lift={() => handle.setWords('')}>
            {words}
          </Lifted>
        )}
        <Button
          size="2xs"
          variant={facet ? 'solid' : 'outline'}
          colorPalette={facet ? 'slate' : undefined}
          aria-expanded={Boolean(facet)}
          onClick={() => setFacet(facet ? undefined : (set[0] ?? 'kind'))}
        >
          {facet ? 'Close limits' : 'Limit …'}
        </Button>
        {handle.any && (
          <>
            <Button size="2xs" variant="ghost" onClick={() => handle.replace({})}>
              Lift all
            </Button>
            {mayWrite && <KeepView handle={handle} views={views} />}
          </>
        )}
        <Box flex="1" />
        {views.length > 0 && <Views views={views} handle={handle} />}
      </Flex>
      {facet && <Panel handle={handle} copies={copies} facet={facet} setFacet={setFacet} name={name} />}
    </Box>
  )
})

/** How many the limits leave. */
function Tally({ limited }: { limited: boolean }) {
  const { left, total, what } = useContext(Counts)
  return (
    <p aria-live="polite">
      <b>{n(left)}</b> <span className="soft">{limited ? `of ${n(total)} ${what}:` : what}</span>
    </p>
  )
}

function Lifted({
  label,
  children,
  lift,
  edit,
}: {
  label: string
  children: string
  lift: () => void
  edit?: () => void
}) {
  return (
    <Flex
      as="span"
      align="center"
      bg="slate.soft"
      color="slate"
      borderRadius="sm"
      lineHeight="22px"
      maxW="340px"
      overflow="hidden"
    >
      <chakra.button type="button" px="7px" onClick={edit} cursor={edit ? 'pointer' : 'default'} truncate minH="24px">
        {label} <b>{children}</b>
      </chakra.button>
      <chakra.button
        type="button"
        px="7px"
        minH="24px"
        borderLeft="1px solid"
        borderColor="slate.line"
        onClick={lift}
        aria-label={`Lift the limit: ${label} ${children}`}
      >
        lift
      </chakra.button>
    </Flex>
  )
}

/** All values of one facet with what each would leave, as bars; another facet is a click away. */
function Panel({
  handle,
  copies,
  facet,
  setFacet,
  name,
}: {
  handle: LimitHandle
  copies: CopyWords
  facet: Facet
  setFacet: (f: Facet) => void
  name: (f: Facet, v: string) => string
}) {
  const { limits, words } = handle
  const [find, setFind] = useState('')
  // each decision moves what a limit would leave
  const pool = useContext(PoolNow)
  const counts = pool?.counts(facet, limits, words) ?? []
  const chosen = new Set(limits[facet])
  const most = Math.max(1, ...counts.map(c => c.works))
  const wanted = find.toLowerCase()
  const fitting = wanted ? counts.filter(c => name(facet, c.value).toLowerCase().includes(wanted)) : counts
  const listed = fitting.slice(0, LISTED)
  const toggle = (value: string) =>
    handle.set(facet, chosen.has(value) ? [...chosen].filter(v => v !== value) : [...chosen, value])
  const years = counts.flatMap(c => (Number(c.value) ? Number(c.value) : []))
  return (
    <Box px={{ base: '8px', md: '24px' }} pb="10px" role="group" aria-label="Limits">
      <Flex wrap="wrap" gap="2px" mx="-8px" mb="4px">
        {FACETS.map(f => (
          <Button
            key={f}
            size="2xs"
            variant={f === facet ? 'solid' : 'ghost'}
            colorPalette={f === facet ? 'slate' : undefined}
            fontWeight={limits[f]?.length ? '700' : '500'}
            aria-pressed={f === facet}
            onClick={() => {
              setFacet(f)
              setFind('')
              if (f === 'text') copies.ask()
            }}
          >
            {FACET_NAMES[f]}
          </Button>
        ))}
      </Flex>
      <Box>
        <Flex gap="6px 12px" mb="6px" align="center" color="soft" fontSize="12.5px" minH="24px" wrap="wrap">
          {facet === 'text' ? (
            <InCopies handle={handle} copies={copies} />
          ) : facet === 'year' ? (
            <Years key={String(limits.year)} years={years} handle={handle} />
          ) : counts.length > LISTED || find ? (
            <Input
              size="2xs"
              w="240px"
              bg="surface"
              placeholder={`find among ${n(counts.length)}`}
              aria-label={`Find a value of ${FACET_NAMES[facet]}`}
              value={find}
              onChange={e => setFind(e.target.value)}
            />
          ) : (
            <span>How many works each would leave. Several of one kind are taken together.</span>
          )}
          {fitting.length > listed.length && <span>the first {n(listed.length)} are listed</span>}
          <Box flex="1" />
          <Input
            size="2xs"
            w="250px"
            bg="surface"
            placeholder="words in title, authors or journal"
            aria-label="Words in title, authors or journal"
            value={words}
            onChange={e => handle.setWords(e.target.value)}
          />
        </Flex>
        <Box maxH="186px" overflow="auto" css={{ columnWidth: '290px', columnGap: '20px' }}>
          {listed.map(({ value, works }) => (
            <chakra.button
              key={value}
              type="button"
              aria-pressed={chosen.has(value)}
              onClick={() => toggle(value)}
              display="grid"
              gridTemplateColumns="1fr 60px 40px"
              alignItems="center"
              gap="8px"
              w="full"
              minH="26px"
              px="6px"
              textAlign="left"
              borderRadius="sm"
              css={{ breakInside: 'avoid' }}
              bg={chosen.has(value) ? 'slate.soft' : undefined}
              color={chosen.has(value) ? 'slate' : undefined}
              fontWeight={chosen.has(value) ? '600' : '400'}
              _hover={{ bg: chosen.has(value) ? 'slate.soft' : 'surface' }}
            >
              <chakra.span truncate title={name(facet, value)}>
                {name(facet, value)}
              </chakra.span>
              <Box h="7px" position="relative" bg="hair2" borderRadius="1px" aria-hidden="true">
                <Box
                  position="absolute"
                  inset="0 auto 0 0"
                  borderRadius="1px"
                  bg="slate.solid"
                  style={{ width: `${(100 * works) / most}%` }}
                />
              </Box>
              <chakra.span textAlign="right">{n(works)}</chakra.span>
            </chakra.button>
          ))}
          {!listed.length && <Text color="soft">Nothing of that kind is known here.</Text>}
        </Box>
      </Box>
    </Box>
  )
}

/** Years from … to …, of those there are. */
function Years({ years, handle }: { years: readonly number[]; handle: LimitHandle }) {
  const chosen = (handle.limits.year ?? []).map(Number).filter(Boolean)
  const [from, setFrom] = useState(chosen.length ? String(Math.min(...chosen)) : '')
  const [to, setTo] = useState(chosen.length ? String(Math.max(...chosen)) : '')
  const take = () => {
    if (!from && !to) return handle.set('year', [])
    const within = years.filter(y => y >= (Number(from) || -Infinity) && y <= (Number(to) || Infinity))
    if (!within.length) return tell('The pool has no work of these years.')
    handle.set('year', within.map(String))
  }
  const box = (label: string, value: string, set: (v: string) => void) => (
    <Input
      size="2xs"
      w="64px"
      bg="surface"
      inputMode="numeric"
      maxLength={4}
      aria-label={label}
      value={value}
      onChange={e => set(e.target.value.replace(/\D/g, ''))}
    />
  )
  return (
    <chakra.form
      display="flex"
      gap="8px"
      alignItems="center"
      onSubmit={e => {
        e.preventDefault()
        take()
      }}
    >
      from {box('From year', from, setFrom)} to {box('To year', to, setTo)}
      <Button size="2xs" type="submit" variant="outline">
        Set the years
      </Button>
    </chakra.form>
  )
}
