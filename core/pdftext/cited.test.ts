import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { citedOn, type Listed } from './cited'

const entry = (n: number, family: string[], year: number, more: Partial<Listed> = {}): Listed => ({
  ...{ n, label: null, text: `${family.join(', ')} (${year}). Of lamps.`, boxes: [{ page: 9 }] },
  item: { author: family.map(f => ({ family: f })), issued: { 'date-parts': [[year]] } },
  ...more,
})
const on = (pages: string[], list: Listed[]) => Object.fromEntries(citedOn(pages, list))

describe('where entries are cited', () => {
  test('by names and years, in brackets and in the sentence, several years and several works at once', () => {
    const list = [entry(1, ['Aster'], 1999), entry(2, ['Aster'], 2001), entry(3, ['Birch', 'Cole'], 2004)]
    expect(
      on(
        ['Moths come (Aster, 1999; Birch & Cole, 2004).', 'Aster (1999, 2001) says no; so do Birch and Cole (2004).'],
        list,
      ),
    ).toEqual({ 1: [1, 2], 2: [2], 3: [1, 2] })
  })
  test('of entries of one name and year the one that is named best', () => {
    const list = [
      entry(1, ['Aster'], 2004),
      entry(2, ['Aster', 'Birch'], 2004),
      entry(3, ['Aster', 'Cole', 'Dorn'], 2004),
      entry(4, ['Elm'], 2010, { text: 'Elm (2010a). Of posts.' }),
      entry(5, ['Elm'], 2010, { text: 'Elm (2010b). Of hours.' }),
    ]
    expect(
      on(['Aster (2004)', 'Aster & Birch (2004)', '(Aster et al., 2004)', 'Elm (2010b), then Elm 2010a'], list),
    ).toEqual({
      1: [1],
      2: [2],
      3: [3],
      4: [4],
      5: [4],
    })
  })
  test('by numbers in square brackets, in rows and runs; round ones only where there are no square ones', () => {
    const list = [1, 2, 3, 4, 5].map(n => entry(n, ['Aster'], 2000 + n, { label: `${n}.` }))
    expect(on(['Seen [1, 3–5] by night, in (2) towns.', 'Again [3].'], list)).toEqual({
      1: [1],
      3: [1, 2],
      4: [1],
      5: [1],
    })
    expect(on(['Seen (1, 3) by night.', 'In (2002) no.'], list)).toEqual({ 1: [1], 3: [1] })
  })
  test('not in the list itself, but behind it', () => {
    const list = [
      entry(1, ['Aster'], 1999, { boxes: [{ page: 2 }] }),
      entry(2, ['Birch'], 2004, { boxes: [{ page: 3 }] }),
    ]
    const pages = [
      'Aster (1999).',
      'More of Birch (2004). Aster (1999). Of lamps.',
      'Birch (2004). Of lamps.',
      'Appendix: Aster (1999).',
    ]
    expect(on(pages, list)).toEqual({ 1: [1, 4], 2: [2] })
  })
  test('names with accents, particles and two words; a name within another is not it', () => {
    const list = [entry(1, ['Åström'], 2011), entry(2, ['de la Cruz-Vale'], 2012), entry(3, ['Ast'], 2011)]
    expect(on(['(Åström, 2011)', 'de la Cruz-Vale (2012)', 'the asters of 2011'], list)).toEqual({ 1: [1], 2: [2] })
  })
  test('nothing of no text and no list; pages are pages of the text', () => {
    expect(on([], [entry(1, ['Aster'], 1999)])).toEqual({})
    expect(on(['Aster (1999)'], [])).toEqual({})
    fc.assert(
      fc.property(fc.array(fc.string({ maxLength: 300 }), { maxLength: 6 }), pages => {
        const found = citedOn(pages, [
          entry(1, ['Aster'], 1999, { label: '1', boxes: [] }),
          entry(2, ['Bo'], 2000, { label: '2', boxes: [] }),
        ])
        for (const of of found.values())
          expect(of.every((p, i) => p >= 1 && p <= pages.length && p >= (of[i - 1] ?? 1))).toBe(true)
      }),
    )
  })
})
