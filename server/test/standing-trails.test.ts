import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import express from 'express'
import { simpleParser } from 'mailparser'
import { SMTPServer } from 'smtp-server'
import { all, first, readXml, textOf } from '../../core/formats/xml'
import { readConnector } from '../../core/connectors/description'
import type { Answer } from '../../core/schema/api'
import { standOn } from '../db/desk-day'
import { beginDue } from '../standing/standing-service'
import { runStanding } from '../standing/standing-job'
import { newInquiry, openDesk, type Desk } from './desk'

/** What cites each work, by the last part of its DOI; the index knows more from day to day. */
let citing: Record<string, string[]> = {}
/** What it counts, where that is more than it gives. */
let counted: Record<string, number> = {}
let down = false
let asked: string[] = []
const outside = express()
outside.get('/cited/:doi', (req, res) => {
  const name = req.params.doi.slice('10.5555/'.length)
  asked.push(name)
  if (down) return void res.status(503).end()
  const found = citing[name]
  if (!found) return void res.status(404).end()
  res.json({
    sum: counted[name] ?? found.length,
    hits: found.map(n => ({ doi: `10.5555/${n}`, headline: `Of ${n}`, by: ['Ferrow, Una'], when: '2026' })),
  })
})
const index = readConnector({
  id: 'odd-index',
  name: 'Index of Quarters',
  perSecond: 100,
  calls: {
    citedBy: {
      address: 'http://lampyr.example/cited/{doi}',
      records: '$.hits[*]',
      total: '$.sum',
      fields: { title: '$.headline', authors: { each: '$.by[*]', name: '$' }, date: '$.when', doi: '$.doi' },
    },
  },
})

const letters: { to: string; subject: string; text: string; id: string }[] = []
const smtp = new SMTPServer({
  authOptional: true,
  disabledCommands: ['STARTTLS', 'AUTH'],
  onData: (stream, session, done) =>
    void simpleParser(stream).then(m => {
      const to = session.envelope.rcptTo.map(r => r.address).join()
      letters.push({ to, subject: m.subject ?? '', text: m.text ?? '', id: m.messageId ?? '' })
      done()
    }, done),
})

let desk: Desk
let id: number
let at: string
const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const trails = () => get('/standing') as Promise<Answer<'standing'>>
const one = async (s: number) => (await trails()).find(x => x.id === s)!
/** What is told as new: by its name, with those that it cites. */
const news = async () => {
  const nodes = await desk.context.db.nodes.findAll({ where: { inquiryId: id }, raw: true })
  const name = (n: number) => nodes.find(x => x.id === n)!.doi!.slice(8)
  const told = (await get('/standing/news')) as Answer<'trailNews'>
  return told.map(x => `${name(x.node)} → ${x.cites.map(name).sort().join(' ')}`).sort()
}
interface Line {
  id: number
  doi: string
}
const works = () => get('/works') as Promise<Line[]>
const workOf = async (name: string) => (await works()).find(w => w.doi === `10.5555/${name}`)!.id
const decide = async (names: string[], choice = 'keep') => {
  const ids = await Promise.all(names.map(workOf))
  const decisions = ids.map(work => ({ id: randomUUID(), work, pass: 'abstract', choice }))
  return post('/decisions', { group: randomUUID(), decisions })
}
async function bring(names: string[]): Promise<void> {
  const bib = names.map(n => `@article{${n}, title={Work ${n}}, author={Sand, Ivo}, year={2015}, doi={10.5555/${n}}}`)
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'list.bib')
    .send(Buffer.from(bib.join('\n')))
    .expect(202)
  await desk.finish(id, body.job)
}
const stand = async (more: object = {}) => {
  const body = { scope: 'kept', name: 'What cites mine', everyDays: 7, mails: true, ...more }
  const made = await post('/standing/trails', body)
  await desk.finish(id, made.job)
  return made.id as number
}
/** Runs it, whichever way it ends. */
const again = async (s: number) => desk.finish(id, (await post(`/standing/${s}/runs`, {}, 202)).job)
/** What was found new in its runs, the latest first. */
const counts = async (s: number) => (await one(s)).runs.map(r => r.foundNew)

beforeAll(async () => {
  smtp.listen(0, '127.0.0.1')
  await once(smtp.server, 'listening')
  desk = await openDesk('standing_trails', outside, { MAIL_PORT: String((smtp.server.address() as AddressInfo).port) })
  desk.context.settings.outside.connectors.splice(0, Infinity, index)
})
afterAll(async () => {
  await desk.close()
  smtp.close(() => undefined)
})
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  down = false
  counted = {}
  citing = { a: ['old1', 'old2'], b: ['old2'], c: [] }
  await standOn(desk.context.db, '2026-10-05')
  await bring(['a', 'b', 'c'])
  await decide(['a', 'b', 'c'])
  letters.length = 0
  asked = []
})

test('what newly cites the kept works is told by its day, as a list, a feed and a letter, and once', async () => {
  const s = await stand()
  expect(await one(s)).toMatchObject({ scope: 'kept', of: null, query: null, nextDay: '2026-10-12', paused: false })
  // of what nobody asked about before nothing is new
  expect(await counts(s)).toEqual([0])
  expect([await news(), letters]).toEqual([[], []])
  await beginDue(desk.context)
  expect((await one(s)).runs).toHaveLength(1)

  citing = { a: ['old1', 'old2', 'new1'], b: ['old2', 'new1', 'new2'], c: [] }
  await standOn(desk.context.db, '2026-10-13')
  await Promise.all([beginDue(desk.context), beginDue(desk.context)])
  for (const j of (await get('/jobs')) as { id: number; kind: string }[])
    if (j.kind === 'standing') await desk.finish(id, j.id)
  expect(await counts(s)).toEqual([2, 0])
  expect(await news()).toEqual(['new1 → a b', 'new2 → b'])
  expect(await one(s)).toMatchObject({
    nextDay: '2026-10-20',
    runs: [{ deskDay: '2026-10-13' }, { deskDay: '2026-10-05' }],
  })

  expect(letters).toHaveLength(1)
  expect(letters[0]).toMatchObject({ to: 'owner@desk.example', subject: '2 new: What cites mine' })
  expect(letters[0]!.text).toContain('2 works newly cite what “What cites mine” watches.')
  expect(letters[0]!.text).toMatch(/Of new1\n {2}Ferrow · 2026 · cites Sand 2015 and 1 more of yours\n/)
  expect(letters[0]!.text).toContain(`/inquiries/${id}/trace?list=new`)
  const { text } = await desk.owner.get((await one(s)).feed).expect(200)
  const entries = all(first(readXml(text), 'feed'), 'entry')
  expect(entries.map(e => textOf(first(e, 'title'))).sort()).toEqual(['Of new1', 'Of new2'])

  await again(s)
  expect(await counts(s)).toEqual([0, 2, 0])
  expect(letters).toHaveLength(1)
})

test('a run asks what cites the works alone, and is no round of its own', async () => {
  await stand()
  expect(new Set(asked)).toEqual(new Set(['a', 'b', 'c']))
  expect(await get('/graph')).toMatchObject({
    rounds: [{ n: null, isStanding: true, scope: 'kept', trails: 3, left: 0 }],
    walks: [{ direction: 'cited-by' }, { direction: 'cited-by' }, { direction: 'cited-by' }],
  })
  expect(await get('/rounds/plan?scope=kept')).toMatchObject({ n: 1 })
})

test('a work of the pool is no news, nor is what was told before; what was found by walking is', async () => {
  const s = await stand()
  await bring(['mine'])
  citing.a!.push('mine', 'walked')
  await desk.finish(id, (await post('/rounds', { scope: 'kept', again: 'yes' }, 202)).job)
  await again(s)
  expect(await news()).toEqual(['walked → a'])
  citing.b!.push('walked', 'later')
  await again(s)
  expect(await counts(s)).toEqual([1, 1, 0])
  expect(await news()).toEqual(['later → b', 'walked → a'])
})

test('two that watch the same work tell it both; a work kept later is held against its own first answer', async () => {
  const wide = await stand({ mails: false })
  const narrow = await stand({ scope: 'work', of: await workOf('b'), name: 'What cites b', mails: false })
  await bring(['d'])
  await decide(['d'])
  citing = { ...citing, b: ['old2', 'new'], d: ['old3', 'old4'] }
  await again(wide)
  await again(narrow)
  expect([await counts(wide), await counts(narrow)]).toEqual([
    [1, 0],
    [1, 0],
  ])
  expect(await news()).toEqual(['new → b'])
  citing.d!.push('new4')
  await again(wide)
  expect(await news()).toEqual(['new → b', 'new4 → d'])
  expect(letters).toEqual([])
})

test('where trails were walked before, the first run tells what came since', async () => {
  await desk.finish(id, (await post('/rounds', { scope: 'kept' }, 202)).job)
  citing.c!.push('new')
  const s = await stand()
  expect(await counts(s)).toEqual([1])
  expect(await news()).toEqual(['new → c'])
  expect(letters).toHaveLength(1)
})

test('an index that is away loses nothing: the next run tells what both found', async () => {
  const s = await stand()
  citing.a!.push('new1')
  await decide(['b', 'c'], 'set aside')
  // its process ends after the walk and before the news
  const { job } = await post(`/standing/${s}/runs`, {}, 202)
  await desk.finish(id, job)
  await desk.context.db.rounds.update({ foundNew: null }, { where: { jobId: job } })
  await desk.context.db.trailNews.destroy({ where: {} })
  letters.length = 0
  citing.a!.push('new2')
  await again(s)
  expect(await counts(s)).toEqual([2, null, 0])
  expect(await news()).toEqual(['new1 → a', 'new2 → a'])
  expect(letters.map(l => l.subject)).toEqual(['2 new: What cites mine'])

  down = true
  expect(await again(s)).toMatchObject({ state: 'failed' })
  expect(await counts(s)).toEqual([null, 2, null, 0])
  down = false
  // walked on by hand, it is told all the same
  citing.a!.push('new3')
  const round = (await one(s)).runs[0]!.id
  await desk.finish(id, (await post(`/rounds/${round}/walk`, {}, 202)).job)
  expect(await counts(s)).toEqual([1, 2, null, 0])
  expect(letters).toHaveLength(2)
})

test('a run that is done twice tells once', async () => {
  const s = await stand()
  citing.a!.push('new1')
  const { job } = await post(`/standing/${s}/runs`, {}, 202)
  await desk.finish(id, job)
  const row = await desk.context.db.jobs.findByPk(job, { raw: true })
  const handle = { job: row!, signal: new AbortController().signal, progress: () => Promise.resolve() }
  await runStanding(desk.context, handle)
  expect(await counts(s)).toEqual([1, 0])
  expect(letters).toHaveLength(1)
})

test('what cannot be asked says why, and waits for its next day', async () => {
  const wrong = { name: '', scope: 'kept', everyDays: 7, mails: true }
  await desk.owner.post(`${at}/standing/trails`).send(wrong).expect(422)
  const none = { ...wrong, name: 'N', scope: 'strand', of: 99999 }
  await desk.owner.post(`${at}/standing/trails`).send(none).expect(404)
  await desk.owner
    .post(`${at}/standing/trails`)
    .send({ ...none, scope: 'work', of: undefined })
    .expect(404)
  const s = await stand()
  await decide(['a', 'b', 'c'], 'set aside')
  const { body } = await desk.owner.post(`${at}/standing/${s}/runs`).send({}).expect(422)
  expect(body.title).toBe('There is no work to ask about. Keep one first.')
  await standOn(desk.context.db, '2026-10-20')
  await beginDue(desk.context)
  expect(await one(s)).toMatchObject({ nextDay: '2026-10-27', runs: [{}] })
})

test('a work that was joined into another is watched as that one', async () => {
  const s = await stand({ scope: 'work', of: await workOf('a'), name: 'What cites a' })
  const records = await Promise.all(
    ['a', 'b'].map(async n => (await get(`/works/${await workOf(n)}`)).records[0].id as number),
  )
  await post('/links', { a: records[0]!, b: records[1]!, verdict: 'same' })
  citing.a!.push('new')
  await again(s)
  expect((await news()).map(x => x.split(' ')[0])).toEqual(['new'])
})

test('it rests, is renamed and ended: its news stay, its feed is gone; readers see and change nothing', async () => {
  const s = await stand()
  citing.a!.push('new')
  await again(s)
  const { feed } = await one(s)
  const set = (body: object) => desk.owner.patch(`${at}/standing/${s}`).send(body).expect(200)
  await set({ paused: true, name: 'Rests', everyDays: 30 })
  await standOn(desk.context.db, '2027-10-05')
  await beginDue(desk.context)
  expect(await counts(s)).toEqual([1, 0])
  const user = await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true })
  await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
  const reader = await desk.signIn('reader@desk.example')
  await reader.post(`${at}/standing/trails`).send({ scope: 'kept', name: 'R', everyDays: 7, mails: false }).expect(403)
  expect((await reader.get(`${at}/standing/news`).expect(200)).body).toHaveLength(1)
  await desk.owner.delete(`${at}/standing/${s}`).expect(204)
  await desk.owner.get(feed).expect(404)
  expect(await news()).toEqual(['new → a'])
  expect(await trails()).toEqual([])
})
