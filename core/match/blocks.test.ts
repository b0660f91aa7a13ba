import { describe, expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import { BLOCK, blockKeys, candidatePairs, identifierKeys } from './blocks'
import { by, made, year } from './rig'

describe('blocks', () => {
  const meet = (a: Partial<Item>, b: Partial<Item>): boolean => {
    const keys = new Set(blockKeys(made(a)))
    return blockKeys(made(b, {}, 2)).some(k => keys.has(k))
  }
  const named = (title: string, more: Partial<Item> = {}): Partial<Item> => ({ title, author: by(['Okafor']), ...more })
  test.each<[string, Partial<Item>, Partial<Item>]>([
    ['one DOI', named('A', { DOI: '10.5555/a' }), { title: 'B', DOI: '10.5555/a' }],
    [
      'one ISBN',
      { type: 'book', title: 'A', ISBN: '9789900019961' },
      { type: 'book', title: 'B', ISBN: '9789900019961' },
    ],
    ['one title and name, other years', named('Lamps', year(1990)), named('Lamps', year(2000))],
    [
      'one title and year, other names',
      named('Lamps', year(1990)),
      { title: 'Lamps', author: by(['Bee']), ...year(1990) },
    ],
    [
      'one title of four words, other names and years',
      named('Lamps and old moths', year(1990)),
      { title: 'Lamps and old moths', author: by(['Bee']), ...year(2000) },
    ],
    ['one title, other names, no year', named('Lamps'), { title: 'Lamps', author: by(['Bee']) }],
    ['a slip in a short title, one author and year', named('Lanps', year(1990)), named('Lamps', year(1990))],
    [
      'a slip in a short title of nobody',
      { title: 'Lamps and noths', ...year(1990) },
      { title: 'Lamps and moths', ...year(1990) },
    ],
    ['without the subtitle', named('Lamps and moths: a tale'), named('Lamps and moths')],
    ['three words in a row and a name', named('On lamps and moths'), named('Of old lamps and moths today')],
    ['the last three words', named('Nights with lamps and moths'), named('Days with lamps and moths')],
    [
      'five words in a row and a year',
      { title: 'Lamps and moths of towns', ...year(1990) },
      { title: 'Old lamps and moths of towns', author: by(['Bee']), ...year(1990) },
    ],
    [
      'container, volume and page',
      { title: 'A', 'container-title': 'Night Notes', volume: 4, page: '1-9' },
      { title: 'B', 'container-title': 'Night Papers', volume: 4, page: '1' },
    ],
    [
      'ISSN, volume and page',
      { title: 'A', ISSN: '1234-5679', volume: 4, page: '1-9' },
      { title: 'B', ISSN: '1234-5679', volume: 4, page: '1' },
    ],
  ])('%s: they meet', (_, a, b) => expect([meet(a, b), meet(b, a)]).toEqual([true, true]))
  test.each<[string, Partial<Item>, Partial<Item>]>([
    ['other titles of other years', named('Lamps', year(1990)), named('Moths', year(1991))],
    ['two words in a row and a name', named('On lamps moths', year(1990)), named('Of lamps moths', year(1991))],
    ['three words in another order', named('Lamps moths towns', year(1990)), named('Towns moths lamps', year(1991))],
    ['three words and no name', { title: 'On lamps and moths' }, { title: 'Of lamps and moths today' }],
    [
      'four words in a row and a year',
      { title: 'Lamps and moths of', ...year(1990) },
      { title: 'Old lamps and moths of', author: by(['Bee']), ...year(1990) },
    ],
    [
      'five words and other years',
      { title: 'Lamps and moths of towns', ...year(1990) },
      { title: 'Old lamps and moths of towns', author: by(['Bee']), ...year(1991) },
    ],
    ['volume and page of nothing', { title: 'A', volume: 4, page: '1-9' }, { title: 'B', volume: 4, page: '1-9' }],
    [
      'container and volume',
      { title: 'A', 'container-title': 'Night', volume: 4 },
      { title: 'B', 'container-title': 'Night', volume: 4 },
    ],
    [
      'container and page',
      { title: 'A', 'container-title': 'Night', page: '1' },
      { title: 'B', 'container-title': 'Night', page: '1' },
    ],
    [
      'another volume',
      { title: 'A', 'container-title': 'Night', volume: 4, page: '1' },
      { title: 'B', 'container-title': 'Night', volume: 5, page: '1' },
    ],
    ['no title on either side', { title: '' }, { title: '' }],
  ])('%s: they do not', (_, a, b) => expect([meet(a, b), meet(b, a)]).toEqual([false, false]))
  test('keys are whole numbers of thirty bits, and tell thousands of titles apart', () => {
    const keys = Array.from({ length: 5000 }, (_, i) => blockKeys(made(named(`Lamp ${i}`)))[0]!)
    expect(keys.every(k => Number.isInteger(k) && k >= 0 && k < 2 ** 30)).toBe(true)
    expect(new Set(keys).size).toBeGreaterThan(4990)
    expect(identifierKeys({ doi: undefined, isbns: [] })).toEqual([])
    expect(new Set(identifierKeys({ doi: '9789900019961', isbns: ['9789900019961', '9789900019978'] })).size).toBe(3)
  })
  test('every pair that shares a block comes once, the later one new; of a large block the first thirty are compared', () => {
    const list = Array.from({ length: BLOCK + 5 }, (_, i) => made(named('Lamps'), {}, i + 1))
    const pairs = [...candidatePairs(list)]
    expect(new Set(pairs.map(p => p.join('-'))).size).toBe(pairs.length)
    expect(pairs).toHaveLength((BLOCK * (BLOCK - 1)) / 2)
    const few = list.slice(0, 6)
    expect([...candidatePairs(few, 4)]).toEqual([
      [0, 4],
      [1, 4],
      [2, 4],
      [3, 4],
      [0, 5],
      [1, 5],
      [2, 5],
      [3, 5],
      [4, 5],
    ])
    expect([...candidatePairs([made(named('Lamps')), made(named('Moths', year(1990)), {}, 2)])]).toEqual([])
  })
})
