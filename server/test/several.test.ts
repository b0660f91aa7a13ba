import { randomUUID } from 'node:crypto'
import { afterAll, beforeAll, expect, test } from '@jest/globals'
import type { Api } from '../../demo/api'
import { openRunning, until, type Running } from './running'

/** Two processes of the application on one database. */
let desk: Running
let other: Awaited<ReturnType<Running['startAnother']>>
let one: Api
let two: Api
let at: string
let works: number[]

const bib = (name: string, n: number) =>
  new TextEncoder().encode(
    Array.from(
      { length: n },
      (_, i) => `@book{${name}${i}, title={${name} and lamps of street ${i}}, doi={10.5555/${name}.${i}}}`,
    ).join('\n'),
  )
const bring = (api: Api, name: string, n: number) =>
  api.call<{ job: number }>('POST', `${at}/imports`, bib(name, n), { 'X-File-Name': `${name}.bib` })

beforeAll(async () => {
  desk = await openRunning()
  other = await desk.startAnother()
  one = desk.api
  two = one.at(other.address)
  at = `/inquiries/${desk.inquiry}`
  await one.finish(desk.inquiry, (await bring(one, 'owls', 40)).job)
  works = (await two.call<{ id: number }[]>('GET', `${at}/works`)).map(w => w.id)
})
afterAll(() => desk.close())

const deed = (work: number) => ({
  group: randomUUID(),
  decisions: [{ id: randomUUID(), work, pass: 'title', choice: 'keep' }],
})

test('who is signed in at one is signed in at the other, and what one wrote the other shows', async () => {
  expect(works).toHaveLength(40)
  await one.call('POST', `${at}/decisions`, deed(works[0]!))
  expect(await two.call('GET', `${at}/works/${works[0]}`)).toMatchObject({ state: 'kept' })
})

test('the same deed sent to both at once is done once, and both are told the same', async () => {
  for (const work of works.slice(1, 9)) {
    const body = deed(work)
    const key = { 'Idempotency-Key': randomUUID() }
    const [a, b] = await Promise.all([one, two].map(api => api.call('POST', `${at}/decisions`, body, key)))
    expect(a).toEqual(b)
    expect(await desk.number(`SELECT COUNT(*) FROM deeds WHERE group_id = '${body.group}'`)).toBe(1)
  }
})

test('writes of both to one inquiry take turns: no revision is given twice, none is lost', async () => {
  const before = await desk.number(`SELECT revision FROM inquiries WHERE id = ${desk.inquiry}`)
  const answers = await Promise.all(
    works
      .slice(10, 30)
      .map((work, i) => (i % 2 ? one : two).call<{ revision: number }>('POST', `${at}/decisions`, deed(work))),
  )
  expect(answers.map(a => a.revision).sort((x, y) => x - y)).toEqual(answers.map((_, i) => before + 1 + i))
})

test('a browser that listens at one is told what happens at the other', async () => {
  const stop = new AbortController()
  const stream = await two.stream(`${at}/events`, stop.signal)
  const reader = stream.getReader()
  let heard = ''
  const hear = async (what: RegExp) => {
    while (!what.test(heard)) heard += new TextDecoder().decode((await reader.read()).value)
  }
  await hear(/event: revision/)
  const { revision } = await one.call<{ revision: number }>('POST', `${at}/decisions`, deed(works[31]!))
  await hear(new RegExp(`data: ${revision}\\b`))
  expect(heard).toContain(`data: ${revision}`)
  stop.abort()
})

test('jobs are taken by whoever is free, each once; those of a process that was killed are taken over', async () => {
  const jobs = await Promise.all(
    ['bats', 'moths', 'newts', 'toads', 'hares', 'stoats'].map((n, i) => bring(i % 2 ? one : two, n, 300)),
  )
  // as soon as the other has taken one it ends without a word
  await until(async () => (await desk.number(`SELECT COUNT(DISTINCT worker) FROM jobs WHERE state = 'running'`)) > 1)
  await other.kill()
  for (const { job } of jobs) await one.finish(desk.inquiry, job)
  expect(await desk.number('SELECT COUNT(*) FROM works WHERE successor_id IS NULL')).toBe(40 + 6 * 300)
  expect(await desk.number(`SELECT COUNT(*) FROM imports WHERE state <> 'done'`)).toBe(0)
})
