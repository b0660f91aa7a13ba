import { describe, expect, test } from '@jest/globals'
import { readDublinCore } from './dublin-core'
import { readMods } from './mods'

const year = (...parts: number[]) => ({ 'date-parts': [parts] })
const mods = (inner: string) => readMods(`<mods xmlns="http://www.loc.gov/mods/v3">${inner}</mods>`)
const dc = (inner: string) =>
  readDublinCore(`<oai_dc:dc xmlns:oai_dc="x" xmlns:dc="y">${inner.replace(/<(\/?)(\w+)/g, '<$1dc:$2')}</oai_dc:dc>`)

describe('MODS as libraries fill it', () => {
  test('names in all parts, roles by code and by word, one of them not cited', () => {
    const { item } = mods(`<titleInfo type="alternative"><title>Other</title></titleInfo>
      <titleInfo usage="primary"><nonSort>L'</nonSort><title>éclairage</title><subTitle>une histoire</subTitle><partNumber>2</partNumber><partName>Les villes</partName></titleInfo>
      <name type="personal"><namePart>Lune, Mara</namePart><namePart type="date">1950-</namePart><role><roleTerm type="code" authority="marcrelator">aut</roleTerm></role></name>
      <name type="personal"><namePart type="family">Sand</namePart><namePart type="given">Ivo</namePart><namePart type="given">K.</namePart><namePart type="termsOfAddress">Jr.</namePart><role><roleTerm type="text">Herausgeber</roleTerm><roleTerm type="code">edt</roleTerm></role></name>
      <name type="corporate"><namePart>Ostmere</namePart><namePart>Office of Lamps</namePart></name>
      <name type="personal"><namePart>Bee, Cleo</namePart><role><roleTerm type="code">ths</roleTerm></role></name>
      <name type="personal"><namePart>Okafor, Ada</namePart><role><roleTerm type="code">trl</roleTerm></role></name>
      <typeOfResource>text</typeOfResource><genre authority="marcgt">book</genre>
      <originInfo><place><placeTerm type="code">xx</placeTerm><placeTerm type="text">Ostmere :</placeTerm></place><publisher>Moorgrave,</publisher><dateIssued>[2014]</dateIssued><dateIssued encoding="marc" keyDate="yes">2014</dateIssued><edition>2e éd.</edition><issuance>monographic</issuance></originInfo>
      <language><languageTerm type="code" authority="iso639-2b">fre</languageTerm></language>
      <physicalDescription><extent>xii, 274 p. ; 23 cm</extent></physicalDescription>
      <identifier type="isbn" invalid="yes">123</identifier><identifier type="isbn">9789900019961 (br.)</identifier>
      <relatedItem type="series"><titleInfo><title>Études de nuit</title><partNumber>vol. 4</partNumber></titleInfo></relatedItem>`)
    expect(item).toEqual({
      id: '',
      type: 'book',
      title: "L'éclairage: une histoire. 2, Les villes",
      author: [{ family: 'Lune', given: 'Mara' }, { literal: 'Ostmere. Office of Lamps' }],
      editor: [{ family: 'Sand', given: 'Ivo K.', suffix: 'Jr.' }],
      translator: [{ family: 'Okafor', given: 'Ada' }],
      'publisher-place': 'Ostmere',
      publisher: 'Moorgrave',
      issued: year(2014),
      edition: '2',
      language: 'fr',
      ISBN: '9789900019961',
      'collection-title': 'Études de nuit',
      'collection-number': '4',
    })
  })
  test.each([
    [
      '<part><detail type="volume"><caption>Vol. 12</caption></detail><detail type="number"><number>no. 3</number></detail><extent unit="pages"><list>pp. 45-67</list></extent><date>2019</date></part>',
    ],
    ['<part><text>Vol. 12, no. 3 (2019), p. 45-67</text></part>'],
    [
      '<part><detail><number>12(3)</number></detail><extent unit="page"><start>45</start><end>67</end></extent><date encoding="w3cdtf">2019</date></part>',
    ],
  ])('where an article stands: %s', part => {
    const { item, facts } = mods(
      `<titleInfo><title>X</title></titleInfo><relatedItem type="host"><titleInfo><title>Night papers</title></titleInfo><identifier type="issn">9990-0114</identifier>${part}</relatedItem>`,
    )
    expect(item).toMatchObject({ type: 'article-journal', volume: '12', issue: '3', page: '45-67', issued: year(2019) })
    expect(facts.pageCount).toBe(23)
  })
  test.each([
    ['<typeOfResource>cartographic</typeOfResource>', 'map'],
    ['<typeOfResource>moving image</typeOfResource>', 'motion_picture'],
    ['<typeOfResource>sound recording-nonmusical</typeOfResource>', 'song'],
    ['<typeOfResource>text</typeOfResource><genre>Hochschulschrift</genre>', 'thesis'],
    ['<genre>compte rendu</genre><relatedItem type="host"><titleInfo><title>Y</title></titleInfo></relatedItem>', 'review-book'],
    ['<typeOfResource>text</typeOfResource><originInfo><issuance>monographic</issuance></originInfo>', 'book'],
    ['<typeOfResource>text</typeOfResource><originInfo><issuance>continuing</issuance></originInfo>', 'periodical'],
    ['<genre authority="marcgt">technical report</genre>', 'report'],
    ['<relatedItem type="host"><titleInfo><title>Proceedings of the Meeting on Dusk</title></titleInfo></relatedItem>', 'paper-conference'],
    ['<relatedItem type="host"><titleInfo><title>Lamps</title></titleInfo><identifier type="isbn">9789900019961</identifier></relatedItem>', 'chapter'],
  ])('%s is a %s', (inner, type) => {
    expect(mods(`<titleInfo><title>X</title></titleInfo>${inner}`).item.type).toBe(type)
  }) // prettier-ignore
  test('a DOI by its address, without a type', () => {
    const { item } = mods(
      `<titleInfo><title>X</title></titleInfo><identifier type="uri">https://doi.org/10.5555/np.2019.45</identifier><location><url access="object in context">http://vault.example/1</url><url access="raw object">http://vault.example/1.pdf</url></location>`,
    )
    expect(item.DOI).toBe('10.5555/np.2019.45')
    expect(item.URL).toBe('http://vault.example/1')
  })
})

describe('Dublin Core as libraries fill it', () => {
  test('the punctuation of cataloguers', () => {
    const { item, facts } = dc(`<title>Lamps and their makers : a history / edited by Mara Lune</title>
      <creator>Lune, Mara, 1950-</creator><creator>Office of Lamps (Ostmere)</creator>
      <contributor>Sand, Ivo (Hrsg.)</contributor><contributor>Okafor, Ada, translator</contributor><contributor>Bee, Cleo [supervisor]</contributor>
      <publisher>Ostmere : Moorgrave Press, 2014</publisher><date>c2014.</date><language>ger</language>
      <format>xii, 274 p. ; 23 cm</format><identifier>ISBN 978-990-00-1996-1 (pbk.)</identifier><subject>Lamps -- History.</subject><subject>dusk; moths</subject><type>Text</type>`)
    expect(item).toEqual({
      id: '',
      type: 'book',
      title: 'Lamps and their makers: a history',
      author: [{ family: 'Lune', given: 'Mara' }, { literal: 'Office of Lamps' }],
      editor: [{ family: 'Sand', given: 'Ivo' }],
      translator: [{ family: 'Okafor', given: 'Ada' }],
      publisher: 'Moorgrave Press',
      'publisher-place': 'Ostmere',
      issued: year(2014),
      language: 'de',
      ISBN: '9789900019961',
    })
    expect(facts).toMatchObject({ pageCount: 274, keywords: ['Lamps -- History', 'dusk', 'moths'] })
  })
  test.each([
    ['<source>Night Papers; Vol 12, No 3 (2019); 45-67</source>'],
    ['<source>Night Papers, Jg. 12 (2019), H. 3, S. 45-67</source>'],
    ['<source>ISSN: 9990-0114</source><source>Night Papers 12(3), 45-67 (2019)</source>'],
    ['<relation>Night Papers. 2019;12(3):45-67.</relation>'],
    [
      '<identifier>Night Papers, vol. 12, no. 3, pp. 45–67, 2019</identifier><identifier>http://vault.example/12</identifier>',
    ],
  ])('a citation in one text: %s', inner => {
    const { item } = dc(`<title>X</title><type>article</type>${inner}`)
    expect(item).toMatchObject({
      type: 'article-journal',
      'container-title': 'Night Papers',
      volume: '12',
      issue: '3',
      page: '45-67',
    })
    expect(item.issued).toEqual(year(2019))
  })
  test('what a repository adds: version, dates of the deposit, closed until', () => {
    const { item, facts } =
      dc(`<title>X</title><date>2021-04-01T09:12:44Z</date><date>2019-03</date><date>info:eu-repo/date/embargoEnd/2027-01-31</date>
      <type>info:eu-repo/semantics/doctoralThesis</type><type>info:eu-repo/semantics/acceptedVersion</type><type>PeerReviewed</type><rights>embargoed until 2027-01-31</rights>`)
    expect(item).toMatchObject({ type: 'thesis', issued: year(2019, 3) })
    expect(facts).toMatchObject({ version: 'accepted manuscript', refereedVenue: true, embargoUntil: '2027-01-31' })
  })
})
