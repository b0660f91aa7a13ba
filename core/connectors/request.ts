import { parseTemplate } from 'url-template'
import type { Call, Connector, TallyCall } from './description'

/** What a call asks for; names without a value are left out of addresses. */
export type Values = Partial<
  Record<'doi' | 'title' | 'author' | 'year' | 'isbn' | 'field' | 'authorId' | 'grant' | 'funder' | 'key', string>
>

/** Where in a long answer a request stands. */
export type Place = { offset: number; page: number; cursor?: string } | { address: string }
export const FIRST: Place = { offset: 0, page: 1 }

export interface Request {
  method: 'GET' | 'POST'
  url: string
  headers: Record<string, string>
  body?: string
}

/** One request of a call. */
export function requestFor(
  connector: Connector,
  call: Call | TallyCall,
  values: Values,
  place: Place = FIRST,
): Request {
  const at = 'address' in place ? FIRST : place
  const given: Record<string, string | number | string[] | undefined> = {
    ...values,
    doiParts: values.doi?.split('/'),
    ...('paging' in call && call.paging ? { limit: call.paging.size } : {}),
    ...('offset' in at ? { offset: at.offset, start: at.offset + 1, page: at.page, cursor: at.cursor } : {}),
  }
  const known = withValues(given)
  const method = call.method ?? 'GET'
  const headers = [...(connector.headers ?? []), ...(call.headers ?? [])].map(
    h => [h.name.toLowerCase(), filled(h.value, known)] as const,
  )
  const body = call.body === undefined ? undefined : JSON.stringify(filledThrough(call.body, known))
  return {
    method,
    url: 'address' in place ? place.address : parseTemplate(call.address).expand(known),
    headers: {
      accept: 'application/json',
      ...(body === undefined ? {} : { 'content-type': 'application/json' }),
      ...Object.fromEntries(headers),
    },
    ...(body === undefined ? {} : { body }),
  }
}

type Known = Record<string, string | number | string[]>
const withValues = (given: Record<string, Known[string] | undefined>): Known =>
  Object.fromEntries(Object.entries(given).filter(([, v]) => v !== undefined && v !== '')) as Known
const NAME = /\{(\w+)\}/g
const filled = (text: string, known: Known): string =>
  text.replace(NAME, (_, name: string) => String(known[name] ?? ''))

/** A body with its names filled in; what stands for nothing is left out of objects and lists. */
function filledThrough(body: unknown, known: Known): unknown {
  if (typeof body === 'string') {
    const whole = /^\{(\w+)\}$/.exec(body)?.[1]
    return whole ? known[whole] : filled(body, known)
  }
  if (Array.isArray(body)) return body.map(v => filledThrough(v, known)).filter(v => v !== undefined)
  if (typeof body !== 'object' || body === null) return body
  return Object.fromEntries(
    Object.entries(body)
      .map(([k, v]) => [k, filledThrough(v, known)] as const)
      .filter(([, v]) => v !== undefined),
  )
}
