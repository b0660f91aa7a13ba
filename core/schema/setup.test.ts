import { expect, test } from '@jest/globals'
import { ValidationError, type Schema } from 'yup'
import { api } from './api'
import type { Endpoint } from './api/endpoint'
import { filledWith } from './filled'

/** What a shape says of a value, each with the path of the field. */
const said = (shape: Schema, value: unknown): string[] => {
  try {
    shape.validateSync(value, { abortEarly: false })
    return []
  } catch (e) {
    if (e instanceof ValidationError) return e.errors
    throw e
  }
}

/** Values of every kind, so that each is wrong for most shapes. */
const WRONG: unknown[] = [{}, null, '', [], [[]], -1, 1.5, 'x'.repeat(3000), 1e9]
test('whatever is wrong with a body is said in a sentence that names no field by its inner name', () => {
  const sentences = new Set<string>()
  for (const { body } of Object.values<Endpoint>(api)) {
    if (!body || typeof body === 'string') continue
    for (const value of WRONG)
      for (const s of [...said(body, value), ...said(body, filledWith(body, value))]) sentences.add(s)
  }
  expect(sentences.size).toBeGreaterThan(20)
  expect([...sentences].filter(s => !/^[A-Z"].*[.?]$/su.test(s))).toEqual([])
  expect([...sentences].filter(s => /\b(must|field|type|undefined|NaN)\b|\$\{/.test(s))).toEqual([])
})
