import { CloseButton, Flex, Tabs } from '@chakra-ui/react'
import type { ReactNode } from 'react'

const TABS = ['passages', 'references', 'sheet', 'copy'] as const
export type Tab = (typeof TABS)[number]

/** Beside the pages: what was noted, what the text stands on, and what the copy is. On a phone it lies over them. */
export function Side({
  tab,
  choose,
  close,
  isOver,
  counts,
  content,
}: {
  tab: Tab
  choose: (tab: Tab) => void
  close: () => void
  /** Where it lies over the pages: it was opened. */
  isOver: boolean
  counts: { passages: number; references: number | undefined }
  content: Record<Tab, ReactNode>
}) {
  return (
    <Tabs.Root
      value={tab}
      onValueChange={e => choose(e.value as Tab)}
      variant="plain"
      size="sm"
      role="complementary"
      aria-label="Beside the pages"
      display={{ base: isOver ? 'flex' : 'none', md: 'flex' }}
      flexDirection="column"
      position={{ base: 'absolute', md: 'static' }}
      inset="0"
      zIndex="3"
      bg={{ base: 'paper', md: 'transparent' }}
      w={{ base: 'full', md: '332px', xl: '404px' }}
      flex="none"
      minH="0"
    >
      <Flex align="center" h="40px" flex="none" borderBottom="1px solid" borderColor="hair" pr="12px" pl="24px">
        <Tabs.List flex="1" gap="18px">
          <Tabs.Trigger value="passages" className="side-tab" h="40px" px="0">
            Passages {counts.passages}
          </Tabs.Trigger>
          <Tabs.Trigger value="references" className="side-tab" h="40px" px="0">
            References {counts.references ?? ''}
          </Tabs.Trigger>
          <Tabs.Trigger value="sheet" className="side-tab" h="40px" px="0">
            Sheet
          </Tabs.Trigger>
          <Tabs.Trigger value="copy" className="side-tab" h="40px" px="0">
            This copy
          </Tabs.Trigger>
        </Tabs.List>
        <CloseButton
          size="sm"
          display={{ base: 'inline-flex', md: 'none' }}
          onClick={close}
          aria-label="Back to the pages"
        />
      </Flex>
      {TABS.map(t => (
        <Tabs.Content key={t} value={t} className="side-content">
          {t === tab && content[t]}
        </Tabs.Content>
      ))}
    </Tabs.Root>
  )
}
