import { Parser } from 'htmlparser2'
import { cleanText, firstLetters } from '../bib/clean'
import { normaliseDoi } from '../bib/identifiers'
import { readFragment, type PageBox } from '../pdftext/anchor'

/** An annotation as it can become a passage. */
export interface BroughtAnnotation {
  /** Tells it from others: its own address, or its place in the file. */
  key: string
  /** What it is of: the address of the document, and that of another document where it is the same. */
  source: string
  doi: string | undefined
  exact: string
  prefix: string
  suffix: string
  /** The page it names, from 1. */
  page: number | undefined
  boxes: PageBox[]
  note: string
  /** What it was put under. */
  classes: string[]
  tags: string[]
  /** It says something of the words, rather than marking them. */
  isComment: boolean
}
export interface BroughtAnnotations {
  annotations: BroughtAnnotation[]
  /** What in the file is no annotation that can be read, by its place from 1, and why. */
  unread: { n: number; why: string }[]
  /** Annotations beyond those that are read. */
  left: number
}

/** Annotations of a file that are read. */
export const MOST_ANNOTATIONS = 2000
/** Letters of words that are quoted, and of a note. */
const LONGEST = 16_000
const LONGEST_TAG = 60
const MOST_TAGS = 20
const MOST_BOXES = 200

type Thing = Record<string, unknown>
const isThing = (v: unknown): v is Thing => typeof v === 'object' && v !== null && !Array.isArray(v)
/** One or several are written alike. */
const all = (v: unknown): unknown[] => (Array.isArray(v) ? v : v === undefined || v === null ? [] : [v])
const text = (v: unknown): string => (typeof v === 'string' ? cleanText(v) : isThing(v) ? text(v['@value']) : '')
const idOf = (v: unknown): string => (isThing(v) ? text(v.id ?? v['@id']) : text(v))
const isOf = (v: Thing, type: string): boolean =>
  all(v.type ?? v['@type']).some(t => text(t).replace(/^oa:/, '') === type)

/**
 * Reads annotations (W3C Web Annotation Data Model, in JSON-LD): one, several, a page or a collection of them, in the
 * terms of the standard's own context.
 * @throws Error in words where the file is none of these
 */
export function readAnnotations(file: string): BroughtAnnotations {
  let whole: unknown
  try {
    whole = JSON.parse(file.replace(/^\ufeff/, ''))
  } catch {
    throw new Error('The file is no JSON: annotations come as JSON-LD.')
  }
  const list = listIn(whole)
  if (!list) throw new Error('The file has no annotations: it is JSON of another kind.')
  const out: BroughtAnnotations = { annotations: [], unread: [], left: Math.max(0, list.length - MOST_ANNOTATIONS) }
  for (const [i, one] of list.slice(0, MOST_ANNOTATIONS).entries()) {
    const read = isThing(one) ? ofAnnotation(one, i + 1) : 'it is no object'
    if (typeof read === 'string') out.unread.push({ n: i + 1, why: read })
    else out.annotations.push(...read)
  }
  return out
}

function listIn(whole: unknown): unknown[] | undefined {
  if (Array.isArray(whole)) return whole.flatMap(w => (isThing(w) && !isOf(w, 'Annotation') ? (listIn(w) ?? [w]) : [w]))
  if (!isThing(whole)) return undefined
  if (isOf(whole, 'Annotation')) return [whole]
  if (isOf(whole, 'AnnotationPage')) return all(whole.items)
  // a collection holds its first page, or names where it is
  if (isOf(whole, 'AnnotationCollection')) return isThing(whole.first) ? all(whole.first.items) : undefined
  if (Array.isArray(whole['@graph'])) return whole['@graph'].filter(g => isThing(g) && isOf(g, 'Annotation'))
  return undefined
}

function ofAnnotation(a: Thing, n: number): BroughtAnnotation[] | string {
  const targets = all(a.target)
  if (!targets.length) return 'it says nothing of what it is of'
  const said = bodyOf(a)
  const motives = all(a.motivation).map(m => text(m).replace(/^oa:/, ''))
  const made = targets.flatMap((t, i): BroughtAnnotation[] => {
    // a place in a document may stand behind its address
    const [source = '', fragment = ''] = (isThing(t) ? idOf(t.source) || idOf(t) : text(t)).split('#')
    if (!source) return []
    const selectors = isThing(t) ? all(t.selector).flatMap(s => flat(s)) : []
    const quote = selectors.find(s => isOf(s, 'TextQuoteSelector'))
    const places = selectors.flatMap(s => (isOf(s, 'FragmentSelector') ? [readFragment(text(s.value))] : []))
    const boxes = places.flatMap(p => p.box ?? [])
    return [
      {
        key: `${idOf(a) || `at ${n}`}${i ? ` ${i}` : ''}`,
        source,
        doi: normaliseDoi(isThing(t) ? idOf(t['schema:sameAs'] ?? t.sameAs) || source : source),
        exact: firstLetters(text(quote?.exact).replace(/\s+/g, ' ').trim(), LONGEST),
        ...{ prefix: text(quote?.prefix), suffix: text(quote?.suffix) },
        ...{ page: places.find(p => p.page)?.page ?? readFragment(fragment).page, boxes: boxes.slice(0, MOST_BOXES) },
        ...said,
        isComment: motives.length > 0 && !motives.includes('highlighting'),
      },
    ]
  })
  if (!made.length) return 'its document has no address'
  return made.some(m => m.exact || m.boxes.length || m.note) ? made : 'it marks no words and says nothing'
}

/** A selector, with those that say it more nearly. */
function flat(s: unknown, depth = 0): Thing[] {
  if (!isThing(s) || depth > 5) return []
  return [s, ...all(s.refinedBy).flatMap(r => flat(r, depth + 1))]
}

/** The words of a piece of HTML, a line each paragraph. */
function wordsOfHtml(html: string): string {
  const parts: string[] = []
  const parser = new Parser({
    ontext: t => void parts.push(t),
    onopentagname: name => {
      if (['p', 'br', 'li', 'div'].includes(name) && parts.length) parts.push('\n')
    },
  })
  parser.end(html)
  return parts
    .join('')
    .replace(/[^\S\n]+/g, ' ')
    .replace(/ ?\n[ \n]*/g, '\n')
}

function bodyOf(a: Thing): Pick<BroughtAnnotation, 'note' | 'classes' | 'tags'> {
  const notes: string[] = []
  const classes: string[] = []
  const tags: string[] = []
  const add = (body: unknown, depth: number) => {
    if (depth > 5) return
    // a body may be an address alone
    if (typeof body === 'string') return void notes.push(cleanText(body))
    if (!isThing(body)) return
    const more = all(body.items ?? (isOf(body, 'Choice') ? body.item : undefined))
    // of a choice the first is meant, of a list all are
    if (more.length) return (isOf(body, 'Choice') ? more.slice(0, 1) : more).forEach(b => add(b, depth + 1))
    const purposes = all(body.purpose).map(p => text(p).replace(/^oa:/, ''))
    const value = text(body.value ?? body['rdf:value'] ?? body.chars)
    const plain = /html/i.test(text(body.format)) ? wordsOfHtml(value) : value
    const words = (plain || idOf(body.source)).trim()
    if (!words) return
    if (purposes.includes('tagging') || isOf(body, 'Tag'))
      tags.push(firstLetters(words.replace(/\s+/g, ' '), LONGEST_TAG))
    else if (purposes.includes('classifying')) classes.push(words)
    else notes.push(words)
  }
  for (const b of all(a.body)) add(b, 0)
  if (typeof a.bodyValue === 'string') notes.push(cleanText(a.bodyValue))
  return {
    note: firstLetters(notes.join('\n').trim(), LONGEST),
    classes,
    tags: [...new Set(tags.filter(Boolean))].slice(0, MOST_TAGS),
  }
}
