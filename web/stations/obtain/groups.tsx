import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { ChevronDown, ChevronRight } from 'lucide-react'
import { bestWay, type Doing } from '../../../core/access/doing'
import type { Obtainable } from '../../../core/schema/api'
import { COLUMNS, TimeCell, useScale } from './time'
import { DOING_WORDS } from './way-words'

const VOICE: Partial<Record<Doing, string>> = {
  'waits for you': 'amber',
  'not sure': 'amber',
  'pick up': 'vine',
  'ask for it': 'grape',
  'no way in time': 'rust',
}

/** The head of what is to be done alike: how many, which, and when they come. */
export function GroupHead({
  doing,
  rows,
  isOpen,
  toggle,
}: {
  doing: Doing
  rows: readonly Obtainable[]
  isOpen: boolean
  toggle: () => void
}) {
  const { today, due, at } = useScale()
  const { name, does } = DOING_WORDS[doing]
  const Fold = isOpen ? ChevronDown : ChevronRight
  const days = [...new Set(rows.flatMap(r => bestWay(r.routes)?.expected ?? []))]
  const called = doing === 'no way in time' && !due ? 'No way' : name
  return (
    <chakra.button
      type="button"
      onClick={toggle}
      aria-expanded={isOpen}
      aria-label={`${called}, ${rows.length}`}
      data-row
      display="grid"
      gridTemplateColumns={COLUMNS}
      columnGap="12px"
      alignItems="center"
      w="full"
      minH="34px"
      textAlign="start"
      cursor="pointer"
      borderBottom="1px solid"
      borderColor={isOpen ? 'line' : 'hair'}
      _hover={{ bg: 'hair2' }}
    >
      <Flex justify="center" color="soft" aria-hidden="true">
        <Fold size={16} />
      </Flex>
      <Flex gap="12px" align="baseline" minW="0">
        <Text fontFamily="serif" fontWeight="600" fontSize="14.5px" flex="none" color={VOICE[doing]}>
          {called}{' '}
          <Text as="span" fontFamily="body" fontWeight="400" color="soft">
            {rows.length}
          </Text>
        </Text>
        {!isOpen && (
          <Text fontSize="13px" color="soft" truncate>
            {rows
              .slice(0, 6)
              .map(r => r.title)
              .join(' · ')}
          </Text>
        )}
      </Flex>
      <TimeCell>
        {!isOpen &&
          days.map(day => (
            <Box
              key={day}
              position="absolute"
              left={day <= today ? '1px' : at(day)}
              top="50%"
              transform="translateY(-50%)"
              w="14px"
              h="7px"
              borderRadius="1px"
              bg={doing === 'in hand' ? 'vine.solid' : day <= today ? 'vine' : 'grape.line'}
            />
          ))}
      </TimeCell>
      <Text fontSize="13px" color="soft" truncate>
        {does}
      </Text>
    </chakra.button>
  )
}
