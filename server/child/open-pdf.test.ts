import { describe, expect, test } from '@jest/globals'
import { existsSync, readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { PDFDocument, PDFName, PDFString, StandardFonts, type PDFPage } from 'pdf-lib'
import { pairsShared, wordsOf, split, type Known } from '../../bench/pages/known'
import type { FileMark } from '../../core/pdftext/file-marks'
import { RESTRICTED, type PageMark } from './pdf-marks'
import { ChildFailed, runChild } from './run'
import { FOLDER } from '../../core/match/file-nature'
import { tasks } from './tasks'

const folder = join(process.cwd(), 'server/child/foreign')
const file = (name: string) => readFileSync(join(folder, name))
const letters = (t: string) => t.normalize('NFKD').replace(/[^\p{L}\p{N}]/gu, '')

// texts of known words, set by programs of other makers (bench/pages/write-fixtures.ts)
const makers = readdirSync(folder).flatMap(f => (f.endsWith('.json') && !f.startsWith('marked') ? f.slice(0, -5) : []))
test.each(makers)('a text set by %s: words in their order, pages by their printed numbers, references', async name => {
  const known = JSON.parse(file(`${name}.json`).toString()) as Known
  const text = await tasks.pdf(file(`${name}.pdf`))
  const got = split(text.pages.map(p => p.text).join('\n'))
  // one program prints the marks of notes as if they were numbers of the text
  expect(pairsShared(wordsOf(known), got).f1).toBeGreaterThan(name === 'style-sheets' ? 0.99 : 0.998)
  expect(text.labels).toEqual(text.pages.map((_, i) => String(known.first + i)))
  expect(text.said).toMatch(/^Numbers are printed on \d of \d pages/)
  expect(text.references).toHaveLength(1)
  const [list] = text.references
  expect(list!.heading).toBe(known.refsHeading)
  expect(list!.entries.map(e => letters(e.text))).toEqual(
    known.refs.map(r => letters(r.text.replace(/^(\[\d+\]|\d+\.) ?/, ''))),
  )
  for (const e of list!.entries) expect(e.boxes.every(b => b.page <= text.pages.length && b.width > 20)).toBe(true)
  expect(text.headings.filter(h => h.level === 1).map(h => h.text)).toEqual(
    expect.arrayContaining([...known.sections.map(s => s.heading), known.refsHeading]),
  )
  expect(letters(text.front.title ?? '')).toBe(letters(known.title))
  // notes stand apart from the text that they are notes to
  const notes = text.pages.map(p => p.notes).join('\n')
  if (name !== 'browser') for (const n of known.notes) expect(letters(notes)).toContain(letters(n))
})

test('a manuscript: lines are not read as numbers, the preface has pages of its own, a table lies on its side', async () => {
  const { pages, labels, by } = await tasks.pdf(file('manuscript.pdf'))
  expect(labels).toEqual(['i', 'ii', '1', '2', '3'])
  expect(new Set(by)).toEqual(new Set(['printed']))
  expect(pages[2]!.text).toMatch(/^1 Lamps at the window\nNobody had counted the moths .* colder than the first\.$/)
  expect(pages[3]!.text.split('\n')).toHaveLength(2)
  expect(pages[4]!.text).toContain('One 311 120 Two 298 133')
})

test('writing from right to left, in columns, and from top to bottom is read in its order', async () => {
  const { pages } = await tasks.pdf(file('scripts.pdf'))
  expect(pages[0]!.text).toContain('لم يحص أحد فراشات الميناء قبل أن تأتي المصابيح في سنة 1998 ولا بعدها بسنة.')
  expect(pages[0]!.text).toContain('איש לא ספר את העשים בנמל לפני שבאו המנורות בשנת 2004 וגם לא אחריה.')
  expect(pages[0]!.text.replace(/\n/g, '')).toContain('二度数えないようにした。')
  expect(pages[1]!.text).toBe('縦に書かれた文も、右から左へと読まれる。蛾は灯に集まる。')
})

test('what anybody may open is opened; what is locked asks for its password, in a process of its own', async () => {
  const words = 'Nobody had counted the moths of the harbour before the lamps came'
  expect((await tasks.pdf(file('restricted.pdf'))).pages[0]!.text).toContain(words)
  const locked = file('locked.pdf')
  await expect(runChild('pdf', locked)).rejects.toThrow(/^PasswordException/)
  await expect(runChild('pdf', locked, {}, { password: 'moth' })).rejects.toBeInstanceOf(ChildFailed)
  expect((await runChild('pdf', locked, {}, { password: 'Zwielicht-7' })).pages[0]!.text).toContain(words)
})

test('pictures of a text are read by machine: those pages by which it is told, no other', async () => {
  const text = await tasks.pdf(file('scan.pdf'))
  expect(text.scan).toMatchObject({ why: 'pictures', read: [1, 2, 4] })
  expect(text.scan!.drawn.map(d => [Math.round(d.width), d.runs.length > 20])).toEqual(Array(3).fill([595, true]))
  expect(text.front.title).toBe('Shutters and swifts over the old harbour')
  expect(text.labels).toEqual(['61', '62', '63', '64'])
  expect(text.pages[1]!.text).toContain('counted all swifts that flew lower than the roofs.')
  expect(text.pages[2]!.text).toBe('')
  expect(text.references[0]!.entries.map(e => e.read.item.title)).toEqual(['Roofs of the north', 'Harbour winds'])
})

test('letters that are not those that a page shows are told, and its picture is read', async () => {
  const text = await tasks.pdf(file('nonsense.pdf'))
  expect(text.scan).toMatchObject({ why: 'letters', read: [1] })
  expect(text.pages[0]!.text).toContain('Nobody had counted swifts above the roofs of a mining town')
  expect(text.front.title).toBe('Swifts above the roofs of a mining town')
})

describe('files that are hard in themselves', () => {
  const write = async (make: (doc: PDFDocument, draw: (page: PDFPage, text: string, y: number) => void) => void) => {
    const doc = await PDFDocument.create()
    const font = await doc.embedFont(StandardFonts.Helvetica)
    make(doc, (page, text, y) => page.drawText(text, { x: 72, y, size: 12, font }))
    return Buffer.from(await doc.save())
  }
  const LINES = ['Lamps were counted in six small towns of the north.', 'Nobody had counted the moths before.']
  test('a folder of files is told, and not read', async () => {
    const folder = await write((doc, draw) => {
      draw(doc.addPage(), 'Open this file in another program.', 600)
      doc.catalog.set(PDFName.of('Collection'), doc.context.obj({ Type: 'Collection' }))
    })
    await expect(tasks.pdf(folder)).rejects.toThrow(FOLDER)
  })
  test('a page of 200 inches', async () => {
    const large = await write((doc, draw) => {
      const page = doc.addPage([14_400, 14_400])
      LINES.forEach((l, i) => draw(page, l, 14_000 - i * 15))
    })
    expect((await tasks.pdf(large)).pages[0]!.text).toBe(LINES.join(' '))
  })
  test('a page of 200 inches that is empty is read as a picture no larger than any other', async () => {
    const text = await tasks.pdf(await write(doc => void doc.addPage([14_400, 14_400])))
    expect(text).toMatchObject({ labels: ['[1]'], scan: { why: 'pictures', read: [1] } })
  })
  test('scripts and programs to launch stand in it for nothing', async () => {
    const active = await write((doc, draw) => {
      const page = doc.addPage()
      LINES.forEach((l, i) => draw(page, l, 700 - i * 15))
      doc.addJavaScript('on open', 'while (true) app.alert("lamp")')
      doc.catalog.set(
        PDFName.of('OpenAction'),
        doc.context.obj({ Type: 'Action', S: 'Launch', F: PDFString.of('/bin/touch /tmp/vine-launched') }),
      )
    })
    expect((await tasks.pdf(active)).pages[0]!.text).toBe(LINES.join(' '))
    expect(existsSync('/tmp/vine-launched')).toBe(false)
  })
  test('many thousand pieces on one page', async () => {
    const many = await write((doc, draw) => {
      const page = doc.addPage([600, 14_400])
      for (let i = 0; i < 900; i++) draw(page, `Line ${i} of a list of lamps.`, 14_300 - i * 15)
    })
    const { pages } = await tasks.pdf(many)
    expect(pages[0]!.lines).toHaveLength(900)
  })
})

describe('marks in a file', () => {
  // marked by programs of three makers (bench/pages/mark-fixtures.py)
  const known = JSON.parse(file('marked.json').toString()) as Record<string, Partial<FileMark>[]>
  test.each(Object.keys(known))('%s: what others marked is read, with its words and notes', async name => {
    const { marks, ...rest } = await tasks.marks(file(`${name}.pdf`))
    const by = (m: Partial<FileMark>) => `${m.note} ${m.quote}`
    expect(
      marks
        .map(({ kind, page, quote, note }) => ({ kind, page, quote, note }))
        .sort((a, b) => (by(a) < by(b) ? -1 : 1)),
    ).toEqual(known[name]!.sort((a, b) => (by(a) < by(b) ? -1 : 1)))
    expect(rest).toEqual({ drawings: 0, left: 0, unread: 0 })
    expect(new Set(marks.map(m => m.by))).toEqual(new Set(['Mara Zorin']))
    for (const m of marks) expect(m.boxes.every(b => b.width > 5 && b.height > 5)).toBe(true)
    expect((await tasks.pdf(file(`${name}.pdf`))).marks!.marks).toEqual(marks)
  })

  const mark = (more: Partial<PageMark>): PageMark => ({
    ...{
      page: 1,
      boxes: [],
      words: '',
      isFrame: false,
      note: '',
      colour: [255, 221, 150],
      at: '2026-10-05T10:00:00.000Z',
    },
    ...more,
  })
  const box = { x: 72, y: 225.5, width: 300, height: 12 }
  test.each([...makers, 'scripts', 'marked-script'])(
    'are written behind %s, whose own bytes stay, and read again where they were',
    async name => {
      const bytes = file(`${name}.pdf`)
      const before = (await tasks.marks(bytes)).marks
      const first = { page: 1, ...box }
      const written = await tasks.marked(bytes, {
        marks: [
          mark({ boxes: [first, { ...first, y: 240 }, { ...box, page: 2 }], note: 'Ein „Wort“ – ж' }),
          mark({ boxes: [{ ...first, y: 400, height: 120 }], isFrame: true, note: 'A figure' }),
          mark({ note: 'On the page' }),
          mark({ page: 2, note: 'On the next' }),
        ],
      })
      expect(written.subarray(0, bytes.length).equals(bytes)).toBe(true)
      const { marks } = await tasks.marks(written)
      const own = marks.filter(m => !before.some(b => b.key === m.key))
      expect(own.map(m => [m.page, m.note]).sort()).toEqual([
        ...[
          [1, 'A figure'],
          [1, 'Ein „Wort“ – ж'],
          [1, 'On the page'],
          [2, ''],
          [2, 'On the next'],
        ],
      ])
      const placed = own.find(m => m.note.startsWith('Ein'))!
      expect(placed).toMatchObject({ at: '2026-10-05T10:00:00.000Z', colour: '#ffdd96' })
      for (const [i, b] of [first, { ...first, y: 240 }].entries())
        for (const k of ['x', 'y', 'width', 'height'] as const) expect(placed.boxes[i]![k]).toBeCloseTo(b[k], 1)
    },
    30_000,
  )

  test('whose place was not kept lie over their words; those of a page that is not there are on the last', async () => {
    const words = 'Competing explanations invoke air raids or plain chance.'
    const written = await tasks.marked(file('TeX.pdf'), {
      marks: [
        mark({ words, note: 'found' }),
        mark({ words: 'Nothing of this stands there', note: 'not found' }),
        mark({ page: 99, note: 'last' }),
      ],
    })
    const { marks } = await tasks.marks(written)
    const of = (note: string) => marks.find(m => m.note === note)!
    expect(of('found').quote).toContain('Competing explanations invoke air raids or plain')
    expect(of('not found').kind).toBe('figure')
    expect(of('last').page).toBe((await tasks.pdf(file('TeX.pdf'))).pages.length)
  })

  test('a file without new marks is the same; one whose makers allow none is not written, one that is locked is opened', async () => {
    const bytes = file('TeX.pdf')
    expect((await tasks.marked(bytes)).equals(bytes)).toBe(true)
    await expect(tasks.marked(file('restricted.pdf'), { marks: [mark({ note: 'x' })] })).rejects.toThrow(RESTRICTED)
    await expect(tasks.marked(file('locked.pdf'), { marks: [mark({ note: 'x' })] })).rejects.toThrow(/password/i)
    const password = 'Zwielicht-7'
    const written = await tasks.marked(file('locked.pdf'), { marks: [mark({ note: 'ж x' })], password })
    expect((await tasks.marks(written, { password })).marks.map(m => m.note)).toEqual(['ж x'])
  })
})
