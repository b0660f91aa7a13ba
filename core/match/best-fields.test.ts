import { describe, expect, test } from '@jest/globals'
import type { Facts, Item } from '../bib/item'
import { buildWork, readField, writeField } from './best-fields'

const record = (id: number, item: Partial<Item>, facts: Facts = {}) => ({
  id,
  item: { id: `r${id}`, type: 'article-journal', ...item } as Item,
  facts,
})

describe('which record a field is taken from', () => {
  test('the one with most fields, else the one that came first, whatever order they are given in', () => {
    const full = record(3, { volume: '3', issue: '1', publisher: 'C' })
    const [first, second] = [record(1, { volume: '1' }), record(2, { volume: '2' })]
    for (const list of [
      [first, second, full],
      [full, second, first],
      [second, first, full],
    ])
      expect(buildWork(list)).toMatchObject({ item: { volume: '3' }, from: { volume: 3 } })
    for (const list of [
      [first, second],
      [second, first],
    ])
      expect(buildWork(list)).toMatchObject({ item: { volume: '1' }, from: { volume: 1 } })
  })
  test('one of a published version before any manuscript’s', () => {
    for (const version of ['preprint', 'accepted manuscript'] as const) {
      const manuscript = record(1, { volume: '1', issue: '1', publisher: 'A' }, { version })
      expect(buildWork([manuscript, record(2, { volume: '2' })]).from.volume).toBe(2)
      expect(buildWork([manuscript, record(2, { volume: '2' }, { version: 'version of record' })]).from.volume).toBe(2)
      // what only the manuscript says is taken from it
      expect(buildWork([manuscript, record(2, { volume: '2' })]).from.issue).toBe(1)
    }
  })
  test('an empty field is none, and a work has no id of its own', () => {
    const w = buildWork([record(1, { volume: '', issue: '4', note: undefined }), record(2, { volume: '2' })])
    expect(w.item).toEqual({ id: '', type: 'article-journal', volume: '2', issue: '4' })
    expect(w.from).toEqual({ type: 1, volume: 2, issue: 1 })
  })
  test('the title in mixed case and, of those, the longest; past four hundred letters length says nothing', () => {
    const shout = record(1, { title: 'LAMPS AND MOTHS OF ALL THE TOWNS OF THE NORTH', volume: '1' })
    expect(buildWork([shout, record(2, { title: 'Lamps' })]).from.title).toBe(2)
    expect(
      buildWork([record(1, { title: 'Lamps', volume: '1' }), record(2, { title: 'Lamps and moths' })]).from.title,
    ).toBe(2)
    const long = (n: number) => 'Lamps '.repeat(n)
    expect(buildWork([record(1, { title: long(90) }), record(2, { title: long(100) })]).from.title).toBe(1)
    expect(buildWork([record(1, { title: long(50) }), record(2, { title: long(60) })]).from.title).toBe(2)
  })
  test('the fuller list of authors, and of those of one length the one with given names', () => {
    const named = (...names: [string, string?][]) => ({
      author: names.map(([family, given]) => ({ family, ...(given ? { given } : {}) })),
    })
    const from = (a: Partial<Item>, b: Partial<Item>) => buildWork([record(1, a), record(2, b)]).from.author
    expect(from(named(['Okafor', 'Ada']), named(['Okafor'], ['Bee']))).toBe(2)
    expect(from(named(['Okafor', 'A']), named(['Okafor', 'Ada']))).toBe(2)
    expect(from(named(['Okafor']), named(['Okafor', 'A']))).toBe(2)
    expect(from({ author: [{ literal: 'Okafor Ada' }] }, named(['Okafor']))).toBe(2)
    // past twelve letters a given name is no better
    expect(from(named(['Okafor', 'Ada Ngozi Ob']), named(['Okafor', 'Ada Ngozi Obi Chi']))).toBe(1)
    // a given name never outweighs another author
    expect(from(named(['Okafor', 'Ada Ngozi Obi']), named(['Okafor'], ['Bee']))).toBe(2)
  })
  test('the longest abstract, the most precise date, and any type before “document”', () => {
    const w = buildWork([
      record(1, { abstract: 'Short.', issued: { 'date-parts': [[2020]] }, type: 'document', volume: '1' }),
      record(2, { abstract: 'It is longer.', issued: { 'date-parts': [[2020, 3]] }, type: 'book' }),
      record(3, { abstract: 'Longer.', issued: { raw: 'spring' }, type: 'chapter' }),
    ])
    expect(w.from).toMatchObject({ abstract: 2, issued: 2, type: 2 })
    expect(buildWork([record(1, { type: 'document' })]).item.type).toBe('document')
    expect(buildWork([record(1, { type: 'book' }), record(2, { type: 'document', volume: '1' })]).from.type).toBe(1)
    expect(
      buildWork([record(1, { issued: { raw: 'spring' } }), record(2, { issued: { 'date-parts': [[2020]] } })]).from
        .issued,
    ).toBe(2)
  })
  test('facts of all are put together: lists without doubles, else the first that says it', () => {
    const w = buildWork([
      record(1, { volume: '1' }, { keywords: ['moths', 'lamps'], citedByCount: 0, genre: 'article' }),
      record(2, {}, { keywords: ['lamps', 'towns'], subjects: ['Ecology'], citedByCount: 9, pageCount: 4 }),
      record(3, {}, { subjects: ['Ecology', 'Night'], genre: 'review' }),
    ])
    expect(w.facts).toEqual({
      keywords: ['moths', 'lamps', 'towns'],
      subjects: ['Ecology', 'Night'],
      citedByCount: 0,
      genre: 'article',
      pageCount: 4,
    })
    expect(buildWork([record(1, {})]).facts).toEqual({})
  })
  test('the records stay as they were', () => {
    const list = [record(2, { volume: '2' }), record(1, { volume: '1', issue: '1' })]
    const before = structuredClone(list)
    buildWork(list, { volume: { text: '7' } })
    expect(list).toEqual(before)
  })
})

describe('a field written by hand', () => {
  test.each([
    [{ 'date-parts': [[2012]] }, '2012'],
    [{ 'date-parts': [[2012, 3]] }, '2012-03'],
    [{ 'date-parts': [[2012, 3, 9]] }, '2012-03-09'],
    [{ raw: 'spring' }, ''],
    [undefined, ''],
  ])('a date: %j', (issued, text) => expect(writeField(record(1, issued ? { issued } : {}).item, 'issued')).toBe(text))
  test('names one behind the other, bodies as they are', () => {
    const author = [
      { family: 'Berg', given: 'M', 'non-dropping-particle': 'van' },
      { literal: 'Harbour Watch' },
      { family: 'Bee' },
    ]
    expect(writeField(record(1, { author }).item, 'author')).toBe('van Berg, M; Harbour Watch; Bee')
    expect(writeField(record(1, {}).item, 'author')).toBe('')
  })
  test('names are read one a line or parted by semicolons; empty ones are none', () => {
    const names = [
      { family: 'Ruiz', given: 'B.' },
      { family: 'Bee', given: 'C' },
    ]
    for (const text of ['Ruiz, B.; Bee, C', 'Ruiz, B.\nBee, C', ' Ruiz, B. ;  Bee, C ; ;\n'])
      expect(readField('author', text)).toEqual(names)
  })
  test('what is not there is written as nothing, a number as its digits', () => {
    expect(writeField(record(1, { volume: 4 }).item, 'volume')).toBe('4')
    expect(writeField(record(1, {}).item, 'volume')).toBe('')
    expect(writeField({ ...record(1, {}).item, volume: null } as unknown as Item, 'volume')).toBe('')
    expect(readField('volume', '  7 ')).toBe('7')
    expect(readField('issued', '2012-03')).toEqual({ 'date-parts': [[2012, 3]] })
  })
})
