import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { readAnswer } from './answer'
import { asksFor, needsKey, readConnector, type Call, type Connector } from './description'
import { FIRST, requestFor, type Place } from './request'

const connector = (call: object, more: object = {}): Connector =>
  readConnector({ id: 'odd', name: 'Odd Register', calls: { search: call }, ...more })
const plain = {
  address: 'http://odd.example/works{?title,limit,offset}',
  records: '$.list[*]',
  fields: { title: '$.t' },
}
const callOf = (more: object = {}): Call => connector({ ...plain, ...more }).calls.search!
const read = (call: Call, answer: unknown, place: Place = FIRST, link?: string) =>
  readAnswer(call, JSON.stringify(answer), link, place, 'http://odd.example/works?page=1')

describe('a description', () => {
  test.each([
    [{ ...plain, records: 'list[*]' }, /no JSONPath/],
    [{ ...plain, fields: { title: '$.t[' } }, /no JSONPath/],
    [{ ...plain, fields: { headline: '$.t' } }, /headline/],
    [{ ...plain, address: '{host}/works' }, /no address template/],
    [{ ...plain, address: 'http://odd.{host}/works' }, /no address template/],
    [{ ...plain, address: 'ftp://odd.example/works' }, /no address template/],
    [{ ...plain, paging: { by: 'luck', size: 10 } }, /one of/],
  ])('that is wrong is refused with what is wrong of it (%#)', (call, said) => {
    expect(() => connector(call)).toThrow(said)
  })
  test('tells what it asks for and whether it needs a key', () => {
    const c = connector({ ...plain, body: { q: ['{author}'] } })
    expect(['title', 'author', 'isbn'].map(n => asksFor(c, 'search', n))).toEqual([true, true, false])
    expect([needsKey(c), needsKey(connector(plain, { headers: [{ name: 'x', value: 'Bearer {key}' }] }))]).toEqual([
      false,
      true,
    ])
  })
})

describe('a request', () => {
  test('is filled in by the standard of templates, with what has no value left out', () => {
    const c = connector({ ...plain, paging: { by: 'offset', size: 20 } })
    expect(requestFor(c, c.calls.search!, { title: 'Lamps & owls' }).url).toBe(
      'http://odd.example/works?title=Lamps%20%26%20owls&limit=20&offset=0',
    )
    expect(requestFor(c, c.calls.search!, {}, { offset: 40, page: 3 }).url).toBe(
      'http://odd.example/works?limit=20&offset=40',
    )
  })
  test('a DOI of old goes into a path part by part', () => {
    const c = connector({ ...plain, address: 'http://odd.example{/doiParts*}' })
    const { url } = requestFor(c, c.calls.search!, { doi: '10.5555/(sici)1(2)<3::aid-a>4.0/co;2-#?' })
    expect(new URL(url).pathname.split('/').slice(1).map(decodeURIComponent).join('/')).toBe(
      '10.5555/(sici)1(2)<3::aid-a>4.0/co;2-#?',
    )
  })
  test('a body keeps its shape: numbers stay numbers, what is nothing is left out, nothing breaks out of it', () => {
    const body = {
      find: { words: '{title}', by: 'who:{author}' },
      page: '{page}',
      after: '{cursor}',
      of: ['{isbn}', 1],
    }
    const c = connector({ ...plain, method: 'POST', body, paging: { by: 'cursor', size: 5, next: '$.mark' } })
    const asked = requestFor(c, c.calls.search!, { title: 'A "quoted" {page}', author: 'Bee' })
    expect(asked).toMatchObject({ method: 'POST', headers: { 'content-type': 'application/json' } })
    expect(JSON.parse(asked.body!)).toEqual({ find: { words: 'A "quoted" {page}', by: 'who:Bee' }, page: 1, of: [1] })
  })
  test('whatever is asked for stays within its place in the address', () => {
    const c = connector(plain)
    fc.assert(
      fc.property(fc.string({ unit: 'grapheme' }), title => {
        const at = new URL(requestFor(c, c.calls.search!, { title }).url)
        expect([at.host, at.pathname, at.hash]).toEqual(['odd.example', '/works', ''])
        expect(at.searchParams.get('title') ?? '').toBe(title.toWellFormed())
      }),
    )
  })
})

describe('an answer', () => {
  test('is read by its paths, in the shapes that servers have', () => {
    const call = callOf({
      total: '$.meta.found',
      types: [{ said: 'paper', is: 'article-journal' }],
      fields: {
        title: '$.names.main',
        subtitle: '$.names.second',
        authors: { each: '$.people[?@.role=="author"]', family: '$.last', given: '$.first', name: '$.shown' },
        editors: { each: '$.edited_by[*]' },
        date: '$.when',
        type: '$.what',
        container: '$..journal.title',
        firstPage: '$.from',
        lastPage: '$.to',
        doi: '$.ids[?@.kind=="doi"].is',
        citedBy: '$.cited',
        openCopy: '$.copies[?@.open==true].at',
        subjects: '$.about[*]',
      },
    })
    const page = read(call, {
      meta: { found: '2' },
      list: [
        {
          names: { main: 'Lamps &amp; <i>Culex</i>', second: 'a count' },
          people: [
            { role: 'author', last: 'Sand', first: 'Ivo' },
            { role: 'author', shown: 'Bee, Cara' },
            { role: 'printer', last: 'Nobody' },
          ],
          edited_by: ['Okafor, Ada'],
          when: '2019-05',
          what: 'paper',
          in: { journal: { title: 'Night Letters' } },
          from: 3,
          to: '9',
          ids: [
            { kind: 'x', is: '1' },
            { kind: 'doi', is: '10.5555/NIGHT.9' },
          ],
          cited: 12,
          copies: [
            { open: false, at: 'http://a.example/' },
            { open: true, at: 'http://b.example/x.pdf' },
          ],
          about: ['Light', null, 'Insects'],
        },
        { what: 'paper' },
        'nothing',
      ],
    })
    expect(page.total).toBe(2)
    expect(page.records[0]).toMatchObject({
      item: {
        title: 'Lamps & <i>Culex</i>: a count',
        type: 'article-journal',
        author: [
          { family: 'Sand', given: 'Ivo' },
          { family: 'Bee', given: 'Cara' },
        ],
        editor: [{ family: 'Okafor', given: 'Ada' }],
        issued: { 'date-parts': [[2019, 5]] },
        'container-title': 'Night Letters',
        page: '3-9',
        DOI: '10.5555/night.9',
      },
      facts: { citedByCount: 12, openUrl: 'http://b.example/x.pdf', subjects: ['Light', 'Insects'] },
    })
    expect(page.unread.map(u => [u.position, u.why])).toEqual([
      [2, expect.stringMatching(/title/)],
      [3, 'It is no object.'],
    ])
  })
  test.each<[string, object, object, Place, string | undefined, Place | undefined]>([
    ['none where it has no pages', {}, { list: [{ t: 'a' }] }, FIRST, undefined, undefined],
    ['by what came, while pages are full', { paging: { by: 'offset', size: 1 } }, { list: [{ t: 'a' }] }, FIRST, undefined, { offset: 1, page: 2 }],
    ['by the total', { paging: { by: 'page', size: 50 }, total: '$.n' }, { n: 3, list: [{ t: 'a' }, { t: 'b' }] }, FIRST, undefined, { offset: 2, page: 2 }],
    ['none at the end', { paging: { by: 'offset', size: 2 }, total: '$.n' }, { n: 3, list: [{ t: 'c' }] }, { offset: 2, page: 2 }, undefined, undefined],
    ['none after nothing, whatever is said', { paging: { by: 'offset', size: 2 }, total: '$.n' }, { n: 30, list: [] }, FIRST, undefined, undefined],
    ['by a told offset', { paging: { by: 'offset', size: 2, next: '$.next' } }, { next: 7, list: [{ t: 'a' }] }, FIRST, undefined, { offset: 7, page: 2 }],
    ['not back', { paging: { by: 'offset', size: 2, next: '$.next' } }, { next: 2, list: [{ t: 'a' }] }, { offset: 2, page: 2 }, undefined, undefined],
    ['by a cursor', { paging: { by: 'cursor', size: 2, next: '$.mark' } }, { mark: 'm2', list: [{ t: 'a' }] }, FIRST, undefined, { offset: 1, page: 2, cursor: 'm2' }],
    ['not by the same cursor', { paging: { by: 'cursor', size: 2, next: '$.mark' } }, { mark: 'm2', list: [{ t: 'a' }] }, { offset: 1, page: 2, cursor: 'm2' }, undefined, undefined],
    ['by a Link header', { paging: { by: 'link', size: 2 } }, { list: [{ t: 'a' }] }, FIRST, '</works?page=2>; rel="next", </works?page=9>; rel=last', { address: 'http://odd.example/works?page=2' }],
    ['none by a broken Link header', { paging: { by: 'link', size: 2 } }, { list: [{ t: 'a' }] }, FIRST, '<<;;', undefined],
    ['by an address in the answer', { paging: { by: 'link', size: 2, next: '$.links.next' } }, { links: { next: '?page=2' }, list: [{ t: 'a' }] }, FIRST, undefined, { address: 'http://odd.example/works?page=2' }],
    ['not to another server', { paging: { by: 'link', size: 2 } }, { list: [{ t: 'a' }] }, FIRST, '<http://elsewhere.example/works?page=2>; rel="next"', undefined],
    ['not to itself', { paging: { by: 'link', size: 2, next: '$.links.next' } }, { links: { next: 'http://odd.example/works?page=1' }, list: [{ t: 'a' }] }, FIRST, undefined, undefined],
  ])('has its next page %s', (_, more, answer, place, link, next) => {
    expect(read(callOf(more), answer, place, link).next).toEqual(next)
  }) // prettier-ignore
  test('of any JSON is read or refused by name, and its pages come to an end', () => {
    const by = fc.constantFrom('offset', 'page', 'cursor', 'link')
    fc.assert(
      fc.property(by, fc.jsonValue(), fc.jsonValue(), (kind, list, next) => {
        const call = callOf({ paging: { by: kind, size: 2, next: '$.next' }, total: '$.n' })
        const given = { list, next, n: next }
        const page = read(call, given)
        const all = Array.isArray(list) ? list.length : typeof list === 'object' && list ? Object.keys(list).length : 0
        expect(page.records.length + page.unread.length).toBe(all)
        // the same answer for ever leads on from one place at most
        if (page.next) expect(read(call, given, page.next).next).not.toEqual(page.next)
      }),
    )
  })
  test('that is no JSON, or nested without end, is said', () => {
    expect(() => readAnswer(callOf(), '<html>', undefined, FIRST, 'http://odd.example/')).toThrow(SyntaxError)
    expect(() =>
      readAnswer(callOf(), '['.repeat(60) + ']'.repeat(60), undefined, FIRST, 'http://odd.example/'),
    ).toThrow(RangeError)
  })
})
