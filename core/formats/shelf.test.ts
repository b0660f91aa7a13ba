import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { loanEnd } from './marc-shelf'
import { readMarcXml } from './marcxml'
import { readShelfHoldings } from './shelf'
import { escapeXml } from './xml'

const field = (tag: string, ...subs: [string, string][]): string =>
  `<datafield tag="${tag}" ind1=" " ind2=" ">${subs.map(([c, v]) => `<subfield code="${c}">${escapeXml(v)}</subfield>`).join('')}</datafield>`
const marc = (...fields: string[]): string =>
  `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000nam a2200000 i 4500</leader>${field('245', ['a', 'Moths'])}${fields.join('')}</record>`

describe('fields of MARC 21', () => {
  test('place, shelf and number of each', () => {
    expect(
      readShelfHoldings(
        marc(
          field('852', ['b', 'Hill Branch'], ['c', 'Floor 2'], ['h', 'B 12'], ['i', '.W49']),
          field('852', ['a', 'XX-HAL'], ['c', 'Store'], ['j', 'S 4']),
        ),
      ),
    ).toEqual([
      { branch: 'Hill Branch', room: 'Floor 2', call: 'B 12 .W49', copies: 1 },
      { of: 'XX-HAL', branch: 'Store', call: 'S 4', copies: 1 },
    ])
  })

  test('a note of a loan says that it is out, and until when', () => {
    const [one] = readShelfHoldings(marc(field('852', ['b', 'Hill'], ['h', 'B 1'], ['z', 'on loan until 2026-10-12'])))
    expect(one).toMatchObject({ free: 0, back: '2026-10-12' })
  })

  test('items belong to the place that they are linked to; copies in one place are counted', () => {
    const two = readShelfHoldings(
      marc(
        field('852', ['8', '1'], ['b', 'Hill'], ['h', 'B 1']),
        field('852', ['8', '2'], ['b', 'Quay'], ['h', 'B 1']),
        field('876', ['8', '1.1'], ['j', 'Available'], ['t', '1']),
        field('876', ['8', '1.2'], ['j', 'Due 14 October 2026'], ['t', '2']),
        field('876', ['8', '2.1'], ['j', 'Checked out']),
        field('876', ['8', '2.2'], ['j', 'being looked at by the keeper']),
      ),
    )
    expect(two).toEqual([
      { branch: 'Hill', call: 'B 1', copies: 2, free: 1, back: '2026-10-14' },
      { branch: 'Quay', call: 'B 1', copies: 2, free: 0, note: 'being looked at by the keeper' },
    ])
  })

  test.each([
    ['Available', 1],
    ['Not charged', 1],
    ['in', 1],
    ['In transit', 0],
    ['Not available', 0],
    ['Missing', 0],
    ['ausgeliehen', 0],
    ['disponible', 1],
    ['indisponible', 0],
    ['in process', undefined],
    ['emprunté', 0],
    ['Prêté jusqu’au 3 novembre 2026', 0],
    ['not to be lent', undefined],
    ['Library use only, available', 1],
    ['rented out of lostness', undefined],
  ])('the status “%s”', (status, free) => {
    const [one] = readShelfHoldings(marc(field('852', ['b', 'Hill'], ['h', 'B 1']), field('876', ['j', status])))
    expect(one!.free).toBe(free)
  })

  test('runs of a journal stand in their place, in their own words', () => {
    const said = readShelfHoldings(
      marc(
        field('852', ['b', 'Hill'], ['h', 'P 3']),
        field('866', ['a', 'v.1(1989)-v.24(2012)'], ['z', 'lacks v.3']),
        field('866', ['a', '1989-1994'], ['z', 'microfilm']),
      ),
    )
    expect(said).toMatchObject([
      { branch: 'Hill', call: 'P 3', run: 'v.1(1989)-v.24(2012)', note: 'lacks v.3' },
      { run: '1989-1994', note: 'microfilm' },
    ])
  })

  test('a record of holdings that follows that of the book', () => {
    const holdings = `<record><leader>00000nx  a2200000   4500</leader>${field('852', ['b', 'Quay'], ['h', 'B 1'])}</record>`
    const both = `<collection>${marc()}${holdings}</collection>`
    expect(readShelfHoldings(both)).toEqual([{ branch: 'Quay', call: 'B 1', copies: 1 }])
    expect(readMarcXml(both).item.title).toBe('Moths')
  })

  test('a record without a place says nothing', () => expect(readShelfHoldings(marc())).toEqual([]))
})

describe('the OPAC syntax in XML', () => {
  const opac = (holdings: string): string =>
    `<opacRecord>\n  <bibliographicRecord>\n${marc()}\n  </bibliographicRecord>\n<holdings>\n${holdings}</holdings>\n</opacRecord>`
  const one = ` <holding>
  <typeOfRecord>u</typeOfRecord>
  <encodingLevel>u</encodingLevel>
  <receiptAcqStatus>0</receiptAcqStatus>
  <dateOfReport>000000</dateOfReport>
  <nucCode>s-HL/GC</nucCode>
  <localLocation>Main or Quay reading rooms</localLocation>
  <callNumber>MLCM 89/00602 (N)</callNumber>
  <shelvingData>STORE</shelvingData>
  <copyNumber>Copy 1</copyNumber>
  <circulations>
   <circulation>
    <availableNow value="1"/>
    <itemId>1226176</itemId>
    <renewable value="0"/>
    <onHold value="0"/>
   </circulation>
   <circulation>
    <availableNow value="0"/>
    <availabilityDate>20261019</availabilityDate>
    <onHold value="1"/>
   </circulation>
  </circulations>
 </holding>
`
  test('its copies are counted, with the day on which one is back', () => {
    expect(readShelfHoldings(opac(one))).toEqual([
      {
        ...{ of: 's-HL/GC', branch: 'Main or Quay reading rooms', call: 'MLCM 89/00602 (N)' },
        ...{ copies: 2, free: 1, back: '2026-10-19', waiting: 1 },
      },
    ])
  })

  test('its record is the one of MARC within', () => expect(readMarcXml(opac(one)).item.title).toBe('Moths'))
  test('no holdings are none', () => expect(readShelfHoldings(opac(''))).toEqual([]))
})

describe('holdings of ISO 20775', () => {
  const holdings = (inside: string): string =>
    `<h:holdings xmlns:h="info:ofi/fmt:xml:xsd:iso20775"><h:holding><h:institutionIdentifier><h:value>XX-HAL</h:value></h:institutionIdentifier><h:physicalLocation>Hill Branch</h:physicalLocation>${inside}</h:holding></h:holdings>`
  const copy = (status: string, more = ''): string =>
    `<h:copyInformation><h:sublocation>Floor 3</h:sublocation><h:shelfLocator>B 12</h:shelfLocator>${more}<h:availabilityInformation><h:status>${status}</h:status></h:availabilityInformation></h:copyInformation>`

  test('each copy with its state', () => {
    const said = readShelfHoldings(
      holdings(
        `<h:holdingSimple>${copy('<h:availabilityStatus>1</h:availabilityStatus>')}${copy(
          '<h:availabilityStatus>2</h:availabilityStatus><h:dateTimeAvailable>2026-10-21T18:00:00</h:dateTimeAvailable>',
        )}</h:holdingSimple>`,
      ),
    )
    expect(said).toEqual([
      { of: 'XX-HAL', branch: 'Hill Branch', room: 'Floor 3', call: 'B 12', copies: 2, free: 1, back: '2026-10-21' },
    ])
  })

  test('one that is not known stays so, and one for the spot is not lent', () => {
    const [one] = readShelfHoldings(
      holdings(
        `<h:holdingSimple>${copy('<h:availabilityStatus>0</h:availabilityStatus><h:availableFor>5</h:availableFor>')}</h:holdingSimple>`,
      ),
    )
    expect(one).toEqual({
      ...{ of: 'XX-HAL', branch: 'Hill Branch', room: 'Floor 3' },
      ...{ call: 'B 12', copies: 1, stays: true },
    })
  })

  test('a summary without copies', () => {
    const summary =
      '<h:holdingSimple><h:copiesSummary><h:copiesCount>3</h:copiesCount><h:status><h:availableCount>0</h:availableCount><h:earliestDispatchDate>2026-11-02</h:earliestDispatchDate></h:status></h:copiesSummary></h:holdingSimple>'
    expect(readShelfHoldings(holdings(summary))).toEqual([
      { of: 'XX-HAL', branch: 'Hill Branch', call: '', copies: 3, free: 0, back: '2026-11-02' },
    ])
  })

  test('parts of a set', () => {
    const set = `<h:holdingStructured><h:set><h:component><h:enumerationAndChronology><h:text>v.2</h:text></h:enumerationAndChronology><h:shelfLocator>P 3</h:shelfLocator></h:component></h:set></h:holdingStructured>`
    expect(readShelfHoldings(holdings(set))).toEqual([
      { of: 'XX-HAL', branch: 'Hill Branch', call: 'P 3', run: 'v.2', copies: 1 },
    ])
  })
})

test('what is no XML is said to be none', () => expect(() => readShelfHoldings('Not found')).toThrow())

test('no more copies are free than there are, whatever is said of them', () => {
  const status = fc.constantFrom('Available', 'Checked out', 'due 3 November 2026', 'somewhere', 'library use only', '')
  fc.assert(
    fc.property(fc.array(fc.tuple(fc.constantFrom('Hill', 'Quay'), status), { maxLength: 12 }), list => {
      const places = ['Hill', 'Quay'].map((b, i) => field('852', ['8', String(i)], ['b', b], ['h', 'B 1']))
      const items = list.map(([b, s], i) => field('876', ['8', `${['Hill', 'Quay'].indexOf(b)}.${i}`], ['j', s]))
      const said = readShelfHoldings(marc(...places, ...items))
      for (const s of said) {
        expect(s.free ?? 0).toBeLessThanOrEqual(s.copies)
        const there = list.filter(([b]) => b === s.branch)
        expect(s.copies).toBe(Math.max(there.length, 1))
        expect(s.free ?? 0).toBe(there.filter(([, x]) => x === 'Available').length)
      }
    }),
  )
})

test.each([
  ['on loan until 2026-10-12', '2026-10-12'],
  ['ausgeliehen bis 14.10.2026', '2026-10-14'],
  ['prêté jusqu’au 03.11.2026', '2026-11-03'],
  ['library use only', undefined],
])('the end of a loan in “%s”', (note, day) => expect(loanEnd(note)).toBe(day))
