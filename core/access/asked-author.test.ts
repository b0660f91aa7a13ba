import { describe, expect, test } from '@jest/globals'
import { standOfAuthor, withAuthor, type AskedAuthor } from './asked-author'
import { authorMails } from './author-mail'
import { doingOf } from './doing'
import { letterAgain } from './letter'
import type { Route } from './routes'

const wrote = (...days: string[]): AskedAuthor => ({ wrote: days, declined: false })
const author: Route = {
  ...{ way: 'author', version: 'accepted manuscript', from: 'Lune', evidence: 'An author may send it.' },
  ...{ expected: '2026-10-29', likely: 0.3, asks: 'a letter, and patience' },
}

describe('letters to an author', () => {
  test.each<[AskedAuthor, string, string, string, number]>([
    [wrote('2026-10-05'), '2026-10-05', 'waiting', 'on its way', 0.3],
    [wrote('2026-10-05'), '2026-10-11', 'waiting', 'on its way', 0.3],
    [wrote('2026-10-05'), '2026-10-12', 'write again', 'waits for you', 0.3],
    [wrote('2026-10-05', '2026-10-13'), '2026-10-19', 'waiting', 'on its way', 0.3],
    [wrote('2026-10-05', '2026-10-13'), '2026-10-20', 'no answer', 'no way in time', 0],
    [{ ...wrote('2026-10-05'), declined: true }, '2026-10-06', 'declined', 'no way in time', 0],
  ])('%j on %s', (asked, today, is, doing, likely) => {
    expect(standOfAuthor(asked, today).is).toBe(is)
    const routes = withAuthor([author], asked, today)
    const row = { reach: 'out of reach' as const, routes, copies: [], author: asked }
    expect(doingOf(row, today, `${today}T12:00:00Z`)).toBe(doing)
    expect(routes[0]!.likely).toBe(likely)
    expect(routes[0]!.evidence).toMatch(/^You wrote on 5 October 2026/)
  })
  test('what can be had otherwise is not waited for', () => {
    const gate: Route = { ...author, way: 'gate', url: 'http://l.example/a', expected: '2026-10-05', likely: 0.95 }
    const row = { reach: 'within reach' as const, routes: [gate, author], copies: [], author: wrote('2026-10-05') }
    expect(doingOf(row, '2026-10-06', '2026-10-06T12:00:00Z')).toBe('fetch now')
  })
  test('nobody who was not written to is another way', () =>
    expect(withAuthor([author], undefined, '2026-10-05')).toEqual([author]))
  test('the second names the first, and lets them off', () => {
    const { subject, text } = letterAgain(
      { id: 'a', type: 'article-journal', title: 'Lit paths', author: [{ family: 'Lune', given: 'Mara' }] },
      '2026-10-05',
      { from: 'Mira Sand' },
    )
    expect(subject).toBe('Once more: a copy of “Lit paths”')
    expect(text).toMatch(/^Dear Mara Lune,\n\nOn 5 October 2026 I wrote to you .*\n\nI am working on/)
    expect(text).toMatch(/With thanks,\nMira Sand$/)
  })
})

describe('addresses of authors on a page', () => {
  const [lune, sand, ortega] = [
    { family: 'Lune', given: 'Mara' },
    { family: 'Sánd-Mör', given: 'Ida' },
    { family: 'Li', given: 'Wen' },
  ]
  test.each<[string, string, { family: string; given: string }[], [string, number][]]>([
    ['by the family name', 'Contact: m.lune@dusk.example.', [lune, sand], [['m.lune@dusk.example', 0]]],
    ['with marks and hyphens folded', 'ida.sand-mor@dusk.example', [lune, sand], [['ida.sand-mor@dusk.example', 1]]],
    ['that of nobody there', 'journal@dusk.example', [lune, sand], []],
    ['the only one of the only author', 'contact@dusk.example', [lune], [['contact@dusk.example', 0]]],
    ['of two the one that fits', 'office@dusk.example, lune@dusk.example', [lune], [['lune@dusk.example', 0]]],
    ['a short name tells nothing', 'delight@dusk.example and a@b.example', [lune, ortega], []],
    ['once, in small letters', 'LUNE@Dusk.example (lune@dusk.example)', [lune, sand], [['lune@dusk.example', 0]]],
    ['no address at all', 'lune@dusk, @lune.example and lune at dusk.example', [lune, sand], []],
  ])('%s', (_, page, authors, found) =>
    expect(authorMails(page, authors)).toEqual(found.map(([mail, author]) => ({ mail, author }))),
  )
})
