import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { partsOf, readText } from '../../core/pdftext/read-text'
import type { Answer } from '../../core/schema/api'
import { storeBlob } from '../db/blobs'
import { addNodes, putCitations } from '../trace/graph-model'
import { nodeRowOfWork } from '../trace/graph-service'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
/** Entries by the title of their work. */
const entryOf = new Map<string, { entry: number; work: number }>()

const ITEMS = [
  {
    ...{ id: 'a', type: 'article-journal', title: 'Lamps over a harbour', volume: '7', page: '158-140' },
    ...{ author: [{ family: 'Lune', given: 'Mara' }], 'container-title': 'Night Papers', DOI: '10.5555/np.7' },
    issued: { 'date-parts': [[2011]] },
  },
  {
    ...{ id: 'b', type: 'article-journal', title: 'Owl Calls Beside Lit Harbour Roads', volume: '3' },
    ...{ author: [{ family: 'Sand', given: 'Otto' }], 'container-title': 'Night Papers' },
    ...{ abstract: 'We counted owl calls beside the lit roads of a harbour, and other calls in the dark.' },
    issued: { 'date-parts': [[2012]] },
  },
  {
    ...{ id: 'c', type: 'article-journal', title: 'Correction to: Lamps over a harbour' },
    ...{ 'container-title': 'Night Papers', issued: { 'date-parts': [[2012]] } },
    author: [{ family: 'Lune', given: 'Mara' }],
  },
]

beforeAll(async () => {
  desk = await openDesk('entry_checks')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, ITEMS)
  const works = (await desk.get(`${at}/works`)) as { id: number; title: string }[]
  for (const { id: work, title } of works.filter(w => !w.title.startsWith('Correction'))) {
    await desk.post(`${at}/decisions`, {
      group: randomUUID(),
      decisions: [{ id: randomUUID(), work, choice: 'keep', pass: 'title' }],
    })
    const made = (await desk.post(`${at}/entries`, { work })) as { id: number }
    entryOf.set(title, { entry: made.id, work })
  }
})
afterAll(() => desk.close())

const checks = (style = '') => desk.get(`${at}/bibliography/checks${style}`) as Promise<Answer<'entryChecks'>>
const findingsOf = async (title: string, style?: string) =>
  (await checks(style)).entries.find(e => e.entry === entryOf.get(title)!.entry)!.findings
const mark = (work: number, about: string, value: unknown, status = 201) =>
  desk.owner
    .post(`${at}/marks`)
    .send({ group: randomUUID(), marks: [{ id: randomUUID(), work, about, value }] })
    .expect(status)

test('each entry is told with what is wrong of it, and what speaks for that', async () => {
  const found = await findingsOf('Lamps over a harbour')
  expect(found.map(f => f.what)).toEqual(['A correction of it is in your pool', 'The pages run backwards'])
  expect(found.every(f => !f.isRight && f.why)).toBe(true)
})

test('capitals are judged by the style that is asked for, and by the words of the work', async () => {
  const title = 'Owl Calls Beside Lit Harbour Roads'
  const [capitals] = await findingsOf(title)
  expect(capitals).toMatchObject({ theirs: 'Owl calls beside lit harbour roads', field: 'title' })
  expect(await findingsOf(title, '?style=modern-language-association')).toEqual([])
  // mended as a word of the student's on its work, and the list prints it so
  const { work } = entryOf.get(title)!
  await mark(work, 'field:title', capitals!.mend!.value)
  expect(await findingsOf(title)).toEqual([])
  const list = (await desk.get(`${at}/bibliography`)) as Answer<'bibliography'>
  expect(list.entries.map(e => e.title)).toContain('Owl calls beside lit harbour roads')
})

test('a finding that is right as it is stays told, and is asked about again where that is taken back', async () => {
  const { work } = entryOf.get('Lamps over a harbour')!
  const of = async () => (await findingsOf('Lamps over a harbour')).find(f => f.field === 'page')!
  const { key } = await of()
  await mark(work, `right:${key}`, true)
  expect((await of()).isRight).toBe(true)
  await mark(work, `right:${key}`, null)
  expect((await of()).isRight).toBe(false)
  await mark(work, `right:${key}`, 'perhaps', 422)
})

test('a proved copy settles what the record has, and learns nothing from one that is doubtful', async () => {
  const { db } = desk.context
  const { work, entry } = entryOf.get('Lamps over a harbour')!
  const hash = await db.sequelize.transaction(t => storeBlob(db, Buffer.from(randomUUID()), 'application/pdf', t))
  const parts = {
    ...partsOf(readText([])),
    by: ['printed' as const],
    front: {
      ...{
        title: 'Lamps over a harbour',
        doi: '10.5555/np.8',
        authors: [{ name: ITEMS[0]!.author[0]!, affiliations: [] }],
      },
      source: { 'container-title': 'Night Papers', volume: '8', page: '140-158' },
    },
  }
  const copy = await putCopy(db, {
    ...{
      inquiryId: id,
      workId: work,
      hash,
      origin: 'a test',
      outcome: 'doubtful' as const,
      version: 'version of record',
    },
    ...{ proof: { outcome: 'doubtful' as const, evidence: [] }, pages: 3, labels: ['140', '141', '158'], parts },
  })
  const of = async () => (await checks()).entries.find(e => e.entry === entry)!
  expect((await of()).copy).toBeNull()
  await db.copies.update({ outcome: 'proved' }, { where: { id: copy.id } })
  const told = await of()
  expect(told).toMatchObject({ copy: copy.id, agrees: ['title', 'authors'] })
  const byField = Object.fromEntries(told.findings.map(f => [f.field ?? f.what, f.mend?.value]))
  expect(byField).toMatchObject({ volume: { text: '8' }, DOI: { text: '10.5555/np.8' } })
})

test('an empty list has nothing to check', async () => {
  const empty = await newInquiry(desk)
  expect(((await desk.get(`/api/inquiries/${empty}/bibliography/checks`)) as Answer<'entryChecks'>).entries).toEqual([])
})

test('a notice of retraction is told of the work, and of each that cites it', async () => {
  const gone = 'Retraction: Owl calls beside lit harbour roads'
  await bringItems(desk, id, [
    { ...ITEMS[1]!, id: 'r', title: gone, abstract: undefined, volume: '4', DOI: '10.5555/r' },
  ])
  const { db } = desk.context
  const owl = entryOf.get(ITEMS[1]!.title)!
  const lamps = entryOf.get('Lamps over a harbour')!
  const found = await findingsOf(ITEMS[1]!.title)
  expect(found.find(f => f.what === 'It was retracted')?.why).toMatch(/^“Retraction: Owl calls .+ says so, in /)
  expect(await findingsOf('Lamps over a harbour')).not.toContainEqual(
    expect.objectContaining({ what: 'It cites a work that was retracted' }),
  )
  const works = await db.works.findAll({ where: { id: [lamps.work, owl.work] }, order: ['id'], raw: true })
  await db.sequelize.transaction(async t => {
    const ids: number[] = []
    for (const w of [lamps.work, owl.work].map(x => works.find(y => y.id === x)!)) {
      const row = await nodeRowOfWork(desk.context, w, t)
      ids.push((await addNodes(desk.context, id, [row], t)).get(row.nodeKey)!)
    }
    const [citing, cited] = ids as [number, number]
    const said = { inquiryId: id, citing, cited, saidBy: 'index' as const, roundId: null, day: '2026-10-05' }
    await putCitations(desk.context, [said], t)
  })
  expect((await findingsOf('Lamps over a harbour')).map(f => f.what)).toContain('It cites a work that was retracted')
})
