import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Name } from '../bib/item'
import { spokenName } from '../bib/names'
import { identifierIn, personsOf, type Written } from './author'

const name = (said: string): Name => {
  const words = said.split(' ')
  return { family: words.at(-1)!, given: words.slice(0, -1).join(' ') }
}
let n = 0
const work = (by: string, more: Partial<Written> = {}): Written => ({
  ...{ id: `${++n}`, names: by.split(', ').map(name), year: 2010, container: '', words: [], ids: [] },
  ...more,
})
const groups = (asked: string, works: Written[], first = works[0]!.id) =>
  personsOf(name(asked), works, first).map(p => p.works.map(id => works.findIndex(w => w.id === id)).sort())

describe('works of one person', () => {
  test('are put together by a shared co-author, whatever of the given name is written', () => {
    const works = [
      work('Mara Lune, Odo Vale'),
      work('M. Lune, O. Vale'),
      work('Mara H. Lune, Ida Sand'),
      work('M. Lune, Ida Sand'),
    ]
    expect(groups('Mara Lune', works)).toEqual([
      [0, 1],
      [2, 3],
    ])
  })
  test('of given names written out also by a journal, or by two words of their subject; not by one, nor far apart', () => {
    const subject = { words: ['moths', 'Lamps'] }
    const works = [
      work('Mara Lune', { container: 'Night Papers', ...subject }),
      work('Mara H. Lune', { container: 'Night papers' }),
      work('Mara Lune', { words: ['lamps', 'Moths'] }),
      work('Mara Lune', { words: ['lamps'] }),
      work('Mara Lune', { ...subject, year: 1960 }),
      work('M. Lune', { container: 'Night Papers', ...subject }),
      work('Mara Lune', { container: 'Night Papers', year: null }),
    ]
    expect(groups('Mara Lune', works)).toEqual([[0, 1, 2, 6], [3], [4], [5]])
  })
  test('are one by one identifier and another’s by another, whatever else is said', () => {
    const [one, two] = ['9999-0001-2345-618X', '9999-0001-2345-6016']
    const by = (said: string, id: string, more: Partial<Written> = {}) =>
      work(said, { ids: [{ name: name(said.split(', ')[0]!), id }], ...more })
    const works = [
      by('Mara Lune', one, { year: 1950 }),
      work('Mara Lune, Odo Vale'),
      by('M. Lune, Odo Vale', two),
      by('M. H. Lune, Ida Sand', one),
      // who signed with another name in those years
      by('Mara Quill', one, { year: 2020 }),
      by('Mara Quill', two),
    ]
    const told = personsOf(name('Mara Lune'), works, works[0]!.id, one)
    expect(told.map(p => p.works.map(id => works.findIndex(w => w.id === id)).sort())).toEqual([
      [0, 3, 4],
      [1, 2],
    ])
    expect(told.map(p => [p.id, p.withId, p.isOther])).toEqual([
      [one, 3, false],
      [two, 1, true],
    ])
  })
  test('an identifier of which it is unclear whose it is says nothing', () => {
    const id = '9999-0001-2345-618X'
    const two = work('Mara Lune, M. Lune', { ids: [{ name: name('M. Lune'), id }] })
    expect(personsOf(name('Mara Lune'), [two])[0]).toMatchObject({ id: null, withId: 0 })
  })
  test('never have two given names that differ, though an initial fits both', () => {
    const works = [work('Mara Lune, Odo Vale'), work('M. Lune, Odo Vale'), work('Mira Lune, Odo Vale')]
    expect(groups('M. Lune', works)).toEqual([[0, 1], [2]])
    // who asks for one is not told of the other
    expect(groups('Mira Lune', works, works[2]!.id)).toEqual([[1, 2]])
  })
  test('names are compared without accents and case, with their particles; a part of a name is not it', () => {
    const van: Written = { ...work('x'), names: [{ family: 'Lune', given: 'Åsa', 'non-dropping-particle': 'van' }] }
    const works = [
      van,
      { ...work('x'), names: [{ family: 'VAN LUNE', given: 'Asa' }] },
      work('Åsa Lune'),
      work('Åsa Lunemark'),
    ]
    expect(personsOf({ family: 'van Lune', given: 'Åsa' }, works).flatMap(p => p.works)).toEqual([
      works[0]!.id,
      works[1]!.id,
    ])
  })
  test('a body is its whole name', () => {
    const works = [0, 1].map(() => ({ ...work('x'), names: [{ literal: 'Lamp Committee' }], container: 'Reports' }))
    expect(personsOf({ literal: 'Lamp Committee' }, works).flatMap(p => p.works)).toHaveLength(2)
  })
})

test('a person is told with the fullest name, the years, who writes with them, and of what', () => {
  const words = ['Moths', 'lamps']
  const works = [
    work('M. Lune, Odo Vale', { year: 2004, words }),
    work('Mara H. Lune, O. Vale, Ida Sand', { year: 2012, words: [...words, 'towns'] }),
    work('Mara Lune, Ada Quist', { year: 2016, container: 'Elsewhere', words: ['bread'] }),
    work('Mona Lune, Ida Sand', { year: 2013, words: ['bread'] }),
  ]
  const [first, ...others] = personsOf(name('M. Lune'), works, works[0]!.id)
  expect(spokenName(first!.name)).toBe('Mara H. Lune')
  expect(first!.works).toEqual([works[1]!.id, works[0]!.id])
  expect(first!.years).toEqual([2004, 2012])
  expect(first!.with.map(w => [spokenName(w.name), w.times])).toEqual([
    ['Odo Vale', 2],
    ['Ida Sand', 1],
  ])
  expect(first!.words.map(w => [w.word, w.times])).toEqual([
    ['lamps', 2],
    ['moths', 2],
  ])
  expect(others.map(o => [spokenName(o.name), o.isOther, o.shares])).toEqual([
    ['Mara Lune', false, []],
    ['Mona Lune', true, ['Ida Sand']],
  ])
})

/** Under which name the one who is asked for stands in a work. */
const bearer = (w: Pick<Written, 'names'>): Name => w.names.find(n => n.family === 'Lune' && n.given !== 'Mira') ?? {}

test('every work that bears the name is with one person, in whatever order they come; nothing of nothing', () => {
  expect(personsOf(name('Mara Lune'), [])).toEqual([])
  const people = fc.constantFrom('Mara Lune', 'M. Lune', 'Mira Lune', 'Odo Vale', 'Ida Sand', 'M. H. Lune', 'Lune')
  const some = fc.array(
    fc.record({
      names: fc.array(people.map(name), { maxLength: 3 }),
      year: fc.option(fc.integer({ min: 1900, max: 2026 })),
      container: fc.constantFrom('', 'Night Papers', 'Harbour Studies'),
      words: fc.array(fc.constantFrom('moths', 'lamps', 'bread'), { maxLength: 3 }),
      ids: fc.array(fc.record({ name: people.map(name), id: fc.constantFrom('one', 'two') }), { maxLength: 2 }),
    }),
    { maxLength: 14 },
  )
  fc.assert(
    fc.property(some, list => {
      const works = list.map((w, i) => ({ ...w, id: String(i) }))
      const persons = personsOf(name('M. Lune'), works)
      const bearing = works.filter(w => w.names.some(x => x.family === 'Lune'))
      const told = persons.flatMap(p => p.works)
      expect([...told].sort()).toEqual(bearing.map(w => w.id).sort())
      expect(new Set(told).size).toBe(told.length)
      // of works that one identifier is said of no two are apart
      const saidOf = (id: string) =>
        persons.filter(p => p.works.some(w => identifierIn(works[Number(w)]!, bearer(works[Number(w)]!)) === id))
      for (const id of ['one', 'two']) expect(saidOf(id).length).toBeLessThan(2)
    }),
  )
})
