import { plugins } from '@citation-js/core'
import '@citation-js/plugin-bibtex'
import { cleanText } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import type { Item } from '../bib/item'
import { macrosOf, mendEntry, mendParsed, mendText, type FieldAt } from './bibtex-mend'
import { excerptOf, finish } from './entry'
import type { ReadEntry, RefusedEntry } from './read-file'

interface Chunk {
  type: string
  key: string
  raw: string
  line: number
  mended: string[]
}

/** Fields whose content the item carries; any other is kept in the source only, and that is said. */
const carried = new Set(
  (
    'address annote author booktitle chapter doi edition editor howpublished institution issn isbn journal key ' +
    'keywords language langid month note number organization pages pagetotal publisher school series title translator type ' +
    'url urldate volume year date abstract eprint eprinttype journaltitle subtitle booksubtitle location issue ' +
    'shorttitle titleaddon bookauthor volumes eventtitle eventdate venue version pubstate issuetitle mainbooktitle ' +
    'mainbooktitle shortjournal part origdate origlocation origpublisher origtitle'
  ).split(' '),
)
const months = new Set('jan feb mar apr may jun jul aug sep oct nov dec'.split(' '))

/** Letters of an entry at most: its abstract is in it, and a few thousand names. */
const LONGEST_ENTRY = 400_000
/** Letters of one name at most: the parser takes long over names that are none. */
const LONGEST_NAME = 2000

/** The longest name of an entry: what stands between two "and" of a list of people. */
function longestName(raw: string): number {
  let most = 0
  const top = outsideBraces(raw)
  const starts = [...raw.matchAll(/\b(?:author|editor|translator|bookauthor)\s{0,20}=/gi)].filter(m => top(m.index))
  for (const m of starts) {
    let end = m.index + m[0].length
    while (end < raw.length && !(raw[end] === ',' && top(end))) end++
    for (const name of raw.slice(m.index + m[0].length, end).split(/\sand\s/i))
      most = Math.max(most, name.trim().length)
  }
  return most
}

/** Reads BibTeX and BibLaTeX entry by entry, so that one bad entry harms no other. */
export function readBibtex(text: string): { entries: ReadEntry[]; refused: RefusedEntry[] } {
  const chunks = cutEntries(text)
  const macros = macrosOf(chunks.flatMap(c => (c.type === 'preamble' ? [c.raw] : [])))
  const strings = new Map<string, string>()
  const byKey = new Map<string, Chunk>()
  for (const c of chunks) {
    if (c.type === 'string') {
      const name = /^\s*@\s*\w+\s*[{(]\s*([^\s=]+)\s*=/.exec(c.raw)?.[1]
      if (name) strings.set(name.toLowerCase(), mendText(c.raw, macros, new Set()))
    } else if (c.key && !byKey.has(c.key.toLowerCase())) byKey.set(c.key.toLowerCase(), c)
  }
  const entries: ReadEntry[] = []
  const refused: RefusedEntry[] = []
  const seen = new Set<string>()
  for (const c of chunks) {
    if (c.type === 'string' || c.type === 'comment' || c.type === 'preamble') continue
    const mended = [...c.mended]
    try {
      const key = c.key.toLowerCase()
      if (key && seen.has(key)) mended.push(`The key "${c.key}" stands in the file more than once.`)
      seen.add(key)
      if (c.raw.length > LONGEST_ENTRY)
        throw new Error(
          `The entry is ${Math.round(c.raw.length / 1000)} KB long; one may have ${LONGEST_ENTRY / 1000} KB.`,
        )
      const name = longestName(c.raw)
      if (name > LONGEST_NAME) throw new Error(`A name in it is ${name} letters long.`)
      const read = parseEntry(c, { strings, byKey, macros }, mended)
      if (!read) throw new Error('The entry has no fields.')
      if (!read.title && !read.author && !read.editor && !read['container-title'])
        throw new Error('It has neither a title nor an author.')
      const { item, facts } = finish(read, mended)
      entries.push({ item, facts, raw: c.raw, line: c.line, mended })
    } catch (e) {
      refused.push({ line: c.line, why: reason(e), excerpt: excerptOf(c.raw) })
    }
  }
  return { entries, refused }
}

function reason(e: unknown): string {
  const message = e instanceof Error ? e.message : String(e)
  const expected = /expected (.+?), got (.+?) at line/i.exec(message)
  if (expected) return `The entry cannot be read: ${expected[1]} was expected, but ${expected[2]} stands there.`
  return message.split('\n')[0]!.slice(0, 300)
}

/** What the rest of a file says for its entries. */
interface Around {
  /** `@string` definitions by their names. */
  strings: Map<string, string>
  byKey: Map<string, Chunk>
  macros: Map<string, string>
}

function parseEntry(c: Chunk, { strings, byKey, macros }: Around, mended: string[]): Item | undefined {
  let raw = quoteUnknownWords(c.raw, strings, mended)
  if (!c.key) {
    raw = raw.replace(/^(\s*@\s*\w+\s*[{(])\s*,?/, '$1entry,')
    mended.push('The entry had no key.')
  } else if (/[\s"#'()%~\\]/.test(c.key)) {
    raw = raw.replace(c.key, c.key.replace(/[\s"#'()%~\\]+/g, '-'))
    mended.push(`The key "${c.key}" was made fit for use.`)
  }
  for (const { name } of fieldsOf(raw)) {
    if (!carried.has(name) && !/^cross[r]ef$/.test(name)) mended.push(`The field "${name}" is kept in the source only.`)
  }
  raw = mendEntry(raw, c.type, fieldsOf, macros, mended)
  const parentKey = /\bcross[r]ef\s*=\s*[{"]?\s*([^\s,{}"]+)/i.exec(raw)?.[1]
  const parent = parentKey ? byKey.get(parentKey.toLowerCase()) : undefined
  if (parentKey && !parent) {
    mended.push(`It refers to "${parentKey}", which is not in the file.`)
    raw = raw.replace(/\bcross[r]ef\s*=\s*(\{[^{}]*\}|"[^"]*"|[^,}\s]+)\s*,?/i, '')
  }
  const parts = [raw]
  if (parent && parent !== c)
    parts.push(mendEntry(quoteUnknownWords(parent.raw, strings, []), parent.type, fieldsOf, macros, []))
  const needed = new Set(parts.flatMap(p => bareWords(p)).filter(w => strings.has(w)))
  // definitions may stand on others
  for (const w of needed) for (const v of bareWords(strings.get(w)!)) if (strings.has(v)) needed.add(v)
  const definitions = [...strings].filter(([name]) => needed.has(name)).map(([, definition]) => definition)
  const parse = (entry: string) =>
    plugins.input.chain([...definitions, entry, ...parts.slice(1)].join('\n'), {
      forceType: '@biblatex/text',
      generateGraph: false,
    }) as Item[]
  let read: Item[]
  try {
    read = parse(raw)
  } catch (e) {
    // commands that no reader knows stand mostly in what is not cited anyway
    const core = onlyFields(raw, citedFields)
    if (core === raw) throw e
    read = parse(core)
    mended.push('Some of its fields cannot be read; they are kept in the source only.')
  }
  const item = read.find(r => r['citation-key'] === c.key) ?? read[0]
  if (!item) return undefined
  const plain = JSON.parse(JSON.stringify(item)) as Item
  delete plain._graph
  // a body in braces comes back as a family name of several words
  for (const list of [plain.author, plain.editor]) {
    list?.forEach((n, i) => {
      if (n.family && !n.given && /\s/.test(n.family) && Object.keys(n).length === 1) list[i] = { literal: n.family }
    })
  }
  const day = 'The field "day" is kept in the source only.'
  if (plain.issued?.['date-parts']?.[0]?.length === 3 && mended.includes(day)) mended.splice(mended.indexOf(day), 1)
  return mendParsed(plain)
}

/** Words outside braces and quotes that stand as values: abbreviations and months. */
function bareWords(raw: string): string[] {
  return [...raw.matchAll(/[=#]\s*([A-Za-z][\w:.+-]*)\s*(?=[,})#\n])/g)].map(m => m[1]!.toLowerCase())
}

function quoteUnknownWords(raw: string, strings: Map<string, string>, mended: string[]): string {
  const topLevel = outsideBraces(raw)
  return raw.replace(
    /([=#]\s*)([A-Za-z][\w:.+-]*)(\s*)(?=[,})#\n])/g,
    (all, before: string, w: string, after: string, at: number) => {
      if (!topLevel(at) || strings.has(w.toLowerCase()) || months.has(w.toLowerCase())) return all
      mended.push(`The abbreviation "${w}" is not defined in the file and was taken as it stands.`)
      return `${before}{${w}}${after}`
    },
  )
}

/** Tells of an offset whether it stands in the entry itself and not in a value. */
function outsideBraces(raw: string): (at: number) => boolean {
  const depths = new Uint16Array(raw.length)
  let depth = 0
  let quoted = false
  for (let i = 0; i < raw.length; i++) {
    if (raw[i] === '{') depth++
    else if (raw[i] === '}') depth--
    else if (raw[i] === '"' && depth === 1 && raw[i - 1] !== '\\') quoted = !quoted
    depths[i] = Math.max(0, depth) + (quoted ? 100 : 0)
  }
  return at => depths[at] === 1
}

const citedFields =
  /^(author|editor|title|subtitle|journal|journaltitle|booktitle|year|date|month|volume|number|issue|pages|publisher|address|location|school|institution|edition|doi|isbn|issn|url|series|chapter)$/i

/** The entry with some of its fields alone. */
function onlyFields(raw: string, wanted: RegExp): string {
  const top = outsideBraces(raw)
  const starts = [...raw.matchAll(/([A-Za-z][\w-]*)\s*=/g)].filter(m => top(m.index))
  const end = raw.lastIndexOf('}')
  const head = raw.slice(0, starts[0]?.index ?? end)
  const fields = starts
    .map((m, i) => ({
      name: m[1]!,
      text: raw
        .slice(m.index, starts[i + 1]?.index ?? end)
        .trimEnd()
        .replace(/,$/, ''),
    }))
    .filter(f => wanted.test(f.name))
  return fields.length === starts.length ? raw : `${head}${fields.map(f => f.text).join(',\n')}\n}`
}

/** The fields of an entry, each from its name to the next. */
function fieldsOf(raw: string): FieldAt[] {
  const top = outsideBraces(raw)
  const starts = [...raw.matchAll(/([A-Za-z][\w-]*)\s*=/g)].filter(m => top(m.index))
  const end = Math.max(raw.lastIndexOf('}'), raw.lastIndexOf(')'))
  return starts.map((m, i) => ({ name: m[1]!.toLowerCase(), from: m.index, to: starts[i + 1]?.index ?? end }))
}

/**
 * Cuts a file into entries. An entry ends where its braces balance; where they do not before the next line that
 * begins an entry, the entry is cut there and its braces are mended.
 */
function cutEntries(text: string): Chunk[] {
  const starts = [...text.matchAll(/^[ \t]*@\s*([A-Za-z]+)\s*[{(]/gm)]
  const chunks: Chunk[] = []
  let line = 1
  let counted = 0
  let end = 0
  starts.forEach((m, i) => {
    if (m.index < end) return
    for (; counted < m.index; counted++) if (text[counted] === '\n') line++
    const type = m[1]!.toLowerCase()
    const limit = starts[i + 1]?.index ?? text.length
    const closed = balancedEnd(text, m.index + m[0].length - 1)
    const mended: string[] = []
    let raw: string
    if (closed !== undefined && (closed <= limit || type === 'comment')) {
      end = closed
      raw = text.slice(m.index, closed)
    } else {
      end = limit
      raw = mendBraces(text.slice(m.index, limit).trimEnd(), mended)
    }
    const key = /^\s*@\s*\w+\s*[{(]\s*([^,={}]*?)\s*(?:,|\}|$)/.exec(raw)?.[1] ?? ''
    chunks.push({ type, key, raw: raw.trim(), line, mended })
  })
  return chunks
}

/** The offset after the bracket that closes the one at `open`. */
function balancedEnd(text: string, open: number): number | undefined {
  let depth = 0
  const round = text[open] === '('
  for (let i = open; i < text.length; i++) {
    const c = text[i]
    if (c === '{') depth++
    else if (c === '}') {
      depth--
      if (!round && depth === 0) return i + 1
    } else if (round && c === ')' && depth === 0) return i + 1
  }
  return undefined
}

/** Closes a value's brace before the next field begins, and the entry's at the end. */
function mendBraces(raw: string, mended: string[]): string {
  const count = (s: string) => [...s].reduce((d, c) => d + (c === '{' ? 1 : c === '}' ? -1 : 0), 0)
  const lines = raw.replace(/,[ \t]*(?=[A-Za-z][\w-]*\s*=\s*(?:[{"]|\d+\s*[,}]))/g, ',\n').split('\n')
  let depth = 0
  for (let i = 0; i < lines.length; i++) {
    const field = /^\s*([A-Za-z][\w-]*)\s*=/.exec(lines[i]!)
    if (i > 0 && depth > 1 && (field || /^\s*\}\s*$/.test(lines[i]!))) {
      const missing = '}'.repeat(depth - 1)
      lines[i - 1] = `${lines[i - 1]!.trimEnd().replace(/,$/, '')}${missing},`
      mended.push(`A closing brace was missing${field ? ` before the field "${field[1]}"` : ''}.`)
      depth = 1
    }
    depth += count(lines[i]!)
  }
  if (depth > 0) {
    mended.push('The closing brace of the entry was missing.')
    lines.push('}'.repeat(depth))
  }
  return lines.join('\n')
}

const bibtexTypes: Record<string, string> = {
  'article-journal': 'article',
  'article-magazine': 'article',
  'article-newspaper': 'article',
  'review-book': 'article',
  book: 'book',
  chapter: 'incollection',
  'paper-conference': 'inproceedings',
  thesis: 'phdthesis',
  report: 'techreport',
}

/** One item as a BibTeX entry, in UTF-8. What BibTeX has no field for is left out; see `losses`. */
export function writeBibtex(item: Item, key: string): string {
  const type = bibtexTypes[item.type] ?? 'misc'
  const parts = item.issued?.['date-parts']?.[0]
  const container = type === 'article' ? 'journal' : 'booktitle'
  const publisher = type === 'phdthesis' ? 'school' : type === 'techreport' ? 'institution' : 'publisher'
  const month = parts?.[1] ? [...months][Number(parts[1]) - 1] : undefined
  const fields: [string, string | undefined][] = [
    ['author', names(item.author)],
    ['editor', names(item.editor)],
    ['title', protect(item.title, item.language)],
    [container, escape(item['container-title'])],
    ['series', escape(item['collection-title'])],
    ['year', parts?.[0] !== undefined ? escape(parts[0]) : escape(item.issued?.literal ?? item.issued?.raw)],
    ['volume', escape(item.volume)],
    ['number', escape(type === 'techreport' || type === 'misc' ? (item.number as string | undefined) : item.issue)],
    ['pages', escape(item.page)?.replace(/(\d)\s*[-–]+\s*(?=[A-Za-z]*\d)/, '$1--')],
    ['edition', escape(item.edition)],
    [publisher, escape(item.publisher)],
    ['address', escape(item['publisher-place'])],
    ['doi', address(item.DOI)],
    ['isbn', escape(item.ISBN)],
    ['issn', escape(item.ISSN)],
    ['url', address(item.URL)],
    ['language', escape(item.language)],
    ['keywords', escape(item.keyword)],
    ['note', escape(item.note)],
    ['abstract', escape(item.abstract)],
  ]
  const lines = fields.filter((f): f is [string, string] => Boolean(f[1])).map(([k, v]) => `  ${k} = {${v}},`)
  // months are abbreviations in BibTeX, never braced
  if (month) lines.splice(lines.findIndex(l => l.startsWith('  year')) + 1, 0, `  month = ${month},`)
  return `@${type}{${key},\n${lines.join('\n')}\n}\n`
}

function names(list: Item['author']): string | undefined {
  return list
    ?.map(n => {
      if (n.literal) return `{${escape(n.literal)}}`
      const particle = [n['dropping-particle'], n['non-dropping-particle']].filter(Boolean).join(' ')
      const family = escape([particle, n.family].filter(Boolean).join(' '))
      const name = [family, n.suffix && escape(n.suffix), n.given && escape(n.given)].filter(Boolean).join(', ')
      // one that has the word by which names are parted is kept together
      return /\band\b/i.test(name) ? `{${name}}` : name
    })
    .join(' and ')
}

const special: Record<string, string> = {
  '&': '\\&',
  '%': '\\%',
  $: '\\$',
  '#': '\\#',
  _: '\\_',
  '{': '\\{',
  '}': '\\}',
  '~': '\\textasciitilde{}',
  '^': '\\textasciicircum{}',
  '\\': '\\textbackslash{}',
}
function balanced(text: string): boolean {
  let depth = 0
  for (const c of text) {
    if (c === '{') depth++
    else if (c === '}' && --depth < 0) return false
  }
  return depth === 0
}
function escape(value: string | number | undefined): string | undefined {
  if (value === undefined) return undefined
  const text = inOneLine(cleanText(String(value)))
  // braces count for BibTeX even behind a backslash: those that do not close one another are written by name
  const braces = balanced(text) ? special : { ...special, '{': '\\textbraceleft{}', '}': '\\textbraceright{}' }
  return text.replace(/[&%$#_{}~^\\]/g, c => braces[c]!)
}

const commands: Record<string, string> = { i: '\\emph', sup: '\\textsuperscript', sub: '\\textsubscript' }

/**
 * Escapes a title and puts braces round words that no style may lower: those with capitals inside, and in a title that is
 * written as a sentence every later word with a capital, which is a name. Its few marks become commands.
 */
function protect(title: string | undefined, language = ''): string | undefined {
  if (title === undefined) return undefined
  const open: string[] = []
  // nouns have theirs in German, wherever they stand
  const asSentence = /^de\b/i.test(language) || isSentence(title)
  let before = ''
  const parts = title.split(/(<\/?(?:i|sup|sub)>)/).map(part => {
    const [, close, mark] = /^<(\/?)(i|sup|sub)>$/.exec(part) ?? []
    if (!mark) {
      const kept = escape(part)!.replace(
        CAPITALS,
        (all: string, lead: string, word: string, at: number, of: string) => {
          // what stands close before tells whether a sentence begins here
          const near = (at < NEAR ? before.slice(-NEAR) : '') + of.slice(Math.max(0, at - NEAR), at) + lead
          const begins = !/[\p{L}\p{N}]/u.test(near) || BEGINS.test(near)
          return INSIDE.test(word) || (asSentence && !begins) ? `${lead}{${word}}` : all
        },
      )
      before += part
      return kept
    }
    if (!close) {
      open.push(mark)
      return `${commands[mark]}{`
    }
    if (open.at(-1) !== mark) return ''
    open.pop()
    return '}'
  })
  return parts.join('') + '}'.repeat(open.length)
}
const CAPITALS = /(^|[\s("“‘'-])([\p{L}\d]*\p{Lu}[\p{L}\d]*)(?=$|[\s,.:;)?!"”’'+-])/gu
const NEAR = 8
const BEGINS = /[:.?!–—]\s*["“‘'(]?$/u
const INSIDE = /[\p{L}\d]\p{Lu}/u
/** Whether a title is written as a sentence, not with a capital at each word: half of its later words or more have none. */
function isSentence(title: string): boolean {
  const later = title
    .split(/\s+/)
    .slice(1)
    .filter(w => w.length > 3 && /^["“‘'(]?\p{L}/u.test(w))
  return later.filter(w => /^["“‘'(]?\p{Ll}/u.test(w)).length * 2 >= later.length
}

/** An address, in which nothing ends its field. */
const address = (url: string | undefined): string | undefined =>
  url === undefined ? undefined : cleanText(url).replace(/[{}\\\s"<>^`|]/g, encodeURIComponent)
