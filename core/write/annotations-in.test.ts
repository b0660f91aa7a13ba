import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readAnnotations } from './annotations-in'
import { passagesAsAnnotations, type ToldPassage } from './passages'

const CONTEXT = 'http://www.w3.org/ns/anno.jsonld'
const read = (...all: unknown[]) => readAnnotations(JSON.stringify(all))
const one = (a: object) => read({ '@context': CONTEXT, type: 'Annotation', ...a }).annotations[0]
const of = (selector: unknown) => ({ type: 'SpecificResource', source: 'https://a.example/b.pdf', selector })

describe('annotations as the standard writes them', () => {
  test('of a page, a collection, a list or alone are read', () => {
    const a = { id: 'https://a.example/1', type: 'Annotation', bodyValue: 'x', target: 'https://doi.org/10.5555/A.1' }
    const files = [
      a,
      [a],
      { type: 'AnnotationPage', items: [a] },
      [{ type: 'AnnotationPage', items: [a] }],
      { type: ['AnnotationCollection'], first: { type: 'AnnotationPage', items: [a] } },
      { '@graph': [{ id: 'x', type: 'Person' }, a] },
    ]
    for (const f of files)
      expect(readAnnotations(`\ufeff${JSON.stringify(f)}`).annotations).toMatchObject([
        { key: 'https://a.example/1', source: 'https://doi.org/10.5555/A.1', doi: '10.5555/a.1', exact: '', note: 'x' },
      ])
  })
  test('have their words, what stands around them, their page and place, one within another', () => {
    expect(
      one({
        target: of({
          ...{ type: 'FragmentSelector', value: 'page=3&viewrect=72,100.5,200,12' },
          refinedBy: { type: 'TextQuoteSelector', exact: ' Two\nlamps ', prefix: 'before ', suffix: ' after' },
        }),
      }),
    ).toMatchObject({
      ...{ exact: 'Two lamps', prefix: 'before ', suffix: ' after', page: 3 },
      boxes: [{ page: 3, x: 72, y: 100.5, width: 200, height: 12 }],
    })
    expect(one({ bodyValue: 'x', target: of([{ type: 'FragmentSelector', value: 'page=4' }]) })).toMatchObject({
      page: 4,
      boxes: [],
    })
    expect(one({ bodyValue: 'x', target: 'https://a.example/b.pdf#page=7' })).toMatchObject({
      ...{ source: 'https://a.example/b.pdf', page: 7 },
    })
    // other pieces of other documents are of no page
    expect(
      one({ bodyValue: 'x', target: of({ type: 'FragmentSelector', value: 'xywh=1,2,3,4' }) })!.page,
    ).toBeUndefined()
  })
  test('have notes in several manners, tags, and what they were put under', () => {
    expect(one({ target: 'urn:x', bodyValue: 'Plain' })!.note).toBe('Plain')
    expect(one({ target: 'urn:x', body: 'https://a.example/see' })!.note).toBe('https://a.example/see')
    expect(
      one({
        target: 'urn:x',
        motivation: ['commenting'],
        body: [
          {
            type: 'TextualBody',
            value: '<p>One &amp; two</p><p>three</p>',
            format: 'text/html',
            purpose: 'describing',
          },
          { type: 'TextualBody', value: ' lamps ', purpose: ['tagging'] },
          { type: 'TextualBody', value: 'Night', purpose: 'classifying' },
          {
            type: 'Choice',
            items: [
              { type: 'TextualBody', value: 'First' },
              { type: 'TextualBody', value: 'Second' },
            ],
          },
        ],
      }),
    ).toMatchObject({ note: 'One & two\nthree\nFirst', tags: ['lamps'], classes: ['Night'], isComment: true })
  })
  test('of several documents are one of each; what is none is named with its place', () => {
    const { annotations, unread } = read(
      { type: 'Annotation', id: 'urn:1', target: ['urn:a', of({ type: 'TextQuoteSelector', exact: 'x' })] },
      'nothing',
      { type: 'Annotation' },
      { type: 'Annotation', target: { selector: { type: 'TextQuoteSelector', exact: 'x' } } },
      { type: 'Annotation', target: 'urn:a', body: { value: 'later', purpose: 'tagging' } },
    )
    expect(annotations.map(a => [a.key, a.source, a.exact])).toEqual([
      ['urn:1', 'urn:a', ''],
      ['urn:1 1', 'https://a.example/b.pdf', 'x'],
    ])
    expect(unread).toEqual([
      { n: 2, why: 'it is no object' },
      { n: 3, why: 'it says nothing of what it is of' },
      { n: 4, why: 'its document has no address' },
      { n: 5, why: 'it marks no words and says nothing' },
    ])
  })
  test('a file of another kind is said to be that', () => {
    expect(() => readAnnotations('TY  - JOUR')).toThrow('is no JSON')
    expect(() => readAnnotations('{"items":[1]}')).toThrow('no annotations')
    expect(() => readAnnotations('3')).toThrow('no annotations')
  })
})

test('what we write is read again with all that was in it', () => {
  const words = fc
    .string({ unit: fc.constantFrom('a', 'ж', ' ', '"', '<', '.'), minLength: 1, maxLength: 20 })
    .map(t => `w${t}w`)
  fc.assert(
    fc.property(words, words, fc.array(words, { maxLength: 3 }), fc.nat(900), (quote, note, tags, x) => {
      const exact = quote.replace(/\s+/g, ' ')
      const p: ToldPassage = {
        ...{ id: 7, workId: 1, page: 3, label: '147', kind: 'quoted', quote, note, at: '2026-10-05T10:00:00.000Z' },
        ...{
          title: 'T',
          authors: 'A',
          year: 2011,
          cited: '(A, 2011)',
          strand: 'Night',
          source: 'http://a.example/inquiries/1/read/9',
        },
        ...{ doi: '10.5555/a.1', tags: [...new Set(tags.map(t => t.replace(/\s+/g, ' ')))] },
        selectors: [
          { type: 'TextQuoteSelector', exact, prefix: 'before', suffix: 'after' },
          {
            type: 'FragmentSelector',
            conformsTo: 'http://tools.ietf.org/rfc/rfc8118',
            value: `page=3&viewrect=${x},1,2,3`,
          },
        ],
      }
      expect(readAnnotations(JSON.stringify(passagesAsAnnotations([p])))).toEqual({
        annotations: [
          {
            ...{ key: 'http://a.example/inquiries/1/read/9#passage-7', source: p.source, doi: '10.5555/a.1', exact },
            ...{ prefix: 'before', suffix: 'after', page: 3, boxes: [{ page: 3, x, y: 1, width: 2, height: 3 }], note },
            ...{ classes: ['Night'], tags: p.tags, isComment: false },
          },
        ],
        ...{ unread: [], left: 0 },
      })
    }),
  )
})
