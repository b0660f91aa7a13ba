import { describe, expect, test } from '@jest/globals'
import { writeBibtex } from './bibtex'
import { readBibliography } from './read-file'

const one = (text: string) => {
  const file = readBibliography(text)!
  expect(file.refused).toEqual([])
  return file.entries[0]!
}
const article = (fields: string) => one(`@article{a, title={X}, journal={J}, year=2001, ${fields}}`)

describe('BibTeX as the papers of others have it', () => {
  test.each([
    [String.raw`author={\'{E}tienne Bee}`, 'Étienne', 'Bee'],
    [String.raw`author={\'Etienne Bee}`, 'Étienne', 'Bee'],
    [String.raw`author={{\'E}tienne Bee}`, 'Étienne', 'Bee'],
    [String.raw`author={\v{S}imon Bee}`, 'Šimon', 'Bee'],
    [String.raw`author={\O{}rnulf {\AA}berg}`, 'Ørnulf', 'Åberg'],
    [String.raw`author={Bee, Mar{\'\i}a}`, 'María', 'Bee'],
    [String.raw`author={Wo{\l}k, \L ukasz}`, 'Łukasz', 'Wołk'],
  ])('a name that begins with a command: %s', (fields, given, family) => {
    expect(article(fields).item.author).toEqual([{ given, family }])
  })
  test('“and others” is nobody', () => {
    const { item, mended } = article('author={Sand, Ivo and others}')
    expect(item.author).toEqual([{ family: 'Sand', given: 'Ivo' }])
    expect(mended.join()).toContain('“and others”')
  })
  test.each([
    ['phdthesis', '', 'PhD thesis'],
    ['mastersthesis', '', 'Master’s thesis'],
    ['phdthesis', 'type={Habilitationsschrift},', 'Habilitationsschrift'],
    ['techreport', '', 'Technical report'],
  ])('%s has a word that a style can print', (type, more, genre) => {
    expect(
      one(`@${type}{a, author={Sand, I.}, title={X}, ${more} school={U}, institution={U}, year=2001}`).item.genre,
    ).toBe(genre)
  })
  test.each([
    [String.raw`title={Using {\LaTeX} by night}`, 'Using LaTeX by night'],
    [String.raw`title={The \Lamp\ book}`, 'The Lamp book'],
    [String.raw`title={The \Lampbook{} of \emph{moths}}`, 'The Lampbook of <i>moths</i>'],
    [String.raw`title={Lamps\longdash{}moths by night}`, 'Lamps moths by night'],
    [String.raw`title={Towns\slash harbours \ldots}`, 'Towns/harbours …'],
    [String.raw`title={Lamps {\it by} {\small night}}`, 'Lamps by night'],
    [String.raw`title={Noc\-tur\-nal moths}`, 'Nocturnal moths'],
    [String.raw`title={Journ\'{ees} de nuit}`, 'Journées de nuit'],
    [String.raw`title={Ry{\'{}cko} by night}`, 'Rycko by night'],
  ])('commands for words and signs: %s', (fields, title) => {
    expect(one(`@article{a, journal={J}, year=2001, author={Sand, I.}, ${fields}}`).item.title).toBe(title)
  })
  test('a file’s own commands stand for what its preamble says, unless that is no text', () => {
    const file = readBibliography(String.raw`
@Preamble{"\newcommand{\NN}{Night Notes} \def \AX {Ann.\ \NN} \def\odd{\kern-.05em\raise1ex\hbox{x}}"}
@String{j-nn = "\NN\slash Weekly"}
@article{a, title={On \AX and \odd lamps}, journal=j-nn, year=2001}`)!
    expect(file.entries[0]!.item).toMatchObject({
      title: 'On Ann. Night Notes and odd lamps',
      'container-title': 'Night Notes/Weekly',
    })
  })
  test('what an entry has from another is mended too', () => {
    const file = readBibliography(String.raw`
@inproceedings{a, title={Lamps}, author={Sand, I.}, ${'cross'}ref={b}}
@proceedings{b, title={\Noctua: Noc\-tur\-nal Lights}, booktitle={\Noctua: Noc\-tur\-nal Lights}, year=2001}`)!
    expect(file.entries[0]!.item['container-title']).toBe('Noctua: Nocturnal Lights')
  })
  test('every item has the shapes of the standard: lists where it wants a text are put together', () => {
    const { item } = one(
      '@book{a, title={X}, author={Sand, I.}, publisher={Lantern and Daughters}, location={Sarnhold and Brae}, date={2001}, language={english and german}}',
    )
    expect(item).toMatchObject({ publisher: 'Lantern and Daughters', 'publisher-place': 'Sarnhold, Brae' })
    expect(typeof item.language).toBe('string')
  })
  test('signs that TeX wants escaped are themselves in DOIs and addresses', () => {
    const { item } = article(String.raw`doi={10.5555/a\_b\%c}, url={http://a.example/x\_y?q=1\&r=\#2}`)
    expect(item.URL).toBe('http://a.example/x_y?q=1&r=#2')
    expect(item.DOI).toBe('10.5555/a_b%c')
  })
  test('the pages of a book are its number of pages; those of an article are not', () => {
    expect(one('@book{a, author={Sand, I.}, title={X}, publisher={P}, year=2001, pages={xii+340}}').item).toMatchObject(
      { 'number-of-pages': 'xii+340' },
    )
    expect(article('pages={340}').item.page).toBe('340')
  })
  test('of a journal and a book the journal counts, and that is said', () => {
    const { item, mended } = article('booktitle={B}')
    expect(item['container-title']).toBe('J')
    expect(mended.join()).toContain('the journal counts')
  })
  test('a command that nobody knows is named with its field, and what it encloses stays', () => {
    const { item, mended } = one(
      String.raw`@article{a, title={The \foo{bar} of 5\,\textdegree C}, journal={J}, year={2001a}}`,
    )
    expect(item.title).toBe('The bar of 5 °C')
    expect(mended).toEqual(['The command “\\foo” in the field "title" is not known and was read as text.'])
    expect(item.issued).toEqual({ 'date-parts': [[2001]] })
  })
})

test('RIS with small tags, with a type that nobody knows', () => {
  expect(one('ty  - JOUR\nti  - Lamps\nau  - Sand, Ivo\ner  - \n').item).toMatchObject({
    type: 'article-journal',
    title: 'Lamps',
  })
  const { item, mended } = one('TY  - WHAT\nTI  - Lamps\nER  - \n')
  expect(item.title).toBe('Lamps')
  expect(mended[0]).toContain('“WHAT” is not a type of RIS')
})

test('CSL-JSON one item a line, under a name of its own, without a type, with a date in words', () => {
  const titles = (text: string) => readBibliography(text)!.entries.map(e => e.item.title)
  expect(titles('{"type":"book","title":"A"}\n{"type":"book","title":"B"}\n')).toEqual(['A', 'B'])
  expect(titles('{"references":[{"type":"book","title":"A"}]}')).toEqual(['A'])
  const { item, mended } = one('[{"title":"A","issued":"March 2001"}]')
  expect(item).toMatchObject({ type: 'document', issued: { 'date-parts': [[2001, 3]] } })
  expect(mended[0]).toContain('no type')
})

test.each<[string, string, string]>([
  ['Owls of the Lindmere valley', 'Owls of the {Lindmere} valley', 'en'],
  [
    'The calls of <i>Manduca sexta</i>: A study of T. rex',
    String.raw`The calls of \emph{{Manduca} sexta}: A study of {T}. rex`,
    'en',
  ],
  ['Nights of the Old Towns and Their Lamps', 'Nights of the Old Towns and Their Lamps', 'en'],
  ['CO2 in McKay’s barn, and mRNA', '{CO2} in {McKay}’s barn, and {mRNA}', 'en'],
  ['On C++ and vitamin D', 'On {C}++ and vitamin {D}', 'en'],
  ['Zur Kenntnis der Eulen', 'Zur {Kenntnis} der {Eulen}', 'de'],
])('a written title keeps its capitals from styles that lower them: %s', (title, written, language) => {
  const entry = writeBibtex({ id: 'x', type: 'book', title, language }, 'k')
  expect(entry).toContain(`title = {${written}},`)
  expect(one(entry).item.title).toBe(title)
})
