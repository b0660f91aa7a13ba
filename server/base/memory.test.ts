import { expect, test } from '@jest/globals'
import { setTimeout as wait } from 'node:timers/promises'
import { memory } from './memory'

const desk = () => ({ db: {} })
/** No test lasts so long. */
const LONG = 3_600_000

test('an answer holds for its time, by key and by database, and for those who ask while it comes', async () => {
  const { get } = memory<number>({ holds: LONG })
  const [here, elsewhere] = [desk(), desk()]
  let asked = 0
  const ask = () => Promise.resolve(++asked)
  expect(await Promise.all([get(here, 'a', ask), get(here, 'a', ask)])).toEqual([1, 1])
  expect(await get(here, 'b', ask)).toBe(2)
  expect(await get(elsewhere, 'a', ask)).toBe(3)
  expect(await get(here, 'a', ask)).toBe(1)
})

test('after its time it is asked again', async () => {
  const { get } = memory<number>({ holds: 1 })
  const c = desk()
  let asked = 0
  const ask = () => Promise.resolve(++asked)
  while ((await get(c, 'a', ask)) < 3) await wait(1)
  expect(asked).toBe(3)
})

test('forgetting costs one database its answers, and no more', async () => {
  const { get, forget } = memory<string>({ holds: LONG })
  const [here, elsewhere] = [desk(), desk()]
  const say = (what: string) => () => Promise.resolve(what)
  await get(here, 1, say('old'))
  await get(elsewhere, 1, say('old'))
  forget(here)
  expect(await get(here, 1, say('new'))).toBe('new')
  expect(await get(elsewhere, 1, say('new'))).toBe('old')
})

test('a failure is told to all who wait, and is asked again; a late one takes nothing from what was asked since', async () => {
  const { get, forget } = memory<string>({ holds: LONG })
  const c = desk()
  const fails = () => Promise.reject(new Error('away'))
  const first = get(c, 'a', fails)
  await expect(Promise.all([first, get(c, 'a', () => Promise.resolve('never asked'))])).rejects.toThrow('away')
  expect(await get(c, 'a', () => Promise.resolve('there'))).toBe('there')

  const { promise, reject } = hold()
  const late = get(c, 'b', () => promise)
  forget(c)
  await get(c, 'b', () => Promise.resolve('since'))
  reject(new Error('late'))
  await expect(late).rejects.toThrow('late')
  expect(await get(c, 'b', () => Promise.resolve('again'))).toBe('since')
})

test('no more are kept than told; that which was not asked for longest goes first', async () => {
  const { get } = memory<number>({ holds: LONG, most: 2 })
  const c = desk()
  let asked = 0
  const ask = () => Promise.resolve(++asked)
  for (const key of ['a', 'b', 'a', 'c']) await get(c, key, ask)
  expect(await get(c, 'a', ask)).toBe(1)
  expect(await get(c, 'b', ask)).toBe(4)
})

/** An answer that fails when it is told to. */
function hold(): { promise: Promise<string>; reject: (e: Error) => void } {
  let reject: (e: Error) => void = () => undefined
  const promise = new Promise<string>((_, no) => {
    reject = no
  })
  return { promise, reject }
}
