import { mendItem } from '../bib/mend-item'
import { factsOfRegistry } from '../bib/registry'
import { excerptOf, finish } from './entry'
import type { ReadEntry, RefusedEntry } from './read-file'

/** Reads a CSL-JSON file: an array of items, one item, or an object with `items`. A bad item is refused alone. */
export function readCslJson(text: string): { entries: ReadEntry[]; refused: RefusedEntry[] } {
  let data: unknown
  try {
    data = JSON.parse(text)
  } catch (e) {
    const oneALine = itemsByLine(text)
    if (oneALine) return readItems(oneALine)
    const message = e instanceof Error ? e.message : String(e)
    const at = brokenAt(text)
    const line = text.slice(0, at).split('\n').length
    return {
      entries: [],
      refused: [{ line, why: `This is not well-formed JSON: ${message}`, excerpt: excerptOf(text.slice(at)) }],
    }
  }
  const { items, references } = data as { items?: unknown; references?: unknown }
  const list = Array.isArray(data)
    ? data
    : Array.isArray(items)
      ? items
      : Array.isArray(references)
        ? references
        : [data]
  const lines = itemLines(text)
  return readItems(list.map((value, i) => ({ value: value as unknown, line: lines[i] ?? 1 })))
}

/** Items that stand one a line; undefined where any line is none. */
function itemsByLine(text: string): { value: unknown; line: number }[] | undefined {
  const items: { value: unknown; line: number }[] = []
  const lines = text.split(/\r\n|\n|\r/)
  for (const [i, l] of lines.entries()) {
    if (!l.trim()) continue
    if (!/^\s*\{.*\},?\s*$/.test(l)) return undefined
    try {
      items.push({ value: JSON.parse(l.trim().replace(/,$/, '')) as unknown, line: i + 1 })
    } catch {
      return undefined
    }
  }
  return items.length > 1 ? items : undefined
}

function readItems(list: readonly { value: unknown; line: number }[]): {
  entries: ReadEntry[]
  refused: RefusedEntry[]
} {
  const entries: ReadEntry[] = []
  const refused: RefusedEntry[] = []
  list.forEach(({ value, line }, i) => {
    const raw = JSON.stringify(value)
    const read = mendItem(value, `item-${i + 1}`)
    const refuse = (why: string) => refused.push({ line, why: `Item ${i + 1}: ${why}`, excerpt: excerptOf(raw) })
    if ('why' in read) refuse(read.why)
    else if (!read.item.title && !read.item.author) refuse('It has neither a title nor an author.')
    else {
      const { item, facts } = finish(read.item, read.mended)
      const beside = factsOfRegistry(value as Record<string, unknown>)
      entries.push({ item, facts: { ...facts, ...beside }, raw, line, mended: read.mended })
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
