import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { Finder } from './finder'
import { compareEntry, readEntry, settle, verdictOf, withoutDoubles } from './settle'

const article = (more: Partial<Item>): Item => ({ id: '', type: 'article-journal', ...more })
const flowers = article({
  title: 'Light at night: a natural history',
  author: [{ family: 'Hartigan-Moss', given: 'R.' }],
  'container-title': 'Annals of Flower Biology',
  issued: { 'date-parts': [[2009]] },
  volume: '104',
  page: '88-90',
})
const plains = article({
  title: 'Light at night and the evening primrose',
  author: [
    { family: 'Hartigan-Moss', given: 'R.' },
    { family: 'Ildikó-Grey', given: 'Z.' },
  ],
  'container-title': 'Annals of Floodplain Biology',
  issued: { 'date-parts': [[2010]] },
  volume: '14',
  page: '80-96',
})
const visits = article({
  title: 'Night visits to hawkmoth flowers',
  author: [{ family: 'Sayegh', given: 'Mona' }],
  'container-title': 'Proceedings in Urban Biology',
  issued: { 'date-parts': [[2019]] },
  volume: '286',
  page: '211-219',
})
const how = (line: string, work: Item) =>
  Object.fromEntries(compareEntry(readEntry(line), work).parts.map(p => [p.part, p.standing]))
const verdict = (line: string, works: Item[]) => verdictOf(settle(readEntry(line), works))

describe('an entry beside a work', () => {
  test('agrees part by part, and says which parts do not', () => {
    const line = 'Hartigan-Moss R. (2010) Light at night. Ann. Fl. Biol. 104, 80.'
    expect(how(line, flowers)).toEqual({
      title: 'begins alike',
      author: 'agrees',
      container: 'agrees',
      year: 'one apart',
      volume: 'agrees',
      pages: 'differs',
    })
    expect(how(line, plains)).toMatchObject({ author: 'some more', year: 'agrees', volume: 'differs', pages: 'agrees' })
    expect(verdict(line, [flowers, plains])).toBe('to settle')
  })
  test.each([
    ['author, journal, year, volume and page', 'Sayegh, Proc. Urb. Biol. 286, 211 (2019).'],
    ['journal, volume and page', 'Proc. Urb. Biol. 286, 211.'],
    ['author, volume and page', 'Sayegh M. 286: 211.'],
    ['author, year and page', 'M. Sayegh et al., 2019, p. 211'],
    ['a manner that prints no title', 'Sayegh, M. Proceedings in Urban Biology 2019, 286, 211–219.'],
  ])('is held against it where only %s are known', (_, line) => {
    expect(verdict(line, [visits])).not.toBe('unknown')
    expect(verdict(line, [flowers])).toBe('unknown')
  })
  test('five known parts are enough without a title; a name and a year are not', () => {
    expect(verdict('Sayegh, Proc. Urb. Biol. 286, 211 (2019).', [visits])).toBe('fits')
    expect(verdict('Sayegh M. (2019) A quite different title about ponds. Pond Papers 3, 1-9.', [visits])).toBe(
      'unknown',
    )
  })
  test('two works that fit alike are to be settled', () => {
    const twin = { ...visits, volume: '287' }
    expect(verdict('Sayegh M. (2019) Night visits to hawkmoth flowers.', [visits, twin])).toBe('to settle')
    expect(verdict('Sayegh M. (2019) Night visits to hawkmoth flowers. Proc. Urb. Biol. 287.', [visits, twin])).toBe(
      'fits',
    )
  })
})

test('shares are shares, in whatever order the works come', () => {
  const works = [flowers, plains, visits]
  fc.assert(
    fc.property(fc.string({ maxLength: 200 }), fc.shuffledSubarray(works), (line, some) => {
      const shares = settle(readEntry(line), some)
      expect(shares.every(s => s >= 0 && s <= 1)).toBe(true)
      expect(shares.reduce((a, b) => a + b, 0)).toBeLessThanOrEqual(1 + 1e-9)
      const back = settle(readEntry(line), [...some].reverse()).reverse()
      shares.forEach((s, i) => expect(s).toBeCloseTo(back[i]!, 9))
    }),
  )
})

test('records of one work count once', () => {
  const again = { ...visits, page: undefined as never, 'container-title': 'Proc. Urb. Biol.' }
  expect(withoutDoubles([{ item: visits }, { item: flowers }, { item: again }]).map(w => w.item)).toEqual([
    visits,
    flowers,
  ])
})

test('a finder meets a work by its title, its author and year, or its volume and page', () => {
  const others = Array.from({ length: 500 }, (_, i) =>
    article({
      title: `Ponds of town ${i}`,
      author: [{ family: `Name${i}` }],
      issued: { 'date-parts': [[1990 + (i % 30)]] },
      volume: String(i % 40),
      page: `${i * 3}-${i * 3 + 2}`,
    }),
  )
  const all = [...others, visits]
  const finder = new Finder(all)
  for (const line of ['Anon. Night visits to hawkmoth flowers.', 'Sayegh 2019', 'Proc. Urb. Biol. 286, 211.'])
    expect([line, finder.find(readEntry(line)).map(i => all[i])[0]]).toEqual([line, visits])
  expect(finder.find(readEntry('Ponds of nowhere, 1820'))).not.toContain(500)
  expect(finder.find(readEntry(''))).toEqual([])
})
