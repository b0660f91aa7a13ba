import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { connect } from '../db/connection'
import { openRunning, until, type Running } from './running'

/**
 * Kills at named moments of a write: before anything of it is there, when all of it is there but its key, and when it
 * is committed but not answered. As a browser does, it is sent again after that under the same key: then it is there
 * once.
 */
let desk: Running
let at: string
let works: number[]
let entry: { id: number; version: number }

beforeAll(async () => {
  desk = await openRunning()
  at = `/inquiries/${desk.inquiry}`
  const file = Array.from(
    { length: 700 },
    (_, i) => `@book{k${i}, title={Owls of village number ${i}}, year=${1900 + (i % 100)}}`,
  )
  const { job } = await desk.api.call<{ job: number }>(
    'POST',
    `${at}/imports`,
    new TextEncoder().encode(file.join('\n')),
  )
  await desk.api.finish(desk.inquiry, job)
  works = (await desk.api.call<{ id: number }[]>('GET', `${at}/works`)).map(w => w.id)
  await desk.api.call('POST', `${at}/decisions`, {
    group: randomUUID(),
    decisions: [{ id: randomUUID(), work: works[0], pass: 'title', choice: 'keep' }],
  })
  entry = await desk.api.call('POST', `${at}/entries`, { work: works[0] })
})
afterAll(() => desk.close())

interface Write {
  method: string
  path: string
  body: unknown
  headers?: Record<string, string>
  /** How often it is there. */
  there: string
}
const decision = (work: number, group: string) => ({ id: randomUUID(), work, pass: 'title', choice: 'keep', group })
const kinds: Record<string, () => Promise<Write> | Write> = {
  'a decision': () => {
    const group = randomUUID()
    return {
      method: 'POST',
      path: '/decisions',
      body: { group, decisions: [decision(works[1]!, group)] },
      there: `SELECT COUNT(*) FROM deeds WHERE group_id = '${group}'`,
    }
  },
  'six hundred decisions': () => {
    const group = randomUUID()
    return {
      method: 'POST',
      path: '/decisions',
      body: { group, decisions: works.slice(50, 650).map(w => decision(w, group)) },
      there: `SELECT COUNT(*) / 600 FROM deeds WHERE group_id = '${group}'`,
    }
  },
  'an undo': async () => {
    const group = randomUUID()
    await desk.api.call('POST', `${at}/decisions`, { group, decisions: [decision(works[2]!, group)] })
    return {
      method: 'POST',
      path: '/undo',
      body: { group, id: randomUUID() },
      there: `SELECT COUNT(*) FROM deeds WHERE undoes = '${group}'`,
    }
  },
  'an annotation': async () => {
    entry = await desk.api.call('GET', `${at}/entries/${entry.id}`)
    const annotation = `Written ${randomUUID()}.`
    return {
      method: 'PATCH',
      path: `/entries/${entry.id}`,
      body: { annotation },
      headers: { 'If-Match': `"${entry.version}"` },
      there: `SELECT COUNT(*) FROM entries WHERE annotation = '${annotation}' AND version = ${entry.version + 1}`,
    }
  },
  'a file': () => {
    const name = `owls-${randomUUID()}.bib`
    return {
      method: 'POST',
      path: '/imports',
      body: new TextEncoder().encode(`@book{${name}, title={${name}}}`),
      headers: { 'X-File-Name': name },
      there: `SELECT COUNT(*) FROM imports i JOIN jobs j ON JSON_VALUE(j.payload, '$.importId') = i.id WHERE i.file_name = '${name}'`,
    }
  },
}

/** Lets a write come to a moment, and ends the server there. */
const moments: Record<string, (write: Promise<unknown>, w: Write) => Promise<void>> = {
  'before anything is there': (write, w) =>
    heldAt('SELECT id FROM inquiries FOR UPDATE', 'UPDATE inquiries SET revision%', write, w, 0),
  'when all but its key is there': (write, w) =>
    heldAt('SELECT * FROM answers FOR UPDATE', 'INSERT INTO _answers%', write, w, 0),
  'when it is committed': async (write, w) => {
    await write
    // the answer is on its way, and arrives nowhere
    await desk.kill()
    expect(await desk.number(w.there)).toBe(1)
  },
}

async function heldAt(hold: string, waiting: string, write: Promise<unknown>, w: Write, there: number): Promise<void> {
  const other = connect(desk.settings)
  const t = await other.transaction()
  await other.query(hold, { transaction: t })
  release()
  void write.catch(() => undefined)
  await until(
    async () =>
      (await desk.number(
        `SELECT COUNT(*) FROM information_schema.processlist WHERE info LIKE '${waiting}' AND id <> CONNECTION_ID()`,
      )) > 0,
  )
  await desk.kill()
  await t.rollback()
  await other.close()
  await until(
    async () =>
      (await desk.number(
        `SELECT COUNT(*) FROM information_schema.processlist WHERE info LIKE '${waiting}' AND id <> CONNECTION_ID()`,
      )) === 0,
  )
  expect(await desk.number(w.there)).toBe(there)
}
/** Lets the write begin, once what it will meet is in place. */
let release: () => void = () => undefined

test.each(Object.keys(kinds).flatMap(kind => Object.keys(moments).map(moment => [kind, moment] as const)))(
  '%s, killed %s, is there once after it was sent again',
  async (kind, moment) => {
    const w = await kinds[kind]!()
    const key = { 'Idempotency-Key': randomUUID(), ...w.headers }
    const go = new Promise<void>(r => (release = r))
    if (moment === 'when it is committed') release()
    const write = go.then(() => desk.api.call(w.method, at + w.path, w.body, key))
    write.catch(() => undefined)
    await moments[moment]!(write, w)
    await desk.start()
    const again = await desk.api.call(w.method, at + w.path, w.body, key)
    expect(await desk.number(w.there)).toBe(1)
    // and once more, for an answer that was lost too
    expect(await desk.api.call(w.method, at + w.path, w.body, key)).toEqual(again)
    expect(await desk.number(w.there)).toBe(1)
  },
  60_000,
)
