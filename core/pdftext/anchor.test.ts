import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { Anchors, type Selector } from './anchor'

const PAGES = [
  'Lamps were counted in six towns.\nNobody had counted the moths before.',
  'Moths came to the lamps in numbers.\nThe hours after midnight were dark, and the moths',
  'went back to the hedges. Nobody had counted the moths before.',
]
const quoteOf = (s: Selector[]) => s.find(x => x.type === 'TextQuoteSelector')

describe('a passage that was selected', () => {
  test('is kept with what stands around it, its place in the text and on the page', () => {
    const box = { page: 2, x: 72.04, y: 100, width: 200, height: 12 }
    expect(new Anchors(PAGES).select('in  numbers. The hours', 2, [box])).toEqual(
      [
        {
          type: 'TextQuoteSelector',
          exact: 'in numbers. The hours',
          prefix: 'Nobody had counted the moths before.\nMoths came to the lamps '.slice(-48),
          suffix: ' after midnight were dark, and the moths\nwent back to',
        },
        { type: 'TextPositionSelector', start: 94, end: 115 },
        {
          type: 'FragmentSelector',
          conformsTo: 'http://tools.ietf.org/rfc/rfc8118',
          value: 'page=2&viewrect=72,100,200,12',
        },
      ].map(s => (s.type === 'TextQuoteSelector' ? { ...s, suffix: s.suffix!.slice(0, 48) } : s)),
    )
  })
  test('that stands on several pages is the one of its own page', () => {
    const text = new Anchors(PAGES)
    const at = (page: number) =>
      text.select('Nobody had counted the moths before.', page).find(s => s.type === 'TextPositionSelector')
    expect(at(1)!.start).toBeLessThan(at(3)!.start)
  })
  test('that the text does not have is kept as it was selected', () => {
    expect(new Anchors(PAGES).select('Owls hunt by ear', 1)).toEqual([
      { type: 'TextQuoteSelector', exact: 'Owls hunt by ear', prefix: '', suffix: '' },
    ])
    expect(new Anchors([]).select('Owls', 1)).toHaveLength(1)
  })
})

describe('in another version', () => {
  const other = [
    'Proof. Do not cite. Lamps were counted in six small towns.',
    'Nobody had counted the moths before. Moths came to our lamps in numbers. The hours after mid-',
    'night were darker, and most moths went back to the hedges.',
  ]
  const again = (quote: string, page: number, pages = other) =>
    new Anchors(pages).again(new Anchors(PAGES).select(quote, page))
  test('it is found on its new page, with the words that stand there', () => {
    expect(again('Lamps were counted in six towns.', 1)).toMatchObject({
      page: 1,
      exact: 'Lamps were counted in six small towns.',
    })
    const hours = again('The hours after midnight were dark, and the moths went back', 2)!
    expect(hours.page).toBe(2)
    expect(hours.exact).toMatch(/^The hours after mid- night were darker, and most moths went back/)
    expect(hours.fit).toBeGreaterThan(0.8)
    expect(hours.fit).toBeLessThan(1)
  })
  test('of several places it is the one between the words that stood around it', () => {
    const twice = [
      'The moths went back to the hedges. Nobody had counted the moths before.',
      'In six towns: nobody had counted the moths before. Moths came to the lamps.',
    ]
    expect(again('Nobody had counted the moths before.', 1, twice)!.page).toBe(2)
    expect(again('Nobody had counted the moths before.', 3, twice)!.page).toBe(1)
  })
  test('what is not there is not found', () => {
    expect(again('Lamps were counted in six towns.', 1, ['Owls hunt by ear.', 'Newts live in ponds.'])).toBeUndefined()
    expect(new Anchors(other).again([])).toBeUndefined()
    expect(
      new Anchors(other).again([{ type: 'TextQuoteSelector', exact: ' … ', prefix: '', suffix: '' }]),
    ).toBeUndefined()
  })
  test('a long passage is found by its two ends', () => {
    const sentences = Array.from(
      { length: 60 },
      (_, i) => `Sentence ${i * 7919} speaks of ${['lamps', 'moths', 'towns'][i % 3]} ${i}.`,
    )
    const quote = sentences.slice(10, 50).join(' ')
    const moved = [sentences.slice(0, 12).join(' '), sentences.slice(12).join(' ').replace('lamps 30', 'lanterns 30')]
    const place = new Anchors(moved).again(new Anchors([sentences.join(' ')]).select(quote, 1))!
    expect(place.page).toBe(1)
    expect(place.exact.slice(0, 20)).toBe(quote.slice(0, 20))
    expect(place.exact.slice(-20)).toBe(quote.slice(-20))
  })
  test('any passage of some words is found again where pages break elsewhere and words have slips', () => {
    const words = fc.array(fc.stringMatching(/^[a-z]{3,9}$/), { minLength: 60, maxLength: 120 })
    fc.assert(
      fc.property(words, fc.nat(), fc.nat(), fc.nat(), (list, at, breakAt, slip) => {
        const from = at % (list.length - 12)
        const quote = list.slice(from, from + 12)
        const pages = [list.join(' ')]
        const other = list.map((w, i) => (i === slip % list.length ? `${w.slice(0, -1)}q` : w))
        const cut = breakAt % list.length
        const broken = [other.slice(0, cut).join(' '), other.slice(cut).join(' ')]
        const place = new Anchors(broken).again(new Anchors(pages).select(quote.join(' '), 1))!
        expect(place.page).toBe(from < cut ? 1 : 2)
        expect(place.fit).toBeGreaterThan(0.9)
      }),
    )
  })
})
test('a passage is told by what is selected, not by its white space', () => {
  const selected = quoteOf(new Anchors(['Lamps were\ncounted.']).select('Lamps were counted', 1))
  expect(selected).toMatchObject({ exact: 'Lamps were counted', suffix: '.' })
})
