import { Box, Button, chakra, Flex, Input, Menu, NativeSelect, Portal, Text } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useState, type ReactNode } from 'react'
import { Link, useSearchParams } from 'react-router'
import { fold } from '../../../core/bib/fold'
import { api, type Answer } from '../../../core/schema/api'
import { citable, onPages } from '../../../core/write/passages'
import { useOf } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { copyText } from '../../frame/clipboard'
import { Empty, Failed, Waiting } from '../../frame/parts'
import { Swatch, useStrands, type StrandLook } from '../../frame/strands'
import { BringAnnotations } from './bring-annotations'
import { Chip } from './chip'
import { PassageCard } from './passages'

type Told = Answer<'passages'>['passages'][number]
/** On no strand. */
const NONE = 0
type Grouping = 'work' | 'strand'

/** All that was noted in an inquiry, by work and page or by strand, each as it is cited. */
export function AllPassages() {
  const { inquiry, mayWrite } = useHere()
  const all = useOf(inquiry.id, api.passages)
  if (all.isPending) return <Waiting what="Gathering your passages" />
  if (all.isError) return <Failed error={all.error} again={() => void all.refetch()} />
  if (!all.data.passages.length)
    return (
      <Empty title="Nothing noted yet" action={mayWrite && <BringAnnotations>Bring annotations …</BringAnnotations>}>
        Open a copy and select words on its pages: they are kept here with their page, quoted or in your own words, and
        with the citation that goes with them. Marks that were made in a PDF elsewhere are offered where its copy is
        read{mayWrite ? '; a file of web annotations (JSON-LD) is brought here.' : '.'}
      </Empty>
    )
  return <List passages={all.data.passages} />
}

function List({ passages }: { passages: readonly Told[] }) {
  const { inquiry, mayWrite } = useHere()
  const strands = useStrands(inquiry.id)
  const [search, setSearch] = useSearchParams()
  const work = Number(search.get('of') ?? 0)
  const [strand, setStrand] = useState<number>()
  const [asked, setAsked] = useState('')
  const [words, setWords] = useState('')
  const [grouping, setGrouping] = useState<Grouping>('work')
  const [opened, setOpened] = useState<number>()
  const wanted = fold(words).split(/\s+/).filter(Boolean)
  const ofWork = work ? passages.filter(p => p.workId === work) : passages
  const tags = countsOf(ofWork.flatMap(p => p.tags))
  // one that was taken off the last of its passages limits nothing
  const tag = tags.some(([name]) => name === asked) ? asked : ''
  const shown = ofWork.filter(p => {
    if (strand !== undefined && (p.strandId ?? NONE) !== strand) return false
    if (tag && !p.tags.includes(tag)) return false
    const text = fold([p.quote, p.note, p.title, p.authors, ...p.tags].join(' '))
    return wanted.every(w => text.includes(w))
  })
  const count = (id: number) => ofWork.filter(p => (p.strandId ?? NONE) === id).length
  return (
    <Box>
      <Flex gap="6px" align="center" wrap="wrap" mb="12px">
        {strands.some(s => count(s.id)) && (
          <>
            <Chip on={strand === undefined} onClick={() => setStrand(undefined)}>
              all {ofWork.length}
            </Chip>
            {strands
              .filter(s => count(s.id))
              .map(s => (
                <Chip key={s.id} on={strand === s.id} onClick={() => setStrand(strand === s.id ? undefined : s.id)}>
                  <Swatch n={s.n} /> {s.name} {count(s.id)}
                </Chip>
              ))}
            {count(NONE) > 0 && (
              <Chip on={strand === NONE} onClick={() => setStrand(strand === NONE ? undefined : NONE)}>
                on none {count(NONE)}
              </Chip>
            )}
          </>
        )}
        <Input
          size="xs"
          type="search"
          w={{ base: 'full', md: '190px' }}
          ml={{ md: 'auto' }}
          bg="surface"
          aria-label="Words in passages"
          placeholder="Words in passages"
          value={words}
          onChange={e => setWords(e.target.value)}
        />
        {tags.length > 0 && (
          <NativeSelect.Root size="xs" w="150px">
            <NativeSelect.Field
              aria-label="Tag of passages"
              bg="surface"
              value={tag}
              onChange={e => setAsked(e.target.value)}
            >
              <option value="">any tag or none</option>
              {tags.map(([name, n]) => (
                <option key={name} value={name}>
                  {name} {n}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
        )}
        <NativeSelect.Root size="xs" w="150px">
          <NativeSelect.Field
            aria-label="Order of passages"
            bg="surface"
            value={grouping}
            onChange={e => setGrouping(e.target.value as Grouping)}
          >
            <option value="work">by work and page</option>
            <option value="strand">by strand</option>
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
        {mayWrite && <BringAnnotations>Bring in …</BringAnnotations>}
        <TakeOut passages={shown} />
      </Flex>
      {work > 0 && (
        <Flex mb="10px" gap="10px" align="baseline" fontSize="13.5px" color="soft">
          <Text minW="0" truncate>
            Of “{ofWork[0]?.title ?? 'a work without passages'}” alone
          </Text>
          <Button
            size="2xs"
            variant="outline"
            bg="surface"
            flex="none"
            onClick={() => setSearch(p => (p.delete('of'), p), { replace: true })}
          >
            Of all works
          </Button>
        </Flex>
      )}
      {shown.length === 0 && (
        <Text py="20px" color="soft">
          None of {ofWork.length} {ofWork.length === 1 ? 'passage' : 'passages'} fits. Other words, or another strand or
          tag, show more.
        </Text>
      )}
      {groupsOf(shown, grouping, strands).map(g => (
        <Box as="section" key={g.key} aria-label={g.name} mb="18px" className="passages-of">
          {g.head}
          {g.passages.map(p => (
            <Box key={p.id} borderTop="1px solid" borderColor="hair" position="relative">
              <PassageCard
                passage={p}
                cited={p.cited}
                mayWrite={mayWrite}
                isOpen={opened === p.id}
                hasStrand={grouping === 'work'}
                open={now => setOpened(now ? p.id : undefined)}
                place={
                  <b className="passage-place">
                    {onPages(p.label)}
                    {grouping === 'strand' && `, ${p.authors || p.title} ${p.year ?? ''}`}
                  </b>
                }
              />
              <Box position="absolute" top="8px" right="0" fontSize="12.5px" lineHeight="18px">
                <Link
                  className="plain-link"
                  to={`/inquiries/${inquiry.id}/read/${p.copyId}?page=${p.page}&passage=${p.id}`}
                >
                  On its page
                </Link>
              </Box>
            </Box>
          ))}
        </Box>
      ))}
    </Box>
  )
}

/** Each once with how often it is, by name. */
function countsOf(names: readonly string[]): [name: string, n: number][] {
  const by = new Map<string, number>()
  for (const name of names) by.set(name, (by.get(name) ?? 0) + 1)
  return [...by].sort(([a], [b]) => a.localeCompare(b))
}

interface Group {
  key: number
  name: string
  head: ReactNode
  passages: Told[]
}

function groupsOf(passages: readonly Told[], by: Grouping, strands: readonly StrandLook[]): Group[] {
  const groups = new Map<number, Told[]>()
  for (const p of passages) {
    const key = by === 'work' ? p.workId : (p.strandId ?? NONE)
    groups.set(key, [...(groups.get(key) ?? []), p])
  }
  if (by === 'work')
    return [...groups].map(([key, list]) => {
      const { title, authors, year } = list[0]!
      return {
        key,
        name: title,
        passages: list,
        head: <Head title={title} aside={[authors, year].filter(Boolean).join(' · ')} />,
      }
    })
  const order = [...strands.map(s => s.id), NONE]
  return [...groups]
    .sort(([a], [b]) => order.indexOf(a) - order.indexOf(b))
    .map(([key, list]) => {
      const s = strands.find(x => x.id === key)
      const name = s?.name ?? 'On no strand'
      return {
        key,
        name,
        passages: list,
        head: <Head title={name} before={s && <Swatch n={s.n} />} aside={String(list.length)} />,
      }
    })
}

function Head({ title, aside, before }: { title: string; aside: string; before?: ReactNode }) {
  return (
    <Flex gap="8px" align="baseline" mb="4px">
      {before}
      <chakra.h2 fontFamily="serif" fontWeight="600" fontSize="16px" lineHeight="22px">
        {title}
      </chakra.h2>
      <Text fontSize="13px" color="soft" flex="none">
        {aside}
      </Text>
    </Flex>
  )
}

/** What is shown as a text to paste, or all as a file. */
function TakeOut({ passages }: { passages: readonly Told[] }) {
  const { inquiry } = useHere()
  const file = (format: string) => `/api/inquiries/${inquiry.id}/passages/file?format=${format}`
  const copy = () =>
    copyText(
      passages.map(p => citable(p)).join('\n\n'),
      `Copied: ${passages.length} ${passages.length === 1 ? 'passage' : 'passages'} with their citations.`,
    )
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <Button size="xs" variant="outline" bg="surface">
          As text, as file <ChevronDown size={14} />
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content minW="240px">
            <Menu.Item value="copy" disabled={!passages.length} onClick={() => void copy()}>
              Copy those shown, with citations
            </Menu.Item>
            <Menu.Item value="markdown" asChild>
              <a href={file('markdown')} download>
                All as a text (Markdown)
              </a>
            </Menu.Item>
            <Menu.Item value="jsonld" asChild>
              <a href={file('jsonld')} download>
                All as web annotations (JSON-LD)
              </a>
            </Menu.Item>
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
