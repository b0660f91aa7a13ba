import { plainTitle } from '../../../core/bib/clean'
import { api } from '../../../core/schema/api'
import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { diffWords } from 'diff'
import { useState } from 'react'
import { yearOf } from '../../../core/bib/dates'
import type { Facts, Item } from '../../../core/bib/item'
import { authorLine } from '../../../core/bib/names'
import { useChange, useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { useKeyMap, keyName, useKeys } from '../../frame/keys'
import { Empty, Failed, Kbd, tell, tellError, Waiting } from '../../frame/parts'

interface Side {
  record: number
  work: number
  source: string
  item: Item
  facts: Facts
}
export interface Twins {
  a: Side
  b: Side
  score: number
}
type Answer = { a: number; b: number; verdict: 'same' | 'never' | 'asked' }

/** Types of CSL whose names say it the other way round; the others are said as they are. */
const CALLED: Record<string, string> = {
  'article-journal': 'journal article',
  'article-magazine': 'magazine article',
  'article-newspaper': 'newspaper article',
  'paper-conference': 'conference paper',
  'review-book': 'book review',
  'entry-encyclopedia': 'encyclopedia entry',
  'entry-dictionary': 'dictionary entry',
}

const ROWS: [string, (s: Side) => string][] = [
  ['Title', s => plainTitle(s.item.title, '')],
  ['Authors', s => authorLine(s.item.author ?? s.item.editor, 20)],
  ['Year', s => String(yearOf(s.item) ?? '')],
  ['In', s => s.item['container-title'] ?? s.item.publisher ?? ''],
  ['Volume, issue', s => [s.item.volume, s.item.issue && `(${s.item.issue})`].filter(Boolean).join(' ')],
  ['Pages', s => s.item.page ?? ''],
  ['DOI', s => s.item.DOI ?? ''],
  ['ISBN', s => s.item.ISBN ?? ''],
  ['Entered as', s => s.facts.genre ?? CALLED[s.item.type] ?? s.item.type.replaceAll(/[-_]/g, ' ')],
  ['Version', s => s.facts.version ?? ''],
  ['Abstract', s => s.item.abstract ?? ''],
]

/** Pairs that may be one work, side by side, with what differs marked. Nothing is joined before it is answered. */
export function TwinsView() {
  const { inquiry, mayWrite } = useHere()
  const twins = useOf(inquiry.id, api.twins)
  const link = useChange(inquiry.id, api.answerPair, (body: Answer) => ({ body }))
  const [passed, setPassed] = useState<string[]>([])
  const [answered, setAnswered] = useState<Answer[]>([])
  const keyOf = (t: Twins) => `${t.a.record}-${t.b.record}`
  const list = (twins.data ?? []).filter(
    t => !answered.some(x => x.a === t.a.record && x.b === t.b.record) && !passed.includes(keyOf(t)),
  )
  const pair = list[0]
  const back = () => {
    const last = answered.at(-1)
    if (!last) return tell('There is no answer to take back.')
    link.mutate(
      { ...last, verdict: 'asked' },
      { onSuccess: () => setAnswered(x => x.slice(0, -1)), onError: tellError },
    )
  }
  const answer = (verdict: 'same' | 'never') => {
    if (!pair || !mayWrite) return
    const given: Answer = { a: pair.a.record, b: pair.b.record, verdict }
    setAnswered(x => [...x, given])
    link.mutate(given, {
      onError: e => {
        setAnswered(x => x.filter(y => y !== given))
        tellError(e)
      },
      onSuccess: () =>
        tell(verdict === 'same' ? 'Joined as one work; both records stay as they came.' : 'Noted: two works.', {
          label: 'Undo',
          onClick: () =>
            link.mutate(
              { ...given, verdict: 'asked' },
              { onSuccess: () => setAnswered(x => x.filter(y => y !== given)), onError: tellError },
            ),
        }),
    })
  }
  useKeys({
    keep: () => answer('same'),
    aside: () => answer('never'),
    later: () => pair && setPassed(p => [...p, keyOf(pair)]),
    undo: back,
  })
  const map = useKeyMap()
  if (twins.isPending) return <Waiting what="Looking for pairs" />
  if (twins.isError) return <Failed error={twins.error} again={() => void twins.refetch()} />
  if (!pair)
    return (
      <Empty
        title={passed.length ? 'The pairs you passed over are left' : 'No pair is in doubt'}
        action={
          passed.length > 0 && (
            <Button size="sm" variant="outline" onClick={() => setPassed([])}>
              Look at them again
            </Button>
          )
        }
      >
        Records of one work are joined as they come. Where that is not certain, the two stand here side by side, and you
        say whether they are one.
      </Empty>
    )
  const { a, b } = pair
  const line = { borderBottom: '1px solid', borderColor: 'hair2', py: '6px', lineHeight: '20px' } as const
  const cell = (label: string, mine: string, theirs: string) => (
    <chakra.td
      {...line}
      pr="24px"
      verticalAlign="top"
      overflowWrap="anywhere"
      fontFamily={label === 'Title' || label === 'Abstract' ? 'serif' : undefined}
      fontWeight={label === 'Title' ? 600 : undefined}
      fontSize={label === 'Title' ? '16px' : undefined}
    >
      {mine ? <Differing text={mine} from={theirs} /> : <chakra.span color="soft">not given</chakra.span>}
    </chakra.td>
  )
  return (
    <Flex direction="column" h="full" minH="0" bg="surface">
      <Box flex="1" overflow="auto" px={{ base: '16px', md: '36px' }} py="18px">
        <Text fontSize="13px" color="soft">
          {list.length === 1 ? 'one pair' : `${list.length} pairs`} in doubt
        </Text>
        <chakra.h1 fontFamily="serif" fontWeight="600" fontSize="21px" lineHeight="28px" mb="12px">
          Do these describe one work?
        </chakra.h1>
        <chakra.table w="full" fontSize="13.5px" css={{ borderCollapse: 'collapse', tableLayout: 'fixed' }}>
          <thead>
            <tr>
              <chakra.th w={{ base: '76px', md: '112px' }} />
              {[a, b].map(s => (
                <chakra.th key={s.record} scope="col" textAlign="left" fontWeight="400" color="soft" pb="6px">
                  from <b>{s.source}</b>
                </chakra.th>
              ))}
            </tr>
          </thead>
          <tbody>
            {ROWS.map(([label, of]) => {
              const [left, right] = [of(a), of(b)]
              if (!left && !right) return null
              return (
                <tr key={label}>
                  <chakra.th {...line} scope="row" textAlign="left" fontWeight="400" color="soft" verticalAlign="top">
                    {label}
                  </chakra.th>
                  {cell(label, left, right)}
                  {cell(label, right, left)}
                </tr>
              )
            })}
          </tbody>
        </chakra.table>
      </Box>
      <Flex
        px={{ base: '16px', md: '36px' }}
        py="12px"
        gap="8px"
        borderTop="1px solid"
        borderColor="hair"
        wrap="wrap"
        align="center"
      >
        <Button size="sm" colorPalette="vine" onClick={() => answer('same')} disabled={!mayWrite}>
          One work <Kbd>{keyName(map.keep)}</Kbd>
        </Button>
        <Button size="sm" variant="outline" onClick={() => answer('never')} disabled={!mayWrite}>
          Two works <Kbd>{keyName(map.aside)}</Kbd>
        </Button>
        <Button size="sm" variant="ghost" onClick={() => setPassed(p => [...p, keyOf(pair)])}>
          Pass over <Kbd>{keyName(map.later)}</Kbd>
        </Button>
        <Box flex="1" />
        <Text fontSize="13px" color="soft">
          Joined works can be taken apart again on the work sheet.
        </Text>
      </Flex>
    </Flex>
  )
}

/** A text with what another one does not have marked, by more than colour. */
function Differing({ text, from }: { text: string; from: string }) {
  if (text === from || !from) return <>{text}</>
  return (
    <>
      {diffWords(from, text)
        .filter(p => !p.removed)
        .map((p, i) =>
          p.added ? (
            <chakra.mark
              key={i}
              bg="amber.soft"
              color="ink"
              borderBottom="2px solid"
              borderColor="amber"
              aria-label={`differs: ${p.value}`}
            >
              {p.value}
            </chakra.mark>
          ) : (
            <span key={i}>{p.value}</span>
          ),
        )}
    </>
  )
}
