import { longDay } from '../bib/dates'
import { sayStanding, type LoggedSweep } from '../query/methods'
import { sayLanguage } from '../query/languages'
import { stepsOf, type Flows, type Reasoned } from '../sift/flow'
import type { BriefRules } from '../write/rules'
import { plainly, type Block, type Writing } from './writing'

/** What is known of how the works of a bibliography were found and chosen. */
export interface MethodsFacts {
  question: string
  author: string
  /** ISO date of the desk. */
  day: string
  libraries: readonly string[]
  sweeps: readonly (LoggedSweep & { note: string | null })[]
  /** Files that were brought, with how many records they gave. */
  files: readonly { name: string; records: number }[]
  /** Rounds along citations, with the works from which they began and the calls that they took. */
  rounds: readonly { day: string; works: number; calls: number; fresh: number; isStanding: boolean }[]
  /** Who was asked for citations. */
  index: string
  /** Texts whose lists of references were read. */
  lists: number
  records: number
  works: number
  flows: Flows
  rules: BriefRules
  /** Who decides here. */
  people: number
}

const count = (n: number, one: string, many = `${one}s`): string => `${n.toLocaleString('en')} ${n === 1 ? one : many}`
const paragraph = (text: string): Block => ({ kind: 'paragraph', runs: plainly(text) })
const heading = (text: string): Block => ({ kind: 'heading', level: 2, text })

/** What the assignment lets in, in words. */
function criteria({
  languages,
  notBefore,
  kindsOut,
  refereedAtLeast,
  recentAtLeast,
  recentYears,
}: BriefRules): string[] {
  return [
    ...(languages?.length ? [`in ${languages.map(sayLanguage).join(' or ')}`] : []),
    ...(notBefore ? [`from ${notBefore} or later`] : []),
    ...(kindsOut?.length ? [`of no kind of these: ${kindsOut.join(', ')}`] : []),
    ...(refereedAtLeast ? [`at least ${refereedAtLeast} refereed research articles`] : []),
    ...(recentAtLeast && recentYears ? [`at least ${recentAtLeast} of the last ${recentYears} years`] : []),
  ]
}

function searches(sweeps: MethodsFacts['sweeps']): Block[] {
  const rows = sweeps.flatMap((s, i) =>
    s.catalogues.map(c => [
      `${i + 1}${s.name ? ` ${s.name}` : ''}`,
      longDay(s.deskDay),
      c.name,
      c.asked ?? s.cql,
      c.state === 'failed' ? 'no answer' : c.count === null ? 'not counted' : c.count.toLocaleString('en'),
      c.fetched.toLocaleString('en'),
      c.changes.join(' '),
    ]),
  )
  return [
    {
      kind: 'table',
      head: ['Search', 'Day', 'Catalogue', 'As it was asked', 'Found', 'Examined', 'What it cannot'],
      rows,
    },
  ]
}

function selection(flows: Flows): Block[] {
  const columns = [
    ['By catalogues', stepsOf(flows.catalogues)] as const,
    ['By files and trails alone', stepsOf(flows.others)] as const,
  ].filter(([, steps], i) => i === 0 || steps[0]!.count > 0)
  const rows = columns[0]![1].flatMap((step, i) => [
    [step.label, ...columns.map(([, s]) => s[i]!.count.toLocaleString('en'))],
    ...(step.out ? [[`– ${step.out.label}`, ...columns.map(([, s]) => s[i]!.out!.count.toLocaleString('en'))]] : []),
  ])
  const reasons = new Map<string, number[]>()
  const add = (list: readonly Reasoned[], at: number) => {
    for (const r of list) {
      const of = reasons.get(r.reason) ?? [0, 0, 0]
      of[at]! += r.works
      reasons.set(r.reason, of)
    }
  }
  for (const f of [flows.catalogues, flows.others])
    [f.asideByTitle, f.asideByAbstract, f.asideByText].forEach((list, at) => add(list, at))
  return [
    { kind: 'table', head: ['Step', ...columns.map(([name]) => name)], rows },
    ...(reasons.size
      ? [
          paragraph('Works were set aside for these reasons:'),
          {
            kind: 'table' as const,
            head: ['Reason', 'By title', 'By abstract', 'By text'],
            rows: [...reasons]
              .toSorted(([, a], [, b]) => sum(b) - sum(a))
              .map(([reason, ns]) => [reason, ...ns.map(n => n.toLocaleString('en'))]),
          },
        ]
      : []),
  ]
}
const sum = (ns: readonly number[]): number => ns.reduce((a, b) => a + b, 0)

/**
 * What the two reporting standards ask of a search and a selection, each with whether it is told above. Items by their
 * numbers: PRISMA-S (Rethlefsen et al. 2021) and PRISMA 2020 (Page et al. 2021), in words of our own.
 */
function asked(f: MethodsFacts): string[][] {
  const swept = f.sweeps.length > 0
  const days = new Set(f.sweeps.map(s => s.deskDay))
  const yes = (is: boolean, where: string, missing = 'to be told by you'): string => (is ? where : missing)
  const none = 'none was used here; tell it where you did otherwise'
  return [
    ['S1 databases by name', yes(swept, 'Searches', 'no search was run')],
    ['S2 platforms through which several were searched', yes(swept, 'Sources', 'no search was run')],
    ['S3 registers of studies', none],
    [
      'S4 pages and printed sources browsed',
      yes(f.files.length > 0, 'Sources: files that were brought; whence, to be told by you'),
    ],
    ['S5 searching by citations', yes(f.rounds.length + f.lists > 0, 'Sources', none)],
    ['S6 authors and experts asked', 'to be told by you'],
    ['S7 other methods', yes(f.files.length > 0, 'Sources', none)],
    ['S8 full strategies, as they were run', yes(swept, 'Searches', 'no search was run')],
    [
      'S9 limits, with why',
      yes(swept, 'Searches: as part of what was asked; why, to be told by you', 'no search was run'),
    ],
    ['S10 ready-made filters', none],
    ['S11 strategies of earlier work', 'to be told by you'],
    ['S12 searching again later', yes(days.size > 1, 'Searches: by their days', 'searched on one day alone')],
    ['S13 day of the last search', yes(swept, 'Searches', 'no search was run')],
    ['S14 strategy looked over by somebody else', 'to be told by you'],
    ['S15 records of each source', yes(swept, 'Searches; Selection', 'no search was run')],
    ['S16 how equal records were joined', yes(f.records > 0, 'Selection')],
    ['5 what lets a work in', yes(criteria(f.rules).length > 0, 'What was looked for')],
    ['8 who selects, and how', yes(f.works > 0, 'Selection')],
    ['16a results of the selection', yes(f.works > 0, 'Selection')],
    [
      '16b works nearly let in, with why not',
      yes(f.works > 0, 'Selection: reasons and counts; single works are in the list of set aside'),
    ],
  ]
}

/** How works were searched for and chosen, as a document: what the desk knows, and what only the student can tell. */
export function methodsWriting(f: MethodsFacts, look: Pick<Writing, 'sheet'>): Writing {
  const rules = criteria(f.rules)
  const walked = f.rounds.filter(r => !r.isStanding)
  const failed = f.sweeps.flatMap((s, i) =>
    s.catalogues.filter(c => c.state === 'failed').map(c => `${c.name} (search ${i + 1})`),
  )
  const notes = f.sweeps.flatMap((s, i) => (s.note ? [`Search ${i + 1}: ${s.note}`] : []))
  return {
    ...{
      title: `Methods: ${f.question}`,
      author: f.author,
      language: 'en',
      sheet: look.sheet,
      spacing: 1,
      isWide: true,
    },
    blocks: [
      { kind: 'heading', level: 1, text: 'Methods' },
      { kind: 'paragraph', runs: [{ text: f.question, italic: true }], look: 'middle' },
      { kind: 'paragraph', runs: plainly(`As of ${longDay(f.day)}`), look: 'middle' },
      heading('What was looked for'),
      paragraph(
        rules.length
          ? `The assignment asks for works ${rules.join('; ')}.`
          : 'The assignment sets no limits that are on record here.',
      ),
      heading('Sources'),
      paragraph(
        f.sweeps.length
          ? `${count(new Set(f.sweeps.flatMap(s => s.catalogues.map(c => c.name))).size, 'catalogue was', 'catalogues were')} searched through ${f.libraries.join(' and ') || 'no library'}.`
          : 'No catalogue was searched.',
      ),
      ...(f.files.length
        ? [
            paragraph(
              `Files were brought: ${f.files.map(x => `${x.name} (${count(x.records, 'record')})`).join(', ')}.`,
            ),
          ]
        : []),
      ...(walked.length
        ? [
            paragraph(
              `Citations were followed, backward to what works cite and forward to what cites them: ${walked
                .map(
                  r => `on ${longDay(r.day)} from ${count(r.works, 'work')} (${count(r.calls, 'call')} of the index)`,
                )
                .join('; ')}.`,
            ),
          ]
        : []),
      ...sayStanding(f.rounds, f.index).map(paragraph),
      ...(f.lists ? [paragraph(`The lists of references of ${count(f.lists, 'text was', 'texts were')} read.`)] : []),
      heading('Searches'),
      ...(f.sweeps.length ? searches(f.sweeps) : [paragraph('No search has been run yet.')]),
      ...(failed.length ? [paragraph(`Did not answer: ${failed.join(', ')}.`)] : []),
      ...notes.map(paragraph),
      heading('Selection'),
      paragraph(
        `${count(f.records, 'record')} came together. Records of one work were joined by their identifiers, titles, people, years and places, those in doubt by hand; ${count(f.works, 'work')} remained. They are read in passes, by title, by abstract and by text, by ${count(f.people, 'person', 'people')}. How far that went stands in the table.`,
      ),
      ...selection(f.flows),
      heading('What standards of reporting ask'),
      paragraph('By the numbers of PRISMA-S (with an S) and PRISMA 2020, and where this document tells it.'),
      { kind: 'table', head: ['Item', 'Told'], rows: asked(f) },
      paragraph('Made with Vine Path.'),
    ],
  }
}
