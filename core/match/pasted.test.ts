import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readPasted } from './pasted'
import { titleFit } from './answers'

const titleIn = (line: string) => readPasted(line)[0]!.value

test('identifiers are found wherever they stand, each once; other lines are references', () => {
  const text = [
    'https://doi.org/10.5555/ABC.1, 10.5555/abc.2',
    '',
    'ISBN 978-990-00-1996-1',
    'doi:10.5555/abc.1.',
    'Okafor A. (2019) Moths at lamps. Night Notes 4:1.',
  ].join('\n')
  expect(readPasted(text).map(p => [p.line, p.by, p.value])).toEqual([
    [1, 'doi', '10.5555/abc.1'],
    [1, 'doi', '10.5555/abc.2'],
    [3, 'isbn', '9789900019961'],
    [5, 'reference', 'Moths at lamps'],
  ])
})

test.each([
  [
    'Okafor, A., & Bee, C. (2021). Moth visits to flowers under street lighting. Night Notes, 4(2), 10–19.',
    'Moth visits to flowers under street lighting',
  ],
  ['[3] A. Okafor, “Moth visits to flowers,” Night Notes, vol. 4, 2021.', 'Moth visits to flowers'],
  [
    'Okafor A, Bee C. Moth visits to flowers under street lighting in towns. Night Notes. 2021;4:10-9.',
    'Moth visits to flowers under street lighting in towns',
  ],
  ['Can lamps change moths? Evidence from towns', 'Can lamps change moths? Evidence from towns'],
])('the title in %s', (reference, title) => expect(titleIn(reference)).toBe(title))

test('a fit is whole for the same words, none for others, and the same both ways', () => {
  expect(titleFit('The moths of towns', 'Moths of Towns')).toBe(1)
  expect(titleFit('Moths of towns', 'Hulls and sails')).toBe(0)
  fc.assert(
    fc.property(fc.string(), fc.string(), (a, b) => {
      expect(titleFit(a, b)).toBe(titleFit(b, a))
      expect(titleFit(a, b)).toBeLessThanOrEqual(1)
    }),
  )
})

test('nothing that is pasted makes it throw', () => {
  fc.assert(fc.property(fc.string(), s => void readPasted(s)))
})

test('a line is told as it stands, without the space around it; line ends of all kinds count', () => {
  expect(readPasted('  Owls at sea  \r\n\rBats at dusk\n')).toEqual([
    expect.objectContaining({ line: 1, text: 'Owls at sea', by: 'reference', value: 'Owls at sea' }),
    expect.objectContaining({ line: 3, text: 'Bats at dusk', by: 'reference', value: 'Bats at dusk' }),
  ])
  expect(readPasted(' \n\t\n')).toEqual([])
})

test.each([
  ['9789900019961', '9789900019961'],
  ['978-990-00-1996-1', '9789900019961'],
  ['978 990 00 1996 1', '9789900019961'],
  ['978 9900019961', '9789900019961'],
  ['99900 1996 0', undefined],
  ['0-306-40615-2', '9780306406157'],
  ['0306406152', '9780306406157'],
])('an ISBN as %s', (text, value) =>
  expect(readPasted(`Lamps. ISBN ${text}.`)[0]).toMatchObject(value ? { by: 'isbn', value } : { by: 'reference' }),
)

test('a DOI in an address, encoded or not; what is no DOI is read as a reference', () => {
  const values = (t: string) => readPasted(t).map(p => [p.by, p.value])
  expect(values('http://x.example/10.5555%2Fab.1?x')).toEqual([['doi', '10.5555/ab.1']])
  expect(values('see <10.5555/ab.1>, “10.5555/ab.2”')[0]).toEqual(['doi', '10.5555/ab.1'])
  expect(values('10.55/short')[0]![0]).toBe('reference')
})

test.each([
  ['Okafor A. “Moths at lamps,” 2020.', 'Moths at lamps'],
  ['Okafor A. "Moths at lamps." 2020.', 'Moths at lamps'],
  ['Okafor A. «Moths at lamps» 2020.', 'Moths at lamps'],
  ['Okafor A. ‘Moths at lamps’ 2020.', 'Moths at lamps'],
  ['“Short” and then "Moths at lamps" of old', '“Short” and then "Moths at lamps" of old'],
  ['"Short" and "Moths at lamps, at night" of 1901', 'Moths at lamps, at night'],
  ['“12345678” of old', '12345678'],
  ['“1234567” and all of the others', '“1234567” and all of the others'],
  ['Okafor (1999a). Moths at lamps. Night.', 'Moths at lamps'],
  ['Okafor 1899: Moths at old lamps. Night.', 'Moths at old lamps'],
  ['Okafor 2001,  Moths at old lamps. Night.', 'Moths at old lamps'],
  ['Okafor (1799). Moths at lamps. Night Papers of the old town of lamps.', 'Moths at lamps'],
  ['Okafor (1999). Moths. The night papers of old towns. 4.', 'Moths'],
  ['Okafor 1999.', 'Okafor 1999.'],
])('of %s the title', (reference, title) => expect(titleIn(reference)).toBe(title))

test('a fit counts each word once, against the longer of the two; an empty one fits nothing', () => {
  expect(titleFit('moths moths lamps', 'lamps moths towns seas')).toBe(0.5)
  expect(titleFit('', 'lamps')).toBe(0)
  expect(titleFit('lamps', '…')).toBe(0)
  expect(titleFit('', '')).toBe(0)
})

test.each([
  ['https://p.example/full?doi=10.5555/abc.1&lang=en', ['10.5555/abc.1', undefined]],
  ['https://doi.org/10.5555/abc?utm_source=mail#top', ['10.5555/abc', undefined]],
  ['read https://p.example/doi/full/10.5555/abc/pdf.', ['10.5555/abc/pdf', '10.5555/abc']],
  ['https://r.example/openurl?ctx_ver=Z39.88-2004&rft_id=info:doi/10.5555/np.4&rft.genre=article', ['10.5555/np.4']],
])('the DOI in %s', (line, [value, or]) =>
  expect(readPasted(line)).toMatchObject([{ by: 'doi', value, ...(or ? { or } : {}) }]),
)

test('a link for a resolver says what it is of, also out of the source of a page', () => {
  const keys = 'rft_val_fmt=info:ofi/fmt:kev:mtx:journal&rft.atitle=Lit+piers&rft.jtitle=Night+Papers&rft.date=2020'
  for (const line of [
    `https://r.example/openurl?${keys}`,
    keys,
    `<span class="Z3988" title="${keys.replaceAll('&', '&amp;')}"></span>`,
  ])
    expect(readPasted(line)).toMatchObject([
      {
        ...{ by: 'reference', value: 'Lit piers' },
        reference: { item: { 'container-title': 'Night Papers', issued: { 'date-parts': [[2020]] } } },
        link: { type: 'article-journal' },
      },
    ])
  expect(readPasted('https://r.example/?isbn=978-990-00-1996-1&title=Moths&aulast=Lune')).toMatchObject([
    { by: 'isbn', value: '9789900019961', link: { title: 'Moths' } },
  ])
})
