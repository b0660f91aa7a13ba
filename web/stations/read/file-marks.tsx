import { Box, Button, Checkbox, chakra, Flex, NativeSelect, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { longDay } from '../../../core/bib/dates'
import { api, type Answer, type Copy } from '../../../core/schema/api'
import { onPages } from '../../../core/write/passages'
import { ApiError, placeOf } from '../../api/client'
import { useChange, useOf } from '../../api/hooks'
import { CheckRow, useTaken } from '../../frame/check-row'
import { some } from '../../frame/counted'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { PasswordDialog } from '../../frame/password-dialog'
import { PlainDialog } from '../../frame/plain-dialog'
import { saveFile } from '../../frame/save-file'
import { useStrands, type StrandLook } from '../../frame/strands'

type MarksOfFile = Answer<'marksOfFile'>
type FileMark = MarksOfFile['marks'][number]

/** What others marked in the file of a copy, offered as passages as long as it is not noted. */
export function MarksInFile({ copy }: { copy: Pick<Copy, 'id'> }) {
  const { inquiry, mayWrite } = useHere()
  const [isOpen, setOpen] = useState(false)
  const told = useOf(inquiry.id, api.marksOfFile, { params: { copy: copy.id }, enabled: mayWrite }).data
  const open = told?.marks.filter(m => !m.isNoted) ?? []
  if (!told || !open.length) return null
  return (
    <Flex px="24px" py="8px" gap="10px" flex="none" align="center" fontSize="13px" lineHeight="18px" color="soft">
      <Text flex="1">
        {open.length === 1
          ? 'One mark was made in this file elsewhere.'
          : `${some(open.length, 'mark')} were made in this file elsewhere.`}
      </Text>
      <Button size="2xs" variant="outline" bg="surface" onClick={() => setOpen(true)}>
        Look through {open.length === 1 ? 'it' : 'them'}
      </Button>
      {isOpen && <Choosing copy={copy.id} told={told} marks={open} close={() => setOpen(false)} />}
    </Flex>
  )
}

/** Marks of one colour: whoever marks with several means something by each. */
interface Group {
  colour: string | null
  marks: FileMark[]
}
function groupsOf(marks: readonly FileMark[]): Group[] {
  const groups = new Map<string | null, FileMark[]>()
  for (const m of marks) {
    const of = groups.get(m.colour)
    if (of) of.push(m)
    else groups.set(m.colour, [m])
  }
  return [...groups].map(([colour, of]) => ({ colour, marks: of }))
}

function Choosing({
  copy,
  told,
  marks,
  close,
}: {
  copy: number
  told: MarksOfFile
  marks: readonly FileMark[]
  close: () => void
}) {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const { isTaken, take } = useTaken()
  const [strandOf, setStrandOf] = useState<ReadonlyMap<string | null, number | null>>(new Map())
  const params = { copy }
  const note = useChange(inquiry.id, api.noteMarks, (wanted: { key: string; strand: number | null }[]) => ({
    ...{ params, body: { marks: wanted } },
  }))
  const drop = useChange(inquiry.id, api.dropPassages, (passages: number[]) => ({ body: { passages } }))
  const taken = marks.filter(m => isTaken(m.key))
  const noteThem = () =>
    note.mutate(
      taken.map(m => ({ key: m.key, strand: strandOf.get(m.colour) ?? null })),
      {
        onSuccess: ({ noted }) => {
          close()
          tell(`Noted: ${some(noted.length, 'passage')}.`, {
            label: 'Undo',
            onClick: () => drop.mutate(noted, { onError: tellError }),
          })
        },
        onError: tellError,
      },
    )
  const names = [...new Set(marks.map(m => m.by).filter(Boolean))]
  const aside = [
    told.drawings && `${some(told.drawings, 'drawing')} without words`,
    told.left && `${some(told.left, 'mark')} beyond the first ${told.marks.length.toLocaleString('en')}`,
    told.unread && `those of ${some(told.unread, 'page')} that cannot be read`,
  ].filter(Boolean)
  return (
    <PlainDialog
      close={close}
      size="lg"
      title="Marks in this file"
      buttons={
        <>
          <Button variant="ghost" onClick={close}>
            Cancel
          </Button>
          <Button colorPalette="vine" disabled={!taken.length} loading={note.isPending} onClick={noteThem}>
            {taken.length ? `Note ${some(taken.length, 'passage')}` : 'Note them'}
          </Button>
        </>
      }
    >
      <Text color="soft">
        {names.length === 1 ? `Made by ${names[0]}. ` : ''}
        Marked words become quotations with their page, what was written beside them your notes. The file stays as it
        is.
      </Text>
      <Box maxH="46vh" overflow="auto" mt="10px" mx="-6px" px="6px" tabIndex={0} role="group" aria-label="Marks">
        {groupsOf(marks).map(g => (
          <Box key={g.colour} role="group" mb="14px" aria-label={`Marks of a colour: ${g.marks.length}`}>
            <Head
              group={g}
              left={g.marks.filter(m => !isTaken(m.key)).length}
              take={all =>
                take(
                  g.marks.map(m => m.key),
                  all,
                )
              }
              strands={strands}
              strand={strandOf.get(g.colour) ?? null}
              choose={strand => setStrandOf(new Map(strandOf).set(g.colour, strand))}
            />
            {g.marks.map(m => (
              <Mark
                key={m.key}
                mark={m}
                by={names.length > 1 ? m.by : ''}
                isTaken={isTaken(m.key)}
                turn={() => take([m.key], !isTaken(m.key))}
              />
            ))}
          </Box>
        ))}
      </Box>
      {aside.length > 0 && (
        <Text color="soft" fontSize="13px" mt="8px">
          {aside.join(', ')} {aside.length === 1 && /^1 /.test(String(aside[0])) ? 'stays' : 'stay'} in the file alone.
        </Text>
      )}
    </PlainDialog>
  )
}

function Head({
  group: { colour, marks },
  left,
  take,
  strands,
  strand,
  choose,
}: {
  group: Group
  /** How many of its marks are left where they are. */
  left: number
  take: (all: boolean) => void
  strands: readonly StrandLook[]
  strand: number | null
  choose: (strand: number | null) => void
}) {
  return (
    <Flex gap="10px" align="center" wrap="wrap" py="4px">
      <Checkbox.Root
        size="sm"
        colorPalette="vine"
        checked={left === 0 ? true : left === marks.length ? false : 'indeterminate'}
        onCheckedChange={e => take(e.checked === true)}
      >
        <Checkbox.HiddenInput />
        <Checkbox.Control />
        <Checkbox.Label fontWeight="600" display="flex" alignItems="center" gap="8px">
          <chakra.span
            aria-hidden="true"
            w="16px"
            h="12px"
            borderRadius="2px"
            border="1px solid"
            borderColor="line"
            style={colour ? { background: colour } : {}}
          />
          {some(marks.length, 'mark')}
        </Checkbox.Label>
      </Checkbox.Root>
      {strands.length > 0 && (
        <NativeSelect.Root size="xs" w="190px" ml="auto">
          <NativeSelect.Field
            aria-label="Strand of these marks"
            bg="surface"
            value={strand ?? ''}
            onChange={e => choose(e.target.value ? Number(e.target.value) : null)}
          >
            <option value="">on no strand</option>
            {strands.map(s => (
              <option key={s.id} value={s.id}>
                on “{s.name}”
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      )}
    </Flex>
  )
}

function Mark({ mark: m, by, isTaken, turn }: { mark: FileMark; by: string; isTaken: boolean; turn: () => void }) {
  return (
    <CheckRow isTaken={isTaken} turn={turn}>
      <Box fontSize="13.5px" lineHeight="19px">
        <chakra.span color="soft">
          <b>{onPages(m.label)}</b> {[m.how, by, m.at && longDay(m.at)].filter(Boolean).join(', ')}
        </chakra.span>
        {m.quote && (
          <Text fontFamily="serif" lineClamp={3}>
            “{m.quote}”
          </Text>
        )}
        {m.note && (
          <Text whiteSpace="pre-line" lineClamp={3}>
            {m.note}
          </Text>
        )}
        {!m.quote && !m.note && <Text color="soft">A part of the page, without a note.</Text>}
      </Box>
    </CheckRow>
  )
}

/**
 * Saves the file with what was noted written in, for whoever reads it elsewhere; its password is asked for where it has one.
 * @param isNoted something is noted of it
 * @param isUnderWay something that was noted is not with the server yet, and would be missing
 */
export function FileWithMarks({
  copy,
  isNoted,
  isUnderWay,
}: {
  copy: Pick<Copy, 'id' | 'title'>
  isNoted: boolean
  isUnderWay: boolean
}) {
  const { inquiry } = useHere()
  const [isMaking, setMaking] = useState(false)
  const [isLocked, setLocked] = useState(false)
  const place = placeOf(api.markedFile, { inquiry: inquiry.id, copy: copy.id })
  const make = async () => {
    setMaking(true)
    try {
      await saveFile(place, new AbortController().signal, {})
    } catch (e) {
      if (e instanceof ApiError && e.code === 'locked') setLocked(true)
      else tellError(e)
    } finally {
      setMaking(false)
    }
  }
  const unlock = (password: string) =>
    saveFile(place, new AbortController().signal, { password }).then(
      () => ({ said: '' }),
      (e: unknown) => {
        if (e instanceof ApiError && e.code === 'locked') return { locked: true, said: e.message }
        throw e
      },
    )
  return (
    <>
      {isNoted && (
        <Button
          size="2xs"
          variant="ghost"
          loading={isMaking}
          disabled={isUnderWay}
          onClick={() => void make()}
          title={isUnderWay ? 'What you noted is on its way to the server' : 'The PDF with these passages marked in it'}
        >
          Marked PDF
        </Button>
      )}
      {isLocked && (
        <PasswordDialog
          file={copy.title}
          why="to write your marks into what you save"
          act="Open and save it"
          send={unlock}
          done={() => setLocked(false)}
          close={() => setLocked(false)}
        />
      )}
    </>
  )
}
