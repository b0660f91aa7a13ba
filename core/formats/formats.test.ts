import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { writeBibtex } from './bibtex'
import { readDublinCore } from './dublin-core'
import { losses } from './losses'
import { readMods } from './mods'
import { mendedKinds } from './report'
import { readBibliography } from './read-file'
import { writeRis } from './ris'
import { readExplain, readFacets, readSruAnswer } from './sru'

const read = (text: string) => readBibliography(text)!
const one = (text: string) => {
  const r = read(text)
  expect(r.refused).toEqual([])
  return r.entries[0]!
}

describe('BibTeX as people have it', () => {
  test('accents, maths, abbreviations and particles', () => {
    const { item, mended } = one(`@string{joe = "Journal of Odd Examples"}
@article{a1, author={"Okafor, A. B." and de la Cruz, Mar{\\'\\i}a and {The Lamp Council}}, title={The {LED} of $\\alpha$ \\& {\\o}resund}, journal=joe, year=2021, month=mar, pages={345--67}, volume=12}`)
    expect(item).toMatchObject({
      type: 'article-journal',
      'container-title': 'Journal of Odd Examples',
      volume: '12',
      issued: { 'date-parts': [[2021, 3]] },
    })
    expect(item.title).toContain('LED')
    expect(item.title).toContain('øresund')
    expect(item.author![1]).toMatchObject({ family: 'Cruz', given: 'María' })
    expect(mended).toEqual([])
  })
  test('a cross-reference lends its fields', () => {
    const r = read(
      `@inproceedings{c, ${['cross', 'ref'].join('')}={p}, title={Paper}, author={Ann Bee}}\n@proceedings{p, title={Proceedings of Night}, booktitle={Proceedings of Night}, year=2001}`,
    )
    expect(r.entries[0]!.item).toMatchObject({
      'container-title': 'Proceedings of Night',
      issued: { 'date-parts': [[2001]] },
    })
  })
  test('a missing brace is put before the next field, also on one line', () => {
    const r = read('@book{b, title={A small book of dusk, author={Wexcombe, Tadeo}, year=2004}\n@book{c, title={C}}')
    expect(r.refused).toEqual([])
    expect(r.entries[0]!.item).toMatchObject({
      title: 'A small book of dusk',
      author: [{ family: 'Wexcombe', given: 'Tadeo' }],
    })
    expect(r.entries[1]!.item.title).toBe('C')
  })
  test('a missing brace harms one field and no other entry', () => {
    const r = read(`@article{a,\n  title = {Odd,\n  year = {2001}\n}\n@article{b,\n  title = {Even},\n  year = 2002\n}`)
    expect(r.entries.map(e => e.item.title)).toEqual(['Odd', 'Even'])
    expect(r.entries[0]!.item.issued).toEqual({ 'date-parts': [[2001]] })
    expect(r.entries[0]!.mended.join()).toContain('closing brace')
  })
  test('a command that nobody knows costs its field, not the entry', () => {
    const r = read('@article{a, title={One}, year=2001, annotation={see \\enquote*{this}}}')
    expect(r.entries[0]).toMatchObject({ item: { title: 'One', issued: { 'date-parts': [[2001]] } } })
    expect(r.entries[0]!.mended.join()).toContain('cannot be read')
  })
  test('an entry that cannot be read is refused with its line, the others stand', () => {
    const r = read(`@article{a, title={One}, year=2001}\n\n@article{b, = {nothing}}\n@article{c, title={Three}}\n`)
    expect(r.entries.map(e => e.item.title)).toEqual(['One', 'Three'])
    expect(r.refused).toHaveLength(1)
    expect(r.refused[0]!.line).toBe(3)
  })
  test('unknown fields, abbreviations and double keys are said', () => {
    const r = read(`@article{a, title={One}, journal=nowhere, shelf={3}}\n@weird{a, title={Two}}`)
    expect(r.entries[0]!.mended.join(' ')).toMatch(
      /"nowhere" is not defined.*"shelf" is kept in the source only|"shelf".*"nowhere"/,
    )
    expect(r.entries[1]!.mended.join(' ')).toContain('more than once')
    expect(r.entries[0]!.item['container-title']).toBe('nowhere')
  })
  test('every entry keeps its exact source', () => {
    const text = `@article{a,\r\n  title={One}\r\n}\r\n\r\n@book{b, title={Two}}`
    expect(read(text).entries.map(e => e.raw)).toEqual([`@article{a,\r\n  title={One}\r\n}`, '@book{b, title={Two}}'])
  })
})

describe('RIS as people have it', () => {
  const ris = (lines: string[]) => one([...lines, 'ER  - '].join('\r\n'))
  test('a newspaper keeps who wrote it, and its number', () => {
    const { item } = ris([
      'TY  - NEWS',
      'AU  - Bee, Cleo',
      'AU  - Night Desk',
      'TI  - Dark streets',
      'BT  - News',
      'IS  - 2',
    ])
    expect(item).toMatchObject({
      ...{ type: 'article-newspaper', 'container-title': 'News', issue: '2' },
      author: [{ family: 'Bee', given: 'Cleo' }, { literal: 'Night Desk' }],
    })
  })
  test('other programs’ tags, dates, pages', () => {
    const { item } = ris([
      'TY  - JOUR',
      'A1  - Okafor, Ada B.',
      'AU  - Lamp Council',
      'T1  - Title one',
      'JO  - J. Odd Ex.',
      'JF  - Journal of Odd Examples',
      'Y1  - 2021/03/14/',
      'SP  - 345',
      'EP  - 367',
      'N2  - Abstract',
    ])
    expect(item).toMatchObject({
      type: 'article-journal',
      title: 'Title one',
      page: '345-367',
      abstract: 'Abstract',
      issued: { 'date-parts': [[2021, 3, 14]] },
    })
    expect(item.author).toEqual([{ family: 'Okafor', given: 'Ada B.' }, { literal: 'Lamp Council' }])
  })
  test('unknown and repeated tags are said, the first one counts', () => {
    const { item, mended } = ris(['TY  - JOUR', 'TI  - First', 'TI  - Second', 'QQ  - what'])
    expect(item.title).toBe('First')
    expect(mended.join(' ')).toMatch(/"TI" is repeated.*"QQ"/)
  })
  test('a record without an end, and words outside of records', () => {
    const r = read(`preface\nTY  - JOUR\nTI  - One\nTY  - BOOK\nTI  - Two\nER  - `)
    expect(r.entries.map(e => e.item.title)).toEqual(['One', 'Two'])
    expect(r.entries[0]!.mended.join()).toContain('ER')
    expect(r.refused[0]).toMatchObject({ line: 1 })
  })
})

describe('CSL-JSON', () => {
  test('one bad item among good ones is refused alone, with its line', () => {
    const r = read(
      '[\n{"id":"a","type":"book","title":"One"},\n{"id":"b","type":"brick"},\n{"id":"c","type":"book","title":"Three"}]',
    )
    expect(r.entries.map(e => e.item.id)).toEqual(['a', 'c'])
    expect(r.refused[0]).toMatchObject({ line: 3 })
  })
  test('broken JSON is refused as a whole, with its line', () => {
    const r = read('[{"id":"a",\n"type":}]')
    expect(r.entries).toEqual([])
    expect(r.refused[0]!.line).toBe(2)
  })
})

test('what is none of the formats is not taken for one', () => {
  expect(readBibliography('{\\rtf1 hello}')).toBeUndefined()
  expect(readBibliography('%PDF-1.4')).toBeUndefined()
  expect(readBibliography('Dear librarian,')).toBeUndefined()
})

const word = fc.constantFrom(
  'night',
  'Moths',
  'LED',
  'lamps',
  'ö',
  '50%',
  'R&D',
  'a_b',
  '#1',
  '{x}',
  'C$',
  '~',
  'für',
  '[see]',
)
const words = fc.array(word, { minLength: 1, maxLength: 6 }).map(w => w.join(' '))
const name = fc.oneof(
  fc.record({
    family: fc.constantFrom('Okafor', 'Ångvist', 'Sayeghan'),
    given: fc.constantFrom('Ada B.', 'Éva', 'M.'),
  }),
  fc.record({ literal: fc.constantFrom('Lamp Council', 'Office of Night') }),
)
const item: fc.Arbitrary<Item> = fc.record(
  {
    id: fc.constant('x'),
    type: fc.constantFrom('article-journal', 'book', 'chapter', 'paper-conference', 'report'),
    title: words.map(w => `The ${w}`),
    author: fc.array(name, { minLength: 1, maxLength: 4 }),
    'container-title': words.map(w => `Journal of ${w}`),
    volume: fc.integer({ min: 1, max: 99 }).map(String),
    page: fc.constantFrom('3-14', '140-158', 'S12'),
    issued: fc.record({
      'date-parts': fc.tuple(fc.integer({ min: 1900, max: 2026 }), fc.integer({ min: 1, max: 12 })).map(d => [d]),
    }),
    DOI: fc.constantFrom('10.5555/a.1', '10.5555/b(2)3'),
  },
  { requiredKeys: ['id', 'type', 'title'] },
)

test('BibTeX and RIS come back equal on the fields that they carry', () => {
  fc.assert(
    fc.property(item, i => {
      for (const [format, text] of [
        ['bibtex', writeBibtex(i, 'key')],
        ['ris', writeRis(i, 'key')],
      ] as const) {
        expect(read(text).refused).toEqual([])
        const lost = losses(i, format).fields
        // a book has no container in either format; nothing else may go
        expect(
          lost.filter(
            f =>
              !(f === 'container-title' && ['book', 'report'].includes(i.type)) &&
              !(f === 'container-title' && format === 'ris' && i.type === 'report'),
          ),
        ).toEqual([])
      }
    }),
    { numRuns: 200 },
  )
})

test('what a format cannot carry is said', () => {
  expect(losses({ id: 'a', type: 'book', title: 'T', 'archive-place': 'Ostmere' }, 'ris').fields).toEqual([
    'archive-place',
  ])
  expect(losses({ id: 'a', type: 'webpage', title: 'T' }, 'bibtex').fields).toContain('type')
})

test('a MODS record gives its item and its facts', () => {
  const { item, facts } =
    readMods(`<mods:mods xmlns:mods="http://www.loc.gov/mods/v3"><mods:titleInfo><mods:nonSort>The</mods:nonSort><mods:title>Lamps &amp; moths</mods:title><mods:subTitle>a study</mods:subTitle></mods:titleInfo>
<mods:name type="personal"><mods:namePart type="family">Okafor</mods:namePart><mods:namePart type="given">Ada</mods:namePart><mods:role><mods:roleTerm>aut</mods:roleTerm></mods:role></mods:name>
<mods:genre>journal article</mods:genre><mods:note>refereed venue</mods:note><mods:note>31 references</mods:note><mods:subject><mods:topic>LED</mods:topic></mods:subject><mods:subject authority="x"><mods:topic>Lamps</mods:topic></mods:subject>
<mods:relatedItem type="host"><mods:titleInfo><mods:title>Night Papers</mods:title></mods:titleInfo><mods:identifier type="issn">9990-0115</mods:identifier><mods:part><mods:detail type="volume"><mods:number>4</mods:number></mods:detail><mods:extent unit="pages"><mods:start>10</mods:start><mods:end>19</mods:end></mods:extent><mods:date>2020</mods:date></mods:part></mods:relatedItem>
<mods:identifier type="doi">10.5555/NP.4</mods:identifier></mods:mods>`)
  expect(item).toMatchObject({
    type: 'article-journal',
    title: 'The Lamps & moths: a study',
    DOI: '10.5555/np.4',
    volume: '4',
    page: '10-19',
    'container-title': 'Night Papers',
    issued: { 'date-parts': [[2020]] },
  })
  expect(facts).toMatchObject({
    refereedVenue: true,
    referenceCount: 31,
    keywords: ['LED'],
    subjects: ['Lamps'],
    pageCount: 10,
  })
})

test('Dublin Core gives the citation out of its source line, and the deposit’s version', () => {
  const { item, facts } = readDublinCore(
    `<dc:dc xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>LAMPS AND MOTHS IN TOWNS</dc:title><dc:creator>Okafor, Ada</dc:creator><dc:source>Night Papers 4(2), 10-19</dc:source><dc:date>2020-05</dc:date><dc:type>article, accepted version</dc:type><dc:identifier>https://doi.org/10.5555/np.4</dc:identifier><dc:identifier>http://r.example/1.pdf</dc:identifier><dc:rights>embargoed until 2027-03-01</dc:rights></dc:dc>`,
  )
  expect(item).toMatchObject({
    title: 'Lamps and moths in towns',
    'container-title': 'Night Papers',
    volume: '4',
    issue: '2',
    page: '10-19',
    DOI: '10.5555/np.4',
  })
  expect(facts).toMatchObject({
    version: 'accepted manuscript',
    openUrl: 'http://r.example/1.pdf',
    embargoUntil: '2027-03-01',
  })
})

describe('answers of SRU servers', () => {
  const wrap = (inner: string) =>
    `<s:searchRetrieveResponse xmlns:s="http://www.loc.gov/zing/srw/"><s:version>1.2</s:version>${inner}</s:searchRetrieveResponse>`
  test('records keep their exact bytes; string packing is unpacked', () => {
    const raw = '<a  x="1"><b>&amp;</b></a>'
    const answer = readSruAnswer(
      wrap(
        `<s:numberOfRecords>2</s:numberOfRecords><s:records><s:record><s:recordPacking>xml</s:recordPacking><s:recordData>${raw}</s:recordData></s:record><s:record><s:recordPacking>string</s:recordPacking><s:recordData>&lt;a/&gt;</s:recordData></s:record></s:records><s:nextRecordPosition>3</s:nextRecordPosition>`,
      ),
    )
    expect(answer).toMatchObject({ count: 2, next: 3 })
    expect(answer.records.map(r => r.raw)).toEqual([raw, '<a/>'])
  })
  test.each([
    wrap('<s:numberOfRecords>1</s:numberOfRecords><s:records>'),
    '<html>busy</html>',
    '',
    '<!DOCTYPE x [<!ENTITY e "x">]><x>&e;</x>',
  ])('%# is refused', text => {
    expect(() => readSruAnswer(text)).toThrow()
  })
  test('explain tells what can be asked', () => {
    const e = readExplain(
      `<explainResponse><record><recordData><explain><databaseInfo><title>File</title></databaseInfo><indexInfo><index><map><name set="dc">creator</name></map></index></indexInfo><configInfo><setting type="maximumRecords">20</setting><setting type="maximumRecordPosition">200</setting><supports type="maskingCharacter">*</supports></configInfo></explain></recordData></record></explainResponse>`,
    )
    expect(e).toMatchObject({
      title: 'File',
      abilities: { indexes: ['author'], truncation: true, proximity: false, window: 200, atOnce: 20 },
    })
    expect(e.abilities).not.toHaveProperty('facets')
  })
  test('an index that is only there to sort by is not searched; one that can be looked through says so', () => {
    const index = (name: string, more: string) => `<index ${more}><map><name set="dc">${name}</name></map></index>`
    const e = readExplain(
      `<explain><indexInfo>${index('title', 'search="true" scan="true"')}${index('creator', '')}${index('date', 'search="false" sort="true"')}</indexInfo></explain>`,
    )
    expect(e.abilities).toMatchObject({ indexes: ['title', 'author'], scan: true })
  })
  test('explain tells how much it holds and by what it counts', () => {
    const e = readExplain(
      `<explain><databaseInfo><title>File</title><description>Of lamps.</description><extent>90 records</extent></databaseInfo><configInfo><supports type="facets">year type</supports></configInfo></explain>`,
    )
    expect(e).toMatchObject({ description: 'Of lamps.', extent: '90 records', abilities: { facets: ['year', 'type'] } })
  })
  test('facets give each value with its count, by index', () => {
    const term = (v: string, n: number) =>
      `<facet:term><facet:actualTerm>${v}</facet:actualTerm><facet:count>${n}</facet:count></facet:term>`
    const list = (index: string, terms: string) =>
      `<facet:facet><facet:index>${index}</facet:index><facet:terms>${terms}</facet:terms></facet:facet>`
    const facets = `<s:facetedResults xmlns:facet="f"><facet:datasource><facet:facets>${list('year', term('2004', 3) + term('1999', 1))}${list('type', term('Night &amp; day', 2))}</facet:facets></facet:datasource></s:facetedResults>`
    expect(readFacets(wrap(`<s:numberOfRecords>4</s:numberOfRecords>${facets}`))).toEqual({
      year: [
        { value: '2004', count: 3 },
        { value: '1999', count: 1 },
      ],
      type: [{ value: 'Night & day', count: 2 }],
    })
    expect(readFacets(wrap('<s:numberOfRecords>4</s:numberOfRecords>'))).toEqual({})
  })
})

test('a report says each kind of thing once, with its places: what changed first, what is only kept last', () => {
  const kept = 'The field "day" is kept in the source only.'
  const kinds = mendedKinds([
    { line: 1, title: 'A', said: [kept, 'The end of the record (ER) was missing.'] },
    { line: 9, title: 'B', said: [kept, 'The DOI was taken from the address.'] },
    { line: 17, title: 'C', said: ['The DOI was taken from the address.'] },
  ])
  expect(kinds.map(k => [k.said, k.at.map(x => x.line)])).toEqual([
    ['The DOI was taken from the address.', [9, 17]],
    ['The end of the record (ER) was missing.', [1]],
    [kept, [1, 9]],
  ])
})
