import { describe, expect, test } from '@jest/globals'
import { isSameGrant, joinGrants, readGrants } from './grants'

describe('a note that says who paid', () => {
  test.each([
    ['Night Land Foundation, NLF-2003-0042', [{ number: 'NLF-2003-0042', funder: 'Night Land Foundation' }]],
    [
      'This work was supported by the Ostmere Science Trust (grant no. 12/345).',
      [{ number: '12/345', funder: 'Ostmere Science Trust' }],
    ],
    [
      'Funded by the Ostmere Science Trust under grants OST-3, OST-4 and OST-5',
      ['OST-3', 'OST-4', 'OST-5'].map(number => ({ number, funder: 'Ostmere Science Trust' })),
    ],
    [
      'Night Land Foundation [NLF-1]; Halverane Research Council, Projekt 77',
      [
        { number: 'NLF-1', funder: 'Night Land Foundation' },
        { number: '77', funder: 'Halverane Research Council' },
      ],
    ],
    ['The author paid for it all.', [{ said: 'The author paid for it all' }]],
    ['', []],
  ])('%s', (note, grants) => expect(readGrants(note)).toEqual(grants))
})

describe('one grant in two sources', () => {
  const grant = { number: 'NLF-2003-0042', funder: 'Night Land Foundation' }
  test.each([
    ['the same number in other signs', { number: 'nlf 2003/0042' }, true],
    ['the funder by its first letters', { number: 'NLF-2003-0042', funder: 'NLF' }, true],
    ['the funder with its town', { number: 'NLF-2003-0042', funder: 'The Night Land Foundation, Ostmere' }, true],
    ['a number of another funder', { number: 'NLF-2003-0042', funder: 'Ostmere Science Trust' }, false],
    ['another number', { number: 'NLF-2003-0043', funder: 'Night Land Foundation' }, false],
    ['the funder alone', { funder: 'Night Land Foundation' }, false],
  ])('%s', (_, other, same) => {
    expect(isSameGrant(grant, other)).toBe(same)
    expect(isSameGrant(other, grant)).toBe(same)
  })
  test('each says what the others leave out', () =>
    expect(joinGrants([{ number: '7' }, { number: '7', funder: 'A trust', title: 'Lamps' }, { said: 'x' }])).toEqual([
      { number: '7', funder: 'A trust', title: 'Lamps' },
      { said: 'x' },
    ]))
})
