import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState } from 'react'
import { plainTitle } from '../../../core/bib/clean'
import { yearOf } from '../../../core/bib/dates'
import type { Item } from '../../../core/bib/item'
import { authorLine } from '../../../core/bib/names'
import { DecideButtons } from '../../frame/decide-buttons'
import { useHere } from '../../frame/inquiry-frame'
import { PutRight, useSettle, type Entry, type ListAnswer, type ListNode } from '../../frame/settle'
import { useBring } from '../../frame/use-bring'

/** What an entry means: brought and decided on here, or put right where it means another work. */
export function EntryMeaning({ list, entry }: { list: ListAnswer; entry: Entry }) {
  const { mayWrite } = useHere()
  const { busy, settle, rewrite } = useSettle(list.id)
  const bring = useBring()
  const node = entry.means === null ? undefined : list.nodes[entry.means]
  // what nobody settled is asked at once
  const [asks, setAsks] = useState(!node && !entry.byHand)
  const others = entry.matches.filter(m => m.node !== entry.means)
  if (!node && !entry.looked)
    return (
      <Text mt="4px" pl="25px" fontSize="13px" color="soft">
        It was not looked up yet.
      </Text>
    )
  if (!mayWrite) return node ? <Work node={node} /> : null
  const title = node ? plainTitle(node.item.title, 'untitled') : ''
  return (
    <Box mt="6px" pl="25px" fontSize="13px" lineHeight="18px">
      {node && <Work node={node} />}
      <Flex gap="6px" wrap="wrap" mt="4px">
        {node && !node.work && (
          <DecideButtons
            busy={bring.busy}
            keyed={false}
            decide={choice => bring.decide({ work: null, node: node.id, title }, choice)}
          />
        )}
        <Button size="2xs" variant="ghost" aria-expanded={asks} onClick={() => setAsks(!asks)}>
          {node ? 'It is another' : 'Say what it is'}
        </Button>
      </Flex>
      {asks && (
        <Box mt="4px" pl="10px" borderLeft="2px solid" borderColor="hair">
          {others.map(m => (
            <Flex key={m.node} gap="8px" align="flex-start" py="4px">
              <Box flex="1" minW="0">
                <Work node={list.nodes[m.node]!} />
              </Box>
              <Button
                size="2xs"
                variant="outline"
                bg="surface"
                flex="none"
                disabled={busy}
                onClick={() => settle(list, entry, 'this', list.nodes[m.node]!.id, () => setAsks(false))}
              >
                It is this one
              </Button>
            </Flex>
          ))}
          {entry.matches.length > 0 && (
            <Button
              size="2xs"
              variant="outline"
              bg="surface"
              disabled={busy}
              onClick={() => settle(list, entry, 'none', undefined, () => setAsks(false))}
            >
              {others.length ? 'None of these' : 'Not this one'}
            </Button>
          )}
          <PutRight
            key={entry.text}
            entry={entry}
            busy={busy}
            found={entry.matches.length > 0}
            settle={means => settle(list, entry, means, undefined, () => setAsks(false))}
            rewrite={text => rewrite(entry.n, text, () => setAsks(false))}
          />
        </Box>
      )}
    </Box>
  )
}

/** A work that an entry means or may mean, in a line of its own. */
function Work({ node }: { node: ListNode }) {
  const item = node.item as Item
  return (
    <Text overflowWrap="anywhere" fontSize="13px" lineHeight="18px">
      <chakra.span fontFamily="serif" fontWeight="600" dir="auto">
        {plainTitle(item.title, 'untitled')}
      </chakra.span>{' '}
      <chakra.span color="soft">
        {[authorLine(item.author ?? item.editor, 2), yearOf(item), node.kind].filter(Boolean).join(' · ')}
      </chakra.span>
    </Text>
  )
}
