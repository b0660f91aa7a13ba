import { XMLParser } from 'fast-xml-parser'

export type Xml = Record<string, unknown>

const parser = new XMLParser({
  ignoreAttributes: false,
  attributeNamePrefix: '@',
  removeNSPrefix: true,
  parseTagValue: false,
  parseAttributeValue: false,
  trimValues: true,
})

/**
 * Reads XML into plain objects: prefixes removed, attributes with "@", text of an element with attributes in "#text".
 * A document type declaration is refused, so that no entity is ever expanded.
 * @throws Error where it is not well-formed
 */
export function readXml(text: string): Xml {
  if (/<!DOCTYPE/i.test(text)) throw new Error('The answer declares a document type, which is not accepted.')
  const open = (text.match(/<[A-Za-z][^>]*[^/]>|<[A-Za-z]>/g) ?? []).length
  const close = (text.match(/<\/[A-Za-z]/g) ?? []).length
  if (open !== close) throw new Error('The XML is broken: not every element is closed.')
  return parser.parse(text) as Xml
}

/** The children of a name as a list, whether there are none, one or many. */
export function all(x: unknown, name: string): Xml[] {
  const v = (x as Xml | undefined)?.[name]
  if (v === undefined || v === null) return []
  return (Array.isArray(v) ? v : [v]) as Xml[]
}

export function first(x: unknown, ...path: string[]): unknown {
  let at: unknown = x
  for (const name of path) at = all(at, name)[0]
  return at
}

/** The text of an element, with or without attributes. */
export function textOf(x: unknown): string | undefined {
  if (x === undefined || x === null) return undefined
  if (typeof x === 'string') return x || undefined
  if (typeof x === 'number') return String(x)
  const t = (x as Xml)['#text']
  return t === undefined ? undefined : String(t)
}

export const texts = (x: unknown, name: string): string[] =>
  all(x, name)
    .map(textOf)
    .filter((t): t is string => t !== undefined)

/** Escapes text for an XML element or attribute. */
export const escapeXml = (s: string): string =>
  s.replace(/[&<>"]/g, c => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
