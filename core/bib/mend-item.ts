import { withoutEnd } from './clean'
import { Ajv, type ValidateFunction } from 'ajv'
import { CSL_ITEM, DATES, NAME_MARKS, NAME_PARTS, NAMES, NUMBERS, TEXTS } from './csl-data'
import { CSL_TYPES } from './csl-types'
import type { Item, ItemDate, Name } from './item'
import { readDate } from './dates'
import { fold } from './fold'
import { readName } from './names'
import { typeOfTerm } from './type-terms'

/** The schema takes a third of a second to compile: only where an item is read at all. */
let compiled: ValidateFunction | undefined
function schema(): ValidateFunction {
  compiled ??= new Ajv({ allErrors: false, allowUnionTypes: true, strict: false }).compile(CSL_ITEM)
  return compiled
}
/** Whether it has the shapes that the schema asks for. */
const fits = (item: Item): boolean => Boolean(schema()(item))

/** Letters of a field at most, but for an abstract and a note; what is longer is no title, name or number. */
const LONGEST_FIELD = 20_000
const LONGEST_TEXT = 200_000
const LONG = new Set(['abstract', 'note', 'annote'])

/**
 * Brings a value that should be an item of CSL-JSON into the shape that the language's schema asks for. What has
 * another shape is read as what it must mean, or left out, and each such thing is said.
 * @param id for an item without one
 * @returns the item, or why it is none
 * @example mendItem({ type: 'book', title: ['A'], author: 'Okafor, Ada', issued: 2001 }, 'x').item
 * // { id: 'x', type: 'book', title: 'A', author: [{ family: 'Okafor', given: 'Ada' }], issued: { 'date-parts':
 * [[2001]] } }
 */
export function mendItem(value: unknown, id: string): { item: Item; mended: string[] } | { why: string } {
  if (!isObject(value)) return { why: 'An object was expected.' }
  const mended: string[] = []
  const say = (said: string) => void mended.push(said)
  // with a title it is something, whatever it is called
  const isSomething = !isEmpty(value.title) || !isEmpty(value.author)
  if (typeof value.type !== 'string' && !isSomething) return { why: 'It has no type.' }
  if (typeof value.type === 'string' && !CSL_TYPES.has(value.type) && !isSomething)
    return { why: `“${value.type.slice(0, 60)}” is not a type of CSL.` }
  const called = typeof value.type === 'string' ? value.type : undefined
  const type = called && CSL_TYPES.has(called) ? called : (typeOfTerm(called?.replace(/[-_]/g, ' ')) ?? 'document')
  const taken = `it was taken for ${/^[aeiou]/.test(type) ? 'an' : 'a'} ${type.replace(/[-_]/g, ' ')}`
  if (called === undefined) say(`It has no type; ${taken}.`)
  else if (type !== called) say(`“${called.slice(0, 60)}” is not a type of CSL; ${taken}.`)
  const given = asText(value.id)
  if (given === undefined) say('The item had no id.')
  const item: Item = { id: given ?? id, type }
  const put = (field: string, now: unknown, before: unknown) => {
    if (now === undefined) {
      if (!isEmpty(before)) say(`The field “${field}” has a shape that cannot be read and is kept in the source only.`)
      return
    }
    item[field] = now
    if (JSON.stringify(now) !== JSON.stringify(before)) say(`The field “${field}” was brought into its usual shape.`)
  }
  for (const [field, v] of Object.entries(byTheirNames(value, say))) {
    if (field === 'id' || field === 'type' || v === undefined || v === null) continue
    if (TEXT_FIELDS.has(field)) put(field, fitting(field, oneText(v)), v)
    else if (NUMBER_FIELDS.has(field))
      put(field, fitting(field, typeof v === 'number' && Number.isFinite(v) ? v : oneText(v)), v)
    else if (NAME_FIELDS.has(field)) put(field, namesOf(v), v)
    else if (DATE_FIELDS.has(field)) put(field, dateOf(v), v)
    else if (field === 'categories') put(field, Array.isArray(v) ? v.flatMap(x => asText(x) ?? []) : undefined, v)
    else if (field === 'custom') put(field, isObject(v) ? v : undefined, v)
    else say(`The field “${field.slice(0, 60)}” is kept in the source only.`)
  }
  if (fits(item)) return { item, mended }
  const error = schema().errors?.[0]
  return { why: `It is no item of CSL-JSON: ${error?.instancePath ?? ''} ${error?.message ?? ''}`.trim() }
}

const TEXT_FIELDS = new Set(TEXTS)
const NUMBER_FIELDS = new Set(NUMBERS)
const NAME_FIELDS = new Set(NAMES)
const DATE_FIELDS = new Set(DATES)

const isObject = (v: unknown): v is Record<string, unknown> => typeof v === 'object' && v !== null && !Array.isArray(v)
const isEmpty = (v: unknown): boolean =>
  v === undefined ||
  v === null ||
  v === '' ||
  (Array.isArray(v) ? v.every(isEmpty) : isObject(v) && Object.values(v).every(isEmpty))
/** Names that registries have for fields of CSL; the first that says something counts. */
const CALLED: Record<string, readonly string[]> = {
  issued: ['published', 'published-print', 'published-online', 'posted', 'approved'],
  'publisher-place': ['publisher-location'],
  'container-title-short': ['short-container-title'],
  'title-short': ['short-title'],
  number: ['article-number'],
}
/** A field of CSL takes what stands under another name, where it says nothing itself; a subtitle follows its title. */
function byTheirNames(given: Record<string, unknown>, say: (said: string) => void): Record<string, unknown> {
  const out = { ...given }
  for (const [field, names] of Object.entries(CALLED)) {
    const says = (v: unknown) => !isEmpty(v) && (!DATE_FIELDS.has(field) || dateOf(v) !== undefined)
    const from = says(given[field]) ? undefined : names.find(n => says(given[n]))
    if (!from) continue
    out[field] = given[from]
    say(`The field “${from}” was taken for “${field}”.`)
  }
  for (const name of Object.values(CALLED).flat()) delete out[name]
  const [title, subtitle] = [oneText(given.title), oneText(given.subtitle)?.trim()]
  if (title && subtitle && !fold(title).includes(fold(subtitle))) {
    out.title = `${withoutEnd(title, /[\s:]/)}: ${subtitle}`
    say('The subtitle was put behind the title.')
  }
  delete out.subtitle
  return out
}

const asText = (v: unknown): string | undefined =>
  typeof v === 'string' ? v : typeof v === 'number' && Number.isFinite(v) ? String(v) : undefined
/** A text, or the first of a list of them. */
const oneText = (v: unknown): string | undefined =>
  Array.isArray(v)
    ? v.map(oneText).find(t => t !== undefined && t !== '')
    : asText(isObject(v) && asText(v.name) ? v.name : v)
const fitting = <T>(field: string, v: T): T | undefined =>
  typeof v === 'string' && v.length > (LONG.has(field) ? LONGEST_TEXT : LONGEST_FIELD) ? undefined : v

function namesOf(v: unknown): Name[] | undefined {
  const names = (Array.isArray(v) ? (v as unknown[]) : [v]).flatMap((n): Name[] => {
    const name = nameOf(n)
    return name ? [name] : []
  })
  return names.length ? names : undefined
}

function nameOf(v: unknown): Name | undefined {
  const text = asText(v)?.trim()
  if (text !== undefined) return text.length <= LONGEST_FIELD ? named(readName(text)) : undefined
  if (!isObject(v)) return undefined
  const name: Name = {}
  for (const part of NAME_PARTS) {
    const t = oneText(v[part])
    if (t !== undefined && t !== '' && t.length <= LONGEST_FIELD) name[part] = t
  }
  for (const mark of NAME_MARKS) if (['string', 'number', 'boolean'].includes(typeof v[mark])) name[mark] = v[mark]
  // registries give bodies by a name alone
  const body = oneText(v.name)
  if (!name.family && !name.given && !name.literal && body) name.literal = body
  return named(name)
}

const named = (name: Name): Name | undefined => (name.family || name.given || name.literal ? name : undefined)

function dateOf(v: unknown): ItemDate | undefined {
  if (typeof v === 'number') return dateOf([v])
  if (typeof v === 'string') return readDate(v)
  if (Array.isArray(v)) return dateOf({ 'date-parts': Array.isArray(v[0]) ? v : [v] })
  if (!isObject(v)) return undefined
  const date: ItemDate = {}
  const parts = Array.isArray(v['date-parts']) ? v['date-parts'] : []
  const read = (parts.some(Array.isArray) ? parts : [parts])
    .slice(0, 2)
    .map(p => (Array.isArray(p) ? wholeParts(p) : []))
    .filter(p => p.length)
  if (read.length) date['date-parts'] = read
  for (const key of ['raw', 'literal', 'edtf']) {
    const t = asText(v[key])
    if (t) date[key] = t
  }
  const season = asText(v.season)
  if (season !== undefined) date.season = typeof v.season === 'number' ? v.season : season
  if (['string', 'number', 'boolean'].includes(typeof v.circa)) date.circa = v.circa as boolean
  return date['date-parts'] || date.raw || date.literal || date.edtf ? date : undefined
}

/** Year, month and day as far as they are numbers. */
function wholeParts(parts: readonly unknown[]): (number | string)[] {
  const out: (number | string)[] = []
  for (const p of parts.slice(0, 3)) {
    const t = asText(p)
    if (t === undefined || !/^-?\d{1,6}$/.test(t.trim())) break
    out.push(p as number | string)
  }
  return out
}

/**
 * An item that was read from another format, in the shapes that CSL-JSON has: as it is where it fits already.
 * @throws where it is no item at all
 */
export function fitItem(item: Item): { item: Item; mended: string[] } {
  if (fits(item)) return { item, mended: [] }
  const mended = mendItem(item, item.id)
  if ('why' in mended) throw new Error(mended.why)
  return mended
}
