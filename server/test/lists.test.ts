import { afterAll, beforeAll, beforeEach, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import express from 'express'
import { readConnector } from '../../core/connectors/description'
import { readReference } from '../../core/match/reference'
import type { Answer } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { runList } from '../trace/list-job'
import { type Desk, newInquiry, openDesk, putCopy } from './desk'

interface Work {
  doi?: string
  title: string
  by: string[]
  year: string
  journal?: string
  volume?: string
  pages?: string
}
/** What the register of titles has. */
const REGISTER: Work[] = [
  {
    doi: '10.5555/allotment',
    title: 'Lamps in the allotment: moths, gardeners and the municipal night',
    by: ['Wexcombe, T.'],
    year: '1989',
  },
  { title: 'Return of posts, with hours', by: ['Lamp Committee'], year: '1998' },
  ...[1, 2].map(i => ({
    doi: `10.5555/alike.${i}`,
    title: 'Light at night',
    by: ['Hartigan-Moss, R.'],
    year: '2010',
    journal: i === 1 ? 'Annals of Flower Biology' : 'Annals of Floodplain Biology',
    volume: String(100 + i),
  })),
  { doi: '10.5555/lit.1', title: 'Lit paths of quarter 1', by: ['Sand, Ivo'], year: '2011' },
]
let down = false
let asked: string[] = []
const outside = express()
outside.use(express.json())
outside.get('/find/:title', (req, res) => {
  const title = String(req.params.title)
  asked.push(title)
  if (down) return void res.status(503).end()
  const words = title.toLowerCase().match(/[\p{L}\d]+/gu) ?? []
  res.json({ list: REGISTER.filter(w => words.every(x => w.title.toLowerCase().includes(x))) })
})
outside.get('/doi/:doi', (req, res) => {
  asked.push(req.params.doi)
  const found = REGISTER.find(w => w.doi === req.params.doi)
  if (!found) return void res.status(404).end()
  res.json(found)
})
outside.get('/refs/:doi', (req, res) =>
  res.json({
    list: [
      { doi: '10.5555/allotment', title: REGISTER[0]!.title, year: '1989' },
      { doi: '10.5555/index.only', title: 'Only the index has it', year: '2001' },
      // a work of which the pool has a record without a DOI
      {
        ...{ doi: '10.5555/bare', title: 'Night walks of the harbour town', by: ['Sand, Ivo'], year: '2007' },
        ...{ journal: 'Annals of Night Paths', volume: '6', pages: '3-9' },
      },
    ],
  }),
)

const fields = {
  ...{ title: '$.title', authors: { each: '$.by[*]' }, date: '$.year', doi: '$.doi' },
  ...{ container: '$.journal', volume: '$.volume', pages: '$.pages' },
}
const register = readConnector({
  id: 'register',
  name: 'Register of Titles',
  perSecond: 100,
  calls: {
    search: { address: 'http://register.example/find/{title}', records: '$.list[*]', fields },
    work: { address: 'http://register.example/doi/{doi}', records: '$', fields },
    references: { address: 'http://register.example/refs/{doi}', records: '$.list[*]', fields },
  },
})

let desk: Desk
let id: number
let at: string
const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const put = async (path: string, body: object, status = 200) =>
  (
    await desk.owner
      .put(at + path)
      .send(body)
      .expect(status)
  ).body
type List = Answer<'list'>
const listed = (list: number): Promise<List> => get(`/lists/${list}`)
const take = async (body: object): Promise<List> => {
  const made = await post('/lists', body, 202)
  const { state, error } = await desk.finish(id, made.job)
  expect([state, error]).toEqual(['done', null])
  return listed(made.id)
}
async function bring(bibtex: string): Promise<void> {
  const { body } = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'list.bib')
    .send(Buffer.from(bibtex))
    .expect(202)
  await desk.finish(id, body.job)
}
interface Line {
  id: number
  doi: string | null
  title: string
}
const works = (): Promise<Line[]> => get('/works')
const workOf = async (title: string) => (await works()).find(w => w.title === title)!.id
/** What each entry means, by title; "?" where it is not settled. */
const meant = (l: List) =>
  l.entries.map(e => (e.means !== null ? l.nodes[e.means]!.item.title : e.matches.length ? '?' : 'unknown'))
const said = async (by: string) => {
  const l = await desk.context.db.citations.findAll({ where: { inquiryId: id, saidBy: by as 'copy' }, raw: true })
  const nodes = await desk.context.db.nodes.findAll({ where: { inquiryId: id }, raw: true })
  const title = (n: number) => nodes.find(x => x.id === n)!.item.title
  return l.map(x => `${title(x.citing)} → ${title(x.cited)}`).sort()
}

const PASTED = `References
1. Wexcombe T. (1989) Lamps in the allotment: moths, gardeners and the municipal night. Ostermoor: Grey Fell Books.
2. Sand I (2012) Lit paths of quarter 2. Ann. Night Paths 12, 20-31.
3. Sand, Ann. Night Paths 13, 30 (2013).
4. Hartigan-Moss R. (2010) Light at night.
5. Tarn J. (2003) Nobody has this one. Night Papers 3, 1.`

beforeAll(async () => {
  desk = await openDesk('lists', outside)
  desk.context.settings.outside.connectors.splice(0, Infinity, register)
  desk.context.settings.outside.catalogues.splice(0)
})
afterAll(() => desk.close())
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  const entry = (i: number) =>
    `@article{p${i}, title={Lit paths of quarter ${i}}, author={Sand, Ivo}, year={${2010 + i}}, journal={Annals of Night Paths}, volume={${10 + i}}, pages={${i}0--${i}9}, doi={10.5555/lit.${i}}}`
  await bring([2, 3, 4].map(entry).join('\n'))
  down = false
  asked = []
})

test('a pasted list is cut, and its works are found: in the pool, outside, two that fit, and none', async () => {
  const l = await take({ text: PASTED, name: 'A draft' })
  expect([l.name, l.by, l.work, l.left]).toEqual(['A draft', 'numbers', null, 0])
  expect(l.entries.map(e => e.label)).toEqual(['1', '2', '3', '4', '5'])
  expect(meant(l)).toEqual([REGISTER[0]!.title, 'Lit paths of quarter 2', 'Lit paths of quarter 3', '?', 'unknown'])
  // what is known here is not asked for outside
  expect(asked.filter(a => /quarter/.test(a))).toEqual([])
  const [, second, , fourth] = l.entries
  expect(l.nodes[second!.means!]!.work).toBe(await workOf('Lit paths of quarter 2'))
  expect(fourth!.matches.map(m => l.nodes[m.node]!.item.DOI).sort()).toEqual(['10.5555/alike.1', '10.5555/alike.2'])
  expect(l.entries.every(e => e.missing === null)).toBe(true)
  // a list that is nobody's says no citations
  expect(await desk.context.db.citations.count({ where: { inquiryId: id } })).toBe(0)
  expect((await get('/lists')).map((x: { name: string; entries: number }) => [x.name, x.entries])).toEqual([
    ['A draft', 5],
  ])
})

test('an entry is settled by hand, kept as it is printed, and the word is taken back', async () => {
  const l = await take({ text: PASTED, work: await workOf('Lit paths of quarter 4') })
  const own = 'Lit paths of quarter 4 → '
  const sure = [REGISTER[0]!.title, 'Lit paths of quarter 2', 'Lit paths of quarter 3'].map(t => own + t)
  expect(await said('student')).toEqual([...sure].sort())
  const that = l.nodes[l.entries[3]!.matches[1]!.node]!
  await put(`/lists/${l.id}/entries/4`, { means: 'this', node: that.id })
  expect(await said('student')).toEqual([...sure, `${own}Light at night`].sort())
  expect((await put(`/lists/${l.id}/entries/5`, { means: 'as printed' })).node).toEqual(expect.any(Number))
  expect(meant(await listed(l.id))[4]).toBe('Nobody has this one')
  await put(`/lists/${l.id}/entries/1`, { means: 'none' })
  const now = await listed(l.id)
  expect([now.entries[0]!.means, now.entries[0]!.byHand]).toEqual([null, true])
  expect(await said('student')).not.toContain(sure[0])
  for (const n of [1, 4, 5]) await put(`/lists/${l.id}/entries/${n}`, { means: 'as found' })
  expect(meant(await listed(l.id))).toEqual(meant(l))
  expect(await said('student')).toEqual([...sure].sort())
  await put(`/lists/${l.id}/entries/4`, { means: 'this', node: 999_999 }, 422)
  await put(`/lists/${l.id}/entries/9`, { means: 'none' }, 404)
  // with the list its citations go
  await desk.owner.delete(`${at}/lists/${l.id}`).expect(204)
  expect(await said('student')).toEqual([])
  await desk.owner.get(`${at}/lists/${l.id}`).expect(404)
})

test('the list of a copy is the work’s own, and where the index disagrees both are kept', async () => {
  const work = await workOf('Lit paths of quarter 4')
  const { db } = desk.context
  const copy = await db.sequelize.transaction(async t => {
    const hash = await storeBlob(db, Buffer.from(`%PDF ${id}`), 'application/pdf', t)
    return putCopy(
      db,
      {
        inquiryId: id,
        workId: work,
        hash,
        origin: 'dropped',
        outcome: 'proved',
        version: 'version of record',
        proof: { outcome: 'proved' } as never,
        pages: 9,
        labels: [],
      },
      t,
    )
  })
  const texts = [
    'Wexcombe T. (1989) Lamps in the allotment: moths, gardeners and the municipal night. Grey Fell Books.',
    'Sand I. (2012) Lit paths of quarter 2. Annals of Night Paths, 12, 20-31.',
    'Sand I. (2007) Night walks of the harbour town. Annals of Night Paths, 6, 3-9.',
  ]
  await bring(
    '@article{b, title={Night walks of the harbour town}, author={Sand, Ivo}, year={2007}, journal={Annals of Night Paths}, volume={6}, pages={3--9}}',
  )
  await db.copyReferences.bulkCreate(
    texts.map((text, i) => {
      const { item, sure } = readReference(text)
      return {
        copyId: copy.id,
        n: i + 1,
        label: String(i + 1),
        text,
        boxes: [{ page: 7 + i, x: 1, y: 1, width: 1, height: 1 }],
        item,
        sure,
      }
    }),
  )
  const l = await take({ copy: copy.id })
  expect([l.name, l.work, l.copy, l.indexDay]).toEqual(['References of “Lit paths of quarter 4”', work, copy.id, null])
  expect(l.entries.map(e => e.page)).toEqual([7, 8, 9])
  expect(l.entries.map(e => e.inIndex)).toEqual([null, null, null])
  const { job } = await post('/rounds', { scope: 'work', of: work }, 202)
  await desk.finish(id, job)
  const then = await listed(l.id)
  expect(then.indexDay).toBe('2026-10-05')
  expect(then.entries.map(e => e.inIndex)).toEqual([true, false, true])
  expect(then.indexOnly.map(n => then.nodes[n]!.item.title)).toEqual(['Only the index has it'])
  expect(await said('copy')).toHaveLength(3)
  expect(await said('index')).toHaveLength(3)
  // taken once more it is the same list
  expect((await take({ copy: copy.id })).id).toBe(l.id)
  // and what it says stays its word when the copy is gone
  await db.copies.destroy({ where: { id: copy.id } })
  await put(`/lists/${l.id}/entries/2`, { means: 'none' })
  expect([await said('copy'), await said('student')]).toEqual([
    [
      'Lit paths of quarter 4 → Lamps in the allotment: moths, gardeners and the municipal night',
      'Lit paths of quarter 4 → Night walks of the harbour town',
    ],
    [],
  ])
})

test('who cannot be asked is named with the entry, and asked when one looks again; an entry is put right', async () => {
  down = true
  const l = await take({ text: PASTED })
  expect(l.entries[0]).toMatchObject({ means: null, missing: 'Register of Titles could not be asked.' })
  expect(l.entries[1]!.missing).toBeNull()
  down = false
  const again = await post(`/lists/${l.id}/look`, {}, 202)
  await desk.finish(id, again.job)
  const now = await listed(l.id)
  expect(now.entries[0]!.missing).toBeNull()
  expect(meant(now)[0]).toBe(REGISTER[0]!.title)
  const made = await post(
    `/lists/${l.id}/entries/5`,
    { text: 'Sand I. (2014) Lit paths of quarter 4. Annals of Night Paths 14, 40.' },
    202,
  )
  await desk.finish(id, made.job)
  expect(meant(await listed(l.id))[4]).toBe('Lit paths of quarter 4')
})

test('a look for works that is ended in the middle goes on where it was, and nothing is there twice', async () => {
  const made = await post('/lists', { text: PASTED, work: await workOf('Lit paths of quarter 4') }, 202)
  await desk.finish(id, made.job)
  const whole = await listed(made.id)
  const handle = (signal: AbortSignal) => ({
    job: { inquiryId: id, userId: null, payload: { list: made.id } } as never,
    signal,
    progress: async () => undefined,
  })
  await desk.context.db.listEntries.update({ looked: false, matches: [] }, { where: { listId: made.id } })
  const stop = new AbortController()
  let looked = 0
  const cut = runList(desk.context, {
    ...handle(stop.signal),
    progress: async () => void (++looked === 3 && stop.abort(new Error('The server ended.'))),
  })
  await expect(cut).rejects.toThrow('The server ended.')
  expect((await listed(made.id)).left).toBe(3)
  await runList(desk.context, handle(new AbortController().signal))
  const then = await listed(made.id)
  expect(meant(then)).toEqual(meant(whole))
  expect(then.nodes.map(n => n.id)).toEqual(whole.nodes.map(n => n.id))
})

test('words that are put right while a list is looked through are looked for, and count', async () => {
  const made = await post('/lists', { text: PASTED }, 202)
  await desk.finish(id, made.job)
  await desk.context.db.listEntries.update({ looked: false, matches: [] }, { where: { listId: made.id } })
  let told = 0
  await runList(desk.context, {
    job: { inquiryId: id, userId: null, payload: { list: made.id } } as never,
    signal: new AbortController().signal,
    progress: async () => {
      // entry 3 is being looked for, entry 1 was
      if (++told === 3)
        for (const n of [1, 3])
          await desk.context.db.listEntries.update(
            {
              text: 'Sand I. (2014) Lit paths of quarter 4. Annals of Night Paths 14, 40.',
              looked: false,
              matches: [],
            },
            { where: { listId: made.id, n } },
          )
    },
  })
  expect(meant(await listed(made.id)).slice(0, 3)).toEqual([
    'Lit paths of quarter 4',
    'Lit paths of quarter 2',
    'Lit paths of quarter 4',
  ])
})

test('what is no list is refused, and what belongs to others is not there', async () => {
  expect((await post('/lists', { text: '  \n ' }, 422)).code).toBe('nothing-pasted')
  expect((await post('/lists', { text: 'x', work: 999_999 }, 422)).code).toBe('unknown-work')
  await post('/lists', { copy: 999_999 }, 404)
  const l = await take({ text: 'something that is no reference' })
  expect(meant(l)).toEqual(['unknown'])
  const other = await desk.signIn('stranger@desk.example')
  await other.get(`${at}/lists/${l.id}`).expect(404)
  const elsewhere = `/api/inquiries/${await newInquiry(desk)}`
  await desk.owner.get(`${elsewhere}/lists/${l.id}`).expect(404)
  await desk.owner.put(`${elsewhere}/lists/${l.id}/entries/1`).send({ means: 'none' }).expect(404)
  await desk.owner
    .post(`${at}/lists/${l.id}/entries/1`)
    .send({ text: '' })
    .set('Idempotency-Key', randomUUID())
    .expect(422)
})

test('an entry kept as it is printed is the work once that comes in, and what an index said of a work stays', async () => {
  const line = 'Tarn, Jon. 2003. Nobody has this one. Night Papers 3, 1-9.'
  const l = await take({ text: line })
  const { node } = await put(`/lists/${l.id}/entries/1`, { means: 'as printed' })
  await desk.context.db.nodes.update({ facts: { citedByCount: 7 } }, { where: { id: node } })
  await bring(
    '@article{t, title={Nobody has this one}, author={Tarn, Jon}, year={2003}, journal={Night Papers}, volume={3}, pages={1--9}}',
  )
  const again = await take({ text: line, name: 'again' })
  expect(again.nodes.map(n => [n.id, n.work])).toEqual([[node, await workOf('Nobody has this one')]])
  expect((await desk.context.db.nodes.findByPk(node, { raw: true }))!.facts).toEqual({ citedByCount: 7 })
})
