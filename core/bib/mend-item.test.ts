import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { formatBibliography } from '../cite/format'
import { plainText, toHtml, toMarkdown } from '../cite/rich-text'
import { writeBibtex } from '../formats/bibtex'
import { losses } from '../formats/losses'
import { readBibliography } from '../formats/read-file'
import { writeRis } from '../formats/ris'
import { buildWork } from '../match/best-fields'
import { findLinks } from '../match/records'
import { appraise } from '../appraise/kind'
import { DATES, NAMES, NUMBERS, TEXTS } from './csl-data'
import { clean } from './clean'
import { yearOf } from './dates'
import type { Item } from './item'
import { mendItem } from './mend-item'
import { authorLine } from './names'

const mend = (more: object) => {
  const read = mendItem({ id: 'a', type: 'book', title: 'Lamps', ...more }, 'x')
  if ('why' in read) throw new Error(read.why)
  return read
}

test.each([
  [{ title: ['Lamps', 'Lights'] }, { title: 'Lamps' }],
  [{ language: ['en', 'fr'] }, { language: 'en' }],
  [{ publisher: 12 }, { publisher: '12' }],
  [{ volume: 12 }, { volume: 12 }],
  [{ volume: ['12'] }, { volume: '12' }],
  [{ author: 'Okafor, Ada' }, { author: [{ family: 'Okafor', given: 'Ada' }] }],
  [{ author: [17] }, { author: [{ literal: '17' }] }],
  [{ author: { family: 'Okafor', given: 4 } }, { author: [{ family: 'Okafor', given: '4' }] }],
  [{ author: [{ name: 'Night Society' }, null, {}, { family: '' }] }, { author: [{ literal: 'Night Society' }] }],
  [{ author: [{ family: ['Okafor'], affiliation: [] }] }, { author: [{ family: 'Okafor' }] }],
  [{ issued: 2001 }, { issued: { 'date-parts': [[2001]] } }],
  [{ issued: '2001-05' }, { issued: { 'date-parts': [[2001, 5]] } }],
  [{ issued: [2001, 5] }, { issued: { 'date-parts': [[2001, 5]] } }],
  [{ issued: { 'date-parts': [['2001', 5, null]] } }, { issued: { 'date-parts': [['2001', 5]] } }],
  [{ issued: { 'date-parts': [2001, 5] } }, { issued: { 'date-parts': [[2001, 5]] } }],
] as [object, Partial<Item>][])(
  '%j is read as what it must mean, and that is said unless it is as it should be',
  (given, wanted) => {
    const { item, mended } = mend(given)
    expect(item).toMatchObject(wanted)
    expect(mended.length > 0).toBe(JSON.stringify({ ...given }) !== JSON.stringify(wanted))
  },
)

test.each([
  [{ type: 'journal-article' }, { type: 'article-journal' }],
  [{ type: 'posted-content' }, { type: 'article' }],
  [{ type: 'proceedings-article' }, { type: 'paper-conference' }],
  [{ type: 'book-chapter' }, { type: 'chapter' }],
  [{ type: 'edited-book' }, { type: 'book' }],
  [{ type: 'dissertation' }, { type: 'thesis' }],
  [{ type: 'JournalArticle' }, { type: 'article-journal' }],
  [{ type: 'reference-entry' }, { type: 'entry' }],
  [{ type: 'nothing known' }, { type: 'document' }],
  [{ title: ['Lamps'], subtitle: ['A history'] }, { title: 'Lamps: A history' }],
  [{ title: 'Lamps: a history', subtitle: ['A history'] }, { title: 'Lamps: a history' }],
  [{ issued: { 'date-parts': [[null]] }, 'published-online': { 'date-parts': [[2019, 3]] } }, { issued: { 'date-parts': [[2019, 3]] } }],
  [{ issued: { 'date-parts': [[2020]] }, 'published-online': { 'date-parts': [[2019, 3]] } }, { issued: { 'date-parts': [[2020]] } }],
  [{ publisher: { name: 'Lantern House' } }, { publisher: 'Lantern House' }],
  [{ 'publisher-location': 'Ostmere' }, { 'publisher-place': 'Ostmere' }],
  [{ 'short-container-title': ['Night Lett.'] }, { 'container-title-short': 'Night Lett.' }],
] as [object, Partial<Item>][])('a registry’s %j is read by what it means', (given, wanted) => {
  expect(mend(given).item).toMatchObject(wanted)
}) // prettier-ignore

test.each([
  { issued: { 'date-parts': [[]] } },
  { issued: { 'date-parts': [[null]] } },
  { issued: {} },
  { issued: null },
  { author: [] },
  { DOI: '' },
])('what is empty is nothing: %j', given => {
  const { item } = mend(given)
  expect(Object.keys(item).filter(k => !['id', 'type', 'title', 'DOI'].includes(k))).toEqual([])
})

test.each([
  [{ title: { text: 'Lamps' }, author: [{ family: 'Okafor' }] }, 'title'],
  [{ issued: true }, 'issued'],
  [{ abstract: { a: 1 } }, 'abstract'],
  [{ page: [{ from: 1 }] }, 'page'],
  [{ nonsense: 'x' }, 'nonsense'],
  [{ publisher: 'x'.repeat(30_000) }, 'publisher'],
])('what cannot be read is left out and named: %#', (given, field) => {
  const { item, mended } = mend(given)
  expect(item[field]).toBeUndefined()
  expect(mended.join(' ')).toContain(`“${field}”`)
})

test.each([[null], ['x'], [[]], [{}], [{ type: 3 }], [{ type: 'journal' }]])(
  '%j is no item, and it is said why',
  value => {
    expect(mendItem(value, 'x')).toHaveProperty('why')
  },
)

/** Any value at all where a field should be. */
const anything = fc.anything({ maxDepth: 3, withNullPrototype: false, withBigInt: false, withDate: false })
const strange = fc.record(
  Object.fromEntries(
    [...TEXTS, ...NUMBERS, ...NAMES, ...DATES, 'categories', 'custom', 'id', 'extra'].map(f => [
      f,
      fc.oneof({ weight: 3, arbitrary: anything }, fc.string({ unit: 'binary' }), fc.array(fc.string()), fc.integer()),
    ]),
  ),
  { requiredKeys: [] },
)
/** As it comes from outside: JSON has no undefined, and no zero below zero. */
const asJson = (v: unknown): object => JSON.parse(JSON.stringify(v)) as object
/** A plain style is enough to meet every field. */
const style = `<style xmlns="http://purl.org/net/xbiblio/csl" class="in-text" version="1.0"><info><title>s</title><id>s</id><updated>2020-01-01T00:00:00+00:00</updated></info>
<citation><layout><names variable="author"/><date variable="issued"><date-part name="year"/></date></layout></citation>
<bibliography><layout suffix="."><names variable="author editor"/><date variable="issued" form="text"/><text variable="title" font-style="italic"/><text variable="container-title"/><number variable="volume"/><text variable="page"/><text variable="publisher"/><text variable="URL"/></layout></bibliography></style>`
const locale =
  '<locale xmlns="http://purl.org/net/xbiblio/csl" xml:lang="en-US" version="1.0"><date form="text"><date-part name="year"/></date><terms><term name="and">and</term><term name="et-al">et al.</term></terms></locale>'

test('one item of the strangest shape breaks no list, bibliography or export, and forges no entry', () => {
  fc.assert(
    fc.property(strange, given => {
      const read = mendItem(clean(asJson({ ...given, type: 'article-journal', title: given.title ?? 'Lamps' })), 'x')
      if ('why' in read) return
      const { item } = read
      expect(mendItem(item, 'x')).toEqual({ item, mended: [] })
      expect(JSON.parse(JSON.stringify(item))).toEqual(item)
      authorLine(item.author)
      yearOf(item)
      appraise(item, {})
      const built = buildWork([{ id: 1, item, facts: {} }])
      findLinks(
        [],
        [
          { id: 1, item, facts: {} },
          { id: 2, item: built.item, facts: {} },
        ],
      )
      losses(item, 'ris')
      const bib = writeBibtex(item, 'key')
      expect(bib.split('\n').filter(l => /^\s*@/.test(l))).toHaveLength(1)
      const ris = writeRis(item, 'key')
      expect(ris.split(/\r\n/).filter(l => /^(TY|ER) {2}- /.test(l))).toHaveLength(2)
      for (const text of [bib, ris]) expect(text).toBe(clean(text))
      const made = formatBibliography([item, { id: 'other', type: 'book', title: 'Owls' }], {
        style,
        locale: () => locale,
      })
      expect(made.entries).toHaveLength(2)
      for (const e of made.entries) {
        plainText(e.citation)
        expect(toHtml(e.citation)).not.toMatch(/<(?!\/?(?:i|b|sup|sub|span|a)\b)/)
        toMarkdown(e.citation)
      }
    }),
    { numRuns: 150 },
  )
})

test('what is written as BibTeX, RIS or CSL-JSON is one entry to whoever reads it', () => {
  const hostile = '} , year = {1} } @book{forged, title={Forged}'
  const item = mend({
    title: hostile,
    author: [{ family: 'Okafor and Sons', given: 'A\nTY  - BOOK\nTI  - Forged' }],
    URL: 'https://a.example/}{',
    abstract: `a\nER  - \nTY  - BOOK\nTI  - Forged\r${hostile}`,
    DOI: '10.5555/a{b',
  }).item
  for (const text of [writeBibtex(item, 'k'), writeRis(item, 'k'), JSON.stringify([item])]) {
    const file = readBibliography(text)!
    expect(file.entries).toHaveLength(1)
    expect(file.refused).toEqual([])
    expect(file.entries[0]!.item.author).toHaveLength(1)
  }
})
