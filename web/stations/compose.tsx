import { Box, Button, chakra, Flex, Menu, NativeSelect, Portal, Text, Textarea } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import type { Reach } from '../../core/access/reach'
import { lineIn } from '../../core/sift/line'
import { countWords } from '../../core/write/words'
import type { RuleAnswer } from '../../core/write/rules'
import { call, placeOf } from '../api/client'
import { useChange, useOf, useWorks } from '../api/hooks'
import { api, type BibliographyEntry } from '../../core/schema/api'
import { useHere, useOpenWork } from '../frame/inquiry-frame'
import { ReachMark } from '../frame/marks'
import { Empty, Failed, Heading, Notice, tell, tellError, Waiting } from '../frame/parts'
import { Rich } from '../frame/rich'
import { overtakenBy } from '../outbox/letter'
import { useSaved } from '../outbox/use-outbox'

export function Compose() {
  const { inquiry, mayWrite } = useHere()
  const [style, setStyle] = useState<string>()
  const list = useOf(inquiry.id, api.bibliography, { query: style ? { style } : {} })
  const works = useWorks(inquiry.id)
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  if (list.isPending) return <Waiting what="Setting the bibliography" />
  if (list.isError) return <Failed error={list.error} again={() => void list.refetch()} />
  const b = list.data
  const entered = new Set(b.entries.map(e => e.work))
  const waiting = (works.data ?? []).filter(w => w.state === 'kept' && !entered.has(w.id))
  return (
    <Box px="24px" py="14px">
      <Flex gap="10px" mb="12px" align="stretch" wrap="wrap">
        {b.rules.map(r => (
          <RuleCard key={r.rule} rule={r} />
        ))}
        <Flex flex="1" justify="flex-end" align="center" gap="8px" minW="300px">
          <NativeSelect.Root size="sm" w="180px">
            <NativeSelect.Field
              value={b.style}
              onChange={e => setStyle(e.target.value)}
              aria-label="Citation style"
              bg="surface"
              fontWeight="600"
            >
              {b.styles.map(s => (
                <option key={s.id} value={s.id}>
                  {s.name}
                </option>
              ))}
            </NativeSelect.Field>
            <NativeSelect.Indicator />
          </NativeSelect.Root>
          <HandIn style={b.style} empty={!b.entries.length} />
        </Flex>
      </Flex>
      {!b.entries.length ? (
        <Empty title="No entries yet">
          An entry is one kept work with its citation and your annotation. Put in kept works from the list{' '}
          {waiting.length ? 'below' : 'that Sift fills'}.
        </Empty>
      ) : (
        <Box bg="surface" border="1px solid" borderColor="hair" py="28px">
          {b.entries.map(e => (
            <Entry key={e.id} entry={e} hanging={b.hangingIndent} reach={lineIn(works.data ?? [], e.work)?.reach} />
          ))}
        </Box>
      )}
      {waiting.length > 0 && (
        <Box mt="24px" maxW="860px">
          <Heading aside="kept works that are no entries yet">To put in</Heading>
          {waiting.map(w => (
            <Flex key={w.id} gap="10px" py="6px" borderTop="1px solid" borderColor="hair2" align="center">
              <ReachMark reach={w.reach} />
              <Text flex="1" minW="0" truncate fontFamily="serif" fontSize="14.5px">
                {w.title}{' '}
                <Text as="span" color="soft" fontFamily="body" fontSize="13px">
                  {w.authors} · {w.year}
                </Text>
              </Text>
              {mayWrite && (
                <Button
                  size="xs"
                  variant="outline"
                  onClick={() =>
                    enter.mutate(w.id, {
                      onSuccess: () => tell('Put in, at its place in the list.'),
                      onError: tellError,
                    })
                  }
                >
                  Put in
                </Button>
              )}
            </Flex>
          ))}
        </Box>
      )}
    </Box>
  )
}

const verdictWords = { holds: 'holds', short: 'short', over: 'over', unsure: 'not sure' }

function RuleCard({ rule: r }: { rule: RuleAnswer }) {
  const good = r.verdict === 'holds'
  const tail =
    r.verdict === 'short'
      ? `: ${r.want - r.have} short`
      : r.verdict === 'over'
        ? `: ${r.have - r.want} over`
        : r.verdict === 'unsure'
          ? ': not sure'
          : ''
  return (
    <Box
      bg="surface"
      border="1px solid"
      borderColor="hair"
      borderTop="3px solid"
      borderTopColor={good ? 'vine' : 'amber'}
      borderRadius="md"
      px="10px"
      py="6px"
      w="146px"
      aria-label={`${r.said}: ${verdictWords[r.verdict]}`}
    >
      <Text fontFamily="serif" fontWeight="600" fontSize="16px" lineHeight="22px">
        {r.rule === 'words' || r.rule === 'entries' ? `${r.have} of ${r.want}` : r.have}
      </Text>
      <Text fontSize="12.5px" lineHeight="16px" color="soft">
        {r.said}
        <Text as="span" color="amber">
          {tail}
        </Text>
      </Text>
    </Box>
  )
}

const formats = [
  { key: 'docx', name: 'Word processor document (.docx)' },
  { key: 'html', name: 'Web page (.html)' },
  { key: 'markdown', name: 'Markdown (.md)' },
  { key: 'bibtex', name: 'BibTeX (.bib)' },
  { key: 'ris', name: 'RIS (.ris)' },
  { key: 'csl', name: 'CSL-JSON (.json)' },
]

function HandIn({ style, empty }: { style: string; empty: boolean }) {
  const { inquiry } = useHere()
  const sayLosses = async (format: 'bibtex' | 'ris') => {
    const lost = await call(api.losses, { params: { inquiry: inquiry.id }, query: { format } })
    const name = format === 'bibtex' ? 'BibTeX' : 'RIS'
    const fields = [...new Set(lost.flatMap(l => l.fields))].join(', ')
    tell(
      lost.length
        ? `${lost.length} ${lost.length === 1 ? 'entry loses' : 'entries lose'} what ${name} cannot carry: ${fields}.`
        : 'Written without loss.',
    )
  }
  const give = async (format: string) => {
    try {
      const answer = await fetch(`/api${placeOf(api.handIn, { inquiry: inquiry.id }, { format, style })}`)
      if (!answer.ok) throw new Error(((await answer.json()) as { title: string }).title)
      const name = decodeURIComponent(
        /filename\*=UTF-8''([^;]+)/.exec(answer.headers.get('content-disposition') ?? '')?.[1] ?? 'bibliography',
      )
      const a = document.createElement('a')
      a.href = URL.createObjectURL(await answer.blob())
      a.download = name
      a.click()
      URL.revokeObjectURL(a.href)
      if (format === 'bibtex' || format === 'ris') await sayLosses(format)
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Menu.Root positioning={{ placement: 'bottom-end' }}>
      <Menu.Trigger asChild>
        <Button colorPalette="vine" size="sm" disabled={empty}>
          Hand in as <ChevronDown size={15} />
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content>
            {formats.map(f => (
              <Menu.Item key={f.key} value={f.key} onClick={() => void give(f.key)}>
                {f.name}
              </Menu.Item>
            ))}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}

function Entry({ entry, hanging, reach }: { entry: BibliographyEntry; hanging: boolean; reach: Reach | undefined }) {
  const { inquiry, mayWrite } = useHere()
  const open = useOpenWork()
  const remove = useChange(inquiry.id, api.dropEntry, (entry: number) => ({ params: { entry } }))
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  const restore = async () => {
    const made = await enter.mutateAsync(entry.work)
    if (entry.annotation)
      await call(api.annotate, {
        params: { inquiry: inquiry.id, entry: made.id },
        body: { annotation: entry.annotation },
        version: made.version,
      })
  }
  const editor = useAnnotation(entry)
  const words = countWords(editor.value)
  const other =
    overtakenBy(editor.refused) === undefined ? undefined : (editor.refused!.body.current as { annotation: string })
  const { wordsFrom, wordsTo } = inquiry.rules
  const check = !words
    ? {
        voice: 'amber',
        head: 'No annotation yet',
        tail: wordsFrom ? `The brief asks for ${wordsFrom} to ${wordsTo ?? 'any number of'} words.` : '',
      }
    : wordsFrom && words < wordsFrom
      ? {
          voice: 'amber',
          head: `${wordsFrom - words} words short`,
          tail: `${words} words; the brief asks for ${wordsFrom} to ${wordsTo}.`,
        }
      : wordsTo && words > wordsTo
        ? {
            voice: 'amber',
            head: `${words - wordsTo} words over`,
            tail: `${words} words; the brief asks for ${wordsFrom} to ${wordsTo}.`,
          }
        : { voice: 'vine', head: `${words} words`, tail: wordsFrom ? 'The length fits the brief.' : '' }
  return (
    <Flex gap="0" mb="22px" data-entry={entry.id} direction={{ base: 'column', lg: 'row' }}>
      <Box flex="1" minW="0" pl={{ base: '16px', md: '52px' }} pr={{ base: '16px', md: '24px' }}>
        <chakra.p
          fontFamily="serif"
          fontSize="16px"
          lineHeight="25px"
          pl={hanging ? '34px' : entry.label ? '40px' : 0}
          textIndent={hanging ? '-34px' : 0}
          position="relative"
        >
          {entry.label && (
            <chakra.span position="absolute" left="0">
              {entry.label}
            </chakra.span>
          )}
          <Rich runs={entry.citation} />
        </chakra.p>
        <Box pl="34px" mt="4px">
          <Textarea
            aria-label="Annotation"
            variant="subtle"
            bg="transparent"
            border="1px solid transparent"
            _hover={{ borderColor: 'hair' }}
            _focus={{ borderColor: 'vine', bg: 'paper' }}
            fontFamily="serif"
            fontSize="16px"
            lineHeight="25px"
            px="6px"
            mx="-6px"
            py="4px"
            autoresize
            rows={1}
            readOnly={!mayWrite}
            placeholder="Write your annotation here"
            maxLength={50_000}
            value={editor.value}
            onChange={e => editor.write(e.target.value)}
          />
          {other && (
            <Box mt="8px">
              <Notice voice="amber">
                <Text mb="6px">
                  This annotation was changed in another window. Both texts are kept; choose which one stands.
                </Text>
                <Text fontFamily="serif" bg="surface" color="ink" p="8px" borderRadius="md" mb="6px">
                  {other.annotation || '(empty)'}
                </Text>
                <Flex gap="6px">
                  <Button size="xs" variant="outline" onClick={editor.keepMine}>
                    Keep mine, above
                  </Button>
                  <Button size="xs" variant="outline" onClick={editor.takeTheirs}>
                    Take the other
                  </Button>
                </Flex>
              </Notice>
            </Box>
          )}
        </Box>
      </Box>
      <Flex w={{ base: 'auto', lg: '330px' }} flex="none" gap="0" pl={{ base: '16px', lg: 0 }} pr="16px">
        <chakra.svg
          w="26px"
          flex="none"
          h="64px"
          viewBox="0 0 26 64"
          display={{ base: 'none', lg: 'block' }}
          aria-hidden="true"
        >
          <path
            d="M1 4 h6 v52 h-6 M7 30 C14 30 14 22 25 22"
            fill="none"
            stroke={`var(--chakra-colors-${check.voice})`}
            strokeWidth="1.5"
          />
        </chakra.svg>
        <Box
          flex="1"
          border="1px solid"
          borderColor="hair"
          borderLeft="3px solid"
          borderLeftColor={check.voice}
          borderRadius="md"
          px="12px"
          py="8px"
          bg="paper"
          fontSize="13px"
          lineHeight="18px"
          alignSelf="flex-start"
        >
          <Flex justify="space-between" gap="8px">
            <Text fontWeight="600">{check.head}</Text>
            <Text color={editor.state === 'not taken' ? 'rust' : 'soft'} aria-live="polite">
              {editor.state === 'untouched' ? '' : editor.state}
            </Text>
          </Flex>
          <Text color="soft">{check.tail}</Text>
          <Text color="soft">In the text: {entry.inText}</Text>
          {reach && (
            <Flex gap="6px" align="center" color={reach === 'in hand' ? 'soft' : 'amber'}>
              <ReachMark reach={reach} size={15} />{' '}
              {reach === 'in hand'
                ? 'the text is in hand'
                : reach === 'unsure'
                  ? 'whether the text can be had is not sure'
                  : `the text is ${reach === 'not asked' ? 'not looked for yet' : reach}`}
            </Flex>
          )}
          <Flex gap="12px" mt="2px" color="vine" fontWeight="600">
            <chakra.button type="button" cursor="pointer" onClick={() => open(entry.work)}>
              Work sheet
            </chakra.button>
            {mayWrite && (
              <chakra.button
                type="button"
                cursor="pointer"
                onClick={() =>
                  remove.mutate(entry.id, {
                    onSuccess: () =>
                      tell('Taken out; the work stays kept.', {
                        label: 'Undo',
                        onClick: () => void restore().catch(tellError),
                      }),
                    onError: tellError,
                  })
                }
              >
                Take out
              </chakra.button>
            )}
          </Flex>
        </Box>
      </Flex>
    </Flex>
  )
}

/** An annotation that saves itself a moment after the last letter, and never over what another window wrote. */
function useAnnotation(entry: BibliographyEntry) {
  const { inquiry } = useHere()
  return useSaved<string>({
    inquiry: inquiry.id,
    slot: `entry ${entry.id}`,
    method: 'PATCH',
    path: `/entries/${entry.id}`,
    said: `The annotation of “${entry.title}”`,
    stands: { value: entry.annotation, version: entry.version },
    body: asAnnotation,
    read: annotationOf,
  })!
}
const asAnnotation = (annotation: string): unknown => ({ annotation })
const annotationOf = (body: unknown): string => (body as { annotation: string }).annotation
