import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { Fragment, useState } from 'react'
import { Link } from 'react-router'
import { wouldFill } from '../../../core/write/fill'
import { VERDICT_WORDS, type RuleAnswer } from '../../../core/write/rules'
import type { Bibliography, BibliographyEntry } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { useHere } from '../../frame/inquiry-frame'
import { ReachMark } from '../../frame/marks'
import { useStrands } from '../../frame/strands'
import { toEntry } from '../../frame/to-entry'

/** Leaves on a vine at most: beyond, the figure alone is told. */
const MOST_LEAVES = 14
/** Kept works that are offered at one time. */
const MOST_OFFERED = 4

/** What the brief asks, each rule a vine with its mark; one that is pressed says what counts and what would fill it. */
export function Rules({
  list,
  waiting,
  putIn,
}: {
  list: Bibliography
  waiting: readonly WorkLine[]
  putIn: (work: number) => void
}) {
  const [open, setOpen] = useState<string>()
  const rule = list.rules.find(r => r.rule === open)
  if (!list.rules.length) return null
  return (
    <>
      <Box className="rules" role="group" aria-label="What the brief asks">
        {list.rules.map(r => (
          <chakra.button
            key={r.rule}
            type="button"
            className="rule"
            data-holds={r.verdict === 'holds' || undefined}
            aria-expanded={open === r.rule}
            aria-label={`${r.said}: ${VERDICT_WORDS[r.verdict]}`}
            onClick={() => setOpen(o => (o === r.rule ? undefined : r.rule))}
          >
            <Vine rule={r} />
            <span>
              <b>{r.want && !isAtMost(r) ? `${r.have} of ${r.want}` : r.have}</b> {r.said.replace(/, \d+ asked$/, '')}
            </span>
            <span className="rule-tail">{tailOf(r)}</span>
          </chakra.button>
        ))}
      </Box>
      {rule && <Opened rule={rule} list={list} waiting={waiting} putIn={putIn} />}
    </>
  )
}

/** A rule that sets a bound: what is missing from it is missed by nobody. */
const isAtMost = (r: RuleAnswer): boolean =>
  r.rule === 'books' || r.rule === 'journal' || (r.want === 0 && r.rule !== 'strands')

function tailOf(r: RuleAnswer): string {
  if (r.verdict === 'short') return `${r.want - r.have} short`
  if (r.verdict === 'over') return `${r.have - r.want} over`
  return r.verdict === 'unsure' ? 'not sure' : 'holds'
}

/** A leaf for each entry that counts, dotted ones for those that are missing, and the mark where enough is. */
function Vine({ rule }: { rule: RuleAnswer }) {
  const { have, want, verdict } = rule
  const all = Math.max(have, want)
  const drawn = isAtMost(rule) ? have : all
  if (!all || all > MOST_LEAVES) return <Box h="22px" />
  const step = 13
  return (
    <svg width={all * step + 10} height="22" aria-hidden="true" className="rule-vine">
      <line x1="0" x2={all * step + 4} y1="12" y2="12" stroke="currentColor" strokeOpacity="0.45" />
      {Array.from({ length: drawn }, (_, i) => (
        <path
          key={i}
          transform={`translate(${i * step + 2} 12) scale(1 ${i % 2 ? -1 : 1})`}
          d="M0 0C1 -8 8 -9 10 -7C10 -2 5 0 0 0Z"
          fill={i < have ? 'currentColor' : 'none'}
          stroke={i < have ? 'none' : 'var(--chakra-colors-amber)'}
          strokeDasharray={i < have ? undefined : '2 1.5'}
          strokeWidth="1.3"
        />
      ))}
      {want > 0 && (
        <line
          x1={want * step + 3}
          x2={want * step + 3}
          y1="2"
          y2="21"
          stroke={verdict === 'over' ? 'var(--chakra-colors-amber)' : 'var(--chakra-colors-grape)'}
          strokeWidth="2"
        />
      )}
    </svg>
  )
}

const nameOf = (e: BibliographyEntry): string => e.inText.replace(/^\(|\)$/g, '')

/** Entries by their names, each leading to itself. */
function Named({ entries }: { entries: readonly BibliographyEntry[] }) {
  const { inquiry } = useHere()
  return entries.map((e, i) => (
    <Fragment key={e.id}>
      {i > 0 && ' · '}
      <Link className="plain-link" to={toEntry(inquiry.id, e.id)}>
        {nameOf(e)}
      </Link>
    </Fragment>
  ))
}

function Opened({
  rule,
  list,
  waiting,
  putIn,
}: {
  rule: RuleAnswer
  list: Bibliography
  waiting: readonly WorkLine[]
  putIn: (work: number) => void
}) {
  const { inquiry, mayWrite } = useHere()
  const counting = list.entries.filter(e => rule.counting.includes(e.id))
  const others = list.entries.filter(e => !rule.counting.includes(e.id))
  const lacking = useStrands(inquiry.id).filter(s => rule.lacking?.includes(s.id))
  const fill = rule.verdict === 'short' ? waiting.filter(w => wouldFill(rule, inquiry.rules, w, inquiry.today)) : []
  const breaks = rule.verdict === 'over' && rule.want === 0
  return (
    <Flex className="rule-open" gap={{ base: '10px', lg: '40px' }} direction={{ base: 'column', lg: 'row' }}>
      <Box flex="1" minW="0">
        <Text fontWeight="600">
          {rule.said}: {tailOf(rule)}
        </Text>
        <dl className="apart">
          <dt>{breaks ? 'against it' : 'these count'}</dt>
          <dd>{counting.length ? <Named entries={counting} /> : 'none'}</dd>
          {lacking.length > 0 && (
            <>
              <dt>too few on</dt>
              <dd>{lacking.map(s => s.name).join(' · ')}</dd>
            </>
          )}
          {others.length > 0 && (
            <>
              <dt>{breaks ? 'the others' : 'not these'}</dt>
              <dd className="soft">
                <Named entries={others} />
              </dd>
            </>
          )}
        </dl>
      </Box>
      {rule.rule === 'strands' && rule.want === 0 && (
        <Text flex="1" color="soft">
          Strands are made in{' '}
          <Link className="plain-link" to={`/inquiries/${inquiry.id}/sift?view=strands`}>
            Sift
          </Link>
          .
        </Text>
      )}
      {rule.rule === 'parts' && rule.verdict !== 'holds' && (
        <Text flex="1" color="soft">
          Told by simple signs in their words, in English: read those that are not counted yourself. Write in one, and
          what it has is shown beside it.
        </Text>
      )}
      {rule.verdict === 'short' && rule.rule !== 'parts' && (
        <Box flex="1" minW="0">
          <Text color="soft" mb="4px">
            {rule.rule === 'words'
              ? 'Written in the entries below.'
              : fill.length
                ? `${fill.length === 1 ? 'One kept work' : `${fill.length} kept works`} would fill it`
                : 'No kept work would fill it: what Sift keeps comes here.'}
          </Text>
          {fill.slice(0, MOST_OFFERED).map(w => (
            <Flex key={w.id} gap="10px" align="center" py="2px">
              <ReachMark reach={w.reach} />
              <Text flex="1" minW="0" truncate fontFamily="serif" fontSize="14px">
                <b>
                  {w.authors} {w.year}
                </b>{' '}
                {w.title}
              </Text>
              <Text color="soft" fontSize="13px" flex="none">
                {w.reach}
              </Text>
              {mayWrite && (
                <Button size="2xs" variant="outline" bg="surface" onClick={() => putIn(w.id)}>
                  Put it in
                </Button>
              )}
            </Flex>
          ))}
        </Box>
      )}
    </Flex>
  )
}
