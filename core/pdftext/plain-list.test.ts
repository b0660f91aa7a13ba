import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { listOfText } from './plain-list'

const ENTRIES = [
  'Wexcombe T. (1989) Lamps in the allotment: moths, gardeners and the municipal night. Ostermoor: Grey Fell Books.',
  'Sayegh M., Thorne-Abara J., Lindqvist O. (2019) Night visits to hawkmoth flowers under white lamps in gardens. Proc. Urb. Biol. 286, 211.',
  'Pettersen Å. (2011) Counting moths at dusk: three lamps, one sheet. Entomol. Q. 18, 77-92.',
  'Lamp Committee (1998) Return of lamps and posts, with hours. Typescript, 46 leaves.',
]
/** Lines no wider than so many letters. */
function wrapped(text: string, width: number, indent = ''): string {
  const lines: string[] = []
  for (const word of text.split(' ')) {
    const last = lines.at(-1)
    if (last !== undefined && last.length + 1 + word.length <= width) lines[lines.length - 1] = `${last} ${word}`
    else lines.push(word)
  }
  return lines.join(`\n${indent}`)
}
const cut = (text: string) => listOfText(text).entries.map(e => e.text)

describe('a list as plain text is cut into its entries', () => {
  test.each([
    ['a line each', ENTRIES.join('\n')],
    ['numbered, over several lines', ENTRIES.map((e, i) => wrapped(`${i + 1}. ${e}`, 70)).join('\n')],
    ['in brackets', ENTRIES.map((e, i) => wrapped(`[${i + 1}] ${e}`, 60)).join('\n')],
    ['with hanging lines', ENTRIES.map(e => wrapped(e, 70, '    ')).join('\n')],
    ['with empty lines between', ENTRIES.map(e => wrapped(e, 70)).join('\n\n')],
    ['by their words alone', ENTRIES.map(e => wrapped(e, 72)).join('\n')],
    ['with the ends of lines of another system', ENTRIES.join('\r\n')],
  ])('%s', (_, text) => {
    expect(cut(text)).toEqual(ENTRIES)
  })
  test('beneath its heading, which is no entry, with the labels of its entries', () => {
    const list = listOfText(`References\n\n${ENTRIES.map((e, i) => `${i + 1}. ${e}`).join('\n')}`)
    expect([list.heading, list.by, list.entries.map(e => e.label)]).toEqual([
      'References',
      'numbers',
      ['1', '2', '3', '4'],
    ])
    expect(list.entries[1]!.read.item['container-title']).toBe('Proc. Urb. Biol')
  })
  test('what looks like no reference is an entry still', () => {
    expect(cut([ENTRIES[0], 'see the lamp lists', ENTRIES[2]].join('\n'))).toEqual([
      ENTRIES[0],
      'see the lamp lists',
      ENTRIES[2],
    ])
    expect(cut('one')).toEqual(['one'])
    expect(cut(' \n \n')).toEqual([])
  })
  test('no word is lost, whatever the text is', () => {
    const bare = (s: string) => s.normalize('NFC').replace(/[^\p{L}\p{N}]/gu, '')
    const all = (text: string) => listOfText(text).entries.map(e => `${e.label ?? ''} ${e.text}`)
    fc.assert(
      fc.property(
        fc.array(fc.constantFrom(...ENTRIES, 'a b', '(1999)', 'x. 2001. y.', ''), { maxLength: 12 }),
        fc.integer({ min: 20, max: 90 }),
        (list, width) => {
          const text = list.map(e => wrapped(e, width)).join('\n')
          expect(bare(all(text).join(''))).toBe(bare(text))
        },
      ),
    )
  })
  test('of more lines than a list has, those beyond are counted', () => {
    const { entries, left } = listOfText(
      Array.from({ length: 5003 }, (_, i) => `${i + 1}. Sand I. (2001) Lamps ${i}. Night 1, 2.`).join('\n'),
    )
    expect([entries.length, left]).toEqual([5000, 3])
  })
})
