import { plainTitle } from '../bib/clean'
import { yearOf } from '../bib/dates'
import type { ReadRecord } from '../bib/item'
import { languageOf } from '../bib/languages'
import { authorLine } from '../bib/names'
import type { Query, QueryNode } from './cql'
import { evaluate, NotUnderstood, type Searchable } from './evaluate'
import { IndexBuilder } from './positional-index'

/** The fields of a record by our names of indexes; one that it does not fill is not there. */
function fieldsOf({ item, facts }: ReadRecord): Record<string, string[]> {
  const names = [...(item.author ?? []), ...(item.editor ?? [])]
  const of: Record<string, (string | undefined)[]> = {
    title: [plainTitle(item.title, ''), ...(facts.otherTitles ?? [])],
    author: names.flatMap(n => [authorLine([n]), [n.family ?? n.literal, n.given].filter(Boolean).join(', ')]),
    abstract: [item.abstract],
    subject: facts.subjects ?? [],
    keyword: facts.keywords ?? [],
    journal: [item['container-title']],
    type: [facts.genre, item.type.replaceAll('-', ' ')],
    doi: [item.DOI],
    isbn: [item.ISBN],
    issn: [item.ISSN],
  }
  const language = languageOf(item, facts)
  if (language) of.language = [language]
  return Object.fromEntries(
    Object.entries(of).flatMap(([name, values]) => {
      const said = values.filter((v): v is string => Boolean(v))
      return said.length ? [[name, said]] : []
    }),
  )
}

const FIELDS = 'title author abstract subject keyword journal type doi isbn issn language'.split(' ')

/**
 * The places of those records that answer a query, as a catalogue of them alone would answer it.
 * @throws NotUnderstood where the query asks for what cannot be asked here
 */
export function answering(query: Query, records: readonly ReadRecord[]): Uint32Array {
  const builder = new IndexBuilder()
  for (const record of records) builder.add(fieldsOf(record))
  return evaluate(query, {
    index: builder.freeze(),
    names: { ...Object.fromEntries(FIELDS.map(f => [f, [f]])), '': FIELDS },
    numbers: { year: Float64Array.from(records, r => yearOf(r.item) ?? NaN) },
  })
}

/**
 * Whether a record answers a query, by its own fields; undefined where it does not fill a field that would tell: a record
 * without a year is neither within some years nor outside them.
 */
export function holds(node: QueryNode, record: ReadRecord): boolean | undefined {
  const fields = fieldsOf(record)
  const builder = new IndexBuilder()
  builder.add(fields)
  const year = yearOf(record.item)
  const names = Object.fromEntries(Object.keys(fields).map(f => [f, [f]]))
  const on: Searchable = {
    index: builder.freeze(),
    names: { ...names, '': Object.keys(fields) },
    numbers: { year: Float64Array.of(year ?? NaN) },
  }
  return told(node, on)
}

function told(n: QueryNode, on: Searchable): boolean | undefined {
  if (n.kind === 'boolean' && n.op !== 'prox') {
    const left = told(n.left, on)
    const right = told(n.right, on)
    if (n.op === 'and') return left === false || right === false ? false : left && right
    if (n.op === 'or') return left === true || right === true ? true : left === false ? right : left
    return left === false || right === true ? false : left === undefined || right === undefined ? undefined : true
  }
  const index = n.kind === 'clause' ? n.index?.toLowerCase() : undefined
  if (index === 'year' && Number.isNaN(on.numbers!.year![0])) return undefined
  try {
    // words found nowhere may stand in what the record does not give: its abstract, its text
    return evaluate({ root: n }, on).length > 0 || (index && index !== 'abstract' ? false : undefined)
  } catch (e) {
    if (e instanceof NotUnderstood) return undefined
    throw e
  }
}
