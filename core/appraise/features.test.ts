import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Facts, Item } from '../bib/item'
import { appraise, KINDS } from './kind'
import { FEATURES, featuresOf } from './features'
import { WEIGHTS } from './weights'

test('every feature has weights, and every weight a feature and a kind', () => {
  expect(Object.keys(WEIGHTS).sort()).toEqual([...FEATURES].sort())
  for (const kinds of Object.values(WEIGHTS)) for (const kind of Object.keys(kinds)) expect(KINDS).toContain(kind)
})

test('whatever a record says, each feature that is seen has weights', () => {
  const some = (...words: string[]) => fc.constantFrom('', ...words)
  const titles = some(
    'Editorial',
    'Erratum',
    'Lamps: a review',
    'Marit Holt, The Salt Road',
    'P-117 Sleep',
    'Annual report',
  )
  const genres = some('Review', 'article', 'Case Reports', 'Hochschulschrift', 'book-review', 'poster')
  const types = some('book', 'article-journal', 'paper-conference', 'entry', 'monograph', 'what')
  const abstracts = some('We counted 12 owls.', 'We review 90 studies. The evidence is thin and gaps remain.'.repeat(4))
  fc.assert(
    fc.property(
      titles,
      genres,
      types,
      abstracts,
      some('1-2', '1-40', 'S12'),
      fc.nat(120),
      (title, genre, type, abstract, page, refs) => {
        const item = { id: '', type, title, abstract, page, 'container-title': 'Workshop on Owls, WO 2011' } as Item
        for (const { name } of featuresOf(item, { genre, referenceCount: refs })) expect(WEIGHTS).toHaveProperty([name])
      },
    ),
  )
})

const all = (item: Partial<Item>, facts: Facts = {}) =>
  featuresOf({ id: 'x', type: 'article-journal', title: 'Lamps', ...item } as Item, facts).map(m => m.name)

test.each<[string, Partial<Item>, Facts, string]>([
  [
    'a meeting by its letters',
    { type: 'chapter', 'container-title': 'Small Tongues. ST 2013' },
    {},
    'meeting by letters',
  ],
  ['a page of a supplement', { page: 'S61', volume: '4' }, {}, 'supplement page'],
  ['an office that publishes', { type: 'book', publisher: 'Landesamt für Wasser' }, {}, 'published by an office'],
  ['a type that CSL has not', { type: 'edited-book' }, {}, 'type book'],
  [
    'the author of a book at the beginning',
    { title: 'Marit Holt, The Salt Road', page: '4-5' },
    {},
    'title person first, short',
  ],
  ['a report by its name', { type: 'document', title: 'Rapport annuel 2012' }, {}, 'title report, short'],
  ['a life', { title: 'Marit Holt, 1940–2011', page: '4-5' }, {}, 'title years of a life, short'],
])('%s is seen', (_, item, facts, name) => expect(all(item, facts)).toContain(name))

test('capitals count: inscriptions are nobody’s obituary', () => {
  expect(all({ title: 'In memoriam Rutger Quist', page: '1-3' })).toContain('title obituary, short')
  expect(all({ title: 'In memoriam inscriptions of the lower valley' }).join()).not.toContain('obituary')
})

/** Words of published vocabularies: of repositories, medical indexes, DOI registrations. */
describe.each<[string, Record<string, string>]>([
  [
    'repositories',
    {
      'research article': 'research article',
      'data paper': 'research article',
      'review article': 'literature review',
      'letter to the editor': 'editorial or letter',
      editorial: 'editorial or letter',
      corrigendum: 'correction',
      'book part': 'chapter',
      'conference paper': 'conference paper',
      'conference poster': 'conference abstract',
      'conference proceedings': 'book',
      'working paper': 'report',
      'technical report': 'report',
      'policy report': 'report',
      'doctoral thesis': 'thesis',
      'bachelor thesis': 'thesis',
      preprint: 'preprint',
      dataset: 'dataset',
      'still image': 'image or recording',
      'musical composition': 'image or recording',
      'newspaper article': 'news',
      'book review': 'review of a book',
      'technical standard': 'report',
    },
  ],
  [
    'medical indexes',
    {
      'Case Reports': 'research article',
      'Clinical Trial': 'research article',
      'Randomized Controlled Trial': 'research article',
      'Observational Study': 'research article',
      'Comparative Study': 'research article',
      'Systematic Review': 'literature review',
      'Meta-Analysis': 'literature review',
      Comment: 'editorial or letter',
      Letter: 'editorial or letter',
      'Published Erratum': 'correction',
      'Retraction of Publication': 'correction',
      'Expression of Concern': 'correction',
      'Practice Guideline': 'report',
    },
  ],
  [
    'registrations',
    {
      'journal-article': 'research article',
      'book-chapter': 'chapter',
      'proceedings-article': 'conference paper',
      'posted-content': 'preprint',
      'edited-book': 'book',
      monograph: 'book',
      'reference-entry': 'chapter',
      dissertation: 'thesis',
      report: 'report',
      standard: 'report',
      BookChapter: 'chapter',
      ConferencePaper: 'conference paper',
      ConferenceProceeding: 'book',
      Dissertation: 'thesis',
      Audiovisual: 'image or recording',
      Sound: 'image or recording',
    },
  ],
])('of %s', (_, words) => {
  test.each(Object.entries(words))('“%s” is %s', (genre, kind) => {
    const type =
      /^(?!proceedings|newspaper).*article|letter|editorial|comment|trial|study|case|review|erratum|retraction|concern|corrig|meta|data paper/i.test(
        genre,
      )
        ? 'article-journal'
        : 'document'
    const pages = type === 'document' ? {} : { 'container-title': 'Night Papers', volume: '4', page: '10-19' }
    expect(appraise({ id: 'x', type, title: 'Lamps and moths', ...pages } as Item, { genre }).kind).toBe(kind)
  })
})
