import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { levelOf, mostLeft } from '../../core/sift/stopping'
import { newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
let at: string
beforeAll(async () => {
  desk = await openDesk('sift')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  // forty works that nobody takes for one another
  const letters = 'abcdefghijklmnopqrstuvwxyz'
  const file = Array.from(
    { length: 40 },
    (_, i) =>
      `@article{k${i}, title={Lamp ${letters[i % 26]!.repeat(5)} and owl ${letters[(i * 7) % 26]!.repeat(6)} number ${i}}, year={${1980 + i}}, author={Okafor, A.}, keywords={owls; lamps}, abstract={About ${i}.}}`,
  ).join('\n')
  const sent = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'forty.bib')
    .send(Buffer.from(file))
    .expect(202)
  await desk.finish(id, sent.body.job)
})
afterAll(() => desk.close())

const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const decide = (works: number[], choice: 'keep' | 'set aside' | 'later', pass = 'abstract') =>
  post('/decisions', {
    group: randomUUID(),
    decisions: works.map(work => ({ id: randomUUID(), work, pass, choice, reason: null })),
  })
type Line = { id: number; state: string; pass: string | null }

test('the learner is given each work’s own text', async () => {
  const texts = await get('/works/texts')
  expect(texts).toHaveLength(40)
  expect(texts[3]).toMatchObject({ abstract: 'About 3.', keywords: ['owls', 'lamps'] })
  expect(texts.map((t: Line) => t.id)).toEqual((await get('/works')).map((w: Line) => w.id))
})

test('a check draws unread works once each, says nothing until all are decided, and then what the bound says', async () => {
  const first = await get('/checks')
  expect(first).toMatchObject({ checks: [], unread: 40 })
  expect(first.offered).toBeGreaterThan(10)
  const begun = await post('/checks', { draws: 12 })
  expect(begun).toMatchObject({ n: 1, size: 40, decided: 0, mostLeft: null })
  expect(new Set(begun.drawn).size).toBe(12)
  // one check at a time
  await post('/checks', { draws: 5 }, 409)
  const [a, b, ...rest] = begun.drawn as number[]
  await decide([a!], 'keep')
  await decide([b!], 'later')
  await decide(rest, 'set aside')
  expect((await get('/checks')).checks[0]).toMatchObject({ decided: 11, wanted: 1, mostLeft: null })
  await decide([b!], 'set aside')
  expect((await get('/checks')).checks[0]).toMatchObject({
    decided: 12,
    wanted: 1,
    mostLeft: mostLeft(40, 12, 1, levelOf(1)),
  })
  // the second one speaks at a stricter level
  const second = await post('/checks', { draws: 100 })
  expect(second).toMatchObject({ n: 2, size: 28, level: 0.0125 })
  expect(second.drawn).toHaveLength(28)
  await decide(second.drawn, 'set aside')
  expect((await get('/checks')).checks[0]).toMatchObject({ n: 2, mostLeft: 0 })
  await post('/checks', { draws: 3 }, 422)
})

test('what is kept by its title and set aside by its abstract is set aside; taking that back leaves it kept', async () => {
  const kept = ((await get('/works')) as Line[]).find(w => w.state === 'kept')!
  await decide([kept.id], 'keep', 'title')
  expect(await decide([kept.id], 'set aside', 'full text')).toMatchObject({ works: [kept.id] })
  expect(await get(`/works/${kept.id}`)).toMatchObject({ state: 'set aside', pass: 'full text' })
})
