import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import * as pdfjs from 'pdfjs-dist'
import workerUrl from 'pdfjs-dist/build/pdf.worker.min.mjs?url'
import 'pdfjs-dist/web/pdf_viewer.css'
import { useEffect, useMemo, useRef, useState } from 'react'
import { Link, useParams, useSearchParams } from 'react-router'
import { parseCql } from '../../../core/query/parse-cql'
import { lineIn } from '../../../core/sift/line'
import { useOf, useWorks } from '../../api/hooks'
import { api } from '../../../core/schema/api'
import { useDecide } from '../../frame/decide'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { useKeyMap, keyName, useKeys } from '../../frame/keys'
import { Failed, Kbd, Notice, tell, Waiting } from '../../frame/parts'
import { Reasons } from '../../frame/reasons'
import { CopyPanel } from './copy-panel'
import { Page } from './page'
import { chosenNow, usePassagesUnderWay, type Chosen } from './passages'
import { Unlock } from '../../frame/password-dialog'
import { ScanNotice } from './scan'
import { Shelf } from './shelf'

pdfjs.GlobalWorkerOptions.workerSrc = workerUrl

export function Read() {
  const { copy } = useParams()
  return copy ? <ReadCopy key={copy} id={Number(copy)} /> : <Shelf />
}

/** The third pass of Sift: kept or set aside by the text itself. */
function ByText({ work }: { work: number }) {
  const { inquiry } = useHere()
  const { decide, undo } = useDecide(inquiry.id)
  const [asking, setAsking] = useState(false)
  const map = useKeyMap()
  const line = lineIn(useWorks(inquiry.id).data ?? [], work)
  const choose = (choice: 'keep' | 'set aside', reason?: string) => {
    decide([work], choice, 'full text', reason)
    setAsking(false)
    tell(choice === 'keep' ? 'Kept by its text.' : 'Set aside by its text.', { label: 'Undo', onClick: () => undo() })
  }
  useKeys({ keep: () => choose('keep'), aside: () => setAsking(true), undo: () => undo() }, !asking)
  if (!line) return null
  const decided = line.pass === 'full text'
  return (
    <Flex role="group" aria-label="Decide by its text" gap="6px" align="baseline" flex="none">
      <Button
        size="2xs"
        variant={decided && line.state === 'kept' ? 'solid' : 'outline'}
        colorPalette="vine"
        bg={decided && line.state === 'kept' ? undefined : 'surface'}
        aria-pressed={decided && line.state === 'kept'}
        onClick={() => choose('keep')}
      >
        Keep <Kbd>{keyName(map.keep)}</Kbd>
      </Button>
      <Button
        size="2xs"
        variant={decided && line.state === 'set aside' ? 'solid' : 'outline'}
        bg={decided && line.state === 'set aside' ? undefined : 'surface'}
        aria-pressed={decided && line.state === 'set aside'}
        title={decided && line.reason ? line.reason : undefined}
        onClick={() => setAsking(true)}
      >
        Set aside <Kbd>{keyName(map.aside)}</Kbd>
      </Button>
      {asking && (
        <Box position="absolute" bottom="0" left="0" right="0" zIndex="3">
          <Reasons choose={r => choose('set aside', r)} cancel={() => setAsking(false)} />
        </Box>
      )}
    </Flex>
  )
}

function ReadCopy({ id }: { id: number }) {
  const { inquiry, mayWrite } = useHere()
  const open = useOpenWork()
  const copy = useOf(inquiry.id, api.copy, { params: { copy: id } })
  const elsewhere = useOf(inquiry.id, api.passagesElsewhere, { params: { copy: id } }).data ?? []
  const [doc, setDoc] = useState<pdfjs.PDFDocumentProxy>()
  const [first, setFirst] = useState({ width: 595, height: 842 })
  const [trouble, setTrouble] = useState<string>()
  const [chosen, setChosen] = useState<Chosen>()
  const [panel, setPanel] = useState<boolean>()
  /** The file asks for its password: what to do with it, and whether one was wrong. */
  const [locked, setLocked] = useState<{ open: (password: string) => void; wrong: boolean }>()
  const [search, setSearch] = useSearchParams()
  const pages = useRef<HTMLDivElement>(null)
  const underWay = usePassagesUnderWay(id)
  useEffect(() => {
    const task = pdfjs.getDocument({
      url: `/api/inquiries/${inquiry.id}/copies/${id}/file`,
      isEvalSupported: false,
      // for files that name a font or a way of writing without carrying it; a browser's own fonts differ in width
      useSystemFonts: false,
      standardFontDataUrl: '/pdf/standard_fonts/',
      cMapUrl: '/pdf/cmaps/',
      wasmUrl: '/pdf/wasm/',
    })
    task.onPassword = (open: (password: string) => void, reason: number) =>
      setLocked({ open, wrong: reason === pdfjs.PasswordResponses.INCORRECT_PASSWORD })
    task.promise.then(
      async d => {
        // pages not drawn yet are taken to be as large as the first: one that is gone to stays where it is
        const { width, height } = (await d.getPage(1)).getViewport({ scale: 1 })
        setLocked(undefined)
        setFirst({ width, height })
        setDoc(d)
      },
      (e: Error) => !task.destroyed && setTrouble(e.message),
    )
    return () => void task.destroy()
  }, [inquiry.id, id])
  const go = (page: number) => pages.current?.querySelector(`[data-page="${page}"]`)?.scrollIntoView({ block: 'start' })
  const goFromPanel = (page: number) => {
    // on a phone the panel lies over the pages
    if (window.innerWidth < 768) setPanel(false)
    go(page)
  }
  const asked = Number(search.get('page') ?? 0)
  const words = search.get('words') ?? ''
  const found = useMemo(() => {
    const p = words ? parseCql(words) : undefined
    return p?.ok ? p.query.root : undefined
  }, [words])
  useEffect(() => {
    if (doc && asked > 1) go(asked)
  }, [doc, asked])
  const map = useKeyMap()
  // a doubtful copy opens with what is to be decided, and stays so once it is
  const outcome = copy.data?.outcome
  if (outcome && panel === undefined) setPanel(outcome === 'doubtful')
  const isOpen = panel === true
  useKeys({ parts: () => setPanel(!isOpen) })
  if (copy.isPending) return <Waiting what="Opening the copy" />
  if (copy.isError) return <Failed error={copy.error} again={() => void copy.refetch()} />
  const c = copy.data
  const passages = [...c.passages, ...underWay.filter(p => !c.passages.some(q => q.ownId === p.ownId))]
  const onSelect = () => {
    const now = chosenNow()
    if (!now) return
    // what is noted of it stands where the panel is
    setPanel(false)
    setChosen(now)
  }
  return (
    <Flex h="full" position="relative">
      <Box
        ref={pages}
        flex="1"
        minW="0"
        overflow="auto"
        bg="hair2"
        px={{ base: '4px', md: '24px' }}
        py="16px"
        onMouseUp={onSelect}
        onKeyUp={onSelect}
        data-testid="pages"
      >
        <Flex maxW="1180px" mx="auto" mb="10px" align="baseline" gap="12px" wrap={{ base: 'wrap', md: 'nowrap' }}>
          <chakra.h1
            fontFamily="serif"
            fontWeight="600"
            fontSize="15px"
            lineHeight="20px"
            flex="1"
            minW="0"
            truncate
            title={c.title}
          >
            {c.title}
          </chakra.h1>
          <Text fontSize="13px" color="soft" whiteSpace="nowrap" display={isOpen ? 'none' : undefined}>
            {c.version} · {c.labels.length === 1 ? `page ${c.labels[0]!}` : `pages ${c.labels[0]!}–${c.labels.at(-1)!}`}
          </Text>
          <Button size="2xs" variant="outline" bg="surface" aria-expanded={isOpen} onClick={() => setPanel(!isOpen)}>
            Headings, references <Kbd>{keyName(map.parts)}</Kbd>
          </Button>
          <Button size="2xs" variant="outline" bg="surface" onClick={() => open(c.work)}>
            Work sheet
          </Button>
          {mayWrite && <ByText work={c.work} />}
        </Flex>
        {found && (
          <Flex mb="10px" maxW="1180px" mx="auto" gap="10px" align="baseline" fontSize="13px" color="soft">
            <Text minW="0" truncate title={words}>
              Marked on its pages: {words}
            </Text>
            <Button size="2xs" variant="outline" bg="surface" asChild flex="none">
              <Link to={`/inquiries/${inquiry.id}/read?${new URLSearchParams({ words }).toString()}`}>
                All that was found
              </Link>
            </Button>
            <Button
              size="2xs"
              variant="ghost"
              flex="none"
              onClick={() => setSearch(p => (p.delete('words'), p), { replace: true })}
            >
              No marks
            </Button>
          </Flex>
        )}
        {c.scanned !== null && <ScanNotice copy={{ ...c, scanned: c.scanned }} />}
        {c.outcome !== 'proved' && (
          <Box mb="10px" maxW="1180px" mx="auto">
            <Notice
              voice="amber"
              action={
                !isOpen && (
                  <Button size="xs" variant="outline" flex="none" onClick={() => setPanel(true)}>
                    {mayWrite ? 'Decide' : 'See why'}
                  </Button>
                )
              }
            >
              {c.outcome === 'doubtful'
                ? 'Whether this copy is the work is doubtful: it does not count as in hand yet.'
                : 'By your word this copy is not the work.'}
            </Notice>
          </Box>
        )}
        {locked && <Unlock wrong={locked.wrong} open={locked.open} />}
        {trouble && <Failed error={new Error(trouble)} />}
        {!doc && !trouble && !locked && <Waiting what="Drawing the pages" />}
        {doc &&
          Array.from({ length: doc.numPages }, (_, i) => (
            <Page
              key={i}
              doc={doc}
              number={i + 1}
              label={c.labels[i] ?? String(i + 1)}
              passages={passages.filter(p => p.page === i + 1)}
              elsewhere={elsewhere.filter(
                e => (e.here?.page ?? 1) === i + 1 && !passages.some(p => p.quote && p.quote === e.here?.exact),
              )}
              draft={chosen?.page === i + 1 ? chosen : undefined}
              clear={() => setChosen(undefined)}
              copy={c}
              mayWrite={mayWrite}
              alone={isOpen}
              usual={first}
              found={found}
            />
          ))}
      </Box>
      {isOpen && <CopyPanel copy={c} go={goFromPanel} close={() => setPanel(false)} />}
    </Flex>
  )
}
