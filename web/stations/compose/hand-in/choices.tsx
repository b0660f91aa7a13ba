import { Box, chakra, Field, Flex, Input, NativeSelect, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { TITLE } from '../../../../core/paper/bibliography'
import { CITATIONS, formatOf, type DocumentFormat } from '../../../../core/paper/formats'
import { LAYOUT, type Layout } from '../../../../core/paper/layout'
import { NAME_PARTS, patternTrouble } from '../../../../core/paper/names'
import { api, type Bibliography } from '../../../../core/schema/api'
import { placeOf } from '../../../api/client'
import { useChange, useOf } from '../../../api/hooks'
import { useHere } from '../../../frame/inquiry-frame'
import { Overtaken } from '../../../frame/overtaken'
import { tellError } from '../../../frame/parts'
import { NAMES } from '../../../frame/work-words'
import { plainWritten } from '../../../../core/write/written'
import { useAroundText, type Cited } from '../use-written'

/** Lines at the top cite nothing. */
const NO_CITATIONS: Cited = new Map()

/** What stands at the top: each saves itself. */
export function Words({ list }: { list: Bibliography }) {
  return (
    <Box className="hand-in-part">
      <AtTop list={list} place="title" label="Title" placeholder={TITLE} />
      <Flex gap="10px">
        <AtTop list={list} place="author" label="Your name" placeholder="not printed" />
        <AtTop list={list} place="course" label="Course, teacher" placeholder="not printed" />
      </Flex>
    </Box>
  )
}

function AtTop({
  list,
  place,
  label,
  placeholder,
}: {
  list: Bibliography
  place: string
  label: string
  placeholder: string
}) {
  const { mayWrite } = useHere()
  const { value, write, editor } = useAroundText(list, place, label, NO_CITATIONS)
  return (
    <Field.Root mb="8px">
      <Field.Label fontSize="13px">{label}</Field.Label>
      <Input
        size="sm"
        bg="surface"
        maxLength={200}
        readOnly={!mayWrite}
        value={value.text}
        placeholder={placeholder}
        onChange={e => write(plainWritten(e.target.value))}
      />
      <Overtaken editor={editor} what="line" theirs={told => String(told.content)} />
    </Field.Root>
  )
}

/** How the pages look. */
export function Pages({ layout }: { layout: Layout }) {
  const { inquiry, mayWrite } = useHere()
  const set = useChange(inquiry.id, api.setLayout, (to: Partial<Layout>) => ({ body: to }))
  const say = (to: Partial<Layout>) => set.mutate(to, { onError: tellError })
  const pick = (
    label: string,
    value: string | number,
    options: [string | number, string][],
    choose: (v: string) => void,
  ) => (
    <Field.Root flex="1">
      <Field.Label fontSize="13px">{label}</Field.Label>
      <NativeSelect.Root size="sm" disabled={!mayWrite}>
        <NativeSelect.Field value={value} onChange={e => choose(e.target.value)}>
          {options.map(([v, name]) => (
            <option key={v} value={v}>
              {name}
            </option>
          ))}
        </NativeSelect.Field>
        <NativeSelect.Indicator />
      </NativeSelect.Root>
    </Field.Root>
  )
  const tick = (label: ReactNode, key: 'cover' | 'annotated') => (
    <label className="tick">
      <input
        type="checkbox"
        checked={layout[key]}
        disabled={!mayWrite}
        onChange={e => say({ [key]: e.target.checked })}
      />{' '}
      {label}
    </label>
  )
  return (
    <Box className="hand-in-part">
      <Flex gap="10px">
        {pick(
          'Lines',
          layout.spacing,
          [
            [1, 'single'],
            [1.5, 'one and a half'],
            [2, 'double'],
          ],
          v => say({ spacing: Number(v) as Layout['spacing'] }),
        )}
        {pick(
          'Sheet',
          layout.sheet,
          [
            ['a4', 'A4'],
            ['letter', 'US letter'],
          ],
          v => say({ sheet: v as Layout['sheet'] }),
        )}
      </Flex>
      <Flex gap="4px 18px" wrap="wrap" mt="8px">
        {tick('a page with the title first', 'cover')}
        {tick('with annotations', 'annotated')}
      </Flex>
    </Box>
  )
}

/** How copies are called in the archive. */
export function Names({ names }: { names: string }) {
  const { inquiry } = useHere()
  const set = useChange(inquiry.id, api.setLayout, (to: Partial<Layout>) => ({ body: to }))
  const say = (to: string) => set.mutate({ names: to }, { onError: tellError })
  return <NamesField key={names} names={names} say={say} />
}

function NamesField({ names, say }: { names: string; say: (names: string) => void }) {
  const { mayWrite } = useHere()
  const [now, setNow] = useState(names)
  const trouble = now.trim() ? patternTrouble(now) : 'Say how the copies are named.'
  return (
    <Field.Root mt="10px" invalid={Boolean(trouble)}>
      <Field.Label fontSize="13px">Names of the copies in it</Field.Label>
      <Input
        size="sm"
        bg="surface"
        value={now}
        maxLength={120}
        readOnly={!mayWrite}
        onChange={e => setNow(e.target.value)}
        onBlur={() => {
          if (!trouble && now.trim() !== names) say(now.trim())
        }}
      />
      <Field.ErrorText>{trouble}</Field.ErrorText>
      {!trouble && (
        <Field.HelperText>
          {NAME_PARTS.map(p => `{${p}}`).join(', ')} stand for theirs.
          {now !== LAYOUT.names && mayWrite && (
            <>
              {' '}
              <chakra.button type="button" className="plain-link" onClick={() => say(LAYOUT.names)}>
                As usual
              </chakra.button>
            </>
          )}
        </Field.HelperText>
      )}
    </Field.Root>
  )
}

const called = (field: string): string =>
  Object.hasOwn(NAMES, field) ? NAMES[field as keyof typeof NAMES].toLowerCase() : field

/** Citations for other programs, each with what it loses. */
export function Citations() {
  const { inquiry } = useHere()
  const lost = {
    bibtex: useOf(inquiry.id, api.losses, { query: { format: 'bibtex' } }).data,
    ris: useOf(inquiry.id, api.losses, { query: { format: 'ris' } }).data,
    mods: useOf(inquiry.id, api.losses, { query: { format: 'mods' } }).data,
    csl: [],
  }
  return (
    <Box className="hand-in-part">
      <chakra.h2 className="hand-in-title">Only the citations</chakra.h2>
      <ul className="citations">
        {CITATIONS.map(f => {
          const of = lost[f.key]
          const fields = [...new Set(of?.flatMap(l => l.fields))].map(called)
          return (
            <li key={f.key}>
              <a
                className="plain-link"
                href={`/api${placeOf(api.preview, { inquiry: inquiry.id }, { format: f.key })}`}
                download
              >
                {f.name}
              </a>{' '}
              <span>
                {!of
                  ? ''
                  : of.length
                    ? `${of.length} ${of.length === 1 ? 'entry loses' : 'entries lose'} ${fields.join(', ')}`
                    : 'loses nothing'}
              </span>
            </li>
          )
        })}
      </ul>
    </Box>
  )
}

/** How the works were searched for and chosen, as documents. */
export const Methods = () => (
  <Told title="Methods" of={api.methodsFile} as={['docx', 'html', 'markdown']}>
    Sources, every search as it was run, the way from records to kept works with reasons, and what standards of
    reporting ask beyond.
  </Told>
)

/** What was checked of the entries, as documents. */
export const Checked = () => (
  <Told title="What was checked" of={api.checkedFile} as={['pdf', 'docx', 'html']}>
    Each entry with what it was held against, what is open, and what you let stand: to print, or to look through with
    somebody.
  </Told>
)

/** A document beside the bibliography, in formats to be saved. */
function Told({
  title,
  of,
  as,
  children,
}: {
  title: string
  of: typeof api.methodsFile | typeof api.checkedFile
  as: readonly DocumentFormat[]
  children: ReactNode
}) {
  const { inquiry } = useHere()
  return (
    <Box className="hand-in-part">
      <chakra.h2 className="hand-in-title">{title}</chakra.h2>
      <Text className="hand-in-note">{children}</Text>
      <Flex gap="0 14px" wrap="wrap">
        {as.map(f => (
          <a
            key={f}
            className="plain-link"
            aria-label={`${title} as ${nameOf(f)}`}
            href={`/api${placeOf(of, { inquiry: inquiry.id }, { format: f })}`}
            download
          >
            {nameOf(f)}
          </a>
        ))}
      </Flex>
    </Box>
  )
}
const nameOf = (f: DocumentFormat): string => formatOf(f).name.replace(/.*, /, '')
