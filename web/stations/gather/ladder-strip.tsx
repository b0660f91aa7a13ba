import { Box, Button, chakra, Flex } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useMemo } from 'react'
import { ladder, type Sheet, type Step } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { range, short, useCounts } from './use-counts'

/** The ladder folded into one line while what was found is read: each rung that is on, with its count. */
export function LadderStrip({ sheet, catalogues, unfold }: { sheet: Sheet; catalogues: string[]; unfold: () => void }) {
  const steps = useMemo(() => ladder(sheet).filter(s => s.on), [sheet])
  return (
    <Flex align="center" gap="12px" borderBottom="1px solid" borderColor="hair" pb="8px" minH="36px">
      <Box fontWeight="600" fontSize="13.5px" flex="none">
        Ladder
      </Box>
      <Flex as="ol" flex="1" minW="0" gap="4px" overflow="hidden" listStyleType="none" fontSize="13px">
        {steps.map((s, i) => (
          <Rung key={s.id} step={s} first={i === 0} last={i === steps.length - 1} catalogues={catalogues} />
        ))}
      </Flex>
      <Button size="2xs" variant="outline" flex="none" onClick={unfold} aria-expanded={false}>
        Unfold <ChevronDown size={12} />
      </Button>
    </Flex>
  )
}

function Rung({ step, first, last, catalogues }: { step: Step; first: boolean; last: boolean; catalogues: string[] }) {
  const { inquiry } = useHere()
  const counts = useCounts(inquiry.id, step.how === 'judged' ? undefined : step.cql, catalogues)
  return (
    <Flex
      as="li"
      align="baseline"
      gap="5px"
      minW={last ? undefined : '0'}
      flex={last ? 'none' : '0 1 auto'}
      whiteSpace="nowrap"
      title={counts.data ? `${step.label}: ${range(counts.data)}` : step.label}
    >
      {!first && (
        <chakra.span color="soft" aria-hidden="true">
          →
        </chakra.span>
      )}
      <chakra.span truncate color="soft" minW="24px" maxW="150px">
        {step.label}
      </chakra.span>
      {/* in full only where it ends: the others are a glance */}
      {counts.data && <b>{last ? range(counts.data) : short(counts.data.most)}</b>}
    </Flex>
  )
}
