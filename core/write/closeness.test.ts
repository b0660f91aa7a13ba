import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { Wording, type WordSource } from './closeness'
import { quotationsIn, wordingOf } from './quotations'

const COPY: WordSource = {
  key: 'copy 1',
  work: 1,
  what: 'copy',
  pages: [
    'Street lamps were switched off at midnight in four towns. Nobody had asked the bats.',
    'Part-night lighting recovered about a third of the loss, mostly after one in the morning, when the four species that fly late made up most of the visits.\nVisits fell by 38% beside full-night lamps.',
  ],
}
const sources = (...more: WordSource[]) => new Wording([COPY, ...more])
const near = (text: string, ...more: WordSource[]) => sources(...more).near(text, 'entry 1')
const cut = (text: string, runs: readonly { from: number; to: number }[]) => runs.map(r => text.slice(r.from, r.to))

test('words that run as in a source are found with their page, and told apart word by word', () => {
  const text = 'They say that part-night lighting recovered about a third of the loss, but I doubt it.'
  const [run] = near(text)
  expect(text.slice(run!.from, run!.to)).toBe('part-night lighting recovered about a third of the loss')
  expect(run).toMatchObject({ words: 10, page: 2, source: { key: 'copy 1', what: 'copy' } })
  expect(run!.there.text).toBe('Part-night lighting recovered about a third of the loss')
  expect(cut(run!.there.text, run!.there.marks)[2]).toBe('lighting')
})

test('endings, some other words and words that changed places do not hide them', () => {
  const text = 'Part-night light recovers nearly a third about of the losses, chiefly after one in the morning.'
  const [run] = near(text)
  expect(run!.words).toBeGreaterThan(10)
  expect(cut(text, run!.marks)).not.toContain('nearly')
})

test('own words, little words and a phrase of a few words are nobody’s', () => {
  expect(near('The authors compare gardens where lamps go dark early with gardens that stay lit.')).toEqual([])
  expect(near('Of the loss, when the of the that and')).toEqual([])
  expect(near('Street lamps were switched off early, and nothing changed.')).toEqual([])
})

test('seven words in a row are enough, and a source that is dropped or put anew counts as it is now', () => {
  const text = 'In their trial street lamps were switched off at midnight as well'
  const wording = sources()
  expect(wording.near(text)).toHaveLength(1)
  wording.put({ ...COPY, pages: ['Other words'] })
  expect(wording.near(text)).toEqual([])
  wording.put(COPY)
  wording.drop('copy 1')
  expect(wording.near(text)).toEqual([])
})

test('of the same words in several sources the one with pages is told, and a text is not held against itself', () => {
  const words = COPY.pages[1]!
  const abstract: WordSource = { key: 'abstract 1', work: 1, what: 'abstract', pages: [words] }
  const itself: WordSource = { key: 'entry 1', work: 1, what: 'annotation', pages: [words] }
  const runs = near(words.split('\n')[0]!, abstract, itself)
  expect(runs.map(r => r.source.what)).toEqual(['copy'])
})

test('quotations with the page that is named behind them, in the manners of several tongues', () => {
  const of = (t: string) => quotationsIn(t).map(q => [q.text, ...q.pages.map(p => p.page)])
  expect(of('It “fell by half” (Lune et al., 2020, p. 146), and "rose again" (pp. 12–13).')).toEqual([
    ['fell by half', '146'],
    ['rose again', '12–13'],
  ])
  expect(of('Es „fiel um die Hälfte“ (S. 7); il « tomba » (Lune 12); “so” (xiv)')).toEqual([
    ['fiel um die Hälfte', '7'],
    [' tomba ', '12'],
    ['so', 'xiv'],
  ])
  // a year is no page, and what is not closed is no quotation
  expect(of('“fell by half” (2020) and “rose (p. 4)\n and later” it')).toEqual([['fell by half']])
  // of several works, and with a word behind
  const t = 'It “fell by half” (Lune, 2020, p. 146; Tarn 2011, pp. 7–9; Sand, 2004; italics mine)'
  expect(of(t)).toEqual([['fell by half', '146', '7–9']])
  expect(quotationsIn(t)[0]!.pages.map(p => t.slice(p.from, p.to))).toEqual(['146', '7–9'])
})

const findings = (text: string, hasText = true) =>
  wordingOf(text, sources(), { work: 1, key: 'entry 1', hasText }).map(f => [f.what, text.slice(f.from, f.to)])

test('a quotation with its page is free; without a page, with other words or not there it is told', () => {
  expect(findings('They found that “recovered about a third of the loss, mostly” (p. 2) holds.')).toEqual([])
  expect(findings('They found “recovered about a third of the loss” there.')).toEqual([
    ['without a page', '“recovered about a third of the loss”'],
  ])
  const text = '“visits dropped by 38% beside full-night lamps” (p. 2)'
  const [changed] = wordingOf(text, sources(), { work: 1, key: '', hasText: true })
  expect(changed).toMatchObject({ what: 'other words', run: { page: 2 } })
  expect(changed?.what === 'other words' && changed.run.there.text).toBe('Visits fell by 38% beside full-night lamps')
  expect(findings('“the moon was never full in those years” (p. 9)')).toEqual([
    ['not there', '“the moon was never full in those years”'],
  ])
  expect(findings('“the moon was never full in those years” (p. 9)', false)).toEqual([])
})

test('a page that is named wrongly is told, and of several pages the one that is named counts', () => {
  const labels = ['45', '46']
  const of = (text: string, pages = COPY.pages) =>
    wordingOf(text, new Wording([{ ...COPY, labels, pages }]), { work: 1, key: '', hasText: true })
  const text = 'They say “recovered about a third of the loss” (Lune, 2045, p. 45).'
  const [found] = of(text)
  expect(found).toMatchObject({ what: 'another page', run: { label: '46' } })
  expect(found?.what === 'another page' && text.slice(found.named.from, found.named.to)).toBe('45')
  expect(of(text.replace('p. 45', 'p. 46'))).toEqual([])
  expect(of(text.replace('p. 45', 'pp. 45–46'))).toEqual([])
  expect(of(text, [COPY.pages[1]!, COPY.pages[1]!])).toEqual([])
})

test('one other word of a short quotation is told; a few little words are no quotation of anything', () => {
  expect(findings('“recovered about a half of the loss” (p. 2)').map(f => f[0])).toEqual(['other words'])
  expect(findings('“a tenth of the sum” (p. 2)').map(f => f[0])).toEqual(['not there'])
})

test('letters left out or put in within a quotation are no other words, and terms are no quotations', () => {
  expect(findings('“Part-night lighting recovered … a third of the loss, mostly after one” (p. 2)')).toEqual([])
  expect(findings('“[Such] lighting recovered about a third of the loss” (p. 2)')).toEqual([])
  expect(findings('So-called “dark corridors” and “skyglow”.')).toEqual([])
})

test('capitals and signs are no other words', () => {
  expect(findings('“part-night lighting recovered about a third of the loss — mostly after one” (p. 2)')).toEqual([])
})

test('whatever is copied of eight words or more is found, wherever it stands', () => {
  const words = COPY.pages[1]!.split('\n')[0]!.split(' ')
  fc.assert(
    fc.property(fc.nat(words.length - 10), fc.integer({ min: 9, max: 16 }), fc.lorem({ maxCount: 8 }), (at, n, own) => {
      const piece = words.slice(at, at + n).join(' ')
      expect(near(`${own} ${piece} ${own}`)).not.toEqual([])
    }),
  )
})

test('any text can be held against any other', () => {
  fc.assert(
    fc.property(fc.string(), fc.array(fc.string()), (text, pages) => {
      const wording = new Wording([{ key: 'a', work: 1, what: 'copy', pages }])
      for (const f of wordingOf(text, wording, { work: 1, key: 'b', hasText: true })) {
        expect(f.from).toBeGreaterThanOrEqual(0)
        expect(f.to).toBeLessThanOrEqual(text.length)
      }
    }),
  )
})
