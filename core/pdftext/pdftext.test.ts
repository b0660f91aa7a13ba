import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { columnsOf } from './columns'
import { furnitureOf } from './heads'
import { pageLabels } from './labels'
import { mendLetters, tidyLetters } from './letters'
import { withoutLineNumbers } from './line-numbers'
import { linesOf } from './lines'
import type { Run } from './page'
import { readText } from './read-text'
import { page, run } from './rig'
import { joinLines, Words } from './text'

const told = (runs: Run[]) => columnsOf(runs).flatMap(c => c.lines.map(l => l.text))
const words = new Words([])

describe('lines', () => {
  test('runs on one baseline are one line; what stands far apart are cells of it', () => {
    expect(linesOf([run('moths', 100, 70), run('Night', 70, 70), run('12', 300, 70.4)]).map(l => l.text)).toEqual([
      'Night moths\t12',
    ])
  })
  test('a raised number is told from the word that it follows, a small one below stays with it', () => {
    const [line] = linesOf([
      run('lamps', 60, 100),
      run('12', 85.5, 96, { size: 6, width: 6 }),
      run('were out', 96, 100),
    ])
    expect(line!.text).toBe('lamps¹² were out')
    expect(linesOf([run('H', 60, 100), run('2', 65, 102, { size: 6, width: 3 }), run('O', 68, 100)])[0]!.text).toBe(
      'H2O',
    )
  })
  test.each([
    ['´et´e', 'été'],
    ['fac¸ade', 'façade'],
    ['Dvoˇr´ak', 'Dvořák'],
    ['oﬃce ﬂow', 'office flow'],
    ['⼀⽬', '一目'],
    ['a\u0000b  c\t  d ', 'ab c\td'],
  ])('%s is written %s', (given, is) => expect(tidyLetters(given)).toBe(is))
  test('letters of fonts that say nothing of themselves are told by their ligatures', () => {
    const [mended] = mendLetters([page([run('e\u001bort and \u0010lamps\u0011', 0, 10), run('Dvo°ák', 0, 30)])])
    expect(mended!.runs.map(r => r.text)).toEqual(['effort and “lamps”', 'Dvořák'])
    const plain = [page([run('20° C', 0, 10)])]
    expect(mendLetters(plain)).toBe(plain)
  })
  test('what runs from right to left is read so, numbers in it from left to right', () => {
    expect(
      linesOf([run('2004', 80, 10), run('בשנת', 110, 10), run('19', 50, 10, { width: 10 }), run('ב', 70, 10)])[0]!.text,
    ).toBe('בשנת 2004 ב 19')
  })
})

describe('columns', () => {
  const text = (side: string, x: number, n = 8) =>
    Array.from({ length: n }, (_, i) => run(`${side} line ${i} has words of its own`, x, 120 + i * 12, { width: 220 }))
  test('are read one after the other, below what spans both and before what follows', () => {
    const runs = [
      run('A title over both columns of the page', 60, 60, { width: 480 }),
      ...text('left', 60),
      ...text('right', 320),
      run('A table over both columns of the page', 60, 300, { width: 480 }),
      ...Array.from({ length: 6 }, (_, i) => [
        run(`below left ${i} goes on with it`, 60, 330 + i * 12, { width: 220 }),
        run(`below right ${i} goes on with it`, 320, 330 + i * 12, { width: 220 }),
      ]).flat(),
    ]
    const lines = told(runs)
    const at = (start: string) => lines.findIndex(l => l.startsWith(start))
    const order = [
      'A title',
      'left line 0',
      'left line 7',
      'right line 0',
      'right line 7',
      'A table',
      'below left 0',
      'below left 5',
      'below right 0',
    ]
    expect(order.map(at)).toEqual([...order.map(at)].sort((a, b) => a - b))
    expect(order.map(at)).not.toContain(-1)
  })
  test('three of them, from right to left where the writing is', () => {
    const hebrew = (x: number, side: string) =>
      Array.from({ length: 8 }, (_, i) => run(`${side} של הטור הזה כאן ${i}`, x, 120 + i * 12, { width: 140 }))
    expect(told([...text('a', 20), ...text('b', 260), ...text('c', 500)])[16]).toMatch(/^c line 0/)
    expect(told([...hebrew(40, 'שמאל'), ...hebrew(240, 'ימין')])[0]).toMatch(/^ימין/)
  })
  test('a table is read by its rows, and so are entries with their numbers before them', () => {
    const rows = Array.from({ length: 9 }, (_, i) => [
      run(`Window ${i}`, 60, 100 + i * 12),
      run(`${300 + i}`, 300, 100 + i * 12),
    ])
    expect(told(rows.flat())[3]).toBe('Window 3\t303')
  })
  test('few lines beside each other are columns where other pages have them', () => {
    const few = [
      run('the end of the left one here', 60, 100, { width: 220 }),
      run('the end of the right one here', 320, 100, { width: 220 }),
    ]
    expect(columnsOf(few)).toHaveLength(1)
    expect(columnsOf(few, [300])).toHaveLength(2)
  })
  test('whatever stands on a page, each of its words is read once', () => {
    const runs = fc.array(
      fc.record({
        x: fc.integer({ min: 0, max: 580 }),
        y: fc.integer({ min: 0, max: 780 }),
        size: fc.integer({ min: 4, max: 30 }),
      }),
      { maxLength: 60 },
    )
    fc.assert(
      fc.property(runs, placed => {
        const given = placed.map((p, i) => run(`w${i}q`, p.x, p.y, { ...p, width: 20 }))
        const read =
          readText([page(given)])
            .pages[0]!.lines.join(' ')
            .match(/w\d+q/g) ?? []
        expect(read.sort()).toEqual(given.map(r => r.text).sort())
      }),
      { numRuns: 200 },
    )
  })
})

describe('running heads and feet', () => {
  const body = (n: number) =>
    Array.from({ length: 20 }, (_, i) => run(`text ${n} ${i} is not like any other`, 60, 120 + i * 12))
  test('what comes again at one height is no text, on left and right pages each', () => {
    const pages = Array.from({ length: 6 }, (_, i) =>
      page([
        run(i % 2 ? `${40 + i}   Lune and Sand` : `Night Papers 7   ${40 + i}`, 60, 40),
        ...body(i),
        run('doi:10.5555/x', 60, 780),
      ]),
    )
    const told = furnitureOf(pages)
    expect(told.map(t => t.heads.length)).toEqual([1, 1, 1, 1, 1, 1])
    expect(told[3]!.feet[0]!.text).toBe('doi:10.5555/x')
    expect(told[0]!.rest).toHaveLength(20)
  })
  test('numbers of lines are taken from the margins, numbers of a table are not', () => {
    const numbered = page([
      ...body(0),
      ...Array.from({ length: 20 }, (_, i) => run(String(i + 1), 30, 120 + i * 12, { width: 8 })),
    ])
    expect(withoutLineNumbers([numbered])[0]!.runs).toHaveLength(20)
    const table = page([
      run('A table of windows', 30, 100),
      ...Array.from({ length: 20 }, (_, i) => run(String(i + 1), 30, 120 + i * 12, { width: 8 })),
    ])
    expect(withoutLineNumbers([table])[0]!.runs).toHaveLength(21)
  })
})

describe('page labels', () => {
  const pages = (...edges: string[]) => edges.map(e => ({ edges: e ? [e] : [], outer: [] }))
  const labels = (...edges: string[]) => pageLabels(pages(...edges), null).labels
  test.each<[string, string[], string[]]>([
    ['numbers that go up', ['Night Papers 12\t140', '141\tLune', '142'], ['140', '141', '142']],
    ['missing on some', ['', '141', '', '143', ''], ['140', '141', '142', '143', '144']],
    [
      'a preface in Roman numerals, then the text',
      ['i', 'ii', 'iii', '1', '2', '3'],
      ['i', 'ii', 'iii', '1', '2', '3'],
    ],
    ['with letters before them', ['S12', 'S13', 'S14'], ['S12', 'S13', 'S14']],
    ['by article', ['Lamps\t104:1', '104:2\tLune', 'Lamps\t104:3'], ['104:1', '104:2', '104:3']],
    ['Page n of m', ['Page 3 of 9', 'Page 4 of 9', 'Page 5 of 9'], ['3', '4', '5']],
    ['another article in the same file', ['40', '41', '42', '7', '8', '9'], ['40', '41', '42', '7', '8', '9']],
    ['the year and the volume are none', ['2014 7', '2014 7', '2014 7'], ['[1]', '[2]', '[3]']],
    ['none', ['', ''], ['[1]', '[2]']],
    ['one page alone', ['17'], ['17']],
  ])('%s', (_, edges, is) => expect(labels(...edges)).toEqual(is))
  test('the file’s own labels count where nothing is printed, and where the print agrees', () => {
    expect(pageLabels(pages('', '', ''), ['v', 'vi', '1'])).toMatchObject({
      labels: ['v', 'vi', '1'],
      by: ['file', 'file', 'file'],
    })
    expect(pageLabels(pages('45', '46', '47'), ['45', '46', '47']).said).toContain(
      'so do the numbers printed on 3 of 3',
    )
    // numbered anew by whoever put it together
    expect(pageLabels(pages('45', '46', '47'), ['a', 'b', 'c']).labels).toEqual(['45', '46', '47'])
    expect(pageLabels(pages('', ''), ['1', '2']).by).toEqual(['place', 'place'])
  })
  test('the record says where its article begins: a cover sheet before it has no number', () => {
    const cover = pageLabels(pages('', '45', '46', '47'), null, '45-47')
    expect(cover.labels).toEqual(['[1]', '45', '46', '47'])
    expect(cover.said).toContain('The record says the same.')
    expect(pageLabels(pages('', '', ''), null, '45-47')).toMatchObject({
      labels: ['45', '46', '47'],
      by: ['record', 'record', 'record'],
    })
    expect(pageLabels(pages('', ''), null, '45-47').labels).toEqual(['[1]', '[2]'])
  })
  test('marks of notes go up with the pages, too, but stand in no running head', () => {
    const told = pageLabels(
      [3, 4].map(n => ({ edges: [`Night Papers 66 ${n + 164}`], outer: [`${n} The list of lamps.`] })),
      null,
    )
    expect(told.labels).toEqual(['167', '168'])
  })
  test('wherever numbering begins and whatever is missing, a page is called by what stands on it', () => {
    const given = fc.record({
      first: fc.integer({ min: 1, max: 3000 }),
      shown: fc.array(fc.boolean(), { minLength: 5, maxLength: 30 }),
    })
    fc.assert(
      fc.property(given, ({ first, shown }) => {
        fc.pre(shown.filter(Boolean).length * 2 > shown.length)
        const edges = shown.map((s, i) => (s ? `Night Papers 1998\t${first + i}` : 'Night Papers 1998'))
        expect(labels(...edges)).toEqual(shown.map((_, i) => String(first + i)))
      }),
    )
  })
})

describe('running text', () => {
  const join = (...lines: string[]) =>
    joinLines(
      lines.map(text => ({ text })),
      new Words([...lines, ...known]),
    )
  const known = ['long-term counts', 'the harbour', 'co-operate and cooperate and cooperate']
  test.each<[string[], string]>([
    [['the har-', 'bour at night'], 'the harbour at night'],
    [['long-', 'term counts'], 'long-term counts'],
    [['coop-', 'erate'], 'cooperate'],
    [['Anglo-', 'Saxon lamps'], 'Anglo-Saxon lamps'],
    [['pages 12-', '14'], 'pages 12-14'],
    [['soft\u00ad', 'ware'], 'software'],
    [['https://doi.org/10.5555/', 'np.2014.7'], 'https://doi.org/10.5555/np.2014.7'],
    [['doi:10.5555/np.2014.7.', 'Lune, M.'], 'doi:10.5555/np.2014.7. Lune, M.'],
    [['蛾を数え', 'ない'], '蛾を数えない'],
    [['one', '', 'two\tthree'], 'one two three'],
  ])('%j', (lines, is) => expect(join(...lines)).toBe(is))
  test('a file that breaks words by a sign of its own keeps its other hyphens', () => {
    const lines = ['hyphen‐', 'ated words', 'mass-', 'flowering crops'].map(text => ({ text }))
    expect(joinLines(lines, new Words(lines.map(l => l.text)))).toBe('hyphenated words mass-flowering crops')
  })
})

describe('references', () => {
  const entries = [
    ['Lune, M. (2014). Lamps over the harbour and', 'what they draw. Night Papers, 7(2), 45-67.'],
    ['Sand, I., & Berg, O. (2009). Moths at three', 'windows. Journal of Lamps, 3, 1-9.'],
    ['Vane, T. (1998). Counting in the rain.', 'Harbour Studies, 12, 88-101.'],
  ]
  const text = (list: Run[]) => {
    const body = Array.from({ length: 14 }, (_, i) =>
      run(`The text of line ${i} goes on and on as texts do.`, 60, 60 + i * 12, { width: 400 }),
    )
    return readText([page([...body, run('References', 60, 250, { size: 13, font: 'bold' }), ...list])]).references
  }
  const set = (first: number, rest: number, room = 0, label: (n: number) => string = () => '') => {
    let y = 270
    return entries.flatMap((e, n) => {
      const runs = e.map((t, i) => run((i ? '' : label(n + 1)) + t, i ? rest : first, (y += 12), { size: 9 }))
      y += room
      return runs
    })
  }
  const titles = ['Lamps over the harbour and what they draw', 'Moths at three windows', 'Counting in the rain']
  test.each<[string, Run[], string]>([
    ['that hang', set(60, 80), 'hanging lines'],
    ['that are set in', set(80, 60), 'lines set in'],
    ['with room between them', set(60, 60, 6), 'room between them'],
    ['with nothing but their words', set(60, 60), 'their words'],
    ['with numbers', set(60, 60, 0, n => `${n}. `), 'numbers'],
    ['with numbers in brackets', set(60, 60, 0, n => `[${n}] `), 'numbers'],
  ])('entries %s are told apart and read', (_, list, by) => {
    const [found] = text(list)
    expect(found).toMatchObject({ heading: 'References', by })
    expect(found!.entries.map(e => e.read.item.title)).toEqual(titles)
    expect(found!.entries[1]!.read.item.author).toHaveLength(2)
  })
  test('where entries say their years, one without is what the entry before goes on with', () => {
    const lines = [
      ...['Lune, M. (2014). Lamps over the harbour and what they draw to it at night.', 'Night Pap. Harb. 17:1-22.'],
      ...['Sand, I. (2009). Moths at three windows of a house that is not lit at all.', 'J. Lamps 3:1-9.'],
      ...['Vane, T. (1998). Counting in the rain, and what is left to count in it.', 'Harbour Stud. 12:1901-1910.'],
      'Berg, O. (2011). A wall painted white. Harbour Studies, 4, 12-20.',
    ]
    const [found] = text(lines.map((t, i) => run(t, 60, 282 + 12 * i, { size: 9 })))
    expect(found!.entries.map(e => e.text.slice(0, 4))).toEqual(['Lune', 'Sand', 'Vane', 'Berg'])
    expect(found!.entries[1]!.text).toMatch(/J\. Lamps 3:1-9\.$/)
  })
  test('dashes stand for the authors of the entry before', () => {
    const list = [
      run('Lune, M. (2014). Lamps over the harbour. Night Papers, 7, 45-67.', 60, 270),
      run('———. (2016). Lamps after the harbour. Night Papers, 9, 12-19.', 60, 282),
      run('Sand, I. (2009). Moths at three windows. Journal of Lamps, 3, 1-9.', 60, 294),
    ]
    expect(text(list)[0]!.entries.map(e => e.read.item.author?.[0]?.family)).toEqual(['Lune', 'Lune', 'Sand'])
  })
  test('without a list, what notes cite is taken from them', () => {
    const body = Array.from({ length: 30 }, (_, i) =>
      run(`The text of line ${i} goes on and on as texts do.`, 60, 60 + i * 12, { width: 400 }),
    )
    const notes = [
      '1 Mara Lune, “Lamps over the harbour,” Night Papers 7 (2014): 45-67.',
      '2 This was said before, and will be said again.',
      '3 Ida Sand, “Moths at three windows,” Journal of Lamps 3 (2009): 1-9.',
      '4 Oda Berg, “A wall painted white,” Harbour Studies 4 (2011): 12-20.',
    ].map((t, i) => run(t, 60, 450 + i * 10, { size: 8 }))
    const { references, pages } = readText([page([...body, ...notes])])
    expect(references[0]!.by).toBe('notes')
    expect(references[0]!.entries.map(e => e.label)).toEqual(['1', '3', '4'])
    expect(pages[0]!.notes.split('\n')).toHaveLength(4)
    expect(pages[0]!.text).not.toContain('Mara Lune')
  })
})

test('a line that stops early within brackets ends no paragraph; one whose brackets are closed does', () => {
  const lines = [
    'Moths come where quays are lit by night (Lune and Vale, 2014;',
    'Nachterbergmoor and others, 2016), and stay there until the morning.',
  ]
  const set = (first: string) =>
    readText([
      page([
        ...[first, lines[1]!].map((t, i) => run(t, 60, 100 + 12 * i, { width: i ? 400 : 300 })),
        ...Array.from({ length: 8 }, (_, i) =>
          run(`The text of line ${i} goes on and on as texts do.`, 60, 124 + i * 12, { width: 400 }),
        ),
      ]),
    ]).pages[0]!.text.split('\n')[0]
  expect(set(lines[0]!)).toMatch(/2014; Nachterbergmoor/)
  expect(set('Moths come where quays are lit by night (Lune and Vale, 2014).')).toMatch(/2014\)\.$/)
})

test('no page, or an empty one, breaks nothing', () => {
  expect(readText([]).labels).toEqual([])
  expect(readText([page([])]).pages[0]).toEqual({ page: 1, lines: [], own: [], apart: [], text: '', notes: '' })
  expect(joinLines([], words)).toBe('')
})
