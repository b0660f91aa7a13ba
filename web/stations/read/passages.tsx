import { Box, Button, chakra, Flex, Text, Textarea } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { selectorOf } from '../../../core/pdftext/anchor'
import { api, type Answer, type Copy, type Passage } from '../../../core/schema/api'
import { changedFrom, onPages } from '../../../core/write/passages'
import { useChange } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd, tell, tellError } from '../../frame/parts'
import { keyName, useKeyMap, useKeys } from '../../frame/keys'
import { Swatch, useStrands } from '../../frame/strands'
import { useOutbox, useShowing } from '../../outbox/use-outbox'
import type { Chosen } from './chosen'
import { CopyIt, Editing, StrandChoice } from './passage-editing'

export type PassageElsewhere = Answer<'passagesElsewhere'>[number]

/** Passages that are on their way to the server, as they will stand. */
export function usePassagesUnderWay(copy: Pick<Copy, 'id' | 'labels'>): Passage[] {
  const { inquiry } = useHere()
  const path = `/copies/${copy.id}/passages`
  return useShowing(inquiry.id).flatMap(l => {
    if (l.path !== path) return []
    const { id: ownId, strand, boxes, ...p } = l.body as Sent
    const label = copy.labels[p.page - 1] ?? String(p.page)
    return { ...p, ownId, strandId: strand, id: 0, copyId: copy.id, label, selectors: boxes.map(selectorOf) } as Passage
  })
}
type Sent = { id: string; strand: number | null } & Pick<Passage, 'page' | 'kind' | 'quote' | 'note' | 'tags'> &
  Pick<Chosen, 'boxes'>

/** What is noted of a page: opened, it can be changed, cited and taken out. */
export function PassageCard({
  passage,
  cited,
  isOpen,
  open,
  mayWrite,
  place,
  go,
  hasStrand = true,
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
  /** Without it where all around it are on the same. */
  hasStrand?: boolean
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
        <span>{passage.kind}</span>
        {strand && hasStrand && (
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
