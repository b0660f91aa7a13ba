import { afterAll, beforeAll, describe, expect, test } from '@jest/globals'
import { createHash, randomUUID } from 'node:crypto'
import { chmodSync, existsSync, mkdtempSync, readFileSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { XMLParser } from 'fast-xml-parser'
import { unzipSync } from 'fflate'
import { getDocument } from 'pdfjs-dist/legacy/build/pdf.mjs'
import type { Response } from 'supertest'
import { plainText } from '../../core/cite/rich-text'
import { LAYOUT } from '../../core/paper/layout'
import { plainly, type Writing } from '../../core/paper/writing'
import type { Answer } from '../../core/schema/api'
import type { Citing, Mark } from '../../core/write/written'
import { asPdf } from '../compose/pdf'
import { storeBlob } from '../db/blobs'
import { bringItems, type Desk, newInquiry, openDesk, putCopy } from './desk'

let desk: Desk
let id: number
let at: string
/** Works and entries by a letter. */
const works: Record<string, number> = {}
const entries: Record<string, number> = {}

const item = (letter: string, family: string, year: number) => ({
  ...{ id: letter, type: 'article-journal', title: `Work ${letter}`, volume: '4', DOI: `10.5555/np.${letter}` },
  ...{ author: [{ family, given: 'Mara' }], 'container-title': 'Night Papers' },
  issued: { 'date-parts': [[year]] },
})

beforeAll(async () => {
  desk = await openDesk('hand_in')
  id = await newInquiry(desk)
  at = `/api/inquiries/${id}`
  await bringItems(desk, id, [item('a', 'Zorin', 2011), item('b', 'Lune', 2020), item('c', 'Sand', 2015)])
  for (const w of (await desk.get(`${at}/works`)) as { id: number; title: string }[]) works[w.title.at(-1)!] = w.id
  await decide(Object.values(works), 'keep')
  for (const letter of 'abc') {
    const made = (await desk.post(`${at}/entries`, { work: works[letter] })) as { id: number }
    entries[letter] = made.id
  }
})
afterAll(() => desk.close())

const decide = (ids: number[], choice: string) =>
  desk.post(`${at}/decisions`, {
    group: randomUUID(),
    decisions: ids.map(work => ({ id: randomUUID(), work, pass: 'title', choice })),
  })
const bibliography = async () => (await desk.get(`${at}/bibliography`)) as Answer<'bibliography'>
const order = async () => (await bibliography()).entries.map(e => e.title.at(-1)).join('')
const setLayout = (body: object, status = 200) => desk.owner.put(`${at}/layout`).send(body).expect(status)
const lay = (letters: string) =>
  desk.owner
    .put(`${at}/entries/order`)
    .send({ entries: [...letters].map(l => entries[l]) })
    .expect(204)
const write = (place: string, content: string, version = 0, status = 200) =>
  desk.owner.put(`${at}/texts/${place}`).set('If-Match', `"${version}"`).send({ content }).expect(status)
async function annotate(letter: string, annotation: string, marks?: Mark[]): Promise<void> {
  const url = `${at}/entries/${entries[letter]}`
  const { version } = (await desk.get(url)) as { version: number }
  await desk.owner.patch(url).set('If-Match', `"${version}"`).send({ annotation, marks }).expect(200)
}
const file = (path: string): Promise<Response> =>
  desk.owner
    .get(`${at}${path}`)
    .buffer()
    .parse((res, done) => {
      const parts: Buffer[] = []
      res.on('data', (p: Buffer) => parts.push(p))
      res.on('end', () => done(null, Buffer.concat(parts)))
    })
    .then(r => r)
const versions = async () => (await desk.get(`${at}/versions`)) as Answer<'versions'>
const handIn = async (format = 'html') => ((await desk.post(`${at}/versions`, { format })) as Answer<'handIn'>).version

describe('the order of the list', () => {
  test('is that of the style until another is chosen, and numbers follow it', async () => {
    expect(await order()).toBe('bca')
    expect((await bibliography()).layout).toEqual(LAYOUT)
    expect((await setLayout({ order: 'year' })).body).toEqual({ ...LAYOUT, order: 'year' })
    expect(await order()).toBe('acb')
    await desk.owner.put(`${at}/style`).send({ style: 'ieee', language: null }).expect(200)
    expect((await bibliography()).entries.map(e => [e.title.at(-1), e.label?.trim(), e.inText])).toEqual([
      ['a', '[1]', '[1]'],
      ['c', '[2]', '[2]'],
      ['b', '[3]', '[3]'],
    ])
    await desk.owner.put(`${at}/style`).send({ style: 'apa', language: null }).expect(200)
  })

  test('is laid by hand, and what comes later stands at its end', async () => {
    await lay('cab')
    expect(await order()).toBe('cab')
    await lay('b')
    // those that were not named stand as the style sorts them
    expect(await order()).toBe('bca')
    await lay('abc')
    expect(await order()).toBe('abc')
    await desk.owner
      .put(`${at}/entries/order`)
      .send({ entries: ['x'] })
      .expect(422)
  })

  test('goes by strands, each with its heading and words of its own', async () => {
    const strand = (await desk.post(`${at}/strands`, { name: 'Flight' })) as { id: number }
    const mark = { id: randomUUID(), work: works.a, about: `strand:${strand.id}`, value: true }
    await desk.post(`${at}/marks`, { group: randomUUID(), marks: [mark] })
    await setLayout({ order: 'strand' })
    await write(`strand-${strand.id}`, 'What flies by night.')
    const { sections, texts } = await bibliography()
    expect(sections).toEqual([
      { heading: 'Flight', strand: strand.id, entries: [entries.a] },
      { heading: 'Other works', strand: null, entries: [entries.b, entries.c] },
    ])
    expect(texts).toEqual([{ place: `strand-${strand.id}`, content: 'What flies by night.', marks: [], version: 1 }])
    const { text } = await desk.owner.get(`${at}/export?format=markdown`).expect(200)
    expect(text).toMatch(/## Flight\n\nWhat flies by night\.\n\nZorin.+\n\n## Other works\n\nLune/s)
  })

  test('is also that by which passages are cited', async () => {
    await desk.owner.put(`${at}/style`).send({ style: 'vancouver', language: null }).expect(200)
    const of = { inquiryId: id, version: 'version of record', pages: 1, labels: ['211'], origin: 'a test' }
    const hash = await desk.context.db.sequelize.transaction(t =>
      storeBlob(desk.context.db, Buffer.from('of c'), 'application/pdf', t),
    )
    const proof = { outcome: 'proved' as const, evidence: [] }
    const copy = await putCopy(desk.context.db, { ...of, workId: works.c!, hash, outcome: 'proved', proof })
    await desk.post(`${at}/copies/${copy.id}/passages`, { page: 1, kind: 'in my words', note: 'So it is.' })
    const cited = async () =>
      ((await desk.get(`${at}/passages`)) as Answer<'passages'>).passages.map(p => p.cited.replace(/[^\d]+.*/, '$&')[1])
    await lay('abc')
    expect(await cited()).toEqual(['3'])
    await lay('cab')
    expect(await cited()).toEqual(['1'])
    await desk.owner.put(`${at}/style`).send({ style: 'apa', language: null }).expect(200)
    await setLayout({ order: 'style' })
  })
})

test('a work is cited as the list and as a text have it, on the list or not', async () => {
  const cite = async (letter: string) => (await desk.get(`${at}/works/${works[letter]}/citation`)) as Answer<'citation'>
  const { citation, inText } = await cite('b')
  expect(plainText(citation)).toBe('Lune, M. (2020). Work b. Night Papers, 4. https://doi.org/10.5555/np.b')
  expect(citation.find(r => r.italic)!.text).toBe('Night Papers')
  expect(inText).toBe('(Lune, 2020)')
  await desk.owner.put(`${at}/style`).send({ style: 'ieee', language: null }).expect(200)
  await desk.owner.delete(`${at}/entries/${entries.c}`).expect(204)
  // beside a list of two it would be the third
  expect((await cite('c')).inText).toBe('[3]')
  entries.c = ((await desk.post(`${at}/entries`, { work: works.c })) as { id: number }).id
  await desk.owner.put(`${at}/style`).send({ style: 'apa', language: null }).expect(200)
  await desk.owner.get(`${at}/works/999999/citation`).expect(404)
})

describe('what is written around the list', () => {
  test('is not written over by another window, and has its places alone', async () => {
    expect((await write('opening', 'We ask about lamps.')).body).toMatchObject({ place: 'opening', version: 1 })
    const refused = await write('opening', 'Other words.', 0, 412)
    expect(refused.body.current).toEqual({ content: 'We ask about lamps.', marks: [], version: 1 })
    await write('body', 'x', 0, 404)
    await write('strand-999999', 'x', 0, 404)
    const both = await Promise.all(
      ['One.', 'Two.'].map(content => desk.owner.put(`${at}/texts/closing`).set('If-Match', '"0"').send({ content })),
    )
    expect(both.map(r => r.status).toSorted()).toEqual([200, 412])
  })

  test('layouts that there are none of are refused with what is wrong', async () => {
    await setLayout({ spacing: 7 }, 422)
    await setLayout({ order: 'colour' }, 422)
    const { body } = await setLayout({ names: '{journal}' }, 422)
    expect(JSON.stringify(body)).toContain('{journal} stands for nothing')
  })
})

describe('what is written with looks and citations', () => {
  const text = 'It agrees with (Lune, 2020, p. 3).\nOne thing'
  const marksOf = (work: number): Mark[] => [
    { from: 3, to: 9, is: 'emphasis' },
    { from: 15, to: 33, is: 'cites', cites: { work, page: '3', named: false } },
    { from: 36, to: 38, is: 'bullet' },
  ]
  const style = (to: string) => desk.owner.put(`${at}/style`).send({ style: to, language: null }).expect(200)
  const html = async () => (await file('/export?format=html')).body.toString() as string

  test('is kept with it, and its citations read as the style and the list have them', async () => {
    await annotate('a', text, marksOf(works.b!))
    const of = async () => {
      const { entries: all, cited } = await bibliography()
      return { ...all.find(e => e.id === entries.a)!, cited }
    }
    const citing = { work: works.b!, page: '3', named: false }
    expect(await of()).toMatchObject({
      annotation: text,
      // a line is all of its kind
      marks: [marksOf(works.b!)[0], marksOf(works.b!)[1], { from: 35, to: 44, is: 'bullet' }],
      cited: [{ citing, works: [works.b], text: '(Lune, 2020, p. 3)', raised: false }],
    })
    expect(await html()).toContain('It <i>agrees</i> with (Lune, 2020, p. 3).')
    await style('ieee')
    // what is kept stays as it was written: it only prints otherwise
    const now = await of()
    expect(now.annotation).toBe(text)
    expect(now.cited).toEqual([
      { citing, works: [works.b], text: expect.stringMatching(/^\[\d, p\. 3\]$/), raised: false },
    ])
    const printed = await html()
    expect(printed).toContain(`It <i>agrees</i> with ${now.cited[0]!.text}.`)
    expect(printed).toContain('<ul><li dir="auto">One thing</li></ul>')
    await style('nature')
    expect((await of()).cited[0]!.raised).toBe(true)
    expect(await html()).toMatch(/with <sup>\d<\/sup>\./)
    await style('apa')
    const docx = unzipSync(new Uint8Array((await file('/export?format=docx')).body as Buffer))
    const parts = Buffer.from(docx['word/document.xml']!).toString()
    expect(parts).toContain('<w:numPr>')
    expect(parts).toMatch(/<w:i\/>(?:(?!<\/w:r>).)*>agrees</)
  })

  test('of a work that was joined into another is of that now', async () => {
    await annotate('a', text, marksOf(works.c!))
    const record = async (letter: string) =>
      ((await desk.get(`${at}/works/${works[letter]}`)) as Answer<'work'>).records[0]!.id
    const pair = { a: await record('b'), b: await record('c') }
    const link = (verdict: string) => desk.post(`${at}/links`, { ...pair, verdict })
    await link('same')
    expect((await bibliography()).cited).toEqual([
      {
        ...{ citing: { work: works.c, page: '3', named: false }, works: [works.b] },
        ...{ text: '(Lune, 2020, p. 3)', raised: false },
      },
    ])
    await link('never')
    expect((await bibliography()).cited).toMatchObject([{ works: [works.c], text: '(Sand, 2015, p. 3)' }])
  })

  test('may name the authors in the sentence, on a page, or cite several works together', async () => {
    const asked = (body: object) => desk.post(`${at}/citing`, body, 200)
    const lune = { work: works.b, page: '4–5', named: true }
    expect(await asked(lune)).toEqual({ inText: 'Lune (2020, pp. 4–5)', raised: false })
    const both = {
      ...lune,
      named: false,
      also: [
        { work: works.c, page: '' },
        { work: works.c, page: '' },
      ],
    }
    const said = '(Lune, 2020, pp. 4–5; Sand, 2015)'
    expect(await asked(both)).toEqual({ inText: said, raised: false })
    await desk.owner
      .post(`${at}/citing`)
      .send({ ...both, also: [{ work: 999_999, page: '' }] })
      .expect(404)
    await desk.owner
      .post(`${at}/citing`)
      .send({ ...both, also: Array(20).fill({ work: works.c, page: '' }) })
      .expect(422)
    await annotate('a', 'As xx says.', [{ from: 3, to: 5, is: 'cites', cites: both as Citing }])
    expect((await bibliography()).cited).toMatchObject([{ works: [works.b, works.c, works.c], text: said }])
    expect(await html()).toContain(`As ${said} says.`)
  })

  test('of a work that is no more, or of somebody else’s, stands as it was written', async () => {
    const other = await newInquiry(desk)
    await bringItems(desk, other, [item('q', 'Stranger', 1999)])
    const [strange] = (await desk.get(`/api/inquiries/${other}/works`)) as { id: number }[]
    await annotate('a', text, marksOf(strange!.id))
    expect((await bibliography()).cited).toEqual([])
    expect(await html()).toContain('with (Lune, 2020, p. 3).')
  })

  test('marks that are none are refused, and those beyond the text are cut', async () => {
    const url = `${at}/entries/${entries.a}`
    const { version } = (await desk.get(url)) as { version: number }
    const send = (marks: unknown) =>
      desk.owner.patch(url).set('If-Match', `"${version}"`).send({ annotation: 'Ten words.', marks })
    await send([{ from: 0, to: 3, is: 'blink' }]).expect(422)
    await send([{ from: 0, to: 3, is: 'cites', cites: { work: 'x', page: '', named: false } }]).expect(422)
    const { body } = await send([{ from: 4, to: 400, is: 'strong' }]).expect(200)
    expect(body.marks).toEqual([{ from: 4, to: 10, is: 'strong' }])
  })

  test('around the list is written so too', async () => {
    const now = (await bibliography()).texts.find(t => t.place === 'closing')!
    const marks = [{ from: 4, to: 7, is: 'cites', cites: { work: works.c!, page: '', named: true } }]
    await desk.owner
      .put(`${at}/texts/closing`)
      .set('If-Match', `"${now.version}"`)
      .send({ content: 'See xxx.', marks })
      .expect(200)
    expect(await html()).toContain('See Sand (2015).')
    await write('closing', now.content, now.version + 1)
  })
})

describe('as a file', () => {
  test('a word processor finds named looks, headings, links that lead on, numbers of pages', async () => {
    await write('title', 'Lamps & <moths>')
    await write('author', 'Ines Quill')
    await setLayout({ cover: true, sheet: 'letter', spacing: 1.5 })
    await annotate('a', 'First.\nשלום — second.', [{ from: 0, to: 5, is: 'strong' }])
    const made = await file('/export?format=docx')
    expect(made.headers['content-disposition']).toContain("filename*=UTF-8''Lamps%20%26%20moths.docx")
    const parts = unzipSync(new Uint8Array(made.body as Buffer))
    const text = (name: string) => Buffer.from(parts[name]!).toString()
    const xml = new XMLParser({ ignoreAttributes: false, preserveOrder: false })
    for (const name of Object.keys(parts).filter(n => n.endsWith('.xml')))
      expect(() => xml.parse(text(name))).not.toThrow()
    const body = xml.parse(text('word/document.xml'))['w:document']['w:body']
    const styles = (body['w:p'] as { 'w:pPr'?: { 'w:pStyle'?: { '@_w:val': string } } }[]).flatMap(
      p => p['w:pPr']?.['w:pStyle']?.['@_w:val'] ?? [],
    )
    expect(styles.filter(s => s === 'Bibliography')).toHaveLength(3)
    expect(styles.filter(s => s === 'Annotation')).toHaveLength(2)
    expect(styles).toEqual(expect.arrayContaining(['Cover', 'Heading1']))
    expect(body['w:sectPr']['w:pgSz']).toMatchObject({ '@_w:w': '12240', '@_w:h': '15840' })
    expect(text('word/_rels/document.xml.rels')).toContain('https://doi.org/10.5555/np.a')
    expect(Object.keys(parts).filter(n => n.includes('footer'))).not.toEqual([])
    expect(text('docProps/core.xml')).toContain('<dc:creator>Ines Quill</dc:creator>')
    expect(text('word/document.xml')).toContain('<w:bidi/>')
  })

  test('a PDF has tags, title, language, headings and links, and every script in letters', async () => {
    await annotate('b', '漢字 and شمعة.')
    const made = await file('/export?format=pdf')
    expect(made.headers['content-type']).toBe('application/pdf')
    const doc = await getDocument({ data: new Uint8Array(made.body as Buffer), verbosity: 0 }).promise
    const { info } = await doc.getMetadata()
    expect(info).toMatchObject({
      ...{ Title: 'Lamps & <moths>', Author: 'Ines Quill', Creator: 'Vine Path', Language: 'en' },
    })
    expect(await doc.getMarkInfo()).toMatchObject({ Marked: true })
    expect((await doc.getOutline()).map(o => o.title)).toEqual(['Lamps & <moths>'])
    // the cover is a page of its own
    expect(doc.numPages).toBe(2)
    const page = await doc.getPage(2)
    const roles = JSON.stringify(await page.getStructTree()).match(/"role":"\w+"/g)!
    expect(new Set(roles)).toEqual(
      new Set([
        '"role":"Root"',
        '"role":"Document"',
        '"role":"H1"',
        '"role":"P"',
        '"role":"NonStruct"',
        '"role":"Link"',
      ]),
    )
    const links = (await page.getAnnotations()).map(a => a.url)
    expect(links).toEqual(expect.arrayContaining(['https://doi.org/10.5555/np.a', 'https://doi.org/10.5555/np.c']))
    const words = (await page.getTextContent()).items.map(i => ('str' in i ? i.str : '')).join('')
    expect(words).toContain('漢字')
    expect(words).toContain('We ask about lamps.')
    await doc.destroy()
  })

  test('what was checked is a document in every format, each entry with what it was held against', async () => {
    const { text } = await desk.owner.get(`${at}/bibliography/checks/file?format=markdown`).expect(200)
    expect(text).toContain('# What was checked')
    const { entries: all } = await bibliography()
    expect(text.match(/Held against/g)).toHaveLength(all.length)
    for (const { words } of all)
      expect(text).toContain(words ? `The annotation has ${words} words.` : 'There is no annotation.')
    const pdf = await file('/bibliography/checks/file?format=pdf')
    expect((pdf.body as Buffer).subarray(0, 5).toString()).toBe('%PDF-')
    await desk.owner.get(`${at}/bibliography/checks/file?format=bundle`).expect(422)
  })

  test('the methods are a document in every format, of what the desk knows', async () => {
    const { text } = await desk.owner.get(`${at}/methods/file?format=markdown`).expect(200)
    expect(text).toContain('3 records came together.')
    expect(text).toMatch(/Files were brought: .+ \(3 records\)\./)
    expect(text).toContain('| Past the title | 0 | 3 |')
    const docx = unzipSync(new Uint8Array((await file('/methods/file?format=docx')).body as Buffer))
    expect(Buffer.from(docx['word/document.xml']!).toString()).toContain('What standards of reporting ask')
    await desk.owner.get(`${at}/methods/file?format=bundle`).expect(422)
  })

  test('LaTeX comes with its citations, and other formats are refused', async () => {
    const { body } = await file('/export?format=latex')
    const parts = unzipSync(new Uint8Array(body as Buffer))
    expect(Object.keys(parts)).toEqual(['bibliography.tex', 'citations.bib'])
    expect(Buffer.from(parts['bibliography.tex']!).toString()).toContain('Lamps \\& \\textless{}moths')
    expect(Buffer.from(parts['citations.bib']!).toString()).toContain('10.5555/np.b')
    const mods = await file('/export?format=mods')
    expect(mods.headers['content-type']).toBe('application/mods+xml; charset=utf-8')
    expect((mods.body as Buffer).toString()).toMatch(/<modsCollection [\s\S]*10\.5555\/np\.b<[\s\S]*<\/modsCollection>/)
    await desk.owner.get(`${at}/export?format=stone`).expect(422)
    await desk.owner.get(`${at}/export?format=__proto__`).expect(422)
  })

  test('a browser that is missing, fails or hangs is said, and leaves nothing running', async () => {
    const folder = mkdtempSync(join(tmpdir(), 'vine-test-pdf-'))
    const writing: Writing = {
      ...{ title: 'T', author: '', language: 'en', sheet: 'a4', spacing: 1 },
      blocks: [{ kind: 'paragraph', runs: plainly('Words.') }],
    }
    const script = (name: string, text: string) => {
      const path = join(folder, name)
      writeFileSync(path, `#!/bin/sh\n${text}\n`)
      chmodSync(path, 0o755)
      return path
    }
    const said = (browser: string, until = new AbortController().signal) =>
      asPdf(writing, { browser, until }).then(
        () => 'made',
        (e: { status: number; message: string }) => `${e.status} ${e.message}`,
      )
    const becomes = async (is: () => boolean) => {
      while (!is()) await new Promise(r => setTimeout(r, 25))
    }
    expect(await said(join(folder, 'none'))).toContain('503 PDFs cannot be made here')
    expect(await said(script('fails', 'exit 3'))).toContain('the browser ended with 3')
    expect(await said(script('empty', 'exit 0'))).toContain('it wrote nothing')
    const child = join(folder, 'child')
    // it starts another process, which has to end with it
    const late = new AbortController()
    const hung = said(
      script('hangs', `sleep 3000 & echo $! > ${child}.new; mv ${child}.new ${child}; wait`),
      late.signal,
    )
    await becomes(() => existsSync(child))
    late.abort()
    expect(await hung).toContain('it took too long')
    const stat = `/proc/${Number(readFileSync(child, 'utf8'))}/stat`
    await becomes(() => !existsSync(stat) || /\) Z /.test(readFileSync(stat, 'utf8')))
    rmSync(folder, { recursive: true })
  })
})

describe('a bundle', () => {
  const PDF = Buffer.concat([Buffer.from('%PDF-1.4 '), Buffer.alloc(2_500_000, 7)])

  test('has the document, citations, methods, copies as the list prints, and sums that agree', async () => {
    const { db } = desk.context
    const hash = await db.sequelize.transaction(t => storeBlob(db, PDF, 'application/pdf', t))
    const proof = { outcome: 'proved' as const, evidence: [] }
    const of = {
      inquiryId: id,
      hash,
      origin: 'a test',
      pages: 2,
      labels: ['1', '2'],
      outcome: 'proved' as const,
      proof,
    }
    await putCopy(db, { ...of, workId: works.b!, version: 'version of record' })
    await putCopy(db, { ...of, workId: works.a!, version: 'accepted manuscript', outcome: 'doubtful' })
    const { body } = await file('/export?format=bundle')
    const parts = unzipSync(new Uint8Array(body as Buffer))
    expect(Object.keys(parts)).toEqual([
      'README.txt',
      'Lamps & moths.pdf',
      'Lamps & moths.docx',
      'Lamps & moths.md',
      'citations.bib',
      'citations.json',
      'methods.md',
      'copies/01 Lune 2020 Work b.pdf',
      'copies/02 Sand 2015 Work c.pdf',
      'SHA256SUMS.txt',
    ])
    expect(Buffer.from(parts['copies/01 Lune 2020 Work b.pdf']!).equals(PDF)).toBe(true)
    const sums = Buffer.from(parts['SHA256SUMS.txt']!).toString().trim().split('\n')
    for (const line of sums) {
      const [sum, name] = [line.slice(0, 64), line.slice(66)]
      expect(createHash('sha256').update(parts[name]!).digest('hex')).toBe(sum)
    }
    expect(sums).toHaveLength(9)
    const readme = Buffer.from(parts['README.txt']!).toString()
    expect(readme).toContain('copies/01 Lune 2020 Work b.pdf: Work b (version of record)')
    expect(readme).toContain('Without a copy:\nWork a')
  })

  test('that cannot be read to its end is cut off, never whole without saying so', async () => {
    const { db } = desk.context
    await db.sequelize.query('DELETE FROM blob_chunks WHERE n = 1')
    await expect(file('/export?format=bundle')).rejects.toThrow(/aborted|socket hang up/)
    await db.copies.destroy({ where: { workId: works.b! } })
  })
})

describe('versions', () => {
  test('the same state is kept once, with all formats in which it was handed in', async () => {
    expect(await versions()).toEqual([])
    const first = await handIn('docx')
    expect(await handIn('markdown')).toBe(first)
    expect(await handIn('docx')).toBe(first)
    expect(await versions()).toEqual([
      expect.objectContaining({ id: first, why: 'handed in', formats: ['docx', 'markdown'], entries: 3, isNow: true }),
    ])
    expect((await versions())[0]).toMatchObject({ by: 'owner', styleName: (await bibliography()).styleName })
    await desk.post(`${at}/versions`, { format: 'bibtex' }, 422)
  })

  test('what is handed in stays as it was, whatever is written later', async () => {
    const [kept] = await versions()
    await annotate('a', 'Another text.')
    await setLayout({ cover: false })
    expect((await versions())[0]!.isNow).toBe(false)
    const text = (await file(`/versions/${kept!.id}/file?format=markdown`)).body.toString()
    expect(text).toContain('> שלום — second.')
    expect(text).not.toContain('Another text.')
    expect((await file(`/versions/${kept!.id}/file?format=csl`)).body.toString()).toContain('10.5555/np.a')
  })

  test('is compared with how it stands, and with another', async () => {
    const [kept] = await versions()
    const { changes } = (await desk.get(`${at}/versions/${kept!.id}/changes`)) as Answer<'versionChanges'>
    expect(changes.map(x => [x.what, x.title])).toEqual([['annotation', 'Work a']])
    const later = await handIn()
    const between = (await desk.get(`${at}/versions/${kept!.id}/changes?to=${later}`)) as Answer<'versionChanges'>
    expect(between).toEqual({ changes })
    await desk.owner.get(`${at}/versions/${kept!.id}/changes?to=999999`).expect(404)
  })

  test('is taken up again whole, and how it stood before is there again in one step', async () => {
    const oldest = (await versions()).at(-1)!
    await desk.owner.delete(`${at}/entries/${entries.c}`).expect(204)
    await annotate('b', 'New words on b.')
    await write('author', 'Someone Else', 1)
    await desk.owner.put(`${at}/style`).send({ style: 'ieee', language: 'de-DE' }).expect(200)
    const before = await bibliography()
    const done = (await desk.post(`${at}/versions/${oldest.id}/restore`, {}, 200)) as Answer<'takeUpVersion'>
    expect(done.left).toEqual([])
    expect((await versions()).map(v => [v.why, v.isNow])).toEqual([
      ['set aside', false],
      ['handed in', false],
      ['handed in', true],
    ])
    const now = await bibliography()
    expect(now.entries.map(e => [e.title.at(-1), e.annotation])).toEqual([
      ['b', '漢字 and شمعة.'],
      ['c', ''],
      ['a', 'First.\nשלום — second.'],
    ])
    expect(now).toMatchObject({ style: 'apa', language: null, layout: { cover: true } })
    const back = (await desk.post(`${at}/versions/${done.aside}/restore`, {}, 200)) as Answer<'takeUpVersion'>
    expect(back.left).toEqual([])
    const again = await bibliography()
    expect(again.entries.map(e => [e.title, e.annotation, e.label])).toEqual(
      before.entries.map(e => [e.title, e.annotation, e.label]),
    )
    expect(again).toMatchObject({ style: 'ieee', language: 'de-DE', layout: before.layout })
    expect(again.texts.find(t => t.place === 'author')!.content).toBe('Someone Else')
    expect(now.entries.find(e => e.id === entries.a)!.marks).toEqual([{ from: 0, to: 5, is: 'strong' }])
  })

  test('leaves out what is not kept any more, and names it', async () => {
    const oldest = (await versions()).at(-1)!
    await decide([works.a!], 'set aside')
    const done = (await desk.post(`${at}/versions/${oldest.id}/restore`, {}, 200)) as Answer<'takeUpVersion'>
    expect(done.left).toEqual(['Work a'])
    expect(await order()).toBe('bc')
    // a window that had the old text open is told, and writes nothing over
    await desk.owner.patch(`${at}/entries/${entries.b}`).set('If-Match', '"1"').send({ annotation: 'x' }).expect(412)
  })

  test('is a member’s to look at, and an owner’s to make; there is none without an entry', async () => {
    const reader = await desk.signIn('reader@desk.example')
    const user = await desk.context.db.users.findOne({ where: { email: 'reader@desk.example' }, raw: true })
    await desk.context.db.memberships.create({ inquiryId: id, userId: user!.id, role: 'reader' })
    const [latest] = await versions()
    await reader.get(`${at}/versions`).expect(200)
    await reader.get(`${at}/export?format=text`).expect(200)
    await reader.post(`${at}/versions`).send({ format: 'html' }).expect(403)
    await reader.post(`${at}/versions/${latest!.id}/restore`).send({}).expect(403)
    const empty = await newInquiry(desk)
    await desk.post(`/api/inquiries/${empty}/versions`, { format: 'html' }, 422)
    for (const format of ['html', 'bundle', 'bibtex'])
      await desk.owner.get(`/api/inquiries/${empty}/export?format=${format}`).expect(422)
    await desk.owner.get(`/api/inquiries/${empty}/versions/${latest!.id}/file?format=html`).expect(404)
  })
})
