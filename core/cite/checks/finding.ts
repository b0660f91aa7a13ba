import { firstLetters } from '../../bib/clean'
import type { Verdict } from '../../appraise/taken-back'
import type { Facts, Item, Version } from '../../bib/item'
import type { Field, FieldChoice } from '../../match/best-fields'
import type { Front } from '../../pdftext/front'

/** Something about an entry that does not agree, with what speaks for it. */
export interface Finding {
  /** The same for the same matter as often as it is looked for, so that a word on it stays. */
  key: string
  field: Field | null
  /** A line. */
  what: string
  /** What speaks for it, a sentence. */
  why: string
  /** As it stands in the entry, and as it stands elsewhere, where these are set side by side. */
  ours: string | null
  theirs: string | null
  /** What puts it right, and how that is called on its key. */
  mend: { value: FieldChoice; called: string } | null
  /** The page of the copy where it is seen. */
  seen: { copy: number; page: number } | null
}

/** A description of a work by one source. */
export interface CheckedRecord {
  id: number
  source: string
  item: Item
  facts: Facts
}

/** What is known of the proved copy of a work. */
export interface CheckedCopy {
  id: number
  version: string
  /** Printed names of its pages, in order. */
  labels: readonly string[]
  /** Whether pages themselves say how they are called. */
  arePrinted: boolean
  /** Its words were read by machine. */
  isScan: boolean
  front: Front
}

/** An entry with all that it is checked against. */
export interface Checked {
  entry: number
  work: number
  item: Item
  facts: Facts
  kind: string
  /** Fields that the student chose or wrote: no record overrules these. */
  chosen: readonly Field[]
  records: readonly CheckedRecord[]
  copy?: CheckedCopy
  /** Words of its abstract and, where the capitals of its title are in doubt, of its copy. */
  words: string
  /** The article that a conference paper became, in the pool. */
  became: readonly { work: number; title: string }[]
  /** What was said of it since: by its title in a source, by a notice, or by a registration that names one by DOI. */
  since: readonly {
    says: Verdict
    source: string
    by: { work: number | null; title: string } | null
    notice: string | null
  }[]
  /** What the registration of its DOI says; an item that is null was not registered. Left out where nobody asked. */
  registration?: { source: string; doi: string; item: Item | null; facts: Facts }
  /** Works that it cites and that were taken back. */
  leansOn: readonly { says: Verdict; source: string; title: string }[]
}

/** Makes findings of one entry, each with its own key. */
export class Findings {
  readonly all: Finding[] = []

  add(matter: string, said: Pick<Finding, 'what' | 'why'> & Partial<Finding>): void {
    const { field = null, ours = null, theirs = null, mend = null, seen = null, what, why } = said
    const value = mend && ('text' in mend.value ? mend.value.text : `record ${mend.value.record}`)
    const key = findingKey(`${matter}${field ? ` of ${field}` : ''}`, theirs ?? value ?? ours ?? '')
    if (this.all.every(f => f.key !== key)) this.all.push({ key, field, what, why, ours, theirs, mend, seen })
  }
}
/** Letters of a key at most: it is part of a name in a log. */
const MOST_KEY = 100
export const findingKey = (matter: string, value: string): string =>
  firstLetters(`${matter}: ${value.replace(/\s+/g, ' ')}`, MOST_KEY).trim()

const MANUSCRIPTS: readonly (Version | undefined)[] = ['preprint', 'accepted manuscript']
export const isManuscript = (version: string | undefined): boolean =>
  (MANUSCRIPTS as readonly unknown[]).includes(version)

/** As the beginning of a sentence. */
export const capital = (text: string): string => text.slice(0, 1).toUpperCase() + text.slice(1)

/** A few names as they are said: "Night catalogue and 2 others". */
export function listed(sources: readonly string[]): string {
  const all = [...new Set(sources)]
  if (all.length <= 2) return all.join(' and ')
  return `${all[0]} and ${all.length - 1} others`
}

/** Records of the work as it appeared, where there are any: a manuscript has a year and pages of its own. */
export function alike({ records }: Checked): readonly CheckedRecord[] {
  const published = records.filter(r => !isManuscript(r.facts.version))
  return published.length ? published : records
}
