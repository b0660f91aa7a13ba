import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import { checkStyle, findStyles, named, newerEdition, NotAStyle, readStyleInfo } from './style-info'

const style = (inside: string, more = '') =>
  `<?xml version="1.0" encoding="utf-8"?>
   <style xmlns="http://purl.org/net/xbiblio/csl" version="1.0" class="in-text" ${more}>${inside}</style>`
const info = (more = '', title = 'Night Papers') =>
  `<info><title>${title}</title><id>http://styles.example/x</id>${more}<updated>2021-03-04T10:00:00+00:00</updated></info>`
const citation = '<citation><layout><text variable="title"/></layout></citation>'

describe('what a style says of itself', () => {
  test('name, manner, fields, language and day', () => {
    const more = '<title-short>NP</title-short><category citation-format="numeric"/><category field="biology"/>'
    expect(readStyleInfo(style(info(more) + citation, 'default-locale="de-AT"'))).toEqual({
      name: 'Night Papers',
      short: 'NP',
      manner: 'numeric',
      fields: ['biology'],
      language: 'de-AT',
      updated: '2021-03-04',
    })
  })

  test('one that prints as another names that one', () => {
    const link = '<link href="http://styles.example/styles/plain-papers" rel="independent-parent"/>'
    expect(checkStyle(style(info(link)))).toMatchObject({ name: 'Night Papers', parent: 'plain-papers' })
  })

  test('its prefix, its quotes, comments before it and letters written as numbers are those of any XML', () => {
    const text = `<!-- of ours --><c:style xmlns:c='http://purl.org/net/xbiblio/csl' version='1.0.2' class='note'>
      <c:info><c:title><![CDATA[Notes & ]]>Quer&#x69;es &amp; more</c:title></c:info><c:citation><c:layout/></c:citation></c:style>`
    expect(checkStyle(text)).toMatchObject({ name: 'Notes & Queries & more', manner: 'note' })
  })

  test('what stands behind it is not read, so that thousands are read in seconds', () => {
    expect(readStyleInfo(`${style(info() + ' '.repeat(5000))}<broken`).name).toBe('Night Papers')
    expect(() => checkStyle(`${style(info() + citation)}<broken`)).toThrow(/XML is broken/)
  })
})

describe('a file that is brought', () => {
  test.each([
    ['a page', '<html><body>Sign in</body></html>', /no citation style/],
    ['words', 'Okafor, A. (2020)', /broken|no citation style/],
    ['nothing', '', /broken|no title/],
    ['a style of another standard', '<style xmlns="http://other.example"/>', /no citation style/],
    ['an older version', style(info() + citation).replace('"1.0" class', '"0.8" class'), /version 1\.0/],
    ['no title', style(`<info/>${citation}`), /no title/],
    ['no citation', style(info()), /how a work is cited/],
    ['half of it', style(info() + citation).slice(0, -12), /broken/],
    ['entities', `<!DOCTYPE style [<!ENTITY a "b">]>${style(info() + citation)}`, /entities/],
    ['depth without end', style(`${info()}${'<group>'.repeat(300)}`), /deeper/],
  ])('%s is refused with why', (_, text, why) => {
    expect(() => checkStyle(text)).toThrow(NotAStyle)
    expect(() => checkStyle(text)).toThrow(why)
  })

  test('a part that is made of itself is named, by whatever way round', () => {
    const macro = (name: string, ...uses: string[]) =>
      `<macro name="${name}">${uses.map(u => `<text macro="${u}"/>`).join('')}</macro>`
    expect(() => checkStyle(style(info() + macro('a', 'b') + macro('b', 'c') + macro('c', 'a') + citation))).toThrow(
      /made of itself/,
    )
    // one that is used twice is not in a circle
    expect(checkStyle(style(info() + macro('a', 'b', 'c') + macro('b', 'c') + macro('c') + citation)).fields).toEqual(
      [],
    )
  })

  test('one that grows with every part is refused before it is tried', () => {
    const names = Array.from({ length: 40 }, (_, i) => `m${i}`)
    const twice = names.map((n, i) => `<macro name="${n}"><text macro="m${i + 1}"/><text macro="m${i + 1}"/></macro>`)
    const last = '<macro name="m40"><text value="x"/></macro>'
    const all = info() + twice.join('') + last + '<citation><layout><text macro="m0"/></layout></citation>'
    expect(() => checkStyle(style(all))).toThrow(/too many/)
    // in whatever order they stand
    const turned =
      info() + last + twice.toReversed().join('') + '<citation><layout><text macro="m0"/></layout></citation>'
    expect(() => checkStyle(style(turned))).toThrow(/too many/)
  })

  test('whatever it is, it is read or refused, and nothing else', () => {
    const part = fc.constantFrom(
      '<info>',
      '</info>',
      '<title>',
      'x',
      '</title>',
      citation,
      '&',
      '<!--',
      ']]>',
      '\u0000',
      '<a b=1>',
    )
    fc.assert(
      fc.property(fc.array(part, { maxLength: 12 }), parts => {
        try {
          expect(checkStyle(style(parts.join(''))).name).toBeTruthy()
        } catch (e) {
          expect(e).toBeInstanceOf(NotAStyle)
        }
      }),
    )
  })
})

describe('finding', () => {
  const of = (id: string, name: string, more: object = {}) => named(id, { name, fields: [], ...more })
  const all = [
    of('papers-8', 'Night Papers 8th edition'),
    of('papers', 'Night Papers 9th edition', { short: 'NP' }),
    of('papers-note', 'Night Papers 9th edition (note)'),
    of('lamps', 'Annals of Lamps', { parent: 'papers', fields: ['biology'], language: 'fr-FR' }),
    of('lamps-own', 'Lamps'),
  ]
  const ids = (words: string) => findStyles(all, words).map(s => s.id)

  test('by the beginnings of words, whatever their accents and order; names that are the words first, old editions last', () => {
    expect(ids('lamps')).toEqual(['lamps-own', 'lamps'])
    expect(ids('pap nigh')).toEqual(['papers', 'papers-note', 'papers-8'])
    expect(ids('NP')).toEqual(['papers'])
    expect(ids('biol')).toEqual(['lamps'])
    expect(ids('nothing such')).toEqual([])
    expect(ids('  ')).toEqual([])
  })

  test('a newer edition is of the same name, not of one like it', () => {
    expect(newerEdition(all[0]!, all)?.id).toBe('papers')
    expect(newerEdition(all[1]!, all)).toBeUndefined()
    expect(newerEdition(all[2]!, all)).toBeUndefined()
    expect(newerEdition(of('x', 'Day Papers 2nd edition'), all)).toBeUndefined()
    expect(newerEdition(all[4]!, all)).toBeUndefined()
  })
})
