import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { useState, type ReactNode } from 'react'
import { Link } from 'react-router'
import { type Answer, api } from '../../core/schema/api'
import { lineIn, type WorkLine } from '../../core/sift/line'
import { useOf, useWorks } from '../api/hooks'
import { useHere, useOpenWork } from './inquiry-frame'
import { LeafMark } from './marks'
import { Heading } from './parts'

type Said = Answer<'saidOf'>['texts'][number]
type Place = Omit<Said['places'][number], 'label'>

/** Sentences of one text that are shown at first. */
const SENTENCES = 3
/** Works without a sentence that are named at first. */
const NAMED = 6

/** Opens a text at a sentence that cites an entry of its list. */
export const toSentence = (inquiry: number, { copy, entry }: Pick<Said, 'copy' | 'entry'>, page?: number): string =>
  `/inquiries/${inquiry}/read/${copy}?${new URLSearchParams({ reference: String(entry), ...(page ? { page: String(page) } : {}) }).toString()}`

/** Whose sentences: of a work of the pool, or of a pointer by its number. */
export type Spoken = { work: number } | { node: number }

const useSaid = (of: Spoken) => {
  const { inquiry } = useHere()
  const isWork = 'work' in of
  const work = useOf(inquiry.id, api.saidOf, { params: { work: isWork ? of.work : 0 }, enabled: isWork })
  const node = useOf(inquiry.id, api.saidOfPointer, { params: { node: isWork ? 0 : of.node }, enabled: !isWork })
  return (isWork ? work : node).data
}

/** Sentences that are told in a line of a list. */
const FEW = 2

/** The first sentences that others say of a work, one of each text, where there is room for a few. */
export function FirstSaid({ of }: { of: Spoken }) {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id).data ?? []
  const texts = (useSaid(of)?.texts ?? []).filter(t => t.places.length)
  if (!texts.length) return null
  const all = texts.reduce((n, t) => n + t.places.length, 0)
  const shown = texts.slice(0, FEW)
  return (
    <Box mt="6px">
      <Text fontSize="12.5px" lineHeight="17px" color="soft">
        {all === 1 ? 'In one sentence of your copies:' : `In ${all} sentences of your copies:`}
      </Text>
      {shown.map(t => {
        const line = lineIn(works, t.work)
        const [first] = t.places
        return (
          <Box key={t.copy}>
            <CitedSentence place={first!} label={first!.label} to={toSentence(inquiry.id, t, first!.page)} />
            {line && (
              <Text pl="52px" fontSize="12.5px" lineHeight="17px" color="soft" truncate title={line.title}>
                {[line.authors, line.year].filter(Boolean).join(' ')}
                {t.places.length > 1 && `, and ${t.places.length - 1} more there`}
              </Text>
            )}
          </Box>
        )
      })}
    </Box>
  )
}

/** What others say of a work: the sentences of the copies at hand that cite it, side by side, and who else does. */
export function SaidOf({ work }: { work: number }) {
  const { inquiry } = useHere()
  const works = useWorks(inquiry.id).data ?? []
  const said = useSaid({ work })
  if (!said || (!said.texts.length && !said.others.length)) return null
  const isKept = (w: number) => lineIn(works, w)?.state === 'kept'
  const texts = said.texts.toSorted((a, b) => Number(isKept(b.work)) - Number(isKept(a.work)))
  const sentences = texts.reduce((n, t) => n + t.places.length, 0)
  return (
    <section aria-label="What others say of it">
      <Heading aside={sentences ? (sentences === 1 ? 'one sentence' : `${sentences} sentences`) : undefined}>
        What others say of it
      </Heading>
      {texts.map(t => (
        <OfText key={t.copy} text={t} line={lineIn(works, t.work)} />
      ))}
      {said.others.length > 0 && (
        <Others
          works={said.others.flatMap(o => lineIn(works, o.work) ?? [])}
          lead={texts.length ? 'Cited as well by' : 'Cited by'}
        />
      )}
    </section>
  )
}

function OfText({ text, line }: { text: Said; line: WorkLine | undefined }) {
  const { inquiry } = useHere()
  const [all, setAll] = useState(false)
  const { places } = text
  if (!line) return null
  return (
    <Box py="6px" borderTop="1px solid" borderColor="hair2">
      <Named line={line} />
      {places.slice(0, all ? undefined : SENTENCES).map((p, i) => (
        <CitedSentence key={i} place={p} label={p.label} to={toSentence(inquiry.id, text, p.page)} />
      ))}
      {!places.length && (
        <Text fontSize="13px" color="soft" pl="24px">
          It stands in its{' '}
          <Link className="plain-link" to={toSentence(inquiry.id, text)}>
            list of references
          </Link>
          ; no sentence was found that cites it.
        </Text>
      )}
      {places.length > SENTENCES && !all && (
        <Button size="2xs" variant="ghost" ml="16px" onClick={() => setAll(true)}>
          All {places.length} sentences
        </Button>
      )}
    </Box>
  )
}

function Others({ works, lead }: { works: readonly WorkLine[]; lead: string }) {
  const [all, setAll] = useState(false)
  const kept = works.toSorted((a, b) => Number(b.state === 'kept') - Number(a.state === 'kept'))
  return (
    <Box mt="6px" pt="6px" borderTop="1px solid" borderColor="hair2">
      <Text fontSize="13px" color="soft" mb="2px">
        {lead} {works.length === 1 ? 'this work' : `these ${works.length}`} of the pool, of which no sentence is at
        hand:
      </Text>
      {kept.slice(0, all ? undefined : NAMED).map(w => (
        <Named key={w.id} line={w} />
      ))}
      {kept.length > NAMED && !all && (
        <Button size="2xs" variant="ghost" onClick={() => setAll(true)}>
          All {kept.length}
        </Button>
      )}
    </Box>
  )
}

function Named({ line }: { line: WorkLine }) {
  const open = useOpenWork()
  return (
    <Flex gap="10px" align="baseline" fontSize="13.5px" lineHeight="20px">
      <Box flex="none" alignSelf="center">
        <LeafMark state={line.state} size={14} />
      </Box>
      <chakra.button
        type="button"
        textAlign="start"
        minW="0"
        truncate
        cursor="pointer"
        onClick={() => open(line.id)}
        title={line.title}
      >
        <chakra.span fontWeight="600">{[line.authors, line.year].filter(Boolean).join(' ')}</chakra.span>{' '}
        <chakra.span fontFamily="serif" color="soft">
          {line.title}
        </chakra.span>
      </chakra.button>
    </Flex>
  )
}

/** A sentence with the citation that it has, leading to its page. */
export function CitedSentence({
  place: { said, at },
  label,
  to,
  onClick,
}: {
  place: Place
  label: string
  to?: string
  onClick?: () => void
}) {
  const content: ReactNode = (
    <>
      <chakra.span color="soft" fontSize="12.5px" textAlign="right" truncate>
        p. {label}
      </chakra.span>
      <chakra.span fontFamily="serif" overflowWrap="anywhere" dir="auto">
        {said.slice(0, at.from)}
        <chakra.b fontWeight="600">{said.slice(at.from, at.to)}</chakra.b>
        {said.slice(at.to)}
      </chakra.span>
    </>
  )
  const look = {
    display: 'grid',
    gridTemplateColumns: '44px 1fr',
    gap: '8px',
    w: 'full',
    py: '3px',
    fontSize: '14px',
    lineHeight: '20px',
    textAlign: 'start',
    cursor: 'pointer',
    _hover: { bg: 'hair2' },
  } as const
  return to ? (
    <chakra.a asChild {...look}>
      <Link to={to}>{content}</Link>
    </chakra.a>
  ) : (
    <chakra.button type="button" onClick={onClick} {...look}>
      {content}
    </chakra.button>
  )
}
