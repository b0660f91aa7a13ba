import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { ArrowLeft } from 'lucide-react'
import { useRef, useState } from 'react'
import { Link } from 'react-router'
import { DOCUMENTS, formatOf, type DocumentFormat } from '../../../../core/paper/formats'
import type { Layout } from '../../../../core/paper/layout'
import { api, type Bibliography } from '../../../../core/schema/api'
import { placeOf, request } from '../../../api/client'
import { useChange, useOf } from '../../../api/hooks'
import { copyRich } from '../../../frame/clipboard'
import { useHere } from '../../../frame/inquiry-frame'
import { LetterDialog } from '../../../frame/letter-dialog'
import { Empty, Failed, tell, tellError, Waiting } from '../../../frame/parts'
import { useOutbox } from '../../../outbox/use-outbox'
import { ORDER_NAMES } from '../order-names'
import { Checked, Citations, Methods, Names, Pages, Words } from './choices'
import { saveFile } from '../../../frame/save-file'
import { followFile } from './give'
import { Versions } from './versions'

/** The bibliography as it will be handed in, beside what can be chosen of it, and what was handed in before. */
export function HandIn() {
  const { inquiry } = useHere()
  const list = useOf(inquiry.id, api.bibliography)
  if (list.isPending) return <Waiting what="Setting the bibliography" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const back = (
    <Button asChild size="xs" variant="ghost" ml="-10px">
      <Link to={`/inquiries/${inquiry.id}/compose`}>
        <ArrowLeft size={14} /> The entries
      </Link>
    </Button>
  )
  if (!list.data.entries.length)
    return (
      <Empty title="Nothing to hand in yet" action={back}>
        Put kept works into the bibliography first; what is handed in is made of its entries.
      </Empty>
    )
  return (
    <Flex className="hand-in">
      <Preview />
      <Box className="hand-in-side">
        {back}
        <chakra.h1 className="hand-in-head">Hand in</chakra.h1>
        <Standing list={list.data} />
        <Take layout={list.data.layout} />
        <Words list={list.data} />
        <Pages layout={list.data.layout} />
        <Citations />
        <Methods />
        <Checked />
        <Versions />
      </Box>
    </Flex>
  )
}

/** The page as it stands; it runs no script. */
function Preview() {
  const { inquiry } = useHere()
  const frame = useRef<HTMLIFrameElement>(null)
  const place = placeOf(api.preview, { inquiry: inquiry.id }, { format: 'html' })
  const page = useQuery({
    queryKey: ['inquiry', inquiry.id, place],
    queryFn: ({ signal }) => request<string>('GET', place, { signal }),
  })
  const copy = async () => {
    try {
      const text = await request<string>('GET', placeOf(api.preview, { inquiry: inquiry.id }, { format: 'text' }))
      await copyRich(page.data!, text, 'The bibliography is copied, with its looks.')
    } catch (e) {
      tellError(e)
    }
  }
  if (page.isError) return <Failed error={page.error} again={() => void page.refetch()} />
  return (
    <Box className="hand-in-page">
      {page.isPending ? (
        <Waiting what="Setting the page" />
      ) : (
        <>
          <iframe
            ref={frame}
            title="The bibliography as it will be handed in"
            srcDoc={page.data}
            sandbox="allow-same-origin allow-modals allow-popups"
          />
          <Flex gap="8px" className="hand-in-tools">
            <Button size="xs" variant="outline" onClick={() => frame.current?.contentWindow?.print()}>
              Print
            </Button>
            <Button size="xs" variant="outline" onClick={() => void copy()}>
              Copy with its looks
            </Button>
          </Flex>
        </>
      )}
    </Box>
  )
}

/** What is open yet: rules that do not hold, findings, entries without an annotation. */
function Standing({ list }: { list: Bibliography }) {
  const { inquiry } = useHere()
  const checks = useOf(inquiry.id, api.entryChecks, { query: {} })
  const findings = checks.data?.entries.reduce((n, e) => n + e.findings.filter(f => !f.isRight).length, 0)
  const bare = list.entries.filter(e => !e.words).length
  const short = list.rules.filter(r => r.verdict !== 'holds').length
  const open = [
    ...(short ? [`${short} of ${list.rules.length} rules of the brief ${short === 1 ? 'does' : 'do'} not hold`] : []),
    ...(bare ? [`${bare} ${bare === 1 ? 'entry has' : 'entries have'} no annotation`] : []),
    ...(findings ? [`${findings} ${findings === 1 ? 'finding' : 'findings'} about citations`] : []),
  ]
  const words = list.entries.reduce((n, e) => n + e.words, 0)
  return (
    <Box className="hand-in-part">
      <Text>
        {list.entries.length} {list.entries.length === 1 ? 'entry' : 'entries'}, {words.toLocaleString('en')} words of
        annotation; {list.styleName}, {ORDER_NAMES[list.layout.order]}
      </Text>
      {checks.isPending ? (
        <Text color="soft">Checking the entries …</Text>
      ) : open.length ? (
        <Text color="amber">
          Open yet: {open.join('; ')}.{' '}
          <Link className="plain-link" to={`/inquiries/${inquiry.id}/compose`}>
            Look at them
          </Link>
        </Text>
      ) : (
        <Text color="vine">Nothing is open: every rule holds, every entry is checked.</Text>
      )}
    </Box>
  )
}

/** The formats, and the key that hands in. */
function Take({ layout }: { layout: Layout }) {
  const { inquiry, mayWrite } = useHere()
  const [format, setFormat] = useState<DocumentFormat>('pdf')
  const [making, setMaking] = useState<AbortController>()
  const [isMailing, setMailing] = useState(false)
  const outbox = useOutbox()
  const keep = useChange(inquiry.id, api.handIn, (as: DocumentFormat) => ({ body: { format: as } }))
  const chosen = formatOf(format)
  const go = async () => {
    const stop = new AbortController()
    setMaking(stop)
    let isKept = false
    try {
      // what was written a moment ago is handed in, too
      if (mayWrite && !(await outbox.emptied(inquiry.id, stop.signal))) {
        if (stop.signal.aborted) return
        throw new Error(
          'Some of what you wrote is not on the server yet. It is kept here: hand in once it has arrived.',
        )
      }
      const place = mayWrite
        ? placeOf(
            api.versionFile,
            { inquiry: inquiry.id, version: (await keep.mutateAsync(format)).version },
            { format },
          )
        : placeOf(api.preview, { inquiry: inquiry.id }, { format })
      isKept = mayWrite
      if (format === 'bundle') followFile(place)
      else await saveFile(place, stop.signal)
      tell(mayWrite ? 'Handed in: this version is kept below.' : 'Saved.')
    } catch (e) {
      const said = e instanceof Error ? e.message : String(e)
      if (!stop.signal.aborted) tellError(new Error(isKept ? `${said} The version is kept below all the same.` : said))
    } finally {
      setMaking(undefined)
    }
  }
  return (
    <Box className="hand-in-part">
      <chakra.fieldset>
        <chakra.legend className="hand-in-title">As a file</chakra.legend>
        <Box className="formats">
          {DOCUMENTS.map(f => (
            <label key={f.key} data-chosen={format === f.key || undefined}>
              <input
                type="radio"
                name="format"
                value={f.key}
                checked={format === f.key}
                onChange={() => setFormat(f.key)}
              />
              {f.name}
            </label>
          ))}
        </Box>
      </chakra.fieldset>
      <Text className="hand-in-note" aria-live="polite">
        {format === 'bundle'
          ? 'The document as PDF, .docx and Markdown, its citations, the copies in hand, the methods of the search, checksums.'
          : chosen.loses
            ? `It cannot carry: ${chosen.loses[0]!.toLowerCase()}${chosen.loses.slice(1)}`
            : 'It carries all that the page shows.'}
      </Text>
      {format === 'bundle' && <Names names={layout.names} />}
      <Flex gap="8px" align="center" mt="8px">
        <Button
          colorPalette="vine"
          size="sm"
          loading={Boolean(making)}
          loadingText={`Making the ${word(format)} …`}
          onClick={() => void go()}
        >
          {mayWrite ? 'Hand in' : 'Save'} as {word(format)}
        </Button>
        {making ? (
          <Button size="sm" variant="ghost" onClick={() => making.abort()}>
            Cancel
          </Button>
        ) : (
          <Button size="sm" variant="outline" bg="surface" onClick={() => setMailing(true)}>
            Mail it …
          </Button>
        )}
        {isMailing && <LetterDialog close={() => setMailing(false)} />}
      </Flex>
    </Box>
  )
}

const word = (format: DocumentFormat): string =>
  ({
    pdf: 'PDF',
    docx: '.docx',
    html: 'web page',
    latex: 'LaTeX',
    markdown: 'Markdown',
    text: 'plain text',
    bundle: 'one .zip',
  })[format]
