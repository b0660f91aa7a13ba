import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Answer } from '../../core/schema/api'
import { openDesk, type Desk } from '../test/desk'
import { smallOutside } from '../test/small-world'

let desk: Desk
beforeAll(async () => {
  desk = await openDesk('probe', smallOutside())
})
afterAll(() => desk.close())

const probe = async (address: string, words = 'light') =>
  (await desk.owner.post('/api/catalogues/tried').send({ address, words }).expect(200)).body as Answer<'probe'>

test('a catalogue tells what it can do, and its records are read in the fullest schema that can be', async () => {
  const { body } = await desk.owner.get('/api/catalogues').expect(200)
  for (const { name, address } of body as Answer<'catalogues'>) {
    const p = await probe(address)
    expect([name, p.failed, p.assumed, p.unread]).toEqual([name, null, null, []])
    expect(p.title).toBeTruthy()
    expect(p.records.length).toBeGreaterThan(0)
    expect(p.indexes.map(x => x.ours)).toContain('title')
    expect(p.schemas.some(s => s.readable)).toBe(true)
    expect(p.count).toBeGreaterThanOrEqual(p.records.length)
  }
})

test('one that cannot search as asked says how it was asked', async () => {
  const p = await probe('http://vigil.example/sru', 'lamp*')
  expect(p.truncation).toBe(false)
  expect(p.changes.join(' ')).toMatch(/cannot truncate/)
  expect(p.asked).not.toContain('*')
})

test('what is no catalogue, no host to ask, or no query is told', async () => {
  expect((await probe('http://library.halverane.example/kbart/')).failed).toBeTruthy()
  expect((await probe('http://nobody-set-this-up.example/sru')).failed).toMatch(/not among the hosts/)
  await desk.owner.post('/api/catalogues/tried').send({ address: 'catalogue', words: 'light' }).expect(422)
  const { body } = await desk.owner
    .post('/api/catalogues/tried')
    .send({ address: 'http://lampyr.example/sru', words: 'light and (' })
    .expect(422)
  expect(JSON.stringify(body)).toContain('words')
})

test('an administrator may try a host that is not set up, but none inside the network', async () => {
  await desk.context.db.users.update({ role: 'administrator' }, { where: { email: 'owner@desk.example' } })
  // it is asked now, and is no catalogue
  const p = await probe('http://nobody-set-this-up.example/sru')
  expect(p.failed ?? '').not.toMatch(/not among the hosts/)
  expect((await probe('http://127.0.0.1:1/sru')).failed).toMatch(/inside this network|not among/)
  await desk.context.db.users.update({ role: 'student' }, { where: { email: 'owner@desk.example' } })
})
