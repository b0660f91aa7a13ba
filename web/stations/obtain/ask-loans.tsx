import {
  Box,
  Button,
  chakra,
  Checkbox,
  Field,
  Flex,
  Input,
  NativeSelect,
  Stack,
  Text,
  Textarea,
} from '@chakra-ui/react'
import { useQuery } from '@tanstack/react-query'
import { format, parseISO } from 'date-fns'
import { useState } from 'react'
import { Link } from 'react-router'
import { lacking, type LoanKind } from '../../../core/access/loan'
import { plainTitle } from '../../../core/bib/clean'
import { api, type LoanDraft } from '../../../core/schema/api'
import type { REQUEST_PARTS } from '../../../core/schema/api/loans'
import { call } from '../../api/client'
import { SendByHand } from './send-by-hand'
import { FormDialog } from '../../frame/form'
import { Failed, Notice, tell, Waiting } from '../../frame/parts'
import { useHere } from '../../frame/inquiry-frame'
import { spanOf } from './way-words'
import { chance } from '../../frame/counted'

type Part = (typeof REQUEST_PARTS)[number]
type Draft = LoanDraft['works'][number]
/** What is asked once where a description lacks it. */
const ASKED: readonly { part: Part; label: string }[] = [
  { part: 'title', label: 'Title' },
  { part: 'container-title', label: 'Journal' },
  { part: 'volume', label: 'Volume' },
  { part: 'issue', label: 'Issue' },
  { part: 'page', label: 'Pages' },
]
const day = (iso: string): string => format(parseISO(iso), 'd MMM')

/** Asks a library’s office for scans and books: what is asked for, on which terms, and when it would come. */
export function AskLoans({ works, close }: { works: readonly number[]; close: () => void }) {
  const { inquiry } = useHere()
  const draft = useQuery({
    queryKey: ['inquiry', inquiry.id, 'draft', ...works],
    queryFn: () => call(api.draftLoans, { params: { inquiry: inquiry.id }, body: { works: [...works] } }),
    gcTime: 0,
    staleTime: Infinity,
  })
  const [library, setLibrary] = useState<string>()
  const [out, setOut] = useState<ReadonlySet<number>>(new Set())
  const [parts, setParts] = useState<ReadonlyMap<number, Partial<Record<Part, string>>>>(new Map())
  const [kinds, setKinds] = useState<ReadonlyMap<number, LoanKind>>(new Map())
  const [note, setNote] = useState('')
  const [anyEdition, setAnyEdition] = useState(false)
  const [accepted, setAccepted] = useState(false)
  const [failed, setFailed] = useState<Error>()
  const [busy, setBusy] = useState(false)
  const [byHand, setByHand] = useState<readonly number[]>()
  const { offices = [], works: drafted = [], neededBy = null } = draft.data ?? {}
  const office = offices.find(o => o.library === library) ?? offices[0]
  const kindOf = (w: Draft): LoanKind => kinds.get(w.work) ?? w.kind
  // partners are known to have it in the form in which it is asked for first
  const partnersFor = (w: Draft) =>
    kindOf(w) === w.kind ? w.partners.find(p => p.library === office?.library) : undefined
  const offerFor = (w: Draft) => partnersFor(w) ?? office?.kinds.find(k => k.kind === kindOf(w))
  const kindsFor = (w: Draft): LoanKind[] => {
    const kinds = office!.kinds.map(k => k.kind)
    const sent = w.partners.some(p => p.library === office!.library)
    return sent && !kinds.includes(w.kind) ? [...kinds, w.kind] : kinds
  }
  const chosen = drafted.filter(w => !w.why && !out.has(w.work) && offerFor(w))
  const send = async () => {
    if (!accepted) return setFailed(new Error('Read the terms of the office, and accept them.'))
    setBusy(true)
    setFailed(undefined)
    try {
      const body = {
        ...{ library: office!.library, note, anyEdition, accepted },
        works: chosen.map(w => ({ work: w.work, kind: kindOf(w), parts: parts.get(w.work) ?? {} })),
      }
      const { loans } = await call(api.askFor, { params: { inquiry: inquiry.id }, body })
      if (office!.manner !== 'messages') return setByHand(loans)
      tell(`Asked for ${loans.length}. Follow ${loans.length === 1 ? 'it' : 'them'} under “Asked for”.`)
      close()
    } catch (e) {
      setFailed(e as Error)
      setBusy(false)
    }
  }
  return (
    <FormDialog
      wide
      title={byHand ? 'Now send it' : works.length === 1 ? 'Ask for it' : 'Ask for these'}
      submit={() => (byHand ? close() : void send())}
      close={close}
      buttons={
        byHand ? (
          <Button type="submit" variant="outline">
            Done
          </Button>
        ) : (
          <>
            <Button variant="outline" onClick={close}>
              Not now
            </Button>
            <Button type="submit" colorPalette="vine" loading={busy} disabled={!chosen.length}>
              {office && office.manner !== 'messages'
                ? 'On to sending'
                : chosen.length > 1
                  ? `Ask for ${chosen.length}`
                  : 'Ask for it'}
            </Button>
          </>
        )
      }
    >
      {byHand && <SendByHand loans={byHand} />}
      {draft.isPending && <Waiting what="Drafting" />}
      {draft.isError && <Failed error={draft.error} again={() => void draft.refetch()} />}
      {draft.data && !office && (
        <Notice voice="amber">
          None of your libraries has an office that gets texts from elsewhere.{' '}
          <Link to="/libraries">See your libraries</Link>
        </Notice>
      )}
      {office && !byHand && (
        <>
          {failed && <Notice voice="rust">{failed.message}</Notice>}
          {offices.length > 1 && (
            <Field.Root>
              <Field.Label>Library</Field.Label>
              <NativeSelect.Root size="sm">
                <NativeSelect.Field value={office.library} onChange={e => setLibrary(e.target.value)}>
                  {offices.map(o => (
                    <option key={o.library} value={o.library}>
                      {o.name}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
            </Field.Root>
          )}
          <Box maxH="232px" overflow="auto" borderBlock="1px solid" borderColor="hair">
            {drafted.map(w => (
              <WorkAsked
                key={w.work}
                draft={w}
                kind={kindOf(w)}
                kinds={kindsFor(w)}
                partners={partnersFor(w)?.names ?? []}
                when={offerFor(w)?.when ?? null}
                neededBy={neededBy}
                isIn={!out.has(w.work)}
                alone={drafted.length === 1}
                toggle={() =>
                  setOut(was => new Set(was.has(w.work) ? [...was].filter(x => x !== w.work) : [...was, w.work]))
                }
                choose={kind => setKinds(was => new Map(was).set(w.work, kind))}
                parts={parts.get(w.work) ?? {}}
                put={(part, value) => setParts(was => new Map(was).set(w.work, { ...was.get(w.work), [part]: value }))}
              />
            ))}
          </Box>
          {chosen.some(w => kindOf(w) === 'book') && (
            <Checkbox.Root size="sm" checked={anyEdition} onCheckedChange={e => setAnyEdition(e.checked === true)}>
              <Checkbox.HiddenInput />
              <Checkbox.Control />
              <Checkbox.Label>Another edition will do</Checkbox.Label>
            </Checkbox.Root>
          )}
          <Field.Root>
            <Field.Label>Note to the office</Field.Label>
            <Textarea size="sm" rows={1} maxLength={1000} value={note} onChange={e => setNote(e.target.value)} />
            <Field.HelperText>{SENDING[office.manner]}</Field.HelperText>
          </Field.Root>
          <Stack gap="8px">
            {office.terms && (
              <Box
                borderStart="3px solid"
                borderColor="amber"
                ps="12px"
                fontFamily="serif"
                fontSize="14px"
                lineHeight="20px"
              >
                {office.terms}
              </Box>
            )}
            <Checkbox.Root
              size="sm"
              checked={accepted}
              onCheckedChange={e => (setAccepted(e.checked === true), setFailed(undefined))}
            >
              <Checkbox.HiddenInput />
              <Checkbox.Control />
              <Checkbox.Label>
                {office.terms
                  ? `I accept the terms of ${office.name}`
                  : 'It is for my own study, and is passed to nobody'}
              </Checkbox.Label>
            </Checkbox.Root>
          </Stack>
        </>
      )}
    </FormDialog>
  )
}

const SENDING = {
  messages: 'It is told your name, your address and what you ask for.',
  form: 'Then its own form opens, filled in; you send it there. The note is yours to copy.',
  mail: 'Then a letter stands ready that you send by your own mail; the note stands in it.',
}

const sayPartners = ([first, ...others]: readonly string[]): string =>
  others.length ? `From ${first}, else from ${others.join(' or ')}.` : `From ${first}, which has it.`

/** One work of a request: whether it is asked for, in which form, when it comes, and what its description lacks. */
function WorkAsked({
  draft: w,
  kind,
  kinds,
  partners,
  when,
  neededBy,
  isIn,
  alone,
  toggle,
  choose,
  parts,
  put,
}: {
  draft: Draft
  kind: LoanKind
  kinds: readonly LoanKind[]
  /** Partners that have it, the first to be asked first. */
  partners: readonly string[]
  when: LoanDraft['offices'][number]['kinds'][number]['when']
  neededBy: string | null
  isIn: boolean
  alone: boolean
  toggle: () => void
  choose: (kind: LoanKind) => void
  parts: Partial<Record<Part, string>>
  put: (part: Part, value: string) => void
}) {
  const title = plainTitle(w.item.title)
  const isArticle = w.item.type.startsWith('article')
  // what was lacking at first stays open, so that it can be changed while it is written
  const open = ASKED.filter(
    ({ part }) =>
      !w.item[part] && (part === 'title' || part === 'page' ? part === 'title' || kind === 'scan' : isArticle),
  )
  const lacks = lacking({ ...w.item, ...parts })
  return (
    <Box py="8px" opacity={w.why || !isIn ? 0.7 : 1}>
      <Flex gap="10px" align="flex-start">
        {!alone && (
          <Checkbox.Root size="sm" mt="2px" checked={isIn && !w.why} disabled={Boolean(w.why)} onCheckedChange={toggle}>
            <Checkbox.HiddenInput aria-label={`Ask for “${title}”`} />
            <Checkbox.Control />
          </Checkbox.Root>
        )}
        <Box flex="1" minW="0">
          <Text fontFamily="serif" fontWeight="600" fontSize="14.5px" lineHeight="20px" lineClamp={2}>
            {title}
          </Text>
          <Text fontSize="12.5px" lineHeight="17px" color="soft">
            {w.why ??
              [
                w.item['container-title'],
                w.item.volume && `volume ${w.item.volume}`,
                w.item.page && `pages ${w.item.page}`,
              ]
                .filter(Boolean)
                .join(', ')}
          </Text>
          {!w.why && partners.length > 0 && (
            <Text fontSize="12.5px" lineHeight="17px">
              {sayPartners(partners)}
            </Text>
          )}
        </Box>
        {!w.why && (
          <Box flex="none" w="200px" fontSize="12.5px" lineHeight="17px">
            {kinds.length > 1 ? (
              <NativeSelect.Root size="xs">
                <NativeSelect.Field
                  aria-label={`Scan or book of “${title}”`}
                  value={kind}
                  onChange={e => choose(e.target.value as LoanKind)}
                >
                  {kinds.map(k => (
                    <option key={k} value={k}>
                      {k === 'scan' ? 'a scan' : 'the book itself'}
                    </option>
                  ))}
                </NativeSelect.Field>
                <NativeSelect.Indicator />
              </NativeSelect.Root>
            ) : (
              <Text>{kind === 'scan' ? 'a scan' : 'the book itself'}</Text>
            )}
            {when ? (
              <Text color="soft" mt="2px">
                {spanOf(when)}
                {neededBy && `, ${chance(when.likely)} by ${day(neededBy)}`}
              </Text>
            ) : (
              <Text color="rust">not from this office</Text>
            )}
          </Box>
        )}
      </Flex>
      {!w.why && isIn && open.length > 0 && (
        <Flex gap="8px" mt="6px" ps={alone ? 0 : '26px'} wrap="wrap" align="center">
          {open.map(({ part, label }) => (
            <chakra.label key={part} fontSize="12.5px" display="flex" gap="6px" alignItems="center">
              {label}
              <Input
                size="xs"
                w={part === 'title' || part === 'container-title' ? '220px' : '70px'}
                value={parts[part] ?? ''}
                onChange={e => put(part, e.target.value)}
              />
            </chakra.label>
          ))}
          {lacks.length > 0 && (
            <Text fontSize="12.5px" color="amber">
              It lacks {lacks.join(', ')}: what you know helps to find it.
            </Text>
          )}
        </Flex>
      )}
    </Box>
  )
}
