import { Button, Checkbox, createListCollection, Field, Flex, Input, Listbox, Text } from '@chakra-ui/react'
import { queryOptions, useQuery, useQueryClient, type QueryClient } from '@tanstack/react-query'
import { Plus, X } from 'lucide-react'
import { useDeferredValue, useRef, useState } from 'react'
import { fold } from '../../../core/bib/fold'
import { api } from '../../../core/schema/api'
import type { WorkLine } from '../../../core/sift/line'
import { citingOf, placesOf, TOGETHER, type CitedPlace, type Citing } from '../../../core/write/written'
import { call } from '../../api/client'
import { useOf, useWorks } from '../../api/hooks'
import { useHere } from '../../frame/inquiry-frame'
import { Kbd, tellError } from '../../frame/parts'

/** Works that are shown at once: more are found by words. */
const MOST = 40
const NONE: readonly WorkLine[] = []
/** A page as a citation takes it: what is written before the number is the style's. */
const pageOf = (typed: string): string => typed.trim().replace(/^(pp?|S)\.?\s*(?=[\divxlc])/i, '')

/** How a citation reads in the style of the list, read anew whenever something of the inquiry changes. */
const readsQuery = (inquiry: number, citing: Citing | undefined) =>
  queryOptions({
    queryKey: ['inquiry', inquiry, '/citing', citing],
    queryFn: ({ signal }) => call(api.citing, { params: { inquiry }, body: citing!, signal }),
    enabled: citing !== undefined,
  })
export const inTextOf = async (client: QueryClient, inquiry: number, citing: Citing): Promise<string> =>
  (await client.fetchQuery(readsQuery(inquiry, citing))).inText

const nameOf = (w: WorkLine | undefined): string =>
  w ? `${w.authors || 'No author'} ${w.year ?? 'no year'}` : 'A work that is no more'

/** Which works are cited, on which pages, and how: found by words, put in by the keyboard alone. */
export function CiteHere({
  now,
  first,
  put,
  close,
}: {
  /** The citation that is changed. */
  now: Citing | undefined
  /** The work that comes first. */
  first: number | undefined
  put: (citing: Citing, said: string) => void
  close: () => void
}) {
  const { inquiry } = useHere()
  const client = useQueryClient()
  const lines = useWorks(inquiry.id).data ?? NONE
  const listed = useOf(inquiry.id, api.bibliography).data?.entries ?? []
  const [words, setWords] = useState('')
  const before = now && placesOf(now)
  /** What is cited with the one that is chosen below. */
  const [others, setOthers] = useState<readonly CitedPlace[]>(before?.slice(0, -1) ?? [])
  const [work, setWork] = useState(before?.at(-1)!.work ?? first)
  const [page, setPage] = useState(before?.at(-1)!.page ?? '')
  const [isNamed, setNamed] = useState(now?.named ?? false)
  const wordsField = useRef<HTMLInputElement>(null)
  const pageField = useRef<HTMLInputElement>(null)

  const place = new Map(listed.map((e, i) => [e.work, i]))
  const rank = (w: WorkLine) => (w.id === first ? -1 : (place.get(w.id) ?? listed.length))
  const sought = fold(words).split(/\s+/).filter(Boolean)
  const all = lines
    .filter(w => w.state === 'kept' || before?.some(p => p.work === w.id))
    .map(w => ({ ...w, called: fold(`${w.authors} ${w.year ?? ''} ${w.title}`) }))
    .filter(w => sought.every(s => w.called.includes(s)))
    .sort((a, b) => rank(a) - rank(b))
  const shown = all.slice(0, MOST)
  const chosen = [...others, ...(work === undefined ? [] : [{ work, page: pageOf(page) }])]
  const citing = citingOf(chosen, isNamed)
  const reads = useQuery(readsQuery(inquiry.id, useDeferredValue(citing)))
  const lineOf = (id: number) => lines.find(w => w.id === id)

  const putIn = async () => {
    if (!citing) return
    try {
      put(citing, await inTextOf(client, inquiry.id, citing))
    } catch (e) {
      tellError(e)
    }
  }
  /** What is chosen is cited, and the next is looked for. */
  const another = () => {
    setOthers(chosen)
    setWork(undefined)
    setPage('')
    setWords('')
    wordsField.current?.focus()
  }
  return (
    <form
      className="cite-here"
      aria-label="Cite a work"
      onSubmit={e => {
        e.preventDefault()
        // from the words it goes on to the page
        if (document.activeElement === wordsField.current) pageField.current?.focus()
        else void putIn()
      }}
      onKeyDown={e => {
        // of a work that was chosen before the listbox says nothing
        if (e.key === 'Enter' && e.target === wordsField.current && e.defaultPrevented) pageField.current?.focus()
        if (e.key !== 'Escape') return
        e.stopPropagation()
        close()
      }}
    >
      {others.length > 0 && (
        <Flex as="ul" listStyleType="none" aria-label="Cited together" wrap="wrap" gap="4px 6px" mb="6px">
          {others.map((o, i) => {
            const called = nameOf(lineOf(o.work))
            return (
              <li key={i} className="cited-with" title={lineOf(o.work)?.title}>
                <span>
                  {called}
                  {o.page && `, p. ${o.page}`}
                </span>
                <button
                  type="button"
                  aria-label={`Cite without ${called}`}
                  onClick={() => {
                    setOthers(others.toSpliced(i, 1))
                    wordsField.current?.focus()
                  }}
                >
                  <X size={13} aria-hidden="true" />
                </button>
              </li>
            )
          })}
        </Flex>
      )}
      <Listbox.Root
        collection={createListCollection({ items: shown, itemToValue: w => String(w.id), itemToString: w => w.title })}
        value={work === undefined ? [] : [String(work)]}
        onSelect={({ value }) => {
          setWork(Number(value))
          pageField.current?.focus()
        }}
        gap="6px"
      >
        <Listbox.Label srOnly>Works that can be cited</Listbox.Label>
        <Listbox.Input
          ref={wordsField}
          autoFocus
          autoHighlight
          className="cite-words"
          placeholder="Author, year or words of the title"
          aria-label="Find the work by author, year or words of its title"
          value={words}
          onChange={e => setWords(e.target.value)}
        />
        <Listbox.Content maxH="132px" p="0" bg="transparent" borderWidth="0">
          {shown.map(w => (
            <Listbox.Item
              item={w}
              key={w.id}
              className="cite-work"
              title={w.title}
              px="8px"
              py="3px"
              borderRadius="0"
              borderBottom="1px solid"
              borderColor="hair2"
              fontSize="13px"
              lineHeight="19px"
              _highlighted={{ bg: 'hair2' }}
              _selected={{ bg: 'vine.soft' }}
            >
              <Listbox.ItemText truncate>
                <b>{nameOf(w)}</b> {w.title}
              </Listbox.ItemText>
              {!place.has(w.id) && <i> not on the list</i>}
              <Listbox.ItemIndicator />
            </Listbox.Item>
          ))}
        </Listbox.Content>
        {!shown.length && <Text color="soft">No kept work has these words.</Text>}
        {all.length > MOST && <Text color="soft">{all.length - MOST} more are found by words.</Text>}
      </Listbox.Root>
      <Flex gap="10px 14px" wrap="wrap" align="center" mt="8px">
        <Field.Root orientation="horizontal" w="auto" gap="6px">
          <Field.Label fontWeight="400" fontSize="13px" flex="none">
            Page
          </Field.Label>
          <Input
            ref={pageField}
            size="xs"
            w="76px"
            value={page}
            placeholder="none"
            maxLength={40}
            onChange={e => setPage(e.target.value)}
          />
        </Field.Root>
        <Checkbox.Root
          size="sm"
          colorPalette="vine"
          checked={isNamed && chosen.length < 2}
          disabled={chosen.length > 1}
          title={chosen.length > 1 ? 'Of one work alone' : undefined}
          onCheckedChange={e => setNamed(e.checked === true)}
        >
          <Checkbox.HiddenInput />
          <Checkbox.Control />
          <Checkbox.Label fontWeight="400" fontSize="13px">
            names in the sentence
          </Checkbox.Label>
        </Checkbox.Root>
        <Button
          size="xs"
          variant="outline"
          onClick={another}
          disabled={work === undefined || chosen.length >= TOGETHER}
        >
          <Plus size={13} aria-hidden="true" /> Another work
        </Button>
      </Flex>
      <Flex gap="10px 14px" wrap="wrap" align="center" mt="8px">
        <Text color={reads.isError ? 'rust' : 'soft'} flex="1" minW="140px" aria-live="polite">
          {reads.isError ? (
            reads.error.message
          ) : (
            <>
              reads <span className="cites">{(citing && reads.data?.inText) ?? '…'}</span>
            </>
          )}
        </Text>
        <Button size="xs" type="submit" colorPalette="vine" disabled={!citing}>
          {now ? 'Change it' : 'Put it in'} <Kbd>↵</Kbd>
        </Button>
        <Button size="xs" variant="ghost" onClick={close}>
          Close <Kbd>Esc</Kbd>
        </Button>
      </Flex>
    </form>
  )
}
