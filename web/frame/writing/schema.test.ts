/** @jest-environment jsdom */
import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { LINES, linesOf, LOOKS, writtenOf, type Mark, type Written } from '../../../core/write/written'
import { docOf, pasted, Places, schema, writtenOfDoc } from './schema'

const anyWritten = fc
  .array(fc.string({ unit: fc.constantFrom('a', 'b', ' ', 'é', '💡'), maxLength: 12 }), { maxLength: 5 })
  .map(lines => lines.join('\n'))
  .chain(text => {
    const place = fc.integer({ min: 0, max: text.length })
    const cited = { work: fc.integer({ min: 1, max: 3 }), page: fc.constantFrom('', '7') }
    const also = fc.array(fc.record(cited), { minLength: 1, maxLength: 2 })
    const cites = fc.oneof(
      fc.record({ ...cited, named: fc.boolean() }),
      fc.record({ ...cited, named: fc.constant(false), also }),
    )
    const is = fc.constantFrom(...LOOKS.filter(l => l !== 'lowered'), ...LINES, 'cites' as const)
    return fc
      .array(fc.record({ from: place, to: place, is, cites }), { maxLength: 9 })
      .map((marks: Mark[]): Written => writtenOf(linesOf({ text, marks })))
  })

describe('a text as it is edited', () => {
  test('is the same text again', () => {
    fc.assert(fc.property(anyWritten, w => expect(writtenOfDoc(docOf(w))).toEqual(w)))
  })
  test('has every letter at its place', () => {
    fc.assert(
      fc.property(anyWritten, w => {
        const doc = docOf(w)
        doc.check()
        const places = new Places(doc)
        expect(places.length).toBe(w.text.length)
        const citing = w.marks.filter(m => m.cites)
        for (let i = 0; i < w.text.length; i++) {
          const around = citing.find(m => m.from <= i && i < m.to)
          if (around) {
            const at = places.citationAround({ from: i, to: i + 1 })!
            expect([at.from, at.to]).toEqual([around.from, around.to])
            expect(doc.nodeAt(places.posOf(i))).toBe(at.node)
          } else if (w.text[i] !== '\n')
            expect(doc.textBetween(places.posOf(i), places.posOf(i + 1, true))).toBe(w.text[i])
        }
      }),
    )
  })
})

describe('what is pasted', () => {
  const paste = (html: string): [string | undefined, string][] => {
    const dom = document.createElement('div')
    dom.innerHTML = html
    const { content } = pasted.parseSlice(dom, { preserveWhitespace: false })
    const doc = content.firstChild?.isInline
      ? schema.nodes.doc.create(null, schema.nodes.line.create(null, content))
      : schema.nodes.doc.create(null, content)
    return linesOf(writtenOfDoc(doc)).map(l => [
      l.kind,
      l.runs.map(r => (r.looks.length ? `<${r.looks.join()}>${r.text}</>` : r.cites ? `[${r.text}]` : r.text)).join(''),
    ])
  }
  test('of a word processor keeps its looks, lists and quotations, and nothing else', () => {
    expect(
      paste(`<meta charset="utf-8"><style>p { color: red }</style><h2 style="font-weight:700">Lamps</h2>
        <p class="x" style="margin:0"><span style="font-style:italic">Moths</span> came<!-- a comment -->
          to CO<sub>2</sub>.<br>Not bats.</p>
        <ul><li>One</li><li><p>Two <b>three</b></p></li></ul><ol><li>First</li></ol>
        <blockquote>Words</blockquote><blockquote><p>More</p></blockquote>
        <script>alert(1)</script><table><tr><td>a</td><td>b</td></tr></table>`),
    ).toEqual([
      [undefined, '<strong>Lamps</>'],
      [undefined, '<emphasis>Moths</> came to CO<lowered>2</>.'],
      [undefined, 'Not bats.'],
      ['bullet', 'One'],
      ['bullet', 'Two <strong>three</>'],
      ['number', 'First'],
      ['quotation', 'Words'],
      ['quotation', 'More'],
      [undefined, 'a'],
      [undefined, 'b'],
    ])
  })
  test('is not strong where it only says so to take it back', () => {
    expect(paste('<b style="font-weight:normal"><p>One <span style="font-weight:700">two</span></p></b>')).toEqual([
      [undefined, 'One <strong>two</>'],
    ])
  })
  test('keeps citations of ours, and none that say no work', () => {
    expect(
      paste(`<p>As <span data-cites='[{"work":7,"page":"12"},{"work":8,"page":""}]' data-named="false">(Lune, 2020)</span> and
        <span data-cites="x">(Tarn)</span>, <span data-cites='[{"work":0,"page":""}]'>(Sand)</span>, <span
        data-cites="[]">(Ferrow)</span></p>`),
    ).toEqual([[undefined, 'As [(Lune, 2020)] and (Tarn), (Sand), (Ferrow)']])
  })
})
