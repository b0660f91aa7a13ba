import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import express from 'express'
import { readConnector } from '../../core/connectors/description'
import type { Answer } from '../../core/schema/api'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'

const [LUNE, OTHER] = ['9999-0001-2345-618X', '9999-0001-2345-6016']
/** Items as registrations of DOIs answer with them. */
const article = (name: string, title: string, by: [string, string, string?], more: object = {}) => ({
  ...{ type: 'article-journal', id: name, title, DOI: `10.5555/${name}`, 'container-title': 'Night Papers' },
  author: [{ given: by[0], family: by[1], ...(by[2] ? { nameId: `https://people.example/${by[2]}` } : {}) }],
  ...{ issued: { 'date-parts': [[2011]] }, ...more },
})
const GRANT = { name: 'Night Land Foundation', award: ['NLF-7/2'] }
const LAMPS = article('lamps', 'Lamps over a harbour', ['Mara', 'Lune', LUNE], {
  funder: [GRANT],
  relation: { 'is-supplemented-by': [{ 'id-type': 'doi', id: '10.5555/counts' }] },
})
const DATA = article('counts', 'Counts of moths at three lamps', ['Mara', 'Lune'], {
  ...{ type: 'dataset', publisher: 'Store of Tables', 'container-title': undefined },
  relation: { 'is-supplement-to': [{ 'id-type': 'doi', id: 'https://doi.example/10.5555/LAMPS' }] },
  license: [{ URL: 'https://creativecommons.org/licenses/by/4.0/' }],
})

/** An index of another shape than ours: pages by number, flat records, notes that say who paid. */
const record = (n: number, more: object = {}) => ({
  ...{ name: `A night of kind ${n}`, doi: `10.5555/night.${n}`, published: 2000 + (n % 20) },
  people: [{ last: 'Lune', first: 'M.', number: LUNE.replaceAll('-', '') }],
  ...more,
})
let answer: (path: string, page: number) => { list: object[]; all?: number; more?: number } | number
let asked: string[] = []
const outside = express()
outside.get('/f/*path', (req, res) => {
  asked.push(decodeURIComponent(req.url))
  const page = Number(req.query.page ?? 1)
  const told = answer(decodeURIComponent(req.path), page)
  if (typeof told === 'number') return void res.status(told).end()
  res.json({ result: { list: told.list, all: told.all ?? told.list.length, next: told.more ?? null } })
})
const fields = {
  ...{ title: '$.name', doi: '$.doi', date: '$.published', licence: '$.terms' },
  authors: { each: '$.people[*]', family: '$.last', given: '$.first', identifier: '$.number' },
  grants: { each: '$.thanks[*]' },
}
const call = (address: string) => ({
  ...{ address, records: '$.result.list[*]', total: '$.result.all', fields },
  paging: { by: 'page', size: 50, next: '$.result.next' },
})
const index = readConnector({
  ...{ id: 'other', name: 'Index of Quays', perSecond: 100 },
  calls: {
    byAuthor: call('http://lampyr.example/f/people/{authorId}{?page}'),
    byGrant: call('http://lampyr.example/f/money{?grant,funder,page}'),
    data: call('http://lampyr.example/f/tables/{doi}{?page}'),
  },
})

let desk: Desk
let id: number
let at: string
const get = <T>(path: string) => desk.get(at + path) as Promise<T>
const works = async () =>
  new Map((await get<{ id: number; title: string }[]>('/works')).map(w => [w.title.split(' ')[0]!, w.id]))
const beside = (work: number) => get<Answer<'beside'>>(`/works/${work}/beside`)
const grant = (query: string) => get<Answer<'grantWorks'>>(`/grant?${query}`)
const author = (work: number) => get<Answer<'author'>>(`/author?family=Lune&given=Mara&work=${work}`)
const follow = async (body: object) =>
  desk.finish(id, ((await desk.post(`${at}/follow`, body, 202)) as { job: number }).job)

beforeAll(async () => {
  desk = await openDesk('follow', outside)
  desk.context.settings.outside.connectors.splice(0, Infinity, index)
})
afterAll(() => desk.close())
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  asked = []
  answer = () => 404
})

test('data behind a work: as its record says, then as they themselves and others say; by licence and address', async () => {
  await bringItems(desk, id, [LAMPS])
  const lamps = (await works()).get('Lamps')!
  const before = await beside(lamps)
  expect(before.data).toEqual([expect.objectContaining({ work: null, doi: '10.5555/counts', says: 'record' })])
  expect(before.asked).toEqual({ of: 'Index of Quays', subject: '10.5555/lamps', last: null })

  answer = () => ({ list: [record(1, { doi: '10.5555/counts', terms: 'For study alone' }), record(2)] })
  expect(await follow({ what: 'data', work: lamps })).toMatchObject({ state: 'done', result: { total: 2, got: 2 } })
  expect(asked).toEqual(['/f/tables/10.5555/lamps?page=1'])
  const then = await beside(lamps)
  expect(then.data.map(d => [d.doi, d.says, d.work, d.licence])).toEqual([
    ['10.5555/counts', 'index', null, 'For study alone'],
    ['10.5555/night.2', 'index', null, null],
  ])
  expect(then.asked.last).toMatchObject({ source: 'Index of Quays', total: 2, got: 2, trouble: null })

  await bringItems(desk, id, [DATA])
  const counts = (await works()).get('Counts')!
  const [first] = (await beside(lamps)).data
  expect(first).toMatchObject({ work: counts, node: null, says: 'data', licence: 'CC BY 4.0' })
  expect((await beside(counts)).dataOf).toEqual([{ work: lamps, title: 'Lamps over a harbour', doi: '10.5555/lamps' }])
})

test('works of a grant: named alike in any source, found by asking, none of another funder', async () => {
  await bringItems(desk, id, [
    LAMPS,
    article('owls', 'Owls of an unlit lane', ['Odo', 'Vale'], { funder: [{ name: 'NLF', award: ['nlf 7-2'] }] }),
    article('rain', 'Rain on the quay', ['Ida', 'Sand'], { funder: [{ name: 'Bread Trust', award: ['NLF-7/2'] }] }),
  ])
  const known = await works()
  expect((await beside(known.get('Lamps')!)).grants).toEqual([{ number: 'NLF-7/2', funder: 'Night Land Foundation' }])
  const query = 'number=NLF-7%2F2&funder=Night+Land+Foundation'
  const ids = async () => (await grant(query)).works.map(w => w.work ?? w.pointer?.title)
  expect(await ids()).toEqual([known.get('Lamps'), known.get('Owls')])

  answer = (_, page) => ({
    ...{ all: 3, list: page === 1 ? [record(3), record(4)] : [record(5, { thanks: ['Bread Trust, NLF-7/2'] })] },
    ...(page === 1 ? { more: 2 } : {}),
  })
  await follow({ what: 'grant', number: 'NLF-7/2', funder: 'Night Land Foundation' })
  expect(asked[0]).toBe('/f/money?grant=NLF-7/2&funder=Night Land Foundation&page=1')
  // the third says itself that another paid
  expect(await ids()).toEqual([known.get('Lamps'), known.get('Owls'), 'A night of kind 4', 'A night of kind 3'])
  // what is brought is a work from then on, and still of the grant
  const node = (await grant(query)).works[2]!.pointer!.node
  await desk.post(`${at}/pointers`, { nodes: [node] })
  const brought = (await works()).get('A')!
  expect(await ids()).toContain(brought)
  expect(await ids()).not.toContain('A night of kind 4')
})

test('an author by identifier: works under another name, none of a namesake, and more by asking', async () => {
  await bringItems(desk, id, [
    LAMPS,
    article('quill', 'Moths of a lit garden', ['Mara', 'Quill', LUNE], { issued: { 'date-parts': [[2019]] } }),
    article('other', 'Bread of the harbour', ['Mara', 'Lune', OTHER]),
  ])
  const known = await works()
  const told = async () =>
    (await author(known.get('Lamps')!)).persons.map(p => [
      p.id,
      p.withId,
      ...p.works.map(w => w.work ?? w.pointer!.title),
    ])
  expect(await told()).toEqual([
    [LUNE, 2, known.get('Moths'), known.get('Lamps')],
    [OTHER, 1, known.get('Bread')],
  ])
  answer = () => ({ list: [record(6), record(7, { people: [{ last: 'Lune', first: 'Mara' }] })] })
  await follow({ what: 'author', author: `https://people.example/${LUNE}` })
  expect(asked).toEqual([`/f/people/${LUNE}?page=1`])
  expect(await told()).toEqual([
    [LUNE, 4, known.get('Moths'), known.get('Lamps'), 'A night of kind 7', 'A night of kind 6'],
    [OTHER, 1, known.get('Bread')],
  ])
})

test('what is unknown, cut short or said twice is told; a server that fails takes nothing', async () => {
  await bringItems(desk, id, [LAMPS])
  const lamps = (await works()).get('Lamps')!
  await follow({ what: 'data', work: lamps })
  expect((await beside(lamps)).asked.last).toMatchObject({ total: 0, trouble: 'Index of Quays does not know it.' })
  answer = (_, page) => ({ list: [record(8)], all: 900, more: page + 1 })
  await follow({ what: 'data', work: lamps })
  expect((await beside(lamps)).asked.last).toMatchObject({
    total: 900,
    got: 1,
    trouble: expect.stringContaining('twice'),
  })
  answer = () => 503
  expect(await follow({ what: 'data', work: lamps })).toMatchObject({ state: 'failed' })
  expect((await beside(lamps)).data.map(d => d.doi)).toContain('10.5555/night.8')
})

test.each([
  [{ what: 'author', author: '9999-0001-2345-6181' }, 'not-an-identifier'],
  [{ what: 'author' }, 'not-an-identifier'],
  [{ what: 'grant', number: ' – ' }, 'no-number'],
])('%j is refused with what is wrong', async (body, type) => {
  expect(await desk.post(`${at}/follow`, body, 422)).toMatchObject({ type: expect.stringContaining(type) })
})
test('data of a work without a DOI, and anything where nobody can be asked, are refused', async () => {
  await bringItems(desk, id, [{ ...LAMPS, DOI: undefined }])
  const work = (await works()).get('Lamps')!
  expect(await desk.post(`${at}/follow`, { what: 'data', work }, 422)).toMatchObject({
    type: expect.stringContaining('no-doi'),
  })
  expect(await desk.post(`${at}/follow`, { what: 'data', work: 4_000_000 }, 404)).toBeDefined()
  desk.context.settings.outside.connectors.splice(0)
  expect((await beside(work)).asked.of).toBe('')
  expect(await desk.post(`${at}/follow`, { what: 'grant', number: '7' }, 422)).toMatchObject({
    type: expect.stringContaining('no-index'),
  })
  desk.context.settings.outside.connectors.push(index)
})
