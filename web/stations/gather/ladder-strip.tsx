import { Box, Button, chakra, Flex } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useMemo } from 'react'
import { ladder, type Sheet, type Step } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { range, short, useCounts } from './use-counts'

/**
 * The ladder folded into one line while what was found is read: each rung that is on, with its count. Where it does not
 * fit, rungs before the last give way; the last says what is left.
 */
export function LadderStrip({ sheet, catalogues, unfold }: { sheet: Sheet; catalogues: string[]; unfold: () => void }) {
  const steps = useMemo(() => ladder(sheet).filter(s => s.on), [sheet])
  const last = steps.at(-1)
  return (
    <Flex align="center" gap="12px" borderBottom="1px solid" borderColor="hair" pb="8px" minH="36px" fontSize="13px">
      <Box fontWeight="600" fontSize="13.5px" flex="none">
        Ladder
      </Box>
      <Flex flex="1" minW="0" gap="6px" align="baseline">
        <Flex minW="0" flex="0 1 auto" gap="6px" overflow="hidden">
          {steps.slice(0, -1).map(s => (
            <Rung key={s.id} step={s} catalogues={catalogues} />
          ))}
        </Flex>
        {last && <Rung step={last} catalogues={catalogues} isLast />}
      </Flex>
      <Button size="2xs" variant="outline" flex="none" onClick={unfold} aria-expanded={false}>
        Unfold <ChevronDown size={12} />
      </Button>
    </Flex>
  )
}

function Rung({ step, catalogues, isLast = false }: { step: Step; catalogues: string[]; isLast?: boolean }) {
  const { inquiry } = useHere()
  const counts = useCounts(inquiry.id, step.how === 'judged' ? undefined : step.cql, catalogues)
  const c = counts.data
  return (
    <Flex
      align="baseline"
      gap="5px"
      minW={isLast ? undefined : '92px'}
      flex={isLast ? 'none' : '0 1 auto'}
      whiteSpace="nowrap"
      title={c ? `${step.label}: ${range(c)}` : step.label}
    >
      <chakra.span truncate color="soft" minW="24px" maxW={isLast ? '110px' : '150px'}>
        {step.label}
      </chakra.span>
      {/* in full only where it ends: the others are a glance */}
      {c && <chakra.b flex="none">{isLast ? range(c) : short(c.most)}</chakra.b>}
      {!isLast && (
        <chakra.span flex="none" color="soft" aria-hidden="true">
          →
        </chakra.span>
      )}
    </Flex>
  )
}
