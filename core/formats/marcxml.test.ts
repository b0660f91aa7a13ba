import { describe, expect, test } from '@jest/globals'
import { readMarcXml } from './marcxml'

const field = (tag: string, subfields: Record<string, string>) =>
  `<datafield tag="${tag}" ind1=" " ind2=" ">${Object.entries(subfields)
    .map(([c, v]) => `<subfield code="${c}">${v}</subfield>`)
    .join('')}</datafield>`
const record = (fields: string, leader = '00000nam a2200000 i 4500') =>
  `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>${leader}</leader><controlfield tag="001">sh-1</controlfield>${fields}</record>`

describe('MARC 21 in XML', () => {
  test('a book: punctuation between parts is taken off, roles are told apart', () => {
    const { item, facts } = readMarcXml(
      record(
        field('020', { a: '978-990-00-1996-1' }) +
          field('100', { a: 'Okafor, Ada,', e: 'author' }) +
          field('245', { a: 'Night in six towns :', b: 'a natural history /' }) +
          field('250', { a: '2. edition' }) +
          field('264', { a: 'Ostmere :', b: 'Moorgrave Press,', c: '2014.' }) +
          field('300', { a: '212 pages' }) +
          field('650', { a: 'Moths.' }) +
          field('700', { a: 'Bee, Cleo', e: 'editor' }) +
          field('852', { b: 'Main Library', h: 'B 12.3 Oka', z: 'on loan until 2026-10-12' }),
      ),
    )
    expect(item).toMatchObject({
      id: 'sh-1',
      type: 'book',
      title: 'Night in six towns: a natural history',
      author: [{ family: 'Okafor', given: 'Ada' }],
      editor: [{ family: 'Bee', given: 'Cleo' }],
      edition: '2',
      publisher: 'Moorgrave Press',
      'publisher-place': 'Ostmere',
      issued: { 'date-parts': [[2014]] },
      ISBN: '9789900019961',
    })
    expect(facts).toMatchObject({
      pageCount: 212,
      shelf: [{ branch: 'Main Library', call: 'B 12.3 Oka', note: 'on loan until 2026-10-12' }],
    })
  })
  test('a chapter stands in its book, with its pages', () => {
    const { item } = readMarcXml(
      record(
        field('245', { a: 'On moths' }) +
          field('773', { t: 'Night in six towns', g: 'pages 12-30', z: '9789900019961' }),
      ),
    )
    expect(item).toMatchObject({ type: 'chapter', 'container-title': 'Night in six towns', page: '12-30' })
  })
  test('a thesis, a body as author, a journal with its runs', () => {
    expect(
      readMarcXml(
        record(
          field('245', { a: 'Lamps' }) + field('502', { a: 'Doctoral thesis', c: 'Halverane University', d: '2019' }),
        ),
      ).item,
    ).toMatchObject({
      type: 'thesis',
      genre: 'Doctoral thesis',
      publisher: 'Halverane University',
      issued: { 'date-parts': [[2019]] },
    })
    expect(
      readMarcXml(record(field('110', { a: 'Council of Ostmere' }) + field('245', { a: 'Report' }))).item.author,
    ).toEqual([{ literal: 'Council of Ostmere' }])
    const journal = readMarcXml(
      record(
        field('022', { a: '9990-0114' }) +
          field('245', { a: 'Night Papers' }) +
          field('866', { a: '1950-1999', z: 'lacks v.3' }),
        '00000nas a2200000 i 4500',
      ),
    )
    expect(journal.item).toMatchObject({ type: 'periodical', ISSN: '9990-0114' })
    expect(journal.facts.runs).toEqual(['1950-1999, lacks v.3'])
  })
  test('titles it is known by besides are kept, each once: of the cover, in another language', () => {
    const { facts } = readMarcXml(
      record(
        field('245', { a: 'Night papers :', b: 'of towns' }) +
          field('246', { a: 'Nachtpapiere', b: 'der Städte' }) +
          field('246', { a: 'Night papers: of towns.' }) +
          field('246', { a: 'Papers on nights' }),
      ),
    )
    expect(facts.otherTitles).toEqual(['Nachtpapiere: der Städte', 'Papers on nights'])
  })
  test('what is no MARC record is an error', () => {
    expect(() => readMarcXml('<html></html>')).toThrow('not MARC')
    expect(() => readMarcXml('<record><leader>')).toThrow()
  })
})
