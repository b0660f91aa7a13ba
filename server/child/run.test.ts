import { expect, test } from '@jest/globals'
import { EventEmitter } from 'node:events'
import { readFileSync } from 'node:fs'
import { setTimeout as pause } from 'node:timers/promises'
import { answerOf, ChildFailed, ChildKilled, runChild } from './run'

class FakeChild extends EventEmitter {
  connected = true
  killed: string[] = []
  kill = (signal?: NodeJS.Signals | number) => (this.killed.push(String(signal)), true)
}
const child = () => new FakeChild() as FakeChild & Parameters<typeof answerOf>[0]

test('an answer that is read after its child ended is an answer', async () => {
  const c = child()
  const answer = answerOf(c)
  c.emit('exit', 0, null)
  await new Promise(r => setTimeout(r, 20))
  c.emit('message', { answer: 7 })
  c.connected = false
  c.emit('disconnect')
  expect(await answer).toBe(7)
})

test.each([
  ['killed by the system', null, 'SIGKILL', ChildKilled],
  ['told to end', null, 'SIGTERM', ChildKilled],
  ['gone without a word', 0, null, ChildKilled],
  ['ended by a mistake of its own', 1, null, ChildKilled],
  ['out of memory', null, 'SIGABRT', ChildFailed],
  ['out of memory, by its code', 134, null, ChildFailed],
] as const)('%s: the file is to blame only for its memory', async (_, code, signal, kind) => {
  const c = child()
  const answer = answerOf(c)
  c.connected = false
  c.emit('exit', code, signal)
  await expect(answer).rejects.toBeInstanceOf(kind)
})

test('what the child says is wrong is the file’s', async () => {
  const c = child()
  const answer = answerOf(c)
  c.emit('message', { error: 'InvalidPDFException: no' })
  await expect(answer).rejects.toThrow('InvalidPDFException')
})

test('one that takes too long, or is not wanted any more, is ended', async () => {
  const slow = child()
  await expect(answerOf(slow, { seconds: 0.02 })).rejects.toThrow('too long')
  const unwanted = child()
  const stop = new AbortController()
  const answer = answerOf(unwanted, { signal: stop.signal })
  stop.abort(new Error('stopped'))
  await expect(answer).rejects.toThrow('stopped')
  expect([slow.killed, unwanted.killed]).toEqual([['SIGKILL'], ['SIGKILL']])
})

test('many at once wait their turn, and each has its answer', async () => {
  const files = Array.from({ length: 9 }, (_, i) => Buffer.from(`@book{a${i}, title={Lamps ${i}}}`))
  const read = await Promise.all(files.map(f => runChild('bibliography', f)))
  expect(read.map(r => r.text!.entries[0]!.item.title)).toEqual(files.map((_, i) => `Lamps ${i}`))
})

/** Reading children of this process, by their numbers. */
const children = () =>
  readFileSync(`/proc/${process.pid}/task/${process.pid}/children`, 'utf8')
    .split(' ')
    .filter(pid => pid && readFileSync(`/proc/${pid}/cmdline`, 'utf8').includes(process.env.VINE_CHILD!))
    .sort()
const book = (title: string) => Buffer.from(`@book{a, title={${title}}}`)

test('a child that read a file well reads the next; one whose file failed is gone, and so is one that died idle', async () => {
  await runChild('bibliography', book('Owls'))
  const before = children()
  for (let i = 0; i < 3; i++) await runChild('bibliography', book(`Owls ${i}`))
  expect(children()).toEqual(before)

  // as many as may work at one time, so that each of them has such a file
  const bad = await Promise.allSettled(before.map(() => runChild('pdf', Buffer.from('no PDF at all'))))
  expect(bad.map(b => b.status)).toEqual(before.map(() => 'rejected'))
  // the system takes a moment to end them
  while (children().some(c => before.includes(c))) await pause(20)

  await runChild('bibliography', book('Moths'))
  for (const pid of children()) process.kill(Number(pid), 'SIGKILL')
  const read = () => runChild('bibliography', book('Bats')).catch((e: Error) => e)
  const first = await read()
  // whether its end is noticed before it is given a file or after, the file is not to blame
  if (first instanceof Error) expect(first).toBeInstanceOf(ChildKilled)
  expect(await read()).toMatchObject({ text: { entries: [{ item: { title: 'Bats' } }] } })
})
