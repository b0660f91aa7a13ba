import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { readShelfHoldings } from '../formats/shelf'
import type { ShelfHolding } from '../formats/marc-shelf'
import { hoursAt } from './hours'
import { offersOf, type LoanKind, type Office } from './loan'
import {
  isSureToday,
  mayHelp,
  partnerRoutes,
  standingAt,
  suppliersTold,
  type PartnerAnswer,
  type PartnerDoes,
} from './partners'
import { reach } from './reach'
import { findRoutes, inOrder, suppliersOf, wayKey, withLoans, type Route } from './routes'

const day = '2026-10-05'
const home = { key: 'home', name: 'Home' }
const does = (name: string, more: Partial<PartnerDoes> = {}): PartnerDoes => ({
  ...{ name, place: `Town of ${name}`, visit: 'no', sends: ['scan', 'book'] },
  ...more,
})
const has = (partner: PartnerDoes, ...holdings: Partial<ShelfHolding>[]): PartnerAnswer => ({
  library: home,
  partner,
  shelves: { day, holdings: holdings.map(h => ({ branch: 'Tower', call: 'B 12', copies: 1, ...h })) },
})
const book: Item = { id: '1', type: 'book', title: 'Lamps of the lower town', issued: { 'date-parts': [[2009]] } }
const article: Item = {
  ...{ id: '2', type: 'article-journal', title: 'Moths at lamps', 'container-title': 'Night Papers', volume: '12' },
  ...{ page: '12-19', issued: { 'date-parts': [[1999]] } },
}
const ways = (item: Item, ...answers: PartnerAnswer[]) =>
  partnerRoutes(item, answers).routes.map(r => `${r.way} ${r.from}`)

describe('a catalogue of several libraries', () => {
  /** As a general toolkit for MARC writes it: places of three libraries, linked to their parts by number. */
  const union = `<record xmlns="http://www.loc.gov/MARC21/slim"><leader>00000nas a2200000 a 4500</leader>
    <datafield tag="852" ind1="0" ind2="1"><subfield code="8">1</subfield><subfield code="a">XX-KOR</subfield><subfield code="b">Main building</subfield><subfield code="c">Stacks</subfield><subfield code="h">QL 561</subfield></datafield>
    <datafield tag="852" ind1=" " ind2=" "><subfield code="8">2</subfield><subfield code="a">XX-MAR</subfield><subfield code="h">L 12</subfield></datafield>
    <datafield tag="852" ind1=" " ind2=" "><subfield code="8">3</subfield><subfield code="a">Tower Library</subfield><subfield code="b">XX-THO</subfield><subfield code="j">7/22</subfield></datafield>
    <datafield tag="866" ind1="4" ind2="1"><subfield code="8">2.1</subfield><subfield code="a">v.4 (1992)-</subfield></datafield>
    <datafield tag="876" ind1=" " ind2=" "><subfield code="8">3.1</subfield><subfield code="j">Checked out</subfield></datafield>
    </record>`
  test('tells by sign or by name what stands in one of them', () => {
    const all = readShelfHoldings(union)
    const at = (...named: string[]) => standingAt(all, named).map(h => `${h.branch}|${h.call}`)
    expect(at('XX-KOR')).toEqual(['Main building|QL 561'])
    expect(at('xx-mar')).toEqual(['|L 12'])
    expect(at('XX-THO')).toEqual(['|7/22'])
    expect(at('tower library')).toEqual(['XX-THO|7/22'])
    expect(at('XX-KOR', 'Tower Library')).toHaveLength(2)
    expect(at('XX-NONE')).toEqual([])
    expect(standingAt(all, [])).toEqual(all)
  })
  test('each thing stands with one library, however they are named', () => {
    const sign = fc.constantFrom('XX-A', 'XX-B', 'XX-C', undefined)
    fc.assert(
      fc.property(fc.array(fc.tuple(sign, fc.constantFrom('Hill', 'Quay', ''))), list => {
        const all = list.map(([of, branch], i) => ({ ...(of ? { of } : {}), branch, call: String(i), copies: 1 }))
        const parts = ['XX-A', 'XX-B', 'XX-C'].flatMap(s => standingAt(all, [s]))
        expect(parts.map(h => h.call).sort()).toEqual(
          all
            .filter(h => h.of)
            .map(h => h.call)
            .sort(),
        )
      }),
    )
  })
})

describe('ways by a partner', () => {
  test('it sends, or one goes there; a book that is out or stays there is not sent', () => {
    const lets = does('Korrin', { visit: 'borrow' })
    expect(ways(book, has(lets, {}))).toEqual(['shelf Korrin, Tower', 'loan Korrin'])
    expect(ways(book, has(does('Korrin'), {}))).toEqual(['loan Korrin'])
    expect(ways(book, has(lets, { free: 0 }))).toEqual(['shelf Korrin, Tower'])
    expect(ways(book, has(lets, { stays: true }))).toEqual(['shelf Korrin, Tower'])
    // of what stays there a scan can be made
    expect(ways(article, has(does('Korrin'), { run: '1990-', stays: true }))).toEqual(['loan Korrin'])
    expect(ways(article, has(does('Korrin', { sends: ['book'] }), { run: '1990-' }))).toEqual([])
    expect(mayHelp(does('Korrin', { sends: ['book'] }), article)).toBe(false)
    expect(mayHelp(does('Korrin', { sends: [], visit: 'read' }), article)).toBe(true)
  })
  test('one that only lets one read keeps its books, and what it asks names the town', () => {
    const { routes } = partnerRoutes(book, [has(does('Korrin', { visit: 'read', sends: [] }), { free: 1 })])
    expect(routes).toMatchObject([
      {
        ...{ asks: 'going to Town of Korrin, reading it there', partner: 'Korrin', library: home },
        ...{ evidence: 'At Korrin. It is in: Tower, B 12; asked on 5 October 2026.', shelf: { stays: true } },
      },
    ])
  })
  test('years that do not stand there are no way, and those without it are told in one sentence', () => {
    const { routes, closed } = partnerRoutes(article, [
      has(does('Korrin'), { run: '2001-' }),
      has(does('Marlund'), {}),
      has(does('Thornavon'), { run: '1990-2005' }),
      { ...has(does('Estermark')), shelves: { day, holdings: [] } },
    ])
    expect(routes.map(r => r.from)).toEqual(['Marlund', 'Thornavon'])
    expect(closed).toEqual(['Korrin and Estermark do not have it; asked on 5 October 2026.'])
  })
})

describe('partners among the ways', () => {
  const office: Office = {
    ...{ library: home, paces: { scan: { low: 2, high: 7 } }, days: { weekend: [6, 7], closed: [] } },
    seen: { scan: [], book: [] },
    partners: [
      { name: 'Korrin', paces: { scan: { low: 2, high: 5 } }, seen: { scan: [], book: [] } },
      {
        name: 'Marlund',
        paces: { scan: { low: 1, high: 3 }, book: { low: 2, high: 5 } },
        seen: { scan: [], book: [] },
      },
    ],
  }
  const offers = offersOf([office], day, '2026-10-12', 0.8)
  const found = (...answers: PartnerAnswer[]) =>
    findRoutes(
      article,
      {},
      {
        ...{ libraries: [], open: [], today: day, due: '2026-10-29' },
        resolver: 'http://doi.example/',
        partners: answers,
      },
    ).routes
  const run = { run: '1990-' }

  test('an office is one way: by the partner that is fastest, the others beside it', () => {
    const routes = withLoans(found(has(does('Korrin'), run), has(does('Marlund'), run)), article, offers)
    const loans = routes.filter(r => r.way === 'loan')
    expect(loans).toMatchObject([{ from: 'Marlund', partner: 'Marlund', library: home, loan: { kind: 'scan' } }])
    expect(loans[0]!.evidence).toMatch(
      /^Marlund has it\. Whether it is in is not said: Tower, B 12; 1990-; asked on 5 October 2026\. Korrin has it too\. Home gets a scan from there within 1 to 3 working days, as it says\.$/,
    )
    const told = suppliersTold(
      suppliersOf(found(has(does('Korrin'), run), has(does('Marlund'), run)), offers, 'home'),
      [{ name: 'Marlund', symbol: 'ISIL:XX-MAR' }],
    )
    expect(told.map(s => `${s.name} ${s.symbol} ${s.call}`)).toEqual(['Marlund ISIL:XX-MAR B 12', 'Korrin  B 12'])
  })
  test('nobody has it: the office asks elsewhere; without an office there is no such way', () => {
    expect(withLoans(found(), article, offers).filter(r => r.way === 'loan')).toMatchObject([{ from: 'Home' }])
    const held = found(has(does('Korrin'), run))
    expect(withLoans(held, article, []).filter(r => r.way === 'loan')).toEqual([])
    // an office that sends no books of its own gets one from a partner that has it
    const books = findRoutes(
      book,
      {},
      {
        ...{ libraries: [], open: [], today: day, due: '2026-10-29', resolver: 'http://doi.example/' },
        partners: [has(does('Marlund'), {})],
      },
    ).routes
    expect(withLoans(books, book, offers).filter(r => r.way === 'loan')).toMatchObject([{ from: 'Marlund' }])
    expect(withLoans([], book, offers).filter(r => r.way === 'loan')).toEqual([])
  })
  test('told anew each day, it is told once', () => {
    const held = found(has(does('Korrin', { visit: 'read' }), run))
    const once = withLoans(held, article, offers)
    const keys = once.map(wayKey)
    expect(new Set(keys).size).toBe(keys.length)
    expect(held.filter(r => r.way === 'loan').every(r => r.loan === undefined)).toBe(true)
  })
  test('a journey comes after what is sent in time for certain, and before what is not', () => {
    const at = (way: Route['way'], likely: number, more: Partial<Route> = {}): Route => ({
      ...{ way, version: 'version of record', from: way, evidence: '', expected: day, likely, asks: '' },
      ...more,
    })
    const visit = at('shelf', 0.95, { partner: 'Korrin' })
    const order = (...routes: Route[]) => inOrder(routes).map(r => (r.partner ? 'visit' : r.way))
    expect(order(visit, at('loan', 0.9))).toEqual(['loan', 'visit'])
    expect(order(at('loan', 0.6), visit)).toEqual(['visit', 'loan'])
    expect(order(visit, at('shelf', 0.95), at('open', 0.6))).toEqual(['shelf', 'open', 'visit'])
    expect(order(at('shelf', 0.6, { shelf: { branch: '', call: '', out: true } }), visit)).toEqual(['visit', 'shelf'])
  })
  test('what stands at a partner is within reach, and partners are asked for what is not sure at home', () => {
    const routes = found(has(does('Estermark', { visit: 'read', sends: [] }), run))
    expect(reach(article, { profiles: [], day, lookedUp: { proved: false, routes } }).reach).toBe('within reach')
    expect(isSureToday(routes, day)).toBe(true)
    expect(isSureToday(found(), day)).toBe(false)
    expect(isSureToday([{ ...routes[0]!, expected: '2026-10-06' }], day)).toBe(false)
    expect(isSureToday([{ ...routes[0]!, likely: 0.6 }], day)).toBe(false)
  })
  test('a partner opens by its own hours alone', () => {
    const all = [{ branch: '' }, { branch: 'Tower' }, { branch: 'Estermark' }]
    expect(hoursAt(all, { partner: 'Estermark', shelf: { branch: 'Tower' } })).toBe(all[2])
    expect(hoursAt(all, { partner: 'Korrin', shelf: { branch: 'Tower' } })).toBeUndefined()
    expect(hoursAt(all, { shelf: { branch: 'Tower' } })).toBe(all[1])
    expect(hoursAt(all, { shelf: { branch: 'Quay' } })).toBe(all[0])
  })
  test('how fast a partner was moves it alone', () => {
    const seen = (n: number): Record<LoanKind, number[]> => ({ scan: Array.from({ length: 6 }, () => n), book: [] })
    const [korrin, marlund] = office.partners
    const slow: Office = { ...office, partners: [{ ...korrin!, seen: seen(15) }, marlund!] }
    const of = (from: readonly Office[]) => offersOf(from, day, '2026-10-12', 0.8).filter(o => o.kind === 'scan')
    const [own, late, same] = of([slow])
    const [ownBefore, before, sameBefore] = of([office])
    expect(late!.likely).toBeLessThan(before!.likely)
    expect([own, same]).toEqual([ownBefore, sameBefore])
    expect(late!.evidence).toMatch(/as it says and by 6 that came\.$/)
  })
})
