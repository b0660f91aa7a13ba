import { expect, test } from '@jest/globals'
import { checkedWriting, type CheckedEntry, type CheckedFacts } from './checked'
import { asMarkdown } from './markdown'

const finding = {
  ...{ key: 'by the copy of volume: 6', field: 'volume' as const, what: 'Another volume in the copy', isRight: false },
  ...{ why: 'Its first pages have it so.', ours: '7', theirs: '6', seen: { copy: 9, page: 2 }, mend: null },
}
const entry = (more: Partial<CheckedEntry> = {}): CheckedEntry => ({
  ...{ work: 3, label: null, citation: [{ text: 'Okafor (2003). ' }, { text: 'Night Papers', italic: true }] },
  ...{
    annotation: 'The authors argue that lamps matter to the moths.',
    marks: [],
    findings: [],
    agrees: [],
    right: [],
  },
  ...{ copy: null, records: 2, ...more },
})
const printed = (entries: CheckedEntry[], more: Partial<CheckedFacts> = {}) =>
  asMarkdown(
    checkedWriting(
      {
        ...{ title: 'Lamps', author: 'Ines Quill', day: '2026-10-05', style: 'APA', rules: {}, answers: [], entries },
        ...more,
      },
      { sheet: 'a4' },
    ),
  )

test('what is open is told with what speaks for it, and where; what was settled by a word as that', () => {
  const copy = { version: 'version of record', labels: ['145', '146'] }
  const settled = { ...finding, key: 'x', what: 'Two years', isRight: true, seen: null }
  const text = printed([
    entry({
      ...{ findings: [finding, settled], agrees: ['title', 'year'], copy },
      right: ['x', 'close: lamps matter to the moths'],
    }),
  ])
  expect(text).toContain('One entry in APA, as of 5 October 2026.')
  expect(text).toContain('1 finding is open')
  expect(text).toContain('Held against its copy (version of record), 2 records and what APA needs.')
  expect(text).toContain('The copy has the same: title, year.')
  expect(text).toMatch(
    /Open\. Another volume in the copy: Its first pages have it so\. .*yours: 7; there: 6.*, p\. 146 of the copy/,
  )
  expect(text).toMatch(/Right as it is, by the writer’s word\. Two years/)
  expect(text).toContain('Let stand, by the writer’s word. close: lamps matter to the moths')
})
test('what is fine is told as that, and nothing is said to be there that is not', () => {
  const text = printed([entry({ records: 1 }), entry({ annotation: '' })])
  expect(text).toContain('Held against one record and what APA needs. No copy is in hand.')
  expect(text).toContain('no finding is open')
  expect(text).toContain('The annotation has 9 words.')
  expect(text).toContain('There is no annotation.')
  expect(text).not.toContain('The copy has')
  expect(text).not.toContain('What the assignment asks')
})
test('rules and the parts that are asked stand with their verdicts', () => {
  const answers = [{ rule: 'entries', verdict: 'short' as const, have: 1, want: 4, said: 'sources', counting: [] }]
  const more = { rules: { parts: ['summary' as const, 'use' as const] }, answers }
  const text = printed([entry(), entry({ annotation: 'Lampen ziehen Falter an, sagen sie.' })], more)
  expect(text).toMatch(/\| sources *\| 1 *\| short/)
  expect(text).toContain('summary (what it says): seen; use (what it is for your question): not seen.')
  expect(text).toContain('Parts of an annotation are seen in English alone.')
})
