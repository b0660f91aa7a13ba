import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { Fragment, useEffect, useRef, useState, type KeyboardEvent } from 'react'
import type { Item } from '../../../core/bib/item'
import { compareEntry, PARTS, type Compared, type Part, type Standing } from '../../../core/match/settle'
import { Kbd } from '../../frame/parts'
import { PutRight, type Means } from '../../frame/settle'
import { PART_NAMES, partOf, printedOf, type Entry, type ListNode } from './entry-words'
import { colour as c } from '../../frame/colour'
/** How a part stands: its colour, and its line, which says the same without colour. */
const LOOKS: Record<'good' | 'doubt' | 'bad', { colour: string; dash?: string }> = {
  good: { colour: 'vine' },
  doubt: { colour: 'amber', dash: '5 4' },
  bad: { colour: 'rust' },
}
const lookOf = (s: Standing): keyof typeof LOOKS => (s === 'agrees' ? 'good' : s === 'differs' ? 'bad' : 'doubt')

/** A tie between what is printed and what a work has: whole, broken into dashes, or cut. */
function Tie({ standing }: { standing: Standing }) {
  const look = LOOKS[lookOf(standing)]
  const line = { stroke: c(look.colour), strokeWidth: 1.6, strokeDasharray: look.dash }
  const half = (
    <svg width="34" height="12" viewBox="0 0 34 12" aria-hidden="true" style={{ flex: 'none' }}>
      <path d="M2 6 H32" {...line} />
      {standing === 'differs' && <path d="M15 11 L18 1 M19 11 L22 1" stroke={c(look.colour)} strokeWidth="1.4" />}
      {standing === 'agrees' && <circle cx="2" cy="6" r="2" fill={c(look.colour)} />}
    </svg>
  )
  return (
    <Flex align="center" gap="6px" justify="center" fontSize="13px" fontWeight="600" color={look.colour}>
      {half}
      <span style={{ whiteSpace: 'nowrap' }}>{standing}</span>
      {half}
    </Flex>
  )
}

/** An entry beside the works that it may mean, part by part. Arrow keys settle it: to the left, to the right, neither. */
export function SettlePanel({
  entry,
  nodes,
  stands,
  mayWrite,
  busy,
  settle,
  rewrite,
}: {
  entry: Entry
  nodes: readonly ListNode[]
  /** What is known of a work, in a few words. */
  stands: (node: ListNode) => string
  mayWrite: boolean
  busy: boolean
  settle: (means: Means, node?: number) => void
  rewrite: (text: string) => void
}) {
  const [shown, setShown] = useState(1)
  const panel = useRef<HTMLDivElement>(null)
  useEffect(() => panel.current?.focus({ preventScroll: true }), [])
  const printed = printedOf(entry)
  const all = entry.matches.map(m => ({ node: nodes[m.node]!, share: m.share }))
  const offered = [all[0], all[shown]].filter(x => x !== undefined)
  const told = offered.map(o => compareEntry(printed, o.node.item as Item))
  const parts = PARTS.filter(
    p => partOf(p, entry.item) || told.some(t => t.parts.some(x => x.part === p && x.standing !== 'differs')),
  )
  const neither = Math.max(0, 1 - entry.matches.reduce((sum, m) => sum + m.share, 0))
  const keys = (e: KeyboardEvent) => {
    if (!mayWrite || busy || e.target !== panel.current) return
    const [left, right] = offered
    if (e.key === 'ArrowLeft' && left) settle('this', left.node.id)
    else if (e.key === 'ArrowRight' && right) settle('this', right.node.id)
    else if (e.key === 'ArrowDown' && offered.length) settle('none')
    else return
    e.preventDefault()
    e.stopPropagation()
  }
  const columns = offered.length === 2 ? '1fr 176px 74px 200px 176px 1fr' : '1fr 176px 74px 1fr'
  return (
    <Box
      ref={panel}
      tabIndex={0}
      role="group"
      aria-label={`Entry ${entry.n} beside the works that it may mean`}
      onKeyDown={keys}
      bg="surface"
      borderY="1px solid"
      borderColor="hair"
      mx={{ base: '-12px', lg: '-24px' }}
      px={{ base: '12px', lg: '24px' }}
      py="12px"
      overflowX="auto"
    >
      {offered.length > 0 && (
        <Box
          display="grid"
          gridTemplateColumns={columns}
          gap="6px 8px"
          alignItems="baseline"
          minW="900px"
          fontSize="14px"
        >
          <Share share={offered[0]!.share} />
          <span />
          <span />
          <Text fontWeight="600" fontSize="13px">
            as printed
          </Text>
          {offered[1] && (
            <>
              <span />
              <Share share={offered[1].share} right />
            </>
          )}
          {parts.map(p => (
            <Fragment key={p}>
              <Side part={p} item={offered[0]!.node.item} />
              <TieOf part={p} told={told[0]!} />
              <Text color="soft" fontSize="13px">
                {PART_NAMES[p]}
              </Text>
              <Text fontFamily={p === 'title' ? 'serif' : undefined} dir="auto">
                {partOf(p, entry.item) || <chakra.span color="soft">stands in its words</chakra.span>}
              </Text>
              {offered[1] && (
                <>
                  <TieOf part={p} told={told[1]!} />
                  <Side part={p} item={offered[1].node.item} right />
                </>
              )}
            </Fragment>
          ))}
        </Box>
      )}
      {mayWrite && offered.length > 0 && (
        <Flex gap="12px" mt="12px" align="center" wrap="wrap">
          <Text fontSize="13px" color="soft" flex="1" textAlign="right">
            {stands(offered[0]!.node)}
          </Text>
          <Button size="xs" variant="outline" disabled={busy} onClick={() => settle('this', offered[0]!.node.id)}>
            {offered[1] ? 'This one' : 'It is this one'} <Kbd>←</Kbd>
          </Button>
          <Button size="xs" variant="outline" disabled={busy} onClick={() => settle('none')}>
            {offered[1] ? 'Neither' : 'It is another'}{' '}
            {neither >= 0.005 && <chakra.span color="soft">{pct(neither)}</chakra.span>} <Kbd>↓</Kbd>
          </Button>
          {offered[1] && (
            <>
              <Button size="xs" variant="outline" disabled={busy} onClick={() => settle('this', offered[1]!.node.id)}>
                That one <Kbd>→</Kbd>
              </Button>
              <Text fontSize="13px" color="soft" flex="1">
                {stands(offered[1].node)}
                {all.length > 2 && (
                  <Button size="2xs" variant="ghost" onClick={() => setShown(shown === 1 ? 2 : 1)}>
                    {shown === 1 ? 'Another that may fit' : 'Back to the second'}
                  </Button>
                )}
              </Text>
            </>
          )}
          {!offered[1] && <Box flex="1" />}
        </Flex>
      )}
      {mayWrite && <PutRight entry={entry} busy={busy} found={offered.length > 0} settle={settle} rewrite={rewrite} />}
    </Box>
  )
}

const pct = (share: number): string => `${Math.round(share * 100)}%`

function Share({ share, right }: { share: number; right?: boolean }) {
  return (
    <Text fontSize="13px" textAlign={right ? 'left' : 'right'}>
      <b>{pct(share)}</b> <chakra.span color="soft">likely</chakra.span>
    </Text>
  )
}

function Side({ part, item, right }: { part: Part; item: Partial<Item>; right?: boolean }) {
  const is = partOf(part, item)
  return (
    <Text
      textAlign={right ? 'left' : 'right'}
      fontFamily={part === 'title' ? 'serif' : undefined}
      fontWeight={part === 'title' ? 600 : undefined}
      color={is ? undefined : 'soft'}
      dir="auto"
    >
      {is || 'not told'}
    </Text>
  )
}

function TieOf({ part, told }: { part: Part; told: Compared }) {
  const at = told.parts.find(p => p.part === part)
  return at ? <Tie standing={at.standing} /> : <span />
}
