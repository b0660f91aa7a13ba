import { Box, Button, chakra, Flex, Input, Text } from '@chakra-ui/react'
import { useDraggable, useDroppable } from '@dnd-kit/core'
import { ChevronDown, ChevronUp } from 'lucide-react'
import { useMemo, useState } from 'react'
import type { Counts } from '../../../core/schema/api'
import { ladder, type Sheet, type Step } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { Heading, Tick } from '../../frame/parts'
import { LimitMenu } from './limits'
import { moveRung } from './lists'
import { Losses } from './losses'
import type { SheetHandle } from './use-sheet'
import { n, range, useCounts } from './use-counts'

/** How many fetched records a judged rung leaves. */
export interface Judged {
  fetched: number
  left: Record<string, number>
}

/**
 * The ladder: how the number falls from rung to rung on a logarithmic scale, what each takes away, and the zone that
 * can be read through. Rungs are put in another order, switched off, lifted, and opened to see what they lose.
 */
export function Ladder({
  handle,
  catalogues,
  judged,
  look,
  fold,
}: {
  handle: SheetHandle
  catalogues: string[]
  judged: Judged | undefined
  /** Sweeps what a rung takes away. */
  look: (cql: string) => void
  /** Folds it into a strip. */
  fold: () => void
}) {
  const { mayWrite } = useHere()
  const { sheet, edit } = handle
  const steps = useMemo(() => ladder(sheet), [sheet])
  const [opened, setOpened] = useState<string>()
  const top = useTop(steps, catalogues)
  const shift = (id: string, by: number) => {
    const to = steps[steps.findIndex(s => s.id === id) + by]
    if (to) edit(s => moveRung(s, id, to.id))
  }
  return (
    <Box>
      <Heading
        aside={
          <Flex align="center" gap="6px">
            logarithmic · reviewable zone
            <ZoneInput
              value={sheet.zone[0]}
              label="Least number that is worth reviewing"
              set={v => edit(s => ({ ...s, zone: [Math.min(v, s.zone[1]), s.zone[1]] }))}
            />
            –
            <ZoneInput
              value={sheet.zone[1]}
              label="Largest number that can be reviewed"
              set={v => edit(s => ({ ...s, zone: [s.zone[0], Math.max(v, s.zone[0])] }))}
            />
            {steps.length > 0 && (
              <Button size="2xs" variant="outline" ml="6px" onClick={fold} aria-expanded>
                Fold <ChevronUp size={12} />
              </Button>
            )}
          </Flex>
        }
      >
        Ladder{' '}
        <chakra.span fontWeight="400" color="soft">
          · how the number falls now, in {catalogues.length === 1 ? 'one catalogue' : `${catalogues.length} catalogues`}
        </chakra.span>
      </Heading>
      <Box borderTop="1px solid" borderColor="hair">
        {steps.map((s, i) => (
          <RungRow
            key={s.id}
            step={s}
            number={i + 1}
            above={steps.slice(0, i).findLast(x => x.on && x.how === 'asked' && x.cql)}
            first={i === 0}
            last={i === steps.length - 1}
            zone={sheet.zone}
            top={top}
            catalogues={catalogues}
            judged={judged}
            open={opened === s.id}
            toggle={() => setOpened(o => (o === s.id ? undefined : s.id))}
            set={on => edit(x => ({ ...x, off: on ? x.off.filter(id => id !== s.id) : [...x.off, s.id] }))}
            shift={by => shift(s.id, by)}
            look={look}
            {...(mayWrite && liftable(s.id)
              ? { lift: () => edit(x => lift(x, s.id), `The limit “${s.label}” was lifted.`) }
              : {})}
          />
        ))}
        {!steps.length && (
          <Text py="18px" fontSize="13.5px" color="soft">
            Each concept of the question sheet becomes a rung: you see how many records are left after it, and what it
            took away, before you fetch anything.
          </Text>
        )}
      </Box>
      {mayWrite && steps.length > 0 && <LimitMenu handle={handle} catalogues={catalogues} />}
    </Box>
  )
}

function ZoneInput({ value, label, set }: { value: number; label: string; set: (v: number) => void }) {
  return (
    <Input
      aria-label={label}
      type="number"
      min={1}
      size="2xs"
      w="52px"
      h="22px"
      px="4px"
      textAlign="center"
      defaultValue={value}
      key={value}
      onBlur={e => {
        const v = Math.round(Number(e.target.value))
        if (v >= 1 && v <= 100_000 && v !== value) set(v)
      }}
    />
  )
}

/** The largest count of the ladder, by which its bars are drawn. */
function useTop(steps: Step[], catalogues: string[]): number {
  const { inquiry } = useHere()
  const first = steps.find(s => s.cql)
  const counts = useCounts(inquiry.id, first?.cql, catalogues)
  return Math.max(100, counts.data?.most ?? 0)
}

const share = (x: number, top: number): number => Math.min(1, Math.log10(1 + x) / Math.log10(1 + top))
const sum = (c: Counts): number => c.counts.reduce((t, x) => t + (x.count ?? 0), 0)

function RungRow(p: {
  step: Step
  number: number
  above: Step | undefined
  first: boolean
  last: boolean
  zone: [number, number]
  top: number
  catalogues: string[]
  judged: Judged | undefined
  open: boolean
  toggle: () => void
  set: (on: boolean) => void
  shift: (by: number) => void
  look: (cql: string) => void
  lift?: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const { step } = p
  const isJudged = step.how === 'judged'
  const asks = step.on && !isJudged && step.cql !== undefined
  const names = new Map(inquiry.catalogues.map(x => [x.id, x.name]))
  const { setNodeRef: placed, isOver } = useDroppable({
    id: `rung ${step.id}`,
    data: { rung: step.id },
    disabled: isJudged,
  })
  const {
    setNodeRef: gripped,
    listeners,
    transform,
    isDragging,
  } = useDraggable({ id: `rung ${step.id}`, data: { rung: step.id }, disabled: isJudged || !mayWrite })
  const counts = useCounts(inquiry.id, step.on && !isJudged ? step.cql : undefined, p.catalogues)
  const above = useCounts(inquiry.id, step.on && !isJudged ? p.above?.cql : undefined, p.catalogues)
  const c = counts.data
  const taken = c && above.data ? sum(above.data) - sum(c) : undefined
  const failed = c?.counts.filter(x => x.error && x.count === null) ?? []
  const inZone = c && c.most >= p.zone[0] && c.least <= p.zone[1]
  return (
    <Box
      ref={placed}
      bg={isOver && !isDragging ? 'vine.soft' : undefined}
      borderBottom="1px solid"
      borderColor="hair"
      role="group"
      aria-label={`Rung ${p.number}: ${step.label}`}
      _hover={{ '& .shift': { opacity: 1 } }}
      css={{ '&:focus-within .shift': { opacity: 1 } }}
    >
      <Flex
        ref={gripped}
        align="center"
        h="38px"
        gap="8px"
        fontSize="13.5px"
        bg={isDragging ? 'surface' : undefined}
        position="relative"
        style={transform ? { transform: `translateY(${transform.y}px)`, zIndex: 5 } : {}}
        {...(isJudged || !mayWrite ? {} : { ...listeners, cursor: 'grab' })}
      >
        <Tick checked={step.on} set={p.set} label={`${step.label}: on`} disabled={!mayWrite} />
        <chakra.button
          type="button"
          textAlign="left"
          w="176px"
          flex="none"
          truncate
          onClick={p.toggle}
          disabled={!asks}
          aria-expanded={p.open}
          title={step.lost ? `${step.label}: what does it take away?` : step.label}
          color={step.on ? 'ink' : 'soft'}
          cursor={asks ? 'pointer' : 'default'}
        >
          <b>{p.number}</b>&ensp;{step.not || p.first || isJudged ? '' : 'and '}
          {step.label}
        </chakra.button>
        <Box flex="1" minW="0" position="relative" alignSelf="stretch" aria-hidden="true">
          <Box
            position="absolute"
            top="0"
            bottom="0"
            left={`${100 * share(p.zone[0], p.top)}%`}
            w={`${100 * (share(p.zone[1], p.top) - share(p.zone[0], p.top))}%`}
            bg="vine.soft"
            borderX="1px solid"
            borderColor="vine.line"
            opacity="0.75"
          />
          {c && !isJudged && (
            <>
              {above.data && taken !== undefined && taken > 0 && (
                <Box
                  position="absolute"
                  top="11px"
                  h="16px"
                  left={`${100 * share(c.most, p.top)}%`}
                  w={`${100 * (share(above.data.most, p.top) - share(c.most, p.top))}%`}
                  css={{
                    background:
                      'repeating-linear-gradient(135deg, var(--chakra-colors-rust-line) 0 3px, transparent 3px 7px)',
                  }}
                />
              )}
              <Box
                position="absolute"
                top="11px"
                h="16px"
                left="0"
                w={`${100 * share(c.most, p.top)}%`}
                bg="vine.line"
                opacity="0.55"
                borderRadius="sm"
              />
              <Box
                position="absolute"
                top="11px"
                h="16px"
                left="0"
                w={`${100 * share(c.least, p.top)}%`}
                bg={p.last && inZone ? 'vine.solid' : 'vine.line'}
                borderRadius="sm"
              />
            </>
          )}
        </Box>
        <Text
          w="104px"
          flex="none"
          textAlign="right"
          fontFamily="serif"
          fontWeight="600"
          fontSize="15px"
          color={inZone && p.last ? 'vine' : 'ink'}
          whiteSpace="nowrap"
        >
          {!step.on ? (
            <chakra.span color="soft" fontWeight="400" fontSize="13px">
              off
            </chakra.span>
          ) : isJudged ? (
            p.judged ? (
              n(p.judged.left[step.id] ?? 0)
            ) : (
              '–'
            )
          ) : !step.cql ? (
            '–'
          ) : c ? (
            range(c)
          ) : counts.isError ? (
            '?'
          ) : (
            '…'
          )}
        </Text>
        <Box w="126px" flex="none" fontSize="12px" lineHeight="15px">
          {isJudged && step.on && (
            <Text color="slate">{p.judged ? `of ${n(p.judged.fetched)} fetched records` : 'judged once fetched'}</Text>
          )}
          {taken !== undefined && step.on && (
            <Text color={taken > 0 ? 'rust' : 'soft'}>
              {taken > 0 ? `takes ${n(taken)} away` : 'takes nothing away'}
            </Text>
          )}
          {failed.length > 0 && (
            <Text color="amber" title={failed.map(f => f.error).join(' ')}>
              without {failed.length} {failed.length === 1 ? 'catalogue' : 'catalogues'}
            </Text>
          )}
        </Box>
        <Flex
          className="shift"
          opacity="0"
          flex="none"
          color="soft"
          gap="0"
          w="72px"
          justify="flex-end"
          css={{
            '& button': {
              minWidth: '24px',
              minHeight: '24px',
              display: 'inline-flex',
              alignItems: 'center',
              justifyContent: 'center',
            },
          }}
        >
          {mayWrite && (
            <>
              <chakra.button
                type="button"
                aria-label={`Move ${step.label} up`}
                disabled={p.first || isJudged}
                onClick={() => p.shift(-1)}
                _disabled={{ opacity: 0.3 }}
              >
                <ChevronUp size={15} />
              </chakra.button>
              <chakra.button
                type="button"
                aria-label={`Move ${step.label} down`}
                disabled={p.last || isJudged}
                onClick={() => p.shift(1)}
                _disabled={{ opacity: 0.3 }}
              >
                <ChevronDown size={15} />
              </chakra.button>
              {p.lift && (
                <chakra.button
                  type="button"
                  aria-label={`Lift the limit ${step.label}`}
                  onClick={p.lift}
                  fontSize="15px"
                  px="3px"
                >
                  ×
                </chakra.button>
              )}
            </>
          )}
        </Flex>
      </Flex>
      {p.open && asks && c && (
        <Text pb="8px" fontSize="12.5px" lineHeight="18px" color="soft">
          {c.counts
            .map(x => `${names.get(x.catalogue) ?? x.catalogue} ${x.count === null ? '–' : n(x.count)}`)
            .join(' · ')}
        </Text>
      )}
      {p.open && step.lost && (
        <Losses query={step.lost} label={step.label} catalogues={p.catalogues} look={() => p.look(step.lost!)} />
      )}
    </Box>
  )
}

const liftable = (id: string): boolean => ['years', 'languages', 'refereed', 'kinds', 'abstract', 'reach'].includes(id)
function lift(s: Sheet, id: string): Sheet {
  const next = { ...s, off: s.off.filter(x => x !== id) }
  if (id === 'years') delete next.years
  if (id === 'languages') delete next.languages
  if (id === 'refereed') delete next.refereed
  if (id === 'kinds') delete next.kinds
  if (id === 'abstract') delete next.withAbstract
  if (id === 'reach') delete next.withinReach
  return next
}
