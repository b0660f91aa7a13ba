import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { answers } from './answers'
import { readReference } from './reference'

const lune = { family: 'Lune', given: 'Mara H.' }
const year = (...p: number[]) => ({ 'date-parts': [p] })
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

const sand = { family: 'Sand', given: 'Ivo' }
const tarn = { family: 'Tarn', given: 'Jon K.' }
test.each<[string, string, Partial<Item>]>([
  ['one author as spoken', 'Mara H. Lune. Lamps: A Guide to Towns. Moorgrave Press, 1994.', { author: [lune], title: 'Lamps: A Guide to Towns', issued: year(1994) }],
  ['without an initial, the month behind', 'Ivo Sand. Counting moths with the trap package, February 2007. http://vault.example/trap.', { author: [sand], title: 'Counting moths with the trap package', issued: year(2007, 2) }],
  ['three as spoken', 'Mara H. Lune, Ivo Sand, and Jon K. Tarn. On dusk. Night Papers, 25:400–405, 1993.', { author: [lune, sand, tarn], title: 'On dusk', 'container-title': 'Night Papers', volume: '25', page: '400-405', issued: year(1993) }],
  ['more than are named', 'Mara H. Lune et al. On dusk. Night Papers, 25:400–405, 1993.', { author: [lune], title: 'On dusk' }],
  ['as spoken, the year ahead', 'Ivo Sand, K. B. Lune, and Jon K. Tarn. 2019. On dusk (CCA)—a new view. Night Papers 39, 5 (Jan. 2019), 17–47.', { author: [sand, { family: 'Lune', given: 'K. B.' }, tarn], issued: year(2019), volume: '39', issue: '5', page: '17-47' }],
  ['an article by its number', 'Ivo Sand and Jon K. Tarn. 2007. Deciding at dusk. J. Night 54, 2, Article 5 (April 2007).', { 'container-title': 'J. Night', volume: '54', issue: '2', page: '5' }],
  ['an editor alone', 'Ivo Sand (Ed.). 2008. The book of lamps (2nd. ed.). Moorgrave Press, Ostmere.', { editor: [sand], title: 'The book of lamps' }],
  ['a note with a title', 'Ivo Sand, Comments on lamps for towns, Moorgrave Press, Ostmere, 2003.', { author: [sand], title: 'Comments on lamps for towns', issued: year(2003) }],
  ['a day in brackets', 'Lune, M. and J. Tarn (June 17, 2007). An essential guide to lamps. Moorgrave Press.', { title: 'An essential guide to lamps', issued: year(2007, 6, 17) }],
  ['a day ahead', 'Lune, M., 5 July 2004. A list of lamps. Night-link.', { title: 'A list of lamps', issued: year(2004, 7, 5) }],
  ['no title', 'M. Lune, I. Sand, and J. Tarn, Night Letters B 57, 9663 (1998).', { 'container-title': 'Night Letters B', volume: '57', page: '9663', issued: year(1998) }],
  ['no title, the year ahead', 'Lune-Holder A., Sand A., Phys. Lamps B, 1989, 39, 207–214, doi:10.5555/pl.39', { 'container-title': 'Phys. Lamps B', volume: '39', page: '207-214', issued: year(1989), DOI: '10.5555/pl.39' }],
  ['a press in brackets', 'M. Lune and I. Sand, Absorption of light by wings (Moorgrave Ostmere, 1983).', { title: 'Absorption of light by wings', issued: year(1983) }],
  ['commas throughout', 'Lune, M., Lamps: A Way to Count, Ostmere-Moorgrave, 2nd edn., 1994.', { title: 'Lamps: A Way to Count', issued: year(1994) }],
  ['a press that is only a name', 'M. Lune y I. Sand, Los faros, una guía, Aula de Faros, Korrin, 2000.', { title: 'Los faros, una guía', issued: year(2000) }],
  ['a journal behind commas', 'M. Lune, Mathematics of lamps, Bull. Ostmere Math. Soc. (N.S.) 1 (1979), 337–372.', { title: 'Mathematics of lamps', volume: '1', page: '337-372' }],
  ['a thesis behind commas', 'M. Lune, Paths through lamps, Ph.D. thesis, Halverane Univ., Dept. of Lamps, Korrin, July 1987.', { title: 'Paths through lamps', issued: year(1987, 7) }],
  ['volume and number as one figure', 'Lune, M. (Dec. 2000). “Time flies”. In: Night Papers 24.4, pp. 665–694.', { 'container-title': 'Night Papers', volume: '24', issue: '4', page: '665-694', issued: year(2000, 12) }],
  ['in capitals, with a press', 'LUNE, Mara et al. Chess at dusk. Night Papers, Moorgrave, v. 60, n. 2, p. 1280–1286, 2012. Citado 2 vezes nas páginas 25 e 29.', { 'container-title': 'Night Papers', volume: '60', page: '1280-1286', issued: year(2012) }],
  ['a body in capitals', 'OFFICE DE LUZ DE KORRIN. Numeração das lâmpadas. Korrin, 2012. Disponível em: <http://vault.example/n>. Acesso em: 17 fev. 2013.', { author: [{ literal: 'OFFICE DE LUZ DE KORRIN' }], title: 'Numeração das lâmpadas', issued: year(2012) }],
  ['a body before a quotation', 'LUX Medialab. ‘The lamp class: styles for towns’ (1999). url: lamps.example.', { author: [{ literal: 'LUX Medialab' }], title: 'The lamp class: styles for towns', issued: year(1999) }],
  ['visited', 'Ivo Sand. Zwölf Lampen. 12. Okt. 2021. url: http://vault.example/x.pdf (besucht am 12. 10. 2022).', { title: 'Zwölf Lampen', issued: year(2021, 10, 12) }],
  ['cited on a page', 'M. Lune. Moths by Night. Moorgrave Press, 1992 (cit. on p. 9).', { title: 'Moths by Night', issued: year(1992) }],
  ['an edition behind a single letter', 'Lune WN, Sand BD (2002). Modern Lamps with S. 4th edition. Moorgrave, Korrin.', { title: 'Modern Lamps with S', edition: '4' }],
  ['editors behind the title of their book', 'Ivo Sand. 1990. Asking lamps. In Lectures on Lit Systems, Sape Tarn (Ed.). Moorgrave Press, Korrin, 19–33.', { title: 'Asking lamps', 'container-title': 'Lectures on Lit Systems', page: '19-33' }],
  ['a question before a short journal', 'Ivo Sand. 2007. Buy, sell, or lend? Commun. Lamps 50, 1 (Jan. 2007), 36–44.', { title: 'Buy, sell, or lend?', 'container-title': 'Commun. Lamps', volume: '50', page: '36-44' }],
  ['signs of full width', '［2］ LUNE I A，SAND C D，TARN III I D. Large lamps for towns ［J］. Night Papers，2003，8（2）：299-307.', { author: [{ family: 'LUNE', given: 'I. A.' }, { family: 'SAND', given: 'C. D.' }, { family: 'TARN', given: 'I. D.' }], title: 'Large lamps for towns', type: 'article-journal', volume: '8', issue: '2', page: '299-307', issued: year(2003) }],
  ['in Chinese', '［1］ 灯春珍，蛾再华，等. 城市路灯与飞蛾研究 ［J］. 夜间学报，2010，27（6）：768-771.', { author: [{ family: '灯', given: '春珍' }, { family: '蛾', given: '再华' }], title: '城市路灯与飞蛾研究', 'container-title': '夜间学报', volume: '27', page: '768-771', issued: year(2010) }],
  ['a paper by its mark', 'LUNE B A, SAND I. A new lamp [C] // Meeting on Lamp Systems, Korrin, 2004: 745-750.', { title: 'A new lamp', type: 'paper-conference', page: '745-750' }],
])('as others print it: %s', (_, text, expected) => expect(read(text)).toMatchObject(expected)) // prettier-ignore

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
