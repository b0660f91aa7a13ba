import { Box, Button, Flex, Stack, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import type { Letter } from '../../../core/access/letter'
import { openUrl } from '../../../core/formats/openurl'
import { yearOf } from '../../../core/bib/dates'
import { LetterBox } from '../../frame/letter-box'
import type { Item } from '../../../core/bib/item'
import { api, type Obtainable } from '../../../core/schema/api'
import { useOf } from '../../api/hooks'
import { useSession } from '../../api/session'
import { useHere } from '../../frame/inquiry-frame'
import { copyText } from '../../frame/clipboard'

/** The head of a part of the panel. */
export const Sub = ({ children, aside }: { children: ReactNode; aside?: ReactNode }) => (
  <Flex justify="space-between" align="baseline" mb="6px" minH="22px">
    <Text as="h2" fontSize="13px" fontWeight="600">
      {children}
    </Text>
    {aside}
  </Flex>
)

/** What a form on the way asks for, each to be copied. */
export function AtHand({ work }: { work: number }) {
  const { inquiry } = useHere()
  const told = useOf(inquiry.id, api.work, { params: { work } })
  const [copied, setCopied] = useState<string>()
  const lines = told.data ? detailsOf(told.data.item) : []
  const copy = (name: string, text: string) => copyText(text, `${name}: copied.`).then(done => done && setCopied(name))
  return (
    <Box minW="0">
      <Sub
        aside={
          lines.length > 0 && (
            <Button
              size="2xs"
              variant="ghost"
              onClick={() => void copy('All of it', lines.map(([name, text]) => `${name}: ${text}`).join('\n'))}
            >
              Copy all
            </Button>
          )
        }
      >
        To keep at hand there
      </Sub>
      <ul style={{ listStyle: 'none' }}>
        {lines.map(([name, text]) => (
          <Flex as="li" key={name} gap="10px" align="baseline" borderTop="1px solid" borderColor="hair2" py="3px">
            <Text color="soft" fontSize="12.5px" w="62px" flex="none">
              {name}
            </Text>
            <Text flex="1" minW="0" fontFamily="serif" fontWeight="600" fontSize="13.5px" truncate title={text}>
              {text}
            </Text>
            <Button
              size="2xs"
              variant="ghost"
              aria-label={`Copy ${name}: ${text}`}
              onClick={() => void copy(name, text)}
            >
              {copied === name ? 'copied' : 'Copy'}
            </Button>
          </Flex>
        ))}
      </ul>
      {told.data && (
        <Flex gap="4px 12px" wrap="wrap" mt="8px" fontSize="12.5px" lineHeight="17px">
          {inquiry.libraries
            .filter(l => l.resolver)
            .map(l => (
              <a
                key={l.name}
                className="plain-link"
                href={openUrl(l.resolver, told.data.item)}
                target="_blank"
                rel="noreferrer"
              >
                Ask the link resolver of {l.name}
              </a>
            ))}
        </Flex>
      )}
    </Box>
  )
}

function detailsOf(i: Item): [string, string][] {
  const of: [string, string | number | undefined][] = [
    ['title', i.title],
    [i.type === 'chapter' ? 'book' : 'in', i['container-title']],
    ['volume', i.volume],
    ['issue', i.issue],
    ['year', yearOf(i)],
    ['pages', i.page],
    ['ISSN', i.ISSN],
    ['ISBN', i.ISBN],
    ['DOI', i.DOI],
  ]
  return of.flatMap(([name, value]) => (value === undefined || value === '' ? [] : [[name, String(value)]]))
}

/** An empty page that shows what has to stand on the first one. */
export function CopyPlace({ row }: { row: Obtainable }) {
  return (
    <Flex
      direction="column"
      border="1px dashed"
      borderColor="line"
      borderRadius="sm"
      px="14px"
      py="10px"
      minH="112px"
      maxW="240px"
      bg="paper"
    >
      <Text fontFamily="serif" fontWeight="600" fontSize="13px" lineHeight="17px" lineClamp={3}>
        {row.title}
      </Text>
      <Text fontFamily="serif" fontSize="12.5px" color="soft" mt="4px" truncate>
        {row.authors}
      </Text>
      <Text fontFamily="serif" fontSize="12px" color="soft" mt="auto" truncate>
        {row.doi ?? row.container}
      </Text>
    </Flex>
  )
}

/** Tells a library that a way of its own did not lead to the text. */
export function LibraryLetter({
  work,
  library,
  write,
}: {
  work: number
  library: string
  /** @param from the name of the student */
  write: (item: Item, from: string) => Letter
}) {
  const { inquiry } = useHere()
  const told = useOf(inquiry.id, api.work, { params: { work } })
  const { data } = useSession()
  const [isOpen, setOpen] = useState(false)
  const to = inquiry.libraries.find(l => l.key === library)?.contact
  return (
    <Stack gap="8px">
      <Button
        size="xs"
        variant="outline"
        alignSelf="flex-start"
        aria-expanded={isOpen}
        onClick={() => setOpen(was => !was)}
      >
        Tell the library
      </Button>
      {isOpen && told.data && (
        <LetterBox
          letter={write(told.data.item, data?.user?.name ?? '')}
          {...(to ? { to } : {})}
          name="Letter to the library"
          hint={to ? `It goes to ${to}.` : 'Where the library is written to is not known here; its own pages will say.'}
        />
      )}
    </Stack>
  )
}
