import { afterAll, beforeAll, beforeEach, describe, expect, test } from '@jest/globals'
import type { Item } from '../../core/bib/item'
import { spokenName } from '../../core/bib/names'
import { readReference } from '../../core/match/reference'
import type { Answer } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { addNodes, putCitations } from '../trace/graph-model'
import { nodeRowOfWork, nodeRows } from '../trace/graph-service'
import { bringItems, newInquiry, openDesk, putCopy, type Desk } from './desk'

let desk: Desk
let id: number
let at: string
/** The works by the first word of their titles. */
let works: Map<string, number>

const article = (more: object) => ({ type: 'article-journal', 'container-title': 'Annals of Night Paths', ...more })
beforeAll(async () => {
  desk = await openDesk('said')
})
afterAll(() => desk.close())
beforeEach(async () => {
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, [
    article({
      ...{ id: 'a', title: 'Harbour lamps and the moths of a cold spring', DOI: '10.5555/harbour.1' },
      ...{
        author: [{ family: 'Åström', given: 'Mara' }],
        issued: { 'date-parts': [[2014]] },
        volume: '6',
        page: '3-9',
      },
    }),
    article({ id: 'b', title: 'Orchards in a lit town', issued: { 'date-parts': [[2020]] } }),
    article({ id: 'c', title: 'Bridges at dusk', issued: { 'date-parts': [[2021]] } }),
    article({ id: 'd', title: 'Quays without light', issued: { 'date-parts': [[2022]] } }),
  ])
  const lines = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  works = new Map(lines.map(w => [w.title.split(' ')[0]!, w.id]))
})
const work = (name: string) => works.get(name)!
const said = async (name = 'Harbour') => (await desk.get(`${at}/works/${work(name)}/said`)) as Answer<'saidOf'>

const CITES = 'Åström, M. (2014). Harbour lamps and the moths of a cold spring. Annals of Night Paths, 6, 3–9.'
/** A copy of a work, with a page of text before its list of references. */
async function copyOf(name: string, text: string, list: string[], right?: { userId: number; kind: 'own' }) {
  const { db } = desk.context
  const row = { inquiryId: id, workId: work(name), origin: 'elsewhere' }
  const proof = { outcome: 'proved' as const, evidence: [], score: 1 }
  const more = { outcome: 'proved' as const, version: 'version of record', pages: 2, labels: ['101', '102'], proof }
  const copy = await db.sequelize.transaction(async t => {
    const hash = await storeBlob(db, Buffer.from(`${name} ${text}`), 'application/pdf', t)
    return putCopy(db, { ...row, ...more, hash }, t)
  })
  if (right) await db.copyRights.update(right, { where: { copyId: copy.id } })
  await db.copyPages.bulkCreate([
    { copyId: copy.id, page: 1, content: text },
    { copyId: copy.id, page: 2, content: list.join('\n') },
  ])
  await db.copyReferences.bulkCreate(
    list.map((entry, i) => {
      const { item, sure } = readReference(entry)
      const boxes = [{ page: 2, x: 60, y: 60 + 20 * i, width: 300, height: 12 }]
      return { copyId: copy.id, n: i + 1, label: null, text: entry, boxes, item, sure }
    }),
  )
  return copy.id
}
/** The graph says that one work cites the other. */
async function cites(citing: string, cited: string) {
  const c = desk.context
  await c.db.sequelize.transaction(async t => {
    const nodes = []
    for (const name of [citing, cited]) {
      const { item, facts } = (await c.db.works.findOne({ where: { id: work(name) }, transaction: t, raw: true }))!
      const row = await nodeRowOfWork(c, { id: work(name), item: item as Item, facts }, t)
      nodes.push((await addNodes(c, id, [row], t)).get(row.nodeKey)!)
    }
    const [a, b] = nodes as [number, number]
    await putCitations(
      c,
      [{ inquiryId: id, citing: a, cited: b, saidBy: 'index', roundId: null, day: '2026-10-05' }],
      t,
    )
  })
}

test('the sentences of copies that cite a work are told, each with its page and its place', async () => {
  const copy = await copyOf('Orchards', 'Towns are lit. Moths fell by a third (Åström, 2014). Not so here.', [
    'Birch, O. (2014). Of other lamps. Annals of Night Paths, 6, 30–39.',
    CITES,
  ])
  await copyOf('Bridges', 'Nothing of lamps is said.', ['Birch, O. (2014). Of other lamps.'])
  const { texts, others } = await said()
  expect(texts).toEqual([
    {
      ...{ work: work('Orchards'), copy, version: 'version of record', entry: 2 },
      places: [{ page: 1, label: '101', said: 'Moths fell by a third (Åström, 2014).', at: { from: 23, to: 35 } }],
    },
  ])
  expect(others).toEqual([])
  // nobody cites the other one, and one that is not there is not
  expect(await said('Quays')).toEqual({ texts: [], others: [] })
  await desk.owner.get(`${at}/works/999999/said`).expect(404)
})

test('works that the graph knows to cite it are told without a sentence, each once', async () => {
  await copyOf('Orchards', 'So it is (Åström, 2014).', [CITES])
  await copyOf('Quays', 'Of something else.', [])
  for (const name of ['Orchards', 'Bridges', 'Quays']) await cites(name, 'Harbour')
  const { texts, others } = await said()
  expect(texts.map(t => t.work)).toEqual([work('Orchards')])
  expect(others).toEqual([
    { work: work('Bridges'), hasCopy: false },
    { work: work('Quays'), hasCopy: true },
  ])
})

test('of a work outside the pool the same is told, by its node; of one that came in since, as of a work', async () => {
  await copyOf('Orchards', 'So it is (Dorn, 1999).', [
    'Dorn, O. (1999). Moths at three windows. Harbour Studies, 3, 1-9.',
  ])
  const { db } = desk.context
  const item = { type: 'article-journal', title: 'Moths at three windows', author: [{ family: 'Dorn', given: 'O.' }] }
  const dated = { ...item, id: '', issued: { 'date-parts': [[1999]] }, DOI: '10.5555/windows' } as Item
  const [row] = await nodeRows([{ item: dated, facts: {} }], null)
  const node = await db.sequelize.transaction(async t =>
    (await addNodes(desk.context, id, [row!], t)).get(row!.nodeKey)!,
  )
  const ofNode = async (n: number) => (await desk.get(`${at}/nodes/${n}/said`)) as Answer<'saidOf'>
  expect((await ofNode(node)).texts.map(t => t.places[0]?.said)).toEqual(['So it is (Dorn, 1999).'])
  await bringItems(desk, id, [{ ...dated, id: 'n' }])
  expect((await ofNode(node)).texts.map(t => t.places.length)).toEqual([1])
  await desk.owner.get(`${at}/nodes/999999/said`).expect(404)
})

test('of several copies of one work the one that says most is told; an entry that is never cited is told as such', async () => {
  await copyOf('Orchards', 'So it is (Åström, 2014).', [CITES])
  const more = await copyOf('Orchards', 'So it is (Åström, 2014). Åström (2014) says so.', [CITES])
  const bare = await copyOf('Bridges', 'Of nobody.', [CITES])
  expect((await said()).texts.map(t => [t.copy, t.places.length])).toEqual([
    [more, 2],
    [bare, 0],
  ])
})

test('of more texts than are looked through the oldest are named without their sentences', async () => {
  await copyOf('Bridges', 'So it was (Åström, 2014).', [CITES])
  for (let i = 0; i < 60; i++) await copyOf('Orchards', `So it is in text ${i} (Åström, 2014).`, [CITES])
  const { texts, others } = await said()
  expect(texts.map(t => [t.work, t.places.length])).toEqual([[work('Orchards'), 1]])
  expect(others).toEqual([{ work: work('Bridges'), hasCopy: true }])
})

test('the sentences of a copy that is another’s own are not told', async () => {
  await copyOf('Orchards', 'So it is (Åström, 2014).', [CITES], { userId: 4_000_000, kind: 'own' })
  expect((await said()).texts).toEqual([])
})

test('what somebody says that an entry means counts before what it reads like', async () => {
  const copy = await copyOf('Orchards', 'So it is (Åström, 2014). Others differ (Dorn, 1999).', [
    CITES,
    'Dorn, O. (1999). Moths. Marlund: Post.',
  ])
  const { id: list, job } = await desk.post(`${at}/lists`, { copy }, 202)
  await desk.finish(id, job)
  const { nodes, entries } = (await desk.get(`${at}/lists/${list}`)) as Answer<'list'>
  const settle = (n: number, body: object) => desk.owner.put(`${at}/lists/${list}/entries/${n}`).send(body).expect(200)
  await settle(1, { means: 'none' })
  expect((await said()).texts).toEqual([])
  const node = nodes[entries[0]!.matches[0]!.node]!.id
  await settle(2, { means: 'this', node })
  expect((await said()).texts.map(t => [t.entry, t.places.map(p => p.said)])).toEqual([
    [2, ['Others differ (Dorn, 1999).']],
  ])
})

test('a name of signs that a pattern means by itself is looked for as it stands', async () => {
  await bringItems(desk, id, [
    article({
      id: 'e',
      title: 'Percentages of light',
      author: [{ literal: '100%_Dark' }],
      issued: { 'date-parts': [[2015]] },
    }),
  ])
  const lines = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  works.set('Percentages', lines.find(w => w.title === 'Percentages of light')!.id)
  await copyOf('Orchards', 'So it is (Åström, 2014).', [CITES])
  expect((await said('Percentages')).texts).toEqual([])
})

describe('an author', () => {
  const author = async (query: string) =>
    ((await desk.get(`${at}/author?${query}`)) as Answer<'author'>).persons.map(p => ({
      name: spokenName(p.name),
      works: p.works.map(w => w.work ?? w.pointer?.title),
      isOther: p.isOther,
    }))
  const by = (...names: string[]) => ({
    author: names.map(n => ({ family: n.split(' ').at(-1)!, given: n.split(' ').slice(0, -1).join(' ') })),
  })
  beforeEach(async () => {
    await bringItems(desk, id, [
      article({ id: 'f', title: 'Ferries', ...by('Mara Åström', 'Odo Vale'), issued: { 'date-parts': [[2016]] } }),
      article({ id: 'g', title: 'Granaries', 'container-title': 'Elsewhere', ...by('Mona Åström') }),
      article({ id: 'h', title: 'Halls', ...by('Mara Åströmsund') }),
    ])
    const lines = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
    for (const w of lines) works.set(w.title.split(' ')[0]!, w.id)
  })

  test('is told by the works of the pool and of the trails, others of the name apart', async () => {
    const item = { type: 'article-journal', title: 'Ships of the trail', ...by('M. Astrom', 'O. Vale') }
    const [row] = await nodeRows([{ item: { ...item, id: '' } as Item, facts: {} }], null)
    await desk.context.db.sequelize.transaction(t => addNodes(desk.context, id, [row!], t))
    expect(await author(`family=${encodeURIComponent('Åström')}&given=Mara&work=${work('Harbour')}`)).toEqual([
      { name: 'Mara Åström', works: [work('Ferries'), work('Harbour'), 'Ships of the trail'], isOther: false },
    ])
    const [, ...others] = await author(`family=astrom&given=M.&work=${work('Harbour')}`)
    expect(others).toEqual([{ name: 'Mona Åström', works: [work('Granaries')], isOther: true }])
  })
  test('a work that the pool has without its DOI is not told a second time', async () => {
    const item = { type: 'article-journal', title: 'FERRIES', ...by('Mara Åström', 'Odo Vale'), DOI: '10.5555/ferries' }
    const dated = { ...item, id: '', issued: { 'date-parts': [[2016]] } } as Item
    const [row] = await nodeRows([{ item: dated, facts: {} }], null)
    await desk.context.db.sequelize.transaction(t => addNodes(desk.context, id, [row!], t))
    expect((await author('family=Vale&given=Odo')).map(p => p.works)).toEqual([[work('Ferries')]])
  })
  test('of whom nothing is known is nobody; a pattern within a name is none', async () => {
    expect(await author('family=Nobody')).toEqual([])
    expect(await author(`family=${encodeURIComponent('%')}`)).toEqual([])
    await desk.owner.get(`${at}/author`).expect(422)
    await desk.owner.get(`${at}/author?family=A&work=0`).expect(422)
  })
})

const back = async () => (await desk.get(`${at}/taken-back`)) as Answer<'takenBack'>

test('what a source calls retracted is told with those that lean on it, by the graph and by the lists of copies', async () => {
  expect(await back()).toEqual([])
  // a second source knows more than the first
  await bringItems(desk, id, [
    article({
      ...{ id: 'r', title: 'RETRACTED: Harbour lamps and the moths of a cold spring', DOI: '10.5555/harbour.1' },
      ...{ author: [{ family: 'Åström', given: 'Mara' }], issued: { 'date-parts': [[2014]] } },
    }),
  ])
  await copyOf('Orchards', 'So it is (Åström, 2014).', [CITES])
  await copyOf('Quays', 'So it is (Åström, 2014).', [CITES], { userId: 4_000_000, kind: 'own' })
  await cites('Bridges', 'Harbour')
  expect(await back()).toMatchObject([
    {
      ...{ work: work('Harbour'), node: null, says: 'retracted', by: null },
      citing: [work('Orchards'), work('Bridges')].sort((a, b) => a - b),
    },
  ])
})

test('a notice in the pool, or among the works around it, speaks of the one that it names', async () => {
  await bringItems(desk, id, [
    article({ id: 'n', title: 'Correction to: Bridges at dusk', issued: { 'date-parts': [[2023]] } }),
    // it names what nobody has
    article({ id: 'm', title: 'Retraction: Moths of another harbour', issued: { 'date-parts': [[2023]] } }),
  ])
  const notice = { type: 'article-journal', title: 'Retraction of “Quays 100% without_light”', id: '' } as Item
  const dorn = { type: 'article-journal', title: 'Quays 100% without_light', id: '', DOI: '10.5555/dorn' } as Item
  const rows = await nodeRows(
    [notice, dorn].map(item => ({ item, facts: {} })),
    null,
  )
  await desk.context.db.sequelize.transaction(t => addNodes(desk.context, id, rows, t))
  const told = await back()
  expect(told.map(t => [t.says, t.title, t.by?.title, t.work ?? 'outside'])).toEqual([
    ['retracted', 'Quays 100% without_light', 'Retraction of “Quays 100% without_light”', 'outside'],
    ['corrected', 'Bridges at dusk', 'Correction to: Bridges at dusk', work('Bridges')],
  ])
  const stranger = await desk.signIn('stranger@desk.example')
  await stranger.get(`${at}/taken-back`).expect(404)
})

test('what a registration names is told without its title: by the notice here, by one that nobody has, each once', async () => {
  const registered = (id_: string, title: string, more: object) =>
    article({ id: id_, title, DOI: `10.5555/${id_}`, issued: { 'date-parts': [[2015]] }, ...more })
  await bringItems(desk, id, [
    registered('owls', 'Owls of the far quay', {
      'updated-by': [
        { DOI: '10.5555/note', type: 'retraction' },
        { DOI: '10.5555/new', type: 'new_version' },
      ],
    }),
    registered('bread', 'Bread in the dark hours', {}),
    registered('other', 'What the editors have to say', {
      'update-to': [
        { DOI: '10.5555/BREAD', type: 'expression_of_concern' },
        { DOI: '10.5555/nobody', type: 'retraction' },
      ],
    }),
  ])
  const told = await back()
  expect(told.map(t => [t.says, t.title, t.by?.title ?? t.notice])).toEqual([
    ['retracted', 'Owls of the far quay', '10.5555/note'],
    ['in doubt', 'Bread in the dark hours', 'What the editors have to say'],
  ])
  // asked for an entry, the registration says it too, by its own name
  await desk.context.db.doiRegistrations.create({
    ...{ doi: '10.5555/bread', source: 'Registry of Quays', item: { id: '', type: 'article' }, day: '2026-10-05' },
    facts: { updatedBy: [{ doi: '10.5555/far', type: 'correction' }] },
  })
  await bringItems(desk, id, [registered('last', 'A last one, so that it is looked at again', {})])
  expect((await back()).find(t => t.says === 'corrected')).toMatchObject({
    ...{ title: 'Bread in the dark hours', notice: '10.5555/far', source: 'Registry of Quays', by: null },
    at: '2026-10-05T00:00:00.000Z',
  })
})
