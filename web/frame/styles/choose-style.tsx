import {
  Box,
  Button,
  createListCollection,
  Dialog,
  FileUpload,
  Flex,
  Listbox,
  NativeSelect,
  Portal,
  Text,
} from '@chakra-ui/react'
import { keepPreviousData, useQuery, useQueryClient } from '@tanstack/react-query'
import { format, parseISO } from 'date-fns'
import { useDeferredValue, useState } from 'react'
import { api, type Answer } from '../../../core/schema/api'
import { call } from '../../api/client'
import { tellError } from '../parts'
import { Rich } from '../rich'

export interface ChosenStyle {
  style: string
  name: string
  /** Null where it is that of the style. */
  language: string | null
}
type Style = Answer<'styles'>['styles'][number]

const ALL = ['styles']

/** How a style cites, in words. */
const MANNERS: Record<NonNullable<Style['manner']>, string> = {
  'author-date': 'author and year',
  numeric: 'numbered',
  note: 'notes',
  author: 'author',
  label: 'labels',
}
/** No field, but what other styles are made from. */
const NO_FIELD = 'generic-base'

/** What a style is, in a line. */
const lineOf = (s: Style): string =>
  [
    s.isOwn ? 'your own' : undefined,
    s.manner ? MANNERS[s.manner] : undefined,
    ...s.fields
      .filter(f => f !== NO_FIELD)
      .slice(0, 2)
      .map(f => f.replaceAll(/[-_]/g, ' ')),
    s.language ?? undefined,
    s.updated ? format(parseISO(s.updated), 'yyyy') : undefined,
  ]
    .filter(Boolean)
    .join(' · ')

/** All citation styles: found by words, shown on three works, set in a language; a file of one's own can be brought. */
export function ChooseStyle({
  now,
  choose,
  close,
}: {
  now: ChosenStyle
  choose: (to: ChosenStyle) => void
  close: () => void
}) {
  const client = useQueryClient()
  const [typed, setTyped] = useState('')
  const words = useDeferredValue(typed.trim())
  const [shown, setShown] = useState({ id: now.style, name: now.name })
  const [language, setLanguage] = useState(now.language)
  /** Why a file was not taken in: beside the button, since a message would lie over the others. */
  const [refused, setRefused] = useState<string>()
  const list = useQuery({
    queryKey: [...ALL, words],
    queryFn: ({ signal }) => call(api.styles, { query: { words }, signal }),
    placeholderData: keepPreviousData,
  })
  const styles = list.data?.styles ?? []
  const of = styles.find(s => s.id === shown.id)
  const bring = async (file: File) => {
    setRefused(undefined)
    try {
      const brought = await call(api.bringStyle, { file })
      setTyped('')
      setShown(brought)
      await client.invalidateQueries({ queryKey: ALL })
    } catch (e) {
      setRefused((e as Error).message)
    }
  }
  const drop = async (s: Style) => {
    try {
      await call(api.dropStyle, { params: { style: s.id } })
      setShown({ id: now.style, name: now.name })
      await client.invalidateQueries({ queryKey: ALL })
    } catch (e) {
      tellError(e)
    }
  }
  return (
    <Dialog.Root open onOpenChange={e => !e.open && close()} size="xl">
      <Portal>
        <Dialog.Backdrop />
        <Dialog.Positioner>
          <Dialog.Content maxW="940px">
            <Dialog.Header>
              <Dialog.Title fontFamily="serif">Citation style</Dialog.Title>
            </Dialog.Header>
            <Dialog.Body>
              <div className="style-choice">
                <div>
                  <Listbox.Root
                    collection={createListCollection({
                      items: styles,
                      itemToValue: s => s.id,
                      itemToString: s => s.name,
                    })}
                    value={[shown.id]}
                    onValueChange={({ items }) => items[0] && setShown(items[0])}
                    gap="8px"
                  >
                    <Listbox.Label srOnly>Citation styles</Listbox.Label>
                    <Listbox.Input
                      className="style-words"
                      placeholder="Name, field or language"
                      aria-label="Find a style by name, field or language"
                      value={typed}
                      onChange={e => setTyped(e.target.value)}
                    />
                    <Listbox.Content className="style-list">
                      {styles.map(s => (
                        <Listbox.Item item={s} key={s.id} className="style-item">
                          <Listbox.ItemText>
                            <b>{s.name}</b>
                            <span>{lineOf(s)}</span>
                          </Listbox.ItemText>
                          <Listbox.ItemIndicator />
                        </Listbox.Item>
                      ))}
                    </Listbox.Content>
                  </Listbox.Root>
                  <Text className="style-count" aria-live="polite">
                    {list.isError
                      ? 'The styles could not be read.'
                      : list.data
                        ? told(list.data, words)
                        : 'Reading all styles …'}
                  </Text>
                  {refused && (
                    <Text className="style-count" color="rust" role="alert">
                      {refused}
                    </Text>
                  )}
                </div>
                <Sample
                  style={shown}
                  told={of}
                  language={language}
                  languages={list.data?.languages ?? []}
                  setLanguage={setLanguage}
                  show={setShown}
                  drop={drop}
                />
              </div>
            </Dialog.Body>
            <Dialog.Footer>
              <FileUpload.Root maxFiles={1} onFileAccept={e => e.files[0] && void bring(e.files[0])} flex="1">
                <FileUpload.HiddenInput aria-label="A style file of your own (.csl)" />
                <FileUpload.Trigger asChild>
                  <Button variant="ghost" size="sm">
                    Bring a style file (.csl)
                  </Button>
                </FileUpload.Trigger>
              </FileUpload.Root>
              <Button variant="outline" onClick={close}>
                Leave it
              </Button>
              <Button colorPalette="vine" onClick={() => choose({ style: shown.id, name: shown.name, language })}>
                Use this style
              </Button>
            </Dialog.Footer>
          </Dialog.Content>
        </Dialog.Positioner>
      </Portal>
    </Dialog.Root>
  )
}

function told({ styles, of, all, unread }: Answer<'styles'>, words: string): string {
  const more = unread ? ` ${unread} files could not be read.` : ''
  if (!words) return `Asked for most, of ${all.toLocaleString('en')} styles.${more}`
  if (!of) return `None of ${all.toLocaleString('en')} styles has these words. Try fewer, or bring its file.`
  return styles.length < of
    ? `The first ${styles.length} of ${of.toLocaleString('en')}: add a word.`
    : `${of} ${of === 1 ? 'style' : 'styles'} with these words.`
}

/** Three works in a style, and in which language. */
function Sample({
  style,
  told: of,
  language,
  languages,
  setLanguage,
  show,
  drop,
}: {
  style: { id: string; name: string }
  told: Style | undefined
  language: string | null
  languages: Answer<'styles'>['languages']
  setLanguage: (tag: string | null) => void
  show: (s: { id: string; name: string }) => void
  drop: (s: Style) => Promise<void>
}) {
  const sample = useQuery({
    queryKey: ['style sample', style.id, language],
    queryFn: ({ signal }) =>
      call(api.styleSample, { params: { style: style.id }, query: language ? { language } : {}, signal }),
    placeholderData: keepPreviousData,
    retry: false,
  })
  return (
    <div className="style-sample" aria-busy={sample.isFetching}>
      <h3>{style.name}</h3>
      <Text className="style-count">
        {of?.printsAs ? `Prints as ${of.printsAs}. ` : ''}
        {of?.updated ? `Its file is of ${format(parseISO(of.updated), 'd MMMM yyyy')}.` : ''}
        {of?.updated && ' '}
        {of?.isOwn && (
          <button type="button" className="plain-link" onClick={() => void drop(of)}>
            Drop it
          </button>
        )}
      </Text>
      {of?.newer && (
        <Flex className="style-newer" role="note">
          <span>There is a newer edition: {of.newer.name}.</span>
          <button type="button" className="plain-link" onClick={() => show(of.newer!)}>
            Show that one
          </button>
        </Flex>
      )}
      {sample.isError ? (
        <Text color="rust" role="alert">
          {sample.error.message}
        </Text>
      ) : (
        <Box opacity={sample.isPlaceholderData ? 0.5 : undefined} aria-busy={sample.isPlaceholderData}>
          {sample.data?.entries.map((e, i) => (
            <Box
              key={i}
              className="style-entry"
              {...(e.label ? { 'data-label': e.label.trim() } : {})}
              {...(sample.data.hangingIndent ? { 'data-hanging': '' } : {})}
            >
              <Rich runs={e.citation} />
            </Box>
          ))}
          {sample.data && (
            <Text className="style-count" mt="12px">
              In the text: <b>{sample.data.entries[0]?.inText}</b>
            </Text>
          )}
        </Box>
      )}
      <Flex as="label" className="style-language">
        <span>Written in</span>
        <NativeSelect.Root size="sm" w="220px">
          <NativeSelect.Field
            value={language ?? ''}
            onChange={e => setLanguage(e.target.value || null)}
            aria-label="Language of the citations"
          >
            <option value="">the language of the style</option>
            {languages.map(l => (
              <option key={l.tag} value={l.tag}>
                {l.name}
              </option>
            ))}
          </NativeSelect.Field>
          <NativeSelect.Indicator />
        </NativeSelect.Root>
      </Flex>
    </div>
  )
}
