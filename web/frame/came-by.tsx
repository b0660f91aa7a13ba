import { chakra, Flex, Text } from '@chakra-ui/react'
import { api } from '../../core/schema/api'
import { useOf } from '../api/hooks'
import { useHere, useOpenWork } from './inquiry-frame'
import { LeafMark } from './marks'
import { Heading } from './parts'

const SAID = { references: 'from the references of', 'cited-by': 'from what cites' } as const

/** How a work was come upon: a line of leaves back to the first one, which can be walked back. */
export function CameBy({ work }: { work: number }) {
  const { inquiry } = useHere()
  const open = useOpenWork()
  const steps = useOf(inquiry.id, api.trailOf, { params: { work } }).data
  if (!steps || steps.length < 2) return null
  return (
    <section>
      <Heading>How it came</Heading>
      <chakra.ol listStyleType="none">
        {steps.slice(1).map((s, i) => {
          const { direction, round, day } = steps[i]!
          return (
            <Flex as="li" key={s.work} gap="10px" py="5px" pl={`${i * 14}px`} fontSize="13.5px" lineHeight="19px">
              <LeafMark state="kept" />
              <Text flex="1" minW="0">
                {direction && SAID[direction]}{' '}
                <chakra.button
                  type="button"
                  textAlign="start"
                  fontFamily="serif"
                  fontWeight="600"
                  cursor="pointer"
                  onClick={() => open(s.work)}
                >
                  {s.title}
                </chakra.button>
                <Text as="span" color="soft">
                  {' '}
                  · {[s.authors, s.year, round ? `round ${round}` : 'a single look', day].filter(Boolean).join(' · ')}
                </Text>
              </Text>
            </Flex>
          )
        })}
      </chakra.ol>
    </section>
  )
}
