import { describe, expect, test } from '@jest/globals'
import { readdirSync } from 'node:fs'
import { join } from 'node:path'
import { styleFiles } from '../../server/threads/style-files'
import type { Item } from '../bib/item'
import { citeInText, formatBibliography, formatParts, type Cite } from './format'
import { plainText, readRichText, toHtml, toMarkdown } from './rich-text'
import { withoutOrder } from './style-info'
import { STYLES } from './styles'

const folder = process.env.CSL_FOLDER ?? '/usr/share/citation-style-language'
const item = (id: string, more: Partial<Item> = {}): Item => ({
  id,
  type: 'article-journal',
  title: 'Lamps and moths',
  author: [{ family: 'Okafor', given: 'Ada B.' }],
  'container-title': 'Night Papers',
  volume: '4',
  issue: '2',
  page: '10-19',
  issued: { 'date-parts': [[2020]] },
  DOI: '10.5555/np.4',
  ...more,
})
const format = (style: string, items: Item[]) => formatBibliography(items, styleFiles({ folder, style }))

test('a list is formatted together: equal authors and years are told apart', () => {
  const b = format('apa', [item('a', { title: 'Beta' }), item('b', { title: 'Alpha' })])
  expect(b.entries.map(e => e.id)).toEqual(['b', 'a'])
  expect(b.entries.map(e => plainText(e.inText))).toEqual(['(Okafor, 2020a)', '(Okafor, 2020b)'])
  expect(plainText(b.entries[0]!.citation)).toBe(
    'Okafor, A. B. (2020a). Alpha. Night Papers, 4(2), 10–19. https://doi.org/10.5555/np.4',
  )
  expect(b.entries[0]!.citation.find(r => r.text.startsWith('Night Papers'))!.italic).toBe(true)
})

test('numbered styles give their numbers apart', () => {
  expect(format('ieee', [item('a'), item('b')]).entries.map(e => e.label?.trim())).toEqual(['[1]', '[2]'])
  expect(plainText(format('vancouver', [item('a')]).entries[0]!.inText)).toBe('(1)')
})

test.each(STYLES.map(s => s.id))('%s formats every kind of item', style => {
  const types = [
    'article-journal',
    'book',
    'chapter',
    'thesis',
    'report',
    'paper-conference',
    'article-magazine',
    'review-book',
    'document',
  ]
  const b = format(
    style,
    types.map((type, i) => item(String(i), { type, title: `Title ${i}` })),
  )
  expect(b.entries).toHaveLength(types.length)
  for (const e of b.entries) expect(plainText(e.citation)).toContain('Title')
})

test('nothing of a record becomes markup', () => {
  const b = format('apa', [item('a', { title: '<script>alert(1)</script> lamps <i>Noctua</i> & more' })])
  const html = toHtml(b.entries[0]!.citation)
  expect(html).not.toContain('<script')
  expect(html).toContain('<i>Noctua</i>')
  expect(html).toContain('&amp; more')
})

test('rich text reads what styles write, and writes it for documents', () => {
  const runs = readRichText(
    '<div class="csl-entry">A <i>b <b>c</b></i> &#38; <span style="font-variant:small-caps;">d</span> https://x.example/1.</div>',
  )
  expect(plainText(runs)).toBe('A b c & d https://x.example/1.')
  expect(runs.find(r => r.link)!.text).toBe('https://x.example/1')
  expect(toMarkdown(runs)).toContain('A *b* ***c***')
})

describe('a place in a work cited in a text', () => {
  type Place = Cite['of'][number]
  const cite = (style: string, items: Item[], ...cites: (Place & { named?: boolean })[]) =>
    citeInText(
      items,
      cites.map(({ named = false, ...place }) => ({ of: [place], named })),
      styleFiles({ folder, style }),
    ).map(plainText)
  test('stands with others in the same brackets, in the order of the style and as short as it has them', () => {
    const by = (id: string, family: string, year: number) =>
      item(id, { author: [{ family }], issued: { 'date-parts': [[year]] } })
    const items = [by('a', 'Tarn', 2011), by('b', 'Lune', 2020), by('c', 'Lune', 2004), by('d', 'Sand', 2015)]
    const together = (style: string, ...of: Place[]) =>
      plainText(citeInText(items, [{ of }], styleFiles({ folder, style }))[0]!)
    const places = [{ id: 'a' }, { id: 'b', page: '12' }, { id: 'c' }]
    expect(together('apa', ...places)).toBe('(Lune, 2004, 2020, p. 12; Tarn, 2011)')
    expect(together('ieee', ...places)).toBe('[1], [2, p. 12], [3]')
    // numbers that follow each other as one
    expect(together('nature', ...items.map(({ id }) => ({ id })))).toBe('1–4')
    const broken: Item = JSON.parse(JSON.stringify({ ...item('z', { title: 'Broken' }), author: [null] }))
    const of = [{ id: 'a' }, { id: 'z', page: '3' }]
    expect(plainText(citeInText([...items, broken], [{ of }], styleFiles({ folder, style: 'apa' }))[0]!)).toBe(
      '(Lamps and moths; Broken, p. 3)',
    )
  })
  test('has its page, or its pages, in the style, and the letter that its list gives it', () => {
    const items = [item('a', { title: 'Beta' }), item('b', { title: 'Alpha' })]
    expect(cite('apa', items, { id: 'a', page: '12' }, { id: 'b', page: '12–14' }, { id: 'a' })).toEqual([
      '(Okafor, 2020b, p. 12)',
      '(Okafor, 2020a, pp. 12–14)',
      '(Okafor, 2020b)',
    ])
    expect(cite('ieee', items, { id: 'b', page: '12' })).toEqual(['[2, p. 12]'])
  })
  test('has its authors in the sentence, where that is wanted, in every kind of style', () => {
    const three = [{ family: 'Okafor' }, { family: 'Lune' }, { family: 'Tarn' }]
    const items = [item('a', { author: three }), item('b', { author: [{ literal: 'Night Council' }] })]
    const named = (style: string) =>
      cite(style, items, { id: 'a', page: '12', named: true }, { id: 'b', page: '', named: true })
    expect(named('apa')).toEqual(['Okafor et al. (2020, p. 12)', 'Night Council (2020)'])
    // numbered styles have no form for authors alone
    expect(named('ieee')).toEqual(['Okafor et al. [1, p. 12]', 'Night Council [2]'])
    expect(cite('ieee', [item('a', { author: three.slice(1) })], { id: 'a', named: true })).toEqual([
      'Lune and Tarn [1]',
    ])
    const { author: _author, ...none } = item('c')
    expect(cite('ieee', [none], { id: 'c', named: true })).toEqual(['Lamps and moths [1]'])
    // a raised number follows the name at once
    expect(named('nature')[1]).toBe('Night Council2')
  })
  test('of an item that the formatter cannot take, by its title; the others as they are', () => {
    // no reader of ours makes an author so; a record of before may have it
    const broken: Item = JSON.parse(JSON.stringify({ ...item('z', { title: 'Broken' }), author: [null] }))
    expect(cite('apa', [item('a'), broken], { id: 'a', page: '3' }, { id: 'z', page: '3' })).toEqual([
      '(Okafor, 2020, p. 3)',
      '(Broken, p. 3)',
    ])
  })
})

test('what a style has no form for stands by its title, and costs the others nothing', () => {
  const xml = `<style xmlns="http://purl.org/net/xbiblio/csl" version="1.0" class="in-text"><info><title>x</title></info>
    <citation><layout><text variable="genre"/></layout></citation>
    <bibliography><layout><text variable="genre"/></layout></bibliography></style>`
  const files = { ...styleFiles({ folder, style: 'apa' }), style: xml }
  const { entries } = formatBibliography([item('a'), item('b', { genre: 'field notes' })], files)
  expect(entries.map(e => [e.id, plainText(e.citation), plainText(e.inText), e.isPlain])).toEqual([
    ['b', 'field notes', 'field notes', undefined],
    ['a', 'Lamps and moths', '(Lamps and moths)', true],
  ])
})

test('the language that is wanted is printed, else that of the style', () => {
  const edited = item('a', { type: 'book', editor: [{ family: 'Tamm', given: 'Rein' }] })
  const said = (style: string, language?: string) =>
    plainText(formatBibliography([edited], styleFiles({ folder, style, language })).entries[0]!.citation)
  expect(said('apa')).toMatch(/Ed\./)
  expect(said('apa', 'de-DE')).toMatch(/Hrsg\./)
  // a language without words of its own is written in English, rather than not at all
  expect(said('apa', 'zz-ZZ')).toMatch(/Ed\./)
})

test('a style that underlines is underlined, in the page and in what is handed in', () => {
  const { citation } = format('modern-language-association-7th-edition-underline', [item('a')]).entries[0]!
  expect(citation.find(r => r.underlined)?.text).toContain('Night Papers')
  expect(toHtml(citation)).toContain('<u>Night Papers</u>')
})

describe('in an order of its own', () => {
  const parts = (style: string, ...lists: Item[][]) => formatParts(lists, styleFiles({ folder, style, inOrder: true }))
  const [a, b, z] = [
    item('a', { title: 'Alpha' }),
    item('b', { title: 'Beta' }),
    item('z', { title: 'Zeta', author: [{ family: 'Zorin', given: 'Eve' }] }),
  ]

  test('entries print as they are given, and year suffixes follow', () => {
    const { entries, hangingIndent } = parts('apa', [z, b], [a])
    expect(entries.map(e => e.id)).toEqual(['z', 'b', 'a'])
    expect(entries.map(e => plainText(e.inText))).toEqual(['(Zorin, 2020)', '(Okafor, 2020a)', '(Okafor, 2020b)'])
    expect(hangingIndent).toBe(true)
  })

  test('numbers go on over all parts, in a style that sorts by name, too', () => {
    for (const style of ['ieee', 'vancouver', 'din-1505-2-numeric-alphabetical', 'apa-numeric-superscript'])
      expect(parts(style, [z], [b, a]).entries.map(e => /\d+/.exec(plainText(e.inText))?.[0])).toEqual(['1', '2', '3'])
  })

  test('a dash for an author who stood just before does not reach over a heading', () => {
    const texts = (...lists: Item[][]) =>
      parts('acta-philosophica', ...lists).entries.map(e => plainText(e.citation).startsWith('———'))
    expect(texts([a, b])).toEqual([false, true])
    expect(texts([a], [b])).toEqual([false, false])
  })

  test('what is cited counts as it prints', () => {
    const files = styleFiles({ folder, style: 'apa', inOrder: true })
    const cited = citeInText([z, b, a], [{ of: [{ id: 'a', page: '4' }] }], files)
    expect(cited.map(plainText)).toEqual(['(Okafor, 2020b, p. 4)'])
  })

  test('an empty part has no entries, and a list of nothing is none', () => {
    expect(parts('apa', [], [a], []).entries.map(e => e.id)).toEqual(['a'])
    expect(parts('apa').entries).toEqual([])
  })

  test('every style of a sample prints all entries once, as they are given', () => {
    const all = readdirSync(join(folder, 'styles')).filter(f => f.endsWith('.csl'))
    const some = all.filter((_, i) => i % 60 === 0).map(f => f.slice(0, -4))
    expect(some.length).toBeGreaterThan(30)
    const other = some.filter(
      s =>
        parts(s, [z], [b, a])
          .entries.map(e => e.id)
          .join('') !== 'zba',
    )
    expect(other).toEqual([])
  })
})

test('a dash stands for the same authors alone, never for some of them', () => {
  const by = (id: string, ...families: string[]) =>
    item(id, { title: `About ${id}`, author: families.map(family => ({ family, given: 'Ada' })) })
  const begin = (style: string, items: Item[]) =>
    format(style, items).entries.map(e => plainText(e.citation).replace(/[“,.] .*|“.*/, ''))
  const dashed = (...items: Item[]) => begin('modern-language-association', items).map(t => t.startsWith('---'))
  // one author, then the same with others, of whom the style names the first and “et al.”; and the other way round
  expect(dashed(by('a', 'Lune'), by('b', 'Lune', 'Sand', 'Dorn'))).toEqual([false, false])
  expect(dashed(by('b', 'Lune'), by('a', 'Lune', 'Sand', 'Dorn'))).toEqual([false, false])
  expect(dashed(by('a', 'Lune'), by('b', 'Lune'))).toEqual([false, true])
  expect(dashed(by('a', 'Lune', 'Sand', 'Dorn'), by('b', 'Lune', 'Sand', 'Dorn'))).toEqual([false, true])
})

test('a style loses its order alone, wherever its tags end', () => {
  const style = (sort: string) =>
    `<style xmlns="http://purl.org/net/xbiblio/csl" version="1.0"><citation>\r\n<sort><key variable="title"/></sort></citation>` +
    `<!-- <sort> --><bibliography>\r\n${sort}<layout/></bibliography></style>`
  for (const sort of [
    '<sort>\n<key macro="a&lt;b"/></sort>',
    '<sort/>',
    '<sort\n/>',
    '<sort><key variable="x">é\u{1F319}</key></sort>',
  ])
    expect(withoutOrder(style(sort))).toBe(style(''))
  expect(() => withoutOrder('<style>')).toThrow('Its XML is broken')
})
