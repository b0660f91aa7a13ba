import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { writeAtom, type FeedEntry } from './atom'
import { all, first, readXml, textOf } from './xml'

const entry = (title: string, at = '2026-10-12T08:00:00Z'): FeedEntry => ({
  id: `urn:x:${title.length}`,
  title,
  at,
  authors: ['Ada Okafor'],
  link: 'https://doi.org/10.5555/a',
  summary: 'Okafor · Night Papers · 2026',
})
const feed = (entries: FeedEntry[], title = 'What is new') =>
  writeAtom({ id: 'urn:x', title, self: 'http://desk.example/f.atom', entries })

test('a feed has what RFC 4287 asks of it, and is as new as its newest entry', () => {
  const xml = feed([entry('Lamps & moths'), entry('Bats', '2026-11-01T08:00:00Z')])
  expect(xml).toContain('<feed xmlns="http://www.w3.org/2005/Atom">')
  const root = first(readXml(xml), 'feed')
  for (const name of ['id', 'title', 'updated']) expect(all(root, name)).toHaveLength(1)
  expect(textOf(first(root, 'updated'))).toBe('2026-11-01T08:00:00Z')
  expect(first(root, 'link')).toMatchObject({ '@rel': 'self', '@href': 'http://desk.example/f.atom' })
  for (const e of all(root, 'entry'))
    for (const name of ['id', 'title', 'updated', 'author', 'link', 'summary']) expect(all(e, name)).toHaveLength(1)
  expect(first(all(root, 'entry')[0], 'link')).toMatchObject({ '@href': 'https://doi.org/10.5555/a' })
})
test('a feed of nothing is still a feed', () => {
  const root = first(readXml(feed([])), 'feed')
  expect(all(root, 'entry')).toEqual([])
  expect(textOf(first(root, 'updated'))).toBe('1970-01-01T00:00:00Z')
})
test('whatever a title holds, it stays text', () => {
  fc.assert(
    fc.property(fc.string({ unit: 'grapheme', maxLength: 40 }), title => {
      const xml = feed([entry(`x${title}`)])
      expect(xml).toMatch(/^[\t\n\r\P{Cc}]*$/u)
      expect(all(first(readXml(xml), 'feed'), 'entry')).toHaveLength(1)
    }),
  )
  expect(feed([entry('</title><script>x</script>')])).toContain('&lt;script&gt;')
})
