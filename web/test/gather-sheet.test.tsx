/** @jest-environment jsdom */
import '@testing-library/jest-dom/jest-globals'
import { expect, test } from '@jest/globals'
import { parseCql } from '../../core/query/parse-cql'
import { sayDays } from '../frame/due'
import { plainCql } from '../../core/query/cql'
import { range, short } from '../stations/gather/use-counts'
import { passes } from '../stations/gather/records'
import type { FoundRecord } from '../../core/schema/api'

test('a query is shown as people write it, and reads back the same', () => {
  const p = parseCql('"street light*" and (moth* or "night flight") and title adj "a b"')
  if (!p.ok) throw new Error('unreachable')
  expect(plainCql(p.query)).toBe('"street light*" and (moth* or "night flight") and title adj "a b"')
  expect(parseCql(plainCql(p.query))).toMatchObject({ ok: true, query: p.query })
})

test('numbers and days in words', () => {
  expect(range({ least: 1200, most: 1200 })).toBe('1,200')
  expect(range({ least: 30, most: 50 })).toBe('30–50')
  expect([short(9999), short(61_234)]).toEqual(['9,999', '61k'])
  expect([24, 1, 0, -1, -6].map(sayDays)).toEqual(['24 days', '1 day', 'due today', '1 day late', '6 days late'])
})

test('limits that are judged on records', () => {
  const r = { kind: 'magazine', refereed: true, item: { abstract: 'x' } } as FoundRecord
  expect(passes(r, {})).toBe(true)
  expect(passes(r, { refereed: true, withAbstract: true, kinds: ['magazine'] })).toBe(true)
  expect(passes(r, { kinds: ['book'] })).toBe(false)
  expect(passes({ ...r, refereed: null }, { refereed: true })).toBe(false)
  expect(passes({ ...r, item: { id: '', type: 'x' } }, { withAbstract: true })).toBe(false)
})
