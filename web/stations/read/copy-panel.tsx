import { Box, Button, chakra, Flex, Stack, Text } from '@chakra-ui/react'
import { yearOf } from '../../../core/bib/dates'
import { authorLine } from '../../../core/bib/names'
import { api, type Copy } from '../../../core/schema/api'
import { lineIn } from '../../../core/sift/line'
import { useChange, useWorks } from '../../api/hooks'
import { CopyParts } from '../../frame/copy-parts'
import { useHere } from '../../frame/inquiry-frame'
import { keyName, useKeyMap, useKeys } from '../../frame/keys'
import { Heading, Kbd, tell, tellError } from '../../frame/parts'
import { useSay } from '../../frame/work-words'

/** What a copy is: whether it is the work, where that is doubtful, and what is in it. */
export function CopyPanel({ copy, go }: { copy: Copy; go: (page: number, y?: number) => void }) {
  return (
    <Stack gap="18px" overflow="auto" px="24px" pt="14px" pb="32px" minH="0" flex="1">
      <Text fontSize="12.5px" lineHeight="17px" color="soft" overflowWrap="anywhere">
        {copy.version} · from {copy.origin}
      </Text>
      {(copy.outcome !== 'proved' || copy.proof.outcome !== 'proved') && <Doubt copy={copy} />}
      {copy.item && (
        <CopyParts
          copy={copy}
          work={{ id: copy.work, title: copy.title, item: copy.item }}
          go={go}
          hasReferences={false}
        />
      )}
    </Stack>
  )
}

/** A doubtful copy, decided beside its pages: what the record says, and what they say. */
function Doubt({ copy }: { copy: Copy }) {
  const { inquiry, mayWrite } = useHere()
  const say = useSay(copy.work)
  const map = useKeyMap()
  const decide = (word: 'it is' | 'it is not' | null) =>
    say(`copy:${copy.id}`, word, {
      said: `Whether a copy is “${copy.title}”`,
      words:
        word === 'it is'
          ? 'In hand, by your word.'
          : word === 'it is not'
            ? 'Put aside: it does not count as this work.'
            : 'Left to its proof again.',
    })
  useKeys({ isIt: () => decide('it is'), isNot: () => decide('it is not') }, mayWrite)
  const { item, outcome, proof } = copy
  const other = lineIn(useWorks(inquiry.id).data ?? [], proof.other ?? -1)
  const give = useChange(inquiry.id, api.giveCopy, (work: number) => ({ params: { copy: copy.id }, body: { work } }))
  const giveTo = (work: number, back?: number) =>
    give.mutate(work, {
      onSuccess: ({ outcome: now, said }) =>
        now === 'refused'
          ? tellError(new Error(said))
          : tell(
              now === 'proved' ? 'It is with the work that it is.' : said,
              back === undefined ? undefined : { label: 'Undo', onClick: () => giveTo(back) },
            ),
      onError: tellError,
    })
  const prove = () =>
    give.mutate(copy.work, {
      onSuccess: ({ outcome: now, said }) => tell(now === 'proved' ? 'Proved: now in hand.' : said),
      onError: tellError,
    })
  const byWord = outcome !== proof.outcome
  const source =
    item && [item['container-title'] ?? item.publisher, item.volume, yearOf(item)].filter(Boolean).join(', ')
  return (
    <Box fontSize="13.5px" lineHeight="19px">
      <Heading>
        {outcome === 'doubtful'
          ? 'Is this the work?'
          : outcome === 'proved'
            ? 'In hand, by your word'
            : 'Not this work, by your word'}
      </Heading>
      <Box bg="paper" border="1px solid" borderColor="hair" borderRadius="md" p="10px" mb="8px">
        <Text fontSize="12.5px" color="soft">
          The record says
        </Text>
        <Text fontFamily="serif" fontWeight="600">
          {copy.title}
        </Text>
        {item && (
          <Text color="soft">
            {authorLine(item.author ?? item.editor, 4)}
            {source && ` · ${source}`}
            {item.page && ` · pages ${item.page.replace('-', '–')}`}
          </Text>
        )}
      </Box>
      <Text fontSize="12.5px" color="soft" mb="2px">
        The pages say
      </Text>
      {proof.evidence.map(e => (
        <Flex key={e.said} gap="8px" py="2px" color={e.holds ? undefined : 'amber'}>
          <chakra.span flex="none" w="14px" aria-label={e.holds ? 'agrees' : 'differs'}>
            {e.holds ? '✓' : '✗'}
          </chakra.span>
          <Text>{e.said}</Text>
        </Flex>
      ))}
      {mayWrite && other && (
        <Button
          size="xs"
          mt="10px"
          maxW="full"
          variant="outline"
          loading={give.isPending}
          onClick={() => giveTo(other.id, copy.work)}
        >
          <chakra.span truncate>Give it to “{other.title}”</chakra.span>
        </Button>
      )}
      {mayWrite && (
        <Flex gap="8px" mt="10px" wrap="wrap">
          {outcome !== 'proved' && (
            <Button size="xs" colorPalette="vine" onClick={() => decide('it is')}>
              It is this work <Kbd>{keyName(map.isIt)}</Kbd>
            </Button>
          )}
          {outcome !== 'not this work' && (
            <Button size="xs" variant="outline" onClick={() => decide('it is not')}>
              It is not <Kbd>{keyName(map.isNot)}</Kbd>
            </Button>
          )}
          {!byWord && outcome === 'doubtful' && (
            <Button
              size="xs"
              variant="ghost"
              loading={give.isPending}
              title="Holds its text against the records as they are now"
              onClick={prove}
            >
              Prove it again
            </Button>
          )}
          {byWord && (
            <Button size="xs" variant="ghost" onClick={() => decide(null)}>
              Leave it to its proof
            </Button>
          )}
        </Flex>
      )}
    </Box>
  )
}
