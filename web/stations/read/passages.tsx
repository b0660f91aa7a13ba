import { Box, Button, chakra, Flex, Input, NativeSelect, Text, Textarea } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { boxesOf } from '../../../core/pdftext/anchor'
import { api, type Answer, type Copy, type Passage } from '../../../core/schema/api'
import { changedFrom, citable } from '../../../core/write/passages'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd, tell, tellError } from '../../frame/parts'
import { keyName, useKeyMap, useKeys } from '../../frame/keys'
import { Swatch, useStrands, type StrandLook } from '../../frame/strands'
import { useOutbox, useSaved, useShowing } from '../../outbox/use-outbox'
import type { Chosen } from './chosen'
import { useNotes } from './use-notes'
import { copyText } from '../../frame/clipboard'

export type PassageElsewhere = Answer<'passagesElsewhere'>[number]

/** Passages that are on their way to the server, as they will stand. */
export function usePassagesUnderWay(copy: Pick<Copy, 'id' | 'labels'>): Passage[] {
  const { inquiry } = useHere()
  const path = `/copies/${copy.id}/passages`
  return useShowing(inquiry.id).flatMap(l => {
    if (l.path !== path) return []
    const { id: ownId, strand, boxes, ...p } = l.body as Sent
    const selectors = boxes.map(b => ({
      ...{ type: 'FragmentSelector' as const, conformsTo: 'http://tools.ietf.org/rfc/rfc8118' as const },
      value: `page=${b.page}&viewrect=${[b.x, b.y, b.width, b.height].join(',')}`,
    }))
    const label = copy.labels[p.page - 1] ?? String(p.page)
    return { ...p, ownId, strandId: strand, id: 0, copyId: copy.id, label, selectors } as Passage
  })
}
type Sent = { id: string; strand: number | null } & Pick<Passage, 'page' | 'kind' | 'quote' | 'note' | 'tags'> &
  Pick<Chosen, 'boxes'>

/** What a passage is, in a word. */
export const KIND_WORDS: Record<Passage['kind'], string> = {
  quoted: 'quoted',
  'in my words': 'in my words',
  figure: 'figure',
}

export const onPages = (label: string): string => `${label.includes('–') ? 'pp.' : 'p.'} ${label}`

/** What is noted of a page: opened, it can be changed, cited and taken out. */
export function PassageCard({
  passage,
  cited,
  isOpen,
  open,
  mayWrite,
  place,
  go,
}: {
  passage: Passage
  /** As the style cites it in a text; not known yet of one that was just noted. */
  cited: string | undefined
  isOpen: boolean
  open: (isOpen: boolean) => void
  mayWrite: boolean
  /** In place of its page, where pages are not beside it. */
  place?: ReactNode
  /** Goes to its page, where that lies beneath. */
  go?: () => void
}) {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const strand = strands.find(s => s.id === passage.strandId)
  const changed = changedFrom(passage)
  const isHere = passage.id > 0
  return (
    <Box data-testid="passage" className="passage" data-open={isOpen || undefined}>
      <chakra.button
        type="button"
        className="passage-head"
        aria-expanded={isOpen}
        disabled={!isHere}
        onClick={() => open(!isOpen)}
      >
        {place ?? <b>{isHere ? onPages(passage.label) : 'on its way'}</b>}
        <span>{KIND_WORDS[passage.kind]}</span>
        {strand && (
          <span className="passage-strand">
            <Swatch n={strand.n} /> {strand.name}
          </span>
        )}
      </chakra.button>
      {isOpen && go && (
        <Button size="xs" variant="outline" mt="4px" display={{ md: 'none' }} onClick={go}>
          Show it on its page
        </Button>
      )}
      {!isOpen && <Said passage={passage} changed={changed} />}
      {!isOpen && passage.tags.length > 0 && <Tags tags={passage.tags} />}
      {isOpen &&
        (mayWrite ? (
          <Editing passage={passage} cited={cited} strands={strands} done={() => open(false)} />
        ) : (
          <>
            <Said passage={passage} changed={changed} />
            <Flex gap="6px" mt="6px">
              <CopyIt passage={passage} cited={cited} />
            </Flex>
          </>
        ))}
    </Box>
  )
}

function Said({ passage: p, changed }: { passage: Passage; changed: string | undefined }) {
  return (
    <>
      {p.kind === 'quoted' && <p className="passage-quote">“{p.quote}”</p>}
      {changed && <p className="passage-aside">On the page: “{changed}”</p>}
      {p.note && <p className="passage-note">{p.note}</p>}
      {p.kind === 'figure' && !p.note && <p className="passage-aside">A part of the page, without a note.</p>}
    </>
  )
}

export function Tags({ tags }: { tags: readonly string[] }) {
  return (
    <Flex gap="5px" mt="4px" wrap="wrap">
      {tags.map(t => (
        <chakra.span key={t} className="passage-tag">
          {t}
        </chakra.span>
      ))}
    </Flex>
  )
}

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
function Editing({
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

/** What is chosen on a page, to be noted: quoted as it stands, or in the student's words. */
export function NewPassage({
  copy,
  chosen,
  clear,
}: {
  copy: Copy
  chosen: Chosen
  /** @param isKept it was noted, not left */
  clear: (isKept: boolean) => void
}) {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const [note, setNote] = useState('')
  const [strand, setStrand] = useState<number | null>(null)
  const map = useKeyMap()
  const outbox = useOutbox()
  const { page, text, boxes } = chosen
  const isFigure = !text && boxes.length > 0
  const label = copy.labels[page - 1] ?? String(page)
  const save = (kind: Passage['kind']) => {
    const id = crypto.randomUUID()
    outbox.add({
      id,
      inquiry: inquiry.id,
      method: 'POST',
      path: `/copies/${copy.id}/passages`,
      said: `A passage from page ${label} of “${copy.title}”`,
      body: { id, page, kind, quote: text, note, strand, tags: [], boxes } satisfies Sent,
      shownBy: JSON.stringify(['inquiry', inquiry.id, `/copies/${copy.id}`]),
    })
    clear(true)
    window.getSelection()?.removeAllRanges()
  }
  const canSayOwn = Boolean(note.trim())
  useKeys(text ? { quote: () => save('quoted') } : {})
  return (
    <Box className="passage passage-new" data-testid="new passage" onKeyDown={e => e.key === 'Escape' && clear(false)}>
      <Flex className="passage-head">
        <b>{onPages(label)}</b>
        <span>{text ? 'chosen on the page' : isFigure ? 'a figure or table' : 'a note on the page'}</span>
      </Flex>
      {text && (
        <Text className="passage-quote" lineClamp={6}>
          “{text}”
        </Text>
      )}
      <Textarea
        size="sm"
        autoresize
        rows={1}
        mt="4px"
        value={note}
        autoFocus={!text}
        onChange={e => setNote(e.target.value)}
        onKeyDown={e => {
          if (e.key !== 'Enter' || !(e.ctrlKey || e.metaKey)) return
          if (isFigure) save('figure')
          else if (canSayOwn) save('in my words')
        }}
        placeholder={isFigure ? 'What does it show, in your words?' : 'What does it say, in your words?'}
        aria-label={`Note on page ${label}`}
      />
      <StrandChoice strands={strands} value={strand} choose={setStrand} />
      <Flex gap="6px" mt="8px" wrap="wrap">
        {text && (
          <Button size="xs" colorPalette="vine" onClick={() => save('quoted')}>
            Keep as quoted <Kbd>{keyName(map.quote)}</Kbd>
          </Button>
        )}
        {isFigure && (
          <Button size="xs" colorPalette="vine" onClick={() => save('figure')}>
            Keep the figure
          </Button>
        )}
        {!isFigure && (
          <Button size="xs" variant="outline" disabled={!canSayOwn} onClick={() => save('in my words')}>
            In my words
          </Button>
        )}
        <Button size="xs" variant="ghost" ml="auto" onClick={() => clear(false)}>
          Leave it
        </Button>
      </Flex>
    </Box>
  )
}

/** A passage that was noted in another version of the work, where its words stand in this one. */
export function Elsewhere({ copy, told, mayWrite }: { copy: Copy; told: PassageElsewhere; mayWrite: boolean }) {
  const { inquiry } = useHere()
  const { passage, version, here } = told
  const take = useChange(inquiry.id, api.notePassage, (at: NonNullable<PassageElsewhere['here']>) => ({
    params: { copy: copy.id },
    body: {
      ...{ page: at.page, kind: passage.kind, note: passage.note, strand: passage.strandId, tags: [...passage.tags] },
      quote: at.exact,
    },
  }))
  const isChanged = here && here.exact !== passage.quote
  return (
    <Box className="passage passage-elsewhere" data-testid="passage elsewhere">
      <Text fontSize="12.5px" lineHeight="17px" color="soft" mb="3px">
        Noted in {version === copy.version ? 'another copy' : `the ${version}`}, there page {passage.label}
      </Text>
      <Text className="passage-quote" lineClamp={6}>
        “{here?.exact ?? passage.quote}”
      </Text>
      {isChanged && <p className="passage-aside">There it reads: “{passage.quote}”</p>}
      {!here && (
        <Text mt="4px" fontSize="12.5px" color="amber">
          These words do not stand in this version.
        </Text>
      )}
      {here && mayWrite && (
        <Button
          size="2xs"
          variant="outline"
          mt="6px"
          loading={take.isPending}
          onClick={() =>
            take.mutate(here, { onSuccess: () => tell(`Noted from page ${here.label}.`), onError: tellError })
          }
        >
          Note it here, page {here.label}
        </Button>
      )}
    </Box>
  )
}
