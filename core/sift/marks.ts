import type { Field, FieldChoice } from '../match/best-fields'
import type { Kind } from '../appraise/kind'
import { standingLines, type LogLine } from './log'

/** What a kept work is for. */
export const PARTS = ['evidence', 'background', 'lead'] as const
export type Part = (typeof PARTS)[number]

/**
 * A line of the log of what a student says of a work beside deciding on it. `about` is `part`, `note`, `kind`,
 * `strand:7`, `tag:owls`, `field:title`, `copy:7` or `right:` with the key of a finding; its value is a Part, a text, a
 * Kind, whether it is on, a FieldChoice, or a CopyWord; null takes the word back.
 */
export interface Mark extends LogLine {
  about: string
  value: unknown
}

/** What is said of a copy whose text leaves a doubt. */
export const COPY_WORDS = ['it is', 'it is not'] as const
export type CopyWord = (typeof COPY_WORDS)[number]

/** What a student has said of a work, as it stands. */
export interface Said {
  part?: Part
  note?: string
  kind?: Kind
  /** Ids of strands. */
  strands?: number[]
  tags?: string[]
  fields?: Partial<Record<Field, FieldChoice>>
  /** By the id of the copy. */
  copies?: Record<number, CopyWord>
  /** Findings about its entry that are right as they are, by their keys. */
  right?: string[]
}

/** What stands of each work, from the log, oldest line first: of one matter the latest line that counts. */
export function projectMarks(log: readonly Mark[]): Map<number, Said> {
  const latest = new Map<number, Map<string, unknown>>()
  for (const m of standingLines(log)) {
    const of = latest.get(m.work) ?? new Map<string, unknown>()
    // a word said anew stands last, so that tags keep the order in which they came
    if (m.value === null || m.value === false || m.value === '') of.delete(m.about)
    else of.set(m.about, m.value)
    latest.set(m.work, of)
  }
  return new Map([...latest].map(([work, of]) => [work, saidOf(of)]))
}

function saidOf(of: ReadonlyMap<string, unknown>): Said {
  const said: Said = {}
  for (const [about, value] of of) {
    const colon = about.indexOf(':')
    const name = about.slice(colon + 1)
    if (about === 'part') said.part = value as Part
    else if (about === 'note') said.note = value as string
    else if (about === 'kind') said.kind = value as Kind
    else if (about.startsWith('strand:')) (said.strands ??= []).push(Number(name))
    else if (about.startsWith('tag:')) (said.tags ??= []).push(name)
    else if (about.startsWith('field:')) (said.fields ??= {})[name as Field] = value as FieldChoice
    else if (about.startsWith('right:')) (said.right ??= []).push(name)
    else if (about.startsWith('copy:')) (said.copies ??= {})[Number(name)] = value as CopyWord
  }
  said.strands?.sort((a, b) => a - b)
  return said
}
