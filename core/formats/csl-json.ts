import type { Item } from '../bib/item'
import { excerptOf, finish } from './entry'
import type { ReadEntry, RefusedEntry } from './read-file'

/** The item types of CSL 1.0.2. */
export const CSL_TYPES = new Set(
  (
    'article article-journal article-magazine article-newspaper bill book broadcast chapter classic collection dataset ' +
    'document entry entry-dictionary entry-encyclopedia event figure graphic hearing interview legal_case legislation ' +
    'manuscript map motion_picture musical_score pamphlet paper-conference patent performance periodical ' +
    'personal_communication post post-weblog regulation report review review-book software song speech standard thesis ' +
    'treaty webpage'
  ).split(' '),
)

/** Reads a CSL-JSON file: an array of items, one item, or an object with `items`. A bad item is refused alone. */
export function readCslJson(text: string): { entries: ReadEntry[]; refused: RefusedEntry[] } {
  let data: unknown
  try {
    data = JSON.parse(text)
  } catch (e) {
    const message = e instanceof Error ? e.message : String(e)
    const at = brokenAt(text)
    const line = text.slice(0, at).split('\n').length
    return {
      entries: [],
      refused: [{ line, why: `This is not well-formed JSON: ${message}`, excerpt: excerptOf(text.slice(at)) }],
    }
  }
  const list = Array.isArray(data)
    ? data
    : Array.isArray((data as { items?: unknown }).items)
      ? (data as { items: unknown[] }).items
      : [data]
  const entries: ReadEntry[] = []
  const refused: RefusedEntry[] = []
  const lines = itemLines(text)
  list.forEach((value, i) => {
    const raw = JSON.stringify(value)
    const line = lines[i] ?? 1
    const why = wrong(value)
    if (why) refused.push({ line, why: `Item ${i + 1}: ${why}`, excerpt: excerptOf(raw) })
    else {
      const given = value as Item
      const mended: string[] = []
      const id = given.id === undefined ? `item-${i + 1}` : String(given.id)
      if (given.id === undefined) mended.push('The item had no id.')
      const done = finish({ ...given, id }, mended)
      entries.push({ ...done, raw, line, mended })
    }
  })
  return { entries, refused }
}

/** The offset at which a text stops being JSON: runtimes differ in whether they say it. */
function brokenAt(text: string): number {
  const token = /\s*(?:([{[])|([}\]])|([,:])|"(?:[^"\\\n]|\\.)*"|-?\d+(?:\.\d+)?(?:[eE][+-]?\d+)?|true|false|null)/y
  const open: string[] = []
  let after = 'start'
  while (token.lastIndex < text.length) {
    const at = token.lastIndex
    const start = at + /^\s*/.exec(text.slice(at, at + 10_000))![0].length
    const m = token.exec(text)
    if (!m) return start
    const [, opens, closes, mark] = m
    const value = !closes && !mark
    if (value && (after === 'value' || after === 'close')) return start
    if (mark && after !== 'value' && after !== 'close') return start
    if (closes && (after === 'mark' || (open.pop() === '{') !== (closes === '}'))) return start
    if (opens) open.push(opens)
    after = opens ? 'open' : closes ? 'close' : mark ? 'mark' : 'value'
  }
  return text.length
}

function wrong(value: unknown): string | undefined {
  if (!value || typeof value !== 'object' || Array.isArray(value)) return 'an object was expected.'
  const item = value as Record<string, unknown>
  if (typeof item.type !== 'string') return 'it has no type.'
  if (!CSL_TYPES.has(item.type)) return `"${item.type}" is not a type of CSL.`
  for (const k of ['title', 'container-title', 'DOI', 'publisher', 'abstract', 'URL']) {
    if (item[k] !== undefined && typeof item[k] !== 'string') return `"${k}" should be text.`
  }
  for (const k of ['author', 'editor']) {
    const names = item[k]
    if (
      names !== undefined &&
      !(Array.isArray(names) && names.every(n => n && typeof n === 'object' && !Array.isArray(n)))
    ) {
      return `"${k}" should be a list of names.`
    }
  }
  const issued = item.issued
  if (issued !== undefined && (typeof issued !== 'object' || issued === null)) return '"issued" should be a date.'
  if (!item.title && !item.author) return 'it has neither a title nor an author.'
  return undefined
}

/** Lines on which the items of the outer array begin, without parsing twice: depth is counted outside strings. */
function itemLines(text: string): number[] {
  const lines: number[] = []
  let depth = 0
  let line = 1
  let quoted = false
  for (let i = 0; i < text.length; i++) {
    const c = text[i]
    if (c === '\n') line++
    if (quoted) {
      if (c === '\\') i++
      else if (c === '"') quoted = false
    } else if (c === '"') quoted = true
    else if (c === '{' || c === '[') {
      if (c === '{' && depth === 1) lines.push(line)
      depth++
    } else if (c === '}' || c === ']') depth--
  }
  return lines
}
