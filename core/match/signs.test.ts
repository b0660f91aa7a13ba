import { describe, expect, test } from '@jest/globals'
import type { Facts, Item } from '../bib/item'
import { by, made, TITLE, year } from './rig'
import { otherSigns, titleSigns, type Sign } from './signs'

/** The signs of one field, both ways round: they must be the same. */
function seen(field: string, a: Partial<Item>, b: Partial<Item>, fa: Facts = {}, fb: Facts = {}): Sign[] {
  const [x, y] = [made(a, fa, 1), made(b, fb, 2)]
  const there = [...titleSigns(x, y), ...otherSigns(x, y)]
    .map(([s]) => s)
    .filter(s => s.startsWith(field) && s !== 'author: others too')
  const back = [...titleSigns(y, x), ...otherSigns(y, x)]
    .map(([s]) => s)
    .filter(s => s.startsWith(field) && s !== 'author: others too')
  expect(back).toEqual(there)
  return there
}
type Case = [string, Partial<Item>, Partial<Item>, Sign | undefined, Facts?, Facts?]
const table = (field: string, cases: Case[]): void => {
  for (const [name, a, b, sign, fa, fb] of cases)
    test(`${field}: ${name}`, () => expect(seen(field, a, b, fa, fb)).toEqual(sign ? [sign] : []))
}

const held = (name: string, more: Partial<Item> = {}): Partial<Item> => ({ 'container-title': name, ...more })
const people = (...names: [string, string?][]): Partial<Item> => ({ author: by(...names) })

describe('signs of two records', () => {
  table('year', [
    ['the same', year(2000), year(2000), 'year: same'],
    ['a year apart', year(2000), year(2001), 'year: next'],
    ['two', year(2002), year(2000), 'year: two'],
    ['three', year(2000), year(2003), 'year: apart'],
    ['ten', year(2000), year(2010), 'year: apart'],
    ['eleven', year(2000), year(2011), 'year: far'],
    ['none on one side says nothing', year(2000), {}, undefined],
    ['a version of record is no manuscript', year(2000), year(2003), 'year: apart', { version: 'version of record' }],
    ['a manuscript of the year', year(2000), year(2000), 'year: same', { version: 'preprint' }],
  ])
  table('manuscript', [
    ['three years to its article', year(2000), year(2003), 'manuscript: years near', { version: 'preprint' }],
    ['six', year(2000), year(2006), 'manuscript: years apart', {}, { version: 'accepted manuscript' }],
    ['seven', year(2000), year(2007), 'manuscript: years far', { version: 'preprint' }],
  ])
  table('pages', [
    ['the same', { page: '1-9' }, { page: '1–9' }, 'pages: same'],
    ['the first alone', { page: '1-9' }, { page: '1' }, 'pages: same'],
    ['other ones', { page: '1-9' }, { page: '11-19' }, 'pages: other'],
    ['none on one side', {}, { page: '1-9' }, undefined],
    ['a manuscript has its own', { page: '1-9' }, { page: '30-40' }, undefined, { version: 'preprint' }],
  ])
  table('volume', [
    ['the same', { volume: 4 }, { volume: '4' }, 'volume: same'],
    ['another', { volume: 4 }, { volume: 5 }, 'volume: other'],
    ['none on one side', { volume: 4 }, {}, undefined],
  ])
  table('issue', [
    ['the same', { issue: '2' }, { issue: '2' }, 'issue: same'],
    ['another', { issue: '2' }, { issue: '3' }, 'issue: other'],
    ['another, on one page', { issue: '2', page: '1-9' }, { issue: '3', page: '1-9' }, 'issue: other, one page'],
  ])
  table('container', [
    ['one ISSN, whatever the name', held('Night Notes', { ISSN: '1234-5679' }), held('Sea', { ISSN: '12345679' }), 'container: same'],
    ['the same name', held('Night Notes'), held('The Night Notes'), 'container: same'],
    ['abbreviated', held('Ann Nocturn Ecol'), held('Annals of Nocturnal Ecology'), 'container: same'],
    ['the longer one', held('Annals of Nocturnal Ecology and Lights'), held('Ann Nocturn Ecol'), 'container: same'],
    ['half of its words', held('Night Notes'), held('Night Papers'), 'container: part'],
    ['fewer than half', held('Night Notes Quarterly'), held('Night Papers Weekly'), 'container: other'],
    ['none on one side', held('Night Notes'), {}, undefined],
    ['two ISSNs and one name', held('Night Notes', { ISSN: '1234-5679' }), held('Night Notes', { ISSN: '9999-9994' }), 'container: same'],
  ]) // prettier-ignore
  table('publisher', [
    ['one house in two forms', { publisher: 'Lantern-Tal' }, { publisher: 'Lantern Publishing Company' }, 'publisher: same'],
    ['another', { publisher: 'Lantern Press' }, { publisher: 'Harbour Press' }, 'publisher: other'],
    ['nothing but “Press”', { publisher: 'The Press' }, { publisher: 'Harbour Press' }, undefined],
  ]) // prettier-ignore
  table('edition', [
    ['the same', { edition: '2' }, { edition: '2nd ed.' }, 'edition: same'],
    ['another', { edition: '2' }, { edition: '3' }, 'edition: other'],
    ['one alone', { edition: '2' }, {}, 'edition: one'],
    ['a first one and none', { edition: '1st' }, {}, undefined],
  ])
  table('author', [
    ['one, the same', people(['Okafor', 'Ada']), people(['Okafor', 'A.']), 'author: all'],
    ['an initial against none', people(['Okafor', 'Ada']), people(['Okafor']), 'author: all'],
    ['other initials', people(['Okafor', 'Ada']), people(['Okafor', 'Bo']), 'author: initials'],
    ['another name', people(['Okafor', 'Ada']), people(['Bee', 'Ada']), 'author: other'],
    ['a name that begins as the other does', people(['Okafor']), people(['Okaforos']), 'author: other'],
    ['a slip in the name', people(['Okafor', 'Ada']), people(['Okafro', 'A']), 'author: slip'],
    ['a slip and another initial', people(['Okafor', 'Ada']), people(['Okafro', 'B']), 'author: other'],
    ['a slip in three letters is another name', people(['Lee']), people(['Bee']), 'author: other'],
    ['two, the same', people(['Okafor'], ['Bee']), people(['Okafor'], ['Bee']), 'author: all'],
    ['two, in the other order', people(['Okafor'], ['Bee']), people(['Bee'], ['Okafor']), 'author: other order'],
    ['the first of two', people(['Okafor'], ['Bee']), people(['Okafor'], ['Sea']), 'author: first'],
    ['the first alone, of three', people(['Okafor']), people(['Okafor'], ['Bee'], ['Sea']), 'author: fewer'],
    ['another than the first alone', people(['Bee']), people(['Okafor'], ['Bee'], ['Sea']), 'author: some'],
    ['two of three', people(['Okafor'], ['Bee']), people(['Okafor'], ['Bee'], ['Sea']), 'author: fewer'],
    ['one name twice against two names', people(['Okafor'], ['Okafor']), people(['Okafor'], ['Bee']), 'author: first'],
    ['nobody on one side', people(['Okafor']), {}, undefined],
  ])
  test('co-authors count beside the first, two at most', () => {
    const others = (...names: [string, string?][]) =>
      otherSigns(made(people(...names)), made(people(...names), {}, 2)).find(([s]) => s === 'author: others too')?.[1]
    expect([others(['A']), others(['A'], ['B']), others(['A'], ['B'], ['C'], ['D'])]).toEqual([undefined, 1, 2])
  })
  const titled = (title: string): Partial<Item> => ({ title })
  test.each<[string, string, string, Sign[]]>([
    ['the same', 'Lamps and moths', 'Lamps and Moths', ['title: same', 'title: words, same']],
    ['a slip', 'Lamps and moths', 'Lamps and moth', ['title: near', 'title: words, near']],
    ['two letters that changed places', 'Lamps and moths', 'Lapms and moths', ['title: near', 'title: words, near']],
    ['two words in one', 'Lamps and moths', 'Lampsand moths', ['title: near', 'title: words, near']],
    ['a slip in each half', TITLE, TITLE.replace('flowers', 'flovers').replace('towns', 'town'), ['title: near', 'title: words, near']],
    ['two letters off in fifteen', 'Lamps and moths', 'Lanps and noths', ['title: other']],
    ['without its subtitle', 'Lamps and moths: an inquiry', 'Lamps and moths', ['title: short', 'title: words, short']],
    ['its subtitle lost, a slip in the rest', 'Lamps and moths: an inquiry', 'Lamps and moth', ['title: short', 'title: words, short']],
    ['other subtitles', 'Lamps and moths: an inquiry', 'Lamps and moths: a tale of two', ['title: other']],
    ['four of five words', 'Moths lamps harbours towns', 'Moths lamps harbours towns nights', ['title: most words']],
    ['three of five words', 'Moths lamps harbours towns', 'Moths lamps harbours nights', ['title: many words']],
    ['half of the words', 'Moths lamps harbours', 'Moths lamps nights', ['title: other']],
    ['no title on one side', TITLE, '', []],
  ])('title: %s', (_, a, b, signs) => expect(seen('title', titled(a), titled(b))).toEqual(signs)) // prettier-ignore
  test('words of a title count up to six', () => {
    const words = (title: string) => titleSigns(made(titled(title)), made(titled(title), {}, 2))[1]![1]
    expect([words('Lamps'), words('Lamps and moths'), words(TITLE)]).toEqual([1, 3, 6])
  })
  table('DOI', [
    ['one', { DOI: '10.5555/a' }, { DOI: '10.5555/A' }, 'DOI: same'],
    ['two', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, 'DOI: other'],
    ['a preprint’s beside its article’s', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, undefined, { version: 'preprint' }],
    ['an accepted manuscript’s', { DOI: '10.5555/a' }, { DOI: '10.5555/b' }, 'DOI: other', { version: 'accepted manuscript' }],
    ['on one side', { DOI: '10.5555/a' }, {}, undefined],
  ]) // prettier-ignore
  const book = (ISBN?: string): Partial<Item> => ({ type: 'book', ...(ISBN ? { ISBN } : {}) })
  table('ISBN', [
    ['one in two forms', book('9789900019961'), book('978-990-00-1996-1'), 'ISBN: same'],
    ['two', book('9789900019961'), book('9789900019978'), 'ISBN: other'],
    ['on one side', book('9789900019961'), book(), undefined],
  ])
  table('kind', [
    ['the same', {}, {}, undefined],
    ['a book and an article', { type: 'book' }, {}, 'kind: other'],
    ['a type that says nothing', { type: 'unheard-of' }, {}, undefined],
    ['a manuscript is called an article', {}, { type: 'thesis' }, undefined, { version: 'preprint' }],
    ['a manuscript of a chapter is none', { type: 'chapter' }, { type: 'thesis' }, 'kind: other', { version: 'preprint' }],
    ['an article is no manuscript of a thesis', {}, { type: 'thesis' }, 'kind: other', {}, { version: 'preprint' }],
  ]) // prettier-ignore
  table('mark', [
    ['a correction is not what it corrects', titled(`Correction: ${TITLE}`), titled(TITLE), 'mark: other'],
  ])
  table('numbers', [
    ['a part two is no part one', titled(`${TITLE} part 1`), titled(`${TITLE} part 2`), 'numbers: other'],
    ['one part', titled(`${TITLE} part 2`), titled(`${TITLE}: part 2`), undefined],
  ])
  const words = 'Moths were counted at lamps in six towns.'
  table('abstract', [
    ['the same', { abstract: `${words} They came.` }, { abstract: `${words} They came.`.toUpperCase() }, 'abstract: same'],
    ['too short to say anything', { abstract: words }, { abstract: words }, undefined],
    ['another', { abstract: `${words} They came.` }, { abstract: `Owls, not ${words} They came.` }, undefined],
  ]) // prettier-ignore
})
