import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useEffect, useRef, useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type CopyInParts } from '../../../core/schema/api'
import { lineIn, type WorkLine } from '../../../core/sift/line'
import { useChange, useOf, useWorks } from '../../api/hooks'
import { AsRead } from '../../frame/copy-parts'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { LeafMark } from '../../frame/marks'
import { tellError } from '../../frame/parts'
import { CitedSentence } from '../../frame/said-of'
import { Chip } from './chip'
import { EntryMeaning } from './entry-meaning'

type Reference = CopyInParts['references'][number]
type Standing = 'in pool' | 'you lack' | 'unknown'
const WORDS: Record<Standing, string> = { 'in pool': 'in the pool', 'you lack': 'you lack it', unknown: 'unknown' }

/** Sentences of an entry that are shown at first. */
const SENTENCES = 6

/** What a text stands on: its list of references, where in the text each is cited, and what of it is in the pool. */
export function ReferencesOf({
  copy,
  parts,
  go,
  look,
  picked,
  pick,
}: {
  copy: number
  parts: CopyInParts
  go: (page: number, y?: number) => void
  /** Shows an entry on its page. */
  look: (reference: Reference) => void
  /** Entries that are looked at: those of a citation that was pressed on, or one of the list. */
  picked: readonly number[]
  pick: (entries: readonly number[]) => void
}) {
  const { inquiry, mayWrite } = useHere()
  const navigate = useNavigate()
  const open = useOpenWork()
  const works = useWorks(inquiry.id).data ?? []
  const lists = useOf(inquiry.id, api.lists)
  const list = lists.data?.find(l => l.copy === copy)
  const taken = useOf(inquiry.id, api.list, { params: { list: list?.id ?? 0 }, enabled: Boolean(list) }).data
  const take = useChange(inquiry.id, api.takeList, () => ({ body: { copy } }))
  const [only, setOnly] = useState<Standing>()
  const [byUse, setByUse] = useState(false)
  const rows = useRef<HTMLUListElement>(null)
  useEffect(() => {
    const row = rows.current?.querySelector('[data-picked]')
    if (row && 'scrollIntoView' in row) row.scrollIntoView({ block: 'nearest' })
  }, [picked])
  const { references, labels } = parts

  const standing = new Map(
    taken?.entries.map((e): [number, { of: Standing; line: WorkLine | undefined }] => {
      const node = e.means === null ? undefined : taken.nodes[e.means]
      if (!node) return [e.n, { of: 'unknown', line: undefined }]
      return [e.n, node.work ? { of: 'in pool', line: lineIn(works, node.work) } : { of: 'you lack', line: undefined }]
    }),
  )
  const entryOf = (n: number) => taken?.entries.find(e => e.n === n)
  const count = (of: Standing) => references.filter(r => standing.get(r.n)?.of === of).length
  // those of one citation stand together, wherever they are in the list
  const isPlace = picked.length > 1
  const shown = references
    .filter(r => (isPlace ? picked.includes(r.n) : !only || standing.get(r.n)?.of === only))
    .toSorted((a, b) => (byUse ? b.cited.length - a.cited.length || a.n - b.n : a.n - b.n))
  const isCited = references.some(r => r.cited.length)
  if (!references.length)
    return (
      <Text p="18px 24px" fontSize="14px" lineHeight="20px" color="soft">
        No list of references was found in this copy, and none in its notes.
      </Text>
    )
  return (
    <Flex direction="column" minH="0" flex="1">
      <Box px="24px" py="12px" flex="none">
        <Flex gap="6px" wrap="wrap" align="center">
          {isPlace && (
            <Chip on onClick={() => pick([])}>
              cited there {picked.length} ✕
            </Chip>
          )}
          {taken && !isPlace && (
            <>
              <Chip on={!only} onClick={() => setOnly(undefined)}>
                all {references.length}
              </Chip>
              {(['in pool', 'you lack', 'unknown'] as const).map(s => (
                <Chip key={s} on={only === s} onClick={() => setOnly(only === s ? undefined : s)}>
                  {WORDS[s]} {count(s)}
                </Chip>
              ))}
            </>
          )}
          {isCited && (
            <Button size="2xs" variant="ghost" ml="auto" aria-pressed={byUse} onClick={() => setByUse(!byUse)}>
              {byUse ? 'As they are listed' : 'Most cited here first'}
            </Button>
          )}
        </Flex>
        {(list ?? mayWrite) && (
          <Flex mt="8px" gap="12px" align="center" justify="space-between">
            <Text fontSize="13px" lineHeight="18px" color="soft">
              {list
                ? list.left
                  ? `${list.left} of them were not looked up yet.`
                  : 'Press on one to bring it, or to put right what it means.'
                : 'Which of them are in your pool is not known yet.'}
            </Text>
            <Button
              size="xs"
              flex="none"
              variant={list ? 'outline' : 'solid'}
              colorPalette="vine"
              loading={take.isPending}
              onClick={() => {
                if (list) return void navigate(`/inquiries/${inquiry.id}/trace?entries=${list.id}`)
                take.mutate(undefined, { onError: tellError })
              }}
            >
              {list ? 'This list in Trace' : 'Walk this list'}
            </Button>
          </Flex>
        )}
      </Box>
      <chakra.ul ref={rows} listStyleType="none" overflow="auto" flex="1" minH="0" px="24px" pb="24px">
        {shown.map(r => {
          const s = standing.get(r.n)
          const isPicked = picked.includes(r.n)
          return (
            <chakra.li
              key={r.n}
              data-picked={isPicked || undefined}
              borderTop="1px solid"
              borderColor="hair"
              py="8px"
              px="8px"
              mx="-8px"
              bg={isPicked ? 'surface' : undefined}
              fontSize="13.5px"
              lineHeight="18px"
            >
              <Flex gap="9px">
                <Box w="16px" flex="none" pt="1px">
                  {s?.line && <LeafMark state={s.line.state} size={15} />}
                </Box>
                <Box flex="1" minW="0" overflowWrap="anywhere">
                  <chakra.button
                    type="button"
                    textAlign="left"
                    cursor="pointer"
                    aria-expanded={isPicked}
                    onClick={() => pick(isPicked ? [] : [r.n])}
                    title={r.text}
                  >
                    <AsRead reference={r} />
                  </chakra.button>
                  <Flex justify="space-between" gap="10px" fontSize="12.5px" color="soft" wrap="wrap">
                    <span>
                      {s?.line ? (
                        <button type="button" className="plain-link" onClick={() => open(s.line!.id)}>
                          in the pool, {s.line.state}
                        </button>
                      ) : (
                        s && WORDS[s.of]
                      )}
                    </span>
                    {isPicked ? (
                      <button type="button" className="plain-link" onClick={() => look(r)}>
                        in the list, p. {labels[(r.boxes[0]?.page ?? 1) - 1]}
                      </button>
                    ) : (
                      r.cited.length > 0 && <span>cited {times(r.cited.length)}</span>
                    )}
                  </Flex>
                </Box>
              </Flex>
              {isPicked && taken && entryOf(r.n) && <EntryMeaning key={r.n} list={taken} entry={entryOf(r.n)!} />}
              {isPicked && <CitedIn reference={r} labels={labels} go={go} />}
            </chakra.li>
          )
        })}
      </chakra.ul>
    </Flex>
  )
}

const times = (n: number): string => (n === 1 ? 'once' : n === 2 ? 'twice' : `${n} times`)

/** The sentences in which an entry is cited, each leading to its page. */
function CitedIn({
  reference,
  labels,
  go,
}: {
  reference: Reference
  labels: readonly string[]
  go: (page: number) => void
}) {
  const [all, setAll] = useState(false)
  const { cited } = reference
  if (!cited.length)
    return (
      <Text mt="4px" fontSize="13px" color="soft">
        No sentence was found that cites it.
      </Text>
    )
  return (
    <Box as="ul" listStyleType="none" mt="6px">
      {cited.slice(0, all ? undefined : SENTENCES).map((c, i) => (
        <li key={i}>
          <CitedSentence place={c} label={labels[c.page - 1] ?? String(c.page)} onClick={() => go(c.page)} />
        </li>
      ))}
      {cited.length > SENTENCES && !all && (
        <Button size="2xs" variant="ghost" onClick={() => setAll(true)}>
          All {cited.length} sentences
        </Button>
      )}
    </Box>
  )
}
