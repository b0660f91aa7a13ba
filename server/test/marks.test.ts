import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
let at: string
const BIB = `
@article{a, title={Lamps and moths of the towns}, author={Okafor, Ada}, year={2012}, journal={Night Papers}, volume={4}, pages={1--9}, language={en}, abstract={We counted moths at lamps.}}
@article{b, title={Owls of the harbour}, author={Ruiz, Bea}, year={2015}, journal={Night Papers}, pages={20--31}}
@article{c, title={Review of Harbours at dusk, by B. Ruiz}, author={Bee, Cy}, year={2016}, journal={Night Papers}, pages={301--303}}
@article{d, title={Bats under bridges}, author={Bee, Cy}, year={2001}, journal={Dusk Letters}}
@inproceedings{e, title={Counting beetles along lit roads in winter}, author={Moro, Di and Bee, Cy}, year={2010}, booktitle={Meeting on Dusk}, pages={4--9}}
@article{f, title={Counting beetles along lit roads in winter}, author={Moro, Di and Bee, Cy}, year={2012}, journal={Dusk Letters}, volume={9}, pages={100--131}}
`
beforeAll(async () => {
  desk = await openDesk('marks')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await importBib(BIB)
})
afterAll(() => desk.close())

async function importBib(text: string) {
  const sent = await desk.owner
    .post(`${at}/imports`)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'some.bib')
    .send(Buffer.from(text))
    .expect(202)
  return desk.finish(id, sent.body.job)
}
const get = (path: string) => desk.get(at + path)
const post = (path: string, body: object, status?: number) => desk.post(at + path, body, status)
const say = (work: number, about: string, value: unknown, more: object = {}, status = 201) => {
  const group = randomUUID()
  return post('/marks', { group, marks: [{ id: randomUUID(), work, about, value, ...more }] }, status).then(body => ({
    ...body,
    group,
  }))
}
const undo = (group: string, status = 201) => post('/undo', { group, id: randomUUID() }, status)
interface Line {
  id: number
  title: string
  kind: string
  part: string | null
  tags: string[]
  strands: number[]
  hasNote: boolean
  arrivals: string[]
  sources: string[]
  language: string | null
}
const line = async (title: string) => ((await get('/works')) as Line[]).find(w => w.title.includes(title))!

test('part, tags and a note are said, taken back, and said twice by one id only once', async () => {
  const { id: w } = await line('Owls')
  const { group } = await say(w, 'part', 'evidence')
  expect(await line('Owls')).toMatchObject({ part: 'evidence' })
  const mark = { id: randomUUID(), work: w, about: 'tag:birds', value: true }
  for (let i = 0; i < 2; i++) await post('/marks', { group: randomUUID(), marks: [mark] })
  await say(w, 'note', 'Mine.')
  expect(await line('Owls')).toMatchObject({ part: 'evidence', tags: ['birds'], hasNote: true })
  await undo(group)
  expect(await line('Owls')).toMatchObject({ part: null, tags: ['birds'] })
  // twice is harmless
  await undo(group)
  expect(await line('Owls')).toMatchObject({ part: null, tags: ['birds'] })
  // the same id for something else is refused
  const other = { ...mark, value: false }
  expect(await post('/marks', { group: randomUUID(), marks: [other] }, 409)).toMatchObject({ code: 'id-reused' })
  expect(await line('Owls')).toMatchObject({ tags: ['birds'] })
})

test('a step that a later one spoke of again cannot be taken back first', async () => {
  const { id: w } = await line('Bats')
  const first = await say(w, 'part', 'lead')
  const second = await say(w, 'part', 'background')
  expect(await undo(first.group, 409)).toMatchObject({ code: 'decided-since' })
  await undo(second.group)
  expect(await line('Bats')).toMatchObject({ part: 'lead' })
  await undo(first.group)
})

test.each([
  ['part', 'ornament'],
  ['kind', 'poem'],
  ['note', 7],
  ['tag:', true],
  [`tag:${'x'.repeat(61)}`, true],
  ['strand:4', 'yes'],
  ['field:colour', { text: 'red' }],
  ['field:title', { text: '  ' }],
  ['weight', 3],
])('nonsense is refused with a reason: %s', async (about, value) => {
  const { id: w } = await line('Bats')
  const { title } = await say(w, about, value, {}, 422)
  expect(title).toMatch(/[a-z].*\.$/i)
})

test('a note that another window changed is not written over', async () => {
  const { id: w } = await line('Lamps and moths')
  await say(w, 'note', 'First window.', { was: null })
  const refused = await say(w, 'note', 'Second window.', { was: null }, 409)
  expect(refused).toMatchObject({ code: 'changed-since', note: 'First window.' })
  await say(w, 'note', 'Both.', { was: 'First window.' })
  expect((await get(`/works/${w}`)).said.note).toBe('Both.')
})

test('a kind that is overruled stands, with the evidence kept beside it', async () => {
  const { id: w } = await line('Lamps and moths')
  const before = await get(`/works/${w}`)
  const { group } = await say(w, 'kind', 'magazine')
  const after = await get(`/works/${w}`)
  expect(after).toMatchObject({ kind: 'magazine', confidence: 1, ownKind: true, judged: { kind: before.kind } })
  expect(after.evidence).toEqual(before.evidence)
  await undo(group)
  expect(await get(`/works/${w}`)).toMatchObject({ kind: before.kind, judged: null, ownKind: false })
})

test('a field is corrected while its record stays as it came, and both outlast a second record', async () => {
  const { id: w } = await line('Lamps and moths')
  await say(w, 'field:title', { text: 'Lamps and moths of three towns' })
  await say(w, 'field:issued', { text: '2013-05' })
  const now = await get(`/works/${w}`)
  expect(now).toMatchObject({ title: 'Lamps and moths of three towns', year: 2013, fieldFrom: { title: 0, issued: 0 } })
  expect(now.records[0].item.title).toBe('Lamps and moths of the towns')
  await importBib(
    '@article{z, title={Lamps and moths of the towns}, author={Okafor, Ada}, year={2012}, journal={Night Papers}, volume={4}, pages={1--9}, doi={10.5555/np.4}}',
  )
  const joined = await get(`/works/${w}`)
  expect(joined.records).toHaveLength(2)
  expect(joined).toMatchObject({
    title: 'Lamps and moths of three towns',
    doi: '10.5555/np.4',
    said: { note: 'Both.' },
  })
  const other = joined.records[1].id
  await say(w, 'field:title', { record: other })
  expect(await get(`/works/${w}`)).toMatchObject({ title: 'Lamps and moths of the towns', fieldFrom: { title: other } })
})

describe('strands', () => {
  let one: number
  let two: number
  test('are named once each, renamed and put in order', async () => {
    one = (await post('/strands', { name: 'What lamps do' })).id
    two = (await post('/strands', { name: 'Where' })).id
    expect(await post('/strands', { name: 'what LAMPS do' }, 409)).toMatchObject({ code: 'name-taken' })
    expect(await post('/strands', { name: '  ' }, 422)).toMatchObject({ fields: [{ field: 'name' }] })
    await desk.owner.patch(`${at}/strands/${two}`).send({ place: 0, name: 'Which towns' }).expect(204)
    expect(await get('/strands')).toMatchObject([{ id: two, name: 'Which towns' }, { id: one }])
    await desk.owner.patch(`${at}/strands/9999`).send({ name: 'x' }).expect(404)
  })
  test('hold a work on several; moving it is one step', async () => {
    const { id: w } = await line('Owls')
    await say(w, `strand:${one}`, true)
    const group = randomUUID()
    await post('/marks', {
      group,
      marks: [
        { id: randomUUID(), work: w, about: `strand:${one}`, value: false },
        { id: randomUUID(), work: w, about: `strand:${two}`, value: true },
      ],
    })
    expect(await line('Owls')).toMatchObject({ strands: [two] })
    await undo(group)
    expect(await line('Owls')).toMatchObject({ strands: [one] })
    expect(await say(w, 'strand:9999', true, {}, 422)).toMatchObject({ code: 'unknown-strand' })
  })
  test('come back with their works when they are taken away by mistake', async () => {
    await desk.owner.patch(`${at}/strands/${one}`).send({ gone: true }).expect(204)
    expect(await get('/strands')).toHaveLength(1)
    await desk.owner.patch(`${at}/strands/${one}`).send({ gone: false }).expect(204)
    expect(await line('Owls')).toMatchObject({ strands: [one] })
  })
})

test('a view of the pool is kept under its name, replaced and removed', async () => {
  const limits = { kind: ['book'], year: ['2012'] }
  const view = await post('/views', { name: 'Books', limits, words: 'owl' })
  expect(await post('/views', { name: 'Books', limits: { kind: ['thesis'] } })).toMatchObject({ id: view.id })
  expect(await get('/views')).toEqual([{ id: view.id, name: 'Books', limits: { kind: ['thesis'] }, words: '' }])
  expect(await post('/views', { name: '', limits }, 422)).toMatchObject({ fields: [{ field: 'name' }] })
  // what is no limit of ours is not kept
  const odd = await post('/views', { name: 'Odd', limits: { colour: ['red'], kind: ['book'] } })
  expect(odd.limits).toEqual({ kind: ['book'] })
  await desk.owner.delete(`${at}/views/${odd.id}`).expect(204)
  await desk.owner.delete(`${at}/views/${view.id}`).expect(204)
  await desk.owner.delete(`${at}/views/${view.id}`).expect(404)
})

test('a browser that has the pool is told only what changed, and what was joined away', async () => {
  const whole = await get('/works/changes')
  expect(whole).toMatchObject({ whole: true, gone: [] })
  const since = (more = '') => get(`/works/changes?since=${whole.revision}&day=${whole.day}${more}`)
  expect(await since()).toMatchObject({ whole: false, lines: [], gone: [] })
  const { id: w } = await line('Bats')
  await post('/decisions', {
    group: randomUUID(),
    decisions: [{ id: randomUUID(), work: w, pass: 'title', choice: 'keep' }],
  })
  const changed = await since()
  expect(changed.lines.map((l: Line) => l.id)).toEqual([w])
  expect(changed.lines[0].decidedAt).toMatch(/^\d{4}-\d\d-\d\dT/)
  // joined with another: that one is gone
  const { id: owls } = await line('Owls')
  const { group } = await post('/links', { a: owls, b: w, verdict: 'same', group: randomUUID() })
  const joined = await since()
  expect(joined.gone).toEqual([Math.max(owls, w)])
  expect(joined.lines.map((l: Line) => l.id)).toEqual([Math.min(owls, w)])
  // the join is taken back from the history, and both stand as they did
  await undo(group)
  expect((await since()).lines.map((l: Line) => l.id).sort()).toEqual([owls, w].sort())
  expect(await line('Owls')).toMatchObject({ tags: ['birds'] })
  expect((await get(`/works/changes?since=${whole.revision}&day=1999-01-01`)).whole).toBe(true)
  await desk.owner.get(`${at}/works/changes?since=-3&day=${whole.day}`).expect(422)
})

test('a conference paper and the article it became are two works that know of each other', async () => {
  const works = ((await get('/works')) as Line[]).filter(w => w.title.startsWith('Counting beetles'))
  expect(works).toHaveLength(2)
  const [paper, article] = works
  expect((await get(`/works/${paper!.id}`)).linked).toMatchObject([{ work: article!.id }])
  expect((await get(`/works/${article!.id}`)).linked).toMatchObject([{ work: paper!.id }])
})

test('how works arrived is told by each of them', async () => {
  const arrivals = await get('/arrivals')
  expect(arrivals).toMatchObject([
    { how: 'file', records: 1, newWorks: 0, known: 1 },
    { how: 'file', records: 6, newWorks: 6, known: 0 },
  ])
  const [second, first] = arrivals
  expect(await line('Lamps and moths')).toMatchObject({ arrivals: [`${first.id} new`, `${second.id} known`] })
  // the same file once more brings nothing
  await importBib(BIB)
  expect((await get('/works')) as Line[]).toHaveLength(6)
})

test('the history tells each step once, by whom, and whether it was taken back; it is read page by page', async () => {
  const all = await get('/history')
  const marks = all.filter((d: { what: string }) => d.what === 'mark')
  expect(marks.some((d: { undone: boolean }) => d.undone)).toBe(true)
  expect(all.filter((d: { what: string }) => d.what === 'arrival').length).toBeGreaterThanOrEqual(2)
  expect(all[0].who).toBe('owner')
  const times = all.map((d: { at: string }) => d.at)
  expect(times).toEqual([...times].sort().reverse())
  const page = await get('/history?limit=5')
  expect(page).toEqual(all.slice(0, 5))
  const older = await get(`/history?limit=5&before=${page[4].at}`)
  expect(older.every((d: { at: string }) => d.at < page[4].at)).toBe(true)
  // a work’s own history is that of its records, joined or not
  const { id: w } = await line('Owls')
  const own = (await get(`/works/${w}`)).history
  expect(own.map((d: { detail: { about?: string } }) => d.detail.about)).toEqual(
    expect.arrayContaining(['part', 'tag:birds', 'note']),
  )
})

test('a lead is looked up in the catalogues, and the work that names it counts as a lead', async () => {
  const { id: w } = await line('Review of Harbours')
  expect((await get(`/works/${w}`)).lead).toEqual({
    what: 'the book it reviews',
    title: 'Harbours at dusk',
    author: 'B. Ruiz',
  })
  const { job, title } = await post(`/works/${w}/lead`, {}, 202)
  expect(title).toBe('Harbours at dusk')
  // no catalogue of this desk answers, which is said and loses nothing
  const ended = await desk.finish(id, job)
  expect(ended.state).toBe('done')
  expect(await line('Review of Harbours')).toMatchObject({ part: 'lead' })
  const { id: owls } = await line('Owls')
  expect(await post(`/works/${owls}/lead`, {}, 422)).toMatchObject({ code: 'no-lead' })
})

test('two windows decide and speak at once: nothing is lost, nothing doubled', async () => {
  const works = ((await get('/works')) as Line[]).map(w => w.id)
  await Promise.all(
    works.flatMap(w => [
      post('/decisions', {
        group: randomUUID(),
        decisions: [{ id: randomUUID(), work: w, pass: 'abstract', choice: 'keep' }],
      }),
      say(w, 'tag:both', true),
      say(w, 'part', 'evidence'),
    ]),
  )
  const lines = (await get('/works')) as (Line & { state: string })[]
  for (const l of lines)
    expect(l).toMatchObject({ state: 'kept', part: 'evidence', tags: expect.arrayContaining(['both']) })
})

test('a reader may look and not speak', async () => {
  const user = await desk.context.db.users.findOne({ where: { name: 'reader' }, raw: true })
  await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
  const reader = await desk.signIn('reader@desk.example')
  await reader.get(`${at}/history`).expect(200)
  await reader.post(`${at}/strands`).send({ name: 'Theirs' }).expect(403)
})

describe('hard records', () => {
  test('come in, are told apart, and are shown', async () => {
    const authors = Array.from({ length: 400 }, (_, i) => `Author${i}, A.`).join(' and ')
    await importBib(`
@article{h1, title={Introduction}, author={Vale, Ann}, year={2011}, journal={Yearbook of Dusk}, volume={1}, pages={1--2}}
@article{h2, title={Introduction}, author={Quill, Ben}, year={2019}, journal={Harbour Studies}, volume={7}, pages={1--3}}
@report{h3, title={Report for the year 2018}, author={{Dusk Board}}, year={2019}}
@report{h4, title={Report for the year 2019}, author={{Dusk Board}}, year={2020}}
@article{h5, title={A paper of very many hands}, author={${authors}}, year={20217}}
@article{h6, title={${'Long words about dusk '.repeat(40)}}, author={Vale, Ann}}
@article{h7, title={光害における街路灯と夜行性昆虫}, author={{高橋}}, year={2018}}
@article{h8, title={تأثير الإضاءة الليلية على العث}, author={Vale, Ann}, year={2020}}
@misc{h9, author={Vale, Ann}, year={2001}, note={no title}}
@article{h10, title={Wings of a bat}, author={Vale, Ann}, year={2003}, doi={10.5555/wrong.1}}
@article{h11, title={Tides of a harbour wall}, author={Quill, Ben}, year={2013}, doi={10.5555/wrong.1}}`)
    const lines = (await get('/works')) as (Line & { year: number | null })[]
    const titled = (t: string) => lines.filter(l => l.title === t)
    expect(titled('Introduction')).toHaveLength(2)
    expect(lines.filter(l => l.title.startsWith('Report for the year'))).toHaveLength(2)
    // a slip is shown as it came, to be seen and corrected
    expect(titled('A paper of very many hands')).toMatchObject([{ year: 20217 }])
    expect(lines.find(l => l.title.startsWith('Long words'))!.title.length).toBeGreaterThan(800)
    expect(titled('光害における街路灯と夜行性昆虫')).toHaveLength(1)
    // one DOI on two works is asked about, not joined
    expect(titled('Wings of a bat')).toHaveLength(1)
    expect(titled('Tides of a harbour wall')).toHaveLength(1)
    const twins = (await get('/twins')) as { a: { item: { title: string } }; b: { item: { title: string } } }[]
    expect(
      twins.some(t => [t.a.item.title, t.b.item.title].sort().join() === 'Tides of a harbour wall,Wings of a bat'),
    ).toBe(true)
  })
})
