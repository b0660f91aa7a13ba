import { Box, Button, chakra, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { useState } from 'react'
import { boxesOf } from '../../../core/pdftext/anchor'
import { api, type Passage } from '../../../core/schema/api'
import { changedFrom, citable, onPages } from '../../../core/write/passages'
import { useChange } from '../../api/hooks'
import { copyText } from '../../frame/clipboard'
import { useHere } from '../../frame/inquiry-frame'
import { tell, tellError } from '../../frame/parts'
import { Swatch, type StrandLook } from '../../frame/strands'
import { useSaved } from '../../outbox/use-outbox'
import { useNotes } from './use-notes'

/** Puts a passage with its citation where a text can take it. */
export function CopyIt({ passage, cited }: { passage: Passage; cited: string | undefined }) {
  if (!cited) return null
  return (
    <Button
      size="xs"
      variant="outline"
      title={cited}
      onClick={() => void copyText(citable({ ...passage, cited }), `Copied with ${cited}.`)}
    >
      Copy with {cited.length > 44 ? 'its citation' : cited}
    </Button>
  )
}

interface Words {
  quote: string
  note: string
  strand: number | null
  tags: string[]
}

/** A passage as it is being changed: it saves itself, and never over what another window wrote. */
export function Editing({
  passage,
  cited,
  strands,
  done,
}: {
  passage: Passage
  cited: string | undefined
  strands: readonly StrandLook[]
  done: () => void
}) {
  const { inquiry } = useHere()
  const saved = useSaved<Words>({
    inquiry: inquiry.id,
    slot: `passage ${passage.id}`,
    method: 'PATCH',
    path: `/passages/${passage.id}`,
    said: `A passage from page ${passage.label}`,
    stands: {
      value: { quote: passage.quote, note: passage.note, strand: passage.strandId, tags: [...passage.tags] },
      version: passage.version,
    },
    body: asBody,
    read: asWords,
  })!
  const { value, write } = saved
  const isQuoted = passage.kind === 'quoted'
  const theirs = saved.refused?.code === 'changed-elsewhere' ? saved.refused.body.current : undefined
  return (
    <Box mt="4px">
      {isQuoted && (
        <Textarea
          size="sm"
          autoresize
          rows={2}
          fontFamily="serif"
          value={value.quote}
          aria-label="The words as you quote them"
          onChange={e => write({ ...value, quote: e.target.value })}
        />
      )}
      {isQuoted && changedFrom({ ...passage, quote: value.quote }) && (
        <p className="passage-aside">
          On the page: “{changedFrom({ ...passage, quote: value.quote })}”{' '}
          <button
            type="button"
            onClick={() => write({ ...value, quote: changedFrom({ ...passage, quote: value.quote })! })}
          >
            as on the page
          </button>
        </p>
      )}
      <Textarea
        size="sm"
        autoresize
        rows={2}
        mt={isQuoted ? '6px' : 0}
        value={value.note}
        placeholder="What does it say, in your words?"
        aria-label={`Note on page ${passage.label}`}
        onChange={e => write({ ...value, note: e.target.value })}
      />
      <StrandChoice strands={strands} value={value.strand} choose={strand => write({ ...value, strand })} />
      <TagsBox key={passage.id} tags={value.tags} write={tags => write({ ...value, tags })} />
      {saved.refused && (
        <Box role="alert" mt="6px" fontSize="13px" lineHeight="18px" color="rust">
          {theirs ? (
            <>
              Changed in another window meanwhile. There: “
              {String((theirs as Partial<Words>).note || (theirs as Partial<Words>).quote || '')}”
            </>
          ) : (
            saved.refused.said
          )}
          <Flex gap="6px" mt="4px">
            {theirs ? (
              <>
                <Button size="2xs" variant="outline" onClick={saved.keepMine}>
                  Keep mine
                </Button>
                <Button size="2xs" variant="outline" onClick={saved.takeTheirs}>
                  Take theirs
                </Button>
              </>
            ) : (
              <Button size="2xs" variant="outline" onClick={saved.takeTheirs}>
                As it stood
              </Button>
            )}
          </Flex>
        </Box>
      )}
      <Flex gap="6px" mt="8px" align="center" wrap="wrap">
        <CopyIt passage={{ ...passage, ...value }} cited={cited} />
        <IntoSheet passage={{ ...passage, ...value }} />
        <Remove passage={passage} removed={done} />
        <Text fontSize="12.5px" color="soft" ml="auto" role="status">
          {SAVING[saved.state]}
        </Text>
      </Flex>
    </Box>
  )
}
const SAVING = { untouched: '', saved: 'saved', saving: 'saving', 'kept here': 'kept here', 'not taken': 'not saved' }
const asBody = (w: Words): unknown => w
const asWords = (body: unknown): Words => body as Words

/** Puts a passage under a head of its work's sheet, with its page, after what stands there. */
function IntoSheet({ passage }: { passage: Pick<Passage, 'workId' | 'kind' | 'quote' | 'note' | 'label'> }) {
  const notes = useNotes()
  const sheet = notes.table.data?.works.find(w => w.id === passage.workId)
  if (!sheet) return null
  const { kind, quote, note, label } = passage
  const words = kind === 'quoted' ? `“${quote}”` : note || 'See the figure'
  return (
    <NativeSelect.Root size="xs" w="128px">
      <NativeSelect.Field
        aria-label="Put it into the sheet under"
        value=""
        onChange={e => {
          const head = notes.table.data!.heads.find(h => h.key === e.target.value)!
          const stands = notes.noteOf(sheet, head.key)
          notes.write(sheet, head, [stands, `${words} ${onPages(label)}`].filter(Boolean).join('\n'))
          tell(`Put into the sheet under “${head.name}”.`, {
            label: 'Undo',
            onClick: () => notes.write(sheet, head, stands),
          })
        }}
      >
        <option value="" disabled>
          Into the sheet
        </option>
        {notes.table.data!.heads.map(h => (
          <option key={h.key} value={h.key}>
            {h.name}
          </option>
        ))}
      </NativeSelect.Field>
      <NativeSelect.Indicator />
    </NativeSelect.Root>
  )
}

function Remove({ passage, removed }: { passage: Passage; removed: () => void }) {
  const { inquiry } = useHere()
  const remove = useChange(inquiry.id, api.dropPassage, (id: number) => ({ params: { passage: id } }))
  const restore = useChange(inquiry.id, api.notePassage, (p: Passage) => ({
    params: { copy: p.copyId },
    body: {
      ...{ page: p.page, kind: p.kind, quote: p.quote, note: p.note, strand: p.strandId, tags: [...p.tags] },
      boxes: boxesOf(p.selectors),
    },
  }))
  return (
    <Button
      size="xs"
      variant="ghost"
      loading={remove.isPending}
      onClick={() =>
        remove.mutate(passage.id, {
          onSuccess: () => {
            removed()
            tell('The passage is taken out.', {
              label: 'Undo',
              onClick: () => restore.mutate(passage, { onError: tellError }),
            })
          },
          onError: tellError,
        })
      }
    >
      Take out
    </Button>
  )
}

/** On which strand a passage is: one, or none. */
export function StrandChoice({
  strands,
  value,
  choose,
}: {
  strands: readonly StrandLook[]
  value: number | null
  choose: (strand: number | null) => void
}) {
  if (!strands.length) return null
  return (
    <Flex role="group" aria-label="Strand" gap="4px" mt="6px" wrap="wrap" align="center">
      {strands.map(s => (
        <chakra.button
          key={s.id}
          type="button"
          className="strand-choice"
          aria-pressed={s.id === value}
          aria-label={s.name}
          title={s.name}
          onClick={() => choose(s.id === value ? null : s.id)}
        >
          <Swatch n={s.n} />
          {s.id === value && <span>{s.name}</span>}
        </chakra.button>
      ))}
    </Flex>
  )
}

/** Tags as they are typed, parted by commas; they are taken when one goes on. */
function TagsBox({ tags, write }: { tags: readonly string[]; write: (tags: string[]) => void }) {
  const [text, setText] = useState(tags.join(', '))
  const take = () => {
    const now = [
      ...new Set(
        text
          .split(',')
          .map(t => t.trim().slice(0, 60))
          .filter(Boolean),
      ),
    ].slice(0, 20)
    setText(now.join(', '))
    if (now.join() !== tags.join()) write(now)
  }
  return (
    <Input
      size="xs"
      mt="6px"
      value={text}
      placeholder="Tags, parted by commas"
      aria-label="Tags"
      onChange={e => setText(e.target.value)}
      onBlur={take}
      onKeyDown={e => e.key === 'Enter' && take()}
    />
  )
}
