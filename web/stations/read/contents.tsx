import { Button, chakra, Menu, Portal, Text } from '@chakra-ui/react'
import { ChevronDown } from 'lucide-react'
import { useState } from 'react'
import type { CopyInParts } from '../../../core/schema/api'
import type { Bookmark, Reader } from './viewer'

/** Where one can go in the text: by the file's own bookmarks, or by its headings where it has none. */
export function Contents({
  reader,
  labels,
  headings,
}: {
  reader: Pick<Reader, 'go' | 'bookmarks'>
  labels: readonly string[]
  headings: CopyInParts['headings']
}) {
  const [own, setOwn] = useState<readonly Bookmark[]>()
  const byHeadings = headings.map(({ text, level, page, y }): Bookmark => ({
    title: text,
    level: level - 1,
    page,
    go: () => reader.go(page, y),
  }))
  // the title of the whole alone is no list of contents
  const list = own && (own.length > 1 || !byHeadings.length ? own : byHeadings)
  return (
    <Menu.Root
      positioning={{ placement: 'bottom-start' }}
      onOpenChange={({ open }) => {
        if (open && !own) void reader.bookmarks().then(setOwn)
      }}
    >
      <Menu.Trigger asChild>
        <Button size="2xs" variant="ghost" flex="none">
          Contents <ChevronDown />
        </Button>
      </Menu.Trigger>
      <Portal>
        <Menu.Positioner>
          <Menu.Content maxH="60vh" overflowY="auto" w="380px" maxW="92vw">
            {list?.map((b, i) => (
              <Menu.Item key={i} value={String(i)} onClick={b.go} gap="10px" ps={`${12 + Math.max(0, b.level) * 16}px`}>
                <Text flex="1" minW="0" truncate title={b.title}>
                  {b.title}
                </Text>
                <chakra.span color="soft" flex="none">
                  {b.page && (labels[b.page - 1] ?? b.page)}
                </chakra.span>
              </Menu.Item>
            ))}
            {!list?.length && (
              <Text px="12px" py="8px" fontSize="13.5px" color="soft">
                {list ? 'The file has no bookmarks, and no headings were found in its text.' : 'Looking …'}
              </Text>
            )}
          </Menu.Content>
        </Menu.Positioner>
      </Portal>
    </Menu.Root>
  )
}
