import type { AnySchema } from 'yup'
import type { Endpoint } from '../../core/schema/api/endpoint'
import { BYTES, TEXT_PARAMS } from '../../core/schema/api/endpoint'
import { LARGEST_ID } from '../../core/schema/api/parts'

/** What Yup tells of a schema; its own types leave the parts of it apart. */
interface Described {
  type: string
  nullable?: boolean
  optional?: boolean
  oneOf?: unknown[]
  tests?: { name?: string; params?: Record<string, unknown> }[]
  fields?: Record<string, Described>
  innerType?: Described
}
export type JsonSchema = Record<string, unknown>

/**
 * A shape of the API as JSON Schema (2020-12), which OpenAPI 3.1 speaks.
 * @example jsonSchema(shape({ id: whole() })) // { type: 'object', properties: { id: { type: 'integer' } }, required: ['id'], … }
 */
export function jsonSchema(schema: AnySchema): JsonSchema {
  return described(schema.describe() as unknown as Described)
}

function described(d: Described): JsonSchema {
  const of = bare(d)
  if (!d.nullable) return of
  if (Array.isArray(of.enum)) return { ...of, type: [of.type as string, 'null'], enum: [...of.enum, null] }
  return typeof of.type === 'string' ? { ...of, type: [of.type, 'null'] } : { anyOf: [of, { type: 'null' }] }
}

function bare({ type, oneOf, tests = [], fields, innerType }: Described): JsonSchema {
  const test = (name: string) => tests.find(t => t.name === name)?.params
  const bound = (name: string, as: string) => (test(name)?.[name] === undefined ? {} : { [as]: test(name)![name] })
  const values = oneOf?.filter(v => v !== null)
  if (type === 'string') {
    const pattern = test('matches')?.regex
    return {
      type,
      ...(values?.length ? { enum: values } : {}),
      ...bound('min', 'minLength'),
      ...bound('max', 'maxLength'),
      ...(pattern instanceof RegExp ? { pattern: pattern.source } : {}),
      ...(test('email') ? { format: 'email' } : {}),
    }
  }
  if (type === 'number')
    return {
      type: tests.some(t => t.name === 'integer') ? 'integer' : 'number',
      ...bound('min', 'minimum'),
      ...bound('max', 'maximum'),
    }
  if (type === 'boolean') return { type }
  if (type === 'array') {
    const length = test('length')?.length
    return {
      type,
      ...(innerType ? { items: described(innerType) } : {}),
      ...bound('min', 'minItems'),
      ...bound('max', 'maxItems'),
      ...(length === undefined ? {} : { minItems: length, maxItems: length }),
    }
  }
  if (type === 'object' && fields && Object.keys(fields).length) {
    const required = Object.entries(fields).flatMap(([name, f]) => (f.optional ? [] : [name]))
    return {
      type,
      properties: Object.fromEntries(Object.entries(fields).map(([name, f]) => [name, described(f)])),
      ...(required.length ? { required } : {}),
      ...(tests.some(t => t.name === 'noUnknown') ? { additionalProperties: false } : {}),
    }
  }
  return type === 'object' ? { type } : {}
}

const problem = { $ref: '#/components/responses/problem' }

/** The whole API after OpenAPI 3.1. */
export function openApi(endpoints: Readonly<Record<string, Endpoint>>): JsonSchema {
  const paths: Record<string, Record<string, JsonSchema>> = {}
  for (const [name, e] of Object.entries(endpoints)) {
    const path = e.path.replace(/:([a-z]+)/g, '{$1}')
    ;(paths[path] ??= {})[e.method.toLowerCase()] = operation(name, e)
  }
  return {
    openapi: '3.1.0',
    info: {
      title: 'Vine Path',
      version: '1',
      description: 'What the interface does goes through it. Written by `npm run docs` from core/schema/api.',
      license: { name: 'AGPL-3.0-or-later', identifier: 'AGPL-3.0-or-later' },
    },
    servers: [{ url: '/api' }],
    security: [{ session: [] }],
    paths,
    components: {
      securitySchemes: { session: { type: 'apiKey', in: 'cookie', name: 'vine' } },
      responses: {
        problem: {
          description: 'What went wrong (RFC 9457).',
          content: {
            'application/problem+json': {
              schema: {
                type: 'object',
                required: ['type', 'code', 'title', 'status'],
                properties: {
                  type: { type: 'string' },
                  code: { type: 'string' },
                  title: { type: 'string' },
                  status: { type: 'integer' },
                  fields: {
                    type: 'array',
                    items: {
                      type: 'object',
                      properties: { field: { type: 'string' }, said: { type: 'string' } },
                    },
                  },
                },
              },
            },
          },
        },
      },
    },
  }
}

function operation(name: string, e: Endpoint): JsonSchema {
  const isText = (p: string) => (TEXT_PARAMS as readonly string[]).includes(p)
  const inPath = [...e.path.matchAll(/:([a-z]+)/g)].map(([, p]) => ({
    name: p!,
    in: 'path',
    required: true,
    schema: isText(p!) ? { type: 'string' } : { type: 'integer', minimum: 1, maximum: LARGEST_ID },
  }))
  const query = e.query
    ? (jsonSchema(e.query) as { properties: Record<string, JsonSchema>; required?: string[] })
    : undefined
  const inQuery = Object.entries(query?.properties ?? {}).map(([p, schema]) => ({
    name: p,
    in: 'query',
    required: query?.required?.includes(p) ?? false,
    schema,
  }))
  const header = (p: string, description: string, required = false) => ({
    name: p,
    in: 'header',
    required,
    description,
    schema: { type: 'string' },
  })
  const headers = [
    ...(e.ifMatch ? [header('If-Match', 'Which version is changed, as its ETag.', true)] : []),
    ...(e.body === BYTES ? [header('X-File-Name', 'Name of the file, percent-encoded.')] : []),
    ...(e.locked ? [header('X-File-Password', 'Password of the file, percent-encoded.')] : []),
    ...(e.method === 'POST' || e.ifMatch
      ? [header('Idempotency-Key', 'Sent again under it, nothing is done twice.')]
      : []),
  ]
  const parameters = [...inPath, ...inQuery, ...headers]
  const content =
    e.answer === undefined
      ? undefined
      : Array.isArray(e.answer)
        ? Object.fromEntries((e.answer as string[]).map(type => [type, { schema: { type: 'string' } }]))
        : { 'application/json': { schema: jsonSchema(e.answer as AnySchema) } }
  return {
    operationId: name,
    summary: e.does,
    ...(parameters.length ? { parameters } : {}),
    ...(e.body === undefined
      ? {}
      : {
          requestBody: {
            required: true,
            content:
              e.body === BYTES
                ? { 'application/octet-stream': { schema: { type: 'string', format: 'binary' } } }
                : { 'application/json': { schema: jsonSchema(e.body) } },
          },
        }),
    responses: {
      ...Object.fromEntries(
        e.status.map(s => [
          String(s),
          { description: s === 202 ? 'Begun.' : 'Done.', ...(content ? { content } : {}) },
        ]),
      ),
      default: problem,
    },
  }
}
