import { expect, test } from '@jest/globals'
import type { Item } from '../bib/item'
import {
  type AskedOfAuthor,
  describedForOffice,
  letterToAuthor,
  letterToOffice,
  mailOf,
  reportOfFiles,
  reportOfShelf,
  reportOfWay,
} from './letter'

const of: Item = {
  ...{ id: 'a', type: 'article-journal', title: 'Lit paths', DOI: '10.5555/a.1' },
  ...{ 'container-title': 'Night Paths', volume: '3', issued: { 'date-parts': [[2020, 3, 1]] } },
  author: [{ family: 'Okafor', given: 'Ada' }],
}

test('a letter names the text, its place and its DOI, and fits a mail address', () => {
  const letter = letterToAuthor(of, { from: 'Mira Lund' })
  expect(letter.text).toMatch(/^Dear Ada Okafor,\n\n.*“Lit paths” \(Night Paths, 3, 2020\)/)
  expect(letter.text).toMatch(/Its DOI is 10\.5555\/a\.1\.\n\nWith thanks,\nMira Lund$/)
  expect(decodeURIComponent(mailOf(letter))).toContain('subject=A copy of “Lit paths”&body=Dear Ada Okafor,\r\n')
})

test('an author is told that nothing else leads to the text only where that is so', () => {
  const why = (because: AskedOfAuthor['because']) => letterToAuthor(of, { from: 'Mira Lund', because }).text
  expect(why(undefined)).toContain('(Night Paths, 3, 2020).\n\nCould you send me a copy')
  expect(why('no way')).toContain('(Night Paths, 3, 2020). Our library has no way to it.\n\n')
  expect(why('no way in time')).toContain('Our library cannot get it for me in time.\n\n')
})

test('a report says what the library holds, what was tried, when, and what came, step by step', () => {
  const { subject, text } = reportOfWay(
    of,
    {
      ...{
        library: 'Halverane Library',
        from: 'Greyfinch',
        address: 'http://doi.example/10.5555/a.1',
        day: '2026-10-05',
      },
      ...{ said: 'Your library has not licensed it.', evidence: 'Held from 1998; yours is of 2020: yes.' },
      steps: [
        { what: 'the article', said: '“Lit paths”', url: 'http://greyfinch.example/a' },
        { what: 'the text', said: 'status 403', url: 'http://greyfinch.example/a.pdf' },
      ],
    },
    'Mira Lund',
  )
  expect(subject).toBe('No access to “Lit paths”')
  expect(text).toMatch(/^Dear librarians of Halverane Library,/)
  expect(text).toContain('at Greyfinch. Your list says: Held from 1998')
  expect(text).toContain(
    'On 5 October 2026 I began at http://doi.example/10.5555/a.1, and it ended so: Your library has',
  )
  expect(text).toContain('2. the text: status 403 <http://greyfinch.example/a.pdf>')
  expect(text).toMatch(/Its DOI is 10\.5555\/a\.1\.[^]*Mira Lund$/)
})

test('files that cannot be read are told with their addresses and why; the letter goes where the library is written to', () => {
  const file = { name: 'a.tsv', address: 'http://l.example/a.tsv' }
  const letter = reportOfFiles('Halverane Library', [file], 'This is a page.', 'Mira Lund')
  expect(letter.subject).toBe('The holdings file a.tsv')
  expect(letter.text).toContain('cannot be read as KBART: This is a page.\n\na.tsv <http://l.example/a.tsv>\n')
  expect(mailOf(letter, 'help+vine@halverane.example')).toMatch(/^mailto:help%2Bvine@halverane\.example\?subject=/)
  expect(mailOf(letter)).toMatch(/^mailto:\?subject=/)
  const many = reportOfFiles('Halverane Library', Array<typeof file>(40).fill(file), 'This is a page.', 'Mira Lund')
  expect(many.subject).toBe('40 holdings files')
  expect(many.text.match(/a\.tsv </g)).toHaveLength(10)
  expect(many.text).toContain('and 30 more')
})

test('a report from the shelf says what was looked for, where and when, and what the catalogue said', () => {
  const evidence = 'It is in: Hill Branch, P 3; asked on 5 October 2026.'
  const was = { library: 'Halverane Library', branch: 'Hill Branch', call: 'P 3', evidence, day: '2026-10-06' }
  const { subject, text } = reportOfShelf(of, was, 'Mira Lund')
  expect(subject).toBe('Not on its shelf: P 3')
  expect(text).toContain('On 6 October 2026 I looked for “Lit paths” (Night Paths, 3, 2020) at Hill Branch, under P 3')
  expect(text).toContain(`Your catalogue said: ${evidence}`)
})

test('a letter to a loan office has all by which it finds the text, and what is asked of it', () => {
  const chapter: Item = {
    ...{ id: 'b', type: 'chapter', title: '<i>Noctua</i> at dusk', 'container-title': 'Lit Gardens', page: '12-19' },
    ...{ edition: '2', publisher: 'Seven Elms', 'publisher-place': 'Korrin', ISBN: '9790555000007' },
    ...{ author: [{ family: 'Okafor', given: 'Ada' }], editor: [{ family: 'Lund', given: 'Mira' }] },
    issued: { 'date-parts': [[2019]] },
  }
  expect(describedForOffice(chapter)).toBe(
    'Title: Noctua at dusk\nBy: Ada Okafor\nBook: Lit Gardens\nEdited by: Mira Lund\nEdition: 2\nPages: 12-19\nPublisher: Seven Elms, Korrin\nYear: 2019\nISBN: 9790555000007',
  )
  const asked = {
    ...{ library: 'Korrin Library', kind: 'scan' as const, neededBy: '2026-10-24', anyEdition: true, note: '' },
    suppliers: [],
    from: { name: 'Ines Quill', mail: 'ines@student.example' },
  }
  const { subject, text } = letterToOffice(chapter, asked)
  expect(subject).toBe('A scan: “Noctua at dusk”')
  expect(text).toMatch(/^Dear loan office of Korrin Library,\n\nCould you get me a scan of this text\?\n\nTitle: /)
  expect(text).toContain('I need it by 24 October 2026.')
  expect(text).not.toContain('Another edition')
  expect(text).toMatch(/With thanks,\nInes Quill\nines@student\.example$/)
  const suppliers = [{ said: 'Marlund has it. It is in: Tower, B 12; asked on 5 October 2026.' }]
  expect(letterToOffice(chapter, { ...asked, suppliers }).text).toMatch(
    /ISBN: 9790555000007\nMarlund has it\. .*\n\nI need/,
  )
  const book = letterToOffice({ ...chapter, type: 'book' }, { ...asked, kind: 'book', neededBy: null })
  expect(book.text).toContain('Another edition will do.')
  expect(book.text).not.toContain('I need it by')
})
