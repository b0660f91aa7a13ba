import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import type { Agent } from 'supertest'
import type { Answer, Bibliography } from '../../core/schema/api'
import { plainText } from '../../core/cite/rich-text'
import { STYLES } from '../../core/cite/styles'
import { bibliographyOf } from '../styles/format'
import { newerThan, styleFor } from '../styles/styles-service'
import { bringItems, newInquiry, openDesk, type Desk } from './desk'

let desk: Desk
let id: number
let stranger: Agent

beforeAll(async () => {
  desk = await openDesk('styles')
  id = await newInquiry(desk)
  stranger = await desk.signIn('stranger@desk.example')
  await bringItems(desk, id, [
    {
      ...{ id: 'a', type: 'book', title: 'The courtship of moths', publisher: 'Chalk Pit Academic' },
      ...{ author: [{ family: 'Ekwuford', given: 'Nnamdi' }], editor: [{ family: 'Tamm', given: 'Rein' }] },
      issued: { 'date-parts': [[2016]] },
    },
  ])
  const [work] = (await desk.get(`/api/inquiries/${id}/works`)) as { id: number }[]
  const decisions = [{ id: '00000000-0000-4000-8000-000000000002', work: work!.id, choice: 'keep', pass: 'title' }]
  await desk.post(`/api/inquiries/${id}/decisions`, { group: '00000000-0000-4000-8000-000000000001', decisions }, 201)
  await desk.post(`/api/inquiries/${id}/entries`, { work: work!.id }, 201)
})
afterAll(() => desk.close())

const find = async (words: string) => (await desk.get(`/api/styles?words=${words}`)) as Answer<'styles'>
const put = (style: string, language: string | null = null, as = desk.owner) =>
  as.put(`/api/inquiries/${id}/style`).send({ style, language })
const list = async () => (await desk.get(`/api/inquiries/${id}/bibliography`)) as Bibliography
const printed = async () => plainText((await list()).entries[0]!.citation)
const bring = (xml: string | Buffer, as = desk.owner) =>
  as.post('/api/styles').set('Content-Type', 'application/octet-stream').send(Buffer.from(xml))
const own = (title: string, layout: string, more = '') =>
  `<style xmlns="http://purl.org/net/xbiblio/csl" version="1.0" class="in-text"><info><title>${title}</title>${more}</info>
   <citation><layout>${layout}</layout></citation></style>`
const TITLE = '<text variable="title" prefix="~" suffix="~"/>'

describe('finding styles', () => {
  test('those asked for most without a word; thousands by their words', async () => {
    const first = await find('')
    expect(first.styles.map(s => s.id)).toEqual(STYLES.map(s => s.id))
    expect(first.all).toBeGreaterThan(5000)
    expect(first.unread).toBe(0)
    expect(first.languages).toContainEqual({ tag: 'de-AT', name: 'Austrian German' })
    const notes = await find('note')
    expect(notes.of).toBeGreaterThan(notes.styles.length)
    expect((await find('qqqqq')).styles).toEqual([])
  })

  test('those asked for most are of the newest edition', async () => {
    expect(await Promise.all((await find('')).styles.map(s => s.newer))).toEqual(STYLES.map(() => null))
  })

  test('an older edition names the newer one', async () => {
    const [old] = (await find('modern language association 7th edition')).styles
    expect(old).toMatchObject({ newer: { id: 'modern-language-association', name: 'MLA, 9th edition' } })
    expect(await newerThan(desk.context, old!.id)).toEqual(old!.newer)
    await put(old!.id).expect(200)
    expect((await list()).newerStyle).toEqual(old!.newer)
  })

  test('every installed style that is asked for by chance prints three works', async () => {
    const { styles } = await find('science')
    for (const s of styles.slice(0, 12)) {
      const sample = (await desk.get(`/api/styles/${s.id}/sample`)) as Answer<'styleSample'>
      expect(sample.entries).toHaveLength(3)
      for (const e of sample.entries) expect(plainText(e.citation)).toMatch(/Bergoja|Ekwuford|Quilluchi/i)
    }
  })
})

describe('setting one', () => {
  test('one that prints as another prints as that one does, in its own language', async () => {
    const dependent = (await find('de')).styles.find(s => s.printsAs)!
    await put(dependent.id).expect(200)
    expect((await list()).styleName).toBe(dependent.name)
    expect(await printed()).toContain('moths')
  })

  test('the language of the citations is that which is chosen, else the style’s', async () => {
    await put('apa', 'de-DE').expect(200)
    expect(await list()).toMatchObject({ style: 'apa', styleName: 'APA, 7th edition', language: 'de-DE' })
    expect(await printed()).toContain('Hrsg.')
    await put('apa').expect(200)
    expect(await printed()).toMatch(/\(R\. Tamm, Ed\.\)/)
  })

  test('one that only cites prints each work as it is cited', async () => {
    const { body } = await bring(own('Only cites', TITLE)).expect(201)
    await put(body.id).expect(200)
    expect(await printed()).toBe('~The courtship of moths~')
  })

  test('none that is not there, no language without words, and no path', async () => {
    for (const style of ['nothing-such', 'own-9999', '..', '../locales/x', 'dependent/x'])
      expect((await put(style)).status).toBe(422)
    expect((await put('apa', 'tlh')).body).toMatchObject({ code: 'no-style' })
    await desk.owner.get('/api/styles/nothing-such/sample').expect(422)
    const brief = { question: 'What?', style: 'nothing-such' }
    expect((await desk.owner.post('/api/inquiries').send(brief)).body.code).toBe('no-style')
  })

  test('a brief that is open elsewhere has to be loaded again; other members see the change', async () => {
    const url = `/api/inquiries/${id}/brief`
    const { etag } = (await desk.owner.get(url).expect(200)).headers
    await put('ieee').expect(200)
    const brief = { question: 'What?', style: 'apa' }
    await desk.owner.patch(url).set('If-Match', etag!).send(brief).expect(412)
    expect(await desk.get(`/api/inquiries/${id}`)).toMatchObject({ style: 'ieee', styleName: 'IEEE' })
    await put('apa', null, stranger).expect(404)
  })

  test('one that is not here any more costs nobody the list', async () => {
    await desk.context.db.inquiries.update({ style: 'gone-with-its-package' }, { where: { id } })
    const now = await list()
    expect(now).toMatchObject({ style: 'apa', styleTrouble: expect.stringContaining('gone-with-its-package') })
    expect(now.entries).toHaveLength(1)
    // what stands already may stand
    const { version, ...brief } = (await desk.get(`/api/inquiries/${id}/brief`)) as Answer<'brief'>
    await desk.owner.patch(`/api/inquiries/${id}/brief`).set('If-Match', `"${version}"`).send(brief).expect(200)
  })
})

describe('a style of one’s own', () => {
  test('is found by its owner alone, and stays where it is set when it is dropped', async () => {
    const { body } = await bring(own('Papers of Halverane', TITLE)).expect(201)
    expect(body).toMatchObject({ name: 'Papers of Halverane', isOwn: true, printsAs: null })
    expect((await find('halverane')).styles.map(s => s.id)).toEqual([body.id])
    expect((await find('')).styles.map(s => s.id)).toContain(body.id)
    expect((await stranger.get('/api/styles?words=halverane').expect(200)).body.styles).toEqual([])
    await stranger.get(`/api/styles/${body.id}/sample`).expect(422)
    await put('ieee').expect(200)
    const named = await desk.get(`/api/inquiries/${id}/bibliography?style=${body.id}`)
    expect(named).toMatchObject({ style: 'ieee' })
    await stranger.delete(`/api/styles/${body.id}`).expect(404)
    await put(body.id).expect(200)
    await desk.owner.delete(`/api/styles/${body.id}`).expect(204)
    expect((await find('halverane')).styles).toEqual([])
    expect(await list()).toMatchObject({ styleName: 'Papers of Halverane', styleTrouble: null })
  })

  test('that cannot be used is refused with why, and nothing is kept', async () => {
    const before = await desk.context.db.ownStyles.count()
    const link = '<link rel="independent-parent" href="http://styles.example/styles/never-heard-of"/>'
    for (const [xml, why] of [
      ['<html></html>', /no citation style/],
      ['%PDF-1.4', /broken|no citation style/],
      ['', /./],
      [own('Its parent is away', TITLE, link), /never-heard-of/],
      [own('Says nothing', '<text variable="genre"/>'), /prints nothing/],
      [own('Part that is not there', '<text macro="missing"/>'), /./],
    ] as const)
      expect((await bring(xml)).body).toMatchObject({ title: expect.stringMatching(why) })
    expect(await desk.context.db.ownStyles.count()).toBe(before)
  })

  test('in another encoding is read by what it declares', async () => {
    const xml = `<?xml version="1.0" encoding="ISO-8859-1"?>${own('Abhandlungen über Motten', TITLE)}`
    expect((await bring(Buffer.from(xml, 'latin1')).expect(201)).body.name).toBe('Abhandlungen über Motten')
  })

  test('that takes too long is ended, which is said', async () => {
    const style = { ...(await styleFor(desk.context, { style: 'apa', language: null })), name: 'Endless' }
    const items = Array.from({ length: 400 }, (_, i) => ({ id: String(i), type: 'book', title: `Moths ${i}` }))
    await expect(bibliographyOf(style, [items], 1)).rejects.toMatchObject({
      code: 'style-fails',
      message: expect.stringMatching(/“Endless” cannot print this: it was not done/),
    })
    // the next one has a thread of its own
    expect((await bibliographyOf(style, [items.slice(0, 2)])).entries).toHaveLength(2)
  })
})
