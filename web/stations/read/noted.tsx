import { Box, Button, Flex } from '@chakra-ui/react'
import { useEffect, useSyncExternalStore, type ReactNode } from 'react'
import { Link } from 'react-router'
import { boxesOf, type PageBox } from '../../../core/pdftext/anchor'
import { linesOf } from '../../../core/pdftext/turned'
import { api, type Copy, type Passage } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { useStrands, type StrandLook } from '../../frame/strands'
import { Beside, type Card } from './beside'
import { type Chosen } from './chosen'
import { FileWithMarks, MarksInFile } from './file-marks'
import { type Mark } from './over-pages'
import { Elsewhere, NewPassage, PassageCard, usePassagesUnderWay, type PassageElsewhere } from './passages'
import type { Reader } from './viewer'

const nobody = () => () => undefined
interface NotedOn {
  passage?: Passage
  elsewhere?: PassageElsewhere
  page: number
  label: string
  mark: Mark
}

/** Where passages were marked, read once of each: they are asked for whenever a page is drawn. */
const read = new WeakMap<object, readonly PageBox[]>()
function placesOf({ selectors }: Passage): readonly PageBox[] {
  if (!selectors) return NONE
  const boxes = read.get(selectors) ?? linesOf(boxesOf(selectors))
  read.set(selectors, boxes)
  return boxes
}

/** What is noted of a copy, in the order of its pages, with where it stands on them. */
export function useNoted(copy: Copy, reader: Reader | undefined): NotedOn[] {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const elsewhere = useOf(inquiry.id, api.passagesElsewhere, { params: { copy: copy.id } }).data
  const underWay = usePassagesUnderWay(copy)
  useSyncExternalStore(reader?.subscribe ?? nobody, reader?.drawn ?? nothing)
  const passages = [...copy.passages, ...underWay.filter(p => !copy.passages.some(q => q.ownId === p.ownId))]
  const quoted = new Set(passages.map(p => p.quote))
  const others = (elsewhere ?? []).filter(e => !e.here || !quoted.has(e.here.exact))
  const unplaced = [
    ...passages.filter(p => p.quote && !placesOf(p).length).map(p => ({ key: keyOf(p), page: p.page, quote: p.quote })),
    ...others.flatMap(e => (e.here ? [{ key: otherKey(e), page: e.here.page, quote: e.here.exact }] : [])),
  ]
  useEffect(() => {
    // words that came without their place are looked for on the pages as these are drawn
    if (reader && unplaced.length) reader.seek(unplaced)
  })
  const boxes = (key: string, own: readonly PageBox[]) => (own.length ? own : (reader?.soughtOf(key) ?? []))
  const noted: NotedOn[] = [
    ...passages.map(p => ({
      ...{ passage: p, page: p.page, label: p.label },
      mark: {
        ...{ key: keyOf(p), boxes: boxes(keyOf(p), placesOf(p)), kind: p.kind, isOpen: false },
        strand: lookOf(strands, p.strandId),
      },
    })),
    ...others.map(e => ({
      ...{ elsewhere: e, page: e.here?.page ?? 1, label: e.here?.label ?? copy.labels[0] ?? '1' },
      mark: {
        ...{ key: otherKey(e), boxes: boxes(otherKey(e), []), kind: e.passage.kind, isOpen: false },
        strand: lookOf(strands, e.passage.strandId),
      },
    })),
  ]
  return noted.sort((a, b) => a.page - b.page || (a.mark.boxes[0]?.y ?? 0) - (b.mark.boxes[0]?.y ?? 0))
}
const NONE: readonly never[] = []
const nothing = () => NONE
const keyOf = (p: Passage): string => (p.id ? `passage ${p.id}` : `own ${p.ownId}`)
const otherKey = (e: PassageElsewhere): string => `elsewhere ${e.passage.id}`
const lookOf = (strands: readonly StrandLook[], id: number | null): number | undefined =>
  strands.find(s => s.id === id)?.n
export const chosenMark = (c: Chosen): Mark => ({
  ...{ key: 'chosen', boxes: c.boxes, strand: undefined, isOpen: false },
  kind: c.text ? 'quoted' : 'figure',
})

/** The passages beside their words. */
export function Noted({
  copy,
  reader,
  noted,
  chosen,
  clear,
  note,
  opened,
  setOpened,
  go,
}: {
  copy: Copy
  reader: Reader
  noted: readonly NotedOn[]
  chosen: Chosen | undefined
  clear: () => void
  note: (c: Chosen) => void
  opened: string | undefined
  setOpened: (key: string | undefined) => void
  go: (page: number, y?: number) => void
}) {
  const { inquiry, mayWrite } = useHere()
  const page = useSyncExternalStore(reader.subscribe, () => reader.view().page)
  const all = useOf(inquiry.id, api.passages).data
  const cited = new Map(all?.passages.map(p => [p.id, p.cited]))
  const passages = noted.filter(n => n.passage)
  const cards: Card[] = noted.map(({ passage, elsewhere, mark, page: on, label }) => {
    const isOpen = mark.key === opened
    return {
      ...{ mark: { ...mark, isOpen }, page: on, label, stays: false, isOpen },
      draw: () =>
        passage ? (
          <PassageCard
            {...{ passage, mayWrite, isOpen }}
            cited={cited.get(passage.id)}
            open={now => setOpened(now ? mark.key : undefined)}
            go={() => go(on, mark.boxes[0]?.y)}
          />
        ) : (
          <Elsewhere copy={copy} told={elsewhere!} mayWrite={mayWrite} />
        ),
    }
  })
  if (chosen)
    cards.push({
      ...{ mark: chosenMark(chosen), page: chosen.page, label: copy.labels[chosen.page - 1] ?? '' },
      ...{ stays: true, isOpen: true },
      draw: () => <NewPassage key={chosen.text + chosen.page} {...{ copy, chosen, clear }} />,
    })
  return (
    <>
      <MarksInFile copy={copy} />
      <Beside reader={reader} cards={cards} empty={<NothingNoted mayWrite={mayWrite} />} />
      <Flex px="24px" py="8px" gap="8px" flex="none" justify="space-between" align="center" fontSize="13px">
        {mayWrite && !chosen && (
          <Button size="2xs" variant="ghost" ml="-8px" onClick={() => note({ page, text: '', boxes: [] })}>
            Note on this page
          </Button>
        )}
        <Flex gap="2px" ml="auto" mr="-8px">
          <FileWithMarks
            copy={copy}
            isNoted={passages.length > 0}
            isUnderWay={passages.some(n => n.passage!.id === 0)}
          />
          {passages.length > 0 && (
            <Button size="2xs" variant="ghost" asChild>
              <Link to={`/inquiries/${inquiry.id}/read?view=passages&of=${copy.work}`}>
                {passages.length === 1 ? 'As text' : `All ${passages.length} as text`}
              </Link>
            </Button>
          )}
        </Flex>
      </Flex>
    </>
  )
}

/** What was noted, where the pages are not there, or not yet. */
export function WithoutPages({ passages }: { passages: readonly Passage[] }) {
  return (
    <Box px="24px" overflow="auto">
      {passages.map(p => (
        <PassageCard
          key={keyOf(p)}
          passage={p}
          cited={undefined}
          isOpen={false}
          open={() => undefined}
          mayWrite={false}
        />
      ))}
    </Box>
  )
}

function NothingNoted({ mayWrite }: { mayWrite: boolean }): ReactNode {
  return (
    <Box px="24px" py="18px" fontSize="14px" lineHeight="20px" color="soft">
      {mayWrite
        ? 'Select words on a page: they are kept here as a quotation with their page, or you write beside them in your own words.'
        : 'Nothing is noted of this copy yet.'}
    </Box>
  )
}
