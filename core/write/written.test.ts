import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { notListed } from './quotations'
import {
  asCited,
  beneath,
  citingKey,
  citingOf,
  citingsIn,
  fitMarks,
  LINES,
  linesOf,
  LOOKS,
  placesOf,
  printedLines,
  writtenOf,
  type Mark,
  type Written,
} from './written'

const cites = { work: 7, page: '12', named: false }
const text = 'Moths came (Lune, 2020, p. 12).\nFewer in 10 m2.\nAt the lamps.'
const at = (words: string) => ({ from: text.indexOf(words), to: text.indexOf(words) + words.length })
const written: Written = {
  text,
  marks: [
    { ...at('Moths'), is: 'emphasis' },
    { ...at('(Lune, 2020, p. 12)'), is: 'cites', cites },
    { ...at('Fewer in 10 m2.'), is: 'bullet' },
    { ...at('2.'), to: at('2.').to - 1, is: 'raised' },
  ],
}
/** Texts of a few lines with marks as they may come from anywhere. */
const anyWritten = fc
  .array(fc.string({ unit: fc.constantFrom('a', 'b', ' ', 'é', '–', '💡'), maxLength: 12 }), { maxLength: 5 })
  .map(lines => lines.join('\n'))
  .chain(text =>
    fc
      .array(
        fc.record({
          from: fc.integer({ min: -2, max: 70 }),
          to: fc.integer({ min: -2, max: 70 }),
          is: fc.constantFrom(...LOOKS, ...LINES, 'cites' as const),
          cites: fc.option(
            fc.record({ work: fc.integer({ min: 1, max: 3 }), page: fc.constant(''), named: fc.boolean() }),
            {
              nil: undefined,
            },
          ),
        }),
        { maxLength: 12 },
      )
      .map((marks): { text: string; marks: Mark[] } => ({ text, marks })),
  )

describe('marks', () => {
  test('stay within the text and its lines, and are joined where they meet', () => {
    expect(
      fitMarks('one two\nthree', [
        { from: 4, to: 99, is: 'strong' },
        { from: 0, to: 5, is: 'strong' },
        { from: 9, to: 10, is: 'bullet' },
        { from: 3, to: 3, is: 'emphasis' },
        { from: 0, to: 3, is: 'cites' },
      ]),
    ).toEqual([
      { from: 0, to: 7, is: 'strong' },
      { from: 8, to: 13, is: 'bullet' },
      { from: 8, to: 13, is: 'strong' },
    ])
  })
  test('a citation within another, and over a line, is none', () => {
    const over = (from: number, to: number): Mark => ({ from, to, is: 'cites', cites })
    expect(fitMarks('abc\ndef', [over(0, 3), over(1, 2), over(2, 5)])).toEqual([over(0, 3)])
  })
  test('read by lines they become the same marks again', () => {
    fc.assert(
      fc.property(anyWritten, ({ text, marks }) => {
        const fit = fitMarks(text, marks)
        expect(fitMarks(text, fit)).toEqual(fit)
        const lines = linesOf({ text, marks: fit })
        expect(lines.map(l => l.runs.map(r => r.text).join('')).join('\n')).toBe(text)
        const again = writtenOf(lines)
        expect(again.text).toBe(text)
        expect(writtenOf(linesOf(again))).toEqual(again)
        // looks that cover a citation in part are those of none of it
        if (!fit.some(m => m.cites)) expect(again.marks).toEqual(fit)
      }),
    )
  })
})

describe('citations', () => {
  const now = (text: string, raised = false) => new Map([[citingKey(cites), { text, raised }]])
  test('read as the style has them now, and all else stays what it is', () => {
    const other = asCited(written, now('[1, p. 12]'))
    expect(other.text).toBe('Moths came [1, p. 12].\nFewer in 10 m2.\nAt the lamps.')
    const words = other.marks.map(m => [m.is, other.text.slice(m.from, m.to)])
    expect(words).toEqual([
      ['emphasis', 'Moths'],
      ['cites', '[1, p. 12]'],
      ['bullet', 'Fewer in 10 m2.'],
      ['raised', '2'],
    ])
    expect(asCited(other, now('(Lune, 2020, p. 12)'))).toEqual(written)
    expect(asCited(written, new Map())).toEqual(written)
  })
  test('are raised where the style raises them, and stand in the line again in another', () => {
    const raised = asCited(written, now('1', true))
    expect(raised.text.startsWith('Moths came 1.')).toBe(true)
    expect(printedLines(raised)[0]!.runs).toContainEqual({ text: '1', raised: 'super' })
    expect(asCited(raised, now('(Lune, 2020, p. 12)'))).toEqual(written)
  })
  test('of several works are one citation, known by all of them with their pages', () => {
    const both = citingOf([cites, { work: 9, page: '3' }], true)!
    expect(both).toEqual({ ...cites, also: [{ work: 9, page: '3' }] })
    expect(placesOf(both).map(p => p.work)).toEqual([7, 9])
    expect(citingKey(both)).not.toBe(citingKey(cites))
    const marks = fitMarks('See xx.', [{ from: 4, to: 6, is: 'cites', cites: both }])
    expect(marks).toEqual([{ from: 4, to: 6, is: 'cites', cites: both }])
    const now = new Map([[citingKey(both), { text: '[7, 9]', raised: false }]])
    expect(asCited({ text: 'See xx.', marks }, now).text).toBe('See [7, 9].')
    const works = notListed({ text: 'See xx.', marks }, new Set([7]), new Map())
    expect(works.map(w => w.work)).toEqual([9])
    expect(
      notListed({ text: 'See xx.', marks }, new Set([7]), new Map([[citingKey(both), { works: [7, 7] }]])),
    ).toEqual([])
  })
  test('are told once', () => {
    expect(citingsIn([written, beneath(written, written)])).toEqual([cites])
  })
  test('in another style no other letter changes', () => {
    fc.assert(
      fc.property(anyWritten, fc.constantFrom('[1]', '(A, 2020)', 'x'), ({ text, marks }, said) => {
        const fit = writtenOf(linesOf({ text, marks }))
        const all = new Map(citingsIn([fit]).map(c => [citingKey(c), { text: said, raised: false }]))
        const other = asCited(fit, all)
        const rest = (w: Written) => linesOf(w).map(l => [l.kind, l.runs.filter(r => !r.cites)])
        // a look that touches a citation may end with it
        expect(
          linesOf(other).map(l =>
            l.runs
              .filter(r => !r.cites)
              .map(r => r.text)
              .join(''),
          ),
        ).toEqual(
          linesOf(fit).map(l =>
            l.runs
              .filter(r => !r.cites)
              .map(r => r.text)
              .join(''),
          ),
        )
        expect(rest(other).map(([kind]) => kind)).toEqual(rest(fit).map(([kind]) => kind))
        expect(other.marks.filter(m => m.cites).every(m => other.text.slice(m.from, m.to) === said)).toBe(true)
      }),
    )
  })
})

test('two texts beneath each other keep what both are', () => {
  const both = beneath({ text: 'One.', marks: [{ from: 0, to: 3, is: 'strong' }] }, written)
  expect(both.text).toBe(`One.\n${text}`)
  expect(both.marks.map(m => both.text.slice(m.from, m.to))).toEqual([
    'One',
    'Moths',
    '(Lune, 2020, p. 12)',
    'Fewer in 10 m2.',
    '2',
  ])
  expect(beneath({ text: '', marks: [] }, written)).toBe(written)
})

test('lines print with their looks, without those of nothing', () => {
  const lines = printedLines({ ...written, text: `${text}\n \n` })
  expect(lines).toEqual([
    {
      kind: undefined,
      runs: [{ text: 'Moths', italic: true }, { text: ' came ' }, { text: '(Lune, 2020, p. 12)' }, { text: '.' }],
    },
    { kind: 'bullet', runs: [{ text: 'Fewer in 10 m' }, { text: '2', raised: 'super' }, { text: '.' }] },
    { kind: undefined, runs: [{ text: 'At the lamps.' }] },
  ])
})
