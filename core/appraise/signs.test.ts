import { describe, expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import { appraise, itemRefereed } from './kind'
import { leadOf } from './leads'
import { signsOf } from './signs'

const item = (title: string, more: Partial<Item> = {}): Item => ({ id: '', type: 'article-journal', title, ...more })

describe('what a work leads to', () => {
  test.each([
    ['Review of Nights of towns, by A. Okafor', 'Nights of towns', 'A. Okafor'],
    ['Nights of towns, by A. Okafor', 'Nights of towns', 'A. Okafor'],
    ['A. Okafor: Nights of towns', 'Nights of towns', 'A. Okafor'],
    ['Book review: “Nights of towns”', 'Nights of towns', undefined],
  ])('a review’s title names its book: %s', (title, book, author) => {
    expect(leadOf(item(title), 'review of a book')).toEqual({ what: 'the book it reviews', title: book, author })
  })
  test('fields of the record come before its title', () => {
    const given = item('Nights', { 'reviewed-title': 'Nights of towns', 'reviewed-author': [{ family: 'Okafor' }] })
    expect(leadOf(given, 'review of a book')).toMatchObject({ title: 'Nights of towns', author: 'Okafor' })
  })
  test.each(['Correction: Lamps and owls', 'Correction to Lamps and owls', 'Erratum: Lamps and owls'])(
    'a correction names what it corrects: %s',
    title => {
      const lead = leadOf(item(title, { author: [{ family: 'Ruiz' }] }), 'correction')
      expect(lead).toEqual({ what: 'the item it corrects', title: 'Lamps and owls', author: 'Ruiz' })
    },
  )
  test('a chapter stands in a book; an article leads nowhere', () => {
    const chapter = item('Introduction', { type: 'chapter', 'container-title': 'Nights of towns' })
    expect(leadOf(chapter, 'chapter')).toMatchObject({ what: 'the book it stands in', title: 'Nights of towns' })
    expect(leadOf(item('Lamps, by day'), 'research article')).toBeUndefined()
    expect(leadOf(item(''), 'review of a book')).toBeUndefined()
    expect(leadOf(item('Correction'), 'correction')).toBeUndefined()
  })
})

describe('what the pages of a copy say', () => {
  const pages = (...lines: string[][]) => lines.map(l => ({ lines: l }))
  test('dates of receipt and acceptance, sections and labels are read', () => {
    const signs = signsOf(
      pages(
        [
          'Night Papers 4 (2012)',
          'Lamps and owls',
          'Received 3 March 2011; accepted 4 October 2011.',
          '1 Introduction',
        ],
        ['2. Methods', 'We counted.', 'Results', 'References'],
      ),
    )
    expect(signs).toEqual({ refereed: true, sections: ['introduction', 'methods', 'results', 'references'] })
    expect(signsOf(pages(['BOOK REVIEW', 'Nights of towns']))).toEqual({ label: 'book review' })
    expect(signsOf(pages(['Draft. Not for citation without the authors’ permission.']))).toEqual({ draft: true })
    expect(signsOf(pages(['Preprint. This text has not been peer-reviewed.']))).toEqual({ unrefereed: true })
    expect(signsOf([])).toEqual({})
  })
  test('a sentence that speaks of methods is no heading', () => {
    expect(signsOf(pages(['Methods of counting owls have been argued about for a long time.']))).toEqual({})
  })
  test('they turn a kind that the record got wrong', () => {
    const record = item('Nights of towns', { page: '301-304', volume: '3' })
    expect(appraise(record, {}).kind).not.toBe('editorial or letter')
    const judged = appraise(record, {}, { label: 'editorial' })
    expect(judged.kind).toBe('editorial or letter')
    expect(judged.evidence[0]).toBe('Its first page is headed “editorial”.')
  })
  test('say whether the item was refereed, whatever its venue is', () => {
    expect(itemRefereed('research article', { refereedVenue: false }, { refereed: true })).toBe(true)
    expect(itemRefereed('research article', { refereedVenue: true }, { draft: true })).toBe(false)
    expect(itemRefereed('editorial or letter', { refereedVenue: true })).toBe(false)
  })
})
