import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { HOW, MOST_MARKS, readFileMarks, type ToldMark } from './file-marks'

let n = 0
const told = (more: Partial<ToldMark>): ToldMark => ({
  ...{ key: `k${++n}`, subtype: 'Highlight', page: 1, words: '', note: '', by: 'Mara', at: null, colour: null },
  ...{ boxes: [{ page: 1, x: 1, y: n, width: 10, height: 10 }], of: null, isState: false },
  ...more,
})
const read = (...all: ToldMark[]) => readFileMarks(all).marks.map(({ kind, quote, note }) => [kind, quote, note])

test('marked words are quoted without the breaks of their lines, a box is a figure, what is written a note', () => {
  expect(
    read(
      told({ words: 'Nobody had coun-\nted the\nmoths', note: 'By whom?' }),
      told({ subtype: 'Underline', words: 'Lamps-\nIn towns' }),
      told({ subtype: 'Square' }),
      told({ subtype: 'Text', note: ' Read again\u0000. ' }),
    ),
  ).toEqual([
    ['quoted', 'Nobody had counted the moths', 'By whom?'],
    ['quoted', 'Lamps- In towns', ''],
    ['figure', '', ''],
    ['in my words', '', 'Read again.'],
  ])
})

test('marked words that are written into the note as well are no note; of a scan the place alone is marked', () => {
  expect(read(told({ words: 'The moths', note: 'the moths' }))).toEqual([['quoted', 'The moths', '']])
  expect(read(told({ words: '  \n' }))).toEqual([['figure', '', '']])
})

test('answers are put to what they answer, with who wrote them; how far work has come is none', () => {
  const first = told({ words: 'Moths', note: 'Which?' })
  const second = told({ subtype: 'Text', of: first.key, by: 'Ivo', note: 'All.' })
  const third = told({ subtype: 'Text', of: second.key, note: 'Thanks.' })
  const state = told({ subtype: 'Text', of: first.key, note: 'Accepted set by Ivo', isState: true })
  expect(read(first, third, state, second)).toEqual([['quoted', 'Moths', 'Which?\nThanks.\nIvo: All.']])
  // what is to stand in place of words comes as two marks
  const caret = told({ subtype: 'Caret', note: 'owls' })
  expect(read(caret, told({ subtype: 'StrikeOut', of: caret.key, words: 'moths', note: 'owls' }))).toEqual([
    ['quoted', 'moths', 'owls'],
  ])
  // an answer whose root is not in the file stands by itself
  expect(read(told({ subtype: 'Text', of: 'gone', note: 'Alone' }))).toEqual([['in my words', '', 'Alone']])
})

test('what is no mark is none; drawings without words, and more marks than are read, are counted', () => {
  const strokes = Array.from({ length: 3 }, () => told({ subtype: 'Ink' }))
  const all = [told({ subtype: 'Link', words: 'a' }), told({ subtype: 'Popup', note: 'b' }), ...strokes]
  expect(readFileMarks([...all, told({ subtype: 'Ink', note: 'An arrow' })])).toMatchObject({
    marks: [{ kind: 'figure', note: 'An arrow', how: 'drawn' }],
    ...{ drawings: 3, left: 0 },
  })
  const many = Array.from({ length: MOST_MARKS + 2 }, () => told({ words: 'a' }))
  expect(readFileMarks(many).left).toBe(2)
  const long = readFileMarks(Array.from({ length: 200 }, () => told({ words: 'x'.repeat(30_000) })))
  expect([long.marks.length + long.left, JSON.stringify(long.marks).length < 2_100_000]).toEqual([200, true])
  expect(long.marks[0]!.quote).toHaveLength(16_000)
  expect(readFileMarks([told({ subtype: 'toString', words: 'a' })]).marks).toEqual([])
})

test('whatever answers whatever, also in a ring, nothing that was written is lost', () => {
  const mark = fc.record({
    subtype: fc.constantFrom(...Object.keys(HOW)),
    words: fc.constantFrom('', 'moths', 'a-\nb'),
    note: fc.constantFrom('', 'one', 'two', 'three'),
    of: fc.option(fc.nat(8)),
  })
  fc.assert(
    fc.property(fc.array(mark, { maxLength: 9 }), list => {
      const all = list.map((m, i) => told({ ...m, key: String(i), of: m.of === null ? null : String(m.of) }))
      const got = readFileMarks(all)
      const text = got.marks.map(m => `${m.quote}\n${m.note}`).join('\n')
      for (const m of all) if (m.note) expect(text).toContain(m.note)
    }),
  )
})
