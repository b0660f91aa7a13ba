import { describe, expect, test } from '@jest/globals'
import type { Run } from './page'
import { readText } from './read-text'
import { page, prose, run } from './rig'
import { titlePageSays } from './title-page'

/** A first page: a title in large letters, what stands beneath it, and text. */
const titled = (beneath: readonly Run[], more: readonly Run[] = []) =>
  readText([
    page([
      run('Moths at the harbour', 100, 80, { size: 18 }),
      ...beneath,
      run('Abstract', 100, 260, { font: 'bold', size: 11 }),
      ...prose(4, 100, 280),
      run('1 Introduction', 100, 360, { font: 'bold', size: 12 }),
      ...prose(20, 100, 380),
      ...more,
    ]),
  ])
const line = (text: string, y: number, x = 100): Run => run(text, x, y, { size: 12, font: 'names' })
const raised = (text: string, x: number, y: number, size = 8): Run => run(text, x, y, { size })
const signed = (beneath: readonly Run[], more: readonly Run[] = []) =>
  (titled(beneath, more).front.authors ?? []).map(({ name, affiliations }) => [
    name.literal ?? `${name.given} | ${name.family}`,
    ...affiliations,
  ])

describe('who signs a text', () => {
  test('names stand beneath the title, one after the other, and where they work beneath them', () => {
    expect(
      signed([
        line('Mara Lune, I. van der Berg and Ada Okafor-Sand', 110),
        line('Institute of Lamps, University of Korrin', 126),
        line('mara@korrin.example', 142),
      ]),
    ).toEqual([
      ['Mara | Lune', 'Institute of Lamps, University of Korrin'],
      ['I. | van der Berg', 'Institute of Lamps, University of Korrin'],
      ['Ada | Okafor-Sand', 'Institute of Lamps, University of Korrin'],
    ])
  })
  test('raised signs lead from a name to its place, several too, whether figures or letters', () => {
    const byFigures = [
      line('Mara Lune', 110),
      raised('1', 154.5, 105),
      line(', Ib Sand', 110, 159),
      raised('1,2', 206, 105),
      raised('1', 100, 122),
      line('Institute of Lamps', 126, 104),
      line('and of Moths, Korrin', 140),
      raised('2', 100, 152),
      line('Moorgrave 7, Ostmere', 156, 104),
    ]
    expect(signed(byFigures)).toEqual([
      ['Mara | Lune', 'Institute of Lamps and of Moths, Korrin'],
      ['Ib | Sand', 'Institute of Lamps and of Moths, Korrin', 'Moorgrave 7, Ostmere'],
    ])
    const letters = byFigures.map(r => ({ ...r, text: r.text === '1' ? 'a' : r.text === '2' ? 'b' : r.text }))
    expect(signed(letters)[0]).toEqual(['Mara | Lune', 'Institute of Lamps and of Moths, Korrin'])
  })
  test('signs may lead to a note at the foot of the page', () => {
    const beneath = [line('Mara Lune', 110), raised('∗', 154.5, 105)]
    const note = (text: string) => [run(text, 100, 720, { size: 8 })]
    expect(signed(beneath, note('∗University of Korrin, Tern Lane 3.'))).toEqual([
      ['Mara | Lune', 'University of Korrin, Tern Lane 3'],
    ])
    expect(signed(beneath, note('∗We thank the keeper of the harbour.'))).toEqual([['Mara | Lune']])
  })
  test('names that stand beside each other have what stands beneath each', () => {
    expect(
      signed([
        line('Mara Lune', 110, 100),
        line('Ib Sand', 110, 350),
        line('University of Korrin', 126, 80),
        line('Ostmere College', 126, 335),
        line('Korrin', 142, 115),
      ]),
    ).toEqual([
      ['Mara | Lune', 'University of Korrin, Korrin'],
      ['Ib | Sand', 'Ostmere College'],
    ])
  })
  test('a place beside each name, line for line; names in capitals are written as names are', () => {
    expect(
      signed([
        line('MARA DE LUNE, University of Korrin', 110),
        line('IB SAND, Moorgrave, Korrin', 126),
        line('ADA OKAFOR and JON TARN, Ostmere College', 142),
      ]),
    ).toEqual([
      ['Mara | de Lune', 'University of Korrin'],
      ['Ib | Sand', 'Moorgrave, Korrin'],
      ['Ada | Okafor', 'Ostmere College'],
      ['Jon | Tarn', 'Ostmere College'],
    ])
  })
  test('names go on in the next line; titles, degrees, the day and “by” are none of them', () => {
    expect(
      signed([
        line('by Prof. Mara Lune, PhD, Ib Sand', 110),
        line('and Dr. Ada Okafor', 126),
        line('University of Korrin', 142),
        line('14 March 2019', 158),
        line('Submitted to the board of the university', 174),
        line('Jon Tarn', 190),
      ]),
    ).toEqual([
      ['Mara | Lune', 'University of Korrin'],
      ['Ib | Sand', 'University of Korrin'],
      ['Ada | Okafor', 'University of Korrin'],
    ])
  })
  test.each([
    ['a sentence', [line('the lamps of the harbour were lit at dusk and moths came', 110), line('Mara Lune', 126)]],
    ['a list of contents', [line('Contents', 110), line('Mara Lune', 126)]],
    ['a body', [line('University of Korrin', 110)]],
    ['single letters', [line('G U N', 110)]],
  ])('%s signs nothing', (_, beneath) => expect(signed(beneath)).toEqual([]))
  test('one name of one word counts among others where a sign stands behind it', () => {
    const names = [line('L. Lune', 110), raised('1', 142.5, 105), line(', Dafina', 110, 147), raised('2', 195.5, 105)]
    expect(signed(names).map(([name]) => name)).toEqual(['L. | Lune', 'Dafina'])
    expect(signed([line('Dafina', 110)])).toEqual([])
  })
  test('a name that begins with a letter and a full stop is no heading', () => {
    const { headings } = titled([line('S. K. Castel', 110)])
    expect(headings.map(h => h.text)).toEqual(['Abstract', '1 Introduction'])
    expect(signed([line('S. K. Castel', 110)])).toEqual([['S. K. | Castel']])
  })
})

describe('captions', () => {
  const of = (...runs: Run[]) =>
    readText([page([...prose(10, 100, 60), ...runs, ...prose(20, 100, 340)])]).captions.map(c => c.text)
  const small = (text: string, y: number, more: Partial<Run> = {}) =>
    run(text, 100, y, { size: 8, width: 400, ...more })
  test('a caption is kept with the lines that go on with it, and its place', () => {
    const { captions } = readText([
      page([
        ...prose(10, 100, 60),
        small('Figure 2. What was found in each year,', 220),
        small('with its range.', 230, { width: 80 }),
        ...prose(20, 100, 340),
      ]),
    ])
    expect(captions).toEqual([{ text: 'Figure 2. What was found in each year, with its range.', page: 1, y: 220 }])
  })
  test('in the letters of the text it ends with the line that is not filled', () => {
    expect(of(run('Table 1: Sites.', 100, 220, { width: 90 }), run('North 12', 100, 232, { width: 60 }))).toEqual([
      'Table 1: Sites.',
    ])
  })
  test('two beneath each other are two', () => {
    expect(of(small('Fig. 1. Lamps', 220), small('Fig. 2. Moths', 230))).toEqual(['Fig. 1. Lamps', 'Fig. 2. Moths'])
  })
  test.each(['Abb. 3: Lampen', 'Tableau IV Phares', 'Plate A2', 'Chart 1.2 – Lamps', '图 1 灯'])('%s', text =>
    expect(of(small(text, 220))).toEqual([text]),
  )
  test('a sentence on a figure is none, nor a line within the text', () => {
    expect(of(small('Figure 2 shows what was found.', 220))).toEqual([])
    expect(of(run('Figure 2. It was', 100, 180, { width: 400 }))).toEqual([])
    expect(of(small('Figures of the harbour', 220))).toEqual([])
  })
})

describe('notes in the margin', () => {
  const texts = (...pages: Run[][]) => readText(pages.map(page)).pages.map(p => p.text)
  const beside = (text: string, y: number, x = 515) => run(text, x, y, { size: 8 })
  test('are read behind the text of their page, each by itself', () => {
    const [text] = texts([
      ...prose(30, 100, 60),
      ...['Compare the', 'older list.'].map((t, i) => beside(t, 96 + i * 10)),
      ...['Seen', 'once'].map((t, i) => beside(t, 150, 515 + i * 30)),
    ])
    const lines = text!.split('\n')
    expect(lines.slice(-2)).toEqual(['Compare the older list.', 'Seen once'])
    expect(lines.slice(0, -2).join(' ')).not.toMatch(/older|Seen/)
  })
  test('left and right pages have them at their outer edge', () => {
    const left = [...prose(30, 140, 60), beside('To the left', 96, 60)]
    const right = [...prose(30, 60, 60), beside('To the right', 96, 480)]
    expect(texts(left, right).map(t => t.split('\n').at(-1))).toEqual(['To the left', 'To the right'])
  })
  test('numbers of lines, cells of a wide table and columns are none', () => {
    const table = [0, 1, 2].flatMap(i => [
      run('Fen', 100, 460 + i * 12),
      run('North', 300, 460 + i * 12),
      run('twelve lamps', 515, 460 + i * 12),
    ])
    const [text] = texts([...prose(30, 100, 60), ...table, run('7', 515, 96)])
    expect(text).toContain('Fen North twelve lamps')
    const half = (x: number) => prose(30, x, 60).map(r => ({ ...r, text: r.text.slice(0, 40), width: 200 }))
    const short = run('and so it was.', 320, 424)
    const [two] = texts([...half(80), ...half(320), short])
    expect(two!.endsWith('and so it was.')).toBe(true)
  })
  test('beside nothing there is no margin', () => {
    const [text] = texts([...prose(20, 100, 60), run('A map of the harbour', 515, 500)])
    expect(text).toContain('A map of the harbour')
  })
})

describe('what the title page says of the record', () => {
  const front = {
    title: 'Moths at lamps',
    doi: '10.5555/np.1',
    authors: [{ name: { family: 'Lune', given: 'Mara' }, affiliations: ['Korrin'] }],
    abstract: 'We counted.',
    source: { 'container-title': 'Night Papers', volume: '7', page: '45-60', issued: { 'date-parts': [[2014, 3]] } },
  }
  const item = {
    id: '',
    type: 'article-journal',
    title: 'Moths at Lamps',
    DOI: 'https://doi.org/10.5555/NP.1',
    author: [{ family: 'Lune', given: 'M.' }],
    volume: '8',
    page: '45',
    issued: { 'date-parts': [[2014, 3, 2]] },
  }
  const said = (more: object = {}, version = 'version of record', page: object = front) => {
    const { confirms, says } = titlePageSays({ ...item, ...more }, version, page)
    return { confirms, says: says.map(s => [s.field, s.page, s.record]) }
  }
  test('it confirms what is the same, however it is written, and says what is other or missing', () => {
    expect(said()).toEqual({
      confirms: ['title', 'author', 'issued', 'page', 'DOI'],
      says: [
        ['container-title', 'Night Papers', ''],
        ['volume', '7', '8'],
        ['abstract', 'We counted.', ''],
      ],
    })
  })
  test('a manuscript has pages and a DOI of its own: only its abstract is told', () => {
    expect(said({}, 'preprint').says).toEqual([['abstract', 'We counted.', '']])
    expect(said({ abstract: 'Counted.' }, 'preprint').says).toEqual([])
  })
  test('other pages, another year and other authors are told; names that share none are no authors', () => {
    expect(said({ page: '46-60', issued: { 'date-parts': [[2015]] } }).says.map(([f]) => f)).toEqual([
      'issued',
      'container-title',
      'volume',
      'page',
      'abstract',
    ])
    expect(said({ page: '45-61' }).confirms).not.toContain('page')
    const two = [...item.author, { family: 'Sand', given: 'Ib' }]
    expect(said({ author: two }).says[0]).toEqual(['author', 'Lune, Mara', 'Lune, M.; Sand, Ib'])
    expect(said({ author: [{ family: 'Tarn' }] })).toMatchObject({ confirms: ['title', 'issued', 'page', 'DOI'] })
    expect(said({ author: undefined }).says[0]).toEqual(['author', 'Lune, Mara', ''])
  })
})
