import { expect, test } from '@jest/globals'
import { readCslJson } from './csl-json'

/** Answers of DOI registrations as they are, in all the shapes that one meets; what they tell is made up. */
const read = (item: object) => {
  const { entries, refused } = readCslJson(JSON.stringify([item]))
  expect(refused).toEqual([])
  return entries[0]!
}

test('an answer with lists for texts, an empty date, an author that is a body, and markup in title and abstract', () => {
  const { item, mended } = read({
    type: 'journal-article',
    DOI: '10.5555/NIGHT.2',
    title: ['Lamps and <i>Culex pipiens</i> at 5&nbsp;lx'],
    subtitle: [],
    'container-title': ['Night Letters &amp; Notes'],
    'short-container-title': ['Night Lett.'],
    author: [
      { given: 'Ivo', family: 'Sand', sequence: 'first', affiliation: [{ name: 'Ostmere' }] },
      { name: 'Lantern Group', sequence: 'additional', affiliation: [] },
    ],
    issued: { 'date-parts': [[null]] },
    'published-print': { 'date-parts': [[2019, 5]] },
    created: { 'date-parts': [[2021, 1, 1]], 'date-time': '2021-01-01T00:00:00Z', timestamp: 1 },
    ISSN: ['1234-5679', '2345-6787'],
    page: '12-19',
    abstract:
      '<jats:title>Abstract</jats:title><jats:p>Lamps draw <jats:italic>Culex</jats:italic>.</jats:p>\n<jats:p>p &lt; 0.05.</jats:p>',
    'is-referenced-by-count': 4,
    link: [{ URL: 'http://tessary.example/x' }],
  })
  expect(item).toMatchObject({
    type: 'article-journal',
    DOI: '10.5555/night.2',
    title: 'Lamps and <i>Culex pipiens</i> at 5 lx',
    'container-title': 'Night Letters & Notes',
    'container-title-short': 'Night Lett.',
    author: [{ given: 'Ivo', family: 'Sand' }, { literal: 'Lantern Group' }],
    issued: { 'date-parts': [[2019, 5]] },
    ISSN: '1234-5679',
    page: '12-19',
    abstract: 'Abstract\nLamps draw Culex.\np < 0.05.',
  })
  expect(mended).toContain('Markup was taken out of the field “abstract”.')
})

test('an answer that calls its id an address, its authors by one text, its date by a text', () => {
  const { item } = read({
    id: 'https://doi.example/10.5555/night.7',
    type: 'dataset',
    categories: ['light'],
    language: 'eng',
    author: [{ literal: 'Bee, Cara' }, { family: 'Sand', given: 'Ivo' }],
    issued: { raw: '2020-04-01' },
    DOI: 'https://doi.org/10.5555/NIGHT.7',
    publisher: { name: 'Fennmark' },
    title: 'Counts of moths',
    copyright: 'free',
  })
  expect(item).toMatchObject({
    type: 'dataset',
    DOI: '10.5555/night.7',
    publisher: 'Fennmark',
    title: 'Counts of moths',
  })
  expect(item.author).toHaveLength(2)
})
