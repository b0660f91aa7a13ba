import { plugins } from '@citation-js/core'
import '@citation-js/plugin-ris'
import { cleanText, partsAt } from '../bib/clean'
import { inOneLine } from '../bib/fold'
import type { Item, Name } from '../bib/item'
import { excerptOf, finish } from './entry'
import type { ReadEntry, RefusedEntry } from './read-file'

const tagLine = /^[ \t]*([A-Z][A-Z0-9]) {0,3}-(?: (.*)|)$/
/** The same where a file writes its tags in small letters throughout. */
const smallTagLine = /^[ \t]*([A-Za-z][A-Za-z0-9]) {0,3}-(?: (.*)|)$/

/** Tags that many programs write in place of the usual ones. */
const sameAs: Record<string, string> = {
  A1: 'AU',
  ED: 'A2',
  T1: 'TI',
  CT: 'TI',
  BT: 'T2',
  JF: 'T2',
  JO: 'T2',
  JA: 'T2',
  J1: 'T2',
  J2: 'T2',
  Y1: 'PY',
  N2: 'AB',
  L1: 'UR',
  L2: 'UR',
  LK: 'UR',
  PP: 'CY',
}
const many = new Set(['AU', 'A2', 'A3', 'A4', 'KW', 'UR', 'N1', 'SN'])
const read = new Set(
  'TY AU A2 A3 A4 AB CN CY DA DO DB DP ET ID IS KW LA M1 M3 N1 OP PB PY SE SN SP EP ST T2 T3 TA TI TT UR VL Y2 ER C1'.split(
    ' ',
  ),
)

/** The types of the specification of 2012 and of those before it. */
const TYPES = new Set(
  (
    'ABST ADVS AGGR ANCIENT ART BILL BLOG BOOK CASE CHAP CHART CLSWK COMP CONF CPAPER CTLG DATA DBASE DICT EBOOK ECHAP EDBOOK EJOUR ' +
    'ELEC ENCYC EQUA FIGURE GEN GOVDOC GRANT HEAR ICOMM INPR JFULL JOUR LEGAL MANSCPT MAP MGZN MPCT MULTI MUSIC NEWS PAMP PAT PCOMM ' +
    'RPRT SER SLIDE SOUND STAND STAT THES UNBILL UNPB VIDEO WEB'
  ).split(' '),
)

interface Block {
  line: number
  raw: string
  tags: { tag: string; value: string }[]
  mended: string[]
}

/** Reads RIS record by record; tags are brought to their usual names, repeated and unknown ones are said. */
export function readRis(text: string): { entries: ReadEntry[]; refused: RefusedEntry[] } {
  const entries: ReadEntry[] = []
  const refused: RefusedEntry[] = []
  for (const b of cutRecords(text, refused)) {
    try {
      const mended = b.mended
      const source = normalise(b, mended)
      const item = (plugins.input.chain(source, { forceType: '@ris/file', generateGraph: false }) as Item[])[0]
      if (!item) throw new Error('The record has no fields.')
      const plain = JSON.parse(JSON.stringify(item)) as Item
      plain.id ??= `ris-${b.line}`
      mendFields(plain, b)
      if (!plain.title && !plain.author) throw new Error('It has neither a title nor an author.')
      const done = finish(plain, mended)
      entries.push({ ...done, raw: b.raw, line: b.line, mended })
    } catch (e) {
      refused.push({
        line: b.line,
        why: e instanceof Error ? e.message.split('\n')[0]! : String(e),
        excerpt: excerptOf(b.raw),
      })
    }
  }
  return { entries, refused }
}

function cutRecords(text: string, refused: RefusedEntry[]): Block[] {
  const blocks: Block[] = []
  let open: Block | undefined
  let stray = 0
  let raw: string[] = []
  const close = (missingEnd: boolean) => {
    if (!open) return
    if (missingEnd) open.mended.push('The end of the record (ER) was missing.')
    blocks.push({ ...open, raw: raw.join('\n').trimEnd() })
    open = undefined
  }
  const isSmall = !/^[ \t]*TY {0,3}-/m.test(text)
  text.split(/\r\n|\n|\r/).forEach((l, i) => {
    const m = (isSmall ? smallTagLine : tagLine).exec(l)
    if (m) m[1] = m[1]!.toUpperCase()
    if (m?.[1] === 'TY') {
      close(true)
      open = { line: i + 1, raw: '', tags: [], mended: [] }
      raw = []
    }
    if (!open) {
      if (l.trim() && stray === 0) {
        stray = i + 1
        refused.push({ line: i + 1, why: 'This stands outside of any record (TY … ER).', excerpt: excerptOf(l) })
      }
      return
    }
    raw.push(l)
    if (m?.[1] === 'ER') {
      close(false)
      stray = 0
    } else if (m) open.tags.push({ tag: m[1]!, value: (m[2] ?? '').trim() })
    else if (l.trim()) {
      const last = open.tags.at(-1)
      if (last) last.value = `${last.value} ${l.trim()}`.trim()
    }
  })
  close(true)
  return blocks
}

function normalise(b: Block, mended: string[]): string {
  const kept: { tag: string; value: string }[] = []
  const has = (tag: string) => b.tags.some(t => t.tag === tag && t.value)
  for (const { tag, value } of b.tags) {
    if (!value) continue
    const usual =
      sameAs[tag] && !(sameAs[tag] !== 'AU' && sameAs[tag] !== 'UR' && has(sameAs[tag]!)) ? sameAs[tag]! : tag
    if (sameAs[tag] && usual === tag) continue
    if (!read.has(usual)) {
      mended.push(`The tag "${tag}" is kept in the source only.`)
      continue
    }
    if (!many.has(usual) && kept.some(k => k.tag === usual)) {
      if (!sameAs[tag]) mended.push(`The tag "${tag}" is repeated; the first one counts.`)
      continue
    }
    if (usual === 'TY') {
      const type = value.toUpperCase()
      if (!TYPES.has(type)) mended.push(`“${value}” is not a type of RIS; it was read as something general.`)
      kept.unshift({ tag: 'TY', value: TYPES.has(type) ? type : 'GEN' })
    } else kept.push({ tag: usual, value })
  }
  return [...kept, { tag: 'ER', value: '' }].map(t => `${t.tag}  - ${t.value}`).join('\n')
}

/** Fields that the parser passes over although RIS has them. */
function mendFields(item: Item, b: Block): void {
  const value = (tag: string) => b.tags.find(t => t.tag === tag && t.value)?.value
  const names = (is: (tag: string) => boolean): Name[] =>
    b.tags
      .filter(t => is(t.tag) && t.value)
      .map(({ value: name }) => {
        const [family, given, suffix] = partsAt(name, ',')
        return given ? { family: family!, given, ...(suffix ? { suffix } : {}) } : { literal: name }
      })
  const editors = names(tag => tag === 'ED' || (tag === 'A2' && item.type !== 'book'))
  if (editors.length && !item.editor) item.editor = editors
  // of some types, newspapers among them
  const writers = names(tag => tag === 'AU' || tag === 'A1')
  if (writers.length && !item.author) item.author = writers
  if (item.type.startsWith('article') || item.type === 'paper-conference') {
    const [volume, issue] = [value('VL'), value('IS')]
    if (volume && item.volume === undefined) item.volume = volume
    if (issue && item.issue === undefined) item.issue = issue
  }
  const sn = value('SN')
  if (sn && !item.ISSN && !item.ISBN) item[/^\d{4}-?\d{3}[\dXx]\b/.test(sn) ? 'ISSN' : 'ISBN'] = sn
  const url = b.tags.find(t => /^(UR|L1|L2|LK)$/.test(t.tag) && t.value)?.value
  if (url && !item.URL) item.URL = url
  const container = ['T2', 'JF', 'JO', 'BT', 'JA'].map(value).find(Boolean)
  if (container && item.type === 'paper-conference') {
    item['container-title'] = container
    delete item['event-title']
    delete item['event-date']
  }
  const publisher = value('PB')
  if (publisher && !item.publisher) item.publisher = publisher
  const date = (value('DA') ?? value('PY') ?? value('Y1') ?? '').split('/').slice(0, 3).map(Number)
  const parts = date.slice(0, date.findIndex(n => !n) < 0 ? 3 : date.findIndex(n => !n))
  if (parts.length > (item.issued?.['date-parts']?.[0]?.length ?? 0)) item.issued = { 'date-parts': [parts] }
  const first = value('SP')
  const last = value('EP')
  if (first) delete item['number-of-pages']
  if (first) item.page = last && last !== first && !first.includes('-') ? `${first}-${last}` : first
  const language = value('LA')
  if (language && !item.language) item.language = language
  const edition = value('ET')
  if (edition && !item.edition) item.edition = edition
  const place = value('CY') ?? value('PP')
  if (place && !item['publisher-place']) item['publisher-place'] = place
  delete item['event-place']
  // bodies have no comma in RIS
  const authors = b.tags.filter(t => t.tag === 'AU' || t.tag === 'A1').map(t => t.value)
  item.author?.forEach((n, i) => {
    if (n.family && !n.given && authors[i] === n.family && /\s/.test(n.family)) item.author![i] = { literal: n.family }
  })
}

const risTypes: Record<string, string> = {
  'article-journal': 'JOUR',
  'article-magazine': 'MGZN',
  'article-newspaper': 'NEWS',
  book: 'BOOK',
  chapter: 'CHAP',
  'paper-conference': 'CONF',
  thesis: 'THES',
  report: 'RPRT',
  dataset: 'DATA',
  webpage: 'ELEC',
  motion_picture: 'VIDEO',
  song: 'SOUND',
  article: 'UNPB',
  'review-book': 'JOUR',
}

/** One item as a RIS record. What RIS has no tag for is left out; see `losses`. */
export function writeRis(item: Item, key: string): string {
  const parts = item.issued?.['date-parts']?.[0]?.map(String)
  const [first, last] = partsAt(String(item.page ?? ''), /[-–]+/)
  const name = (n: NonNullable<Item['author']>[number]) => {
    if (n.literal) return n.literal
    const family = [n['dropping-particle'], n['non-dropping-particle'], n.family].filter(Boolean).join(' ')
    return [family, n.given, n.suffix].filter(Boolean).join(', ')
  }
  const tags: [string, unknown][] = [
    ['ID', key],
    ...(item.author ?? []).map((n): [string, string] => ['AU', name(n)]),
    ...(item.editor ?? []).map((n): [string, string] => ['ED', name(n)]),
    ['TI', item.title],
    ['T2', item['container-title']],
    ['T3', item['collection-title']],
    ['PY', parts?.[0] ?? item.issued?.literal ?? item.issued?.raw],
    [
      'DA',
      parts && parts.length > 1
        ? [parts[0], parts[1]!.padStart(2, '0'), parts[2]?.padStart(2, '0') ?? ''].join('/') + '/'
        : undefined,
    ],
    ['VL', item.volume],
    ['IS', item.issue],
    ['SP', first],
    ['EP', last],
    ['ET', item.edition],
    ['PB', item.publisher],
    ['CY', item['publisher-place']],
    ['SN', item.ISSN ?? item.ISBN],
    ['DO', item.DOI],
    ['UR', item.URL],
    ['LA', item.language],
    ...partsAt(String(item.keyword ?? ''), /[,;]/).map((k): [string, string] => ['KW', k]),
    ['AB', item.abstract],
    ['N1', item.note],
  ]
  const lines = tags
    .filter(([, v]) => v !== undefined && v !== '')
    .map(([t, v]) => `${t}  - ${inOneLine(cleanText(String(v)))}`)
  return [`TY  - ${risTypes[item.type] ?? 'GEN'}`, ...lines, 'ER  - '].join('\r\n') + '\r\n'
}
