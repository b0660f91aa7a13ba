import { afterAll, beforeAll, expect, test } from '@jest/globals'
import express from 'express'
import { randomUUID } from 'node:crypto'
import type { Answer } from '../../core/schema/api'
import { asXml, thesaurus } from '../../standins/thesaurus'
import { newInquiry, openDesk, type Desk } from '../test/desk'
import { smallOutside, smallWorld } from '../test/small-world'

/** What the thesaurus answers in place of its file. */
let instead: { status: number; body: string } | undefined
const outside = express()
  .use((req, res, next) => {
    if (!instead || !req.headers.host?.startsWith('thesaurus.example')) return next()
    res.status(instead.status).send(instead.body)
  })
  .use(smallOutside(smallWorld()))

let desk: Desk
let id: number
beforeAll(async () => {
  desk = await openDesk('vocabularies', outside)
  id = await newInquiry(desk)
})
afterAll(() => desk.close())

const at = (path: string): string => `/api/inquiries/${id}${path}`
const all = async (): Promise<Answer<'vocabularies'>> => desk.get(at('/vocabularies'))
const look = async (words: string): Promise<Answer<'relatedWords'>> =>
  desk.get(at(`/related-words?words=${encodeURIComponent(words)}`))
const read = async (key: string) => {
  const { job } = (await desk.post(at(`/vocabularies/${key}/read`), {}, 202)) as { job: number }
  return desk.finish(id, job)
}
const bring = async (name: string, text: string) => {
  const { body } = await desk.owner
    .post(at('/vocabularies'))
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', encodeURIComponent(name))
    .set('Idempotency-Key', randomUUID())
    .send(Buffer.from(text))
    .expect(202)
  return desk.finish(id, (body as { job: number }).job)
}
const names = (list: readonly { name: string }[]): string[] => list.map(n => n.name)

test('one of the settings is fetched and read once for everybody; until then it is told as unread', async () => {
  expect(await all()).toMatchObject([{ key: 'town-and-nature', state: 'unread', concepts: 0, isOwn: false }])
  expect(await look('moths')).toEqual({ words: 'moths', named: [], near: [] })
  expect(await read('town-and-nature')).toMatchObject({ state: 'done', result: { concepts: thesaurus().length } })
  expect(await all()).toMatchObject([
    { state: 'read', concepts: thesaurus().length, languages: ['en', 'de'], left: [], day: '2026-10-05', said: null },
  ])
  id = await newInquiry(desk)
  expect(await all()).toMatchObject([{ state: 'read' }])
})

test('words are looked up by any name, and what is above, below and beside is told', async () => {
  const { named, near } = await look('moth')
  expect(named).toMatchObject([
    {
      ...{ vocabulary: 'town-and-nature', name: 'moths', by: null, retired: false },
      note: expect.stringContaining('fly at night'),
    },
  ])
  const [moths] = named
  expect(names(moths!.above)).toEqual(['Living things', 'animals', 'insects', 'Lepidoptera'])
  expect(names(moths!.narrower)).toEqual(expect.arrayContaining(['hawkmoths', 'owlet moths', 'moths: diet']))
  expect(names(moths!.broader)).toEqual(['Lepidoptera'])
  expect(names(moths!.related)).toEqual(expect.arrayContaining(['phototaxis', 'light traps']))
  expect(moths!.names).toContainEqual({ text: 'Nachtfalter', language: 'de', as: 'preferred' })
  for (const n of near) expect(names(moths!.narrower)).not.toContain(n.name)
  // by another name, in another language, and one step on
  expect((await look('Sphingidae')).named).toMatchObject([{ name: 'hawkmoths', by: 'Sphingidae' }])
  expect((await look('straßenbeleuchtung')).named).toMatchObject([{ name: 'street lighting' }])
  const { place } = moths!.narrower.find(n => n.name === 'hawkmoths')!
  expect(await desk.get(at(`/vocabularies/town-and-nature/concepts/${place}`))).toMatchObject({ name: 'hawkmoths' })
  await desk.owner.get(at('/vocabularies/town-and-nature/concepts/99999')).expect(404)
})

test('where nothing has all of the words, the last of them is looked for; signs alone find nothing', async () => {
  const { words, named, near } = await look('dim street lamps')
  expect([words, names(named)]).toEqual(['lamps', ['lamps']])
  // what stands with it already is not told again
  expect(names(named[0]!.narrower)).toContain('gas lamps')
  expect(names(near)).not.toContain('gas lamps')
  expect(names((await look('pollution')).near)).toContain('light pollution')
  for (const words of ['zyx qwv', '%', 'mo_h']) expect(await look(words)).toEqual({ words, named: [], near: [] })
  await desk.owner.get(at('/related-words?words=')).expect(422)
})

test('a thesaurus that answers with a page to sign in, or not at all, leaves what was read', async () => {
  for (const [answer, why] of [
    [{ status: 200, body: '<!DOCTYPE html><html><body>Sign in</body></html>' }, 'a page of the web'],
    [{ status: 503, body: '' }, 'thesaurus.example'],
    [{ status: 200, body: '<urn:a> <urn:b> "c" .' }, 'no concept in SKOS'],
  ] as const) {
    instead = answer
    await read('town-and-nature')
    const [told] = await all()
    expect(told).toMatchObject({ state: 'read', said: expect.stringContaining(why), concepts: thesaurus().length })
    expect(told!.said).toContain('What was read before stands')
  }
  instead = undefined
  expect((await look('moths')).named).toHaveLength(1)
  await read('town-and-nature')
  expect((await all())[0]!.said).toBeNull()
})

test('one that is brought belongs to its inquiry, says what is not shown, and goes with its file', async () => {
  const words = thesaurus().slice(0, 60)
  const cut = asXml(words).slice(0, -2000)
  expect(await bring('Meine Wörter.rdf', cut)).toMatchObject({ state: 'done' })
  const [, own] = await all()
  expect(own).toMatchObject({ name: 'Meine Wörter.rdf', isOwn: true, state: 'read' })
  expect(own!.left[0]!.said).toContain('The file ends in the middle')
  expect(own!.concepts).toBeGreaterThan(10)
  // the same word in two vocabularies is told of both
  expect((await look('animals')).named.map(n => n.vocabulary)).toEqual(['town-and-nature', own!.key])
  const other = await newInquiry(desk)
  expect(await desk.get(`/api/inquiries/${other}/vocabularies`)).toHaveLength(1)
  await desk.owner.get(`/api/inquiries/${other}/vocabularies/${own!.key}/concepts/0`).expect(404)
  await desk.owner.delete(`/api/inquiries/${other}/vocabularies/${own!.key}`).expect(404)

  await bring('letter.txt', 'Dear librarian, where are the moths?')
  expect((await all())[2]).toMatchObject({ state: 'refused', said: expect.stringContaining('no vocabulary in SKOS') })
  await bring('words.zip', 'PK\u0003\u0004 and more')
  expect((await all())[3]).toMatchObject({ state: 'refused', said: expect.stringContaining('Unpack it') })
  for (const { key } of (await all()).slice(1)) await desk.owner.delete(at(`/vocabularies/${key}`)).expect(204)
  expect(await all()).toHaveLength(1)
  await desk.owner.delete(at('/vocabularies/town-and-nature')).expect(404)
  const { db } = desk.context
  expect(await db.vocabularyConcepts.count({ where: { vocabularyId: Number(own!.key) } })).toBe(0)
})
