import { describe, expect, test } from '@jest/globals'
import { boxesOf, type Selector } from '../pdftext/anchor'
import { changedFrom, citable, passagesAsAnnotations, passagesAsText, type ToldPassage } from './passages'

const RFC = 'http://tools.ietf.org/rfc/rfc8118' as const
const exact = (words: string): Selector => ({ type: 'TextQuoteSelector', exact: words, prefix: '', suffix: '' })
const told = (more: Partial<ToldPassage> = {}): ToldPassage => ({
  ...{ id: 5, workId: 1, page: 3, label: '147', kind: 'quoted', quote: 'Visits fell.', note: '', tags: [] },
  ...{
    selectors: [exact('Visits fell.')],
    at: '2026-10-05T10:00:00.000Z',
    title: 'Moths *at* lamps',
    authors: 'Okafor',
  },
  ...{ year: 2020, cited: '(Okafor, 2020, p. 147)', strand: null, source: 'https://desk.example/inquiries/1/read/8' },
  ...{ doi: '10.5555/np.1' },
  ...more,
})

describe('the words of a quotation', () => {
  test('are told where they were changed, not where white space differs', () => {
    expect(changedFrom(told())).toBeUndefined()
    expect(changedFrom(told({ quote: 'Visits\n fell.' }))).toBeUndefined()
    expect(changedFrom(told({ quote: 'Visits [of moths] fell.' }))).toBe('Visits fell.')
    expect(changedFrom(told({ kind: 'in my words', quote: 'Fewer.' }))).toBeUndefined()
    expect(changedFrom(told({ selectors: null, quote: 'Fewer.' }))).toBeUndefined()
  })
  test('stand in marks with their citation; one’s own do not', () => {
    expect(citable(told())).toBe('“Visits fell.” (Okafor, 2020, p. 147)')
    expect(citable(told({ kind: 'in my words', note: 'Fewer came.' }))).toBe('Fewer came. (Okafor, 2020, p. 147)')
  })
})

describe('where a passage stands on its pages', () => {
  test('is read from its selectors; what is no box is left', () => {
    const of = (value: string): Selector => ({ type: 'FragmentSelector', conformsTo: RFC, value })
    expect(boxesOf([exact('x'), of('page=2&viewrect=72,100.3,200,12'), of('page=3&viewrect=1,2,3,4')])).toEqual([
      { page: 2, x: 72, y: 100.3, width: 200, height: 12 },
      { page: 3, x: 1, y: 2, width: 3, height: 4 },
    ])
    expect(
      boxesOf([of('page=2'), of('viewrect=1,2,3,4'), of('page=2&viewrect=1,2,3'), of('page=2&viewrect=a,b,c,d')]),
    ).toEqual([])
    expect(boxesOf(null)).toEqual([])
  })
})

describe('passages as a text', () => {
  test('are grouped by work, with page, strand and tags; signs of the format mean nothing', () => {
    const text = passagesAsText('Lamps', [
      told({ strand: 'What lamps change', tags: ['key', 'a_b'] }),
      told({ kind: 'in my words', note: 'Fewer # came.', label: '147–148' }),
      told({ workId: 2, title: 'Owls', authors: '', year: null, kind: 'figure', quote: '', note: 'A map.' }),
    ])
    expect(text).toContain('# Passages: Lamps')
    expect(text.match(/^## /gm)).toHaveLength(2)
    expect(text).toContain('## Moths \\*at\\* lamps\n\nOkafor, 2020')
    expect(text).toContain('**p. 147**, quoted; strand: What lamps change; tags: key, a\\_b')
    expect(text).toContain('> Visits fell.\n>\n> (Okafor, 2020, p. 147)')
    expect(text).toContain('**pp. 147–148**, in my words\n\nFewer \\# came.\n\n(Okafor, 2020, p. 147)')
    expect(text).toContain('## Owls\n\n**p. 147**, figure\n\nA map.')
  })
})

describe('passages as annotations', () => {
  test('have their words as selectors, their note as body, their strand and tags by purpose', () => {
    const page = passagesAsAnnotations([
      told({ note: 'Fewer.', strand: 'Change', tags: ['key'] }),
      told({ selectors: null }),
    ])
    expect(page).toMatchObject({
      '@context': 'http://www.w3.org/ns/anno.jsonld',
      items: [
        {
          type: 'Annotation',
          motivation: 'highlighting',
          body: [
            { type: 'TextualBody', value: 'Fewer.', purpose: 'commenting' },
            { value: 'Change', purpose: 'classifying' },
            { value: 'key', purpose: 'tagging' },
          ],
          target: {
            source: 'https://desk.example/inquiries/1/read/8',
            selector: [{ type: 'TextQuoteSelector', exact: 'Visits fell.' }],
          },
        },
        { target: { selector: [{ type: 'FragmentSelector', conformsTo: RFC, value: 'page=3' }] } },
      ],
    })
  })
})
