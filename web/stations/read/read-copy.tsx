import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState, useSyncExternalStore, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { boxesOf } from '../../../core/pdftext/anchor'
import { linesOf } from '../../../core/pdftext/turned'
import { yearOf } from '../../../core/bib/dates'
import { authorLine } from '../../../core/bib/names'
import type { QueryNode } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { conceptSearches } from '../../../core/query/texts'
import { api, type Copy, type CopyInParts, type Passage } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { Failed, Notice, tell, Waiting } from '../../frame/parts'
import { Unlock } from '../../frame/password-dialog'
import { useStrands, type StrandLook } from '../../frame/strands'
import { useStanding } from '../../frame/texts'
import { Beside, type Card } from './beside'
import { BoxDrawing } from './box-drawing'
import { ByText } from './by-text'
import { chosenNow, type Chosen } from './chosen'
import { CopyPanel } from './copy-panel'
import { OverPages, type Mark } from './over-pages'
import { Elsewhere, NewPassage, PassageCard, usePassagesUnderWay, type PassageElsewhere } from './passages'
import { ReferencesOf } from './references'
import { ScanNotice } from './scan'
import { SheetOfReading } from './sheet'
import { Side, type Tab } from './side'
import { Strip } from './strip'
import { Toolbar } from './toolbar'
import { useReader } from './use-reader'
import type { Reader } from './viewer'

/** A copy being read: its pages, what was noted beside the words it comes from, and what it stands on. */
export function ReadCopy({ copy }: { copy: Copy }) {
  const { inquiry, mayWrite } = useHere()
  const room = useRef<HTMLDivElement>(null)
  const { reader, trouble, locked, again } = useReader(inquiry.id, copy.id, room)
  const [search, setSearch] = useSearchParams()
  const [tab, setTab] = useState<Tab>(copy.outcome === 'doubtful' ? 'copy' : 'passages')
  const [isOver, setOver] = useState(false)
  const [chosen, setChosen] = useState<Chosen>()
  const [boxing, setBoxing] = useState(false)
  const words = search.get('words') ?? ''
  const query = useMemo(() => rootOf(words), [words])
  const show = (t: Tab) => {
    setTab(t)
    setOver(true)
  }
  useKeys({ parts: () => (tab === 'copy' ? setTab('passages') : show('copy')) })
  const asked = Number(search.get('page') ?? 0)
  useEffect(() => {
    if (reader && asked > 0) reader.go(asked)
  }, [reader, asked])
  const onSelect = () => {
    const now = mayWrite && reader && chosenNow(reader)
    if (!now) return
    setChosen(now)
    show('passages')
  }
  const clear = () => setChosen(undefined)
  const parts = useOf(inquiry.id, api.copyParts, { params: { copy: copy.id } }).data
  const [looked, setLooked] = useState<CopyInParts['references'][number]>()
  const [hasStrip, showStrip] = useState(true)
  const [opened, setOpened] = useState<string | undefined>(() =>
    search.get('passage') ? `passage ${search.get('passage')}` : undefined,
  )
  const noted = useNoted(copy, reader)
  const marks = noted.filter(n => n.passage).map(n => ({ ...n.mark, isOpen: n.mark.key === opened }))
  const seen: Mark[] = [...marks]
  if (chosen?.boxes.length) seen.push({ ...chosenMark(chosen), isOpen: true })
  if (looked && tab === 'references')
    seen.push({ key: 'reference', boxes: looked.boxes, strand: undefined, kind: 'in my words', isOpen: true })
  const goFromSide = (page: number, y?: number) => {
    setOver(false)
    reader?.go(page, y)
  }
  return (
    <Flex direction="column" h="full" minH="0">
      <Head copy={copy} />
      <Flex flex="1" minH="0" position="relative">
        <Flex direction="column" flex="1" minW="0" minH="0">
          {reader && (
            <Bar
              {...{ copy, reader, hasStrip, showStrip }}
              box={mayWrite ? { on: boxing, turn: () => setBoxing(!boxing) } : undefined}
            />
          )}
          <Above copy={copy} show={() => show('copy')} isShown={tab === 'copy'} />
          {words && <Found words={words} drop={() => setSearch(p => (p.delete('words'), p), { replace: true })} />}
          {locked && <Unlock wrong={locked.wrong} open={locked.open} />}
          {trouble && <Failed error={new Error(trouble)} again={again} />}
          <Flex flex="1" minH="0" visibility={trouble ? 'hidden' : undefined}>
            {reader && hasStrip && <Whole {...{ copy, reader, marks }} headings={parts?.headings ?? []} />}
            <Box flex="1" minW="0" position="relative" bg="hair2">
              {!reader && !trouble && !locked && <Waiting what="Drawing the pages" />}
              <div
                ref={room}
                className="pages-room"
                tabIndex={0}
                role="region"
                aria-label="The pages"
                data-testid="pages"
                onMouseUp={onSelect}
                onKeyUp={onSelect}
              >
                <div className="pdfViewer" />
              </div>
              {reader && boxing && (
                <BoxDrawing
                  reader={reader}
                  choose={c => {
                    setBoxing(false)
                    if (!c) return
                    setChosen(c)
                    show('passages')
                  }}
                />
              )}
            </Box>
          </Flex>
        </Flex>
        {reader && <Over {...{ reader, query }} marks={seen} />}
        <Side
          tab={tab}
          choose={setTab}
          close={() => setOver(false)}
          isOver={isOver}
          counts={{ passages: noted.filter(n => n.passage).length, references: parts?.references.length }}
          content={{
            passages: reader ? (
              <Noted {...{ copy, reader, noted, chosen, clear, opened, setOpened }} note={setChosen} go={goFromSide} />
            ) : (
              <WithoutPages passages={noted.flatMap(n => n.passage ?? [])} />
            ),
            references: parts ? (
              <ReferencesOf
                copy={copy.id}
                parts={parts}
                go={goFromSide}
                look={r => {
                  setLooked(r)
                  goFromSide(r.boxes[0]?.page ?? 1, r.boxes[0]?.y)
                }}
              />
            ) : (
              <Waiting what="Reading the copy" />
            ),
            sheet: <SheetOfReading work={copy.work} />,
            copy: <CopyPanel copy={copy} go={goFromSide} />,
          }}
        />
        <Button
          size="xs"
          display={{ base: isOver ? 'none' : 'inline-flex', md: 'none' }}
          position="absolute"
          bottom="12px"
          right="12px"
          zIndex="2"
          colorPalette="vine"
          onClick={() => setOver(true)}
        >
          Passages, references
        </Button>
      </Flex>
    </Flex>
  )
}

const rootOf = (words: string | null): QueryNode | undefined => {
  const p = words ? parseCql(words) : undefined
  return p?.ok ? p.query.root : undefined
}

/** What is read, and whether it is kept by its text. */
function Head({ copy }: { copy: Copy }) {
  const { mayWrite } = useHere()
  const open = useOpenWork()
  const { item } = copy
  const by = item && [authorLine(item.author ?? item.editor, 2), yearOf(item)].filter(Boolean).join(' ')
  return (
    <Flex
      as="section"
      aria-label="What is read"
      align="center"
      gap="12px"
      px={{ base: '12px', md: '20px' }}
      minH="40px"
      py="4px"
      flex="none"
      borderBottom="1px solid"
      borderColor="hair"
      wrap={{ base: 'wrap', md: 'nowrap' }}
    >
      <Flex flex="1" minW={{ base: 'full', md: '0' }} gap="10px" align="baseline">
        <chakra.h1 fontFamily="serif" fontWeight="600" fontSize="16px" lineHeight="22px" truncate title={copy.title}>
          {copy.title}
        </chakra.h1>
        <Text fontSize="13px" color="soft" whiteSpace="nowrap" display={{ base: 'none', lg: 'block' }}>
          {[by, copy.version].filter(Boolean).join(' · ')}
        </Text>
      </Flex>
      <Button size="2xs" variant="outline" bg="surface" onClick={() => open(copy.work)}>
        Work sheet
      </Button>
      {mayWrite && <ByText work={copy.work} />}
    </Flex>
  )
}

/** What stands in the way of reading it as the work. */
function Above({ copy, show, isShown }: { copy: Copy; show: () => void; isShown: boolean }) {
  const { mayWrite } = useHere()
  if (copy.scanned === null && copy.outcome === 'proved') return null
  return (
    <Box px="12px" pt="10px" flex="none">
      {copy.scanned !== null && <ScanNotice copy={{ ...copy, scanned: copy.scanned }} />}
      {copy.outcome !== 'proved' && (
        <Box mb="10px">
          <Notice
            voice="amber"
            action={
              !isShown && (
                <Button size="xs" variant="outline" flex="none" onClick={show}>
                  {mayWrite ? 'Decide' : 'See why'}
                </Button>
              )
            }
          >
            {copy.outcome === 'doubtful'
              ? 'Whether this copy is the work is doubtful: it does not count as in hand yet.'
              : 'By your word this copy is not the work.'}
          </Notice>
        </Box>
      )}
    </Box>
  )
}

/** What was looked for in all copies is marked on these pages. */
function Found({ words, drop }: { words: string; drop: () => void }) {
  const { inquiry } = useHere()
  return (
    <Flex px="12px" py="6px" gap="10px" align="baseline" fontSize="13px" color="soft" flex="none">
      <Text minW="0" truncate title={words}>
        Marked on its pages: {words}
      </Text>
      <Button size="2xs" variant="outline" bg="surface" asChild flex="none">
        <Link to={`/inquiries/${inquiry.id}/read?${new URLSearchParams({ words }).toString()}`}>
          All that was found
        </Link>
      </Button>
      <Button size="2xs" variant="ghost" flex="none" onClick={drop}>
        No marks
      </Button>
    </Flex>
  )
}

const nobody = () => () => undefined

function Bar({
  reader,
  ...rest
}: Omit<Parameters<typeof Toolbar>[0], 'view' | 'hits' | 'reader'> & { reader: Reader }) {
  const view = useSyncExternalStore(reader.subscribe, reader.view)
  const hits = useSyncExternalStore(reader.subscribe, reader.hits)
  return <Toolbar {...{ reader, view, hits, ...rest }} />
}

function Over({ reader, marks, query }: { reader: Reader; marks: readonly Mark[]; query: QueryNode | undefined }) {
  const drawn = useSyncExternalStore(reader.subscribe, reader.drawn)
  return <OverPages {...{ reader, drawn, marks, query }} />
}

/** The whole text beside its pages, with the concepts of the question. */
function Whole({
  copy,
  reader,
  marks,
  headings,
}: {
  copy: Copy
  reader: Reader
  marks: readonly Mark[]
  headings: CopyInParts['headings']
}) {
  const { inquiry } = useHere()
  const hits = useSyncExternalStore(reader.subscribe, reader.hits)
  const concepts = useMemo(() => {
    const root = rootOf(inquiry.query)
    return root ? conceptSearches(root).slice(0, MOST_CONCEPTS) : []
  }, [inquiry.query])
  const searches = useMemo(() => concepts.flatMap(c => rootOf(c.words) ?? []), [concepts])
  const standing = useStanding(inquiry.id, copy, searches)
  useKeys({
    meet: () => {
      const at = reader.seen()
      const next = standing?.meet.find(p => p.page - 1 + p.at > (at ? at.from + 0.3 : 0)) ?? standing?.meet[0]
      if (next) reader.go(next.page, next.at * reader.sizeOf(next.page).height)
      else tell('The concepts of the question do not meet in this text.')
    },
  })
  return <Strip {...{ reader, concepts, standing, marks, hits, headings }} labels={copy.labels} />
}
const MOST_CONCEPTS = 3

interface NotedOn {
  passage?: Passage
  elsewhere?: PassageElsewhere
  page: number
  label: string
  mark: Mark
}

/** What is noted of a copy, in the order of its pages, with where it stands on them. */
function useNoted(copy: Copy, reader: Reader | undefined): NotedOn[] {
  const { inquiry } = useHere()
  const strands = useStrands(inquiry.id)
  const elsewhere = useOf(inquiry.id, api.passagesElsewhere, { params: { copy: copy.id } }).data
  const underWay = usePassagesUnderWay(copy)
  useSyncExternalStore(reader?.subscribe ?? nobody, reader?.drawn ?? nothing)
  const passages = [...copy.passages, ...underWay.filter(p => !copy.passages.some(q => q.ownId === p.ownId))]
  const others = (elsewhere ?? []).filter(e => !passages.some(p => p.quote && p.quote === e.here?.exact))
  const unplaced = [
    ...passages
      .filter(p => p.quote && !boxesOf(p.selectors).length)
      .map(p => ({ key: keyOf(p), page: p.page, quote: p.quote })),
    ...others.flatMap(e => (e.here ? [{ key: otherKey(e), page: e.here.page, quote: e.here.exact }] : [])),
  ]
  useEffect(() => {
    // words that came without their place are looked for on the pages as these are drawn
    if (reader && unplaced.length) reader.seek(unplaced)
  })
  const boxes = (key: string, own: ReturnType<typeof boxesOf>) =>
    own.length ? linesOf(own) : (reader?.soughtOf(key) ?? [])
  const noted: NotedOn[] = [
    ...passages.map(p => ({
      ...{ passage: p, page: p.page, label: p.label },
      mark: {
        ...{ key: keyOf(p), boxes: boxes(keyOf(p), boxesOf(p.selectors)), kind: p.kind, isOpen: false },
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
const chosenMark = (c: Chosen): Mark => ({
  ...{ key: 'chosen', boxes: c.boxes, strand: undefined, isOpen: false },
  kind: c.text ? 'quoted' : 'figure',
})

/** The passages beside their words. */
function Noted({
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
  const { page } = useSyncExternalStore(reader.subscribe, reader.view)
  const all = useOf(inquiry.id, api.passages).data
  const cited = new Map(all?.passages.map(p => [p.id, p.cited]))
  const passages = noted.filter(n => n.passage)
  const cards: Card[] = noted.map(({ passage, elsewhere, mark, page: on, label }) => {
    const isOpen = mark.key === opened
    return {
      ...{ mark: { ...mark, isOpen }, page: on, label, stays: false },
      node: passage ? (
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
      ...{ mark: chosenMark(chosen), page: chosen.page, label: copy.labels[chosen.page - 1] ?? '', stays: true },
      node: <NewPassage key={chosen.text + chosen.page} {...{ copy, chosen, clear }} />,
    })
  return (
    <>
      <Beside reader={reader} cards={cards} empty={<NothingNoted mayWrite={mayWrite} />} />
      <Flex px="24px" py="8px" gap="8px" flex="none" justify="space-between" align="center" fontSize="13px">
        {mayWrite && !chosen && (
          <Button size="2xs" variant="ghost" ml="-8px" onClick={() => note({ page, text: '', boxes: [] })}>
            Note on this page
          </Button>
        )}
        {passages.length > 0 && (
          <Button size="2xs" variant="ghost" asChild ml="auto">
            <Link to={`/inquiries/${inquiry.id}/read?view=passages&of=${copy.work}`}>
              {passages.length === 1 ? 'As text' : `All ${passages.length} as text`}
            </Link>
          </Button>
        )}
      </Flex>
    </>
  )
}

/** What was noted, where the pages are not there, or not yet. */
function WithoutPages({ passages }: { passages: readonly Passage[] }) {
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
