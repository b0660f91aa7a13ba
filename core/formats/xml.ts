import { SaxesParser } from 'saxes'
import { cleanText } from '../bib/clean'

export type Xml = Record<string, unknown>

/** Elements within elements that are followed: no record is deeper, and no answer may be endless. */
const DEEPEST = 200

/**
 * Reads XML into plain objects: prefixes removed, attributes with "@", text of an element with attributes or children in
 * "#text". References to numbers and to the five names of the standard are letters; others are not expanded, and a document
 * type that declares any is refused.
 * @param text decoded already, whatever its declaration says
 * @param asItCame name of elements that are not looked into: their inside stands in "#raw" as it came, and in "#text"
 *   what it says where it has no elements (a record that was packed as a string)
 * @throws Error where it is not well-formed
 */
export function readXml(text: string, asItCame?: string): Xml {
  const given = text.trimStart()
  try {
    return readStrictly(given, asItCame)
  } catch (e) {
    // what many write and no parser takes: control characters, and an ampersand that begins nothing
    const mended = withoutFaults(given)
    if (mended !== given)
      try {
        return readStrictly(mended, asItCame)
      } catch {
        // what is wrong stands in the first answer
      }
    throw new Error(`The XML is broken: ${e instanceof Error ? e.message : String(e)}`, { cause: e })
  }
}

/** Control characters that XML has no place for, and references to them. */
const CONTROLS =
  // eslint-disable-next-line no-control-regex
  /[\u0000-\u0008\u000b\u000c\u000e-\u001f\ufffe\uffff]|&#(?:x0*(?:[0-8bcef]|1[\da-f])|0*(?:[0-8]|1[124-9]|2\d|3[01]));/gi
const withoutFaults = (text: string): string =>
  text
    .replace(CONTROLS, '')
    .split(/(<!\[CDATA\[.*?\]\]>)/s)
    .map(part =>
      part.startsWith('<![CDATA[')
        ? part
        : part.replace(/&(?!(?:#\d{1,7}|#x[\da-f]{1,6}|[a-z][\w.-]{0,30});)/gi, '&amp;'),
    )
    .join('')

function readStrictly(text: string, asItCame: string | undefined): Xml {
  const root = empty()
  const open: { name: string; of: Xml; text: string; from: number; elements: boolean }[] = []
  const parser = new SaxesParser({ xmlns: false })
  let within = 0
  parser.on('doctype', said => {
    if (/<!ENTITY/i.test(said)) throw new Error('The answer declares entities of its own, which are not expanded.')
  })
  parser.on('opentag', tag => {
    const name = local(tag.name)
    if (within) {
      within++
      open.at(-1)!.elements = true
      return
    }
    if (open.length >= DEEPEST) throw new Error('The XML goes deeper than any record does.')
    const of = empty()
    for (const [key, value] of Object.entries(tag.attributes as Record<string, string>))
      if (!/^xmlns(:|$)/.test(key)) of[`@${local(key)}`] = value
    if (open.length) open.at(-1)!.elements = true
    open.push({ name, of, text: '', from: parser.position, elements: false })
    if (name === asItCame) within = 1
  })
  const heard = (part: string) => {
    const last = open.at(-1)
    if (last) last.text += part
  }
  parser.on('text', heard)
  parser.on('cdata', heard)
  parser.on('closetag', tag => {
    if (within > 1) return void within--
    within = 0
    const { name, of, text: said, from, elements } = open.pop()!
    const plain = said.trim()
    let value: unknown = of
    if (name === asItCame) {
      // an empty element closes where it opens
      const to = tag.isSelfClosing ? from : text.lastIndexOf('<', parser.position - 1)
      of['#raw'] = text.slice(from, to).trim()
      if (!elements && plain) of['#text'] = plain
    } else if (plain) {
      if (elements || Object.keys(of).length) of['#text'] = plain
      else value = plain
    } else if (!Object.keys(of).length) value = ''
    put(open.at(-1)?.of ?? root, name, value)
  })
  parser.write(text).close()
  return root
}

/** Without a prototype: an element may have any name. */
const empty = (): Xml => Object.create(null) as Xml
const local = (name: string): string => name.slice(name.indexOf(':') + 1)
function put(into: Xml, name: string, value: unknown): void {
  const have = into[name]
  if (have === undefined) into[name] = value
  else if (Array.isArray(have)) have.push(value)
  else into[name] = [have, value]
}

/** One record within a file of many, as it came. */
export interface XmlPart {
  kind: 'marc' | 'mods' | 'dc'
  raw: string
  /** Line it begins on, counted from 1. */
  line: number
}

/**
 * Finds the records of a file of XML, whatever stands around them (a collection, an answer of a harvest): MARC by its
 * leader, MODS by its name, Dublin Core by its name or by a title of that set. What comes before a fault is kept.
 */
export function splitXml(text: string): { parts: XmlPart[]; broken?: { line: number; why: string } } {
  const parts: XmlPart[] = []
  const open: { name: string; from: number; line: number; kind?: XmlPart['kind'] }[] = []
  const parser = new SaxesParser({ xmlns: false, position: true })
  let failed: Error | undefined
  let failedAt = 1
  const fail = (e: Error) => {
    if (failed) return
    failed = e
    failedAt = parser.line
  }
  parser.on('error', fail)
  parser.on('doctype', said => {
    if (/<!ENTITY/i.test(said)) fail(new Error('The file declares entities of its own, which are not expanded.'))
  })
  parser.on('opentagstart', tag => {
    const name = local(tag.name)
    const parent = open.at(-1)
    const inside = open.some(o => o.kind)
    if (parent && !inside) {
      if (name === 'leader' && parent.name === 'record') parent.kind = 'marc'
      else if (/^(dc|dcterms):title$/.test(tag.name)) parent.kind = 'dc'
    }
    const from = text.lastIndexOf('<', parser.position - 1)
    const kind = inside ? undefined : name === 'mods' ? 'mods' : name === 'dc' ? 'dc' : undefined
    open.push({ name, from, line: parser.line, ...(kind ? { kind } : {}) })
  })
  parser.on('closetag', () => {
    const { from, line, kind } = open.pop()!
    if (kind && !failed) parts.push({ kind, raw: text.slice(from, parser.position), line })
  })
  try {
    parser.write(text)
    if (!failed) parser.close()
  } catch (e) {
    fail(e instanceof Error ? e : new Error(String(e)))
  }
  return failed ? { parts, broken: { line: failedAt, why: (failed as Error).message } } : { parts }
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
  cleanText(s).replace(/[&<>"]/g, c => ({ '&': '&amp;', '<': '&lt;', '>': '&gt;', '"': '&quot;' })[c]!)
