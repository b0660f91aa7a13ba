import { expect, test } from '@jest/globals'
import fc from 'fast-check'
import { linesOf, turned, unturned, type Turn } from './turned'

const size = { width: 600, height: 800 }
const box = { x: 60, y: 80, width: 100, height: 20 }

test('a box turns with its page, to the right', () => {
  expect(turned(box, 0, size)).toEqual(box)
  // its upper left corner comes to the upper right
  expect(turned(box, 90, size)).toEqual({ x: 700, y: 60, width: 20, height: 100 })
  expect(turned(box, 180, size)).toEqual({ x: 440, y: 700, width: 100, height: 20 })
  expect(turned(box, 270, size)).toEqual({ x: 80, y: 440, width: 20, height: 100 })
})
test('and back, whatever the page and the box', () => {
  const n = fc.integer({ min: 0, max: 4000 })
  fc.assert(
    fc.property(n, n, n, n, n, n, fc.constantFrom<Turn>(0, 90, 180, 270), (x, y, width, height, w, h, turn) => {
      const b = { x, y, width, height }
      const of = { width: w, height: h }
      expect(unturned(turned(b, turn, of), turn, of)).toEqual(b)
    }),
  )
})
test('pieces of a line are one box; other lines, columns and pages stay apart', () => {
  const at = (page: number, x: number, y: number, width: number, height = 10) => ({ page, x, y, width, height })
  expect(linesOf([at(1, 50, 100, 40), at(1, 92, 99, 60, 12), at(1, 50, 114, 30)])).toEqual([
    at(1, 50, 99, 102, 12),
    at(1, 50, 114, 30),
  ])
  // the next column goes on at the same height
  expect(linesOf([at(1, 50, 100, 200), at(1, 320, 100, 200)])).toHaveLength(2)
  expect(linesOf([at(1, 50, 100, 40), at(2, 92, 100, 40)])).toHaveLength(2)
  expect(linesOf([])).toEqual([])
})
