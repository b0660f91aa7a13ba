import { describe, expect, test } from '@jest/globals'
import { readCslJson } from './csl-json'
import { readDublinCore } from './dublin-core'
import { readMarcXml } from './marcxml'
import { readMods } from './mods'

const LUNE = '9999-0001-2345-618X'
const of = (name: object) => [{ name, id: LUNE }]

describe('what stands beside a citation', () => {
  test('in MODS: identifiers as elements or addresses, notes and bodies that paid, data as related items', () => {
    const { item, facts } =
      readMods(`<mods xmlns="http://www.loc.gov/mods/v3" xmlns:xlink="http://www.w3.org/1999/xlink">
      <titleInfo><title>Lamps</title></titleInfo>
      <name type="personal"><namePart type="family">Lune</namePart><namePart type="given">Mara</namePart>
        <nameIdentifier type="isni" typeURI="http://ids.example">https://ids.example/${LUNE}</nameIdentifier></name>
      <name type="personal" valueURI="http://viaf.example/9999000123456016"><namePart>Vale, Odo</namePart></name>
      <name type="corporate"><namePart>Bread Trust</namePart><role><roleTerm type="code">fnd</roleTerm></role></name>
      <note type="funding">Night Land Foundation, grant no. NLF-7/2</note>
      <relatedItem xlink:href="https://store.example/t"><titleInfo><title>Counts</title></titleInfo><genre>dataset</genre></relatedItem>
      <relatedItem type="isReferencedBy"><titleInfo><title>Another text</title></titleInfo><identifier type="doi">10.5555/x</identifier></relatedItem>
      <accessCondition type="restriction on access">Closed</accessCondition>
      <accessCondition type="use and reproduction" xlink:href="https://creativecommons.org/licenses/by/4.0/">CC BY</accessCondition>
    </mods>`)
    expect(item.author).toHaveLength(2)
    expect(facts).toMatchObject({
      authorIds: of({ family: 'Lune', given: 'Mara' }),
      grants: [{ number: 'NLF-7/2', funder: 'Night Land Foundation' }, { funder: 'Bread Trust' }],
      data: [{ address: 'https://store.example/t', title: 'Counts' }],
      licence: 'https://creativecommons.org/licenses/by/4.0/',
    })
  })
  test('in MARC: headings, the funding note with its numbers, data that were used or go with it, terms of use', () => {
    const field = (tag: string, subfields: Record<string, string>, indicators = '  ') =>
      `<datafield tag="${tag}" ind1="${indicators[0]}" ind2="${indicators[1]}">${Object.entries(subfields)
        .map(([code, v]) => `<subfield code="${code}">${v}</subfield>`)
        .join('')}</datafield>`
    const { facts } = readMarcXml(
      `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000naa a2200000 i 4500</leader>${[
        field('100', { a: 'Lune, Mara,', e: 'author.', 1: `https://ids.example/${LUNE}` }, '1 '),
        field('700', { a: 'Vale, Odo', 0: '(DE-588)9999000123456016' }, '1 '),
        field('245', { a: 'Lamps' }, '10'),
        field('536', { a: 'Night Land Foundation ;', c: 'NLF-7/2' }),
        field('536', { a: 'Supported by the Bread Trust' }),
        field('540', { a: 'For study.' }),
        field('786', { t: 'Counts', o: 'doi:10.5555/counts' }, '0 '),
        field('787', { i: 'Reviewed in:', t: 'A review', o: 'doi:10.5555/review' }, '08'),
        field('856', { 3: 'Data', u: 'https://store.example/t' }, '42'),
        field('856', { 3: 'Cover', u: 'https://store.example/c' }, '42'),
      ].join('')}</record>`,
    )
    expect(facts).toMatchObject({
      authorIds: of({ family: 'Lune', given: 'Mara' }),
      grants: [{ number: 'NLF-7/2', funder: 'Night Land Foundation' }, { said: 'Supported by the Bread Trust' }],
      data: [{ doi: '10.5555/counts', title: 'Counts' }, { address: 'https://store.example/t' }],
      licence: 'For study',
    })
  })
  test('in Dublin Core of repositories: by addresses of their own kinds', () => {
    const { facts } = readDublinCore(`<dc xmlns:dc="http://purl.org/dc/elements/1.1/"><dc:title>Lamps</dc:title>
      <dc:relation>info:eu-repo/grantAgreement/NLF/Night%20Land/7%2F2</dc:relation>
      <dc:relation>info:eu-repo/semantics/dataset/doi/10.5555/counts</dc:relation>
      <dc:relation>info:eu-repo/semantics/reference/doi/10.5555/other</dc:relation>
      <dc:rights>info:eu-repo/semantics/openAccess</dc:rights>
      <dc:rights>https://creativecommons.org/licenses/by/4.0/</dc:rights></dc>`)
    expect(facts).toMatchObject({
      grants: [{ number: '7/2', funder: 'NLF Night Land' }],
      data: [{ doi: '10.5555/counts' }],
      licence: 'https://creativecommons.org/licenses/by/4.0/',
    })
  })
  test('in the items of registrations: fields that no item of CSL has, whatever shape they have', () => {
    const read = (more: object) =>
      readCslJson(JSON.stringify({ id: 'a', type: 'article-journal', title: 'Lamps', ...more })).entries[0]!
    const { item, facts } = read({
      author: [
        { family: 'Lune', given: 'Mara', sequence: 'first', anId: `http://ids.example/${LUNE}` },
        { family: 'Vale', given: 'Odo' },
      ],
      funder: [
        { name: 'Night Land Foundation', DOI: '10.5555/f', award: ['NLF-7/2', 'NLF-8'] },
        { name: 'Bread Trust' },
      ],
      relation: { 'is-supplemented-by': [{ 'id-type': 'doi', id: '10.5555/COUNTS' }], cites: [] },
      license: [{ URL: 'https://creativecommons.org/licenses/by/4.0/', start: {} }],
    })
    expect(facts).toMatchObject({
      authorIds: of({ family: 'Lune', given: 'Mara' }),
      grants: [
        ...['NLF-7/2', 'NLF-8'].map(number => ({ number, funder: 'Night Land Foundation' })),
        { funder: 'Bread Trust' },
      ],
      data: [{ doi: '10.5555/counts' }],
      licence: 'https://creativecommons.org/licenses/by/4.0/',
    })
    // the item is what the standard allows
    expect(item.author).toEqual([
      { family: 'Lune', given: 'Mara' },
      { family: 'Vale', given: 'Odo' },
    ])
    expect(read({ funder: 'x', relation: [], license: 'y', author: 'Lune, Mara', copyright: 7 }).facts).toEqual({})
    expect(read({ relation: { 'is-supplement-to': { id: '10.5555/a' } } }).facts).toEqual({})
  })
})
