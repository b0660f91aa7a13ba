import { compile } from 'json-p3'
import { parseTemplate } from 'url-template'
import { mixed, number, string, type InferType, type Schema } from 'yup'
import { list, maybe, oneOf, shape, text } from '../schema/api/parts'

/** A JSONPath (RFC 9535), from the record, or from the whole answer where that is said. */
const path = () =>
  string()
    .test(
      'jsonpath',
      ({ value }) => `“${value as string}” is no JSONPath (RFC 9535).`,
      v => v === undefined || isPath(v),
    )
    .defined()
/** An address template (RFC 6570); its host is written out. */
const template = () =>
  string()
    .test(
      'template',
      ({ value }) => `“${value as string}” is no address template with its host written out.`,
      v => v === undefined || isTemplate(v),
    )
    .defined()

const names = () =>
  part(
    shape({
      ...{ each: path(), name: maybe(path()), family: maybe(path()), given: maybe(path()) },
      /** An identifier with a check digit (ISO 27729). */
      identifier: maybe(path()),
    }),
  )
const field = () => maybe(path())
/** A part that may be left out whole. */
const part = <T>(of: Schema<T>) => maybe(of.default(undefined) as Schema<T>)

/** Where the parts of a record stand; `item` is a whole item of CSL-JSON, which the others add to. */
export const fieldsShape = shape({
  item: field(),
  type: field(),
  title: field(),
  subtitle: field(),
  authors: names(),
  editors: names(),
  date: field(),
  container: field(),
  volume: field(),
  issue: field(),
  pages: field(),
  firstPage: field(),
  lastPage: field(),
  publisher: field(),
  place: field(),
  edition: field(),
  doi: field(),
  isbn: field(),
  issn: field(),
  address: field(),
  abstract: field(),
  language: field(),
  keywords: field(),
  subjects: field(),
  genre: field(),
  refereedVenue: field(),
  citedBy: field(),
  references: field(),
  openCopy: field(),
  field: field(),
  /** Who paid: objects, or sentences that say it. */
  grants: part(shape({ each: path(), number: maybe(path()), funder: maybe(path()), title: maybe(path()) })),
  licence: field(),
})

const requestFields = {
  method: maybe(oneOf(['GET', 'POST'])),
  address: template(),
  /** JSON; within it a text "{name}" is the value itself, and "{name}" within a text its letters. */
  body: maybe(mixed<object>().defined()),
  headers: maybe(list(shape({ name: text(), value: text() }))),
}
const callShape = shape({
  ...requestFields,
  /** How further pages are asked for; without it there is one. */
  paging: part(
    shape({
      by: oneOf(['offset', 'page', 'cursor', 'link']),
      size: number().integer().min(1).max(1000).defined(),
      /** From the answer: the next offset, page, cursor or address. A Link header needs none. */
      next: maybe(path()),
    }),
  ),
  /** From the answer: the records. */
  records: path(),
  /** From the answer: how many there are. */
  total: maybe(path()),
  fields: fieldsShape,
  /** Types of CSL for what the server calls types otherwise than its words say. */
  types: maybe(list(shape({ said: text(), is: text() }))),
})

/** Of a call that counts the works of a field and year by how often they are cited. */
const tallyShape = shape({
  ...requestFields,
  /** From the answer: the tallies, one for each number of citations. */
  tallies: path(),
  /** From a tally: the number of citations, and how many works have so many. */
  citedBy: path(),
  works: path(),
})

/**
 * What can be asked for records: a work by its DOI; works by title, author, year or ISBN; what a work refers to; what cites it; how
 * often it is cited; works of an author by identifier; works of a grant; data behind a work.
 */
export const CALLS = ['work', 'search', 'references', 'citedBy', 'counts', 'byAuthor', 'byGrant', 'data'] as const
export type CallName = (typeof CALLS)[number]

/**
 * A server that answers in JSON, described by data; `peers` tells how works of a `field` and `year` are cited. In addresses, headers and bodies stand by name: `doi` (and
 * `doiParts`, its parts between slashes), `title`, `author`, `year`, `isbn`, `field`, `authorId`, `grant`, `funder`; `limit`, `offset` (from 0), `start` (from 1), `page` (from 1), `cursor`; `key`.
 */
export const connectorShape = shape({
  id: string()
    .matches(/^[a-z][a-z0-9-]{0,39}$/)
    .defined(),
  name: text(),
  /** Requests a second and a day at most. */
  perSecond: maybe(number().positive().max(100).defined()),
  perDay: maybe(number().integer().min(1).defined()),
  headers: maybe(list(shape({ name: text(), value: text() }))),
  calls: shape({
    work: part(callShape),
    search: part(callShape),
    references: part(callShape),
    citedBy: part(callShape),
    counts: part(callShape),
    byAuthor: part(callShape),
    byGrant: part(callShape),
    data: part(callShape),
    peers: part(tallyShape),
  }),
})
export type Connector = InferType<typeof connectorShape>
/** @throws ValidationError with what is wrong of a description; a part that is not known is wrong too */
export const readConnector = (value: unknown): Connector => connectorShape.validateSync(value, { strict: true })
export type Call = InferType<typeof callShape>
export type TallyCall = InferType<typeof tallyShape>
export type Fields = InferType<typeof fieldsShape>

function isPath(value: string): boolean {
  try {
    compile(value)
    return true
  } catch {
    return false
  }
}

function isTemplate(value: string): boolean {
  try {
    parseTemplate(value).expand({})
    const at = new URL(beforeNames(value))
    return /^https?:$/.test(at.protocol) && /^https?:\/\/[^/?#{]+([/?#]|\{[/?#]|$)/.test(value)
  } catch {
    return false
  }
}

/** A template as far as it names nothing: scheme, host and the beginning of the path. */
export const beforeNames = (template: string): string => template.replace(/\{.*$/, '')

/** Whether a call takes a name: one that does not cannot be asked by it. */
export function asksFor(connector: Connector, call: CallName, name: string): boolean {
  const { address, body } = connector.calls[call] ?? {}
  const names = `${address ?? ''} ${JSON.stringify(body ?? null)}`.matchAll(/\{[+#./;?&]?([\w*,:]+)\}/g)
  return Array.from(names, m => m[1]!.split(',').map(n => n.replace(/[*:].*$/, '')))
    .flat()
    .includes(name)
}

/** Whether a connector needs a key of the operator's. */
export const needsKey = (c: Connector): boolean => JSON.stringify(c).includes('{key}')
