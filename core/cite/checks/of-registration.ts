import { authorLine, familyName } from '../../bib/names'
import { plainTitle } from '../../bib/clean'
import { yearOf } from '../../bib/dates'
import { fold } from '../../bib/fold'
import type { Item } from '../../bib/item'
import { readField, writeField, type Field } from '../../match/best-fields'
import { findLinks } from '../../match/records'
import { capital, type Checked, type Finding, type Findings } from './finding'

/** What stands for the registration among the records of a work: no record has this number. */
export const REGISTERED = -1

/**
 * An entry with what its DOI's registration says as one more of its records; or what there is to be found of a DOI that
 * nobody registered, or that was registered for another work.
 */
export function withRegistration(of: Checked, findings: Findings): Checked {
  const { registration, item } = of
  if (!registration) return of
  const { source, doi, item: theirs, facts } = registration
  if (!theirs) {
    findings.add('unregistered', {
      field: 'DOI',
      what: 'Its DOI is not registered',
      why: `${capital(source)} does not know it. A sign of it may be wrong, or it was never given.`,
      ours: doi,
    })
    return of
  }
  if (isAnother(item, theirs)) {
    const who = [authorLine(theirs.author ?? theirs.editor, 3), yearOf(theirs)].filter(Boolean).join(', ')
    findings.add('of another', {
      field: 'DOI',
      what: 'Its DOI is registered for another work',
      why: `${capital(source)} has it for “${plainTitle(theirs.title)}”${who && ` (${who})`}.`,
      ours: doi,
    })
    return of
  }
  return { ...of, records: [...of.records, { id: REGISTERED, source, item: theirs, facts }] }
}

/** Nothing ties the two but the DOI; a title in another language alone says little. */
function isAnother(ours: Item, theirs: Item): boolean {
  if (!theirs.title || !ours.title) return false
  const record = (id: number, item: Item) => ({ id, facts: {}, item: without(item) })
  if (findLinks([record(1, ours)], [record(2, theirs)]).length) return false
  const families = (i: Item) => (i.author ?? i.editor ?? []).map(n => fold(familyName(n))).filter(Boolean)
  const [a, b] = [families(ours), families(theirs)]
  const years = Math.abs((yearOf(ours) ?? 0) - (yearOf(theirs) ?? 0))
  const areOthers = a.length > 0 && b.length > 0 && !a.some(f => b.includes(f))
  return areOthers || (Boolean(yearOf(ours) && yearOf(theirs)) && years > 1)
}
const without = ({ DOI: _doi, ISBN: _isbn, ...item }: Item): Item => item as Item

/** What is to be taken from the registration is written out, since it is no record that could be named. */
export function writtenOut({ mend, ...f }: Finding, { registration }: Checked): Finding {
  if (!mend || 'text' in mend.value || mend.value.record !== REGISTERED) return { mend, ...f }
  const text = registration?.item && f.field ? writeField(registration.item, f.field) : ''
  return { ...f, mend: text && readable(f.field!, text) ? { ...mend, value: { text } } : null }
}
const readable = (field: Field, text: string): boolean => readField(field, text) !== undefined
