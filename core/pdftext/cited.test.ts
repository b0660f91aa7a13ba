import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { citedIn, type Listed } from './cited'

const entry = (n: number, family: string[], year: number, more: Partial<Listed> = {}): Listed => ({
  ...{ n, label: null, text: `${family.join(', ')} (${year}). Of lamps.`, boxes: [{ page: 9 }] },
  item: { author: family.map(f => ({ family: f })), issued: { 'date-parts': [[year]] } },
  ...more,
})
/** Of each entry the pages on which it is cited. */
const on = (pages: string[], list: Listed[]) =>
  Object.fromEntries([...citedIn(pages, list)].map(([n, places]) => [n, places.map(p => p.page)]))
/** Of each entry its sentences, the citation in double brackets. */
const said = (pages: string[], list: Listed[]) =>
  Object.fromEntries(
    [...citedIn(pages, list)].map(([n, places]) => [
      n,
      places.map(({ said: s, at }) => `${s.slice(0, at.from)}⟦${s.slice(at.from, at.to)}⟧${s.slice(at.to)}`),
    ]),
  )

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
  test('by raised numbers behind words and points; not where they stand behind names, units, powers or places of work', () => {
    const list = [1, 2, 3, 4].map(n => entry(n, ['Aster'], 2000 + n, { label: `${n}` }))
    expect(
      said(
        ['Mara Lune¹, Odo Vale² and Ina Reed³\n¹ Institute of Lamps', 'Moths come.²⁻⁴ Over 10³ km² of fields¹ (x²).'],
        list,
      ),
    ).toEqual({
      1: ['Over 10³ km² of fields⟦¹⟧ (x²).'],
      2: ['Moths come.⟦²⁻⁴⟧'],
      3: ['Moths come.⟦²⁻⁴⟧'],
      4: ['Moths come.⟦²⁻⁴⟧'],
    })
  })
  test('a raised number that leads to a note at the foot of its page is no entry, unless the notes are the list', () => {
    const page = 'Moths come.¹ Lamps stay.²\n1 The sites are told on request to anybody.'
    const list = [1, 2].map(n => entry(n, ['Aster'], 2000 + n, { label: `${n}` }))
    expect(on([page], list)).toEqual({ 2: [1] })
    const notes = list.map(e => ({ ...e, text: `Aster (200${e.n}). Of lamps, and of moths.`, boxes: [{ page: e.n }] }))
    const footed = notes.map(e => `Moths come to lamp ${e.n}.${'¹²'[e.n - 1]!}\n${e.n} ${e.text}`)
    expect(on([...footed, 'x', 'x', 'x'], notes)).toEqual({ 1: [1], 2: [2] })
  })
  test('by labels of letters and figures, several and with a page', () => {
    const list = [entry(1, ['Aster'], 1999, { label: '[Ast99]' }), entry(2, ['Birch'], 2004, { label: '[BC+04]' })]
    expect(said(['So it is [Ast99, BC+04]. Not so [BC+04, p. 3].'], list)).toEqual({
      1: ['So it is ⟦[Ast99, BC+04]⟧.'],
      2: ['So it is ⟦[Ast99, BC+04]⟧.', 'Not so ⟦[BC+04, p. 3]⟧.'],
    })
  })
  test('an interval, and what is printed before a row of figures, are no numbers of entries', () => {
    const list = [1, 2].map(n => entry(n, ['Aster'], 2000 + n, { label: `[${n}]` }))
    expect(on(['It lies in [0, 1].\n[1] 107.7 116.3\nSeen [2].'], list)).toEqual({ 2: [1] })
  })
  test('parts of programs are no citations where those stand apart from their words; where none does, they are', () => {
    const list = [1, 2].map(n => entry(n, ['Aster'], 2000 + n, { label: `[${n}]` }))
    expect(said(['Seen [1]. So take state[2] and dim(x)[2]. Or [2].'], list)).toEqual({
      1: ['Seen ⟦[1]⟧.'],
      2: ['Or ⟦[2]⟧.'],
    })
    expect(on(['Moths come[1], lamps stay[2].'], list)).toEqual({ 1: [1], 2: [1] })
  })
  test('the list is left out with its labels; what stands behind it on its last page is not', () => {
    const list = [
      entry(1, ['Aster'], 1999, { label: '[1]', boxes: [{ page: 2 }] }),
      entry(2, ['Birch'], 2004, { label: '[2]', boxes: [{ page: 2 }] }),
    ]
    const pages = [
      'Moths come [2].',
      'Lamps, too [1].\n[1] Aster (1999). Of lamps.\n[2] Birch (2004). Of lamps.\nAn appendix [1].',
    ]
    expect(said(pages, list)).toEqual({ 1: ['Lamps, too ⟦[1]⟧.', 'An appendix ⟦[1]⟧.'], 2: ['Moths come ⟦[2]⟧.'] })
  })
  test('each chapter has its own list, numbered from one', () => {
    const list = [
      entry(1, ['Aster'], 1999, { label: '1', text: 'Aster. Of lamps.', boxes: [{ page: 2 }] }),
      entry(2, ['Birch'], 2004, { label: '1', text: 'Birch. Of moths.', boxes: [{ page: 5 }] }),
    ]
    expect(on(['One [1].', 'Aster. Of lamps.', 'x', 'Two [1].', 'Birch. Of moths.'], list)).toEqual({ 1: [1], 2: [4] })
  })
  test('a sentence is whole over the ends of pages and around “et al.”; the citation has its brackets', () => {
    const list = [entry(1, ['Aster', 'Birch', 'Cole'], 1999)]
    expect(
      said(['Before. As was shown by the group of', 'old Aster et al. (1999) in their long', 'nights. After.'], list),
    ).toEqual({ 1: ['As was shown by the group of old ⟦Aster et al. (1999)⟧ in their long nights.'] })
  })
  test('brackets over the end of a page hold a sentence together', () => {
    const list = [entry(1, ['Aster'], 1999), entry(2, ['Birch'], 2004)]
    expect(said(['So. Moths come (Aster, 1999;\n1 A note at its foot.', 'Birch, 2004). After.'], list)).toEqual({
      1: ['Moths come (⟦Aster, 1999⟧; Birch, 2004).'],
      2: ['Moths come (Aster, 1999; ⟦Birch, 2004⟧).'],
    })
  })
  test('what does not go on with a sentence is not joined to it, though that is cut short', () => {
    expect(said(['Moths come (Aster, 1999;', 'Nights of rain were left out.'], [entry(1, ['Aster'], 1999)])).toEqual({
      1: ['Moths come (⟦Aster, 1999⟧;'],
    })
  })
  test('all names of a work within brackets, however many', () => {
    const names = ['Aster', ...Array.from({ length: 30 }, (_, i) => `Bircholm${'abcdefghij'[i % 10]}`)]
    const list = [entry(1, names, 1999)]
    expect(said([`Moths come (${names.join(', ')}, 1999).`], list)).toEqual({
      1: [`Moths come (⟦${names.join(', ')}, 1999⟧).`],
    })
  })
  test('what is longer than a sentence is told around the citation', () => {
    const long = `${'and so on '.repeat(90)}(Aster, 1999) ${'and on '.repeat(90)}`
    const [place] = citedIn([long], [entry(1, ['Aster'], 1999)]).get(1)!
    expect(place!.said.length).toBeLessThan(710)
    expect(place!.said.slice(place!.at.from, place!.at.to)).toBe('Aster, 1999')
    expect([place!.said.startsWith('… '), place!.said.endsWith(' …')]).toEqual([true, true])
  })
  test('nothing of no text and no list; pages are pages of the text, citations lie within what is told', () => {
    expect(on([], [entry(1, ['Aster'], 1999)])).toEqual({})
    expect(on(['Aster (1999)'], [])).toEqual({})
    const words = fc.array(
      fc.constantFrom(
        'Aster',
        'Bo',
        '1999',
        '2000',
        '(1)',
        '[1, 2]',
        '[0]',
        'lamps¹',
        '²',
        '.',
        ';',
        '\n',
        'of',
        '[',
        ')',
      ),
      { maxLength: 60 },
    )
    fc.assert(
      fc.property(fc.array(words, { maxLength: 6 }), fc.constantFrom('1', null), (written, label) => {
        const pages = written.map(w => w.join(' '))
        const found = citedIn(pages, [
          entry(1, ['Aster'], 1999, { label, boxes: [] }),
          entry(2, ['Bo'], 2000, { label: label && '2', boxes: [] }),
        ])
        for (const of of found.values())
          for (const [i, { page, said: s, at }] of of.entries()) {
            expect(page >= (of[i - 1]?.page ?? 1) && page <= pages.length).toBe(true)
            expect(at.from >= 0 && at.from < at.to && at.to <= s.length).toBe(true)
          }
      }),
    )
  })
})
