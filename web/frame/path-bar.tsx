import { Box, chakra, Flex, Text } from '@chakra-ui/react'
import { NavLink, useLocation } from 'react-router'
import type { Inquiry, Numbers } from '../../core/schema/api'

const number = new Intl.NumberFormat('en')
const n = (x: number): string => number.format(x)

export const stations = [
  { key: 'brief', name: 'Brief', count: (s: Numbers) => `${s.rules} ${s.rules === 1 ? 'rule' : 'rules'}` },
  {
    key: 'gather',
    name: 'Gather',
    count: (s: Numbers) =>
      s.found[1] === 0
        ? 'no sweep yet'
        : s.found[0] === s.found[1]
          ? `${n(s.found[0])} found`
          : `${n(s.found[0])}–${n(s.found[1])} found`,
  },
  { key: 'sift', name: 'Sift', count: (s: Numbers) => `${n(s.unread)} unread` },
  {
    key: 'trace',
    name: 'Trace',
    count: (s: Numbers) =>
      s.trails === 0 ? 'no trails yet' : s.trails === 1 ? 'trail of 1 work' : `trails of ${n(s.trails)} works`,
  },
  {
    key: 'obtain',
    name: 'Obtain',
    count: (s: Numbers) => (s.kept ? `${n(s.inHand)} of ${n(s.kept)} in hand` : 'nothing kept yet'),
  },
  {
    key: 'read',
    name: 'Read',
    count: (s: Numbers) => (s.inHand ? `${n(s.read)} of ${n(s.inHand)} marked` : 'no texts yet'),
  },
  {
    key: 'compose',
    name: 'Compose',
    count: (s: Numbers) => (s.entries ? `${n(s.annotated)} of ${n(s.entries)} begun` : 'no entries yet'),
  },
] as const

const wave = (i: number): number => (i % 2 ? 10 : 18)

/** The seven stations as nodes on one stem, each with its live number; the part walked so far is filled. */
export function PathBar({ inquiry }: { inquiry: Inquiry }) {
  const { pathname } = useLocation()
  const at = stations.findIndex(s => pathname.split('/')[3] === s.key)
  const x = (i: number) => 50 + i * 100
  const stem = (to: number) => {
    let d = `M0 ${wave(0) + 3}`
    for (let i = 0; i <= to; i++) {
      const [px, py] = i ? [x(i - 1), wave(i - 1)] : [0, wave(0) + 3]
      d += ` C${px + 38} ${py} ${x(i) - 38} ${wave(i)} ${x(i)} ${wave(i)}`
    }
    return d
  }
  return (
    <chakra.nav aria-label="Stations" position="relative" flex="1" minW="0" maxW="860px" h="84px">
      <svg
        viewBox="0 0 700 30"
        preserveAspectRatio="none"
        style={{ position: 'absolute', left: 0, top: 8, width: '100%', height: 30 }}
        aria-hidden="true"
      >
        <path
          d={stem(6)}
          fill="none"
          stroke="var(--chakra-colors-hair)"
          strokeWidth="3"
          vectorEffect="non-scaling-stroke"
        />
        {at >= 0 && (
          <path
            d={stem(at)}
            fill="none"
            stroke="var(--chakra-colors-vine)"
            strokeWidth="3"
            vectorEffect="non-scaling-stroke"
          />
        )}
      </svg>
      <Flex h="full">
        {stations.map((s, i) => {
          const on = i === at
          const walked = i <= at
          return (
            <NavLink
              key={s.key}
              to={`/inquiries/${inquiry.id}/${s.key}`}
              style={{ flex: 1, minWidth: 0, position: 'relative', textDecoration: 'none' }}
              aria-current={on ? 'page' : undefined}
              title={
                s.key === 'gather' && inquiry.numbers.found[1]
                  ? 'Found by the last sweep, in the catalogues it asked'
                  : undefined
              }
            >
              <Box position="absolute" left="50%" top={`${8 + wave(i) - 11}px`} ml="-11px">
                <svg width="22" height="22" viewBox="0 0 16 16" aria-hidden="true">
                  <path
                    d="M2 9 C3 3 9 1 14 2 C15 8 10 14 2 9Z"
                    fill={walked ? 'var(--chakra-colors-vine)' : 'var(--chakra-colors-paper)'}
                    stroke={walked ? 'var(--chakra-colors-vine)' : 'var(--chakra-colors-line)'}
                    strokeWidth="1.1"
                  />
                </svg>
              </Box>
              <Text
                position="absolute"
                top="42px"
                w="full"
                textAlign="center"
                fontSize="13px"
                lineHeight="16px"
                fontWeight={on ? 700 : 600}
                color={on ? 'vine' : 'ink'}
                // where there is no room it is still the name of the link
                opacity={{ base: on ? 1 : 0, md: 1 }}
                overflow="hidden"
                whiteSpace="nowrap"
              >
                {s.name}
              </Text>
              <Text
                position="absolute"
                top="59px"
                w="full"
                textAlign="center"
                fontSize="12px"
                lineHeight="16px"
                color="soft"
                whiteSpace="nowrap"
                display={{ base: 'none', md: 'block' }}
              >
                {s.count(inquiry.numbers)}
              </Text>
              {on && <Box position="absolute" bottom="0" left="50%" w="60px" ml="-30px" h="3px" bg="vine" />}
            </NavLink>
          )
        })}
      </Flex>
    </chakra.nav>
  )
}
