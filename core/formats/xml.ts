import { XMLParser } from 'fast-xml-parser'
import { cleanText } from '../bib/clean'

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
  const why = unbalanced(text)
  if (why) throw new Error(`The XML is broken: ${why}`)
  return parser.parse(text) as Xml
}

/**
 * Why elements do not close one another; undefined where they do. One walk over the text, from mark to mark; the parser
 * itself is lenient here, and takes long over what is never closed.
 */
function unbalanced(text: string): string | undefined {
  let open = 0
  for (let at = text.indexOf('<'); at >= 0;) {
    const [begin, close] = NOT_ELEMENTS.find(([b]) => text.startsWith(b, at)) ?? ['<', '>']
    const end = text.indexOf(close, at + begin.length)
    if (end < 0) return 'it ends in the middle of a mark.'
    if (begin === '<') {
      if (text[at + 1] === '/') open--
      else if (text[end - 1] !== '/') open++
      if (open < 0) return 'an element is closed that was not begun.'
    }
    at = text.indexOf('<', end + close.length)
  }
  return open ? 'not every element is closed.' : undefined
}
const NOT_ELEMENTS: [string, string][] = [
  ['<!--', '-->'],
  ['<![CDATA[', ']]>'],
  ['<?', '?>'],
  ['<!', '>'],
]

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
  cleanText(s).replace(/[&<>"]/g, c => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
