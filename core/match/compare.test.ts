import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Facts, Item } from '../bib/item'
import { compare } from './compare'
import { by, made, TITLE, year } from './rig'
import { ASK, PRIOR, SAME, WEIGHTS } from './weights'

const between = (a: Partial<Item>, b: Partial<Item>, fa: Facts = {}, fb: Facts = {}) =>
  compare(made(a, fa, 1), made(b, fb, 2))
const verdict = (a: Partial<Item>, b: Partial<Item>) => between(a, b).verdict

/** An article as a good catalogue has it, with something else in its place. */
const article = (more: Partial<Item> = {}): Partial<Item> => ({
  author: by(['Okafor', 'Ada'], ['Bee', 'Cara']),
  'container-title': 'Annals of Nocturnal Ecology',
  volume: 4,
  issue: '2',
  page: '30-44',
  ...year(2003),
  ...more,
})
const book = (more: Partial<Item> = {}): Partial<Item> => ({
  type: 'book',
  title: 'Lamps and moths',
  author: by(['Okafor', 'Ada']),
  publisher: 'Lantern Press',
  ...year(2003),
  ...more,
})

describe('the verdict', () => {
  test('is the sum of what each sign adds to the prior', () => {
    const { score, signs } = between(article(), article({ page: '' }))
    expect(score).toBeCloseTo(PRIOR + signs.reduce((n, s) => n + s.weight, 0))
    for (const { sign, weight } of signs)
      expect(weight).toBeCloseTo(WEIGHTS[sign] * (sign === 'title: words, same' ? 6 : 1))
    expect(score).toBeGreaterThan(SAME)
  })
  test.each<[string, Partial<Item>]>([
    ['a slip in the title', { title: TITLE.replace('flowers', 'flowres') }],
    ['initials', { author: by(['Okafor', 'A'], ['Bee', 'C']) }],
    ['the first author alone', { author: by(['Okafor', 'Ada']) }],
    ['a slip in the first author', { author: by(['Okafro', 'Ada'], ['Bee', 'Cara']) }],
    ['nobody', { author: [] }],
    ['a short journal', { 'container-title': 'Ann Nocturn Ecol' }],
    ['the next year', year(2004)],
    ['no year', { issued: {} }],
    ['no place', { volume: '', issue: '', page: '' }],
    ['a type that says nothing', { type: 'document' }],
  ])('an article entered with %s is the same', (_, more) => expect(verdict(article(), article(more))).toBe('same'))
  test.each<[string, Partial<Item>, string]>([
    ['a slip in its short title', { title: 'Lamps and noths' }, 'same'],
    ['no publisher', { publisher: '' }, 'same'],
    ['no year', { issued: {} }, 'same'],
    ['another publisher: a reprint', { publisher: 'Harbour Press' }, 'ask'],
    ['a later edition, ten years on', { edition: '2', ...year(2013) }, 'different'],
  ])('a book entered with %s: %s', (_, more, said) => expect(verdict(book(), book(more))).toBe(said))
  test.each<[string, Partial<Item>]>([
    ['in another volume', { volume: 5 }],
    ['on other pages', { page: '11-19' }],
    ['by others, elsewhere', { author: by(['Sea', 'B']), 'container-title': 'Sea Papers' }],
    ['as its correction', { title: `Correction: ${TITLE}` }],
  ])('but not one %s, with another year', (_, more) =>
    expect(verdict(article(), article({ ...more, ...year(2009) }))).not.toBe('same'),
  )
  test('parts of a work are never joined without a DOI', () => {
    const parts = [article({ title: `${TITLE} part 1` }), article({ title: `${TITLE} part 2` })] as const
    expect(verdict(...parts)).not.toBe('same')
  })
  test('a title alone is never enough', () => {
    expect(verdict({}, {})).toBe('ask')
    expect(verdict({ title: 'Lamps' }, { title: 'Lamps' })).toBe('ask')
  })
  test('what stands in every issue is told by its place', () => {
    const column = (more: Partial<Item>) => article({ title: 'From the President', ...more })
    expect(verdict(column({}), column({ page: '', issue: '', volume: '' }))).toBe('different')
    expect(verdict(column({}), column({}))).toBe('same')
    const unsigned = (more: Partial<Item>) => article({ title: 'Lamp news', author: [], ...more })
    expect(verdict(unsigned({}), unsigned({ volume: '', page: '' }))).not.toBe('same')
    expect(verdict(unsigned({}), unsigned({ year: 2003 } as Partial<Item>))).toBe('same')
  })
  test('short pieces that share a page are different, whoever wrote them', () => {
    const note = (title: string, ...names: [string, string?][]) => article({ title, author: by(...names), page: '43' })
    expect(verdict(note('Hanging lamps'), note('Paragraphs of moths', ['Bee']))).toBe('different')
    expect(verdict(note('Hanging lamps', ['Sea']), note('Paragraphs of moths', ['Bee']))).toBe('different')
  })
  test('an identifier that nothing else bears out is asked about, but not where other pages say that it is the volume’s', () => {
    const a = { DOI: '10.5555/a', title: 'Owls at sea', author: by(['Okafor']) }
    const b = { DOI: '10.5555/a', title: 'Hulls and sails', author: by(['Bee']) }
    expect(verdict(a, b)).toBe('ask')
    expect(verdict({ ...a, page: '1-9' }, { ...b, page: '10-19' })).toBe('different')
    const isbn = { type: 'book', ISBN: '9789900019961', DOI: '' }
    expect(verdict({ ...a, ...isbn }, { ...b, ...isbn })).toBe('ask')
    expect(verdict({ ...article(), DOI: '10.5555/a' }, { ...article(), DOI: '10.5555/b' })).toBe('different')
  })
  test('other words end it at once, unless a page of one volume, a DOI or an ISBN is shared', () => {
    const other = { title: 'Hulls and sails' }
    expect(between({}, other)).toEqual({
      verdict: 'different',
      score: PRIOR + WEIGHTS['title: other'],
      signs: [{ sign: 'title: other', weight: WEIGHTS['title: other'] }],
    })
    const at = { page: '1-9', volume: 4 }
    expect(between(at, { ...at, ...other }).signs.length).toBeGreaterThan(1)
    for (const more of [{ volume: 5 }, { page: '3' }])
      expect(between(at, { ...at, ...other, ...more }).signs).toHaveLength(1)
  })
  test('asked lies below same', () => expect(ASK).toBeLessThan(SAME))
})

describe('a conference paper and its article', () => {
  const paper: Partial<Item> = {
    type: 'paper-conference',
    title: 'Moth visits to flowers today',
    author: by(['Okafor', 'A']),
    ...year(2000),
    page: '1-4',
  }
  const later = { ...paper, type: 'article-journal', ...year(2003), page: '30-44' }
  test('are two works that belong together', () => {
    expect(verdict(paper, later)).toBe('linked')
    expect(verdict(later, paper)).toBe('linked')
    expect(verdict(paper, { ...later, ...year(2006) })).toBe('linked')
    expect(verdict({ ...paper, issued: {} }, later)).toBe('linked')
  })
  test.each<[string, Partial<Item>]>([
    ['before it', year(1999)],
    ['seven years after', year(2007)],
    ['of others', { author: by(['Sea', 'C']) }],
    ['of another title', { title: 'Moth visits to gardens' }],
    ['that is no article', { type: 'book' }],
    ['that is a reply', { title: `Reply: ${paper.title}` }],
    ['of another part', { title: `${paper.title} 2` }],
  ])('but not one %s', (_, more) => expect(verdict(paper, { ...later, ...more })).not.toBe('linked'))
})

test('says the same both ways', () => {
  const any = fc.record(
    {
      title: fc.constantFrom(
        TITLE,
        'Lamps',
        `${TITLE}: a tale`,
        `Correction: ${TITLE}`,
        'Owls at sea',
        'Editorial',
        '',
      ),
      type: fc.constantFrom('article-journal', 'paper-conference', 'book', 'chapter'),
      DOI: fc.constantFrom('10.5555/a', '10.5555/b'),
      ISBN: fc.constantFrom('9789900019961', '9789900019978'),
      author: fc.array(fc.constantFrom(...by(['Okafor', 'A'], ['Okafor'], ['Bee'], ['Sea', 'B'])), { maxLength: 4 }),
      volume: fc.constantFrom('4', '5'),
      issue: fc.constantFrom('1', '2'),
      page: fc.constantFrom('1-9', '11-19'),
      publisher: fc.constantFrom('Lantern Press', 'Harbour'),
      edition: fc.constantFrom('1', '2'),
      issued: fc.constantFrom(...[2000, 2001, 2004, 2012].map(y => year(y).issued)),
    },
    { requiredKeys: [] },
  )
  const version = fc.constantFrom<Facts>({}, { version: 'preprint' }, { version: 'accepted manuscript' })
  fc.assert(
    fc.property(any, any, version, version, (a, b, fa, fb) => {
      const there = between(a as Partial<Item>, b as Partial<Item>, fa, fb)
      const back = between(b as Partial<Item>, a as Partial<Item>, fb, fa)
      expect(back.score).toBeCloseTo(there.score)
      expect(back.verdict).toBe(there.verdict)
    }),
  )
})
