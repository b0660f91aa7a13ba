import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { figureFindings, figuresIn, figuresOfPage, pagesOf } from './figures'

const said = (text: string) => figuresIn(text).map(f => [f.said, f.digits, f.page?.page])

describe('figures of an annotation', () => {
  test('are shares, parts and larger counts, with the page that their sentence names', () => {
    expect(
      said('Visits fell by 38% (p. 147), and 1,400 moths at 12 sites were counted in 2019. It was 0.6 of all.'),
    ).toEqual([
      ['38%', '38', '147'],
      ['1,400', '1400', '147'],
      ['0.6', '0.6', undefined],
    ])
    expect(said('Half, or 51 per cent, of 2 500 homes; 3,5 m.')).toEqual([
      ['51 per cent', '51', undefined],
      ['2 500', '2500', undefined],
      ['3,5', '3.5', undefined],
    ])
  })
  test('years, pages, numbers of citations and of things are none', () => {
    expect(
      said('From 1998 to 2004 (Lune, 2020, pp. 146–147) [12, 113] and (Tarn 2011a) on p. 233 as A320 and COVID-190.'),
    ).toEqual([])
  })
  test('what is quoted, and what is said of another work, is not its own', () => {
    const text = 'They say “a loss of 38%”. Tarn (2011) has 45%. It is 51%.'
    const quoted = { from: 9, to: 24 }
    const cited = { from: text.indexOf('Tarn'), to: text.indexOf(' has') }
    expect(figuresIn(text, [quoted], [cited]).map(f => f.said)).toEqual(['51%'])
  })
  test('a page is put in before the sign that ends the sentence', () => {
    const text = 'It fell by 38%, cf. p. 3 there! Then nothing.'
    const [f] = figuresIn('It fell by 38%, as they say. Then nothing.')
    expect('It fell by 38%, as they say. Then nothing.'.slice(0, f!.end)).toBe('It fell by 38%, as they say')
    expect(said(text)).toEqual([['38%', '38', '3']])
  })
  test('stand on pages with their sign, else by their digits, however they are written', () => {
    const pages = ['of 38 sites', 'fell by 38 %, n=1400', '1 400 moths; 38per cent', 'none'].map(figuresOfPage)
    const on = (text: string) => pagesOf(figuresIn(text)[0]!, pages)
    expect(on('It is 38%.')).toEqual([1, 2])
    expect(on('It is 1,400.')).toEqual([1, 2])
    expect(on('It is 51%.')).toEqual([])
    expect(pagesOf(figuresIn('It is 38%.')[0]!, pages.slice(0, 1))).toEqual([0])
  })
  test('each is found in a text that has it', () => {
    const n = fc.integer({ min: 100, max: 9_999_999 }).filter(x => x < 1500 || x > 2099)
    fc.assert(
      fc.property(n, fc.constantFrom('', ',', ' '), (x, part) => {
        const written = part ? x.toLocaleString('en').replaceAll(',', part) : String(x)
        const [f, ...more] = figuresIn(`They counted ${written} moths.`)
        expect([f?.digits, more]).toEqual([String(x), []])
        expect(pagesOf(f!, [figuresOfPage(`n=${written}.`)])).toEqual([0])
      }),
    )
  })
})

describe('figures held against copies', () => {
  const pages = [
    'In all 1,250 moths came to nets.',
    'Visits fell by 38 % beside lamps in towns.',
    'Visits: 38 % (n = 212).',
  ].map(figuresOfPage)
  const o = { hasText: true, apart: [], others: [] }
  const found = (text: string, more: Partial<typeof o> = {}, labels: string[] | undefined = ['145', '146', '147']) =>
    figureFindings(text, [{ pages, labels }], { ...o, ...more }).map(f => [f.what, f.figure, 'label' in f && f.label])
  test('that stand on the page that is named are free', () => {
    expect(found('Visits fell by 38% (pp. 146–147).')).toEqual([])
    expect(found('Visits fell by 38% (p. 147).')).toEqual([])
  })
  test('that stand elsewhere, or nowhere, are told', () => {
    expect(found('They took 1,250 moths (p. 146) and 99.5% of all.')).toEqual([
      ['figure elsewhere', '1,250', '145'],
      ['figure not there', '99.5%', false],
    ])
    expect(found('It was 99.5% of all.', { hasText: false })).toEqual([])
    expect(figureFindings('It was 99.5% of all.', [], o)).toEqual([])
  })
  test('without a page are given the page that has most of their sentence, once for each', () => {
    expect(found('Visits fell by 38% beside lamps, of 1,250 in all. Of 212 none.')).toEqual([
      ['figure without a page', '38%', '146'],
      ['figure without a page', '212', '147'],
    ])
    // a manuscript has pages of its own, which nobody cites
    expect(figureFindings('Visits fell by 38%.', [{ pages }], o)).toEqual([])
  })
  test('are told once, by a key that stays while the text around them changes', () => {
    const [first, ...more] = figureFindings('It was 99.5%. Yes, 99.5%.', [{ pages }], o)
    expect(more).toEqual([])
    expect(figureFindings('So it was 99.5% then.', [{ pages }], o)[0]!.key).toBe(first!.key)
  })
})
