import { Box, Button, chakra, Flex, IconButton, Input, Menu, Portal, Text } from '@chakra-ui/react'
import { ChevronDown, ChevronUp, Minus, PanelLeft, Plus, SquareDashed } from 'lucide-react'
import { useRef, useState } from 'react'
import { useHere } from '../../frame/inquiry-frame'
import type { Copy, CopyInParts } from '../../../core/schema/api'
import { useKeys } from '../../frame/keys'
import { Contents } from './contents'
import type { Hits, Reader, View } from './viewer'

/** What of the pages is steered from here. */
export type Pages = Pick<
  Reader,
  'go' | 'zoom' | 'fit' | 'turn' | 'twoPages' | 'find' | 'findNothing' | 'room' | 'bookmarks'
>

/** Above the pages: where one is, how large they are, and words to look for. */
export function Toolbar({
  copy,
  reader,
  view,
  hits,
  headings,
  hasStrip,
  showStrip,
  box,
}: {
  copy: Copy
  reader: Pages
  view: View
  hits: Hits | undefined
  /** As they were found in the text. */
  headings: CopyInParts['headings']
  hasStrip: boolean
  showStrip: (on: boolean) => void
  /** Drawing a box around a figure: whether it is on, and what turns it; none where nothing may be noted. */
  box: { on: boolean; turn: () => void } | undefined
}) {
  useKeys({
    larger: () => reader.zoom(1),
    smaller: () => reader.zoom(-1),
    fit: () => reader.fit('page-width'),
  })
  return (
    <Flex
      role="toolbar"
      aria-label="Pages"
      align="center"
      gap="8px"
      px="12px"
      h="40px"
      flex="none"
      fontSize="13px"
      borderBottom="1px solid"
      borderColor="hair"
      overflowX="auto"
      overflowY="hidden"
    >
      <IconButton
        size="2xs"
        variant="ghost"
        aria-label="Outline beside the pages"
        title="Outline beside the pages"
        aria-pressed={hasStrip}
        display={{ base: 'none', lg: 'inline-flex' }}
        color={hasStrip ? 'vine' : 'soft'}
        onClick={() => showStrip(!hasStrip)}
      >
        <PanelLeft />
      </IconButton>
      <Contents reader={reader} labels={copy.labels} headings={headings} />
      <PageBox key={view.page} copy={copy} page={view.page} go={p => reader.go(p)} />
      <Rule />
      <IconButton size="2xs" variant="ghost" aria-label="Smaller" onClick={() => reader.zoom(-1)}>
        <Minus />
      </IconButton>
      <Text minW="38px" textAlign="center" aria-live="polite" aria-label="Size">
        {Math.round(view.scale * 100)}%
      </Text>
      <IconButton size="2xs" variant="ghost" aria-label="Larger" onClick={() => reader.zoom(1)}>
        <Plus />
      </IconButton>
      <ViewMenu copy={copy.id} reader={reader} view={view} />
      {box && (
        <Button
          size="2xs"
          variant="ghost"
          aria-pressed={box.on}
          color={box.on ? 'vine' : undefined}
          bg={box.on ? 'vine.soft' : undefined}
          title="Draw a box around a figure or a table"
          onClick={box.turn}
          display={{ base: 'none', md: 'inline-flex' }}
        >
          <SquareDashed /> Figure
        </Button>
      )}
      <Rule />
      <FindBox reader={reader} hits={hits} />
    </Flex>
  )
}

const Rule = () => <Box w="1px" h="20px" bg="hair" flex="none" />

/** The page one is on by its printed name, to go to another. */
function PageBox({ copy, page, go }: { copy: Copy; page: number; go: (page: number) => void }) {
  const { labels } = copy
  const called = labels[page - 1] ?? String(page)
  const [text, setText] = useState(called)
  const [isUnknown, setUnknown] = useState(false)
  const wanted = (): number => {
    const t = text.trim().toLowerCase()
    const byLabel = labels.findIndex(l => l.toLowerCase() === t)
    return byLabel >= 0 ? byLabel + 1 : Number(t)
  }
  return (
    <chakra.form
      display="flex"
      alignItems="center"
      gap="6px"
      flex="none"
      onSubmit={e => {
        e.preventDefault()
        const p = wanted()
        const isThere = Number.isInteger(p) && p >= 1 && p <= copy.pages
        setUnknown(!isThere)
        if (isThere) go(p)
      }}
    >
      <chakra.label htmlFor="page-box" color="soft">
        page
      </chakra.label>
      <Input
        id="page-box"
        size="2xs"
        w="52px"
        textAlign="center"
        value={text}
        aria-invalid={isUnknown}
        title={isUnknown ? `There is no page ${text}.` : `Page ${page} of ${copy.pages} of the file`}
        onChange={e => setText(e.target.value)}
        onFocus={e => e.target.select()}
        onBlur={() => {
          setText(called)
          setUnknown(false)
        }}
      />
      <Text color={isUnknown ? 'rust' : 'soft'} whiteSpace="nowrap" role={isUnknown ? 'alert' : undefined}>
        {isUnknown ? `no page ${text}` : labels.length > 1 ? `of ${labels[0]}–${labels.at(-1)}` : 'the only one'}
      </Text>
    </chakra.form>
  )
}

function ViewMenu({ copy, reader, view }: { copy: number; reader: Pages; view: View }) {
  const { inquiry } = useHere()
  return (
    <Menu.Root positioning={{ placement: 'bottom-start' }}>
      <Menu.Trigger asChild>
        <Button size="2xs" variant="ghost" flex="none">
          {view.fit === 'page-width' ? 'Full width' : view.fit === 'page-fit' ? 'Whole page' : 'Size'} <ChevronDown />
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content minW="200px">
            <Menu.Item value="width" onClick={() => reader.fit('page-width')}>
              Full width
            </Menu.Item>
            <Menu.Item value="whole" onClick={() => reader.fit('page-fit')}>
              Whole page
            </Menu.Item>
            <Menu.Separator />
            <Menu.CheckboxItem
              value="two"
              checked={view.twoPages}
              onCheckedChange={(on: boolean) => reader.twoPages(on)}
            >
              <Menu.ItemIndicator /> Two pages side by side
            </Menu.CheckboxItem>
            <Menu.Item value="turn" onClick={() => reader.turn()}>
              Turn to the right
            </Menu.Item>
            <Menu.Separator />
            <Menu.Item value="file" asChild>
              <a href={`/api/inquiries/${inquiry.id}/copies/${copy}/file`} target="_blank" rel="noreferrer">
                The file by itself, to print
              </a>
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

/** Looks for words in the text: each hit in turn, and how many there are. */
function FindBox({ reader, hits }: { reader: Pages; hits: Hits | undefined }) {
  const field = useRef<HTMLInputElement>(null)
  const [text, setText] = useState('')
  useKeys({ find: () => field.current?.focus() })
  const step = (how: 'next' | 'previous') => reader.find(text, hits?.words === text ? how : 'new')
  const has = Boolean(hits?.total)
  return (
    <chakra.form
      role="search"
      display="flex"
      alignItems="center"
      gap="4px"
      flex="none"
      onSubmit={e => {
        e.preventDefault()
        step('next')
      }}
    >
      <chakra.label htmlFor="find-box" color="soft">
        find
      </chakra.label>
      <Input
        ref={field}
        id="find-box"
        type="search"
        size="2xs"
        w="128px"
        ml="2px"
        value={text}
        placeholder="in this copy"
        onChange={e => {
          setText(e.target.value)
          reader.find(e.target.value)
        }}
        onKeyDown={e => {
          if (e.key === 'Enter' && e.shiftKey) {
            e.preventDefault()
            step('previous')
          }
          if (e.key !== 'Escape') return
          setText('')
          reader.findNothing()
          reader.room.focus()
        }}
      />
      {hits && (
        <>
          <Text whiteSpace="nowrap" role="status" color={has || hits.isLooking ? undefined : 'rust'}>
            {has ? (
              <>
                <b>{hits.current || '–'}</b> of {hits.total.toLocaleString('en')}
              </>
            ) : hits.isLooking ? (
              'looking'
            ) : (
              'not in it'
            )}
          </Text>
          <IconButton
            size="2xs"
            variant="ghost"
            aria-label="Hit before"
            disabled={!has}
            onClick={() => step('previous')}
          >
            <ChevronUp />
          </IconButton>
          <IconButton size="2xs" variant="ghost" aria-label="Next hit" disabled={!has} onClick={() => step('next')}>
            <ChevronDown />
          </IconButton>
        </>
      )}
    </chakra.form>
  )
}
