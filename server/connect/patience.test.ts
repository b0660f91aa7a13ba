import { expect, jest, test } from '@jest/globals'
import { OutsideError } from './http'
import { Patience } from './patience'

const away = () => Promise.reject(new OutsideError('It is away.', true))

test('who failed twice on end is left alone, and told as it failed', async () => {
  const patience = new Patience()
  const go = jest.fn(away)
  for (let i = 0; i < 5; i++) await expect(patience.ask('a', go)).rejects.toThrow('It is away.')
  expect(go).toHaveBeenCalledTimes(2)
  // another one is asked all the same
  expect(await patience.ask('b', () => Promise.resolve(4))).toBe(4)
})

test('an answer begins the count anew, and a no is one', async () => {
  const patience = new Patience()
  await expect(patience.ask('a', away)).rejects.toThrow()
  await patience.ask('a', () => Promise.resolve(1))
  await expect(patience.ask('a', away)).rejects.toThrow()
  const no = jest.fn(() => Promise.reject(new OutsideError('It has none.', false)))
  for (let i = 0; i < 4; i++) await expect(patience.ask('a', no)).rejects.toThrow('It has none.')
  expect(no).toHaveBeenCalledTimes(4)
})
