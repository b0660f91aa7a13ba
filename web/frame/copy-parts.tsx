import { Box, Button, chakra, Flex, Stack, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { useNavigate } from 'react-router'
import { authorLine, spokenName } from '../../core/bib/names'
import { yearOf } from '../../core/bib/dates'
import type { Item } from '../../core/bib/item'
import { titlePageSays } from '../../core/pdftext/title-page'
import { api, type CopyInParts } from '../../core/schema/api'
import { useChange, useOf } from '../api/hooks'
import { useHere } from './inquiry-frame'
import { Failed, Heading, tellError, Waiting } from './parts'
import { CUT, NAMES, useSay } from './work-words'

/** Of long lists so many lines are shown at first. */
const SHOWN = 60

/**
 * What a copy was taken apart into: how its pages are called, what its title page says, its headings, its references.
 * @param go goes to a page of the file, counted from 1
 */
export function CopyParts({
  copy,
  work,
  go,
  hasReferences = true,
}: {
  copy: { id: number; version: string }
  work: { id: number; title: string; item: Item }
  go: (page: number, y?: number) => void
  /** Without them where they stand beside it. */
  hasReferences?: boolean
}) {
  const { inquiry } = useHere()
  const parts = useOf(inquiry.id, api.copyParts, { params: { copy: copy.id } })
  if (parts.isPending) return <Waiting what="Reading the copy" />
  if (parts.isError) return <Failed error={parts.error} again={() => void parts.refetch()} />
  const p = parts.data
  return (
    <Stack gap="18px">
      <Box fontSize="13.5px" lineHeight="19px">
        <Heading>Its pages</Heading>
        <Text>
          {p.labels.length === 1 ? 'One page' : `${p.labels.length} pages`}, called {p.labels[0]}
          {p.labels.length > 1 && ` to ${p.labels.at(-1)!}`}.{' '}
          <chakra.span color="soft">
            {p.said}
            {p.left > 0 && ` ${p.left.toLocaleString('en')} further pages were not read.`}
          </chakra.span>
        </Text>
      </Box>
      <TitlePage parts={p} work={work} version={copy.version} />
      <Headings parts={p} go={go} />
      <Captions parts={p} go={go} />
      {hasReferences && <References copy={copy.id} parts={p} go={go} />}
    </Stack>
  )
}

/** Of many authors so many are shown with where they work. */
const MOST_AUTHORS = 12

/** What the title page confirms, and what it says that no record does: one key takes its word. */
function TitlePage({
  parts,
  work,
  version,
}: {
  parts: CopyInParts
  work: { id: number; title: string; item: Item }
  version: string
}) {
  const { mayWrite } = useHere()
  const say = useSay(work.id)
  const { confirms, says } = titlePageSays(work.item, version, parts.front)
  const { authors = [], received, accepted, keywords } = parts.front
  const placed = authors.filter(a => a.affiliations.length)
  if (!confirms.length && !says.length && !placed.length) return null
  return (
    <Box fontSize="13.5px" lineHeight="19px">
      <Heading>Its title page</Heading>
      {confirms.length > 0 && (
        <Text mb="6px">
          Says the same as the records:{' '}
          <chakra.span color="soft">
            {confirms.map(f => (f === 'DOI' ? f : NAMES[f].toLowerCase())).join(', ')}.
          </chakra.span>
        </Text>
      )}
      {says.map(({ field, page, record }) => (
        <Flex key={field} gap="10px" py="5px" borderTop="1px solid" borderColor="hair2" align="flex-start">
          <Text color="soft" w="76px" flex="none">
            {NAMES[field]}
          </Text>
          <Box flex="1" minW="0" overflowWrap="anywhere">
            <Text lineClamp={field === 'abstract' ? 4 : 3}>{page}</Text>
            <Text fontSize="12.5px" lineHeight="17px" color="soft" lineClamp={2}>
              {record ? `the records: ${record}` : 'no record says it'}
            </Text>
          </Box>
          {mayWrite && (
            <Button
              size="2xs"
              variant="outline"
              flex="none"
              aria-label={`${NAMES[field]}: take the page’s word`}
              onClick={() =>
                say(
                  `field:${field}`,
                  { text: page },
                  { said: `${NAMES[field]} of “${work.title}”`, words: `${NAMES[field]}: as the page says.` },
                )
              }
            >
              Take it
            </Button>
          )}
        </Flex>
      ))}
      {placed.length > 0 && (
        <Box mt="4px" as="ul" listStyleType="none" aria-label="Where its authors work">
          {placed.slice(0, MOST_AUTHORS).map((a, i) => (
            <chakra.li key={i} color="soft" overflowWrap="anywhere">
              <chakra.span color="ink">{spokenName(a.name)}</chakra.span>, {a.affiliations.join('; ')}
            </chakra.li>
          ))}
          {placed.length > MOST_AUTHORS && <chakra.li color="soft">and {placed.length - MOST_AUTHORS} more</chakra.li>}
        </Box>
      )}
      {(received ?? accepted) && (
        <Text color="soft" mt="4px">
          {[received && `Received ${received}`, accepted && `accepted ${accepted}`].filter(Boolean).join(', ')}.
        </Text>
      )}
      {keywords && (
        <Text color="soft" mt="4px">
          Keywords on it: {keywords.join(', ')}.
        </Text>
      )}
    </Box>
  )
}

function Headings({ parts, go }: { parts: CopyInParts; go: (page: number, y?: number) => void }) {
  const { headings, labels } = parts
  if (!headings.length) return null
  return (
    <Box>
      <Heading aside={String(headings.length)}>Headings</Heading>
      <Folded of={headings.length}>
        {most =>
          headings.slice(0, most).map((h, i) => (
            <Place key={i} page={labels[h.page - 1] ?? ''} onClick={() => go(h.page, h.y)}>
              <chakra.span
                pl={`${(h.level - 1) * 14}px`}
                fontWeight={h.level === 1 ? '600' : undefined}
                display="block"
              >
                {h.text}
              </chakra.span>
            </Place>
          ))
        }
      </Folded>
    </Box>
  )
}

function Captions({ parts, go }: { parts: CopyInParts; go: (page: number, y?: number) => void }) {
  const { captions, labels } = parts
  if (!captions.length) return null
  return (
    <Box>
      <Heading aside={String(captions.length)}>Figures and tables</Heading>
      <Folded of={captions.length}>
        {most =>
          captions.slice(0, most).map((c, i) => (
            <Place key={i} page={labels[c.page - 1] ?? ''} title={c.text} onClick={() => go(c.page, c.y)}>
              <Text lineClamp={2}>{c.text}</Text>
            </Place>
          ))
        }
      </Folded>
    </Box>
  )
}

function References({ copy, parts, go }: { copy: number; parts: CopyInParts; go: (page: number) => void }) {
  const { references, lists, labels } = parts
  const { inquiry, mayWrite } = useHere()
  const navigate = useNavigate()
  const take = useChange(inquiry.id, api.takeList, () => ({ body: { copy } }))
  const [printed, setPrinted] = useState(false)
  if (!references.length)
    return (
      <Box fontSize="13.5px" lineHeight="19px">
        <Heading>References</Heading>
        <Text color="soft">No list of references was found in it, and none in its notes.</Text>
      </Box>
    )
  return (
    <Box>
      <Heading
        aside={
          <Button size="2xs" variant="ghost" aria-pressed={printed} onClick={() => setPrinted(x => !x)}>
            {printed ? 'As they are read' : 'As they are printed'}
          </Button>
        }
      >
        References: {references.length}
      </Heading>
      <Text fontSize="12.5px" color="soft" mb="4px">
        {[...new Set(lists.map(l => `${l.heading ? `“${l.heading}”, ` : ''}${CUT[l.by] ?? l.by}`))].join('; ')}
      </Text>
      {mayWrite && (
        <Button
          size="xs"
          variant="outline"
          mb="6px"
          loading={take.isPending}
          onClick={() =>
            take.mutate(undefined, {
              onSuccess: ({ id }) => void navigate(`/inquiries/${inquiry.id}/trace?entries=${id}`),
              onError: tellError,
            })
          }
        >
          Find their works
        </Button>
      )}
      <Folded of={references.length}>
        {most =>
          references.slice(0, most).map(r => (
            <Place
              key={r.n}
              page={labels[(r.boxes[0]?.page ?? 1) - 1] ?? ''}
              onClick={() => go(r.boxes[0]?.page ?? 1)}
              {...(printed ? {} : { title: r.text })}
            >
              {printed ? (
                <>
                  {r.label && <chakra.span color="soft">{r.label} </chakra.span>}
                  {r.text}
                </>
              ) : (
                <AsRead reference={r} />
              )}
            </Place>
          ))
        }
      </Folded>
    </Box>
  )
}

/** Parts of which one cannot be sure stand in amber. */
const DOUBT = 0.72

export function AsRead({ reference: { item, sure, text, label } }: { reference: CopyInParts['references'][number] }) {
  const voice = (field: string) => (((sure[field] as number | undefined) ?? 1) < DOUBT ? 'amber' : undefined)
  const year = yearOf(item as Item)
  const names = item.author ?? item.editor
  if (!item.title)
    return (
      <>
        <chakra.span color="amber">Not understood: </chakra.span>
        {text}
      </>
    )
  const place = [item.volume, item.issue && `(${item.issue})`].filter(Boolean).join(' ')
  return (
    <>
      {label && <chakra.span color="soft">{label} </chakra.span>}
      {names && <chakra.span color={voice('author')}>{authorLine(names, 3)} </chakra.span>}
      {year && <chakra.span color={voice('issued')}>{year}. </chakra.span>}
      <chakra.span fontFamily="serif" fontWeight="600" color={voice('title')}>
        {item.title}
      </chakra.span>
      <chakra.span color="soft">
        {item['container-title'] && <i>. {item['container-title']}</i>}
        {!item['container-title'] && item.publisher && `. ${item.publisher}`}
        {place && ` ${place}`}
        {item.page && `, ${item.page.replace('-', '–')}`}
      </chakra.span>
    </>
  )
}

/** A line that leads to its page. */
function Place({
  page,
  title,
  onClick,
  children,
}: {
  page: string
  title?: string
  onClick: () => void
  children: ReactNode
}) {
  return (
    <chakra.button
      type="button"
      onClick={onClick}
      title={title}
      display="flex"
      w="full"
      gap="10px"
      py="4px"
      textAlign="left"
      fontSize="13.5px"
      lineHeight="18px"
      cursor="pointer"
      borderBottom="1px solid"
      borderColor="hair2"
      _hover={{ bg: 'hair2' }}
    >
      <Box flex="1" minW="0" overflowWrap="anywhere">
        {children}
      </Box>
      <Text flex="none" minW="34px" textAlign="right" color="soft" fontSize="12.5px">
        {page}
      </Text>
    </chakra.button>
  )
}

function Folded({ of, children }: { of: number; children: (most: number) => ReactNode }) {
  const [all, setAll] = useState(false)
  return (
    <>
      {children(all ? of : SHOWN)}
      {of > SHOWN && (
        <Button size="2xs" variant="ghost" mt="4px" onClick={() => setAll(x => !x)}>
          {all ? `The first ${SHOWN}` : `All ${of}`}
        </Button>
      )}
    </>
  )
}
