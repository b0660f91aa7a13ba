import { describe, expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { openUrl, readOpenUrl } from './openurl'

const asked = (item: Partial<Item>) =>
  Object.fromEntries(new URL(openUrl('http://r.example/openurl?sid=vine', item)).searchParams)

test('an article is asked for by the keys of the format of journals', () => {
  expect(
    asked({
      ...{ type: 'article-journal', title: 'Lamps & moths', 'container-title': 'Night Papers', ISSN: '9990-0114' },
      ...{ volume: '12', issue: '3', page: 'S40-49', DOI: 'https://doi.org/10.5555/NP.4' },
      author: [{ family: 'Lune', given: 'Mara' }, { family: 'Sand' }],
      issued: { 'date-parts': [[2020, 3]] },
    }),
  ).toEqual({
    ...{ sid: 'vine', url_ver: 'Z39.88-2004', ctx_ver: 'Z39.88-2004' },
    rft_val_fmt: 'info:ofi/fmt:kev:mtx:journal',
    rft_id: 'info:doi/10.5555/np.4',
    ...{ 'rft.genre': 'article', 'rft.atitle': 'Lamps & moths', 'rft.jtitle': 'Night Papers', 'rft.issn': '9990-0114' },
    ...{ 'rft.aulast': 'Lune', 'rft.aufirst': 'Mara', 'rft.date': '2020-03' },
    ...{ 'rft.volume': '12', 'rft.issue': '3', 'rft.pages': 'S40-49', 'rft.spage': 'S40' },
  })
})

test.each<[Partial<Item>, object]>([
  [
    { type: 'book', title: 'Moths', ISBN: '978-0-00-000000-2', edition: '2' },
    { rft_val_fmt: 'info:ofi/fmt:kev:mtx:book', 'rft.genre': 'book', 'rft.btitle': 'Moths', 'rft.edition': '2' },
  ],
  [
    { type: 'chapter', title: 'Lamps', 'container-title': 'Moths', page: '4-9' },
    { 'rft.genre': 'bookitem', 'rft.atitle': 'Lamps', 'rft.btitle': 'Moths', 'rft.spage': '4' },
  ],
  [
    { type: 'thesis', title: 'Lamps', publisher: 'Halverane' },
    { rft_val_fmt: 'info:ofi/fmt:kev:mtx:dissertation', 'rft.title': 'Lamps', 'rft.inst': 'Halverane' },
  ],
  [
    { type: 'article-journal', ISSN: '9990-0114' },
    { 'rft.genre': 'journal', 'rft.issn': '9990-0114' },
  ],
  [{ type: 'report', title: 'Lamps', author: [{ literal: 'The Moth Society' }] }, { 'rft.aucorp': 'The Moth Society' }],
])('%j is asked for in its own format', (item, want) => {
  expect(asked(item)).toMatchObject(want)
})

test('whatever a title says, it comes back as it was, and nothing empty is sent', () => {
  fc.assert(
    fc.property(fc.string(), fc.string(), (title, journal) => {
      const given = asked({ type: 'article-journal', title, 'container-title': journal })
      expect(given['rft.atitle'] ?? '').toBe(title)
      expect(given['rft.jtitle'] ?? '').toBe(journal)
      expect(Object.values(given)).not.toContain('')
    }),
  )
})

describe('reading', () => {
  test('what is written is read back', () => {
    const items: Partial<Item>[] = [
      {
        ...{ type: 'article-journal', title: 'Lamps & moths', 'container-title': 'Night Papers', ISSN: '9990-0114' },
        ...{ volume: '12', issue: '3', page: 'S40-49', DOI: '10.5555/np.4', issued: { 'date-parts': [[2020, 3]] } },
        author: [{ family: 'Lune', given: 'Mara' }],
      },
      { type: 'book', title: 'Moths', ISBN: '9789900019961', edition: '2', publisher: 'Seven Elms' },
      {
        type: 'chapter',
        title: 'Lamps',
        'container-title': 'Moths',
        page: '4-9',
        author: [{ literal: 'The Lamp Society' }],
      },
      { type: 'thesis', title: 'Lamps', publisher: 'Halverane' },
    ]
    for (const item of items) expect(readOpenUrl(openUrl('http://r.example/openurl?sid=x', item))).toEqual(item)
  })
  test('nothing that is asked for is lost on the way', () => {
    const words = fc.stringMatching(/^[\p{L}&=#%+?;,. -]{1,30}$/u).filter(s => s.trim() === s && s !== '')
    fc.assert(
      fc.property(words, words, (title, journal) => {
        const item = { type: 'article-journal' as const, title, 'container-title': journal }
        expect(readOpenUrl(openUrl('http://r.example/', item))).toEqual(item)
      }),
    )
  })
  test('of version 0.1 the title is that of what it is in, and numbers tell a book from an article', () => {
    expect(
      readOpenUrl(
        'http://r.example/menu?sid=BL:index&genre=article&aulast=Lune&auinit=M&issn=99900114&title=Night+Papers&atitle=Lit+piers&volume=4&spage=40&epage=49&date=2020-03&id=doi:10.5555/np.5',
      ),
    ).toEqual({
      ...{ type: 'article-journal', title: 'Lit piers', 'container-title': 'Night Papers', volume: '4', page: '40-49' },
      ...{ author: [{ family: 'Lune', given: 'M' }], issued: { 'date-parts': [[2020, 3]] } },
      ...{ ISSN: '9990-0114', DOI: '10.5555/np.5' },
    })
    expect(readOpenUrl('http://r.example/?isbn=9789900019961&title=Moths&aulast=Lune')).toMatchObject({
      ...{ type: 'book', title: 'Moths' },
    })
    expect(readOpenUrl('http://r.example/?isbn=9789900019961&title=Moths&atitle=Piers')).toMatchObject({
      ...{ type: 'chapter', title: 'Piers', 'container-title': 'Moths' },
    })
  })
  test('the keys alone, as a page carries them, with its signs written out and all of its authors', () => {
    const carried =
      'ctx_ver=Z39.88-2004&amp;rft_val_fmt=info%3Aofi%2Ffmt%3Akev%3Amtx%3Ajournal&amp;rft.atitle=Lit+piers&amp;rft.title=Night+Papers&amp;rft.aulast=Lune&amp;rft.aufirst=Mara&amp;rft.au=Lune%2C+M.&amp;rft.au=Ida+Sand&amp;rft.aucorp=&amp;rft.genre=proceeding'
    expect(readOpenUrl(carried)).toEqual({
      ...{ type: 'paper-conference', title: 'Lit piers', 'container-title': 'Night Papers' },
      author: [
        { family: 'Lune', given: 'Mara' },
        { family: 'Sand', given: 'Ida' },
      ],
    })
  })
  test.each([
    'http://p.example/article?id=7&lang=en',
    'http://p.example/search?title=moths&sort=date',
    'http://r.example/?rft.genre=article&rft.volume=4',
    'a = b & c = d',
    '',
  ])('%j is none', text => expect(readOpenUrl(text)).toBeUndefined())
})
