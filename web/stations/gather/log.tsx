import { Box, Button, chakra, Flex, Input, Menu, Portal, Text } from '@chakra-ui/react'
import { useDraggable } from '@dnd-kit/core'
import { useQuery } from '@tanstack/react-query'
import { format, parseISO } from 'date-fns'
import { GripVertical, Plus } from 'lucide-react'
import { useState } from 'react'
import { call } from '../../api/client'
import { useChange } from '../../api/hooks'
import { api, type Sweep } from '../../../core/schema/api'
import { useHere } from '../../frame/inquiry-frame'
import { Empty, tellError, Tick, Waiting, withMember } from '../../frame/parts'
import { Since } from './asked-before'
import { listsOf, withSweep } from './lists'
import { MakeStanding, Standing } from './standing'
import { n } from './use-counts'
import type { SheetHandle } from './use-sheet'
import { copyText } from '../../frame/clipboard'

export interface NamedSweep {
  id: number
  name: string
  cql: string
}

/**
 * Every sweep as it was run: named, shown again, run again, two of them side by side; as CSV and as a methods
 * paragraph.
 */
export function Log({
  sweeps,
  current,
  show,
  handle,
}: {
  sweeps: Sweep[]
  current: number | undefined
  show: (id: number) => void
  handle: SheetHandle
}) {
  const { inquiry, mayWrite } = useHere()
  const [chosen, setChosen] = useState<Set<number>>(new Set())
  const [standing, setStanding] = useState<number>()
  const run = useChange(inquiry.id, api.beginSweep, (s: Sweep) => ({
    body: { query: s.query, catalogues: s.catalogues.map(c => c.catalogue) },
  }))
  const name = useChange(inquiry.id, api.changeSweep, ({ id, name }: { id: number; name: string }) => ({
    params: { sweep: id },
    body: { name },
  }))
  if (!sweeps.length)
    return (
      <>
        <Standing show={show} />
        <Empty title="The log is empty">
          Every sweep is written down here with its query, its moment and what each catalogue counted.
        </Empty>
      </>
    )
  const pair = [...chosen].sort((a, b) => a - b)
  const methods = async () => {
    try {
      const { text } = await call(api.methods, { params: { inquiry: inquiry.id } })
      await copyText(text, 'The methods paragraph is copied.')
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Box>
      <Standing show={show} />
      <Flex gap="8px" py="6px" align="center" fontSize="13px" color="soft" wrap="wrap">
        <Text flex="1 1 200px">
          {pair.length === 2 ? 'The later one against the earlier:' : 'Choose two sweeps to set them side by side.'}
        </Text>
        <Button size="xs" variant="outline" asChild>
          <a href={`/api/inquiries/${inquiry.id}/log.csv`} download>
            Log as CSV
          </a>
        </Button>
        <Button size="xs" variant="outline" onClick={() => void methods()}>
          Copy methods paragraph
        </Button>
      </Flex>
      {pair.length === 2 && <Against later={pair[1]!} earlier={pair[0]!} />}
      {sweeps.map(s => (
        <Flex
          key={s.id}
          gap={{ base: '8px 14px', md: '14px' }}
          wrap={{ base: 'wrap', md: 'nowrap' }}
          py="10px"
          borderBottom="1px solid"
          borderColor="hair"
          align="flex-start"
          bg={s.id === current ? 'vine.soft' : undefined}
          px="8px"
        >
          <Tick
            label={`Compare the sweep of ${format(new Date(s.at), 'd MMM, HH:mm:ss')}`}
            checked={chosen.has(s.id)}
            disabled={!chosen.has(s.id) && chosen.size === 2}
            set={on => setChosen(before => withMember(before, s.id, on))}
          />
          <Text w="88px" flex="none" fontSize="12.5px" lineHeight="18px" color="soft">
            {format(parseISO(s.deskDay), 'd MMM yyyy')}
            <br />
            {format(new Date(s.at), 'HH:mm:ss')}
          </Text>
          <Box flex={{ base: '1 0 100%', md: '1' }} minW="0">
            {(mayWrite || s.name) && (
              <Flex align="center" gap="2px">
                {s.name && mayWrite && <Grip sweep={{ id: s.id, name: s.name, cql: s.cql }} />}
                <Input
                  aria-label="Name of this sweep"
                  placeholder="name it"
                  defaultValue={s.name ?? ''}
                  key={s.name}
                  disabled={!mayWrite}
                  variant="flushed"
                  size="xs"
                  h="22px"
                  borderColor="transparent"
                  fontWeight="600"
                  fontSize="13px"
                  onBlur={e =>
                    e.target.value !== (s.name ?? '') &&
                    name.mutate({ id: s.id, name: e.target.value }, { onError: tellError })
                  }
                  onKeyDown={e => e.key === 'Enter' && e.currentTarget.blur()}
                />
              </Flex>
            )}
            <Text fontFamily="serif" fontSize="14.5px" lineHeight="20px" overflowWrap="anywhere">
              {s.query}
            </Text>
            <Text fontSize="12.5px" lineHeight="18px" color="soft">
              {s.catalogues
                .map(c => `${c.name} ${c.state === 'failed' ? 'failed' : c.count === null ? '…' : n(c.count)}`)
                .join(' · ')}
              {s.foundNew !== null && ` · ${n(s.foundNew)} new since the run before`}
            </Text>
            <Since of={s} sweeps={sweeps} difference={before => <Against later={s.id} earlier={before.id} />} />
            {standing === s.id && <MakeStanding sweep={s} leave={() => setStanding(undefined)} />}
          </Box>
          <Flex gap="6px" flex="none" wrap="wrap">
            <Button size="xs" variant="outline" onClick={() => show(s.id)}>
              Show
            </Button>
            {mayWrite && (
              <Button
                size="xs"
                variant="outline"
                onClick={() => run.mutate(s, { onSuccess: made => show(made.id), onError: tellError })}
              >
                Run again
              </Button>
            )}
            {mayWrite && (
              <Menu.Root positioning={{ placement: 'bottom-end' }}>
                <Menu.Trigger asChild>
                  <Button size="xs" variant="outline" aria-label={`More for the sweep ${s.name ?? s.query}`}>
                    More
                  </Button>
                </Menu.Trigger>
                <Portal>
                  <Menu.Positioner>
                    <Menu.Content minW="230px" maxH="60vh">
                      {s.standingId === null && (
                        <Menu.Item value="stand" onClick={() => setStanding(s.id)}>
                          Keep it running …
                        </Menu.Item>
                      )}
                      <Menu.ItemGroup>
                        <Menu.ItemGroupLabel>
                          {s.name ? 'Use it as a term of' : 'Name it to use it as a term'}
                        </Menu.ItemGroupLabel>
                        {s.name &&
                          [...listsOf(handle.sheet), { id: '', name: 'a new concept' }].map(to => (
                            <Menu.Item
                              key={to.id}
                              value={`to ${to.id}`}
                              onClick={() =>
                                handle.edit(
                                  x => withSweep(x, { id: s.id, name: s.name!, cql: s.cql }, to.id),
                                  `“${s.name}” stands on the sheet as a term.`,
                                )
                              }
                            >
                              {!to.id && <Plus size={13} />} {to.name}
                            </Menu.Item>
                          ))}
                      </Menu.ItemGroup>
                    </Menu.Content>
                  </Menu.Positioner>
                </Portal>
              </Menu.Root>
            )}
          </Flex>
        </Flex>
      ))}
    </Box>
  )
}

/** By it a named sweep is dragged into a concept; by keys it goes through the menu. */
function Grip({ sweep }: { sweep: NamedSweep }) {
  const { setNodeRef, listeners, transform, isDragging } = useDraggable({ id: `sweep ${sweep.id}`, data: { sweep } })
  return (
    <Box
      ref={setNodeRef}
      {...listeners}
      title={`Drag “${sweep.name}” into a concept`}
      cursor="grab"
      color="soft"
      flex="none"
      position="relative"
      display="flex"
      alignItems="center"
      css={{ touchAction: 'none' }}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 20 } : {}}
    >
      <GripVertical size={14} aria-hidden />
      {isDragging && (
        <Box
          position="absolute"
          left="16px"
          top="-4px"
          bg="surface"
          border="1px solid"
          borderColor="hair"
          borderRadius="md"
          px="8px"
          py="2px"
          fontSize="12.5px"
          color="ink"
          whiteSpace="nowrap"
        >
          {sweep.name}
        </Box>
      )}
    </Box>
  )
}

interface Differing {
  id: number
  title: string | null
  catalogue: string
}

/** What came new in the later of two sweeps, and what went, among the records that were fetched. */
function Against({ later, earlier }: { later: number; earlier: number }) {
  const { inquiry } = useHere()
  const names = new Map(inquiry.catalogues.map(c => [c.id, c.name]))
  const diff = useQuery({
    queryKey: ['inquiry', inquiry.id, 'against', later, earlier],
    queryFn: () => call(api.against, { params: { inquiry: inquiry.id, sweep: later, other: earlier } }),
  })
  if (diff.isPending) return <Waiting />
  if (diff.isError) return <Text color="rust">{diff.error.message}</Text>
  const list = (title: string, rows: Differing[], voice: string) => (
    <Box flex="1" minW="0">
      <Text fontSize="13px" fontWeight="600" color={voice}>
        {n(rows.length)} {title}
      </Text>
      {rows.slice(0, 12).map(r => (
        <Text key={r.id} fontSize="13px" lineHeight="19px" truncate title={r.title ?? ''}>
          <chakra.span fontFamily="serif">{r.title}</chakra.span>{' '}
          <chakra.span color="soft">{names.get(r.catalogue)}</chakra.span>
        </Text>
      ))}
      {rows.length > 12 && (
        <Text fontSize="12.5px" color="soft">
          and {n(rows.length - 12)} more
        </Text>
      )}
    </Box>
  )
  return (
    <Box bg="surface" border="1px solid" borderColor="hair" borderRadius="md" p="12px" mb="8px">
      <Flex gap={{ base: '12px', md: '24px' }} direction={{ base: 'column', md: 'row' }}>
        {list('came', diff.data.came, 'vine')}
        {list('went', diff.data.went, 'rust')}
      </Flex>
      <Text mt="8px" fontSize="12.5px" lineHeight="17px" color="soft">
        Among the records that were fetched: where a catalogue has more, one may have gone because another stands before
        it.
      </Text>
    </Box>
  )
}
