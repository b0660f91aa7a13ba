import { expect, test } from '@jest/globals'
import { dataSaid } from './data-said'

const DOI = '10.5555/fdd.77'
test.each([
  [
    'under a heading of its own',
    ['Lamps.\nData availability\nAll counts are at https://doi.example/10.5555/fdd.77.\nReferences'],
  ],
  ['with its heading in the same line', [`Data accessibility: counts of moths are archived (doi: ${DOI}).`]],
  ['with a number, in another language', [`4.2. Datenverfügbarkeit\nDie Zählungen sind hinterlegt: ${DOI}`]],
  [
    'of data and code',
    [`Data and code availability statement. Everything that was counted is under ${DOI}, with the code.`],
  ],
  [
    'over the break of a page',
    ['Availability of data and materials\nThe counts are deposited in a public store under', `${DOI}.\nReferences`],
  ],
  [
    'in a sentence alone',
    [
      `Data of others are available at https://other.example/x. We counted.`,
      `We counted moths. The data are available under ${DOI}. We thank all.`,
    ],
  ],
])('a text that says what became of its data %s', (_, pages) => {
  expect(dataSaid(pages)?.links).toContainEqual({ doi: DOI })
})

test('where, and what else it names; a DOI is told once, however it is written', () => {
  const text = `Data availability\nCounts: https://doi.example/${DOI}; maps at https://maps.example/lamps.`
  expect(dataSaid(['One page', text])).toEqual({
    page: 2,
    said: `Counts: https://doi.example/${DOI}; maps at https://maps.example/lamps.`,
    links: [{ doi: DOI }, { address: 'https://maps.example/lamps' }],
  })
})

test('a statement that names no place is told all the same', () =>
  expect(dataSaid(['Data availability statement\nThe authors give the data to whoever asks for them.'])).toEqual({
    page: 1,
    said: 'The authors give the data to whoever asks for them.',
    links: [],
  }))

test.each([
  ['Availability of data was a problem in all of these studies, as we said in https://x.example/a.'],
  ['Data of lamps were available for three towns.'],
  ['Data availability'],
  [''],
])('“%s” says nothing of the data of the text', text => expect(dataSaid([text])).toBeUndefined())
