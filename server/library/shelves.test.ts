import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Item } from '../../core/bib/item'
import { answering } from '../connect/answering'
import { OutsideError } from '../connect/http'
import { askShelves, tryShelves, type Shelves } from './shelves'

/** A catalogue as libraries run them: it answers by what it is asked. */
let answer: (asked: URLSearchParams) => string | number
let seen: URLSearchParams[]
let c: Awaited<ReturnType<typeof answering>>
const DAY = '2026-10-05'
let n = 0

beforeAll(async () => {
  c = await answering((req, res) => {
    const asked = new URL(req.url!, 'http://shelf.example').searchParams
    seen.push(asked)
    const said = answer(asked)
    res.writeHead(typeof said === 'number' ? said : 200, { 'content-type': 'text/xml; charset=utf-8' })
    res.end(typeof said === 'number' ? 'away' : said)
  })
})
afterAll(() => c.close())

/** A library whose shelves are asked for the first time. */
const fresh = (named: string[] = []): Shelves => {
  seen = []
  return { id: '7.shelf', name: 'The shelf catalogue of Quay Library', address: `http://shelf.example/${++n}`, named }
}

const book: Item = {
  ...{ id: '1', type: 'book', title: 'Lamps of the lower town', ISBN: '9789900019961' },
  author: [{ family: 'Bergoja', given: 'Ilse' }],
  issued: { 'date-parts': [[2009]] },
}
const explain = (indexes: string[], schemas: [name: string, identifier: string][]): string =>
  `<explainResponse xmlns="http://www.loc.gov/zing/srw/"><record><recordData><explain xmlns="http://explain.z3950.org/dtd/2.0/"><databaseInfo><title>Quay</title></databaseInfo><indexInfo>${indexes
    .map(i => `<index><map><name set="bath">${i}</name></map></index>`)
    .join('')}</indexInfo><schemaInfo>${schemas
    .map(([name, id]) => `<schema name="${name}" identifier="${id}"/>`)
    .join('')}</schemaInfo></explain></recordData></record></explainResponse>`
const MARC: [string, string] = ['marcxml', 'info:srw/schema/1/marcxml-v1.1']
const found = (...records: string[]): string =>
  `<searchRetrieveResponse xmlns="http://www.loc.gov/zing/srw/"><version>1.2</version><numberOfRecords>${records.length}</numberOfRecords><records>${records
    .map(
      (r, i) =>
        `<record><recordSchema>x</recordSchema><recordPacking>xml</recordPacking><recordData>${r}</recordData><recordPosition>${i + 1}</recordPosition></record>`,
    )
    .join('')}</records></searchRetrieveResponse>`
const refused = (number: number, details: string): string =>
  `<searchRetrieveResponse xmlns="http://www.loc.gov/zing/srw/"><version>1.2</version><numberOfRecords>0</numberOfRecords><diagnostics><diagnostic xmlns="http://www.loc.gov/zing/srw/diagnostic/"><uri>info:srw/diagnostic/1/${number}</uri><details>${details}</details></diagnostic></diagnostics></searchRetrieveResponse>`
const sub = (code: string, value: string): string => `<subfield code="${code}">${value}</subfield>`
const field = (tag: string, inside: string, ind = '  '): string =>
  `<datafield tag="${tag}" ind1="${ind[0]}" ind2="${ind[1]}">${inside}</datafield>`
const marc = ({ title = 'Lamps of the lower town', year = 2009, edition = '', isbn = '', place = '' }): string =>
  `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000nam a2200000 i 4500</leader>${isbn && field('020', sub('a', isbn))}${field('100', sub('a', 'Bergoja, Ilse'), '1 ')}${field('245', sub('a', title), '10')}${edition && field('250', sub('a', edition))}${field('264', sub('c', String(year)), ' 1')}${place && field('852', sub('b', place) + sub('h', 'B 12'))}</record>`
const isoOf = (branch: string, state: number): string =>
  `<holdings xmlns="info:ofi/fmt:xml:xsd:iso20775"><holding><physicalLocation>${branch}</physicalLocation><holdingSimple><copyInformation><shelfLocator>B 12</shelfLocator><availabilityInformation><status><availabilityStatus>${state}</availabilityStatus></status></availabilityInformation></copyInformation></holdingSimple></holding></holdings>`

test('a catalogue of records: by its number, and where that is not known there by title and author', async () => {
  const library = fresh()
  answer = asked =>
    asked.get('operation') === 'explain'
      ? explain(['isbn', 'title', 'author'], [MARC])
      : asked.get('query')!.includes('isbn')
        ? found()
        : found(marc({ title: 'Lamps of the upper town', place: 'Annex' }), marc({ place: 'Hill Branch' }))
  expect(await askShelves(c, library, book, DAY)).toEqual({
    day: DAY,
    holdings: [{ branch: 'Hill Branch', call: 'B 12', copies: 1 }],
    known: true,
  })
  expect(seen.map(a => a.get('query')).filter(Boolean)).toEqual([
    'bath.isbn = 9789900019961',
    expect.stringMatching(/^bath\.title all "Lamps of the lower town" and bath\.author = Bergoja$/),
  ])
})

test('holdings of ISO 20775 are asked beside the records, and those of the right record count', async () => {
  answer = asked =>
    asked.get('operation') === 'explain'
      ? explain(['title'], [MARC, ['isohold', 'info:ofi/fmt:xml:xsd:iso20775']])
      : asked.get('recordSchema') === 'isohold'
        ? found(isoOf('Annex', 1), isoOf('Hill Branch', 2))
        : found(marc({ title: 'Lamps of the upper town' }), marc({}))
  const { holdings } = (await askShelves(c, fresh(), book, DAY))!
  expect(holdings).toEqual([{ branch: 'Hill Branch', call: 'B 12', copies: 1, free: 0 }])
})

test('where it does not give them after all, its records speak', async () => {
  answer = asked =>
    asked.get('operation') === 'explain'
      ? explain(['title'], [MARC, ['isohold', 'info:ofi/fmt:xml:xsd:iso20775']])
      : asked.get('recordSchema') === 'isohold'
        ? refused(67, 'isohold')
        : found(marc({ place: 'Hill Branch' }))
  const library = fresh()
  const refusals = () => seen.filter(a => a.get('recordSchema') === 'isohold').length
  expect((await askShelves(c, library, book, DAY))!.holdings).toMatchObject([{ branch: 'Hill Branch' }])
  expect(refusals()).toBe(1)
  // nor are they asked for again with the next work
  await askShelves(c, library, book, DAY)
  expect(refusals()).toBe(1)
})

test('records with holdings (OPAC) are asked for where they are offered', async () => {
  const opac = `<opacRecord><bibliographicRecord>${marc({ isbn: '9789900019961' })}</bibliographicRecord><holdings><holding><localLocation>Market Square</localLocation><callNumber>NW 12/3</callNumber><circulations><circulation><availableNow value="1"/></circulation></circulations></holding></holdings></opacRecord>`
  answer = asked =>
    asked.get('operation') === 'explain'
      ? explain(['isbn', 'title'], [MARC, ['opac', 'info:srw/schema/1/opac-v1.0']])
      : found(opac)
  expect((await askShelves(c, fresh(), book, DAY))!.holdings).toEqual([
    { branch: 'Market Square', call: 'NW 12/3', copies: 1, free: 1 },
  ])
  expect(seen.at(-1)!.get('recordSchema')).toBe('opac')
})

test('what is refused by number is asked by title; another edition is told as one', async () => {
  answer = asked =>
    asked.get('operation') === 'explain'
      ? '<nothing/>'
      : asked.get('query')!.includes('isbn')
        ? refused(16, 'isbn')
        : found(marc({ year: 2016, edition: '2nd ed.', place: 'Hill Branch' }))
  const { holdings, others } = (await askShelves(c, fresh(), book, DAY))!
  expect([holdings, others]).toEqual([[], [expect.stringMatching(/2.*2016/)]])
})

test('one that is away, or refuses everything, is told as such: it has not said no', async () => {
  answer = () => 503
  await expect(askShelves(c, fresh(), book, DAY)).rejects.toThrow(OutsideError)
  answer = asked => (asked.get('operation') === 'explain' ? explain(['title'], [MARC]) : refused(2, ''))
  await expect(askShelves(c, fresh(), book, DAY)).rejects.toThrow(OutsideError)
})

test('what stands on no shelf is not asked for', async () => {
  answer = () => 503
  expect(await askShelves(c, fresh(), { ...book, type: 'webpage' }, DAY)).toBeUndefined()
  expect(seen).toEqual([])
})

test('trying it says in which form it tells its shelves, and of how many records', async () => {
  answer = asked =>
    asked.get('operation') === 'explain'
      ? explain(['title'], [MARC])
      : found(marc({ place: 'Hill Branch' }), marc({ title: 'A city of lamps' }))
  expect(await tryShelves(c, fresh())).toEqual({
    holds: true,
    short: '1 of the first 2 on “city”.',
    said: 'It tells its shelves by its records: 1 of 2 of the first on “city” say where they stand.',
  })
  answer = asked => (asked.get('operation') === 'explain' ? explain(['title'], [MARC]) : found(marc({})))
  expect((await tryShelves(c, fresh())).holds).toBe(false)
})
