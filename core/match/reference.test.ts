import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { answers } from './answers'
import { readReference } from './reference'
import { lune, OTHERS, year } from './reference-rig'

const ARTICLE = {
  title: 'On dusk: a study of lamps',
  'container-title': 'Night Papers',
  volume: '12',
  issue: '3',
  page: '45-67',
}
const read = (text: string) => readReference(text).item

describe('an article, in the manners of many', () => {
  test.each([
    ['by author and year', 'Lune, M. H., & Sand, I. (2019). On dusk: a study of lamps. Night Papers, 12(3), 45–67. https://doi.org/10.5555/np.2019.45'],
    ['numbered, the year behind', '[12] M. H. Lune and I. Sand, “On dusk: a study of lamps,” Night Papers, vol. 12, no. 3, pp. 45–67, 2019, doi: 10.5555/np.2019.45.'],
    ['numbered, without dots', '4. Lune MH, Sand I. On dusk: a study of lamps. Night Papers. 2019;12(3):45–67. doi:10.5555/np.2019.45'],
    ['as a note', 'Mara H. Lune and Ivo Sand, “On dusk: a study of lamps,” Night Papers 12, no. 3 (2019): 45–67, 10.5555/np.2019.45'],
    ['the first name turned', 'Lune, Mara H., and Ivo Sand. “On dusk: a study of lamps.” Night Papers, vol. 12, no. 3, 2019, pp. 45–67. doi:10.5555/NP.2019.45'],
    ['in German', 'Lune, Mara H.; Sand, Ivo: On dusk: a study of lamps. In: Night Papers 12 (2019), H. 3, S. 45–67. DOI: 10.5555/np.2019.45'],
    ['in French', 'Lune, Mara H. et Sand, Ivo, « On dusk: a study of lamps », Night Papers, vol. 12, n° 3, 2019, p. 45-67. doi:10.5555/np.2019.45'],
    ['in capitals', 'LUNE, M. H.; SAND, I. On dusk: a study of lamps. Night Papers, v. 12, n. 3, p. 45-67, 2019. DOI: 10.5555/np.2019.45'],
    ['with slashes', 'Lune, Mara H./Sand, Ivo (2019): On dusk: a study of lamps, in: Night Papers, Jg. 12, Nr. 3, S. 45–67, doi:10.5555/np.2019.45.'],
    ['with dashes', 'LUNE, M. H. – SAND, I. On dusk: a study of lamps. Night Papers, 2019, roč. 12, č. 3, s. 45–67. doi:10.5555/np.2019.45'],
  ])('%s', (_, text) => {
    const item = read(text)
    expect(item).toMatchObject({ ...ARTICLE, DOI: '10.5555/np.2019.45' })
    expect(item.issued).toEqual(year(2019))
    expect(item.author!.map(n => n.family?.toLowerCase())).toEqual(['lune', 'sand'])
  }) // prettier-ignore
})

test.each<[string, string, Partial<Item>]>([
  ['a book', 'Lune, M. H. (2014). Lamps and their makers (2nd ed.). Moorgrave Press.', { title: 'Lamps and their makers', edition: '2', publisher: 'Moorgrave Press', issued: year(2014) }],
  ['a book with its place', 'Lune, Mara H. 2014. Lamps and Their Makers. Ostmere: Moorgrave Press.', { title: 'Lamps and Their Makers', publisher: 'Moorgrave Press', 'publisher-place': 'Ostmere' }],
  ['a book in a note', 'Mara H. Lune, Lamps and Their Makers (Ostmere: Moorgrave Press, 2014), 45.', { title: 'Lamps and Their Makers', author: [lune] }],
  ['a German book', 'Lune, Mara H.: Lampen und ihre Macher. 2. Aufl. Ostmere: Moorgrave 2014.', { title: 'Lampen und ihre Macher', edition: '2', publisher: 'Moorgrave', 'publisher-place': 'Ostmere', issued: year(2014) }],
  ['a chapter', 'Okafor, A. (2011). On wicks. In M. H. Lune & I. Sand (Eds.), Lamps and their makers (pp. 112–130). Moorgrave Press.', { title: 'On wicks', 'container-title': 'Lamps and their makers', page: '112-130', editor: [{ family: 'Lune', given: 'M. H.' }, { family: 'Sand', given: 'I.' }], type: 'chapter' }],
  ['a German chapter', 'Okafor, Ada: Dochte. In: Lune, Mara H. (Hrsg.): Lampen und ihre Macher. Ostmere: Moorgrave 2011, S. 112–130.', { title: 'Dochte', 'container-title': 'Lampen und ihre Macher', page: '112-130', editor: [lune], issued: year(2011) }],
  ['a thesis', 'Bee, C. (2018). Moths at dusk [Doctoral dissertation, Halverane University].', { type: 'thesis', title: 'Moths at dusk', genre: 'Doctoral dissertation', publisher: 'Halverane University' }],
  ['a body', 'Council of Ostmere. (2014). Lamps in 2014. Office of Lamps.', { author: [{ literal: 'Council of Ostmere' }], title: 'Lamps in 2014' }],
  ['particles, hyphens, an apostrophe', 'van der Berg, I., O’Lune, M., & Sand-Bee, A. K. (2001). Dusk. Night Papers, 2, 1–9.', { author: [{ family: 'van der Berg', given: 'I.' }, { family: 'O’Lune', given: 'M.' }, { family: 'Sand-Bee', given: 'A. K.' }] }],
  ['a name cut', 'T. rex and the lamps. Night Papers 12 (2019): 4-9.', { title: 'T. rex and the lamps', 'container-title': 'Night Papers' }],
  ['a title that asks', 'Lune, M. (2001). Do lamps help? A survey of towns. Night Papers, 2, 1–9.', { title: 'Do lamps help? A survey of towns', 'container-title': 'Night Papers' }],
  ['an address', 'Lune, M. (2001). Dusk. Retrieved 3 March 2020, from http://vault.example/dusk.', { title: 'Dusk', URL: 'http://vault.example/dusk' }],
])('%s', (_, text, expected) => expect(read(text)).toMatchObject(expected)) // prettier-ignore

test.each(OTHERS)('as others print it: %s', (_, text, expected) => expect(read(text)).toMatchObject(expected))

test('words of titles are no names', () => {
  for (const text of [
    'Linear Lamps. Moorgrave Press, 1971.',
    'The Lamps. Moorgrave, 1990.',
    'Night Papers. A list. 2001.',
  ])
    expect(read(text).author).toBeUndefined()
})

test('more authors than are named are told, and each part says how sure it is', () => {
  const { item, others, sure } = readReference('Lune MH, Sand I, et al. On dusk. Night Papers. 2019;12:45-67.')
  expect(others).toBe(true)
  expect(item.author).toHaveLength(2)
  expect(sure.author).toBeGreaterThan(0.9)
  for (const s of Object.values(sure)) expect(s).toBeLessThanOrEqual(1)
})

describe('whether a work is the one', () => {
  const reference = readReference('Lune, M. H. (2019). On dusk. Night Papers, 12(3), 45–67.')
  const work = (more: Partial<Item>): Item => ({
    id: 'x',
    type: 'article-journal',
    title: 'On dusk',
    author: [lune],
    issued: year(2019),
    ...more,
  })
  test.each<[string, Partial<Item>, string | undefined]>([
    ['it is', {}, undefined],
    ['a year beside it', { issued: year(2020) }, undefined],
    ['a name turned round', { author: [{ family: 'Mara', given: 'Lune' }] }, undefined],
    ['a first of many', { author: [{ family: 'Sand' }, lune] }, undefined],
    ['nobody named', { author: [] }, undefined],
    ['somebody else’s', { author: [{ family: 'Sand', given: 'Ivo' }] }, 'it is by Sand'],
    ['one of long ago', { issued: year(1995) }, 'it came out in 1995'],
    ['another volume and page', { volume: '3', page: '1-4' }, 'it stands in volume 3, 1-4'],
  ])('%s', (_, more, against) => {
    expect(answers(reference, work(more)).against).toBe(against)
  })
})

test('a part of a series is not another one of it', () => {
  const asked = readReference('Lune, M. H. (2019). On dusk and lamps, part II. Night Papers, 12(3), 45–67.')
  const found = (title: string): Item => ({
    id: 'x',
    type: 'article-journal',
    title,
    author: [lune],
    issued: year(2019),
  })
  expect(answers(asked, found('On dusk and lamps, part III')).against).toBe('its title has iii where yours has ii')
  expect(answers(asked, found('On dusk and lamps, part II')).against).toBeUndefined()
})

test('nothing that is typed makes it throw, and what it says stands in the text', () => {
  fc.assert(
    fc.property(fc.string({ maxLength: 300 }), s => {
      const { item } = readReference(s)
      if (item.volume) expect(s.replace(/[‐‑‒–—−]/g, '-')).toContain(item.volume)
    }),
    { numRuns: 500 },
  )
})
