import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useEffect, useMemo, useRef, useState, useSyncExternalStore } from 'react'
import { Link, useSearchParams } from 'react-router'
import { yearOf } from '../../../core/bib/dates'
import { authorLine } from '../../../core/bib/names'
import type { QueryNode } from '../../../core/query/cql'
import { parseCql } from '../../../core/query/parse-cql'
import { conceptSearches } from '../../../core/query/texts'
import { api, type Copy, type CopyInParts } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeys } from '../../frame/keys'
import { Failed, Notice, tell, Waiting } from '../../frame/parts'
import { Unlock } from '../../frame/password-dialog'
import { useStanding } from '../../frame/texts'
import { BoxDrawing } from './box-drawing'
import { ByText } from './by-text'
import { entriesAt, usePlaces, type Place } from './cited'
import { chosenNow, type Chosen } from './chosen'
import { CopyPanel } from './copy-panel'
import { chosenMark, Noted, useNoted, WithoutPages } from './noted'
import { OverPages, type Mark } from './over-pages'
import { ReferencesOf } from './references'
import { ScanNotice } from './scan'
import { SheetOfReading } from './sheet'
import { Side, type Tab } from './side'
import { Strip } from './strip'
import { Toolbar } from './toolbar'
import { usePageClock } from './use-page-clock'
import { useReader } from './use-reader'
import type { Reader } from './viewer'

/** A copy being read: its pages, what was noted beside the words it comes from, and what it stands on. */
export function ReadCopy({ copy }: { copy: Copy }) {
  const { inquiry, mayWrite } = useHere()
  const room = useRef<HTMLDivElement>(null)
  const { reader, trouble, late, locked, again } = useReader(inquiry.id, copy.id, room)
  usePageClock({ inquiry: inquiry.id, copy: copy.id }, reader, inquiry.timed && mayWrite)
  const [search, setSearch] = useSearchParams()
  const reference = Number(search.get('reference') ?? 0)
  const [tab, setTab] = useState<Tab>(reference ? 'references' : copy.outcome === 'doubtful' ? 'copy' : 'passages')
  const [picked, setPicked] = useState<readonly number[]>(reference ? [reference] : NONE)
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
  const onPress = (e: { clientX: number; clientY: number }) => {
    const cited = reader && window.getSelection()?.isCollapsed ? entriesAt(reader, places, e) : NONE
    if (!cited.length) return
    setLooked(undefined)
    setPicked(cited)
    show('references')
  }
  const parts = useOf(inquiry.id, api.copyParts, { params: { copy: copy.id } }).data
  const places = usePlaces(parts)
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
              headings={parts?.headings ?? []}
              box={mayWrite ? { on: boxing, turn: () => setBoxing(!boxing) } : undefined}
            />
          )}
          <Above copy={copy} show={() => show('copy')} isShown={tab === 'copy'} />
          {words && <Found words={words} drop={() => setSearch(p => (p.delete('words'), p), { replace: true })} />}
          {locked && <Unlock wrong={locked.wrong} open={locked.open} />}
          {trouble && <Failed error={new Error(trouble)} again={again} />}
          {late && <Late again={again} />}
          {reader && (
            <LatePage
              reader={reader}
              again={page => {
                setSearch(p => (p.set('page', String(page)), p), { replace: true })
                again()
              }}
            />
          )}
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
                onClick={onPress}
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
        {reader && <Over {...{ reader, query, places }} picked={tab === 'references' ? picked : NONE} marks={seen} />}
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
                picked={picked}
                pick={setPicked}
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

const NONE: readonly number[] = []

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

function Bar({
  reader,
  ...rest
}: Omit<Parameters<typeof Toolbar>[0], 'view' | 'hits' | 'reader'> & { reader: Reader }) {
  const view = useSyncExternalStore(reader.subscribe, reader.view)
  const hits = useSyncExternalStore(reader.subscribe, reader.hits)
  return <Toolbar {...{ reader, view, hits, ...rest }} />
}

function Over({
  reader,
  ...rest
}: {
  reader: Reader
  marks: readonly Mark[]
  query: QueryNode | undefined
  places: readonly Place[]
  picked: readonly number[]
}) {
  const drawn = useSyncExternalStore(reader.subscribe, reader.drawn)
  return <OverPages {...{ reader, drawn, ...rest }} />
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

/** That a page, or all of them, has not come for a while, and fetching the file again. */
function Late({ page, again }: { page?: number; again: () => void }) {
  return (
    <Box px="12px" py="8px">
      <Notice
        voice="amber"
        action={
          <Button size="xs" variant="outline" flex="none" onClick={again}>
            Fetch it again
          </Button>
        }
      >
        {page === undefined ? 'The file' : `Page ${page}`} has not come yet: the server or the network is slow, or gone.
        What you noted is kept.
      </Notice>
    </Box>
  )
}

function LatePage({ reader, again }: { reader: Reader; again: (page: number) => void }) {
  const page = useSyncExternalStore(reader.subscribe, () => reader.view().late)
  return page === undefined ? null : <Late page={page} again={() => again(page)} />
}
