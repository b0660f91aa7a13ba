import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { format, isSameDay } from 'date-fns'
import type { ReactNode } from 'react'
import type { FieldChoice } from '../../core/match/best-fields'
import type { Deed } from '../../core/sift/line'
import { some } from './counted'
import { useDecide } from './decide'
import { useDeskTime } from './desk-time'
import { useHere, useOpenWork } from './inquiry-frame'
import { useStrands } from './strands'

const n = (x: number): string => x.toLocaleString('en')

/** Deeds as sentences, day by day. */
export function Deeds({ deeds, ofWork = false }: { deeds: readonly Deed[]; ofWork?: boolean }) {
  const { inquiry, mayWrite } = useHere()
  const strands = useStrands(inquiry.id)
  const { undo } = useDecide(inquiry.id)
  const open = useOpenWork()
  const onDesk = useDeskTime()
  return (
    <Box as="ol" listStyleType="none" fontSize="13.5px" lineHeight="19px">
      {deeds.map((d, i) => {
        const at = onDesk(d.at)
        const newDay = i === 0 || !isSameDay(at, onDesk(deeds[i - 1]!.at))
        return (
          <Box as="li" key={`${d.at} ${d.group ?? i}`}>
            {newDay && (
              <Text fontWeight="600" fontSize="13px" pt={i ? '16px' : '6px'} pb="4px">
                {format(at, 'EEEE, d MMMM yyyy')}
              </Text>
            )}
            <Flex
              gap="14px"
              align="baseline"
              minH="32px"
              py="5px"
              borderBottom="1px solid"
              borderColor="hair2"
              color={d.undone || d.what === 'undo' ? 'soft' : undefined}
            >
              <Text color="soft" w="44px" flex="none">
                {format(at, 'HH:mm')}
              </Text>
              <Flex flex="1" minW="0" gap="6px" align="baseline">
                <chakra.span
                  textDecoration={d.undone ? 'line-through' : undefined}
                  flex={d.first && !ofWork ? 'none' : '1'}
                  maxW={d.first && !ofWork ? '60%' : undefined}
                >
                  {sayDeed(d, id => strands.find(s => s.id === id)?.name)}
                  {!ofWork && d.first && ':'}
                </chakra.span>
                {!ofWork && d.first && (
                  <>
                    <chakra.button
                      type="button"
                      fontFamily="serif"
                      textAlign="left"
                      truncate
                      minH="24px"
                      title={d.first.title}
                      onClick={() => open(d.first!.id)}
                    >
                      {d.first.title}
                    </chakra.button>
                    {d.works > 1 && <chakra.span flex="none">and {n(d.works - 1)} more</chakra.span>}
                  </>
                )}
              </Flex>
              {!ofWork && (
                <Text color="soft" flex="none" maxW="140px" truncate>
                  {d.who}
                </Text>
              )}
              <Box w="92px" flex="none" textAlign="right">
                {d.undone ? (
                  <Text color="soft">taken back</Text>
                ) : (
                  d.group &&
                  mayWrite && (
                    <Button size="2xs" variant="outline" onClick={() => undo(d.group!)}>
                      Take back
                    </Button>
                  )
                )}
              </Box>
            </Flex>
          </Box>
        )
      })}
    </Box>
  )
}

const CHOICES: Record<string, string> = { keep: 'Kept', 'set aside': 'Set aside', later: 'Left for later' }
const HOW: Record<string, string> = { sweep: 'from a sweep', file: 'from a file', trail: 'from a trail' }

/** A deed in words, without the works it was done to. */
function sayDeed(d: Deed, strandName: (id: number) => string | undefined): ReactNode {
  const { detail } = d
  const text = (key: string) => (typeof detail[key] === 'string' ? detail[key] : undefined)
  switch (d.what) {
    case 'undo':
      return 'Took back an earlier step'
    case 'decision':
      return `${CHOICES[text('choice') ?? ''] ?? 'Decided'} by ${text('pass')}${text('reason') ? `, because: ${text('reason')}` : ''}`
    case 'arrival':
      return `${some(Number(detail.records), 'record')} came in ${HOW[text('how') ?? '']}: ${some(Number(detail.newWorks), 'new work')}, ${n(Number(detail.known))} known`
    case 'sweep':
      return (
        <>
          Swept the catalogues for <chakra.b>{text('name') ?? text('query')}</chakra.b>
        </>
      )
    case 'check':
      return `Began check ${Number(detail.n)}: ${n(d.works)} works drawn of ${n(Number(detail.size))} unread`
    case 'mark':
      return sayMark(text('about') ?? '', detail.value, Number(detail.all), strandName)
  }
}

function sayMark(about: string, value: unknown, all: number, strandName: (id: number) => string | undefined): string {
  const name = about.slice(about.indexOf(':') + 1)
  const off = value === null || value === false || value === ''
  if (about === 'part') return off ? 'Took the part away' : `Made ${value as string}`
  if (about === 'note') return off ? 'Took the note away' : 'Wrote a note'
  if (about === 'kind') return off ? 'Left the kind to the evidence' : `Said that it is: ${value as string}`
  if (about.startsWith('tag:')) return off ? `Took off the tag “${name}”` : `Tagged “${name}”`
  if (about.startsWith('strand:')) {
    const strand = strandName(Number(name)) ?? 'a strand that is gone'
    return all > 1 ? 'Moved between strands' : off ? `Took off the strand “${strand}”` : `Put on the strand “${strand}”`
  }
  if (about.startsWith('field:'))
    return off
      ? `Left the ${name} to the records`
      : 'text' in (value as FieldChoice)
        ? `Corrected the ${name}`
        : `Chose another record’s ${name}`
  if (about.startsWith('right:')) return off ? 'Asked again about a finding' : 'Said that a finding is right as it is'
  if (about.startsWith('copy:'))
    return off
      ? 'Left a copy to its proof'
      : value === 'it is'
        ? 'Said that a copy is this work'
        : 'Said that a copy is not this work'
  if (about.startsWith('pair:'))
    return (
      {
        same: 'Joined two works into one',
        never: 'Said that these are two works',
        asked: 'Left open whether these are one work',
        linked: 'Linked two works that belong together',
      }[value as string] ?? 'Spoke of a pair'
    )
  return about
}
