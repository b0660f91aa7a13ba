import type { BodyOf } from '../../../core/schema/api/endpoint'
import { Box, Button, chakra, Flex, Input, Menu, Portal, Text } from '@chakra-ui/react'
import {
  closestCenter,
  DndContext,
  DragOverlay,
  PointerSensor,
  useDraggable,
  useDroppable,
  useSensor,
  useSensors,
  type DragEndEvent,
} from '@dnd-kit/core'
import { useState, type ReactNode } from 'react'
import { PARTS } from '../../../core/sift/marks'
import { useChange } from '../../api/hooks'
import { api, type Strand } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { LeafMark } from '../../frame/marks'
import { Empty, tell, tellError } from '../../frame/parts'
import { Swatch, useStrands, type StrandLook } from '../../frame/strands'

/** Cards drawn in one column at first; more on request. */
const SHOWN = 60

/**
 * The kept works by the strands of the argument. A card is dragged from one strand to another, or sent there by its
 * menu; a work on several strands has a card on each.
 */
export function StrandsBoard({ works }: { works: readonly WorkLine[] }) {
  const { inquiry, mayWrite } = useHere()
  const strands = useStrands(inquiry.id)
  const marks = useDecide(inquiry.id)
  const sensors = useSensors(useSensor(PointerSensor, { activationConstraint: { distance: 6 } }))
  const [held, setHeld] = useState<WorkLine>()
  useKeys({ undo: () => marks.undo() })
  const kept = works.filter(w => w.state === 'kept')
  const loose = kept.filter(w => !strands.some(s => w.strands.includes(s.id)))
  const drop = (e: DragEndEvent) => {
    setHeld(undefined)
    const { work, from } = e.active.data.current as { work: WorkLine; from: number | null }
    const to = (e.over?.data.current as { strand: number | null } | undefined)?.strand
    if (to === undefined || to === from) return
    if (to !== null && work.strands.includes(to) && from === null) return
    marks.move([work.id], from, to)
    const name = strands.find(s => s.id === to)?.name
    tell(name ? `Now on “${name}”.` : 'Now on no strand.', { label: 'Undo', onClick: () => marks.undo() })
  }
  if (!kept.length)
    return (
      <Empty title="No kept work yet">
        Strands are the themes of your argument. Keep some works first; then put each on the strands it speaks to.
      </Empty>
    )
  return (
    <DndContext
      sensors={sensors}
      collisionDetection={closestCenter}
      onDragStart={e => setHeld((e.active.data.current as { work: WorkLine }).work)}
      onDragCancel={() => setHeld(undefined)}
      onDragEnd={drop}
    >
      <Flex h="full" overflowX="auto" overflowY="hidden" px="16px" py="14px" gap="12px" align="stretch">
        <Column strand={null} title="no strand yet" works={loose} strands={strands} marks={marks} />
        {strands.map((s, i) => (
          <Column
            key={s.id}
            strand={s}
            place={i}
            title={s.name}
            works={kept.filter(w => w.strands.includes(s.id))}
            strands={strands}
            marks={marks}
          />
        ))}
        {mayWrite && <NewStrand first={!strands.length} key={strands.length ? 'more' : 'first'} />}
      </Flex>
      <DragOverlay dropAnimation={null}>
        {held && (
          <Box bg="surface" border="1px solid" borderColor="vine" borderRadius="md" p="8px" boxShadow="md">
            <Text fontFamily="serif" fontWeight="600" fontSize="13.5px" lineHeight="18px" lineClamp={2}>
              {held.title}
            </Text>
          </Box>
        )}
      </DragOverlay>
    </DndContext>
  )
}

type Marks = ReturnType<typeof useDecide>

function Column({
  strand,
  place = 0,
  title,
  works,
  strands,
  marks,
}: {
  strand: StrandLook | null
  place?: number
  title: string
  works: readonly WorkLine[]
  strands: readonly StrandLook[]
  marks: Marks
}) {
  const { setNodeRef, isOver } = useDroppable({
    id: `strand ${strand?.id ?? 0}`,
    data: { strand: strand?.id ?? null },
  })
  const [shown, setShown] = useState(SHOWN)
  return (
    <Flex
      ref={setNodeRef}
      as="section"
      aria-label={`${title}, ${works.length} ${works.length === 1 ? 'work' : 'works'}`}
      direction="column"
      w="272px"
      flex="none"
      bg={isOver ? 'vine.soft' : undefined}
      borderRadius="md"
    >
      <Flex align="center" gap="8px" minH="32px" flex="none">
        {strand && <Swatch n={strand.n} width={26} height={18} />}
        <Text
          fontFamily="serif"
          fontWeight="600"
          fontSize="15px"
          lineHeight="20px"
          flex="1"
          truncate
          title={title}
          color={strand ? undefined : 'soft'}
        >
          {title}
        </Text>
        <Text fontSize="13px" color="soft">
          {works.length}
        </Text>
        {strand && <StrandMenu strand={strand} place={place} last={strands.length - 1} works={works.length} />}
      </Flex>
      <Box overflow="auto" flex="1" minH="0" position="relative" pt="6px">
        {!works.length && (
          <Text fontSize="13px" lineHeight="18px" color="soft" py="8px" pl="26px">
            {strand ? 'Drag a work here, or send one by its menu.' : 'Every kept work is on a strand.'}
          </Text>
        )}
        {works.slice(0, shown).map(w => (
          <Card key={w.id} work={w} from={strand?.id ?? null} strands={strands} marks={marks} />
        ))}
        {works.length > shown && (
          <Button size="xs" variant="outline" onClick={() => setShown(x => x + SHOWN)}>
            {works.length - shown} more
          </Button>
        )}
      </Box>
    </Flex>
  )
}

/** A work as it stands on one strand. */
interface Placed {
  work: WorkLine
  /** The strand it stands on here. */
  from: number | null
  strands: readonly StrandLook[]
  marks: Marks
}

function Card({ work: w, from, strands, marks }: Placed) {
  const { mayWrite } = useHere()
  const open = useOpenWork()
  const { setNodeRef, listeners, isDragging } = useDraggable({
    id: `card ${w.id} ${from ?? 0}`,
    data: { work: w, from },
    disabled: !mayWrite,
  })
  const others = strands.filter(s => s.id !== from && w.strands.includes(s.id))
  return (
    <Box
      ref={setNodeRef}
      {...listeners}
      position="relative"
      pl="30px"
      pr="6px"
      pt="2px"
      pb="10px"
      // the stem that the leaves of a strand grow from
      _before={{
        content: '""',
        position: 'absolute',
        left: '12px',
        top: 0,
        bottom: 0,
        borderLeft: '2px solid',
        borderColor: from === null ? 'hair' : 'vine.line',
      }}
      _hover={{ bg: 'surface' }}
      borderRadius="md"
      opacity={isDragging ? 0.4 : 1}
      cursor={mayWrite ? 'grab' : 'default'}
      touchAction="none"
    >
      <Box position="absolute" left="15px" top="2px" transform="rotate(-8deg)">
        <LeafMark state="kept" size={13} />
      </Box>
      <chakra.button
        type="button"
        textAlign="left"
        fontFamily="serif"
        fontWeight="600"
        fontSize="13.5px"
        lineHeight="18px"
        onClick={() => open(w.id)}
        lineClamp={3}
        title={w.title}
      >
        {w.title}
      </chakra.button>
      <Text fontSize="12.5px" lineHeight="17px" color="soft" truncate mt="2px">
        {[w.authors, w.year].filter(Boolean).join(' · ')}
      </Text>
      <Flex align="center" gap="6px" mt="4px" fontSize="12.5px" minH="24px">
        {w.part && <chakra.b>{w.part}</chakra.b>}
        {others.map(s => (
          <span key={s.id} title={`also on ${s.name}`}>
            <Swatch n={s.n} />
            <chakra.span srOnly>also on {s.name}</chakra.span>
          </span>
        ))}
        <Box flex="1" />
        {mayWrite && <CardMenu work={w} from={from} strands={strands} marks={marks} />}
      </Flex>
    </Box>
  )
}

function MenuOf({ label, children, button }: { label: string; children: ReactNode; button: string }) {
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <Button size="2xs" variant="ghost" color="soft" aria-label={label} onPointerDown={e => e.stopPropagation()}>
          {button}
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content minW="220px" maxH="60vh">
            {children}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

function CardMenu({ work: w, from, strands, marks }: Placed) {
  return (
    <MenuOf label={`Place: ${w.title}`} button="place …">
      <Menu.ItemGroup>
        <Menu.ItemGroupLabel>On the strands</Menu.ItemGroupLabel>
        {strands.map(s => {
          const on = w.strands.includes(s.id)
          return (
            <Menu.Item key={s.id} value={`on${s.id}`} onClick={() => marks.strand([w.id], s, !on)}>
              <Swatch n={s.n} /> {s.name} {on && <chakra.b ml="auto">✓</chakra.b>}
            </Menu.Item>
          )
        })}
        {!strands.length && (
          <Text px="8px" py="4px" fontSize="13px" color="soft">
            Make a strand first.
          </Text>
        )}
      </Menu.ItemGroup>
      {from !== null && strands.length > 1 && (
        <Menu.ItemGroup>
          <Menu.ItemGroupLabel>Move from here to</Menu.ItemGroupLabel>
          {strands
            .filter(s => s.id !== from)
            .map(s => (
              <Menu.Item key={s.id} value={`to${s.id}`} onClick={() => marks.move([w.id], from, s.id)}>
                <Swatch n={s.n} /> {s.name}
              </Menu.Item>
            ))}
        </Menu.ItemGroup>
      )}
      <Menu.ItemGroup>
        <Menu.ItemGroupLabel>It is for</Menu.ItemGroupLabel>
        {PARTS.map(p => (
          <Menu.Item key={p} value={p} onClick={() => marks.part([w.id], w.part === p ? null : p)}>
            {p} {w.part === p && <chakra.b ml="auto">✓</chakra.b>}
          </Menu.Item>
        ))}
      </Menu.ItemGroup>
    </MenuOf>
  )
}

function StrandMenu({ strand, place, last, works }: { strand: Strand; place: number; last: number; works: number }) {
  const { inquiry, mayWrite } = useHere()
  const [naming, setNaming] = useState(false)
  const change = useChange(inquiry.id, api.changeStrand, (body: BodyOf<typeof api.changeStrand>) => ({
    params: { strand: strand.id },
    body,
  }))
  const put = (body: BodyOf<typeof api.changeStrand>, then?: () => void) =>
    change.mutate(body, { onError: tellError, ...(then ? { onSuccess: then } : {}) })
  if (!mayWrite) return null
  if (naming)
    return (
      <NameForm
        name={strand.name}
        word="Rename"
        done={name => {
          setNaming(false)
          if (name && name !== strand.name) put({ name })
        }}
      />
    )
  return (
    <MenuOf label={`The strand ${strand.name}`} button="…">
      <Menu.Item value="name" onClick={() => setNaming(true)}>
        Rename
      </Menu.Item>
      <Menu.Item value="left" disabled={place === 0} onClick={() => put({ place: place - 1 })}>
        Move left
      </Menu.Item>
      <Menu.Item value="right" disabled={place === last} onClick={() => put({ place: place + 1 })}>
        Move right
      </Menu.Item>
      <Menu.Item
        value="gone"
        color="rust"
        onClick={() =>
          put({ gone: true }, () =>
            tell(`“${strand.name}” is taken away; its ${works} works stay kept.`, {
              label: 'Undo',
              onClick: () => put({ gone: false }),
            }),
          )
        }
      >
        Take away
      </Menu.Item>
    </MenuOf>
  )
}

function NewStrand({ first }: { first: boolean }) {
  const { inquiry } = useHere()
  const [naming, setNaming] = useState(first)
  const make = useChange(inquiry.id, api.addStrand, (body: { name: string }) => ({ body }))
  return (
    <Box w="240px" flex="none" pl="10px" borderLeft="2px dashed" borderColor="hair">
      {naming ? (
        <>
          <NameForm
            name=""
            word="Make"
            done={name => {
              if (name) make.mutate({ name }, { onError: tellError })
              setNaming(false)
            }}
          />
          {first && (
            <Text fontSize="13px" lineHeight="19px" color="soft" mt="10px">
              A strand is one theme of your argument, such as what causes it or what was tried against it. Name the
              first one; works are then dragged onto it.
            </Text>
          )}
        </>
      ) : (
        <Button size="xs" variant="outline" onClick={() => setNaming(true)}>
          New strand
        </Button>
      )}
    </Box>
  )
}

function NameForm({ name, word, done }: { name: string; word: string; done: (name: string | undefined) => void }) {
  const [value, setValue] = useState(name)
  return (
    <chakra.form
      display="flex"
      gap="6px"
      flex="1"
      onSubmit={e => {
        e.preventDefault()
        done(value.trim() || undefined)
      }}
    >
      <Input
        size="xs"
        bg="surface"
        autoFocus={Boolean(name)}
        aria-label="Name of the strand"
        placeholder="name of the strand"
        maxLength={80}
        value={value}
        onChange={e => setValue(e.target.value)}
        onKeyDown={e => e.key === 'Escape' && done(undefined)}
      />
      <Button size="xs" type="submit" variant="outline" disabled={!value.trim()}>
        {word}
      </Button>
    </chakra.form>
  )
}
