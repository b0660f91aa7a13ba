import { Box, Button, chakra, Flex, NativeSelect, Text, useMediaQuery } from '@chakra-ui/react'
import { arrayMove } from '@dnd-kit/sortable'
import { Fragment, useMemo, useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { placeOfStrand, ORDERS, type Order } from '../../../core/paper/layout'
import { TITLE } from '../../../core/paper/bibliography'
import { api, type Bibliography } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { ApiError } from '../../api/client'
import { useChange, useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { keyName, useKeyMap, useKeys } from '../../frame/keys'
import { ReachMark } from '../../frame/marks'
import { Empty, Failed, Heading, Kbd, tell, tellError, Waiting } from '../../frame/parts'
import { Sortable, SortableRow } from '../../frame/sortable'
import type { ChosenStyle } from '../../frame/styles/choose-style'
import { StyleField } from '../../frame/styles/style-field'
import { AroundText } from './around-text'
import { useStable } from '../../frame/use-stable'
import { Entry, type OpenEntry } from './entry'
import { FromReading } from './from-reading'
import { ORDER_NAMES } from './order-names'
import { Registrations } from './registrations'
import { Rules } from './rules'
import { useGoTo } from '../../frame/to-entry'
import { useLaid } from './use-laid'
import { useWordingDesk } from './use-wording'
import { citedOf } from './use-written'

export function Compose() {
  const { inquiry } = useHere()
  const list = useOf(inquiry.id, api.bibliography)
  if (list.isPending) return <Waiting what="Setting the bibliography" />
  if (list.isError)
    return (
      <>
        <Failed error={list.error} again={() => void list.refetch()} />
        {list.error instanceof ApiError && list.error.code === 'style-fails' && (
          <Flex justify="center">
            <Box w="260px">
              <InStyle now={{ style: inquiry.style, name: inquiry.styleName, language: inquiry.language }} />
            </Box>
          </Flex>
        )}
      </>
    )
  return <List list={list.data} readAt={list.dataUpdatedAt} />
}

/** The style of the list, to be changed. */
function InStyle({ now }: { now: ChosenStyle }) {
  const { inquiry, mayWrite } = useHere()
  const set = useChange(inquiry.id, api.setStyle, ({ style, language }: ChosenStyle) => ({ body: { style, language } }))
  return (
    <StyleField
      value={now}
      size="sm"
      disabled={!mayWrite || set.isPending}
      onChange={to => set.mutate(to, { onSuccess: () => tell(`Set in ${to.name}.`), onError: tellError })}
    />
  )
}

/** The order in which the list prints, to be changed. */
function InOrder({ now }: { now: Order }) {
  const { inquiry, mayWrite } = useHere()
  const set = useChange(inquiry.id, api.setLayout, (order: Order) => ({ body: { order } }))
  return (
    <NativeSelect.Root size="sm" w="172px" disabled={!mayWrite || set.isPending}>
      <NativeSelect.Field
        aria-label="Order of the list"
        bg="surface"
        color="ink"
        fontWeight="600"
        value={now}
        onChange={e => {
          // the field shows the old one until the list is laid
          const to = e.target.value as Order
          set.mutate(to, { onSuccess: () => tell(`Laid ${ORDER_NAMES[to]}.`), onError: tellError })
        }}
      >
        {ORDERS.map(o => (
          <option key={o} value={o}>
            {ORDER_NAMES[o]}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

const NONE: readonly WorkLine[] = []

function List({ list: b, readAt }: { list: Bibliography; readAt: number }) {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id).data ?? NONE
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  const checks = useOf(inquiry.id, api.entryChecks, { query: { style: b.style } })
  const wording = useWordingDesk(inquiry.id, b.entries)
  const [open, setOpen] = useState<OpenEntry>()
  /** How often it was asked to go over to what reading left. */
  const [asked, setAsked] = useState(0)
  const [isWide = true] = useMediaQuery(['(min-width: 80rem)'], { ssr: false })
  const map = useKeyMap()
  useKeys({ finding: toNextFinding })
  const of = new Map(b.entries.map(e => [e.id, e]))
  const title = b.texts.find(t => t.place === 'title')?.content.trim()
  const { ids, layAs } = useLaid(b, readAt)
  const move = useStable((id: number, by: -1 | 1) => {
    const at = ids.indexOf(id)
    if (at + by >= 0 && at + by < ids.length) layAs(arrayMove(ids, at, at + by))
  })
  const isByHand = b.layout.order === 'hand'
  const toReading = useStable(() => setAsked(n => n + 1))
  const listed = useMemo(() => new Set(b.entries.map(e => e.work)), [b.entries])
  const waiting = works.filter(w => w.state === 'kept' && !listed.has(w.id))
  const putIn = useStable((work: number) =>
    enter.mutate(work, { onSuccess: () => tell('Put in, at its place in the list.'), onError: tellError }),
  )
  const [readyOnes, setReady] = useState<ReadonlySet<number>>(new Set())
  const ready = useStable((entry: number, isReady: boolean) =>
    setReady(was => {
      if (was.has(entry) === isReady) return was
      const now = new Set(was)
      if (isReady) now.add(entry)
      else now.delete(entry)
      return now
    }),
  )
  useGoTo(b.entries)
  const nReady = b.entries.filter(e => readyOnes.has(e.id)).length
  const cited = useMemo(() => citedOf(b.cited), [b.cited])
  const standing = open && b.entries.find(e => e.id === open.id)
  const reading = open && standing && (
    <FromReading key={standing.id} entry={standing} cited={cited} asked={asked} putIn={open.putIn} back={open.back} />
  )
  const told = checks.data?.entries.reduce((n, e) => n + e.findings.filter(f => !f.isRight).length, 0)
  return (
    <Box px="24px" pb="24px">
      <Box className="compose-head">
        <Rules list={b} waiting={waiting} putIn={putIn} />
      </Box>
      <Flex className="compose-tools" wrap="wrap">
        {b.entries.length > 0 && (
          <>
            {checks.isError ? (
              <Text color="rust" role="alert">
                The entries could not be checked.{' '}
                <button type="button" className="plain-link" onClick={() => void checks.refetch()}>
                  Try again
                </button>
              </Text>
            ) : (
              <Text aria-live="polite">
                {told === undefined
                  ? 'Checking the entries …'
                  : told
                    ? `${told} ${told === 1 ? 'finding' : 'findings'} about citations`
                    : 'Nothing found against the citations'}
              </Text>
            )}
            <Text>
              <b>{nReady}</b> of {b.entries.length} ready
            </Text>
            <Text>
              <Kbd>{keyName(map.finding)}</Kbd> next finding
            </Text>
            {checks.data && <Registrations of={checks.data.registrations} />}
          </>
        )}
        <Flex ml="auto" gap="8px" wrap="wrap">
          <InOrder now={b.layout.order} />
          <Box w="220px">
            <InStyle now={{ style: b.style, name: b.styleName, language: b.language }} />
          </Box>
          {b.entries.length > 0 && (
            <Button asChild colorPalette="vine" size="sm">
              <Link to={`/inquiries/${inquiry.id}/compose/hand-in`}>Hand in</Link>
            </Button>
          )}
        </Flex>
      </Flex>
      {(b.styleTrouble || b.newerStyle) && (
        <Text className="style-newer" role="note">
          {b.styleTrouble ?? `There is a newer edition of this style: ${b.newerStyle!.name}.`}
        </Text>
      )}
      {!b.entries.length ? (
        <Empty title="No entries yet">
          An entry is one kept work with its citation and your annotation. Put in kept works from the list{' '}
          {waiting.length ? 'below' : 'that Sift fills'}.
        </Empty>
      ) : (
        <Flex gap="24px" align="flex-start">
          {isWide && (
            <Box className="compose-reading">
              {reading ?? (
                <Text fontSize="13.5px" lineHeight="19px" color="soft">
                  Write in an annotation, and what you marked and noted of its work stands here, to be put in.
                </Text>
              )}
            </Box>
          )}
          <Box flex="1" minW="0" className="compose-list" pt="12px">
            <chakra.h1 className="entries-head">{title || TITLE}</chakra.h1>
            <AroundText list={b} place="opening" label="The opening" invite="Write an opening" cited={cited} />
            <Sortable ids={isByHand ? ids : []} moved={layAs}>
              {b.sections.map(s => (
                <Fragment key={s.strand ?? 0}>
                  {s.heading && <chakra.h2 className="entries-part">{s.heading}</chakra.h2>}
                  {s.strand && (
                    <AroundText
                      list={b}
                      place={placeOfStrand(s.strand)}
                      label={`What “${s.heading}” is about`}
                      invite="Write what it is about"
                      cited={cited}
                    />
                  )}
                  {(isByHand ? ids.filter(id => s.entries.includes(id)) : s.entries)
                    .flatMap(id => of.get(id) ?? [])
                    .map(e => (
                      <Placed key={e.id} id={e.id} name={e.title} isByHand={isByHand}>
                        <Entry
                          entry={e}
                          move={isByHand ? move : undefined}
                          hanging={b.hangingIndent}
                          works={works}
                          check={checks.data?.entries.find(c => c.entry === e.id)}
                          style={checks.data?.style ?? ''}
                          listed={listed}
                          putOnList={putIn}
                          ready={ready}
                          wording={wording}
                          cited={cited}
                          isOpen={open?.id === e.id}
                          opened={setOpen}
                          toReading={toReading}
                          beside={isWide || open?.id !== e.id ? undefined : reading}
                        />
                      </Placed>
                    ))}
                </Fragment>
              ))}
            </Sortable>
            <AroundText list={b} place="closing" label="The closing" invite="Write a closing" cited={cited} />
            <div className="entries-foot" />
          </Box>
        </Flex>
      )}
      <ToPutIn waiting={waiting} putIn={putIn} />
    </Box>
  )
}

/** An entry at its place, with a handle where the list is laid by hand. */
function Placed({ isByHand, children, ...row }: { id: number; name: string; isByHand: boolean; children: ReactNode }) {
  const { mayWrite } = useHere()
  return isByHand && mayWrite ? <SortableRow {...row}>{children}</SortableRow> : children
}

/** To the first key of the next card with something to be mended. */
function toNextFinding(): void {
  const all = [...document.querySelectorAll<HTMLElement>('.margin-card [data-next]')]
  const at = all.findIndex(el => el === document.activeElement)
  const next = all[(at + 1) % Math.max(1, all.length)]
  next?.focus()
  next?.scrollIntoView({ block: 'center' })
}

function ToPutIn({ waiting, putIn }: { waiting: readonly WorkLine[]; putIn: (work: number) => void }) {
  const { mayWrite } = useHere()
  if (!waiting.length) return null
  return (
    <Box mt="24px" maxW="860px">
      <Heading aside="kept works that are no entries yet">To put in</Heading>
      {waiting.map(w => (
        <Flex key={w.id} gap="10px" py="6px" borderTop="1px solid" borderColor="hair2" align="center">
          <ReachMark reach={w.reach} />
          <Text flex="1" minW="0" truncate fontFamily="serif" fontSize="14.5px">
            {w.title}{' '}
            <Text as="span" color="soft" fontFamily="body" fontSize="13px">
              {w.authors} · {w.year}
            </Text>
          </Text>
          {mayWrite && (
            <Button size="xs" variant="outline" onClick={() => putIn(w.id)}>
              Put in
            </Button>
          )}
        </Flex>
      ))}
    </Box>
  )
}
