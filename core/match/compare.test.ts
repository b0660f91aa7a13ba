import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { distance } from 'fastest-levenshtein'
import type { Facts, Item } from '../bib/item'
import { blockKeys, BLOCK, candidatePairs, compare, identifierKeys, identifiersOf, prepare, type Mark } from './compare'

const TITLE = 'Moth visits to flowers under street lighting in northern harbour towns'
const item = (more: Partial<Item> = {}): Item => ({ id: 'x', type: 'article-journal', title: TITLE, ...more })
const made = (more: Partial<Item> = {}, facts: Facts = {}, id = 1) => prepare({ id, item: item(more), facts })
const by = (...names: [string, string?][]) => names.map(([family, given]) => ({ family, ...(given ? { given } : {}) }))
const year = (y: number) => ({ issued: { 'date-parts': [[y]] } })

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
    expect(p.main).toBeUndefined()
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
      isbns: [],
    })
    expect([p.doi, p.issn, p.main, p.first, p.year]).toEqual([undefined, undefined, undefined, undefined, undefined])
    expect(made({ title: 'Lamps: a life' }).main).toBeUndefined()
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

/** What each field adds, of a pair with the same title unless it is said. */
function weights(a: Partial<Item>, b: Partial<Item>, fa: Facts = {}, fb: Facts = {}) {
  const { marks, score, verdict } = compare(made(a, fa, 1), made(b, fb, 2))
  const sum = (field: Mark['field']) => marks.filter(m => m.field === field).reduce((n, m) => n + m.weight, 0)
  return { sum, score, verdict, marks }
}

describe('what a field adds', () => {
  test.each<[string, Partial<Item>, Partial<Item>, number, Facts?, Facts?]>([
    ['the same year', year(2000), year(2000), 1.5],
    ['a year apart', year(2000), year(2001), 0.2],
    ['two years apart', year(2002), year(2000), -1],
    ['three years apart', year(2000), year(2003), -3],
    ['ten years apart', year(2000), year(2010), -3],
    ['eleven years apart', year(2000), year(2011), -5],
    ['no year on one side', year(2000), {}, 0],
    ['no year on the other', {}, year(2000), 0],
    ['three years from manuscript to article', year(2000), year(2003), 0.5, { version: 'preprint' }],
    ['six years', year(2000), year(2006), -1, {}, { version: 'accepted manuscript' }],
    ['seven years', year(2000), year(2007), -3, { version: 'preprint' }],
    ['a version of record is no manuscript', year(2000), year(2003), -3, { version: 'version of record' }],
  ])('years: %s', (_, a, b, weight, fa = {}, fb = {}) => {
    expect(weights(a, b, fa, fb).sum('year')).toBe(weight)
    expect(weights(b, a, fb, fa).sum('year')).toBe(weight)
  })

  test.each<[string, Partial<Item>, Partial<Item>, number, Facts?]>([
    ['the same pages and volume', { volume: 4, page: '1-9' }, { volume: '4', page: '1–9' }, 3.5],
    ['the same page, no volume', { page: '1-9' }, { page: '1' }, 2.5],
    ['the same page, other volumes', { volume: 4, page: '1-9' }, { volume: 5, page: '1-9' }, -0.5],
    ['other pages of a volume', { volume: 4, page: '1-9' }, { volume: 4, page: '11-19' }, -4],
    ['other pages, other volumes', { volume: 4, page: '1-9' }, { volume: 5, page: '11-19' }, -8],
    ['other pages, one volume not given', { volume: 4, page: '1-9' }, { page: '11-19' }, -5],
    ['the volume alone', { volume: 4 }, { volume: 4, page: '1-9' }, 1],
    ['other volumes alone', { volume: 4 }, { volume: 5 }, -3],
    ['nothing given', {}, { page: '1-9' }, 0],
    ['a manuscript has pages of its own', { volume: 4, page: '1-9' }, { volume: 5, page: '30-40' }, 0, { version: 'preprint' }], // prettier-ignore
  ])('pages: %s', (_, a, b, weight, fa = {}) => {
    expect(weights(a, b, fa).sum('pages')).toBeCloseTo(weight)
    expect(weights(b, a, {}, fa).sum('pages')).toBeCloseTo(weight)
  })

  const held = (name: string, more: Partial<Item> = {}): Partial<Item> => ({ 'container-title': name, ...more })
  test.each<[string, Partial<Item>, Partial<Item>, number]>([
    ['one ISSN, whatever the name', held('Night Notes', { ISSN: '1234-5679' }), held('Sea', { ISSN: '12345679' }), 1.5],
    ['the same name', held('Night Notes'), held('The Night Notes'), 1.5],
    ['the same single word', held('Nocturne'), held('Nocturne'), 0.5],
    ['abbreviated', held('Ann Nocturn Ecol'), held('Annals of Nocturnal Ecology'), 1.5],
    ['the longer name given first', held('Annals of Nocturnal Ecology and Lights'), held('Ann Nocturn Ecol'), 1.5],
    ['half of its words', held('Night Notes'), held('Night Papers'), 0],
    ['fewer than half', held('Night Notes Quarterly'), held('Night Papers Weekly'), -3],
    ['other words', held('Night Notes'), held('Sea Papers'), -3],
    ['none on one side', held('Night Notes'), {}, 0],
    ['none on the other', {}, held('Night Notes'), 0],
    ['two ISSNs and one name', held('Night Notes', { ISSN: '1234-5679' }), held('Night Notes', { ISSN: '9999-9994' }), 1.5], // prettier-ignore
  ])('containers: %s', (_, a, b, weight) => {
    expect(weights(a, b).sum('container')).toBe(weight)
    expect(weights(b, a).sum('container')).toBe(weight)
  })

  test.each<[string, Partial<Item>, Partial<Item>, number]>([
    ['one author, the same', { author: by(['Okafor', 'Ada']) }, { author: by(['Okafor', 'A.']) }, 2.5],
    ['an initial against none', { author: by(['Okafor', 'Ada']) }, { author: by(['Okafor']) }, 2.5],
    ['other initials', { author: by(['Okafor', 'Ada']) }, { author: by(['Okafor', 'Bo']) }, -2],
    ['another name', { author: by(['Okafor', 'Ada']) }, { author: by(['Bee', 'Ada']) }, -6],
    ['a name that begins as the other does', { author: by(['Okafor']) }, { author: by(['Okaforos']) }, -6],
    ['two, the same', { author: by(['Okafor'], ['Bee']) }, { author: by(['Okafor'], ['Bee']) }, 4.5],
    ['two, in the other order', { author: by(['Okafor'], ['Bee']) }, { author: by(['Bee'], ['Okafor']) }, 2.5],
    ['one of two', { author: by(['Okafor'], ['Bee']) }, { author: by(['Okafor'], ['Sea']) }, 2.5],
    ['one of three', { author: by(['Okafor'], ['Bee'], ['Fir']) }, { author: by(['Okafor'], ['Sea'], ['Oak']) }, 0.5],
    ['the first alone, of three', { author: by(['Okafor']) }, { author: by(['Okafor'], ['Bee'], ['Sea']) }, 2.5],
    ['another than the first alone', { author: by(['Bee']) }, { author: by(['Okafor'], ['Bee'], ['Sea']) }, -1.5],
    ['two of three', { author: by(['Okafor'], ['Bee']) }, { author: by(['Okafor'], ['Bee'], ['Sea']) }, 3.5],
    ['two of seven', { author: by(['Okafor'], ['Bee']) }, { author: by(['Okafor'], ['Bee'], ['C'], ['D'], ['E'], ['F'], ['G']) }, 1.5], // prettier-ignore
    ['nobody on one side', { author: by(['Okafor']) }, {}, 0],
    ['nobody on the other', {}, { author: by(['Okafor']) }, 0],
    ['one name twice against two names', { author: by(['Okafor'], ['Okafor']) }, { author: by(['Okafor'], ['Bee']) }, 2.5], // prettier-ignore
  ])('authors: %s', (_, a, b, weight) => {
    expect(weights(a, b).sum('author')).toBeCloseTo(weight)
    expect(weights(b, a).sum('author')).toBeCloseTo(weight)
  })

  const titled = (title: string): Partial<Item> => ({ title })
  test.each<[string, string, string, number]>([
    ['one word', 'Introduction', 'Introduction', 1.1],
    ['three words', 'Lamps and moths', 'Lamps and Moths', 3.3],
    ['more words than count', TITLE, TITLE, 8],
    ['a slip in a short title', 'Lamps and moths', 'Lamps and moth', 0.85 * 3.3],
    ['two letters off in thirty', 'Lamps and moths at sea', 'Lamqs and moths at sey', -8],
    [
      'a slip in each half of a long title',
      TITLE,
      TITLE.replace('flowers', 'flovers').replace('towns', 'town'),
      0.85 * 8,
    ],
    ['four slips', TITLE, TITLE.replace('visits', 'vizits').replace('flowers', 'flovers').replace('street', 'streat').replace('towns', 'town'), -8], // prettier-ignore
    ['without its subtitle', 'Lamps and moths of harbours: an inquiry', 'Lamps and moths of harbours', 4],
    [
      'its subtitle lost, a slip in the rest',
      'Lamps and moths of harbours: an inquiry',
      'Lamps and moths of harbour',
      4,
    ],
    ['other subtitles', 'Lamps and moths of harbours: an inquiry', 'Lamps and moths of harbours: a tale', -8],
    ['four of five words', 'Moths lamps harbours towns', 'Moths lamps harbours towns nights', 2],
    ['three of five words', 'Moths lamps harbours towns', 'Moths lamps harbours nights', -2],
    ['half of the words', 'Moths lamps harbours', 'Moths lamps nights', -8],
    ['no title on one side', TITLE, '', 0],
  ])('titles: %s', (_, a, b, weight) => {
    expect(weights(titled(a), titled(b)).sum('title')).toBeCloseTo(weight)
    expect(weights(titled(b), titled(a)).sum('title')).toBeCloseTo(weight)
  })
  test('of nine words and more, a lost subtitle counts five at most', () => {
    const long = 'Lamps and moths of harbours and towns by the sea'
    expect(weights(titled(`${long}: an inquiry`), titled(long)).sum('title')).toBe(5)
  })
  test('titles differ little when their distance is small: as many letters as a twentieth of their length, one to three', () => {
    const word = fc.constantFrom('moth', 'lamp', 'harbour', 'street', 'night', 'flower', 'garden', 'tower')
    const slip = fc.record({ at: fc.nat(), how: fc.constantFrom('drop', 'add', 'turn'), to: fc.constantFrom('q', 'z') })
    fc.assert(
      fc.property(fc.array(word, { minLength: 5, maxLength: 14 }), fc.array(slip, { maxLength: 5 }), (words, slips) => {
        const a = words.join(' ')
        let b = a
        for (const { at, how, to } of slips) {
          const i = at % b.length
          if (b[i] === ' ' || b[i - 1] === ' ' || b[i + 1] === ' ') continue
          b = b.slice(0, i) + (how === 'drop' ? '' : how === 'add' ? b[i]! + to : to) + b.slice(i + 1)
        }
        const most = Math.max(1, Math.min(3, Math.floor(Math.max(a.length, b.length) / 20)))
        const near = distance(a, b) <= most
        const got = weights(titled(a), titled(b)).sum('title')
        const n = Math.min(words.length, b.split(' ').length)
        const expected = a === b ? Math.min(8, 1.1 * n) : near ? 0.85 * Math.min(8, 1.1 * n) : undefined
        if (expected === undefined) expect([2, -2, -8]).toContain(got)
        else expect(got).toBeCloseTo(expected)
      }),
      { numRuns: 400 },
    )
  })

  test.each<[string, Partial<Item>, Partial<Item>, number, Facts?, Facts?]>([
    ['one DOI', { DOI: '10.5555/a' }, { DOI: '10.5555/A' }, 12],
    ['two DOIs', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, -12],
    ['a preprint’s DOI beside its article’s', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, 0, { version: 'preprint' }],
    ['an accepted manuscript’s', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, -12, { version: 'accepted manuscript' }],
    ['a DOI on one side', { DOI: '10.5555/a' }, {}, 0],
    ['one ISBN', { type: 'book', ISBN: '9789900019961' }, { type: 'book', ISBN: '978-990-00-1996-1' }, 9],
    ['two ISBNs', { type: 'book', ISBN: '9789900019961' }, { type: 'book', ISBN: '9789900019978' }, -3],
    ['an ISBN on one side', { type: 'book', ISBN: '9789900019961' }, { type: 'book' }, 0],
  ])('identifiers: %s', (_, a, b, weight, fa = {}, fb = {}) => {
    expect(weights(a, b, fa, fb).sum('identifier')).toBe(weight)
    expect(weights(b, a, fb, fa).sum('identifier')).toBe(weight)
  })

  test.each<[string, Partial<Item>, Partial<Item>, number, Facts?, Facts?]>([
    ['the same kind', {}, {}, 0],
    ['a book and an article', { type: 'book' }, {}, -7],
    ['a type that says nothing', { type: 'unheard-of' }, {}, 0],
    ['a manuscript is called an article', {}, { type: 'thesis' }, 0, { version: 'preprint' }],
    ['a manuscript of a chapter is none', { type: 'chapter' }, { type: 'thesis' }, -7, { version: 'preprint' }],
    ['an article is no manuscript of a thesis', {}, { type: 'thesis' }, -7, {}, { version: 'preprint' }],
  ])('kinds: %s', (_, a, b, weight, fa = {}, fb = {}) => {
    expect(weights(a, b, fa, fb).sum('type')).toBe(weight)
    expect(weights(b, a, fb, fa).sum('type')).toBe(weight)
  })
  test('a correction is not what it corrects, and a part two is no part one', () => {
    const long = 'Moth visits to flowers under street lighting in northern harbour towns and villages of the sea'
    expect(weights(titled(`Correction: ${long}`), titled(long)).sum('type')).toBe(-14)
    const parts = weights(titled(`${long} part 1`), titled(`${long} part 2`))
    expect(parts.sum('title')).toBeCloseTo(0.85 * 8 - 7)
    const one = { DOI: '10.5555/a' }
    expect(
      weights({ ...titled(`${long} part 1`), ...one }, { ...titled(`${long} part 2`), ...one }).sum('title'),
    ).toBeCloseTo(0.85 * 8 - 2)
    // where the titles have nothing in common, their numbers say nothing more
    expect(weights({ ...titled('Owls of 1912'), ...one }, { ...titled('Sails and hulls'), ...one }).sum('title')).toBe(
      -8,
    )
  })
  test('the same abstract speaks for one work, where it is long enough to', () => {
    const words = 'Moths were counted at lamps in six towns.'
    expect(weights({ abstract: words }, { abstract: `${words}` }).sum('abstract')).toBe(0)
    const more = `${words} They came in June.`
    expect(weights({ abstract: more }, { abstract: more.toUpperCase() }).sum('abstract')).toBe(5)
    expect(
      weights({ abstract: more }, { abstract: `${more.slice(0, 20)} Others did not come in June at all.` }).sum(
        'abstract',
      ),
    ).toBe(0)
  })
})

describe('the verdict', () => {
  test('is the sum of what the fields add, from a prior of minus five', () => {
    const { score, marks } = weights(
      { ...year(2000), author: by(['Okafor']) },
      { ...year(2000), author: by(['Okafor']) },
    )
    expect(score).toBeCloseTo(-5 + marks.reduce((n, m) => n + m.weight, 0))
    expect(marks.every(m => m.weight !== 0)).toBe(true)
  })
  test('joined from five on, asked from one and a half', () => {
    // 8 of the title, 1.5 of the year and 0.5 of one word of a container
    const same = { ...year(2000), 'container-title': 'Nocturne' }
    expect(weights(same, same)).toMatchObject({ score: 5, verdict: 'same' })
    expect(weights(year(2000), year(2000))).toMatchObject({ score: 4.5, verdict: 'ask' })
    // 6.6 of six words, and nothing else
    const six = { title: 'Moth visits to flowers in towns' }
    expect(weights(six, six)).toMatchObject({ verdict: 'ask' })
    const five = { title: 'Moth visits to flowers today' }
    expect(weights(five, five)).toMatchObject({ verdict: 'different' })
    // 5.5 and a single word of a container, and 0.5 more of the year: exactly one and a half
    const edge = { title: 'Moth visits to flowers today', ...year(2000) }
    expect(weights(edge, { ...edge, ...year(2000), volume: 4 }).verdict).toBe('ask')
  })
  test('an identifier that nothing else bears out is asked about', () => {
    const a = { DOI: '10.5555/a', title: 'Owls at sea', author: by(['Okafor']) }
    expect(weights(a, { DOI: '10.5555/a', title: 'Hulls and sails', author: by(['Bee']) })).toMatchObject({
      verdict: 'ask',
      score: 1.5,
    })
    const borne = weights(
      { ...a, author: by(['Okafor'], ['Bee']) },
      { DOI: '10.5555/a', title: 'Hulls and sails', author: by(['Okafor'], ['Bee']) },
    )
    expect([borne.verdict, borne.score]).toEqual(['ask', 3.5])
    const book = { type: 'book', ISBN: '9789900019961' }
    expect(
      weights({ ...a, ...book, DOI: '' }, { ...book, title: 'Hulls and sails', author: by(['Bee']) }).verdict,
    ).toBe('ask')
  })
  test('other words end it at once, unless a page of one volume, a DOI or an ISBN is shared', () => {
    const other = { title: 'Hulls and sails' }
    expect(weights({}, other)).toEqual(
      expect.objectContaining({ verdict: 'different', score: -13, marks: [{ field: 'title', weight: -8 }] }),
    )
    const at = { page: '1-9', volume: 4 }
    expect(weights(at, { ...at, ...other }).marks.length).toBeGreaterThan(1)
    expect(weights(at, { ...at, ...other, volume: 5 }).marks).toHaveLength(1)
    expect(weights(at, { ...at, ...other, page: '3' }).marks).toHaveLength(1)
    expect(weights({ volume: 4 }, { volume: 4, ...other }).marks).toHaveLength(1)
  })
  const paper = {
    type: 'paper-conference',
    title: 'Moth visits to flowers today',
    author: by(['Okafor', 'A']),
    ...year(2000),
    page: '1-4',
  }
  const article = { ...paper, type: 'article-journal', ...year(2003), page: '30-44' }
  test('a conference paper and the article it became are two works that belong together', () => {
    expect(weights(paper, article).verdict).toBe('linked')
    expect(weights(article, paper).verdict).toBe('linked')
    expect(weights(paper, { ...article, ...year(2006) }).verdict).toBe('linked')
    expect(weights({ ...paper, issued: {} }, article).verdict).toBe('linked')
  })
  test.each<[string, Partial<Item>]>([
    ['before it', year(1999)],
    ['seven years after', year(2007)],
    ['of others', { author: by(['Bee', 'C']) }],
    ['of another title', { title: 'Moth visits to gardens' }],
    ['that is no article', { type: 'book' }],
    ['that is a reply', { title: `Reply: ${paper.title}` }],
    ['of another part', { title: `${paper.title} 2` }],
  ])('but not one %s', (_, more) => expect(weights(paper, { ...article, ...more }).verdict).not.toBe('linked'))
  test('says the same both ways', () => {
    const any = fc.record(
      {
        title: fc.constantFrom(TITLE, 'Lamps', `${TITLE}: a tale`, `Correction: ${TITLE}`, 'Owls at sea', ''),
        type: fc.constantFrom('article-journal', 'paper-conference', 'book', 'chapter'),
        DOI: fc.constantFrom('10.5555/a', '10.5555/b'),
        ISBN: fc.constantFrom('9789900019961', '9789900019978'),
        author: fc.array(fc.constantFrom(...by(['Okafor', 'A'], ['Okafor'], ['Bee'], ['Sea', 'B'])), { maxLength: 4 }),
        volume: fc.constantFrom('4', '5'),
        page: fc.constantFrom('1-9', '11-19'),
        issued: fc.constantFrom(...[2000, 2001, 2004, 2012].map(y => year(y).issued)),
      },
      { requiredKeys: [] },
    )
    const version = fc.constantFrom<Facts>({}, { version: 'preprint' }, { version: 'accepted manuscript' })
    fc.assert(
      fc.property(any, any, version, version, (a, b, fa, fb) => {
        const there = weights(a as Partial<Item>, b as Partial<Item>, fa, fb)
        const back = weights(b as Partial<Item>, a as Partial<Item>, fb, fa)
        expect(back.score).toBeCloseTo(there.score)
        expect(back.verdict).toBe(there.verdict)
      }),
    )
  })
})

describe('blocks', () => {
  const meet = (a: Partial<Item>, b: Partial<Item>): boolean => {
    const keys = new Set(blockKeys(made(a)))
    return blockKeys(made(b, {}, 2)).some(k => keys.has(k))
  }
  const named = (title: string, more: Partial<Item> = {}): Partial<Item> => ({ title, author: by(['Okafor']), ...more })
  test.each<[string, Partial<Item>, Partial<Item>]>([
    ['one DOI', named('A', { DOI: '10.5555/a' }), { title: 'B', DOI: '10.5555/a' }],
    ['one ISBN', { type: 'book', title: 'A', ISBN: '9789900019961' }, { type: 'book', title: 'B', ISBN: '9789900019961' }], // prettier-ignore
    ['one title and name, other years', named('Lamps', year(1990)), named('Lamps', year(2000))],
    ['one title and year, other names', named('Lamps', year(1990)), { title: 'Lamps', author: by(['Bee']), ...year(1990) }], // prettier-ignore
    ['one title, other names, no year', named('Lamps'), { title: 'Lamps', author: by(['Bee']) }],
    ['without the subtitle', named('Lamps and moths: a tale'), named('Lamps and moths')],
    ['three words in a row and a name', named('On lamps and moths'), named('Of old lamps and moths today')],
    ['the last three words', named('Nights with lamps and moths'), named('Days with lamps and moths')],
    ['five words in a row and a year', { title: 'Lamps and moths of towns', ...year(1990) }, { title: 'Old lamps and moths of towns', author: by(['Bee']), ...year(1990) }], // prettier-ignore
    ['container, volume and page', { title: 'A', 'container-title': 'Night Notes', volume: 4, page: '1-9' }, { title: 'B', 'container-title': 'Night Papers', volume: 4, page: '1' }], // prettier-ignore
    ['ISSN, volume and page', { title: 'A', ISSN: '1234-5679', volume: 4, page: '1-9' }, { title: 'B', ISSN: '1234-5679', volume: 4, page: '1' }], // prettier-ignore
  ])('%s: they meet', (_, a, b) => expect([meet(a, b), meet(b, a)]).toEqual([true, true]))
  test.each<[string, Partial<Item>, Partial<Item>]>([
    ['other titles', named('Lamps'), named('Moths')],
    ['two words in a row and a name', named('On lamps moths'), named('Of lamps moths')],
    ['three words in another order', named('Lamps moths towns'), named('Towns moths lamps')],
    ['three words and no name', { title: 'On lamps and moths' }, { title: 'Of lamps and moths today' }],
    ['four words in a row and a year', { title: 'Lamps and moths of', ...year(1990) }, { title: 'Old lamps and moths of', author: by(['Bee']), ...year(1990) }], // prettier-ignore
    ['five words and other years', { title: 'Lamps and moths of towns', ...year(1990) }, { title: 'Old lamps and moths of towns', author: by(['Bee']), ...year(1991) }], // prettier-ignore
    ['volume and page of nothing', { title: 'A', volume: 4, page: '1-9' }, { title: 'B', volume: 4, page: '1-9' }],
    ['container and volume', { title: 'A', 'container-title': 'Night', volume: 4 }, { title: 'B', 'container-title': 'Night', volume: 4 }], // prettier-ignore
    ['container and page', { title: 'A', 'container-title': 'Night', page: '1' }, { title: 'B', 'container-title': 'Night', page: '1' }], // prettier-ignore
    ['another volume', { title: 'A', 'container-title': 'Night', volume: 4, page: '1' }, { title: 'B', 'container-title': 'Night', volume: 5, page: '1' }], // prettier-ignore
    ['no title on either side', { title: '' }, { title: '' }],
  ])('%s: they do not', (_, a, b) => expect([meet(a, b), meet(b, a)]).toEqual([false, false]))
  test('keys are whole numbers of thirty bits, and tell thousands of titles apart', () => {
    const keys = Array.from({ length: 5000 }, (_, i) => blockKeys(made(named(`Lamp ${i}`)))[0]!)
    expect(keys.every(k => Number.isInteger(k) && k >= 0 && k < 2 ** 30)).toBe(true)
    expect(new Set(keys).size).toBeGreaterThan(4990)
    expect(identifierKeys({ doi: undefined, isbns: [] })).toEqual([])
    expect(new Set(identifierKeys({ doi: '9789900019961', isbns: ['9789900019961', '9789900019978'] })).size).toBe(3)
  })
  test('every pair that shares a block comes once, the later one new; of a large block the first thirty are compared', () => {
    const list = Array.from({ length: BLOCK + 5 }, (_, i) => made(named('Lamps'), {}, i + 1))
    const pairs = [...candidatePairs(list)]
    expect(new Set(pairs.map(p => p.join('-'))).size).toBe(pairs.length)
    expect(pairs).toHaveLength((BLOCK * (BLOCK - 1)) / 2)
    const few = list.slice(0, 6)
    expect([...candidatePairs(few, 4)]).toEqual([
      [0, 4],
      [1, 4],
      [2, 4],
      [3, 4],
      [0, 5],
      [1, 5],
      [2, 5],
      [3, 5],
      [4, 5],
    ])
    expect([...candidatePairs([made(named('Lamps')), made(named('Moths'), {}, 2)])]).toEqual([])
  })
})
