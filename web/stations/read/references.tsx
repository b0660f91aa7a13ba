import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { useNavigate } from 'react-router'
import { api, type CopyInParts } from '../../../core/schema/api'
import { lineIn, type WorkLine } from '../../../core/sift/line'
import { useChange, useOf, useWorks } from '../../api/hooks'
import { AsRead } from '../../frame/copy-parts'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { LeafMark } from '../../frame/marks'
import { tellError } from '../../frame/parts'
import { Chip } from './chip'

type Reference = CopyInParts['references'][number]
type Standing = 'in pool' | 'you lack' | 'unknown'
const WORDS: Record<Standing, string> = { 'in pool': 'in the pool', 'you lack': 'you lack it', unknown: 'unknown' }

/** Pages that are named of an entry at most. */
const PAGES = 6

/** What a text stands on: its list of references, where in the text each is cited, and what of it is in the pool. */
export function ReferencesOf({
  copy,
  parts,
  go,
  look,
}: {
  copy: number
  parts: CopyInParts
  go: (page: number, y?: number) => void
  /** Shows an entry on its page. */
  look: (reference: Reference) => void
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
  const { references, labels } = parts

  const standing = new Map(
    taken?.entries.map((e): [number, { of: Standing; line: WorkLine | undefined }] => {
      const node = e.means === null ? undefined : taken.nodes[e.means]
      if (!node) return [e.n, { of: 'unknown', line: undefined }]
      return [e.n, node.work ? { of: 'in pool', line: lineIn(works, node.work) } : { of: 'you lack', line: undefined }]
    }),
  )
  const count = (of: Standing) => references.filter(r => standing.get(r.n)?.of === of).length
  const shown = references
    .filter(r => !only || standing.get(r.n)?.of === only)
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
          {taken && (
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
                  : 'What they mean is put right in Trace.'
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
      <Box as="ul" listStyleType="none" overflow="auto" flex="1" minH="0" px="24px" pb="24px">
        {shown.map(r => {
          const s = standing.get(r.n)
          return (
            <chakra.li key={r.n} borderTop="1px solid" borderColor="hair" py="8px" fontSize="13.5px" lineHeight="18px">
              <Flex gap="9px">
                <Box w="16px" flex="none" pt="1px">
                  {s?.line && <LeafMark state={s.line.state} size={15} />}
                </Box>
                <Box flex="1" minW="0" overflowWrap="anywhere">
                  <chakra.button type="button" textAlign="left" cursor="pointer" onClick={() => look(r)} title={r.text}>
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
                    <Places cited={r.cited} labels={labels} go={go} />
                  </Flex>
                </Box>
              </Flex>
            </chakra.li>
          )
        })}
      </Box>
    </Flex>
  )
}

/** On which pages an entry is cited. */
function Places({
  cited,
  labels,
  go,
}: {
  cited: readonly number[]
  labels: readonly string[]
  go: (page: number) => void
}) {
  const pages = [...new Set(cited)]
  if (!pages.length) return null
  return (
    <span>
      on{' '}
      {pages.slice(0, PAGES).map((p, i) => (
        <span key={p}>
          {i > 0 && ', '}
          <button type="button" className="plain-link" onClick={() => go(p)}>
            p. {labels[p - 1] ?? p}
          </button>
        </span>
      ))}
      {pages.length > PAGES && ` and ${pages.length - PAGES} more`}
    </span>
  )
}
