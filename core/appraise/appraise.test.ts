import { describe, expect, test } from '@jest/globals'
import type { Facts, Item } from '../bib/item'
import { citationsPerYear } from '../trails/rate'
import { countWords } from '../write/words'
import { appraise, itemRefereed } from './kind'
import { readOut } from '../query/concepts'
import { parseCql } from '../query/parse-cql'

const item = (more: Partial<Item>): Item => ({
  id: '',
  type: 'article-journal',
  title: 'Lamps and moths',
  'container-title': 'Night Papers',
  volume: '3',
  page: '10-24',
  ...more,
})

describe('what a record is', () => {
  test.each<[string, Partial<Item>, Facts]>([
    [
      'research article',
      { abstract: 'We compared 12 sites. Catch was 30% lower.' },
      { genre: 'journal article', referenceCount: 31, pageCount: 15 },
    ],
    [
      'review of a book',
      { type: 'review-book', title: 'Night in Towns, by T. Wexcombe', page: '88-89' },
      { genre: 'article' },
    ],
    ['review of a book', { title: 'Review of Night in Towns', page: '88-90' }, { genre: 'article', referenceCount: 1 }],
    [
      'literature review',
      { title: 'Thirty years of work on lamps', abstract: 'We review 90 studies published since 1980.' },
      { referenceCount: 120 },
    ],
    ['correction', { title: 'Correction: Lamps and moths', page: '91' }, {}],
    ['magazine', { type: 'article-magazine' }, { genre: 'magazine' }],
    ['preprint', { type: 'article', volume: undefined, page: undefined }, { genre: 'preprint', version: 'preprint' }],
    [
      'unknown',
      { type: 'document', 'container-title': undefined, volume: undefined, page: undefined, title: 'Lamps' },
      {},
    ],
  ])('%s', (kind, more, facts) => {
    const a = appraise(item(more), facts)
    expect(a.kind).toBe(kind)
    expect(a.confidence).toBeGreaterThan(0.25)
    expect(a.confidence).toBeLessThanOrEqual(1)
    expect(a.evidence.length).toBeGreaterThan(0)
  })
  test('an article is told first; its abstract tells whether it measures or weighs', () => {
    const told = (abstract: string, facts: Facts = {}) =>
      appraise(
        item({ title: 'Hedges and owls', abstract: `${abstract} ${'It went on so for a while. '.repeat(9)}` }),
        facts,
      ).kind
    expect(told('Owls were counted along 40 hedges in two winters.')).toBe('research article')
    expect(told('A search of three catalogues gave 90 papers that met our criteria.')).toBe('literature review')
    expect(
      told('Earlier work disagrees on hedges, the evidence is thin, and gaps remain. Studies of owls rarely last.'),
    ).toBe('literature review')
    // one turn of speech stands in many abstracts
    expect(told('The evidence is thin. Owls were counted along 40 hedges.')).toBe('research article')
    expect(told('Hedges are looked at here.', { referenceCount: 140 })).toBe('literature review')
    expect(told('Owls were counted along 40 hedges.', { referenceCount: 140 })).toBe('research article')
  })
  test.each([
    ['On counting owls: a reply', 'editorial or letter'],
    ['Rejoinder to Wexcombe', 'editorial or letter'],
    ['Preface', 'editorial or letter'],
    ['Owls in hedges: a critical appraisal', 'literature review'],
    ['What we know of owls in hedges', 'literature review'],
    ['Replying owls: calls after dusk', 'unknown'],
    ['A letter from the hedge', 'unknown'],
  ])('a title may say what it heads: %s', (title, kind) => {
    expect(appraise({ id: '', type: 'article-journal', title }, {}).kind).toBe(kind)
  })
  test('a refereed venue does not make a refereed item', () => {
    const a = appraise(item({ title: 'Review of Night in Towns', page: '88-89' }), { refereedVenue: true })
    expect(a).toMatchObject({ refereedVenue: true, kind: 'review of a book' })
  })
})

test('citations a year: half a year in the year of publication, nothing below one year', () => {
  expect(citationsPerYear(10, 2021, '2026-07-01')).toBeCloseTo(2)
  expect(citationsPerYear(10, 2026, '2026-07-01')).toBeUndefined()
  expect(citationsPerYear(undefined, 2000, '2026-07-01')).toBeUndefined()
})

test('words are counted as a reader counts them', () => {
  expect(countWords('Night-flying moths don’t mind; 3.5% do.')).toBe(6)
  expect(countWords('')).toBe(0)
})

test('a query is read out as a sentence', () => {
  const p = parseCql('("street light*" or lamp*) and moth* and year > 2010 not sailing')
  expect(
    p.ok &&
      readOut(p.query.root)
        .map(x => x.text)
        .join(''),
  ).toBe('Works about street light… or lamp… and moth…, after 2010, without sailing.')
})

describe('titles that only seem to say what they are', () => {
  const journal = (title: string, more: Partial<Item> = {}, facts: Facts = {}) =>
    appraise(
      { id: 'x', type: 'article-journal', 'container-title': 'Night Papers', volume: '4', title, ...more },
      facts,
    )
  test.each([
    ['In memoriam inscriptions of the lower Sarn valley', '201-230'],
    ['Correction of refractive error after operations', '301-312'],
    ['Commentary as genre in medieval law', '40-71'],
    ['Response of glow-worms to road lights', '77-90'],
    ['Letters to the king: petitioning in Korrin', '1-28'],
    ['Editorial practice in early newspapers', '33-51'],
    ['Reviewing the poor law, 1790-1834', '1-25'],
  ])('%s is an article', (title, page) => expect(journal(title, { page }).kind).toBe('research article'))
  test.each<[string, string]>([
    ['Vorwort der Herausgeber', 'editorial or letter'],
    ['Éditorial', 'editorial or letter'],
    ['Carta al director', 'editorial or letter'],
    ['Odalys Quillon (1931–2012)', 'editorial or letter'],
    ['Editorial Board', 'editorial or letter'],
    ['Berichtigung zu: Lampen', 'correction'],
    ['Notice of Retraction: Lamps cure everything', 'correction'],
    ['Expression of concern: Dusk enzymes', 'correction'],
    ['Rezension zu: Lune, M., Lampen', 'review of a book'],
    ['Lamps. By Mara Lune. Ostmere: Moorgrave Press, 2014. 212 pp.', 'review of a book'],
    ['The Dark City (review)', 'review of a book'],
    ['The Dark City, by Ivo Sand', 'review of a book'],
  ])('%s, two pages long, is %s', (title, kind) => expect(journal(title, { page: '90-91' }).kind).toBe(kind))
  test.each(['Advances in Lamp Chemistry', 'Letters from the Lighthouse', 'Report on Night: Poems', 'Editorial'])(
    'a book called %s is a book',
    title => {
      const { kind, confidence } = appraise({ id: 'x', type: 'book', title }, {})
      expect(kind).toBe('book')
      expect(confidence).toBeGreaterThan(0.85)
    },
  )
})

test.each<[string, string]>([
  ['Hochschulschrift', 'thesis'],
  ['doctoralThesis', 'thesis'],
  ['Forschungsbericht', 'report'],
  ['StillImage', 'image or recording'],
  ['Zeitungsartikel', 'news'],
  ['conferenceObject', 'conference paper'],
  ['bookPart', 'chapter'],
])('what a catalogue calls “%s” and nothing else is %s, without half a doubt', (genre, kind) => {
  const told = appraise({ id: 'x', type: 'document', title: 'Lamps' }, { genre })
  expect(told.kind).toBe(kind)
  expect(told.confidence).toBeGreaterThan(0.85)
})

test('nobody referees a thesis, a report, a newspaper or a picture, flag or no flag', () => {
  for (const kind of ['thesis', 'report', 'news', 'dataset', 'image or recording'])
    expect(itemRefereed(kind, {})).toBe(false)
  expect(itemRefereed('book', {})).toBeUndefined()
  expect(itemRefereed('research article', { refereedVenue: true })).toBe(true)
})
