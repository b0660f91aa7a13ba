import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import type { Item } from '../bib/item'
import { openUrl } from './openurl'

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
  [{ type: 'report', title: 'Lamps', author: [{ literal: 'The Moth Society' }] }, { 'rft.au': 'The Moth Society' }],
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
