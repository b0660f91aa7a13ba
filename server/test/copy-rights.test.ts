import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { PDFDocument, StandardFonts } from 'pdf-lib'
import type { Agent } from 'supertest'
import type { Answer, Recognised } from '../../core/schema/api'
import { addUser } from '../accounts/accounts-service'
import { change } from '../db/revision'
import { grant } from '../copies/copy-rights'
import { bringItems, newInquiry, openDesk, PASSWORD, type Desk } from './desk'

let desk: Desk
let at: string
let id: number
let ada: Agent
let bram: Agent
let looker: Agent
const users: Record<string, number> = {}
const works: Record<string, number> = {}

const TITLES = ['Moths at a lamp', 'Owls in an open barn', 'Bats under a bridge', 'Newts along the mill']
const LICENCE = 'This article is licensed under a Creative Commons Attribution 4.0 International License.'

/** An article with its title page; `more` stands below its authors. */
async function pdfOf(title: string, more = ''): Promise<Buffer> {
  const doc = await PDFDocument.create()
  const font = await doc.embedFont(StandardFonts.TimesRoman)
  for (let n = 0; n < 3; n++) {
    const page = doc.addPage()
    const head = n ? [] : [title, 'Mara Lune and Ida Sand', 'Night Papers 4, 2020, 40-42', more, 'Introduction']
    const words = Array.from({ length: 30 }, (_, i) => `In night ${n * 30 + i + 1} all that flew was counted by hand.`)
    for (const [i, line] of [...head, ...words].entries())
      page.drawText(line, { x: 72, y: 780 - i * 18, size: i || n ? 11 : 18, font })
  }
  return Buffer.from(await doc.save())
}

const bytes = (agent: Agent, path: string, pdf: Buffer) =>
  agent
    .post(at + path)
    .set('Content-Type', 'application/octet-stream')
    .set('X-File-Name', 'a.pdf')
    .send(pdf)
const bring = async (agent: Agent, title: string, pdf: Buffer) =>
  (await desk.finish(id, (await bytes(agent, `/works/${works[title]}/copies`, pdf)).body.job))
    .result as Answer<'openCopy'>
const opening = async (agent: Agent, copy: number) =>
  ((await agent.get(`${at}/copies/${copy}`).expect(200)).body as Answer<'copy'>).opening
const status = async (agent: Agent, path: string) => (await agent.get(at + path)).status

beforeAll(async () => {
  desk = await openDesk('copy_rights')
  const { db } = desk.context
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await addUser(desk.context, 'bram@desk.example', 'Bram', PASSWORD)
  ada = desk.owner
  bram = await desk.signIn('bram@desk.example')
  looker = await desk.signIn('reader@desk.example')
  for (const { id: user, email } of await db.users.findAll({ attributes: ['id', 'email'], raw: true }))
    users[email.split('@')[0]!] = user
  await db.memberships.create({ inquiryId: id, userId: users.bram!, role: 'owner' })
  await db.memberships.create({ inquiryId: id, userId: users.reader!, role: 'reader' })
  const items = TITLES.map((title, i) => ({
    ...{ id: `w${i}`, type: 'article-journal', title, 'container-title': 'Night Papers', volume: '4', page: '40-42' },
    author: [
      { family: 'Lune', given: 'Mara' },
      { family: 'Sand', given: 'Ida' },
    ],
    issued: { 'date-parts': [[2020]] },
  }))
  await bringItems(desk, id, items)
  for (const w of (await desk.get(`${at}/works`)) as { id: number; title: string }[]) works[w.title] = w.id
  const decisions = Object.values(works).map(work => ({ id: randomUUID(), work, choice: 'keep', pass: 'title' }))
  await desk.post(`${at}/decisions`, { group: randomUUID(), decisions })
})
afterAll(() => desk.close())

describe('a file that a member brought', () => {
  const title = TITLES[0]!
  let pdf: Buffer
  let copy: number

  test('is theirs alone: nothing of its text reaches another member, and why is said', async () => {
    pdf = await pdfOf(title)
    const got = await bring(ada, title, pdf)
    expect(got.outcome).toBe('proved')
    copy = got.copyId!
    expect(await opening(ada, copy)).toEqual({
      ...{ opens: true, shared: false, terms: null, mayPassOn: true, passedOn: false },
      said: 'Your own file, for you alone.',
    })
    for (const who of [bram, looker]) {
      expect(await opening(who, copy)).toMatchObject({ opens: false, mayPassOn: false })
      for (const part of ['text', 'parts', 'file', 'marks', 'passages/elsewhere'])
        expect([part, await status(who, `/copies/${copy}/${part}`)]).toEqual([part, 403])
      const { body } = await who.get(`${at}/copies/${copy}/file`)
      expect(body).toMatchObject({ code: 'not-yours-to-open', title: expect.stringMatching(/^owner brought it/) })
    }
    expect(await status(ada, `/copies/${copy}/file`)).toBe(200)
    const passage = { id: randomUUID(), page: 1, kind: 'quoted', quote: 'all that flew was counted by hand' }
    await bram.post(`${at}/copies/${copy}/passages`).send(passage).expect(403)
    await bram.post(`${at}/copies/${copy}/marked`).send({}).expect(403)
  })
  test('what is noted in it stays to be read by all', async () => {
    const passage = { id: randomUUID(), page: 1, kind: 'quoted', quote: 'all that flew was counted by hand' }
    await ada.post(`${at}/copies/${copy}/passages`).send(passage).expect(201)
    const { body } = await bram.get(`${at}/passages`).expect(200)
    expect(JSON.stringify(body)).toContain('all that flew was counted by hand')
  })
  test('is named to the others where it stands in lists, and left out of what goes out by them', async () => {
    const ways = (await bram.get(`${at}/routes`)).body as Answer<'ways'>
    expect(ways.find(w => w.id === works[title])!.copies[0]!.opening.said).toMatch(/^owner brought it/)
    const listed = async (who: Agent) => ((await who.get(`${at}/copies`)).body as Answer<'searchable'>).map(x => x.id)
    expect([await listed(ada), await listed(bram)]).toEqual([[copy], []])
    const reach = async (who: Agent) =>
      ((await who.get(`${at}/works`)).body as Answer<'works'>).find(w => w.id === works[title])!.reach
    expect(await reach(ada)).toBe('in hand')
    expect(await reach(bram)).not.toBe('in hand')
    const sheet = (await bram.get(`${at}/works/${works[title]}`)).body as Answer<'work'>
    expect(sheet.copies[0]!.opening.opens).toBe(false)
    const parts = (who: Agent) => who.post(`${at}/letter/parts`).send({ works: [works[title]] })
    expect((await parts(ada)).body.copies).toHaveLength(1)
    expect((await parts(bram)).body.copies).toEqual([])
  })
  test('is passed on by who brought it, with why, and kept again', async () => {
    const pass = (who: Agent, why: string | null, code: number) =>
      who.put(`${at}/copies/${copy}/passing`).send({ why }).expect(code)
    await pass(bram, 'it is my own work', 403)
    await pass(looker, 'it is my own work', 403)
    await pass(ada, 'because', 422)
    await pass(ada, 'its owner allows it', 204)
    expect(await status(bram, `/copies/${copy}/text`)).toBe(200)
    expect((await opening(looker, copy)).said).toBe('Passed on: its owner allows it, as owner says.')
    expect(await opening(ada, copy)).toMatchObject({ mayPassOn: true, passedOn: true })
    await pass(ada, null, 204)
    expect(await status(bram, `/copies/${copy}/text`)).toBe(403)
    expect(await status(ada, `/copies/${copy}/text`)).toBe(200)
  })
  test('is another’s as well once they bring the same file', async () => {
    const sent = await bytes(bram, '/copies', pdf)
    const got = (await desk.finish(id, sent.body.job)).result as Recognised
    expect(got).toMatchObject({ known: true, copyId: copy })
    expect(await status(bram, `/copies/${copy}/text`)).toBe(200)
    expect(await desk.context.db.copies.count({ where: { workId: works[title]! } })).toBe(1)
  })
  test('and is kept again by whoever passed it on alone', async () => {
    const pass = (who: Agent, why: string | null, code: number) =>
      who.put(`${at}/copies/${copy}/passing`).send({ why }).expect(code)
    await pass(ada, 'its owner allows it', 204)
    expect(await opening(bram, copy)).toMatchObject({ mayPassOn: false, passedOn: false })
    await pass(bram, null, 403)
    await pass(ada, null, 204)
    expect(await opening(bram, copy)).toMatchObject({ mayPassOn: true, passedOn: false })
    await pass(bram, 'it is my own work', 204)
    await pass(ada, null, 403)
    await pass(bram, null, 204)
  })
})

test('a copy that says it is openly licensed is open to all, however it came', async () => {
  const { copyId } = await bring(bram, TITLES[1]!, await pdfOf(TITLES[1]!, LICENCE))
  expect(await opening(looker, copyId!)).toEqual({
    ...{ opens: true, shared: true, terms: null, mayPassOn: false, passedOn: false },
    said: 'Open to everybody: CC BY 4.0, as its own pages say.',
  })
  expect(await status(ada, `/copies/${copyId}/file`)).toBe(200)
})

test('a scan that was lent opens until its last day, is not passed on, and is asked for by each member', async () => {
  const { copyId } = await bring(ada, TITLES[2]!, await pdfOf(TITLES[2]!))
  const copy = copyId!
  const { db } = desk.context
  await db.copyRights.destroy({ where: { copyId: copy } })
  const lent = { kind: 'loan', userId: users.owner!, from: 'Halverane Library', terms: 'Own study.' } as const
  const until = (day: string) =>
    change(desk.context, id, (t, revision) =>
      grant(desk.context, { id: copy, workId: works[TITLES[2]!]! }, [{ ...lent, until: day }], t, revision),
    )
  await until('2026-10-05')
  expect((await opening(ada, copy)).said).toBe('A scan from Halverane Library, for you alone, until 5 October 2026.')
  expect((await opening(ada, copy)).terms).toBe('Own study.')
  expect(await status(ada, `/copies/${copy}/file`)).toBe(200)
  const why = 'its owner allows it'
  await ada.put(`${at}/copies/${copy}/passing`).send({ why }).expect(403)
  expect(await opening(bram, copy)).toMatchObject({
    said: expect.stringMatching(/^owner asked Halverane Library/),
    terms: null,
  })
  await until('2026-10-04')
  const { body } = await ada.get(`${at}/copies/${copy}/file`).expect(403)
  expect(body.title).toMatch(/ended on 4 October 2026/)
})

test('two copies that become one keep the rights of both', async () => {
  const pdf = await pdfOf(TITLES[3]!)
  const mine = (await bring(ada, TITLES[3]!, pdf)).copyId!
  const { id: _, ...row } = (await desk.context.db.copies.findByPk(mine, { raw: true }))!
  const twin = await desk.context.db.copies.create({ ...row, workId: works[TITLES[0]!]! })
  await desk.context.db.copyRights.create({ copyId: twin.id, userId: users.bram!, kind: 'own', source: 'b.pdf' })
  await bram.post(`${at}/copies/${twin.id}/work`).send({ work: works[TITLES[3]!] }).expect(201)
  expect(await status(bram, `/copies/${mine}/file`)).toBe(200)
  expect(await status(ada, `/copies/${mine}/file`)).toBe(200)
})
