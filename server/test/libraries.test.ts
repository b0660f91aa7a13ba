import { afterAll, beforeAll, expect, test } from '@jest/globals'
import express, { Router } from 'express'
import type { Agent } from 'supertest'
import { randomUUID } from 'node:crypto'
import type { Counts, Gate, InquiryInFull, Libraries, LibraryInFull, Obtainable, Sweep } from '../../core/schema/api'
import type { LibraryProfile } from '../../core/schema/library'
import { smallOutside, smallWorld } from './small-world'
import { TOWN_CARD } from '../../standins/gate'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'
import { runElsewhere, until } from './running'

const world = smallWorld()
/** Hosts that nobody named, as a student would write them into a profile. */
const strange = Router()
  .get('/profile.json', (_q, res) => void res.json({ name: 'Strange Library', lamps: 4 }))
  .get('/page', (_q, res) => void res.type('html').send('<html>Please sign in</html>'))
const heard: string[] = []
const outside = express()
  .use((req, res, next) => {
    const { host = '' } = req.headers
    heard.push(host)
    if (host.startsWith('library.strange.example')) return strange(req, res, next)
    next()
  })
  .use(smallOutside(world))

let desk: Desk
let id: number
let reader: Agent
let administrator: Agent
beforeAll(async () => {
  desk = await openDesk('libraries', outside)
  id = await newInquiry(desk)
  reader = await desk.signIn('reader@desk.example')
  await desk.context.db.users.update({ role: 'administrator' }, { where: { email: 'stranger@desk.example' } })
  administrator = await desk.signIn('stranger@desk.example')
})
afterAll(() => desk.close())

const all = async (): Promise<Libraries['libraries']> => ((await desk.get('/api/libraries')) as Libraries).libraries
const one = async (key: string) => (await desk.get(`/api/libraries/${key}`)) as LibraryInFull
const add = async (body: object) => (await desk.post('/api/libraries', body)) as { key: string; left: string[] }
const drop = (key: string) => desk.owner.delete(`/api/libraries/${key}`).expect(204)
const read = (key: string) =>
  until(async () => {
    const { holdings } = await one(key)
    return !holdings.fetching && holdings.files.every(f => f.isRead)
  })
const TOWN = 'http://library.ostermoor.example/profile.json'
const fetched = async (works: number[]) => {
  const { job } = (await desk.post(`/api/inquiries/${id}/retrievals`, { works }, 202)) as { job: number }
  const { result } = await desk.finish(id, job)
  return (result as { works: { work: number; state: string; said?: string }[] }).works
}

test('without a choice the libraries of the settings are asked, and everybody reads their profile', async () => {
  expect(await all()).toMatchObject([{ key: 'home', name: 'Halverane Library', chosen: 1, isSet: true, isOwn: false }])
  const { profile, mayChange, waits } = await one('home')
  expect(profile.gate).toMatchObject({ manner: 'form', suffix: 'gate.halverane.example' })
  expect([mayChange, waits]).toEqual([false, []])
  const { body } = await desk.owner.get('/api/libraries/home/profile.json').expect(200)
  expect(body).toMatchObject({ name: 'Halverane Library', resolver: 'http://resolver.halverane.example/openurl' })
  expect(body).not.toHaveProperty('key')
})

test('a directory is searched by name or town, whatever the case; entries that cannot be read are counted', async () => {
  const find = (words: string) => desk.post('/api/libraries/found', { words }, 200)
  expect(await find('OSTERMOOR town')).toEqual({
    libraries: [{ name: 'Ostermoor Town Library', place: 'Ostermoor', address: TOWN }],
    of: 1,
    unread: 1,
  })
  expect(((await find('')) as { of: number }).of).toBe(5)
  expect(((await find('nowhere at all')) as { of: number }).of).toBe(0)
  // whoever types asks it once
  expect(heard.filter(h => h === 'directory.example')).toHaveLength(1)
})

test('a second library is chosen from the directory, its files are read, and its texts come through its own gate', async () => {
  const { key, left } = await add({ address: TOWN })
  expect(left).toEqual([])
  await read(key)
  expect(await all()).toMatchObject([
    { key: 'home', chosen: 1 },
    { key, name: 'Ostermoor Town Library', chosen: 2, isOwn: true, cameFrom: TOWN, troubles: [] },
  ])
  // what only the town library pays for
  const titles = (await one(key)).holdings.files[0]!.report!.titles
  expect(titles).toBeGreaterThan(0)
  const { kbart } = world
  const home = [...kbart.values()].join('\n')
  const candidates = world.works.filter(w => w.venue && w.host && w.year > 1996 && w.date <= world.day && w.item.DOI)
  const lines = await Promise.all(
    [...new Set(candidates.map(w => w.venue!))]
      .map(v => world.venues.get(v)!)
      .filter(v => !home.includes(v.issnPrint) && !home.includes(v.issnOnline) && !v.openFrom)
      .map(async v => ({
        v,
        said: ((await desk.get(`/api/libraries/${key}/title?number=${v.issnPrint}&year=2020`)) as { said: string[] })
          .said,
      })),
  )
  const held = lines.filter(l => /^Held/.test(l.said[0]!)).map(l => l.v.code)
  expect(held.length).toBeGreaterThan(0)
  const wanted = candidates.filter(w => held.includes(w.venue!)).slice(0, 6)
  await bringItems(
    desk,
    id,
    wanted.map(w => w.item),
  )
  const pool = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number }[]
  const decisions = pool.map(w => ({ id: randomUUID(), work: w.id, choice: 'keep', pass: 'title' }))
  await desk.post(`/api/inquiries/${id}/decisions`, { group: randomUUID(), decisions })
  const { job } = (await desk.post(`/api/inquiries/${id}/routes`, {}, 202)) as { job: number }
  await desk.finish(id, job)
  const ways = (await desk.get(`/api/inquiries/${id}/routes`)) as Obtainable[]
  const gated = ways.flatMap(w => w.routes!.filter(r => r.way === 'gate'))
  expect(new Set(gated.map(r => r.library!.name))).toEqual(new Set(['Ostermoor Town Library']))
  // its address leads through its own gate
  const first = ways.find(w => w.routes![0]!.way === 'gate')!
  expect(first.addresses[0]).toMatch(/^http:\/\/pass\.ostermoor\.example\/open\?url=/)
  const works = ways.filter(w => w.routes!.some(r => r.way === 'gate')).map(w => w.id)
  expect((await fetched(works))[0]).toMatchObject({
    state: 'gate needed',
    said: expect.stringContaining('Ostermoor Town Library'),
  })
  const gates = (await desk.get(`/api/inquiries/${id}/gates`)) as Gate[]
  expect(gates.map(g => [g.library, g.until])).toEqual([
    ['home', null],
    [key, null],
  ])
  await desk.post(`/api/inquiries/${id}/gates/${key}`, { card: TOWN_CARD.reader, password: 'wrong' }, 422)
  const given = { card: TOWN_CARD.reader, password: TOWN_CARD.pin }
  const opened = (await desk.post(`/api/inquiries/${id}/gates/${key}`, given)) as Gate[]
  expect(opened.map(g => g.until !== null)).toEqual([false, true])
  const came = await fetched(works)
  expect(came.filter(w => w.state === 'proved').length).toBeGreaterThan(0)
  expect(came.some(w => w.state === 'gate needed')).toBe(false)
  const counted = (await desk.get(`/api/inquiries/${id}/gates`)) as Gate[]
  expect(counted.map(g => g.today > 0)).toEqual([false, true])

  // a gate that is not what it was gets no cookie of before
  const { profile, version } = await one(key)
  const now = { ...profile, note: 'Changed.' }
  await desk.owner.put(`/api/libraries/${key}`).set('If-Match', `"${version}"`).send(now).expect(200)
  expect(((await desk.get(`/api/inquiries/${id}/gates`)) as Gate[])[1]!.until).toBeNull()

  // a library that is not asked any more offers nothing, and its ways are looked for anew
  await desk.owner
    .put('/api/libraries')
    .send({ libraries: ['home'] })
    .expect(200)
  await until(async () => {
    const later = (await desk.get(`/api/inquiries/${id}/routes`)) as Obtainable[]
    return later.every(w => w.routes!.every(r => r.library?.key !== key))
  })
  expect(await all()).toMatchObject([
    { key: 'home', chosen: 1 },
    { key, chosen: null },
  ])
  await drop(key)
})

test('the catalogue of a library is searched for its inquiries, and what came by it keeps its name', async () => {
  const { key } = await add({ address: TOWN })
  const inquiry = await newInquiry(desk)
  const at = `/api/inquiries/${inquiry}`
  const own = `${key}.town`
  const names = async () => ((await desk.get(at)) as InquiryInFull).catalogues.map(x => x.name)
  expect(await names()).toContain('Ostermoor Town Catalogue')
  // nobody else's inquiries ask it
  const { body: made } = await reader.post('/api/inquiries').send({ question: 'What else?', zone: 'UTC', style: 'apa' })
  const theirs = `/api/inquiries/${(made as { id: number }).id}`
  const catalogues = [own]
  await reader.post(`${theirs}/sweeps`).send({ query: 'lamp*', catalogues }).expect(422)
  const tried = (await desk.post(`/api/libraries/${key}/tries`, { part: 'catalogues' }, 200)) as LibraryInFull
  expect(tried.tries).toMatchObject([{ part: 'catalogues', holds: true, said: 'Ostermoor Town Catalogue answered.' }])

  const counted = (await desk.post(`${at}/counts`, { query: 'street', catalogues }, 200)) as Counts
  expect(counted.counts).toMatchObject([{ catalogue: own, error: null }])
  expect(counted.counts[0]!.count).toBeGreaterThan(0)
  const { job, id: sweep } = (await desk.post(`${at}/sweeps`, { query: 'street', catalogues }, 202)) as {
    job: number
    id: number
  }
  expect((await desk.finish(inquiry, job)).state).toBe('done')
  const records = ((await desk.get(`${at}/sweeps/${sweep}/records`)) as { id: number }[]).map(r => r.id)
  expect(records.length).toBeGreaterThan(0)
  await desk.post(`${at}/pool`, { sweep, records: records.slice(0, 3) })
  const sources = async () =>
    new Set(((await desk.get(`${at}/works`)) as { sources: string[] }[]).flatMap(w => w.sources))
  expect(await sources()).toEqual(new Set(['Ostermoor Town Catalogue']))

  await drop(key)
  expect(await names()).not.toContain('Ostermoor Town Catalogue')
  expect(await sources()).toEqual(new Set(['Ostermoor Town Catalogue']))
  expect(((await desk.get(`${at}/sweeps`)) as Sweep[])[0]!.catalogues).toMatchObject([
    { name: 'Ostermoor Town Catalogue' },
  ])
})

test('a profile names what is not known of it and what is wrong in it; what is no profile is refused', async () => {
  const gates = { template: 'http://gate.a.example/{?url}', manner: 'window', colour: 'green' }
  const files = ['http://a.example/a.tsv', { address: 'http://a.example/b.tsv', weight: 3 }]
  const profile = { name: 'Own Library', lamps: 3, $schema: 'http://x.example/s.json', gate: gates, holdings: files }
  const { key, left } = await add({ text: JSON.stringify(profile) })
  expect(left).toEqual(['lamps', 'gate.colour', 'holdings[1].weight'])
  await drop(key)
  const refused = async (body: object, status = 422) =>
    (await desk.owner.post('/api/libraries').send(body).expect(status)).body as {
      code: string
      title: string
      fields?: { field: string; said: string }[]
    }
  expect(await refused({ text: '<html>' })).toMatchObject({
    code: 'no-profile',
    title: expect.stringMatching(/a page/),
  })
  expect((await refused({ text: '{"name": 3' })).code).toBe('no-profile')
  const gate = { template: 'http://gate.a.example/open', signIn: 'here', suffix: 'com' }
  const { fields } = await refused({ text: JSON.stringify({ place: 'Nowhere', gate, campus: ['10.0.0.0/99'] }) })
  expect(fields!.map(f => f.field).toSorted()).toEqual([
    'campus[0]',
    'gate',
    'gate.signIn',
    'gate.suffix',
    'gate.template',
    'name',
  ])
  await refused({ text: '{}', address: TOWN })
  await refused({ address: 'http://library.strange.example/profile.json' }, 502)
  expect(heard).not.toContain('library.strange.example')
})

test('a gate whose cookie would go to other hosts is refused', async () => {
  const gate = {
    template: 'http://gate.a.example/open{?url}',
    signIn: 'http://gate.a.example/in',
    suffix: 'b.example',
  }
  const { body } = await desk.owner
    .post('/api/libraries')
    .send({ text: JSON.stringify({ name: 'A', gate }) })
    .expect(422)
  expect((body as { fields: { field: string }[] }).fields).toMatchObject([{ field: 'gate' }])
})

test('hosts of a student’s library wait for an administrator, and wait again where others are written in', async () => {
  const profile = {
    name: 'Strange Library',
    holdings: ['http://library.strange.example/page'],
    resolver: 'http://library.strange.example/page',
  }
  const { key } = await add({ text: JSON.stringify(profile) })
  await until(async () => !(await one(key)).holdings.fetching)
  const before = await one(key)
  expect(before.waits).toEqual(['library.strange.example is not among the hosts that may be fetched.'])
  expect(before.holdings.trouble).toContain('may be fetched')
  const tried = (await desk.post(`/api/libraries/${key}/tries`, { part: 'resolver' }, 200)) as LibraryInFull
  expect(tried.tries).toMatchObject([
    { part: 'resolver', holds: false, said: expect.stringContaining('administrator') },
  ])
  expect(heard).not.toContain('library.strange.example')

  await desk.owner.put(`/api/libraries/${key}/allowed`).send({ allowed: true }).expect(403)
  await reader.get(`/api/libraries/${key}`).expect(404)
  // an administrator sees what waits, and of whom
  const waiting = async () => ((await administrator.get('/api/libraries').expect(200)).body as Libraries).waiting
  expect(await waiting()).toEqual([{ key, name: 'Strange Library', who: 'owner', waits: before.waits }])
  expect(((await desk.get('/api/libraries')) as Libraries).waiting).toEqual([])
  await administrator.put('/api/libraries/9999/allowed').send({ allowed: true }).expect(404)
  await administrator.put(`/api/libraries/${key}/allowed`).send({ allowed: true }).expect(200)
  expect(await waiting()).toEqual([])
  await until(async () => (await one(key)).holdings.files.every(f => f.isRead))
  const after = await one(key)
  expect(after).toMatchObject({ allowed: true, waits: [] })
  // the page that stands there is no list, and that is told in its place
  expect(after.holdings.files[0]!.report!.refused).toMatch(/not a KBART file/)
  const found = (await desk.post(`/api/libraries/${key}/tries`, { part: 'resolver' }, 200)) as LibraryInFull
  expect(found.tries).toMatchObject([{ part: 'resolver', holds: true }])
  expect(heard).toContain('library.strange.example')
  await drop(key)
})

test('an administrator sets a library up for all; a copy of it is a student’s own to change, in its place', async () => {
  const text = JSON.stringify({ name: 'House Library', resolver: 'http://library.strange.example/page' })
  await desk.owner.post('/api/libraries').send({ text, forAll: true }).expect(403)
  const { key } = (await administrator.post('/api/libraries').send({ text, forAll: true }).expect(201)).body as {
    key: string
  }
  expect((await all()).find(l => l.key === key)).toMatchObject({ chosen: null, isOwn: false, isSet: false })
  await desk.owner
    .put('/api/libraries')
    .send({ libraries: [key, 'home'] })
    .expect(200)
  const { profile, version } = await one(key)
  const change = (of: string, v: number, body: LibraryProfile, status: number) =>
    desk.owner.put(`/api/libraries/${of}`).set('If-Match', `"${v}"`).send(body).expect(status)
  await change(key, version, profile, 403)
  const { key: own } = await add({ copyOf: key })
  expect((await all()).map(l => [l.key, l.chosen])).toEqual([
    [own, 1],
    ['home', 2],
    [key, null],
  ])
  await change(own, 1, { ...profile, name: 'Mine', note: 'Ask at the desk.' }, 200)
  expect(await one(own)).toMatchObject({
    name: 'Mine',
    version: 2,
    allowed: true,
    profile: { note: 'Ask at the desk.' },
  })
  // another window had the one before
  await change(own, 1, profile, 412)
  // its own hosts were allowed; others are not with them
  await change(own, 2, { ...profile, resolver: 'http://elsewhere.example/' }, 200)
  expect((await one(own)).waits).toEqual(['elsewhere.example is not among the hosts that may be fetched.'])
  await drop(own)
  await desk.owner.delete(`/api/libraries/${key}`).expect(403)
  await administrator.delete(`/api/libraries/${key}`).expect(204)
  expect(await all()).toMatchObject([{ key: 'home', chosen: 1 }])
})

test('a part is tried, and says in words what came back', async () => {
  const tried = async (key: string, part: string) =>
    ((await desk.post(`/api/libraries/${key}/tries`, { part }, 200)) as LibraryInFull).tries.find(t => t.part === part)
  expect(await tried('home', 'gate')).toMatchObject({ holds: true, said: expect.stringContaining('asks for card') })
  expect(await tried('home', 'resolver')).toMatchObject({ holds: true, said: expect.stringContaining('No full text') })
  const { key } = await add({ copyOf: 'home' })
  const { profile } = await one(key)
  const gate = { ...profile.gate!, fields: { card: 'reader', password: 'password', also: [] } }
  await desk.owner
    .put(`/api/libraries/${key}`)
    .set('If-Match', '"1"')
    .send({ ...profile, gate })
    .expect(200)
  expect(await tried(key, 'gate')).toMatchObject({
    holds: false,
    said: 'Its form has no field “reader”. It has “card” and “password”.',
  })
  expect((await all()).find(l => l.key === key)!.troubles).toEqual([
    'Its form has no field “reader”. It has “card” and “password”.',
  ])
  await drop(key)
})

test('a file that cannot be fetched is brought, takes the place of one of its name, and is read', async () => {
  const { key } = await add({ text: JSON.stringify({ name: 'Paper Library' }) })
  const bring = (lines: string) =>
    desk.owner
      .post(`/api/libraries/${key}/holdings`)
      .set({ 'Content-Type': 'application/octet-stream', 'X-File-Name': 'all.tsv', 'Idempotency-Key': randomUUID() })
      .send(Buffer.from(`publication_title\tprint_identifier\tdate_first_issue_online\n${lines}`))
      .expect(201)
  await bring('Night Papers\t9990-0114\t1998\n')
  await read(key)
  const said = async (number: string) =>
    ((await desk.get(`/api/libraries/${key}/title?number=${number}&year=2001`)) as { said: string[] }).said
  expect(await said('9990-0114')).toEqual([expect.stringMatching(/^Held from 1998/)])
  expect(await said('9990-022X')).toEqual(['No line of the files of Paper Library names it.'])
  await bring('Other Papers\t9990-022X\t1990\n')
  await read(key)
  expect((await one(key)).holdings.files.map(f => f.name)).toEqual(['all.tsv'])
  expect(await said('9990-0114')).toEqual(['No line of the files of Paper Library names it.'])
  const { body } = await desk.owner.get(`/api/libraries/${key}/title?number=1234`).expect(422)
  expect((body as { title: string }).title).toContain('no ISSN')
  await drop(key)
})

test('what stands on its shelves is looked up by ISBN, and tried; a library without them has none to try', async () => {
  const shelved = world.works.filter(w => w.form === 'book' && w.item.ISBN && w.shelf && !w.shelf.ebook)
  const [book] = shelved.filter(w => (w.catalogues.shelf?.from ?? '9') <= world.day)
  const { said } = (await desk.get(`/api/libraries/home/title?number=${book!.item.ISBN}`)) as { said: string[] }
  expect(said.at(-1)).toContain(book!.shelf!.branch)
  expect(said.at(-1)).toContain(book!.shelf!.call)
  const tried = (await desk.post('/api/libraries/home/tries', { part: 'shelf' }, 200)) as LibraryInFull
  expect(tried.tries.find(t => t.part === 'shelf')!.said).toContain('holdings of their own')
  const { key } = await add({ text: JSON.stringify({ name: 'Bare Library' }) })
  await desk.post(`/api/libraries/${key}/tries`, { part: 'shelf' }, 422)
  await drop(key)
})

test('a second library tells its shelves in another form, and each is named', async () => {
  const { key } = await add({ address: TOWN })
  const tried = (await desk.post(`/api/libraries/${key}/tries`, { part: 'shelf' }, 200)) as LibraryInFull
  expect(tried.tries.find(t => t.part === 'shelf')!.said).toContain('records with holdings')
  await drop(key)
})

test('a file that is brought while others are being fetched is read all the same', async () => {
  const { key } = await add({ text: JSON.stringify({ name: 'Busy Library' }) })
  await until(async () => !(await one(key)).holdings.fetching)
  const before = await runElsewhere(desk.context, 'holdings', { library: key })
  const bytes = Buffer.from('publication_title\tprint_identifier\nNight Papers\t9990-0114\n')
  await desk.owner
    .post(`/api/libraries/${key}/holdings`)
    .set({ 'Content-Type': 'application/octet-stream', 'X-File-Name': 'all.tsv', 'Idempotency-Key': randomUUID() })
    .send(bytes)
    .expect(201)
  await until(async () => (await one(key)).holdings.files.every(f => f.isRead))
  await before.end()
  await drop(key)
})

test('a library with pages of its own to sign in is opened by hand, and on its campus no gate is needed', async () => {
  const profile = {
    name: 'Window Library',
    gate: { manner: 'window', template: 'http://pass.ostermoor.example/open{?url}' },
    campus: ['127.0.0.0/8', '::1/128'],
  }
  const { key } = await add({ text: JSON.stringify(profile) })
  const gates = (await desk.get(`/api/inquiries/${id}/gates`)) as Gate[]
  expect(gates.at(-1)).toMatchObject({ library: key, manner: 'window', onCampus: true })
  const { body } = await desk.owner
    .post(`/api/inquiries/${id}/gates/${key}`)
    .send({ card: 'a', password: 'b' })
    .expect(422)
  expect((body as { code: string }).code).toBe('own-window')
  await drop(key)
})

test('a choice names libraries that are there, each once, and one at least', async () => {
  const choose = (libraries: unknown) => desk.owner.put('/api/libraries').send({ libraries }).expect(422)
  await choose([])
  await choose(['home', 'home'])
  await choose(['home', '9999'])
  await choose(['home', null])
})
