import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import type { Choice } from '../../../core/sift/decisions'
import { LeafMark, ReachMark } from '../../frame/marks'
import { Tick } from '../../frame/parts'
import { FirstSaid } from '../../frame/said-of'
import { TakenBackLine } from '../../frame/taken-back'
import { DecideButtons } from '../../frame/decide-buttons'
import { who } from './naming'
import type { Line } from './ranking'

/** A work of a ranked list: what it is, why it stands here, and what can be done with it where one has gone to it. */
export function ListRow({
  line: { shown: s, why, percentile },
  current,
  ticked,
  mayWrite,
  busy,
  tick,
  go,
  decide,
  chain,
  sayChain,
  look,
  open,
}: {
  line: Line
  current: boolean
  ticked: boolean
  mayWrite: boolean
  busy: boolean
  tick: (on: boolean) => void
  go: () => void
  decide: (choice: Choice) => void
  /** How it hangs together with the chosen work, where that was asked. */
  chain: string | undefined
  sayChain: () => void
  look: () => void
  open: (work: number) => void
}) {
  const rate =
    s.perYear !== null
      ? `${s.perYear.toFixed(1)} a year`
      : s.citedBy !== null && s.year !== null
        ? 'too new to tell'
        : ''
  return (
    <Flex
      role="listitem"
      data-current={current || undefined}
      gap="10px"
      py="8px"
      px="6px"
      borderBottom="1px solid"
      borderColor="hair2"
      bg={current ? 'grape.soft' : undefined}
      align="flex-start"
    >
      {s.work ? (
        <Box pt="3px">
          <LeafMark state={s.work.state} />
        </Box>
      ) : (
        <Tick voice="grape" label={`Choose: ${s.title}`} checked={ticked} disabled={!mayWrite} set={tick} />
      )}
      <Box flex="1" minW="0">
        <chakra.button
          type="button"
          textAlign="start"
          fontFamily="serif"
          fontWeight="600"
          fontSize="14px"
          lineHeight="19px"
          onClick={go}
          dir="auto"
          cursor="pointer"
        >
          {s.title}
        </chakra.button>
        <Text
          fontSize="12.5px"
          lineHeight="17px"
          color="soft"
          truncate
          title={[s.authors, s.container].filter(Boolean).join(' · ')}
        >
          {[who(s), s.kind, s.container].filter(Boolean).join(' · ')}
        </Text>
        <Text fontSize="12.5px" lineHeight="17px" color="grape">
          {[
            why,
            rate,
            percentile !== null && percentile >= 50 && `above ${Math.round(percentile)}% of its field and year`,
          ]
            .filter(Boolean)
            .join(' · ')}
        </Text>
        {(s.work ?? s.node) && <TakenBackLine of={s.work ? { work: s.work.id } : { node: s.node! }} />}
        {current && (
          <Flex gap="6px" mt="6px" wrap="wrap">
            {mayWrite && <DecideButtons busy={busy} decide={decide} />}
            <Button size="2xs" variant="ghost" onClick={look}>
              Look from here
            </Button>
            <Button size="2xs" variant="ghost" onClick={sayChain}>
              Chain to it
            </Button>
            {s.work && (
              <Button size="2xs" variant="ghost" onClick={() => open(s.work!.id)}>
                Work sheet
              </Button>
            )}
          </Flex>
        )}
        {current && (s.work ?? s.node) && <FirstSaid of={s.work ? { work: s.work.id } : { node: s.node! }} />}
        {current && chain && (
          <Text fontSize="13px" lineHeight="18px" mt="6px" role="status">
            {chain}
          </Text>
        )}
      </Box>
      <Box pt="2px" flex="none">
        <ReachMark reach={s.reach} />
      </Box>
    </Flex>
  )
}
