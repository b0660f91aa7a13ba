import { describe, expect, test } from '@jest/globals'
import type { QueryNode } from './cql'
import { NotUnderstood } from './evaluate'
import { parseCql } from './parse-cql'
import { conceptSearches, TextSearch } from './texts'

const cql = (text: string): QueryNode => {
  const p = parseCql(text)
  if (!p.ok) throw new Error(p.error.message)
  return p.query.root
}
const shelf = () => {
  const s = new TextSearch()
  s.add(7, ['Lamps were counted. Moths came to them.', 'By then no moth was left.\nThe lamps stayed on.'])
  s.add(9, ['Owls hunt by ear. They do without lamps.', '', 'A pond of newts.'])
  return s
}
const found = (text: string, s = shelf()) => s.find(cql(text))

describe('the words of copies', () => {
  test('are found with their pages and sentences, all words of a query anywhere in a copy', () => {
    expect(found('lamp* moth*')).toEqual([
      {
        copy: 7,
        byPage: [2, 2],
        hits: 4,
        all: 4,
        sentences: [
          { page: 1, text: 'Lamps were counted.' },
          { page: 1, text: 'Moths came to them.' },
          { page: 2, text: 'By then no moth was left.' },
        ],
      },
    ])
    expect(found('lamps').map(f => f.copy)).toEqual([7, 9])
    expect(found('lamps not owls').map(f => f.copy)).toEqual([7])
    expect(found('tram')).toEqual([])
    expect(found('lamps', new TextSearch())).toEqual([])
  })
  test('a phrase stands on one page', () => {
    expect(found('"moths came"').map(f => [f.copy, f.byPage])).toEqual([[7, [1, 0]]])
    expect(found('"to them by"')).toEqual([])
  })
  test('the copy that speaks most of it stands first', () => {
    const s = shelf()
    s.add(11, ['Newts, newts and newts.'])
    expect(found('newts', s).map(f => f.copy)).toEqual([11, 9])
  })
  test('a copy that is dropped is not found any more, one that is read anew by its new words', () => {
    const s = shelf()
    s.drop(7)
    s.add(9, ['Trams.'])
    expect([found('lamps', s).length, found('trams', s)[0]?.copy]).toEqual([0, 9])
    s.drop(4711)
  })
  test('of one copy all sentences are told, two hits in one sentence as one', () => {
    const s = new TextSearch()
    s.add(1, [Array.from({ length: 40 }, (_, i) => `Lamp ${i} and lamp ${i + 1}.`).join(' ')])
    expect(s.foundIn(1, cql('lamp'), 100)[0]).toMatchObject({ hits: 80, all: 40 })
    expect(s.foundIn(1, cql('lamp'), 100)[0]!.sentences).toHaveLength(40)
    expect(s.foundIn(2, cql('lamp'), 100)).toEqual([])
  })
  test('a sentence without end is shown around what was found', () => {
    const s = new TextSearch()
    s.add(1, [`${'word '.repeat(300)}lamp ${'word '.repeat(300)}`])
    const { text } = s.find(cql('lamp'))[0]!.sentences[0]!
    expect(text).toMatch(/^… .* lamp .* …$/)
    expect(text.length).toBeLessThan(380)
  })
  test('writing without spaces is found, too', () => {
    const s = new TextSearch()
    s.add(1, ['夜蛾と街灯の研究。池の研究。'])
    expect(s.find(cql('街灯'))[0]?.sentences).toEqual([{ page: 1, text: '夜蛾と街灯の研究。' }])
  })
  test('what only a record has is refused, not passed over', () => {
    expect(() => found('lamp and author=Berg')).toThrow('leave out “author”')
    expect(() => found('text =/fuzzy moth')).toThrow(NotUnderstood)
  })
})

test('the concepts of a question are searches in texts, without its limits', () => {
  const of = (text: string) => conceptSearches(cql(text)).map(s => s.words)
  expect(of('(title=moth* or abstract=hawkmoth) and lamp and year>2000 not sail')).toEqual([
    'moth* or hawkmoth',
    'lamp',
  ])
  expect(of('author=Berg and lamp')).toEqual(['lamp'])
  expect(conceptSearches(cql('("street light*" or lamp) and moth'))).toEqual([
    { words: '"street light*" or lamp', said: 'street light* and the like' },
    { words: 'moth', said: 'moth' },
  ])
})

describe('where searches stand in a copy', () => {
  const places = (texts: string[], ...searches: string[]) => {
    const s = new TextSearch()
    s.add(1, texts)
    return s.placesIn(1, searches.map(cql))
  }
  test('is told for each, page by page, as far down as it stands', () => {
    const { each } = places(['Lamps. '.repeat(10), 'No word. Moths at lamps.'], 'lamp*', 'moth*', 'owl*')
    expect(each.map(e => e.length)).toEqual([11, 1, 0])
    expect(each[1]).toEqual([{ page: 2, at: 9 / 24 }])
    expect(each[0]!.every((p, i) => i === 0 || p.page > each[0]![i - 1]!.page || p.at > each[0]![i - 1]!.at)).toBe(true)
  })
  test('and where all of them meet in a sentence; of one search there is nothing to meet', () => {
    const text = 'Lamps stay on. Moths come to lamps by night.\nMoths rest. No lamps.'
    expect(places([text], 'lamp*', 'moth*').meet).toEqual([{ page: 1, at: 15 / text.length }])
    expect(places([text], 'lamp*').meet).toEqual([])
    expect(places([], 'lamp*', 'moth*')).toEqual({ each: [[], []], meet: [] })
    expect(new TextSearch().placesIn(9, [cql('lamp*')])).toEqual({ each: [[]], meet: [] })
  })
})
