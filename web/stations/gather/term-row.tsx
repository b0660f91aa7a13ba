import { chakra, Flex, Input, Menu, Portal, Text } from '@chakra-ui/react'
import { useDraggable } from '@dnd-kit/core'
import { Ellipsis, Plus } from 'lucide-react'
import { useMemo, useRef, useState } from 'react'
import { INDEXES, printCql } from '../../../core/query/cql'
import { ROLES, termNode, type Role, type Term } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd } from '../../frame/parts'
import { listOf, move, withConcept, withList } from './lists'
import { newId, type SheetHandle } from './use-sheet'
import { short, useCounts } from './use-counts'

/** How a term that is not the main word stands to its concept, in one letter before it. */
const MARK: Record<Role, string> = { main: '', narrower: '› ', broader: '‹ ', related: '~ ', harvested: '' }

export const makeTerm = (text: string, role: Role = 'main'): Term => {
  const words = text.trim().replace(/^"|"$/g, '')
  return words.endsWith('*') && words.length > 1
    ? { id: newId(), text: words.slice(0, -1), role, on: true, ending: true }
    : { id: newId(), text: words, role, on: true }
}
const typedTerms = (text: string): Term[] =>
  text
    .split(/[,;\n]/)
    .map(t => t.trim())
    .filter(t => /[\p{L}\p{N}]/u.test(t))
    .map(t => makeTerm(t))

export function AddTerm({ label, add }: { label: string; add: (terms: Term[]) => void }) {
  const [text, setText] = useState('')
  return (
    <TermInput
      label={label}
      text={text}
      setText={setText}
      end={typed => {
        if (typed?.length) add(typed)
        setText('')
      }}
    />
  )
}

/** One or more terms as they are typed, in place of one. */
function Reword({ words, given, done }: { words: string; given: string; done: (typed?: Term[]) => void }) {
  const [text, setText] = useState(given)
  const ended = useRef(false)
  return (
    <TermInput
      label={`Reword ${words}`}
      text={text}
      setText={setText}
      autoFocus
      mb="4px"
      end={typed => {
        // leaving the field follows every other end
        if (!ended.current) done(text.trim() === given ? undefined : typed)
        ended.current = true
      }}
    />
  )
}

function TermInput({
  label,
  text,
  setText,
  end,
  ...more
}: {
  label: string
  text: string
  setText: (text: string) => void
  /** With what was typed; nothing where it is given up. */
  end: (typed?: Term[]) => void
  autoFocus?: boolean
  mb?: string
}) {
  return (
    <Input
      aria-label={label}
      placeholder="+ term"
      size="xs"
      h="26px"
      px="8px"
      maxW="150px"
      fontSize="12.5px"
      borderStyle="dashed"
      bg="transparent"
      value={text}
      onChange={e => setText(e.target.value)}
      onBlur={() => end(typedTerms(text))}
      onKeyDown={e => {
        if (e.key === 'Enter') {
          e.preventDefault()
          end(typedTerms(text))
        }
        if (e.key === 'Escape') end()
      }}
      {...more}
    />
  )
}

export function TermRow({
  term,
  list,
  handle,
  lists,
  catalogues,
  narrow = false,
}: {
  term: Term
  list: string
  handle: SheetHandle
  lists: readonly { id: string; name: string }[]
  catalogues: string[]
  narrow?: boolean
}) {
  const { inquiry, mayWrite } = useHere()
  const { edit } = handle
  const { setNodeRef, attributes, listeners, transform, isDragging } = useDraggable({
    id: term.id,
    data: { term: term.id, list },
    disabled: !mayWrite,
  })
  const node = useMemo(() => termNode(term), [term])
  const counts = useCounts(inquiry.id, node ? printCql({ root: node }) : undefined, catalogues)
  const set = (more: Partial<Term>) =>
    edit(s =>
      withList(
        s,
        list,
        listOf(s, list).map(t => (t.id === term.id ? { ...t, ...more } : t)),
      ),
    )
  const [rewording, setRewording] = useState(false)
  /** What is typed in a term's place takes it; more than one stand behind each other there. */
  const reword = (typed: Term[]) =>
    edit(s =>
      withList(
        s,
        list,
        listOf(s, list).flatMap(t => {
          if (t.id !== term.id) return [t]
          const { from: _from, ending: _ending, ...rest } = t
          return typed.map((n, i) => ({ ...rest, ...n, role: t.role, on: t.on, ...(i ? {} : { id: t.id }) }))
        }),
      ),
    )
  const shown = (term.sweep === undefined && term.cql) || `${term.text}${term.ending ? '*' : ''}`
  const many = term.text.trim().includes(' ')
  const words = many && !term.apart && !term.cql ? `“${shown}”` : shown
  if (rewording)
    return (
      <Reword
        words={words}
        given={shown}
        done={typed => {
          setRewording(false)
          if (typed?.length) reword(typed)
        }}
      />
    )
  return (
    <Flex
      ref={setNodeRef}
      align="flex-start"
      wrap="wrap"
      gap="0 4px"
      mb="4px"
      pl="8px"
      pr="7px"
      py="4px"
      border="1px solid"
      borderStyle={term.on ? 'solid' : 'dashed'}
      borderColor="hair"
      borderLeft={term.role === 'harvested' ? '3px solid' : undefined}
      borderLeftColor={term.role === 'harvested' ? 'grape' : undefined}
      bg={term.on ? 'surface' : 'transparent'}
      borderRadius="md"
      fontSize="12.5px"
      lineHeight="17px"
      opacity={isDragging ? 0.6 : 1}
      position="relative"
      css={{
        '@media (hover: hover)': {
          '& .more': { opacity: 0 },
          '&:hover .more, &:focus-within .more, & .more[data-state=open]': { opacity: 1 },
        },
        '@media (hover: none)': { pr: '22px' },
      }}
      style={transform ? { transform: `translate(${transform.x}px, ${transform.y}px)`, zIndex: 5 } : {}}
      w={narrow ? undefined : 'full'}
    >
      <chakra.button
        type="button"
        {...listeners}
        {...attributes}
        role="switch"
        aria-checked={term.on}
        aria-label={`${words}, ${term.role}`}
        title={`${term.cql ?? words}: ${term.role}${term.field ? `, in ${term.field}` : ''}${term.from ? `, from ${term.from}` : ''}`}
        textAlign="left"
        flex="1 1 0"
        minW="min-content"
        maxW="full"
        overflowWrap="break-word"
        color={term.on ? 'ink' : 'soft'}
        onClick={() => mayWrite && set({ on: !term.on })}
        onDoubleClick={() => mayWrite && !term.cql && setRewording(true)}
        onKeyUp={e => {
          if (e.key === 'F2' && mayWrite && !term.cql) setRewording(true)
        }}
      >
        <chakra.span color="soft">{MARK[term.role]}</chakra.span>
        {words}
        {(term.field ?? term.sweep) !== undefined && (
          <chakra.span display="block" color="soft" fontSize="11.5px">
            {term.sweep === undefined ? `in ${term.field}` : 'an earlier sweep'}
          </chakra.span>
        )}
      </chakra.button>
      <Text
        as="span"
        color={counts.data?.most === 0 ? 'rust' : 'soft'}
        flex="none"
        ml="auto"
        title={counts.data ? 'in the largest catalogue' : ''}
      >
        {!node ? '' : counts.data ? short(counts.data.least) : counts.isError ? '?' : '…'}
      </Text>
      {mayWrite && (
        <Menu.Root positioning={{ placement: 'bottom-end' }}>
          <Menu.Trigger asChild>
            <chakra.button
              type="button"
              aria-label={`More for ${words}`}
              className="more"
              position="absolute"
              right="2px"
              top="1px"
              minW="24px"
              minH="24px"
              display="inline-flex"
              alignItems="center"
              justifyContent="center"
              bg="surface"
              borderRadius="sm"
              color="soft"
            >
              <Ellipsis size={14} />
            </chakra.button>
          </Menu.Trigger>
          <Portal>
            <Menu.Positioner>
              <Menu.Content minW="200px" maxH="70vh">
                {!term.cql && (
                  <>
                    <Menu.Item value="reword" onClick={() => setRewording(true)}>
                      Reword … <Kbd>F2</Kbd>
                    </Menu.Item>
                    <Menu.CheckboxItem
                      value="ending"
                      checked={Boolean(term.ending)}
                      onCheckedChange={on => set({ ending: on })}
                    >
                      Any ending: {term.text}*
                      <Menu.ItemIndicator />
                    </Menu.CheckboxItem>
                    {many && (
                      <Menu.CheckboxItem
                        value="apart"
                        checked={!term.apart}
                        onCheckedChange={on => set({ apart: !on })}
                      >
                        Keep the words together
                        <Menu.ItemIndicator />
                      </Menu.CheckboxItem>
                    )}
                    <Menu.RadioItemGroup value={term.role} onValueChange={e => set({ role: e.value as Role })}>
                      <Menu.ItemGroupLabel>What it is to the concept</Menu.ItemGroupLabel>
                      {ROLES.map(r => (
                        <Menu.RadioItem key={r} value={r}>
                          {r}
                          <Menu.ItemIndicator />
                        </Menu.RadioItem>
                      ))}
                    </Menu.RadioItemGroup>
                    <Menu.RadioItemGroup
                      value={term.field ?? ''}
                      onValueChange={e =>
                        edit(s =>
                          withList(
                            s,
                            list,
                            listOf(s, list).map(t => (t.id === term.id ? withField(t, e.value) : t)),
                          ),
                        )
                      }
                    >
                      <Menu.ItemGroupLabel>Look for it in</Menu.ItemGroupLabel>
                      {['', ...INDEXES.filter(i => !['year', 'language', 'type', 'doi'].includes(i))].map(f => (
                        <Menu.RadioItem key={f} value={f}>
                          {f || 'all fields'}
                          <Menu.ItemIndicator />
                        </Menu.RadioItem>
                      ))}
                    </Menu.RadioItemGroup>
                  </>
                )}
                <Menu.ItemGroup>
                  <Menu.ItemGroupLabel>Move to</Menu.ItemGroupLabel>
                  {lists
                    .filter(l => l.id !== list)
                    .map(l => (
                      <Menu.Item
                        key={l.id}
                        value={`to ${l.id}`}
                        onClick={() => edit(s => move(s, term.id, list, l.id))}
                      >
                        {l.name}
                      </Menu.Item>
                    ))}
                  <Menu.Item
                    value="new"
                    onClick={() =>
                      edit(s => {
                        const next = withConcept(s)
                        return move(next, term.id, list, next.concepts.at(-1)!.id)
                      })
                    }
                  >
                    <Plus size={13} /> a new concept
                  </Menu.Item>
                </Menu.ItemGroup>
                <Menu.Item
                  value="out"
                  color="rust"
                  onClick={() =>
                    edit(
                      s =>
                        withList(
                          s,
                          list,
                          listOf(s, list).filter(t => t.id !== term.id),
                        ),
                      `${words} was taken out.`,
                    )
                  }
                >
                  Take it out
                </Menu.Item>
              </Menu.Content>
            </Menu.Positioner>
          </Portal>
        </Menu.Root>
      )}
    </Flex>
  )
}

function withField(t: Term, field: string): Term {
  const { field: _field, ...rest } = t
  return field ? { ...rest, field } : rest
}
