import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { Parser } from 'htmlparser2'
import { arrange, type Arranged } from './arrange'
import { entriesIn, TITLE, writingOf, type Paper } from './bibliography'
import { changesBetween } from './compare'
import { asHtml } from './html'
import { asLatex, escapeLatex } from './latex'
import { LAYOUT, isPlace, ORDERS, placeOfStrand, strandOfPlace } from './layout'
import { asMarkdown } from './markdown'
import { copyNames, fileName, patternTrouble } from './names'
import { asPlainText } from './plain'
import type { Mark } from '../write/written'
import { isRightToLeft } from './writing'

const entry = (n: number, annotation = `Annotation ${n}.`, title = `Work ${n}`) => ({
  ...{ entry: n, work: n * 10, title, citation: [{ text: `Ferrow, A. (20${n + 10}). ${title}.` }] },
  ...{ inText: `(Ferrow, 20${n + 10})`, annotation },
  item: { id: `w${n}`, type: 'article-journal', title, author: [{ family: 'Ferrow', given: 'A.' }] },
})
const paper = (more: Partial<Paper> = {}): Paper => ({
  title: TITLE,
  question: 'Do lamps change moths?',
  author: '',
  course: '',
  day: '2026-10-05',
  style: 'apa',
  styleName: 'American Style',
  language: null,
  hangingIndent: true,
  opening: '',
  closing: '',
  sections: [{ heading: null, strand: null, text: '', entries: [entry(1), entry(2)] }],
  ...more,
})
const written = (more: Partial<Paper> = {}, layout = {}) => writingOf(paper(more), { ...LAYOUT, ...layout })

const arranged = fc.record({
  id: fc.nat(1000),
  year: fc.option(fc.integer({ min: 1900, max: 2030 }), { nil: undefined }),
  strands: fc.uniqueArray(fc.integer({ min: 1, max: 5 }), { maxLength: 3 }),
  place: fc.option(fc.nat(50), { nil: null }),
})
const lists = fc.uniqueArray(arranged, { selector: e => e.id, maxLength: 30 })

test('every order has each entry once, and equal ones as the style sorts them', () => {
  fc.assert(
    fc.property(lists, fc.constantFrom(...ORDERS), fc.shuffledSubarray([1, 2, 3, 4, 5]), (list, order, strands) => {
      const sections = arrange(list, order, strands)
      const all = sections.flatMap(s => s.entries)
      expect(all.toSorted((a, b) => a - b)).toEqual(list.map(e => e.id).toSorted((a, b) => a - b))
      expect(sections.every(s => s.entries.length)).toBe(true)
      const of = new Map(list.map((e, i) => [e.id, { ...e, i }]))
      const rank = (e: Arranged & { i: number }) => (order === 'year' ? e.year : order === 'hand' ? e.place : 0) ?? 9999
      for (const s of sections)
        for (const [i, id] of s.entries.entries()) {
          const [a, b] = [of.get(id)!, of.get(s.entries[i + 1] ?? id)!]
          expect(rank(a) < rank(b) || (rank(a) === rank(b) && a.i <= b.i)).toBe(true)
          if (order === 'strand') expect(s.strand).toBe(strands.find(x => a.strands.includes(x)) ?? null)
        }
    }),
  )
  expect(arrange([], 'style', [])).toEqual([])
})

test('sections follow the order of the strands; an entry on two stands with the first, on none at the end', () => {
  const list: Arranged[] = [
    { id: 1, year: 2001, strands: [7], place: null },
    { id: 2, year: 2002, strands: [], place: null },
    { id: 3, year: 2003, strands: [7, 9], place: null },
  ]
  expect(arrange(list, 'strand', [9, 8, 7])).toEqual([
    { strand: 9, entries: [3] },
    { strand: 7, entries: [1] },
    { strand: null, entries: [2] },
  ])
})

test('a document has title, names, texts, headings, entries and annotations in their order', () => {
  const { blocks, title } = written({
    author: 'Ines Quill',
    course: 'Ecology 2',
    opening: 'First.\n\nSecond.',
    closing: 'Last.',
    sections: [
      { heading: 'Behaviour', strand: 3, text: 'On flight.', entries: [entry(1)] },
      { heading: 'Other works', strand: null, text: '', entries: [entry(2, '')] },
    ],
  })
  expect(title).toBe('Annotated bibliography: Do lamps change moths?')
  const said = blocks.map(b =>
    b.kind === 'heading' ? `#${b.level} ${b.text}` : b.kind === 'paragraph' ? b.runs[0]!.text : b.kind,
  )
  expect(said).toEqual([
    '#1 Annotated bibliography',
    'Do lamps change moths?',
    'Ines Quill · Ecology 2 · 5 October 2026',
    'First.',
    'Second.',
    '#2 Behaviour',
    'On flight.',
    'Ferrow, A. (2011). Work 1.',
    'Annotation 1.',
    '#2 Other works',
    'Ferrow, A. (2012). Work 2.',
    'Last.',
  ])
  // a citation stays with its annotation, and one without any leads nothing
  expect(blocks.flatMap(b => (b.kind === 'paragraph' && b.look === 'hanging' ? [b.leads] : []))).toEqual([true, false])
})

test('a cover has the names, and annotations can be left out', () => {
  const { blocks } = written({ author: 'Ines Quill', title: 'Lamps' }, { cover: true, annotated: false })
  expect(blocks[0]).toEqual({
    kind: 'cover',
    title: 'Lamps',
    lines: ['Do lamps change moths?', 'Ines Quill', '5 October 2026'],
  })
  expect(blocks.filter(b => b.kind === 'paragraph' && b.look === 'below')).toEqual([])
})

const WILD = 'a <b>bold</b> & "c" \\d {e} $f$ #g% ^h_ ~i *j* [k](l) `m` | n\u0007\ud800'
const wild = () =>
  written({
    title: WILD,
    author: WILD,
    opening: WILD,
    sections: [{ heading: WILD, strand: 1, text: WILD, entries: [{ ...entry(1, WILD, WILD), label: '[1]' }] }],
  })

test('nothing that somebody wrote is markup in HTML', () => {
  const tags = new Set<string>()
  let text = ''
  const parser = new Parser({ onopentagname: t => void tags.add(t), ontext: t => void (text += t) })
  parser.end(asHtml(wild()))
  expect([...tags].toSorted()).toEqual(
    ['body', 'h1', 'h2', 'head', 'html', 'main', 'meta', 'p', 'i', 'span', 'style', 'title'].toSorted(),
  )
  expect(text).toContain('a <b>bold</b> & "c" \\d {e} $f$')
  expect(text).not.toContain('\u0007')
  expect(asHtml(wild())).toContain("default-src 'none'; style-src 'unsafe-inline'\"")
})

test('nothing that somebody wrote is markup in Markdown, and annotations are quoted', () => {
  const text = asMarkdown(
    written({ sections: [{ heading: null, strand: null, text: '', entries: [entry(1, '- <b>one</b>\n*two*')] }] }),
  )
  expect(text).toContain('> \\- \\<b\\>one\\</b\\>')
  expect(text).toContain('> \\*two\\*')
})

test('nothing that somebody wrote is a command in LaTeX', () => {
  fc.assert(
    fc.property(fc.string({ unit: fc.constantFrom(...'ab \\{}$&#^_~%<>|"`-'.split('')) }), text => {
      // every command that stands there is one of these, and every brace is escaped or theirs
      const rest = escapeLatex(text)
        .replace(/\\text(backslash|asciicircum|asciitilde|less|greater|bar|quotedbl|asciigrave)\{\}/g, '')
        .replace(/\\[{}$&#_%]/g, '')
        .replaceAll('-{}', '-')
      expect(rest).toMatch(/^[ab -]*$/)
      expect(escapeLatex(text)).not.toContain('--')
    }),
  )
  const tex = asLatex(wild())
  expect(tex).toContain('\\numbered{[1]}{')
  expect(tex).toContain('\\subsection*{a \\textless{}b\\textgreater{}bold')
})

test('addresses are links in LaTeX that nothing breaks out of', () => {
  const link = 'https://doi.org/10.5555/a_b%20(c)#d&e~f'
  const w = written()
  w.blocks = [{ kind: 'paragraph', runs: [{ text: link, link }] }]
  expect(asLatex(w)).toContain('\\href{https://doi.org/10.5555/a\\_b\\%20(c)\\#d\\&e\\string~f}{')
  w.blocks = [{ kind: 'paragraph', runs: [{ text: 'x', link: 'https://x.example/}\\input{/etc' }] }]
  expect(asLatex(w)).toContain('\\href{https://x.example/\\%7D\\%5Cinput\\%7B/etc}{x}')
})

test('looks, lists and quotations are those of each format', () => {
  const annotation = 'It counts moths.\nNot * this\nNor this\nFirst\n“Words.”'
  const at = (words: string) => ({ from: annotation.indexOf(words), to: annotation.indexOf(words) + words.length })
  const marks: Mark[] = [
    { ...at('moths'), is: 'emphasis' },
    { ...at('Not * this\nNor this'), is: 'bullet' },
    { ...at('First'), is: 'number' },
    { ...at('“Words.”'), is: 'quotation' },
    { ...at('counts'), is: 'strong' },
  ]
  const w = written({
    sections: [{ heading: null, strand: null, text: '', entries: [{ ...entry(1, annotation), marks }] }],
    opening: 'Two',
    marks: { opening: [{ from: 0, to: 3, is: 'number' }] },
  })
  const html = asHtml(w)
  expect(html).toContain('<p dir="auto" class="below">It <b>counts</b> <i>moths</i>.</p>')
  expect(html).toContain(
    '<div class="below"><ul><li dir="auto">Not * this</li><li dir="auto">Nor this</li></ul></div>\n' +
      '<div class="below"><ol><li dir="auto">First</li></ol></div>\n' +
      '<div class="below"><blockquote><p dir="auto">“Words.”</p></blockquote></div>',
  )
  expect(html).toContain('<div><ol><li dir="auto">Two</li></ol></div>')
  expect(asMarkdown(w)).toContain(
    '> It **counts** *moths*.\n\n> - Not \\* this\n> - Nor this\n\n> 1. First\n\n> > “Words.”',
  )
  const latex = asLatex(w)
  expect(latex).toContain(
    '\\begin{below}\\begin{itemize}\n\\item Not * this\n\\item Nor this\n\\end{itemize}\\end{below}',
  )
  expect(latex).toContain('\\begin{below}\\begin{quote}“Words.”\\end{quote}\\end{below}')
  expect(latex).toContain('It \\textbf{counts} \\emph{moths}.')
  expect(asPlainText(w)).toContain(
    '    It counts moths.\n\n    – Not * this\n    – Nor this\n\n    1. First\n\n        “Words.”',
  )
})

test('a change of looks alone is told as that', () => {
  const looking = (marks: Mark[]) =>
    paper({ sections: [{ heading: null, strand: null, text: '', entries: [{ ...entry(1), marks }] }] })
  const changes = changesBetween(looking([]), looking([{ from: 0, to: 10, is: 'strong' }]))
  expect(changes).toEqual([{ what: 'looks', title: 'Work 1' }])
  expect(
    changesBetween(looking([]), paper({ sections: looking([]).sections.map(s => ({ ...s, marks: [] })) })),
  ).toEqual([])
})

test('a citation that another style writes otherwise is no change of an annotation, one of another page is', () => {
  const citing = (cited: string, page: string, end = '.') => {
    const cites = { work: 2, page, named: false }
    const marks: Mark[] = [{ from: 3, to: 3 + cited.length, is: 'cites', cites }]
    const annotation = `As ${cited}${end}`
    return paper({
      style: cited,
      sections: [{ heading: null, strand: null, text: '', entries: [{ ...entry(1, annotation), marks }] }],
    })
  }
  const before = citing('(Ferrow, 2011, p. 3)', '3')
  expect(changesBetween(before, citing('[2, p. 3]', '3')).map(c => c.what)).toEqual(['style'])
  expect(changesBetween(before, citing('[2, p. 3]', '3', ' too.'))).toContainEqual({
    ...{ what: 'annotation', title: 'Work 1' },
    pieces: [
      { is: 'same', text: expect.stringContaining('As (Ferrow, 2011, p. 3)') },
      { is: 'new', text: ' too' },
      { is: 'same', text: '.' },
    ],
  })
  expect(changesBetween(before, citing('[2, p. 4]', '4')).map(c => c.what)).toEqual(['style', 'annotation'])
})

test('plain text has all letters, emphasis left out; tables keep their cells apart', () => {
  const w = written({ sections: [{ heading: null, strand: null, text: '', entries: [entry(1)] }] })
  w.blocks.push({ kind: 'table', head: ['A', 'B'], rows: [['1\n2', 'x\ty']] })
  const text = asPlainText(w)
  expect(text).toContain('ANNOTATED BIBLIOGRAPHY\n\n')
  expect(text).toContain('Ferrow, A. (2011). Work 1.\n\n    Annotation 1.')
  expect(text).toMatch(/A\tB\n1 2\tx\ty\n$/)
})

test('a text is read from the side on which its first letter begins', () => {
  expect(isRightToLeft('1) שלום and more')).toBe(true)
  expect(isRightToLeft('Lamps, שלום')).toBe(false)
  expect(isRightToLeft('123 …')).toBe(false)
})

test('names of files fit every system and stay apart', () => {
  expect(fileName('A/B: “c”? <d>|*. ')).toBe('A B “c” d')
  expect(fileName('con')).toBe('_con')
  expect(fileName('../../etc/passwd')).toBe('etc passwd')
  expect(fileName('\u0000..')).toBe('unnamed')
  const { item } = entry(1)
  const named = (pattern: string) =>
    copyNames(
      [
        { item: { ...item, issued: { 'date-parts': [[2019]] } }, place: 1 },
        { item, place: 12 },
        { item: { ...item, title: 'WORK 1' }, place: 3 },
      ],
      pattern,
    )
  expect(named('{place} {author} {year} {title}')).toEqual([
    '01 Ferrow 2019 Work 1',
    '12 Ferrow Work 1',
    '03 Ferrow WORK 1',
  ])
  expect(named('{author}')).toEqual(['Ferrow', 'Ferrow (2)', 'Ferrow (3)'])
  fc.assert(
    fc.property(
      fc.array(fc.record({ title: fc.string({ unit: 'binary' }), family: fc.string({ unit: 'binary' }) })),
      list => {
        const names = copyNames(
          list.map((x, i) => ({ item: { ...item, title: x.title, author: [{ family: x.family }] }, place: i + 1 })),
          '{author} {title}',
        )
        expect(new Set(names.map(n => n.toLowerCase())).size).toBe(list.length)
        for (const n of names) expect(n).not.toMatch(/[\p{Cc}<>:"/\\|?*]|^[. ]|[. ]$|^$/u)
      },
    ),
  )
})

test('a pattern that cannot name copies says why', () => {
  expect(patternTrouble('{place} {author}')).toBeUndefined()
  expect(patternTrouble('{journal}')).toContain('{journal} stands for nothing')
  expect(patternTrouble('copy {year}')).toContain('one name')
})

test('places of texts are named, those of strands by their number', () => {
  expect(['title', 'opening', placeOfStrand(7)].every(isPlace)).toBe(true)
  expect(['strand-', 'strand-x', 'body', '__proto__'].some(isPlace)).toBe(false)
  expect(strandOfPlace(placeOfStrand(7))).toBe(7)
})

test('what changed is told: words, entries, order, texts', () => {
  const now = paper({
    opening: 'Begun.',
    sections: [
      { heading: null, strand: null, text: '', entries: [entry(3), entry(2, 'Annotation two, longer.'), entry(4)] },
    ],
  })
  const before = paper({
    sections: [{ heading: null, strand: null, text: '', entries: [entry(1), entry(2), entry(3)] }],
  })
  const changes = changesBetween(before, now)
  expect(changes.map(c => `${c.what}: ${c.title}`)).toEqual([
    'text: The opening',
    'taken out: Work 1',
    'annotation: Work 2',
    'put in: Work 4',
    'order: The entries stand in another order',
  ])
  const words = changes.find(c => c.what === 'annotation')!
  expect(words).toMatchObject({ pieces: expect.arrayContaining([{ is: 'gone', text: '2' }]) })
  expect(changesBetween(before, before)).toEqual([])
})

test('both texts can be put together of what is told of a change', () => {
  const texts = fc.string({ unit: fc.constantFrom('moths ', 'lamps ', 'fly', '. ', '\n', 'é') })
  fc.assert(
    fc.property(texts, texts, (a, b) => {
      const list = (annotation: string) =>
        paper({ sections: [{ heading: null, strand: null, text: '', entries: [entry(1, annotation)] }] })
      const changes = changesBetween(list(a), list(b))
      expect(changes).toHaveLength(a === b ? 0 : 1)
      for (const c of changes) {
        if (c.what !== 'annotation') throw new Error(c.what)
        const without = (is: string) =>
          c.pieces
            .filter(p => p.is !== is)
            .map(p => p.text)
            .join('')
        expect([without('new'), without('gone')]).toEqual([a, b])
      }
    }),
  )
})

test('in another style citations are told of only where the work changed', () => {
  const restyled = (title: string) => ({ ...entry(1, 'Annotation 1.', title), citation: [{ text: `1. ${title}` }] })
  const other = (title: string) =>
    paper({
      style: 'vancouver',
      styleName: 'Numbers',
      sections: [{ heading: null, strand: null, text: '', entries: [restyled(title), entry(2)] }],
    })
  expect(changesBetween(paper(), other('Work 1')).map(c => c.what)).toEqual(['style'])
  expect(changesBetween(paper(), other('Work one')).map(c => c.what)).toEqual(['style', 'citation'])
})

test('entries of all sections come in their order', () => {
  const two = paper({
    sections: [
      { heading: 'A', strand: 1, text: '', entries: [entry(2)] },
      { heading: 'B', strand: 2, text: '', entries: [entry(1)] },
    ],
  })
  expect(entriesIn(two).map(e => e.entry)).toEqual([2, 1])
})
