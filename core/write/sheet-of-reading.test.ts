import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { parseCql } from '../query/parse-cql'
import { HEADS, isFixedHead, ownHead, ownHeadId, pagesNamed, searchFor } from './sheet-of-reading'

test('heads are known by their keys; those of one’s own by their number', () => {
  expect(HEADS.every(h => isFixedHead(h.key) && ownHeadId(h.key) === undefined)).toBe(true)
  expect(ownHeadId(ownHead(12))).toBe(12)
  for (const none of ['own-', 'own-x', 'own-1234567890', 'OWN-1', 'own-1 ', 'constructor']) {
    expect(ownHeadId(none)).toBeUndefined()
    expect(isFixedHead(none)).toBe(false)
  }
})
test('each head but one’s own view has words by which a text speaks of it, and they can be searched', () => {
  for (const h of HEADS) {
    const search = searchFor(h)
    if (h.key === 'view') expect(search).toBeUndefined()
    else expect(parseCql(search!).ok).toBe(true)
  }
  expect(searchFor({ key: 'own-1', name: 'Hours lit' })).toBe('hour* or lit*')
  expect(searchFor({ key: 'own-1', name: 'Größe, Städte!' })).toBe('größe* or städte*')
  expect(searchFor({ key: 'own-1', name: 'n' })).toBeUndefined()
  fc.assert(
    fc.property(fc.string({ maxLength: 60 }), name => {
      const search = searchFor({ key: 'own-1', name })
      expect(search === undefined || parseCql(search).ok).toBe(true)
    }),
  )
})
test('pages that a note names are found where they stand', () => {
  const labels = (note: string) => pagesNamed(note).map(p => p.label)
  expect(pagesNamed('Fell by a third (p. 147).')).toEqual([{ start: 17, end: 23, label: '147' }])
  expect(labels('See p.12, pp. 14–16, p. xii and p. S-3; ap. 5 and step. 6 are none.')).toEqual([
    '12',
    '14',
    'xii',
    'S-3',
  ])
  expect(labels('')).toEqual([])
  fc.assert(
    fc.property(fc.string({ maxLength: 200 }), note => {
      for (const { start, end, label } of pagesNamed(note)) expect(note.slice(start, end).endsWith(label)).toBe(true)
    }),
  )
})
