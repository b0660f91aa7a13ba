import { afterAll, beforeAll, expect, test } from '@jest/globals'
import { randomUUID } from 'node:crypto'
import { once } from 'node:events'
import type { AddressInfo } from 'node:net'
import express from 'express'
import { simpleParser, type ParsedMail } from 'mailparser'
import request from 'supertest'
import type { Answer } from '../../core/schema/api'
import { mailbox } from '../../standins/mail'
import { storeBlob } from '../db/blobs'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

const mail = mailbox()
const post = express().use(mail.pages)
const OWN = 'owner@desk.example'
const PDF = Buffer.concat([Buffer.from('%PDF-1.4 '), Buffer.alloc(200_000, 7)])
let desk: Desk
let at: string
const works: Record<string, number> = {}

const item = (letter: string, family: string, year: number) => ({
  ...{ id: letter, type: 'article-journal', title: `Work ${letter}`, author: [{ family, given: 'Mo' }] },
  ...{
    'container-title': 'Night Papers',
    volume: '4',
    issued: { 'date-parts': [[year]] },
    DOI: `10.5555/np.${letter}`,
  },
})
beforeAll(async () => {
  const smtp = mail.smtp.listen(0, '127.0.0.1')
  await once(smtp, 'listening')
  desk = await openDesk('letter', undefined, { MAIL_PORT: String((smtp.address() as AddressInfo).port) })
  const id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, [item('a', 'Zorin', 2011), item('b', 'Lune', 2020), item('c', 'Sand', 2015)])
  for (const { id: work, title } of (await desk.get(`${at}/works`)) as { id: number; title: string }[])
    works[title.at(-1)!] = work
  const decisions = Object.values(works).map(work => ({ id: randomUUID(), work, choice: 'keep', pass: 'title' }))
  await desk.post(`${at}/decisions`, { group: randomUUID(), decisions })
  const { db } = desk.context
  for (const [letter, extra] of [
    ['a', 0],
    ['b', 300_000],
  ] as const) {
    const bytes = Buffer.concat([PDF, Buffer.alloc(extra, 8)])
    const hash = await db.sequelize.transaction(t => storeBlob(db, bytes, 'application/pdf', t))
    await putCopy(db, {
      ...{ inquiryId: id, workId: works[letter]!, hash, origin: 'a test', pages: 2, labels: ['1', '2'] },
      ...{ outcome: 'proved', proof: { outcome: 'proved', evidence: [] }, version: 'version of record' },
    })
  }
})
afterAll(async () => {
  await desk.close()
  mail.smtp.close()
})

const send = (body: object, status = 200) => desk.owner.post(`${at}/letter`).send(body).expect(status)
/** The letter that came last. */
async function last(): Promise<ParsedMail> {
  const { body } = await request(post).get('/').expect(200)
  return simpleParser((await request(post).get(`/${(body as unknown[]).length - 1}.eml`)).text)
}
const names = (m: ParsedMail) => m.attachments.map(a => a.filename)

test('says what it could carry, of the bibliography or of works that are named', async () => {
  const of = async (body: object) => (await desk.post(`${at}/letter/parts`, body, 200)) as Answer<'letterParts'>
  const parts = await of({ works: Object.values(works) })
  expect(parts).toMatchObject({ canMail: true, works: 3, mostBytes: 7_000_000 })
  expect(parts.copies.map(x => [x.title, x.bytes]).sort()).toEqual([
    ['Work a', PDF.length],
    ['Work b', PDF.length + 300_000],
  ])
  await desk.owner.post(`${at}/letter/parts`).send({}).expect(422)
  await desk.owner
    .post(`${at}/letter/parts`)
    .send({ works: [999_999] })
    .expect(404)
})

test('works that are named go as a list in the style, with what is wanted of them', async () => {
  const wanted = { works: [works.c, works.a], document: 'docx', citations: 'bibtex', copies: true, note: 'For Monday.' }
  const { body } = await send({ to: OWN, ...wanted })
  expect(body).toMatchObject({ to: OWN, left: [] })
  const letter = await last()
  expect(letter.subject).toMatch(/^2 works: /)
  expect(letter.text).toMatch(/^For Monday\.\n/)
  expect(letter.text).toContain('Sand, M. (2015). Work c.')
  expect(letter.text).not.toContain('Work b')
  expect(names(letter)).toEqual([expect.stringMatching(/\.docx$/), 'citations.bib', '02 Zorin 2011 Work a.pdf'])
  expect(letter.attachments[2]!.content.equals(PDF)).toBe(true)
  expect(letter.attachments[1]!.content.toString()).toContain('10.5555/np.c')
  expect(letter.replyTo?.text).toBe(OWN)
})

test('copies that do not fit are named with where they are, and nothing is sent that is too large without them', async () => {
  const most = desk.context.settings.outside.mail!
  most.mostBytes = 250_000
  const { body } = await send({ to: OWN, works: [works.a, works.b], copies: true })
  expect(body).toMatchObject({ left: ['Work b'] })
  expect((await last()).text).toContain('There was no room for one copy:\nWork b\nThey are read at ')
  most.mostBytes = 10
  const refused = await send({ to: OWN, works: [works.a], document: 'pdf' }, 422)
  expect(refused.body.code).toBe('too-large')
  most.mostBytes = 7_000_000
})

test('others get the copies that are open, and know who sent it', async () => {
  const user = await desk.context.db.users.findOne({ where: { email: OWN }, raw: true })
  const copy = await desk.context.db.copies.findOne({ where: { workId: works.b! }, raw: true })
  const right = { copyId: copy!.id, userId: 0 }
  await desk.context.db.copyRights.update({ userId: user!.id, kind: 'licence' }, { where: right })
  const { body } = await send({ to: 'teacher@halverane.example', works: [works.a, works.b], copies: true })
  expect(body).toMatchObject({ left: [], kept: ['Work b'] })
  const letter = await last()
  expect(letter.text).toContain(`Sent with Vine Path for ${OWN}.`)
  expect(names(letter)).toEqual([expect.stringMatching(/Zorin 2011 Work a\.pdf$/)])
  expect((await send({ to: OWN, works: [works.b], copies: true })).body).toMatchObject({ kept: [] })
  expect(names(await last())).toHaveLength(1)
})

test('the bibliography goes as it prints', async () => {
  await desk.post(`${at}/entries`, { work: works.b })
  await send({ to: OWN, document: 'markdown', citations: 'ris' })
  const letter = await last()
  expect(letter.subject).toMatch(/^Annotated bibliography: /)
  expect(letter.text).toContain('Lune, M. (2020). Work b.')
  expect(names(letter)).toEqual([expect.stringMatching(/\.md$/), 'citations.ris'])
})

test('what cannot be sent is said: no address, an address that is none or not taken, too many, no mail', async () => {
  await send({ to: '', works: [works.a] }, 422)
  await send({ to: 'teacher', works: [works.a] }, 422)
  await send({ to: 'a@halverane.example\r\nBcc: b@halverane.example', works: [works.a] }, 422)
  const { body } = await send({ to: 'somebody@elsewhere.test', works: [works.a] }, 502)
  expect(body).toMatchObject({
    code: 'mail-failed',
    title: expect.stringContaining('Only addresses of the made-up world'),
  })
  desk.context.settings.outside.mail!.mostLetters = 0
  expect((await send({ to: OWN, works: [works.a] }, 429)).body.code).toBe('too-many-letters')
  const { outside }: { outside: { mail?: unknown } } = desk.context.settings
  delete outside.mail
  expect((await send({ to: OWN, works: [works.a] }, 422)).body.code).toBe('no-mail')
  expect(await desk.post(`${at}/letter/parts`, { works: [works.a] }, 200)).toMatchObject({ canMail: false })
})
