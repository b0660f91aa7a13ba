import { Box, Button, chakra, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { KINDS } from '../../core/appraise/kind'
import { writeField } from '../../core/match/best-fields'
import { FIELDS, type Field } from '../../core/match/best-fields'
import { PARTS } from '../../core/sift/marks'
import { useOutbox } from '../outbox/use-outbox'
import type { Work } from '../../core/schema/api'
import { useDecide } from './decide'
import { useHere } from './inquiry-frame'
import { Heading, tell } from './parts'
import { Swatch, useStrands } from './strands'

/** Says one thing of a work that is not shown in its line; it can be taken back like a decision. */
export function useSay(work: number) {
  const { inquiry } = useHere()
  const marks = useDecide(inquiry.id)
  const outbox = useOutbox()
  return (
    about: string,
    value: unknown,
    o: { said: string; was?: unknown; words?: string; refused?: (e: Error) => void },
  ) => {
    const group = crypto.randomUUID()
    const mark = { id: crypto.randomUUID(), work, about, value, ...('was' in o ? { was: o.was } : {}) }
    outbox.add(
      {
        id: crypto.randomUUID(),
        inquiry: inquiry.id,
        method: 'POST',
        path: '/marks',
        said: o.said,
        group,
        body: { group, marks: [mark] },
        shownBy: JSON.stringify(['inquiry', inquiry.id, `/works/${work}`]),
      },
      o.refused && (e => o.refused!(e as Error)),
    )
    marks.said(group)
    if (o.words) tell(o.words, { label: 'Undo', onClick: () => marks.undo(group) })
  }
}

/** What the student says of a work: its part, its strands, its tags, a note. */
export function YouSay({ work: w }: { work: Work }) {
  const { inquiry, mayWrite } = useHere()
  const strands = useStrands(inquiry.id)
  const marks = useDecide(inquiry.id)
  const [tag, setTag] = useState('')
  if (!mayWrite && !w.part && !w.strands.length && !w.tags.length && !w.said.note) return null
  return (
    <Box>
      <Heading>What it is for</Heading>
      <Flex gap="6px" wrap="wrap" align="center" mb="8px" role="group" aria-label="Part">
        {PARTS.map(p => (
          <Button
            key={p}
            size="2xs"
            variant={w.part === p ? 'solid' : 'outline'}
            colorPalette={w.part === p ? 'slate' : undefined}
            aria-pressed={w.part === p}
            disabled={!mayWrite}
            onClick={() => marks.part([w.id], w.part === p ? null : p)}
          >
            {p}
          </Button>
        ))}
        <Text fontSize="12.5px" color="soft" ml="6px">
          {w.part === 'evidence'
            ? 'goes into the bibliography'
            : w.part === 'background'
              ? 'colours an introduction, carries no argument'
              : w.part === 'lead'
                ? 'not cited itself: what it leads to is'
                : 'no part yet'}
        </Text>
      </Flex>
      {strands.length > 0 && (
        <Flex gap="6px" wrap="wrap" mb="8px" role="group" aria-label="Strands">
          {strands.map(s => {
            const on = w.strands.includes(s.id)
            return (
              <Button
                key={s.id}
                size="2xs"
                variant={on ? 'subtle' : 'outline'}
                colorPalette={on ? 'slate' : undefined}
                aria-pressed={on}
                disabled={!mayWrite}
                onClick={() => marks.strand([w.id], s, !on)}
              >
                <Swatch n={s.n} /> {s.name}
              </Button>
            )
          })}
        </Flex>
      )}
      <Flex gap="6px" wrap="wrap" align="center" mb="8px" fontSize="13px">
        {w.tags.map(t => (
          <Flex as="span" key={t} border="1px dashed" borderColor="line" borderRadius="sm" align="center" pl="6px">
            {t}
            {mayWrite && (
              <chakra.button
                type="button"
                px="6px"
                minH="24px"
                color="soft"
                aria-label={`Take off the tag ${t}`}
                onClick={() => marks.tag([w.id], t, false)}
              >
                take off
              </chakra.button>
            )}
          </Flex>
        ))}
        {mayWrite && (
          <chakra.form
            onSubmit={e => {
              e.preventDefault()
              if (tag.trim()) marks.tag([w.id], tag.trim(), true)
              setTag('')
            }}
          >
            <Input
              size="2xs"
              w="140px"
              placeholder="a tag, then Enter"
              aria-label="A new tag"
              maxLength={60}
              value={tag}
              onChange={e => setTag(e.target.value)}
            />
          </chakra.form>
        )}
      </Flex>
      <Note key={`${w.id} ${w.said.note ?? ''}`} work={w} />
    </Box>
  )
}

/** A note in the student's own words; kept when it is left. */
function Note({ work: w }: { work: Work }) {
  const { mayWrite } = useHere()
  const say = useSay(w.id)
  const was = w.said.note ?? ''
  const [text, setText] = useState(was)
  const [refused, setRefused] = useState<string>()
  const save = () => {
    if (text.trim() === was) return
    say('note', text.trim() || null, {
      said: `A note on “${w.title}”`,
      was: was || null,
      words: 'The note is kept.',
      refused: e => setRefused(e.message),
    })
  }
  return (
    <>
      <Textarea
        aria-label="A note in your own words"
        placeholder={mayWrite ? 'a note in your own words' : ''}
        size="sm"
        rows={text ? 3 : 1}
        maxLength={5000}
        fontSize="13.5px"
        readOnly={!mayWrite}
        value={text}
        onChange={e => setText(e.target.value)}
        onBlur={save}
      />
      {refused && (
        <Text fontSize="13px" color="rust" mt="4px" role="alert">
          {refused}
        </Text>
      )}
    </>
  )
}

/** Lets the student overrule the kind; the evidence stays as it is. */
export function OwnKind({ work: w }: { work: Work }) {
  const { mayWrite } = useHere()
  const say = useSay(w.id)
  if (!mayWrite) return null
  return (
    <Flex gap="8px" align="center" mt="6px" fontSize="13px" color="soft">
      Is it something else?
      <NativeSelect.Root size="xs" w="190px">
        <NativeSelect.Field
          aria-label="What it is, as you say"
          value={w.said.kind ?? ''}
          onChange={e =>
            say('kind', e.target.value || null, {
              said: `The kind of “${w.title}”`,
              words: e.target.value ? `Counts as: ${e.target.value}.` : 'Left to the evidence again.',
            })
          }
        >
          <option value="">as the evidence says</option>
          {KINDS.map(k => (
            <option key={k} value={k}>
              {k}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Flex>
  )
}

export const NAMES: Record<Field, string> = {
  title: 'Title',
  author: 'Authors',
  editor: 'Editors',
  issued: 'Date',
  'container-title': 'Appeared in',
  volume: 'Volume',
  issue: 'Issue',
  page: 'Pages',
  publisher: 'Publisher',
  edition: 'Edition',
  DOI: 'DOI',
  ISBN: 'ISBN',
  URL: 'Address',
  language: 'Language',
  abstract: 'Abstract',
}

/** Every field with the record it came from; another record's can be chosen, or it is written by hand. Records stay. */
export function Fields({ work: w }: { work: Work }) {
  const { mayWrite } = useHere()
  const [open, setOpen] = useState<Field>()
  const [all, setAll] = useState(false)
  const sourceOf = (id: number | undefined) =>
    id === 0 ? 'by you' : id === undefined ? '' : (w.records.find(r => r.id === id)?.source ?? '')
  const shown = FIELDS.filter(f => all || writeField(w.item, f))
  return (
    <Box>
      <Heading aside="where each part of the description comes from">Fields</Heading>
      {shown.map(f => {
        const now = writeField(w.item, f)
        const values = new Set(w.records.map(r => writeField(r.item, f)).filter(Boolean))
        return (
          <Box key={f} borderBottom="1px solid" borderColor="hair2" py="4px" fontSize="13.5px" lineHeight="19px">
            <Flex gap={{ base: '4px 12px', md: '12px' }} align="baseline" wrap={{ base: 'wrap', md: 'nowrap' }}>
              <Text color="soft" w="96px" flex="none">
                {NAMES[f]}
              </Text>
              <Text flex={{ base: '1 0 calc(100% - 108px)', md: '1' }} minW="0" lineClamp={2} overflowWrap="anywhere">
                {now || <chakra.span color="soft">not given</chakra.span>}
              </Text>
              <Text color="soft" fontSize="12.5px" flex="none" maxW="150px" truncate ml={{ base: 'auto', md: '0' }}>
                {sourceOf(w.fieldFrom[f] as number | undefined)}
                {values.size > 1 && `, of ${values.size}`}
              </Text>
              {mayWrite && (
                <Button
                  size="2xs"
                  variant="ghost"
                  aria-expanded={open === f}
                  aria-label={`Choose or correct: ${NAMES[f]}`}
                  onClick={() => setOpen(o => (o === f ? undefined : f))}
                >
                  {open === f ? 'Fold' : 'Correct'}
                </Button>
              )}
            </Flex>
            {open === f && <OneField work={w} field={f} done={() => setOpen(undefined)} />}
          </Box>
        )
      })}
      {!all && mayWrite && (
        <Button size="2xs" variant="ghost" mt="4px" onClick={() => setAll(true)}>
          Fields that are not given
        </Button>
      )}
    </Box>
  )
}

function OneField({ work: w, field, done }: { work: Work; field: Field; done: () => void }) {
  const say = useSay(w.id)
  const [text, setText] = useState(writeField(w.item, field))
  const put = (value: object | null, words: string) => {
    say(`field:${field}`, value, { said: `${NAMES[field]} of “${w.title}”`, words })
    done()
  }
  const byValue = new Map<string, { id: number; sources: string[] }>()
  for (const r of w.records) {
    const v = writeField(r.item, field)
    if (!v) continue
    const of = byValue.get(v) ?? { id: r.id, sources: [] }
    of.sources.push(r.source)
    byValue.set(v, of)
  }
  const long = field === 'abstract' || field === 'title'
  return (
    <Box py="8px" pl={{ base: '0', md: '108px' }}>
      {[...byValue].map(([v, of]) => (
        <Flex key={v} gap="10px" align="baseline" mb="4px">
          <Box flex="1" minW="0" overflowWrap="anywhere">
            <Text lineClamp={3}>{v}</Text>
            <Text fontSize="12.5px" color="soft">
              {[...new Set(of.sources)].join(', ')}
            </Text>
          </Box>
          <Button
            size="2xs"
            variant="outline"
            disabled={writeField(w.item, field) === v}
            onClick={() => put({ record: of.id }, `${NAMES[field]}: taken from ${of.sources[0]}.`)}
          >
            Take this
          </Button>
        </Flex>
      ))}
      <chakra.form
        display="flex"
        gap="6px"
        alignItems="flex-start"
        onSubmit={e => {
          e.preventDefault()
          if (text.trim()) put({ text: text.trim() }, `${NAMES[field]}: corrected. The records stay as they came.`)
        }}
      >
        {long ? (
          <Textarea
            size="xs"
            rows={3}
            aria-label={`${NAMES[field]}, as you write it`}
            value={text}
            onChange={e => setText(e.target.value)}
          />
        ) : (
          <Input
            size="xs"
            aria-label={`${NAMES[field]}, as you write it`}
            value={text}
            onChange={e => setText(e.target.value)}
          />
        )}
        <Button size="xs" type="submit" variant="outline" disabled={!text.trim()}>
          Use
        </Button>
        {w.said.fields?.[field] && (
          <Button size="xs" variant="ghost" onClick={() => put(null, `${NAMES[field]}: left to the records again.`)}>
            As the records say
          </Button>
        )}
      </chakra.form>
      {(field === 'author' || field === 'editor') && (
        <Text fontSize="12.5px" color="soft" mt="3px">
          Family, Given; parted by semicolons.
        </Text>
      )}
    </Box>
  )
}

/** By what the entries of a list of references were told apart. */
export const CUT: Record<string, string> = {
  numbers: 'told apart by their numbers',
  'hanging lines': 'told apart by their hanging lines',
  'lines set in': 'told apart by lines that are set in',
  'room between them': 'told apart by the room between them',
  'their words': 'told apart by their words',
  'a line each': 'an entry a line',
  notes: 'taken from its notes',
}
