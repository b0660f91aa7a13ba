import { LAYOUT } from '../../core/paper/layout'
import type { Answer, Bibliography, BibliographyEntry } from '../../core/schema/api'
import { answers } from './rig'

/** A bibliography of one entry, and what is asked beside it. */
export const list: Bibliography = {
  style: 'apa',
  styleName: 'APA, 7th edition',
  language: null,
  styleTrouble: null,
  newerStyle: null,
  hangingIndent: true,
  layout: LAYOUT,
  texts: [],
  sections: [{ heading: null, strand: null, entries: [5] }],
  entries: [
    {
      id: 5,
      work: 3,
      label: null,
      citation: [{ text: 'Okafor (2003). ' }, { text: 'Night Papers', italic: true }],
      inText: '(Okafor, 2003)',
      title: 'Moths at lamp 3',
      annotation: 'One two three.',
      marks: [],
      version: 4,
      words: 3,
      kind: 'research article',
      right: [],
    },
  ],
  cited: [],
  rules: [
    { rule: 'entries', verdict: 'short', have: 1, want: 10, said: 'sources', counting: [5] },
    { rule: 'books', verdict: 'holds', have: 0, want: 2, said: 'books or chapters, 2 allowed', counting: [] },
  ],
}
type Check = Answer<'entryChecks'>['entries'][number]
export const finding: Check['findings'][number] = {
  ...{ key: 'by the copy of volume: 6', field: 'volume', what: 'Another volume in the copy', isRight: false },
  ...{ why: 'Its first pages have it so.', ours: '7', theirs: '6', seen: { copy: 9, page: 1 } },
  mend: { value: { text: '6' }, called: 'As in the copy' },
}
export const checked = (
  more: Partial<Check> = {},
  registrations: Answer<'entryChecks'>['registrations'] = { asked: 0, of: 0, day: null },
) => {
  const entry = { entry: 5, findings: [], agrees: ['title', 'year'], copy: 9, records: 2, ...more }
  answers['GET /inquiries/1/bibliography/checks'] = {
    ...{ style: 'APA', entries: [entry], registrations },
  }
}
export const passage = (id: number, more: object = {}) => ({
  ...{ id, inquiryId: 1, workId: 3, copyId: 9, page: 2, label: '47', kind: 'quoted', quote: 'Visits fell.', note: '' },
  ...{ strandId: null, tags: [], version: 2, ownId: null, at: '2026-10-05T10:00:00Z', selectors: null },
  ...{ title: 'Moths at lamp 3', authors: 'Okafor', year: 2003, copyVersion: 'version of record', cited: '', ...more },
})
export const entry = (more: Partial<BibliographyEntry>) => {
  answers['GET /inquiries/1/bibliography'] = { ...list, entries: [{ ...list.entries[0]!, ...more }] }
}
/** What Compose asks for, where nothing else was answered. */
export function layList(): void {
  answers['GET /inquiries/1/bibliography'] = list
  answers['GET /inquiries/1/copies'] = []
  answers['GET /inquiries/1/passages'] = { style: 'apa', passages: [] }
  answers['GET /inquiries/1/table'] = { heads: [], works: [] }
  checked()
}
