import { expect, test } from '@jest/globals'
import { Validator } from '@seriousme/openapi-schema-validator'
import { Ajv2020 } from 'ajv/dist/2020'
import { readFileSync } from 'node:fs'
import { api } from '../../core/schema/api'
import type { Endpoint } from '../../core/schema/api/endpoint'
import { flag, list, maybe, oneOf, orNull, pair, rowId, shape, text, uuid, whole } from '../../core/schema/api/parts'
import { jsonSchema, openApi } from './openapi'
import { sayType } from './page'
import { apiDocuments } from './write'

test('the documents of the API are as `npm run docs` writes them', async () => {
  for (const [file, written] of Object.entries(await apiDocuments()))
    expect({ file, same: readFileSync(file, 'utf8') === written }).toEqual({ file, same: true })
})

test('what is written is OpenAPI 3.1, by an independent reader of the standard', async () => {
  const { valid, errors } = await new Validator().validate(openApi(api))
  expect({ valid, errors }).toEqual({ valid: true, errors: undefined })
})

test('every shape compiles as JSON Schema 2020-12, and every address says what it does', () => {
  const ajv = new Ajv2020({ strict: false, formats: { email: true } })
  for (const e of Object.values(api) as Endpoint[]) {
    expect(e.does).toMatch(/^\p{Lu}.*[.:]?$/u)
    for (const s of [e.query, e.body, e.answer])
      if (s && typeof s === 'object' && 'describe' in s) ajv.compile(jsonSchema(s))
  }
})

test.each([
  [shape({ id: whole(), name: maybe(text()) }), { id: 1 }, { id: 1, name: null }],
  [shape({ id: whole() }), { id: 1 }, { id: 1, more: 2 }],
  [shape({ id: whole() }), { id: 1 }, { id: 1.5 }],
  [orNull(oneOf(['a', 'b'])), null, 'c'],
  [orNull(shape({ on: flag() })), null, { on: 'yes' }],
  [list(text()), ['x'], [1]],
  [pair(), [1, 2], [1]],
  [rowId.required(), 7, 0],
  [uuid.required(), '0b8e4b60-1111-4222-8333-123456789abc', 'x'],
])('a shape and its JSON Schema take and refuse the same (%#)', (of, good, bad) => {
  const check = new Ajv2020({ strict: false, formats: { email: true } }).compile(jsonSchema(of))
  expect([check(good), check(bad)]).toEqual([true, false])
  expect([of.isValidSync(good, { strict: true }), of.isValidSync(bad, { strict: true })]).toEqual([true, false])
})

test('a shape is said in a line', () => {
  expect(
    sayType(jsonSchema(shape({ id: whole(), names: list(text()), due: orNull(text()), part: maybe(flag()) }))),
  ).toBe('{ id: whole number, names: [text], due: text | null, part?: yes/no }')
})
