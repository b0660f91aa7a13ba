import { Box, Button, Flex, Text } from '@chakra-ui/react'
import { CircleAlert, Equal, EqualNot, Hash, Quote, Rows3 } from 'lucide-react'
import { Fragment, type ReactNode } from 'react'
import { Link } from 'react-router'
import { fold } from '../../../core/bib/fold'
import type { Answer } from '../../../core/schema/api'
import type { Stretch } from '../../../core/bib/sentences'
import type { WordingFinding } from '../../../core/write/quotations'
import { onPages } from '../../../core/write/passages'
import type { Citing } from '../../../core/write/written'

export type EntryCheck = Answer<'entryChecks'>['entries'][number]
export type EntryFinding = EntryCheck['findings'][number]
/** What a citation as a whole is tied by. */
export const CITATION = 'citation'

/** Something in the margin, tied to what it speaks of. */
export function Card({
  ties,
  voice,
  sign,
  head,
  children,
}: {
  ties: string
  voice: 'vine' | 'amber' | 'rust'
  sign: ReactNode
  head: ReactNode
  children?: ReactNode
}) {
  return (
    <Box
      as="section"
      className="margin-card"
      data-ties={ties}
      data-voice={voice}
      borderTop="1px solid"
      borderColor="line"
      pt="7px"
      pb="12px"
      fontSize="13.5px"
      lineHeight="19px"
    >
      <Flex gap="7px" align="center" color={voice} fontWeight="600" fontSize="14px">
        {sign}
        <Text as="h2" color={voice}>
          {head}
        </Text>
      </Flex>
      {children}
    </Box>
  )
}

/** What a finding offers: keys in a row. */
export const Keys = ({ children }: { children: ReactNode }) => (
  <Flex gap="6px" mt="7px" wrap="wrap" align="center">
    {children}
  </Flex>
)

/** The key that mends, to which the key for the next finding goes. */
const Mend = ({ act, children }: { act: () => void; children: ReactNode }) => (
  <Button size="xs" variant="outline" bg="surface" data-next onClick={act}>
    {children}
  </Button>
)

/** Something about a citation that does not agree. */
export function CitationFinding({
  finding: f,
  inquiry,
  mayWrite,
  mend,
  letStand,
}: {
  finding: EntryFinding
  inquiry: number
  mayWrite: boolean
  mend: () => void
  letStand: () => void
}) {
  return (
    <Card ties={CITATION} voice="amber" sign={<EqualNot size={15} />} head={f.what}>
      {(f.ours ?? f.theirs) !== null && f.field && (
        <Apart
          ours={f.ours}
          theirs={f.theirs}
          where={f.seen ? 'copy' : f.mend && 'record' in f.mend.value ? 'record' : 'mended'}
        />
      )}
      <Text color="soft">
        {f.why}{' '}
        {f.seen && (
          <Link className="plain-link" to={`/inquiries/${inquiry}/read/${f.seen.copy}?page=${f.seen.page}`}>
            See it there
          </Link>
        )}
      </Text>
      {mayWrite && (
        <Keys>
          {f.mend && <Mend act={mend}>{f.mend.called}</Mend>}
          <Button size="xs" variant="ghost" data-next={f.mend ? undefined : true} onClick={letStand}>
            Right as it is
          </Button>
        </Keys>
      )}
    </Card>
  )
}

/** Two texts beneath each other, with the words in which they part boxed. */
function Apart({
  ours,
  theirs,
  where,
  isQuoted = false,
}: {
  ours: string | null
  theirs: string | null
  where: string
  /** A first capital and signs are no matter. */
  isQuoted?: boolean
}) {
  const plain = (word: string) => (isQuoted ? fold(word).replace(/[^\p{L}\p{N}]+/gu, '') : word.trim())
  const rows = [
    ['yours', ours, theirs],
    [where, theirs, ours],
  ] as const
  return (
    <Box as="dl" className="apart">
      {rows.map(
        ([name, text, other]) =>
          text !== null && (
            <Fragment key={name}>
              <dt>{name}</dt>
              <dd>{other === null ? text : boxed(text, other, plain)}</dd>
            </Fragment>
          ),
      )}
    </Box>
  )
}

/** A text with the words boxed that another has not in their place. */
function boxed(text: string, other: string, plain: (word: string) => string): ReactNode {
  const words = (t: string) => t.split(/(?<=\s)/)
  const [own, theirs] = [words(text), words(other)]
  let start = 0
  while (start < own.length && plain(own[start]!) === plain(theirs[start] ?? '')) start++
  let end = 0
  const most = Math.min(own.length, theirs.length) - start
  while (end < most && plain(own.at(-1 - end)!) === plain(theirs.at(-1 - end)!)) end++
  const to = own.length - end
  if (start >= to) return text
  // of the same number of words each is looked at by itself
  const isPaired = own.length === theirs.length
  const from = start > AROUND + 1 ? start - AROUND : 0
  const until = own.length - to > AROUND + 1 ? to + AROUND : own.length
  return [
    from > 0 && '… ',
    ...own.slice(from, until).map((w, k) => {
      const i = from + k
      const isOther = i >= start && i < to && (!isPaired || plain(w) !== plain(theirs[i]!))
      return (
        <Fragment key={i}>
          {isOther ? <b className="apart-word">{w.trimEnd()}</b> : w.trimEnd()}
          {w.slice(w.trimEnd().length)}
        </Fragment>
      )
    }),
    until < own.length && '…',
  ]
}
/** Words that are shown before and behind those that part. */
const AROUND = 3

/** Where words stand that an annotation shares. */
const PLACE = {
  copy: (page: string) => `on ${onPages(page)}`,
  passage: (page: string) => `on ${onPages(page)}`,
  abstract: () => 'in the abstract',
  annotation: () => 'in another annotation of yours',
}

/** Findings that can only be left. */
const hasNoMend = ({ what }: WordingFinding): boolean => what === 'not there' || what === 'figure not there'

const CITED = 'Quoted, as it stands there.'

/** Words that run over a paragraph of the source are one line of a quotation. */
const inOne = (text: string): string => text.replace(/\s+/g, ' ')

/** Something about the wording of an annotation, with what can be done about it. */
export function WordingCard({
  finding: f,
  title,
  labelsOf,
  mayWrite,
  put,
  letStand,
  enter,
}: {
  finding: WordingFinding
  /** The work that the words are of, where it is another than that of the entry. */
  title: string | undefined
  labelsOf: (key: string) => readonly string[]
  mayWrite: boolean
  /** Puts other words in the place of a stretch. */
  put: (at: Stretch, words: string, said: string, cites?: Citing) => void
  letStand: () => void
  /** Puts the work that is cited on the list, where it can be. */
  enter: (() => void) | undefined
}) {
  const run = 'run' in f ? f.run : undefined
  const label = run ? (labelsOf(run.source.key)[run.page - 1] ?? String(run.page)) : ''
  const hasPage = run && (run.source.what === 'copy' || run.source.what === 'passage')
  const paged = hasPage ? ` (${onPages(label)})` : ''
  const where = run ? `${PLACE[run.source.what](label)}${title ? ` of “${title}”` : ''}` : ''
  const stand = (
    <Button
      size="xs"
      variant="ghost"
      data-next={hasNoMend(f) || (f.what === 'not listed' && !enter) ? true : undefined}
      onClick={letStand}
    >
      Let it stand
    </Button>
  )
  if (f.what === 'close')
    return (
      <Card ties={f.key} voice="rust" sign={<Rows3 size={15} />} head={`${f.run.words} words run as ${where}`}>
        <Text fontFamily="serif" lineHeight="21px" className="close-words">
          “{marked(f.run.there.text, f.run.there.marks)}”
        </Text>
        {mayWrite && (
          <Keys>
            {run!.source.what !== 'annotation' && (
              <Mend
                act={() => {
                  const words = `“${inOne(f.run.there.text)}”`
                  const cites = { work: run!.source.work, page: hasPage ? label : '', named: false }
                  // words of another work are cited as that; of the work itself their page is enough
                  if (title) put(f, words, CITED, cites)
                  else put(f, words + paged, CITED)
                }}
              >
                {title ? 'Quote and cite it' : hasPage ? 'Quote it with its page' : 'Quote it'}
              </Mend>
            )}
            {stand}
          </Keys>
        )}
      </Card>
    )
  if (f.what === 'other words')
    return (
      <Card ties={f.key} voice="amber" sign={<EqualNot size={15} />} head={`Not as it stands ${where}`}>
        <Apart ours={f.quote} theirs={f.run.there.text} where={hasPage ? onPages(label) : 'there'} isQuoted />
        {mayWrite && (
          <Keys>
            <Mend act={() => put(f, `“${inOne(f.run.there.text)}”`, 'As it stands there.')}>As it stands there</Mend>
            <Button size="xs" variant="ghost" onClick={() => put(f, f.quote, 'No quotation any more.')}>
              No quotation
            </Button>
            {stand}
          </Keys>
        )}
      </Card>
    )
  if (f.what === 'another page')
    return (
      <Card ties={f.key} voice="amber" sign={<EqualNot size={15} />} head={`These words stand ${where}`}>
        {mayWrite && (
          <Keys>
            <Mend act={() => put(f.named, label, 'The page is the one where they stand.')}>Name {onPages(label)}</Mend>
            {stand}
          </Keys>
        )}
      </Card>
    )
  if (f.what === 'without a page')
    return (
      <Card ties={f.key} voice="amber" sign={<Quote size={15} />} head="A quotation without its page">
        <Text color="soft">{hasPage ? `These words stand ${where}.` : 'Name the page where these words stand.'}</Text>
        {mayWrite && (
          <Keys>
            {hasPage && (
              <Mend act={() => put({ from: f.to, to: f.to }, paged, 'Its page is put in.')}>Put in{paged}</Mend>
            )}
            {stand}
          </Keys>
        )}
      </Card>
    )
  if (f.what === 'figure not there')
    return (
      <Card ties={f.key} voice="amber" sign={<Hash size={15} />} head={`${f.figure} is not in your copy`}>
        <Text color="soft">Its pages were looked through for this figure, with its sign and without.</Text>
        {mayWrite && <Keys>{stand}</Keys>}
      </Card>
    )
  if (f.what === 'figure elsewhere')
    return (
      <Card ties={f.key} voice="amber" sign={<Hash size={15} />} head={`${f.figure} stands ${PLACE.copy(f.label)}`}>
        {mayWrite && (
          <Keys>
            <Mend act={() => put(f.named, f.label, 'The page is the one where it stands.')}>
              Name {onPages(f.label)}
            </Mend>
            {stand}
          </Keys>
        )}
      </Card>
    )
  if (f.what === 'figure without a page')
    return (
      <Card ties={f.key} voice="vine" sign={<Hash size={15} />} head={`${f.figure} stands ${PLACE.copy(f.label)}`}>
        <Keys>
          <Button
            size="xs"
            variant="outline"
            bg="surface"
            onClick={() => put(f.at, ` (${onPages(f.label)})`, 'Its page is put in.')}
          >
            Put in ({onPages(f.label)})
          </Button>
          {stand}
        </Keys>
      </Card>
    )
  if (f.what === 'not listed')
    return (
      <Card ties={f.key} voice="amber" sign={<CircleAlert size={15} />} head="Cited, and not on the list">
        <Text color="soft">
          {title ? `“${title}” is no entry: whoever looks it up finds nothing.` : 'This work is not here any more.'}
        </Text>
        {mayWrite && (
          <Keys>
            {enter && <Mend act={enter}>Put it on the list</Mend>}
            {stand}
          </Keys>
        )}
      </Card>
    )
  return (
    <Card ties={f.key} voice="amber" sign={<CircleAlert size={15} />} head="These words are not in your copy">
      <Text color="soft">It was looked through from its first page to its last.</Text>
      {mayWrite && <Keys>{stand}</Keys>}
    </Card>
  )
}

function marked(text: string, marks: readonly Stretch[]): ReactNode {
  let at = 0
  return [
    ...marks.map(m => {
      const before = text.slice(at, m.from)
      at = m.to
      return (
        <Fragment key={m.from}>
          {before}
          <u>{text.slice(m.from, m.to)}</u>
        </Fragment>
      )
    }),
    text.slice(at),
  ]
}

/** What was checked and agrees. */
export function Agrees({ check, style, open }: { check: EntryCheck; style: string; open: number }) {
  const isSettled = check.findings.length > 0
  const { agrees, records } = check
  const by = records === 1 ? 'one record' : `${records} records`
  if (open) return null
  return (
    <Card
      ties={CITATION}
      voice="vine"
      sign={<Equal size={15} />}
      head={
        isSettled
          ? 'Settled by your word'
          : agrees.length
            ? 'Citation agrees with the copy'
            : 'Nothing found against it'
      }
    >
      <Text color="soft">
        {agrees.length
          ? `${agrees.join(', ')}; held against ${by} and ${style} as well`
          : `held against ${by} and ${style}; no copy in hand`}
      </Text>
    </Card>
  )
}
