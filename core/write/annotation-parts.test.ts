import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { ANNOTATION_PARTS, partOfHead, partOfPassage, partsIn, partsSeen } from './annotation-parts'
import { HEADS } from './sheet-of-reading'

const of = (text: string) => partsIn(text)?.map(s => [text.slice(s.from, s.to).trim(), s.parts])

describe('the parts of an annotation', () => {
  test('are seen sentence by sentence, by signs in its words', () => {
    const text =
      'The authors argue that hedges cool the street. They interviewed 40 gardeners. However, the sample is small. ' +
      'It will be useful for my second chapter. Unlike Tarn, they saw no loss. It has an index.'
    expect(of(text)).toEqual([
      ['The authors argue that hedges cool the street.', ['summary']],
      ['They interviewed 40 gardeners.', ['method']],
      ['However, the sample is small.', ['judgement']],
      ['It will be useful for my second chapter.', ['use']],
      ['Unlike Tarn, they saw no loss.', ['relation']],
    ])
  })
  test('a sentence that cites another work relates its own to it', () => {
    const text = 'In the same years (Sand, 2015) it was so. It was so.'
    const at = { from: 18, to: 30 }
    expect(partsIn(text, [at])).toEqual([{ from: 0, to: 42, parts: ['relation'] }])
    const mark = (work: number) => ({ ...at, is: 'cites' as const, cites: { work, page: '', named: false } })
    expect([...partsSeen(text, [mark(8)], 3)!]).toEqual(['relation'])
    expect([...partsSeen(text, [mark(3)], 3)!]).toEqual([])
    const both = { ...mark(3), cites: { ...mark(3).cites, also: [{ work: 8, page: '' }] } }
    expect([...partsSeen(text, [both], 3)!]).toEqual(['relation'])
  })
  test('a name is one by its capital: other words with the same signs relate to nobody', () => {
    expect(of('Like others it is of both lit and unlit streets, as it does.')).toEqual([])
    expect(of('Like Tarn it is of the streets.')).toEqual([['Like Tarn it is of the streets.', ['relation']]])
    expect(of('Both Lune and Brack are on it.')).toEqual([['Both Lune and Brack are on it.', ['relation']]])
  })
  test('are not told of another language, and of nothing there are none', () => {
    expect(partsIn('Les auteurs montrent que les lampes attirent les papillons.')).toBeUndefined()
    expect(partsIn('夜の光は蛾を集める。')).toBeUndefined()
    expect(partsIn(' 12. ')).toEqual([])
  })
  test('lie in order within the text, whatever it is', () => {
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme', maxLength: 200 }), text => {
        const seen = partsIn(`The author shows it. ${text}`) ?? []
        seen.forEach((s, i) => {
          expect(s.from).toBeGreaterThanOrEqual(seen[i - 1]?.to ?? 0)
          expect(s.to).toBeLessThanOrEqual(text.length + 21)
          expect(s.parts.length).toBeGreaterThan(0)
        })
      }),
    )
  })
  test('of which a sheet has heads for four, and passages are for one each', () => {
    expect(new Set(HEADS.map(h => partOfHead(h.key)))).toEqual(new Set(ANNOTATION_PARTS.slice(0, 4)))
    expect(partOfHead('own-3')).toBe('summary')
    expect(partOfPassage('We measured 40 sites with a control group', true)).toBe('method')
    // what a work says of its own limits is still what it says
    expect(partOfPassage('However, the sample is small and limited', true)).toBe('summary')
    expect(partOfPassage('However, the sample is small and limited', false)).toBe('judgement')
    expect(partOfPassage('I will use it in my paper', false)).toBe('use')
  })
})
