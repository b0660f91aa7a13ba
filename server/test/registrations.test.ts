import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import express from 'express'
import { readConnector } from '../../core/connectors/description'
import type { Answer } from '../../core/schema/api'
import { standOn } from '../db/desk-day'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'

const article = (name: string, title: string, family: string, more: object = {}) => ({
  ...{ id: name, type: 'article-journal', title, DOI: `10.5555/${name}`, 'container-title': 'Night Papers' },
  ...{ author: [{ family, given: 'Mara' }], issued: { 'date-parts': [[2011]] }, volume: '7', page: '3-9', ...more },
})
const REGISTERED: Record<string, object> = {
  lamps: article('lamps', 'Lamps over a harbour', 'Lune', { volume: '8' }),
  owls: article('owls', 'Bridges in the rain, and who crosses them', 'Sand', { issued: { 'date-parts': [[1987]] } }),
}
let asked: string[] = []
let down = new Set<string>()
const outside = express()
outside.get('/w/:doi', (req, res) => {
  const name = req.params.doi.split('/')[1]!
  asked.push(name)
  if (down.has(name)) return void res.status(503).end()
  const found = REGISTERED[name]
  if (!found) return void res.status(404).end()
  res.json(found)
})
const registry = readConnector({
  id: 'registry',
  name: 'Registry of Quays',
  perSecond: 100,
  calls: { work: { address: 'http://lampyr.example/w/{doi}', records: '$', fields: { item: '$' } } },
})

let desk: Desk
let id: number
let at: string
const get = (path: string) => desk.get(at + path)
const checks = () => get('/bibliography/checks') as Promise<Answer<'entryChecks'>>
const ask = async () =>
  desk.finish(id, ((await desk.post(`${at}/bibliography/registrations`, {}, 202)) as { job: number }).job)
/** What is found against DOIs, by the title of the work. */
const found = async () => {
  const works = new Map(((await get('/works')) as { id: number; title: string }[]).map(w => [w.id, w.title]))
  const { entries } = (await get('/bibliography')) as Answer<'bibliography'>
  const titleOf = new Map(entries.map(e => [e.id, works.get(e.work)!.split(' ')[0]!]))
  const { entries: told } = await checks()
  return Object.fromEntries(told.map(t => [titleOf.get(t.entry)!, t.findings.map(f => f.what)]))
}

beforeAll(async () => {
  desk = await openDesk('registrations', outside)
  desk.context.settings.outside.connectors.splice(0, Infinity, registry)
})
afterAll(() => desk.close())
const enter = async (items: object[]) => {
  await bringItems(desk, id, items)
  for (const { id: work } of (await get('/works')) as { id: number }[]) {
    const decisions = [{ id: randomUUID(), work, choice: 'keep', pass: 'title' }]
    await desk.post(`${at}/decisions`, { group: randomUUID(), decisions })
    await desk.post(`${at}/entries`, { work })
  }
}
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  asked = []
  down = new Set()
  await desk.context.db.doiRegistrations.destroy({ where: {} })
  await standOn(desk.context.db, '2026-10-05')
})

test('entries are held against what their DOIs are registered for, each asked for once in a month', async () => {
  await enter([
    article('lamps', 'Lamps over a harbour', 'Lune'),
    article('owls', 'Owl calls beside lit roads', 'Voss'),
    article('moths', 'Moths of an unlit quay', 'Reed'),
    article('none', 'Nobody has a number for this', 'Vale', { DOI: undefined }),
  ])
  expect((await checks()).registrations).toEqual({ asked: 0, of: 3, day: null })
  expect(await ask()).toMatchObject({
    state: 'done',
    error: null,
    result: { asked: 3, registered: 2, amiss: 0, known: 0 },
  })
  expect((await checks()).registrations).toEqual({ asked: 3, of: 3, day: '2026-10-05' })
  const told = await found()
  expect(told.Owl).toContain('Its DOI is registered for another work')
  expect(told.Moths).toContain('Its DOI is not registered')
  expect(told.Lamps!.filter(w => w.includes('DOI'))).toEqual([])
  // one more record, beside those that were there
  const { entries } = await checks()
  expect(entries.map(e => e.records).sort()).toEqual([1, 1, 1, 2])

  expect(await ask()).toMatchObject({ result: { asked: 0, known: 3 } })
  expect(asked).toHaveLength(3)
  await standOn(desk.context.db, '2026-11-05')
  expect(await ask()).toMatchObject({ result: { asked: 3, known: 0 } })
})

test('a registry that goes away takes nothing with it, and one DOI that fails leaves the others', async () => {
  await enter([article('lamps', 'Lamps over a harbour', 'Lune'), article('owls', 'Owl calls beside lit roads', 'Voss')])
  down = new Set(['lamps'])
  expect(await ask()).toMatchObject({ state: 'done', result: { asked: 2, registered: 1, amiss: 1 } })
  expect((await checks()).registrations).toMatchObject({ asked: 1, of: 2 })
  expect((await found()).Lamps).not.toContain('Its DOI is not registered')
  down = new Set(['lamps', 'owls'])
  const failed = await ask()
  expect(failed).toMatchObject({ state: 'failed', error: expect.stringContaining('What came before is kept') })
  expect((await checks()).registrations).toMatchObject({ asked: 1, of: 2 })
  down = new Set()
  expect(await ask()).toMatchObject({ result: { asked: 1, registered: 1, known: 1 } })
})

test('three in a row that cannot be asked for end it, and what came before is kept', async () => {
  const others = ['x', 'y', 'z', 'never'].map(n => article(n, `Of ${n} and what it does to quays`, `Voss${n}`))
  await enter([article('lamps', 'Lamps over a harbour', 'Lune'), ...others])
  down = new Set(['x', 'y', 'z'])
  expect(await ask()).toMatchObject({ state: 'failed', error: expect.stringContaining('What came before is kept') })
  expect((await checks()).registrations).toMatchObject({ asked: 1, of: 5 })
  expect(asked).not.toContain('never')
})

test('where there is nobody or nothing to ask it says so, and a reader asks nothing', async () => {
  await enter([article('none', 'Nobody has a number for this', 'Vale', { DOI: undefined })])
  expect((await desk.post(`${at}/bibliography/registrations`, {}, 422)).code).toBe('no-doi')
  const user = await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true })
  await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
  const reader = await desk.signIn('reader@desk.example')
  await reader.post(`${at}/bibliography/registrations`).send({}).expect(403)
  desk.context.settings.outside.connectors.splice(0)
  expect((await desk.post(`${at}/bibliography/registrations`, {}, 422)).code).toBe('no-index')
  desk.context.settings.outside.connectors.push(registry)
})
