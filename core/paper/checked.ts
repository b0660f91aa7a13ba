import type { Finding } from '../cite/checks/finding'
import type { RichRun } from '../cite/rich-text'
import { PART_SAYS, partsSeen } from '../write/annotation-parts'
import { onPages } from '../write/passages'
import { VERDICT_WORDS, type BriefRules, type RuleAnswer } from '../write/rules'
import { countWords } from '../write/words'
import type { Mark } from '../write/written'
import { longDay } from '../bib/dates'
import { plainly, type Block, type Writing } from './writing'

/** An entry with all that was looked at. */
export interface CheckedEntry {
  work: number
  label: string | null
  citation: RichRun[]
  annotation: string
  marks: readonly Mark[]
  findings: readonly (Finding & { isRight: boolean })[]
  /** Parts of the citation that its copy has as well. */
  agrees: readonly string[]
  /** The version of its copy, and how the page of a finding is called there; null where there is no copy. */
  copy: { version: string; labels: readonly string[] } | null
  /** How many records of its work it was held against. */
  records: number
  /** What the student has let stand, by the keys of what was found. */
  right: readonly string[]
}
export interface CheckedFacts {
  title: string
  author: string
  /** ISO date. */
  day: string
  style: string
  rules: BriefRules
  answers: readonly RuleAnswer[]
  entries: readonly CheckedEntry[]
}

const paragraph = (text: string): Block => ({ kind: 'paragraph', runs: plainly(text) })

/** Where a finding was seen in the copy. */
const seenOn = (f: Finding, copy: CheckedEntry['copy']): string =>
  f.seen && copy ? `, ${onPages(copy.labels[f.seen.page - 1] ?? String(f.seen.page))} of the copy` : ''

function told(f: Finding, copy: CheckedEntry['copy']): string {
  const sides = [f.ours && `yours: ${f.ours}`, f.theirs && `there: ${f.theirs}`].filter(Boolean).join('; ')
  return `${f.what}: ${f.why}${sides ? ` (${sides})` : ''}${seenOn(f, copy)}`
}

/** Sentences of what was found of one entry. */
function linesOf(e: CheckedEntry, rules: BriefRules, style: string): string[] {
  const { copy, agrees, records, annotation, marks, work } = e
  const held = [
    copy ? `its copy (${copy.version})` : null,
    records === 1 ? 'one record' : `${records} records`,
    `what ${style} needs`,
  ].filter(Boolean)
  const words = countWords(annotation)
  const seen = partsSeen(annotation, marks, work)
  const asked = rules.parts ?? []
  const open = e.findings.filter(f => !f.isRight)
  const settled = e.findings.filter(f => f.isRight)
  // findings about wording are known by their keys alone
  const wording = e.right.filter(key => !e.findings.some(f => f.key === key))
  return [
    `Held against ${held.slice(0, -1).join(', ')} and ${held.at(-1)}.${copy ? '' : ' No copy is in hand.'}`,
    ...(agrees.length ? [`The copy has the same: ${agrees.join(', ')}.`] : []),
    ...(open.length ? open.map(f => `Open. ${told(f, copy)}`) : ['Nothing is open.']),
    ...settled.map(f => `Right as it is, by the writer’s word. ${told(f, copy)}`),
    ...wording.map(key => `Let stand, by the writer’s word. ${key}`),
    words ? `The annotation has ${words} words.` : 'There is no annotation.',
    ...(words && asked.length
      ? [
          seen
            ? asked.map(p => `${p} (${PART_SAYS[p]}): ${seen.has(p) ? 'seen' : 'not seen'}`).join('; ') + '.'
            : 'Parts of an annotation are seen in English alone.',
        ]
      : []),
  ]
}

/** What was checked of a bibliography, how, and what came of it, as a document. */
export function checkedWriting(f: CheckedFacts, look: Pick<Writing, 'sheet'>): Writing {
  const open = f.entries.reduce((n, e) => n + e.findings.filter(x => !x.isRight).length, 0)
  const count = f.entries.length === 1 ? 'one entry' : `${f.entries.length} entries`
  return {
    ...{ title: `What was checked: ${f.title}`, author: f.author, language: 'en', sheet: look.sheet, spacing: 1 },
    blocks: [
      { kind: 'heading', level: 1, text: 'What was checked' },
      { kind: 'paragraph', runs: [{ text: f.title, italic: true }], look: 'middle' },
      paragraph(
        `${count[0]!.toUpperCase()}${count.slice(1)} in ${f.style}, as of ${longDay(f.day)}. Each citation was held against the text of its copy, all records of its work, and what the style asks of its kind; ${open ? `${open} ${open === 1 ? 'finding is' : 'findings are'} open` : 'no finding is open'}.`,
      ),
      paragraph(
        'Wording, quotations and figures are held against abstracts, copies and the other annotations while an annotation is written; of these, what the writer let stand is told below. Parts of an annotation are seen by simple signs in its words.',
      ),
      ...(f.answers.length
        ? [
            { kind: 'heading', level: 2, text: 'What the assignment asks' } as const,
            {
              kind: 'table' as const,
              head: ['Rule', 'Has', ''],
              rows: f.answers.map(a => [a.said, String(a.have), VERDICT_WORDS[a.verdict]]),
            },
          ]
        : []),
      { kind: 'heading', level: 2, text: 'Entries' },
      ...f.entries.flatMap((e): Block[] => [
        {
          ...{ kind: 'paragraph', look: 'hanging', runs: e.citation, leads: true },
          label: e.label ?? undefined,
        },
        { kind: 'list', isNumbered: false, isBelow: true, items: linesOf(e, f.rules, f.style).map(plainly) },
      ]),
      paragraph('Made with Vine Path.'),
    ],
  }
}
