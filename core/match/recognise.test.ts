import { expect, test } from '@jest/globals'
import { recognise } from './recognise'

const FILL = Array.from({ length: 30 }, () => 'text of the article goes on here and on, with words enough to be a text')
const work = (id: number, title: string, more: object = {}) => ({
  id,
  item: { id: '', type: 'article-journal', title, ...more },
})
const text = (...lines: string[]) => [{ page: 1, lines: [...lines, ...FILL] }]

test('a text is the work that it proves, not one whose title is a part of it', () => {
  const works = [work(1, 'Lamps and moths'), work(2, 'Lamps and moths of the harbour'), work(3, 'Owls of the harbour')]
  expect(recognise(works, text('Lamps and moths of the harbour', 'Mara Lune'))?.work.id).toBe(2)
  expect(recognise(works, text('Lamps and moths', 'Mara Lune'))?.work.id).toBe(1)
})
test('proved stands before doubtful, and of two alike the one for which more speaks', () => {
  const title = 'Lamps and moths of the harbour'
  const works = [
    work(1, title, { author: [{ family: 'Berg' }] }),
    work(2, title, { author: [{ family: 'Lune' }], DOI: '10.5555/np.1' }),
    work(3, title, { author: [{ family: 'Lune' }] }),
  ]
  const found = recognise(works, text(title, 'Mara Lune', 'doi:10.5555/np.1'))
  expect(found).toMatchObject({ work: { id: 2 }, proof: { outcome: 'proved' } })
  expect(recognise(works.slice(0, 1), text(title, 'Mara Lune'))).toMatchObject({
    work: { id: 1 },
    proof: { outcome: 'doubtful' },
  })
})
test('what is none of them is none, however many there are', () => {
  const works = Array.from({ length: 5000 }, (_, i) => work(i + 1, `Counting lamps at window ${i}`))
  expect(recognise(works, text('A wall painted white', 'Ida Sand'))).toBeUndefined()
  expect(recognise([], text('A wall painted white'))).toBeUndefined()
  expect(recognise(works, [])).toBeUndefined()
})
