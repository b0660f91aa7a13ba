import { expect, test } from '@jest/globals'
import { misfits, REASON_OF, type Fitted } from './misfits'

const work = (id: number, more: Partial<Fitted> = {}): Fitted => ({
  id,
  state: 'unread',
  kind: 'research article',
  confidence: 0.95,
  year: 2015,
  language: 'en',
  ...more,
})
const brief = { entriesWanted: 3, languages: ['en'], notBefore: 2000, kindsOut: ['news' as const] }

test('undecided works are proposed under the first rule that shuts them out, the larger groups first', () => {
  const found = misfits(brief, [
    work(1),
    work(2, { language: 'de', year: 1950 }),
    work(3, { language: 'de-AT' }),
    work(4, { language: 'fr' }),
    work(5, { year: 1999 }),
    work(6, { kind: 'news' }),
  ])
  expect(found.map(m => [m.said, m.works])).toEqual([
    ['in German', [2, 3]],
    ['in French', [4]],
    ['from before 2000', [5]],
    ['of the kind “news”', [6]],
  ])
  expect(found[2]!.reason).toBe(REASON_OF.age)
})

test('what was decided, is not known or is not sure is left in peace', () => {
  const quiet = [
    work(1, { state: 'kept', language: 'de' }),
    work(2, { state: 'set aside', year: 1900 }),
    work(3, { language: null, year: null }),
    work(4, { kind: 'news', confidence: 0.6 }),
  ]
  expect(misfits(brief, quiet)).toEqual([])
  expect(misfits({ entriesWanted: 3 }, [work(1, { language: 'de', year: 1800, kind: 'news' })])).toEqual([])
})
