import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { useDroppable } from '@dnd-kit/core'
import { useMemo, useState, type ReactNode } from 'react'
import { plainCql } from '../../../core/query/cql'
import { readOut } from '../../../core/query/concepts'
import { parseCql } from '../../../core/query/parse-cql'
import { sheetOf, sheetQuery, type SheetConcept } from '../../../core/query/sheet'
import { useHere } from '../../frame/inquiry-frame'
import { Heading } from '../../frame/parts'
import { listOf, listsOf, WITHOUT, withConcept, withList } from './lists'
import { AddTerm, makeTerm, TermRow } from './term-row'
import { newId, type SheetHandle } from './use-sheet'

const TINTS = ['tint.a', 'tint.b', 'tint.c']
/** Concepts as columns of terms, what is left out, and the query as sentence and text, always in step. */
export function QuestionSheet({
  handle,
  catalogues,
  run,
}: {
  handle: SheetHandle
  catalogues: string[]
  run: () => void
}) {
  const { inquiry, mayWrite } = useHere()
  const { sheet, edit, offered } = handle
  const lists = listsOf(sheet)
  const fresh = offered.filter(w => !sheet.concepts.some(c => c.name === w || c.terms.some(t => t.text === w)))
  return (
    <Box>
      <Heading
        aside={
          handle.state === 'saving'
            ? 'saving …'
            : handle.state === 'kept here' || handle.state === 'not taken'
              ? 'kept here, not saved yet'
              : undefined
        }
      >
        Question sheet
      </Heading>
      <Text fontFamily="serif" fontSize="15px" lineHeight="21px" mb="10px">
        {inquiry.question}
      </Text>
      <Box
        display="grid"
        gridTemplateColumns="repeat(auto-fill, minmax(118px, 1fr))"
        gap="12px 10px"
        alignItems="start"
      >
        {sheet.concepts.map((c, i) => (
          <Concept key={c.id} concept={c} tint={TINTS[i % 3]!} handle={handle} lists={lists} catalogues={catalogues} />
        ))}
      </Box>
      {mayWrite && (
        <Flex mt="10px" gap="6px" wrap="wrap" align="center" fontSize="12.5px" color="soft">
          <Button
            size="2xs"
            variant="outline"
            onClick={() => edit(s => withConcept(s))}
            disabled={sheet.concepts.length >= 12}
          >
            Add a concept
          </Button>
          {fresh.length > 0 && <span>from your question:</span>}
          {fresh.map(w => (
            <Button
              key={w}
              size="2xs"
              variant="outline"
              borderStyle="dashed"
              onClick={() => edit(s => withConcept(s, makeTerm(w), w))}
            >
              {w}
            </Button>
          ))}
        </Flex>
      )}
      {(sheet.concepts.length > 0 || sheet.without.length > 0) && (
        <DropList id={WITHOUT} label="Left out">
          <Text fontSize="12.5px" lineHeight="18px" color="soft" mt="12px" mb="4px">
            Left out
          </Text>
          <Flex gap="6px" wrap="wrap" align="flex-start">
            {sheet.without.map(t => (
              <TermRow
                key={t.id}
                term={t}
                list={WITHOUT}
                handle={handle}
                lists={lists}
                catalogues={catalogues}
                narrow
              />
            ))}
            {mayWrite && (
              <AddTerm
                label="Add a word to leave out"
                add={terms => edit(s => ({ ...s, without: [...s.without, ...terms] }))}
              />
            )}
          </Flex>
        </DropList>
      )}
      <QueryText handle={handle} run={run} />
    </Box>
  )
}

function DropList({ id, label, children }: { id: string; label: string; children: ReactNode }) {
  const { setNodeRef, isOver } = useDroppable({ id, data: { list: id } })
  return (
    <Box
      ref={setNodeRef}
      role="group"
      aria-label={label}
      bg={isOver ? 'vine.soft' : undefined}
      borderRadius="md"
      minW="0"
    >
      {children}
    </Box>
  )
}

type Lists = { id: string; name: string }[]

function Concept({
  concept,
  tint,
  handle,
  lists,
  catalogues,
}: {
  concept: SheetConcept
  tint: string
  handle: SheetHandle
  lists: Lists
  catalogues: string[]
}) {
  const { mayWrite } = useHere()
  const { edit } = handle
  const name = concept.name || concept.terms[0]?.text || 'new concept'
  return (
    <DropList id={concept.id} label={`Concept: ${name}`}>
      <Box borderTop="4px solid" borderColor={tint} pt="5px">
        <Flex align="flex-start" gap="2px" mb="4px">
          <Textarea
            aria-label={`Name of the concept ${name}`}
            value={concept.name}
            placeholder={concept.terms[0]?.text ?? 'name it'}
            onChange={e => {
              const text = e.target.value.replace(/\n/g, ' ')
              edit(s => ({ ...s, concepts: s.concepts.map(c => (c.id === concept.id ? { ...c, name: text } : c)) }))
            }}
            rows={1}
            maxLength={120}
            resize="none"
            p="2px 0"
            minH="22px"
            border="0"
            borderRadius="sm"
            fontFamily="serif"
            fontWeight="600"
            fontSize="13.5px"
            lineHeight="18px"
            css={{ fieldSizing: 'content' }}
            _placeholder={{ color: 'soft', opacity: 1 }}
            disabled={!mayWrite}
          />
          {mayWrite && (
            <chakra.button
              type="button"
              aria-label={`Take out the concept ${name}`}
              color="soft"
              fontSize="15px"
              lineHeight="18px"
              minW="24px"
              minH="24px"
              flex="none"
              onClick={() =>
                edit(s => ({ ...s, concepts: s.concepts.filter(c => c.id !== concept.id) }), `“${name}” was taken out.`)
              }
            >
              ×
            </chakra.button>
          )}
        </Flex>
        {concept.terms.map(t => (
          <TermRow key={t.id} term={t} list={concept.id} handle={handle} lists={lists} catalogues={catalogues} />
        ))}
        {mayWrite && (
          <AddTerm
            label={`Add a term to ${name}`}
            add={terms => edit(s => withList(s, concept.id, [...listOf(s, concept.id), ...terms]))}
          />
        )}
      </Box>
    </DropList>
  )
}

/** The query read out, and as text that can be edited; a mistake is marked where it is, with a repair. */
function QueryText({ handle, run }: { handle: SheetHandle; run: () => void }) {
  const { mayWrite } = useHere()
  const { sheet, edit } = handle
  /** What is being typed; otherwise the text follows the sheet. */
  const [typed, setTyped] = useState<string>()
  const query = useMemo(() => sheetQuery(sheet), [sheet])
  const named = useMemo(
    () =>
      new Map(
        [...sheet.concepts.flatMap(c => c.terms), ...sheet.without].flatMap(t =>
          t.sweep !== undefined && t.cql ? [[t.cql, t.text] as const] : [],
        ),
      ),
    [sheet],
  )
  const text = typed ?? (query ? plainCql(query) : '')
  const parsed = useMemo(() => (text.trim() ? parseCql(text) : undefined), [text])
  const type = (next: string) => {
    setTyped(next)
    const p = next.trim() ? parseCql(next) : undefined
    if (p?.ok) edit(s => sheetOf(p.query, s, newId))
    else if (!next.trim()) edit(s => ({ ...s, concepts: [], without: [], off: [] }))
  }
  return (
    <Box mt="14px" bg="surface" border="1px solid" borderColor="hair" borderRadius="md" px="12px" py="9px">
      {query ? (
        <Text fontFamily="serif" fontSize="14.5px" lineHeight="23px" aria-live="polite">
          {readOut(query.root, named).map((p, i) =>
            p.concept === undefined ? (
              <span key={i}>{p.text}</span>
            ) : (
              <mark key={i} data-tint={p.concept % 3}>
                {p.text}
              </mark>
            ),
          )}
        </Text>
      ) : (
        <Text fontSize="13px" lineHeight="19px" color="soft">
          Take words from your question above, or type: words side by side are all wanted, <b>or</b> takes either, a{' '}
          <b>minus</b> leaves out, “quotes” keep a phrase together, <b>*</b> stands for any ending.
        </Text>
      )}
      <Textarea
        aria-label="Query, in plain words or CQL"
        value={text}
        onChange={e => type(e.target.value)}
        onBlur={() => parsed?.ok && setTyped(undefined)}
        onKeyDown={e => {
          if (e.key === 'Enter' && !e.shiftKey) {
            e.preventDefault()
            if (parsed?.ok) run()
          }
        }}
        rows={Math.min(9, Math.max(2, Math.ceil(text.length / 44)))}
        resize="none"
        css={{ fieldSizing: 'content' }}
        mt="6px"
        px="0"
        py="6px"
        border="0"
        borderTop="1px dashed"
        borderColor="hair"
        borderRadius="0"
        fontFamily="mono"
        fontSize="12px"
        lineHeight="17px"
        color="soft"
        placeholder={'moth* and ("street light*" or lamp*) not sailing'}
        disabled={!mayWrite}
        aria-invalid={parsed && !parsed.ok ? true : undefined}
      />
      {parsed?.ok &&
        parsed.repairs.map(r => (
          <Text key={r.position + r.said} fontSize="12.5px" color="amber" mt="4px">
            {r.said}
          </Text>
        ))}
      {parsed && !parsed.ok && (
        <Box role="alert" mt="4px">
          <Text fontSize="13.5px" color="rust">
            {parsed.error.message}
          </Text>
          <Text fontFamily="mono" fontSize="12px" lineHeight="18px" overflowWrap="anywhere" mt="2px">
            {text.slice(0, parsed.error.position)}
            <chakra.span bg="rust.soft" color="rust" px="2px">
              {text.slice(parsed.error.position) || '‸'}
            </chakra.span>
          </Text>
          {parsed.error.repaired && (
            <Button size="2xs" variant="outline" mt="6px" onClick={() => type(parsed.error.repaired!)}>
              Use “{parsed.error.repaired}”
            </Button>
          )}
        </Box>
      )}
    </Box>
  )
}
