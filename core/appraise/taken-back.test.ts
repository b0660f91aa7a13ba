import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { saidOfAnother, saidOfItself, takenBackAmong, verdictOf } from './taken-back'

describe('a title says of its own work', () => {
  test.each([
    ['RETRACTED: Lamps and owls', 'retracted', 'Lamps and owls'],
    ['RETRACTED ARTICLE: Lamps and owls', 'retracted', 'Lamps and owls'],
    ['[Retracted] Lamps and owls', 'retracted', 'Lamps and owls'],
    ['Retracted – “Lamps and owls”', 'retracted', 'Lamps and owls'],
    ['Lamps and owls (Retracted article. See vol. 5, p. 3, 2020)', 'retracted', 'Lamps and owls'],
    ['Lamps and owls [retracted].', 'retracted', 'Lamps and owls'],
    ['WITHDRAWN: Lamps and owls', 'withdrawn', 'Lamps and owls'],
    ['Temporarily withdrawn: Lamps and owls', 'withdrawn', 'Lamps and owls'],
    ['Zurückgezogen: Über Lampen', 'retracted', 'Über Lampen'],
    ['Отозвана: Лампы и совы', 'retracted', 'Лампы и совы'],
  ])('%s', (given, says, title) => {
    expect(saidOfItself(given)).toEqual({ says, title })
    expect(saidOfAnother(given)).toBeUndefined()
  })
  test.each([
    'Withdrawn children in lit towns',
    'Why retracted articles are cited',
    'Lamps (and what was withdrawn) of owls',
    'The retracted: owls without lamps',
    'Retracted',
    '',
  ])('and nothing: %s', given => expect(saidOfItself(given)).toBeUndefined())
})

describe('a notice speaks of another work', () => {
  test.each([
    ['Retraction: Lamps and owls', 'retracted'],
    ['Retraction note to: Lamps and owls', 'retracted'],
    ['Retraction of “Lamps and owls”', 'retracted'],
    ['Notice of Retraction: Lamps and owls.', 'retracted'],
    ['Retraction for the article: Lamps and owls', 'retracted'],
    ['Rétractation de l’article : Lamps and owls', 'retracted'],
    ['Nota de retractación: el artículo “Lamps and owls”', 'retracted'],
    ['Rétractation : « Lamps and owls »', 'retracted'],
    ['撤稿：Lamps and owls', 'retracted'],
    ['Withdrawal notice to: Lamps and owls', 'withdrawn'],
    ['Editorial expression of concern: Lamps and owls', 'in doubt'],
    ['Author’s correction to: Lamps and owls', 'corrected'],
    ['Erratum zu: Lamps and owls', 'corrected'],
    ['Berichtigung zu Lamps and owls', 'corrected'],
    ['Исправление: Lamps and owls', 'corrected'],
    ['Correction to: The article titled “Lamps and owls”', 'corrected'],
  ])('%s', (given, says) => {
    expect(saidOfAnother(given)).toEqual({ says, title: 'Lamps and owls' })
  })
  test.each(['Correction', 'Retraction', 'The correction of lamps', 'Retractions in journals of night', ''])(
    'and no other: %s',
    given => expect(saidOfAnother(given)?.title ?? '').not.toBe('Lamps and owls'),
  )
})

test('of works the gravest is told first, whoever says it; a notice speaks of what has its title, marked or not', () => {
  const titles = [
    ['Lamps and owls of towns'],
    ['RETRACTED: Moths at the harbour', 'Moths at the harbour'],
    ['Retraction: Lamps and Owls of Towns'],
    ['Correction to: Moths at the harbour'],
    ['Lamps'],
    ['Correction: Lamps'],
    ['Owls at noon'],
  ]
  expect(takenBackAmong(titles)).toEqual([
    { at: 0, says: 'retracted', by: 2 },
    { at: 1, says: 'retracted', by: null },
    { at: 1, says: 'corrected', by: 3 },
  ])
  expect(takenBackAmong([])).toEqual([])
  // two that no number ties
  expect(takenBackAmong([['Moths at the harbour'], ['RETRACTED: Moths at the harbour']])).toEqual([
    { at: 0, says: 'retracted', by: 1 },
    { at: 1, says: 'retracted', by: null },
  ])
})

test('of any titles, nothing speaks of itself, and what is said is said once', () => {
  const title = fc
    .tuple(fc.constantFrom('', 'Retraction: ', 'RETRACTED: ', 'Correction to: ', 'Withdrawn '), fc.string())
    .map(([a, b]) => a + b)
  fc.assert(
    fc.property(fc.array(fc.array(title, { maxLength: 3 }), { maxLength: 8 }), titles => {
      const told = takenBackAmong(titles)
      for (const t of told) expect(t.by).not.toBe(t.at)
      expect(new Set(told.map(t => JSON.stringify(t))).size).toBe(told.length)
    }),
  )
})

test.each([
  ['retraction', 'retracted'],
  ['Retraction', 'retracted'],
  ['partial_retraction', 'corrected'],
  ['withdrawal', 'withdrawn'],
  ['removal', 'withdrawn'],
  ['expression_of_concern', 'in doubt'],
  ['erratum', 'corrected'],
  ['corrigendum', 'corrected'],
  ['new_version', undefined],
  ['', undefined],
])('a registration that calls an update “%s” says %s', (type, says) => expect(verdictOf(type)).toBe(says))
