import { describe, expect, test } from '@jest/globals'
import { emptySheet, ladder, type Sheet, type Term } from '../../core/query/sheet'
import { listOf, listsOf, move, moveRung, WITHOUT, withConcept, withList, withSweep } from '../stations/gather/lists'

const term = (text: string): Term => ({ id: text, text, role: 'main', on: true })
const sheet: Sheet = {
  ...emptySheet(),
  concepts: [
    { id: 'a', name: 'lamps', terms: [term('lamp'), term('lantern')] },
    { id: 'b', name: '', terms: [term('moth')] },
  ],
  without: [term('sail')],
}
const words = (s: Sheet, id: string) => listOf(s, id).map(t => t.text)

describe('the lists of a sheet', () => {
  test('are its concepts and what is left out, each by name', () => {
    expect(listsOf(sheet)).toEqual([
      { id: 'a', name: 'lamps' },
      { id: 'b', name: 'moth' },
      { id: WITHOUT, name: 'what is left out' },
    ])
    expect(words(sheet, WITHOUT)).toEqual(['sail'])
    expect(listOf(sheet, 'gone')).toEqual([])
  })
  test('a term moves from one to the end of another, and nowhere else', () => {
    const next = move(sheet, 'lamp', 'a', 'b')
    expect([words(next, 'a'), words(next, 'b'), words(next, WITHOUT)]).toEqual([
      ['lantern'],
      ['moth', 'lamp'],
      ['sail'],
    ])
    expect(move(sheet, 'lamp', 'a', 'a')).toBe(sheet)
    expect(move(sheet, 'nobody', 'a', 'b')).toBe(sheet)
    expect(words(move(sheet, 'moth', 'b', WITHOUT), WITHOUT)).toEqual(['sail', 'moth'])
  })
  test('are replaced whole, and grow by concepts', () => {
    expect(words(withList(sheet, 'b', [term('bat')]), 'b')).toEqual(['bat'])
    const next = withConcept(sheet, term('town'), 'towns')
    expect(next.concepts.at(-1)).toMatchObject({ name: 'towns', terms: [{ text: 'town' }] })
    expect(withConcept(sheet).concepts.at(-1)!.terms).toEqual([])
    expect(sheet.concepts).toHaveLength(2)
  })
  test('take an earlier sweep as a term, or as a concept of its own', () => {
    const sweep = { id: 4, name: 'First look', cql: 'lamp* and moth*' }
    expect(listOf(withSweep(sheet, sweep, 'a'), 'a').at(-1)).toMatchObject({
      text: 'First look',
      sweep: 4,
      cql: sweep.cql,
      on: true,
    })
    expect(withSweep(sheet, sweep, '').concepts.at(-1)!.terms).toHaveLength(1)
  })
})

describe('the order of rungs', () => {
  const order = (s: Sheet) => ladder(s).map(r => r.id)
  test('changes by one rung taking another’s place', () => {
    expect(order(sheet)).toEqual(['a', 'b', 'without'])
    expect(order(moveRung(sheet, 'b', 'a'))).toEqual(['b', 'a', 'without'])
    expect(order(moveRung(sheet, 'a', 'b'))).toEqual(['b', 'a', 'without'])
    expect(moveRung(sheet, 'a', 'nowhere')).toBe(sheet)
  })
})
