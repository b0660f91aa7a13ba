import { useQueryClient } from '@tanstack/react-query'
import { Box, Button, chakra, Flex, Text } from '@chakra-ui/react'
import { Check } from 'lucide-react'
import { memo, useEffect, useLayoutEffect, useRef, useState, type ReactNode } from 'react'
import type { Reach } from '../../../core/access/reach'
import { api, type BibliographyEntry } from '../../../core/schema/api'
import type { Stretch } from '../../../core/bib/sentences'
import { isHint, notListed, type WordingFinding } from '../../../core/write/quotations'
import type { BriefRules } from '../../../core/write/rules'
import { lineIn, type WorkLine } from '../../../core/sift/line'
import { countWords } from '../../../core/write/words'
import type { Citing, Written } from '../../../core/write/written'
import { call } from '../../api/client'
import { useChange } from '../../api/hooks'
import { useHere, useOpenWork } from '../../frame/inquiry-frame'
import { ReachMark } from '../../frame/marks'
import { Overtaken } from '../../frame/overtaken'
import { tell, tellError } from '../../frame/parts'
import { Rich } from '../../frame/rich'
import { useStable } from '../../frame/use-stable'
import { NAMES, useSay } from '../../frame/work-words'
import type { FoundMark, WritingDesk } from '../../frame/writing/written-field'
import { Agrees, CITATION, CitationFinding, WordingCard, type EntryCheck, type EntryFinding } from './margin'
import { inTextOf } from './cite-here'
import { tie } from './ties'
import { useAnnotation, type Cited } from './use-written'
import { Writing } from './writing'
import { useWordingOf, type WordingDesk } from './use-wording'

/** What an entry that is written in can be asked for by what stands beside it. */
export interface OpenEntry {
  id: number
  putIn: (words: string) => void
  back: () => void
}

/** Findings that are shown at once beside an entry. */
const FIRST = 3

/** Drawn anew only where something of it changed: a list may have a thousand. */
export const Entry = memo(function Entry({
  entry,
  hanging,
  works,
  check,
  style,
  listed,
  putOnList,
  ready,
  wording,
  cited,
  isOpen,
  opened,
  toReading,
  beside,
  move,
}: {
  entry: BibliographyEntry
  hanging: boolean
  /** The lines of the pool. */
  works: readonly WorkLine[]
  check: EntryCheck | undefined
  /** The style as it is called. */
  style: string
  /** Works on the list. */
  listed: ReadonlySet<number>
  putOnList: (work: number) => void
  /** Told whether all of it is as it should be. */
  ready: (entry: number, isReady: boolean) => void
  wording: WordingDesk
  cited: Cited
  isOpen: boolean
  opened: (open: OpenEntry) => void
  toReading: () => void
  /** What reading left, where there is no room for it at the side. */
  beside: ReactNode
  /** Moves it in the list, where that is laid by hand: -1 up, 1 down. */
  move: ((entry: number, by: -1 | 1) => void) | undefined
}) {
  const { inquiry, mayWrite } = useHere()
  const client = useQueryClient()
  const say = useSay(entry.work)
  const { value, write, editor } = useAnnotation(entry, cited)
  const { text } = value
  const found = useWordingOf(wording, entry, value, isOpen)
  const [isAll, setAll] = useState(false)
  const desk = useRef<WritingDesk>(null)
  const row = useRef<HTMLDivElement>(null)
  const page = useRef<HTMLDivElement>(null)
  const lines = useRef<SVGSVGElement>(null)
  // what a work is called is known with the lines
  const unlisted = works.length ? notListed(value, listed, cited) : []
  const isOpenStill = (f: WordingFinding) => !entry.right.includes(f.key)
  const inText = found.findings.filter(isOpenStill)
  const told = [...inText, ...unlisted.filter(isOpenStill)]
  const findings = told.filter(f => !isHint(f))
  // hints are for whoever writes
  const hints = mayWrite && isOpen ? told.filter(isHint) : []
  // what was found a letter ago stays until the next is looked at, marked where its words still stand
  const isOf = (f: Stretch) => found.of.slice(f.from, f.to) === text.slice(f.from, f.to)
  const marks = marksOf([...findings, ...hints].filter(f => f.what === 'not listed' || isOf(f)))
  const citing = (check?.findings ?? []).filter(f => !f.isRight)
  const stands = [
    ...(check?.findings ?? []).filter(f => f.isRight),
    ...[...found.findings, ...unlisted].filter(f => entry.right.includes(f.key)),
  ]
  const length = lengthOf(text, inquiry.rules)
  const isReady = check !== undefined && found.of !== '' && length.fits && citing.length === 0 && findings.length === 0
  useEffect(() => ready(entry.id, isReady), [ready, entry.id, isReady])
  const shown = isAll ? citing : citing.slice(0, FIRST)

  const draw = useStable(() => {
    if (row.current && lines.current && page.current) tie(row.current, lines.current, page.current)
  })
  useLayoutEffect(() => draw())
  useEffect(() => {
    const sized = new ResizeObserver(() => draw())
    if (row.current) sized.observe(row.current)
    return () => sized.disconnect()
  }, [draw])

  const putThere = async (at: Stretch, words: string, told: string, citing: Citing | undefined) => {
    const of = text
    const was = value
    try {
      const cites = citing && { citing, said: await inTextOf(client, inquiry.id, citing) }
      // what was written while it was asked for stays, and is looked at anew
      if (desk.current?.replace(of, at, words, cites)) tell(told, { label: 'Undo', onClick: () => write(was) })
    } catch (e) {
      tellError(e)
    }
  }

  const titleOfOther = (f: WordingFinding): string | undefined => {
    if (f.what === 'not listed') return lineIn(works, f.work)?.title
    return 'run' in f && f.run && f.run.source.work !== entry.work
      ? (lineIn(works, f.run.source.work)?.title ?? '')
      : undefined
  }
  const mend = (f: EntryFinding) => {
    if (f.field && f.mend)
      say(`field:${f.field}`, f.mend.value, {
        said: `${NAMES[f.field]} of “${entry.title}”`,
        words: `${NAMES[f.field]}: put right. The records stay as they came.`,
      })
  }
  const letStand = (key: string) =>
    say(`right:${key}`, true, {
      said: `A finding about “${entry.title}”`,
      words: 'It may stand, and is not asked about again.',
    })

  return (
    <Flex
      ref={row}
      className="entry-row"
      data-entry={entry.id}
      position="relative"
      direction={{ base: 'column', lg: 'row' }}
    >
      <chakra.svg ref={lines} className="entry-ties" aria-hidden="true" display={{ base: 'none', lg: 'block' }} />
      <Box ref={page} className="entry-page">
        <chakra.p
          className="entry-citation"
          data-tied={CITATION}
          pl={hanging ? '30px' : entry.label ? '40px' : 0}
          textIndent={hanging ? '-30px' : 0}
        >
          {entry.label && (
            <chakra.span position="absolute" left="0">
              {entry.label}
            </chakra.span>
          )}
          <Rich runs={entry.citation} />
        </chakra.p>
        <Box pl={{ base: '10px', lg: '30px' }} mt="4px">
          <Writing
            {...{ value, write, desk, marks, isOpen, mayWrite, toReading }}
            label="Annotation"
            placeholder="Write your annotation here"
            most={50_000}
            work={entry.work}
            opened={() =>
              opened({
                id: entry.id,
                putIn: words => desk.current?.putIn(words),
                back: () => desk.current?.focus(),
              })
            }
          />
          <Overtaken editor={editor} what="annotation" theirs={told => String(told.annotation)} />
          <Foot
            entry={entry}
            value={value}
            length={length}
            isReady={isReady}
            state={editor.state}
            reach={lineIn(works, entry.work)?.reach}
            move={move && (by => move(entry.id, by))}
          />
          {beside && <Box mt="14px">{beside}</Box>}
        </Box>
      </Box>
      <Box className="entry-margin">
        {check && <Agrees check={check} style={style} open={citing.length} />}
        {shown.map(f => (
          <CitationFinding
            key={f.key}
            finding={f}
            inquiry={inquiry.id}
            mayWrite={mayWrite}
            mend={() => mend(f)}
            letStand={() => letStand(f.key)}
          />
        ))}
        {citing.length > FIRST && (
          <Button size="xs" variant="ghost" mb="8px" onClick={() => setAll(a => !a)}>
            {isAll ? 'The first ones alone' : `${citing.length - FIRST} more about the citation`}
          </Button>
        )}
        {[...findings, ...hints].map(f => (
          <WordingCard
            key={f.key}
            finding={f}
            title={titleOfOther(f)}
            enter={
              f.what === 'not listed' && lineIn(works, f.work)?.state === 'kept' ? () => putOnList(f.work) : undefined
            }
            labelsOf={wording.labelsOf}
            mayWrite={mayWrite}
            put={(at, words, said, cites) => {
              if (found.of === text) void putThere(at, words, said, cites)
            }}
            letStand={() => letStand(f.key)}
          />
        ))}
        {mayWrite && stands.length > 0 && (
          <Text fontSize="12.5px" color="soft" mb="6px">
            {stands.length === 1 ? 'One finding is right as it is' : `${stands.length} findings are right as they are`},
            by your word.{' '}
            <chakra.button
              type="button"
              className="plain-link"
              onClick={() => {
                for (const f of stands) say(`right:${f.key}`, null, { said: `A finding about “${entry.title}”` })
              }}
            >
              Ask again
            </chakra.button>
          </Text>
        )}
      </Box>
    </Flex>
  )
})

/** The stretches of findings: a run is marked word by word, a quotation whole. */
const marksOf = (findings: readonly WordingFinding[]): FoundMark[] =>
  findings.flatMap(f =>
    (f.what === 'close' ? f.run.marks : f.what === 'not listed' ? f.all : [f]).map(({ from, to }) => ({
      from,
      to,
      key: f.key,
      what: f.what,
    })),
  )

/** How long an annotation is against what is asked. */
function lengthOf(text: string, { wordsFrom, wordsTo }: BriefRules) {
  const words = countWords(text)
  const short = wordsFrom && words < wordsFrom ? wordsFrom - words : 0
  const over = wordsTo && words > wordsTo ? words - wordsTo : 0
  const from = wordsTo ? `${wordsFrom} to ${wordsTo}` : `${wordsFrom} or more`
  const wanted = wordsFrom ? from : wordsTo ? `up to ${wordsTo}` : ''
  return { words, short, over, wanted, fits: words > 0 && !short && !over }
}
type LengthOf = ReturnType<typeof lengthOf>

/** Beneath an annotation: its length against the rule, whether it is saved, and what else can be done. */
function Foot({
  entry,
  value,
  length: { words, short, over, wanted },
  isReady,
  state,
  reach,
  move,
}: {
  entry: BibliographyEntry
  value: Written
  length: LengthOf
  isReady: boolean
  state: string
  reach: Reach | undefined
  move: ((by: -1 | 1) => void) | undefined
}) {
  const { inquiry, mayWrite } = useHere()
  const open = useOpenWork()
  const remove = useChange(inquiry.id, api.dropEntry, (entry: number) => ({ params: { entry } }))
  const enter = useChange(inquiry.id, api.addEntry, (work: number) => ({ body: { work } }))
  const restore = async () => {
    const made = await enter.mutateAsync(entry.work)
    if (value.text)
      await call(api.annotate, {
        params: { inquiry: inquiry.id, entry: made.id },
        body: { annotation: value.text, marks: value.marks },
        version: made.version,
      })
  }
  const { wordsFrom, wordsTo } = inquiry.rules
  return (
    <Box className="entry-foot">
      <Flex wrap="wrap" className="entry-foot-line">
        <Text fontWeight="600" color={words && !short && !over ? 'ink' : 'amber'}>
          {!words
            ? 'No annotation yet'
            : short
              ? `${short} words short`
              : over
                ? `${over} words over`
                : `${words} words`}
        </Text>
        {wanted && <Length words={words} from={wordsFrom ?? 0} to={wordsTo ?? wordsFrom ?? 0} />}
        {wanted && <Text>{words && (short || over) ? `${words}; ${wanted} asked` : `${wanted} asked`}</Text>}
        {isReady && (
          <Flex gap="4px" align="center" color="vine" fontWeight="600">
            <Check size={14} aria-hidden="true" /> ready
          </Flex>
        )}
        <Text color={state === 'not taken' ? 'rust' : 'soft'} aria-live="polite">
          {state === 'untouched' ? '' : state}
        </Text>
      </Flex>
      <Flex wrap="wrap" className="entry-foot-line">
        <Text>In the text: {entry.inText}</Text>
        {reach && reach !== 'in hand' && (
          <Flex gap="5px" align="center" color="amber">
            <ReachMark reach={reach} size={14} />
            {reach === 'unsure' ? 'text not sure' : reach === 'not asked' ? 'text not looked for' : `text ${reach}`}
          </Flex>
        )}
        <chakra.button type="button" className="plain-link" onClick={() => open(entry.work)}>
          Work sheet
        </chakra.button>
        {mayWrite && move && (
          <>
            {([-1, 1] as const).map(by => (
              <chakra.button
                key={by}
                type="button"
                className="plain-link"
                aria-label={by < 0 ? 'Move up' : 'Move down'}
                onClick={() => move(by)}
              >
                {by < 0 ? 'Up' : 'Down'}
              </chakra.button>
            ))}
          </>
        )}
        {mayWrite && (
          <chakra.button
            type="button"
            className="plain-link"
            onClick={() =>
              remove.mutate(entry.id, {
                onSuccess: () =>
                  tell('Taken out; the work stays kept.', {
                    label: 'Undo',
                    onClick: () => void restore().catch(tellError),
                  }),
                onError: tellError,
              })
            }
          >
            Take out
          </chakra.button>
        )}
      </Flex>
    </Box>
  )
}

/** How many words there are, against a bracket about how many are asked. */
function Length({ words, from, to }: { words: number; from: number; to: number }) {
  const most = Math.max(to * 1.25, 1)
  const at = (n: number) => Math.min(1, n / most) * 100
  return (
    <svg width="104" height="14" aria-hidden="true" className="entry-length">
      <line x1="0" x2="100" y1="5" y2="5" stroke="var(--chakra-colors-hair)" strokeWidth="2" />
      <line x1="0" x2={at(words)} y1="5" y2="5" stroke="var(--chakra-colors-vine)" strokeWidth="2.5" />
      <path d={`M${at(from)} 4v7H${at(to)}v-7`} fill="none" stroke="var(--chakra-colors-grape)" strokeWidth="1.4" />
    </svg>
  )
}
