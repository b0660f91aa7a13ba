import { describe, expect, test } from '@jest/globals'
import { addressesOf, byTemplate, libraryShape, onCampus } from './library'

const gate = {
  ...{ template: 'http://gate.l.example/open{?url}', signIn: 'http://login.l.example/in', suffix: 'gate.l.example' },
}
const wrong = (given: object): string[] => {
  try {
    libraryShape.validateSync(given, { abortEarly: false })
    return []
  } catch (e) {
    return (e as { inner: { path: string }[] }).inner.map(x => x.path).toSorted()
  }
}

describe('the file of a library', () => {
  test('needs a name and nothing more', () => {
    expect(libraryShape.validateSync({ name: 'A' })).toMatchObject({ name: 'A', holdings: [], campus: [], place: '' })
    expect(libraryShape.validateSync({ name: 'A' }).gate).toBeUndefined()
    expect(wrong({})).toEqual(['name'])
  })
  test('names files by their addresses alone, or with what they are called', () => {
    const { holdings } = libraryShape.validateSync({
      name: 'A',
      holdings: ['http://l.example/a.tsv', { name: 'Books', address: 'brought:1' }],
    })
    expect(holdings).toEqual([
      { name: '', address: 'http://l.example/a.tsv' },
      { name: 'Books', address: 'brought:1' },
    ])
    expect(wrong({ name: 'A', holdings: ['ftp://l.example/a.tsv', 7] })).toEqual(['holdings[0].address', 'holdings[1]'])
  })
  test.each<[string, object, string[]]>([
    ['a whole one', gate, []],
    ['with its dots and a simple template', { ...gate, template: 'http://gate.l.example/login?url={url}' }, []],
    ['that names no place for the address', { ...gate, template: 'http://gate.l.example/open' }, ['gate.template']],
    ['whose template is broken', { ...gate, template: '{' }, ['gate.template']],
    ['whose host is not written out', { ...gate, template: 'http://{host}/{url}' }, ['gate.template']],
    ['whose cookie would go to a whole country', { ...gate, suffix: 'example' }, ['gate.suffix']],
    ['whose cookie would go to others', { ...gate, suffix: 'other.example' }, ['gate']],
    ['whose cookie would go to a neighbour by name', { ...gate, suffix: 'e.l.example' }, ['gate']],
    ['without a host behind that of pages', { ...gate, suffix: '' }, ['gate.suffix']],
    ['with pages of its own, that needs no more than its template', { manner: 'window', template: gate.template }, []],
    ['of no known manner', { ...gate, manner: 'by bird' }, ['gate.manner']],
  ])('a gate %s', (_, given, want) => {
    expect(wrong({ name: 'A', gate: given })).toEqual(want)
  })
  test('has catalogues, each with an id of its own that is not too long, and one way to be asked', () => {
    const x = { id: 'shelf', name: 'Shelf', sru: 'http://s.example/sru', schema: 'dc' }
    expect(wrong({ name: 'A', catalogues: [x, { ...x, id: 'other' }] })).toEqual([])
    expect(wrong({ name: 'A', catalogues: [x, x] })).toEqual(['catalogues'])
    expect(wrong({ name: 'A', catalogues: [{ ...x, id: 'x'.repeat(25) }] })).toEqual(['catalogues[0].id'])
    expect(wrong({ name: 'A', catalogues: [{ ...x, oai: 'http://s.example/oai' }] })).toEqual(['catalogues[0]'])
    expect(wrong({ name: 'A', catalogues: [{ ...x, sru: 'file:///etc/passwd' }] })).toEqual(['catalogues[0]'])
    expect(wrong({ name: 'A', catalogues: [{ ...x, schema: 'own' }] })).toEqual(['catalogues[0].schema'])
  })
  test('tells the addresses that are asked from here', () => {
    const library = libraryShape.validateSync({
      ...{ name: 'A', gate, resolver: 'http://r.example/' },
      holdings: ['http://l.example/a.tsv', 'brought:1'],
    })
    expect(addressesOf(library)).toEqual([
      'http://l.example/a.tsv',
      'http://gate.l.example/open',
      'http://login.l.example/in',
      'http://r.example/',
    ])
  })
})

test('an address is led through a gate whole', () => {
  const url = 'http://a.example/b?c=d&e=ö'
  expect(new URL(byTemplate(gate.template, url)).searchParams.get('url')).toBe(url)
})

test.each([
  ['192.0.2.9', true],
  ['::ffff:192.0.2.9', true],
  ['192.0.3.9', false],
  ['2001:db8::7', true],
  ['2001:db9::7', false],
  ['somewhere', false],
])('a machine at %s is on its network: %s', (from, want) => {
  expect(onCampus({ campus: ['192.0.2.0/24', '2001:db8::/32'] }, from)).toBe(want)
})
test('without networks nobody is on them', () => expect(onCampus({ campus: [] }, '192.0.2.9')).toBe(false))

describe('a loan office', () => {
  const office = {
    address: 'http://loans.l.example/',
    symbol: 'ISIL:XX-1',
    ours: 'ISIL:XX-2',
    scan: { low: 2, high: 7 },
  }
  const of = (more: object) => libraryShape.validateSync({ name: 'A', office: { ...office, ...more } }).office
  const wrong = (more: object) => {
    try {
      libraryShape.validateSync({ name: 'A', office: { ...office, ...more } }, { abortEarly: false })
      return []
    } catch (e) {
      return (e as { inner: { path: string }[] }).inner.map(x => x.path)
    }
  }
  test('is taken with what it leaves unsaid; what it does not send has no pace', () => {
    expect(of({})).toMatchObject({ keepsScan: 14, keepsBook: 7, weekend: [6, 7], closed: [], terms: '' })
    expect(of({})).not.toHaveProperty('book')
    expect(libraryShape.validateSync({ name: 'A' })).not.toHaveProperty('office')
  })
  test.each([
    [{ address: 'loans' }, 'office.address'],
    [{ symbol: 'XX-1' }, 'office.symbol'],
    [{ scan: { low: 7, high: 2 } }, 'office.scan.high'],
    [{ scan: { low: 0, high: 2 } }, 'office.scan.low'],
    [{ weekend: [8] }, 'office.weekend[0]'],
    [{ closed: ['Christmas'] }, 'office.closed[0]'],
    [{ closed: ['2026-02-30'] }, 'office.closed[0]'],
  ])('%j is said at its place', (more, path) => expect(wrong(more)).toEqual([path]))
  test.each([
    [{ manner: 'form', address: 'http://l.example/request' }, []],
    [{ manner: 'form' }, ['address']],
    [{ manner: 'mail', mail: 'loans@l.example' }, []],
    [{ manner: 'mail', mail: 'loans' }, ['mail']],
    [{ manner: 'mail' }, ['mail']],
    [{ manner: 'pigeons' }, ['manner']],
    [{}, ['address', 'symbol', 'ours']],
  ])('%j wants what its manner needs, and no more', (office, missing) => {
    const read = () => libraryShape.validateSync({ name: 'A', office }, { abortEarly: false })
    if (!missing.length) return expect(read().office).toMatchObject(office)
    const paths = missing.map(m => expect.objectContaining({ path: `office.${m}` }))
    expect(read).toThrow(expect.objectContaining({ inner: expect.arrayContaining(paths) }))
  })
  test('is asked from here', () => {
    const library = libraryShape.validateSync({ name: 'A', office })
    expect(addressesOf(library)).toEqual(['http://loans.l.example/'])
  })
})

test('a branch has one calendar of each kind, however its name is written', () => {
  const closed = 'http://l.example/closed.ics'
  const read = (...branches: string[]) =>
    libraryShape.validateSync({ name: 'A', hours: branches.map(branch => ({ branch, closed })) })
  expect(read('', 'Harbour Annex').hours).toHaveLength(2)
  expect(() => read('Harbour Annex', 'harbour annex')).toThrow('Two calendars are of one branch.')
})
