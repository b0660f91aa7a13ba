import { describe, expect, test } from '@jest/globals'
import { identifiersOf, prepare } from './prepare'
import { by, item, made, year } from './rig'

describe('a record made ready', () => {
  test('its names, numbers, marks and first words in their normal forms', () => {
    const p = made({
      title: 'Correction: Lamps of 1912, part II – a harbour’s light',
      author: [{ family: 'Ångvist', given: 'Bo' }, { literal: 'Harbour Watch' }, { family: '' }],
      ...year(1999),
      'container-title': 'The Annals of Night and Sea',
      volume: ' 12 ',
      issue: ' 3 ',
      page: 'e10-e19',
      ISSN: '1234-5679 9999-9994',
      abstract: `  Moths, of towns. ${'and more '.repeat(40)}`,
    })
    expect(p.title).toBe('correction lamps of 1912 part ii a harbour s light')
    expect(p.mark).toBe('correction')
    expect(p.numbers).toBe('1912 ii')
    expect(p.main).toBe('correction')
    expect(p.authors).toEqual(['angvist b', 'watch h'])
    expect(p.families).toEqual(['angvist', 'watch'])
    expect(p.container).toEqual(['annals', 'night', 'sea'])
    expect([p.volume, p.issue, p.first, p.year, p.issn]).toEqual(['12', '3', 'e10', 1999, '1234-5679'])
    expect(p.abstract).toHaveLength(80)
    expect(p.abstract.startsWith('mothsoftownsandmoreandmore')).toBe(true)
  })
  test('what is not there is empty, and a title of a few words has no subtitle', () => {
    const p = prepare({ id: 2, item: { id: 'y', type: 'unheard-of' }, facts: {} })
    expect(p).toMatchObject({
      title: '',
      words: [],
      authors: [],
      families: [],
      container: [],
      volume: '',
      issue: '',
      mark: '',
      numbers: '',
      abstract: '',
      kind: '',
      publisher: [],
      edition: '',
      isbns: [],
    })
    expect([p.doi, p.issn, p.main, p.first, p.year]).toEqual([undefined, undefined, undefined, undefined, undefined])
    expect(made({ title: 'Owls: a life' }).main).toBeUndefined()
    expect(made({ title: 'Lamps: a life' }).main).toBe('lamps')
    expect(made({ title: ': a life' }).main).toBeUndefined()
    expect(made({ title: 'Lamps and moths: a life' }).main).toBe('lamps and moths')
    expect(made({ title: 'What do lamps do? An inquiry' }).main).toBe('what do lamps do')
  })
  test('editors stand in where no author is named; small words of a container are left out', () => {
    expect(made({ editor: by(['Bee', 'Cara']) }).authors).toEqual(['bee c'])
    expect(made({ author: by(['Okafor']), editor: by(['Bee']) }).authors).toEqual(['okafor'])
    expect(made({ 'container-title': 'The Sea and the Sky of It' }).container).toEqual(['sea', 'sky'])
  })
  test.each([
    ['article-journal', 'article'],
    ['article-magazine', 'article'],
    ['review-book', 'article'],
    ['manuscript', 'article'],
    ['paper-conference', 'conference paper'],
    ['entry-encyclopedia', 'chapter'],
    ['thesis', 'thesis'],
    ['dataset', 'dataset'],
    ['unheard-of', ''],
  ])('a %s is compared as %s', (type, kind) => expect(made({ type }).kind).toBe(kind))
  test('a chapter is one by its genre, whatever its type', () => {
    expect(made({ type: 'book' }, { genre: 'Book Chapter' }).kind).toBe('chapter')
    expect(made({ type: 'book' }, { genre: 'monograph' }).kind).toBe('book')
  })
  test.each(['xiii', 'iv', 'viii', 'ix', 'iii', '2nd', 'a1b'])('“%s” is a number in a title', n =>
    expect(made({ title: `Lamps ${n} again` }).numbers).toBe(n),
  )
  test.each(['mix', 'civil', 'vivid', 'ivy', 'i', 'lix', 'xis', 'ixa'])('“%s” is a word', n =>
    expect(made({ title: `Lamps ${n} again` }).numbers).toBe(''),
  )
  test.each([
    ['Reply to Bee', 'reply'],
    ['Book review of nothing', 'book review'],
    ['Author correction to lamps', 'author correction'],
    ['Retracted article', 'retracted'],
    ['Replying to Bee', ''],
    ['A reply to Bee', 'reply'],
    ['In reply to Bee', ''],
  ])('%s is marked “%s”', (title, mark) => expect(made({ title }).mark).toBe(mark))
  test('publishers by the words that tell them apart, editions by their number, a first one as none', () => {
    expect(made({ publisher: 'Harbour University Press' }).publisher).toEqual(['harbour'])
    expect(made({ publisher: 'Lantern Verlag GmbH' }).publisher).toEqual(['lantern'])
    expect(
      ['2nd ed.', 'Second', '1', '1st edition', undefined].map(edition => made({ edition: edition! }).edition),
    ).toEqual(['2', 'second', '', '', ''])
  })
  test('scripts without spaces are compared by pairs of letters, short words of theirs as they are', () => {
    expect(made({ title: '夜の灯火と蛾 moths' }).words).toEqual(['夜の', 'の灯', '灯火', '火と', 'と蛾', 'moths'])
    expect(made({ title: '灯火と moths' }).words).toEqual(['灯火と', 'moths'])
  })
  test('a book has its ISBNs as its own, a chapter has its book’s', () => {
    const ISBN = '978-990-00-1996-1; 9990019960'
    for (const type of ['book', 'thesis', 'report'])
      expect(identifiersOf(item({ type, ISBN })).isbns).toContain('9789900019961')
    for (const type of ['chapter', 'article-journal', 'notebook', 'bookish'])
      expect(identifiersOf(item({ type, ISBN })).isbns).toEqual([])
    expect(identifiersOf(item({ type: 'book', ISBN }), { genre: 'Chapter' }).isbns).toEqual([])
    expect(identifiersOf(item({ type: 'book', ISBN }), { genre: 'book review' }).isbns).toEqual([])
    expect(identifiersOf(item({ type: 'book' })).isbns).toEqual([])
    expect(identifiersOf(item({ DOI: 'https://doi.org/10.5555/ABC' })).doi).toBe('10.5555/abc')
  })
})
