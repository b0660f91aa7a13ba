import { expect, test } from '@jest/globals'
import { wordsOnPage } from './words-on-page'

const page = (...lines: string[]) => ({
  width: 600,
  height: 800,
  runs: lines.map((text, i) => ({ text, x: 60, y: 100 + i * 12, width: text.length * 5, size: 10 })),
})

test('words are found over lines, a word cut at the end of a line too, each piece with its room', () => {
  const drawn = page('Nobody had counted the noc-', 'turnal moths of the harbour', 'before.')
  expect(wordsOnPage('the nocturnal moths', drawn, 3)).toEqual([
    { page: 3, x: 60 + 19 * 5, y: 92.5, width: 8 * 5, height: 10 },
    { page: 3, x: 60, y: 104.5, width: 12 * 5, height: 10 },
  ])
  expect(wordsOnPage('the owls of the towns', drawn, 3)).toEqual([])
  expect(wordsOnPage('', drawn, 3)).toEqual([])
})

test('on a page that lies on its side the room of words lies so too', () => {
  const on = (turn: number) => ({
    width: 600,
    height: 800,
    runs: [{ text: 'moths', x: 300, y: 400, width: 50, size: 10, turn }],
  })
  expect(wordsOnPage('moths', on(90), 1)).toEqual([{ page: 1, x: 297.5, y: 400, width: 10, height: 50 }])
  expect(wordsOnPage('moths', on(180), 1)).toEqual([{ page: 1, x: 250, y: 397.5, width: 50, height: 10 }])
  expect(wordsOnPage('moths', on(270), 1)).toEqual([{ page: 1, x: 292.5, y: 350, width: 10, height: 50 }])
})
