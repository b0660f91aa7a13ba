import { SaxesParser } from 'saxes'
import { foldTitle } from '../bib/fold'

const CSL = 'http://purl.org/net/xbiblio/csl'

/** How a style cites in a text (CSL's `citation-format`). */
export const STYLE_MANNERS = ['author-date', 'numeric', 'note', 'author', 'label'] as const
export type StyleManner = (typeof STYLE_MANNERS)[number]

/** What a file of a citation style says of itself (CSL 1.0, `info`). */
export interface StyleInfo {
  name: string
  /** A shorter name that it is known by. */
  short?: string
  /** The style as which it prints, by the name of that style's file. */
  parent?: string
  manner?: StyleManner
  fields: string[]
  /** The language that it is written for, where it names one. */
  language?: string
  /** ISO date of its last change. */
  updated?: string
}

/** What is said where a file is no style that can be used. */
export class NotAStyle extends Error {}

/** Macros that are set in all, each as often as it is used. The largest style that is installed has 1,329. */
const MOST_PARTS = 100_000
/** Letters that are read at a time: a style says what it is at its beginning. */
const STEP = 4000
/** Elements within elements. No style is deeper. */
const DEEPEST = 200

/**
 * Reads what a style says of itself, and no further than it does.
 * @throws NotAStyle where that is not the XML of a style
 */
export const readStyleInfo = (xml: string): StyleInfo => read(xml, false).info

/**
 * Reads a style to its end, as one that somebody brings has to be.
 * @throws NotAStyle where it cannot be used, with why
 */
export function checkStyle(xml: string): StyleInfo {
  const { info, hasCitation, macros } = read(xml, true)
  if (!info.parent && !hasCitation) throw new NotAStyle('It does not say how a work is cited.')
  if (partsOf(macros) > MOST_PARTS) throw new NotAStyle('It is made of too many parts within parts.')
  return info
}

/**
 * A style as it is, but for the order that it sorts its list in: it prints in the order of what it is given.
 * @throws NotAStyle where its XML is broken
 */
export function withoutOrder(xml: string): string {
  const parser = new SaxesParser({ xmlns: true })
  const open: string[] = []
  const cuts: { from: number; to: number }[] = []
  const isOrder = () => open.join(' ') === 'style bibliography sort'
  parser.on('error', e => {
    throw new NotAStyle(`Its XML is broken: ${e.message}`)
  })
  parser.on('opentag', tag => {
    open.push(tag.local)
    // no attribute has this letter unescaped (XML 1.0, 2.3), so that the last one begins this tag
    if (isOrder()) cuts.push({ from: xml.lastIndexOf('<', parser.position - 1), to: parser.position })
  })
  parser.on('closetag', () => {
    if (isOrder()) cuts.at(-1)!.to = parser.position
    open.pop()
  })
  parser.write(xml).close()
  return cuts.reduceRight((text, { from, to }) => text.slice(0, from) + text.slice(to), xml)
}

function read(xml: string, whole: boolean) {
  const info: Partial<StyleInfo> & { fields: string[] } = { fields: [] }
  /** Macros that each macro uses, as often as it does; those of the layouts under no name. */
  const macros = new Map<string, string[]>([['', []]])
  const open: string[] = []
  let done = false
  let hasCitation = false
  let text = ''
  let macro = ''
  const parser = new SaxesParser({ xmlns: true })
  parser.on('error', e => {
    throw new NotAStyle(`Its XML is broken: ${e.message}`)
  })
  parser.on('doctype', said => {
    if (/<!ENTITY/i.test(said)) throw new NotAStyle('It declares entities of its own, which are not expanded.')
  })
  parser.on('opentag', tag => {
    const attribute = (name: string) => tag.attributes[name]?.value.trim() || undefined
    if (!open.length && (tag.local !== 'style' || tag.uri !== CSL))
      throw new NotAStyle('It is no citation style (CSL 1.0): it does not begin with one.')
    if (open.length > DEEPEST) throw new NotAStyle('It goes deeper than any style does.')
    open.push(tag.local)
    text = ''
    const path = open.join(' ')
    if (path === 'style') {
      if (!/^1\.0(\D|$)/.test(attribute('version') ?? '')) throw new NotAStyle('It is not of version 1.0 of CSL.')
      const language = attribute('default-locale')
      if (language) info.language = language
      if (attribute('class') === 'note') info.manner = 'note'
    } else if (path === 'style info link' && attribute('rel') === 'independent-parent') {
      const parent = attribute('href')?.split('/').at(-1)
      if (parent) info.parent = parent
    } else if (path === 'style info category') {
      const manner = STYLE_MANNERS.find(m => m === attribute('citation-format'))
      if (manner) info.manner = manner
      const field = attribute('field')
      if (field) info.fields.push(field)
    } else if (path === 'style macro') {
      macro = attribute('name') ?? ''
      if (!macros.has(macro)) macros.set(macro, [])
    }
    if (path === 'style citation layout') hasCitation = true
    const used = tag.local === 'text' || tag.local === 'key' ? attribute('macro') : undefined
    if (used) macros.get(macro)!.push(used)
  })
  parser.on('text', part => {
    text += part
  })
  parser.on('cdata', part => {
    text += part
  })
  parser.on('closetag', () => {
    const path = open.join(' ')
    open.pop()
    const said = text.replace(/\s+/g, ' ').trim()
    text = ''
    if (path === 'style info title') info.name = said
    else if (path === 'style info title-short' && said) info.short = said
    else if (path === 'style info updated' && /^\d{4}-\d\d-\d\d/.test(said)) info.updated = said.slice(0, 10)
    else if (path === 'style info') done = true
    else if (path === 'style macro') macro = ''
  })
  for (let at = 0; at < xml.length && (whole || !done); at += STEP) parser.write(xml.slice(at, at + STEP))
  if (whole || !done) parser.close()
  const { name } = info
  if (!name) throw new NotAStyle('It has no title.')
  return { info: { ...info, name }, hasCitation, macros }
}

/**
 * How many parts a style sets, those within parts counted as often as they are used.
 * @throws NotAStyle where one is made of itself, by whatever way round
 */
function partsOf(macros: ReadonlyMap<string, readonly string[]>): number {
  const sizes = new Map<string, number>()
  const under = new Set<string>()
  const steps = [{ name: '', isLeft: false }, ...[...macros.keys()].map(name => ({ name, isLeft: false }))]
  while (steps.length) {
    const { name, isLeft } = steps.pop()!
    const uses = macros.get(name) ?? []
    if (isLeft) {
      under.delete(name)
      sizes.set(
        name,
        uses.reduce((n, u) => n + (sizes.get(u) ?? 0), 1),
      )
    } else if (under.has(name)) throw new NotAStyle(`Its part “${name}” is made of itself.`)
    else if (!sizes.has(name)) {
      under.add(name)
      steps.push({ name, isLeft: true }, ...uses.map(use => ({ name: use, isLeft: false })))
    }
  }
  return sizes.get('') ?? 0
}

/** A style among others. */
export interface NamedStyle extends StyleInfo {
  id: string
  /** The words by which it is found, folded. */
  words: string
}
export const named = (id: string, info: StyleInfo): NamedStyle => ({
  ...info,
  id,
  words: ` ${foldTitle([info.name, info.short, id, ...info.fields, info.language].join(' '))}`,
})

const EDITION = /\b(\d{1,2})(?:st|nd|rd|th) edition\b/i
const editionOf = (s: NamedStyle): number => Number(EDITION.exec(s.name)?.[1] ?? 0)
const withoutEdition = (name: string): string => foldTitle(name.replace(EDITION, ''))

/** The style of which one is an older edition, by their names; the newest there is. */
export function newerEdition(style: NamedStyle, all: readonly NamedStyle[]): NamedStyle | undefined {
  const own = editionOf(style)
  if (!own) return undefined
  const base = withoutEdition(style.name)
  return all
    .filter(s => editionOf(s) > own && withoutEdition(s.name) === base)
    .toSorted((a, b) => editionOf(b) - editionOf(a))[0]
}

/**
 * The styles that have words that begin so in their names, fields or language: those named so exactly first, then those
 * whose names begin so, then styles that stand for themselves, newer editions, and by name; those that a newer one stands for last.
 */
export function findStyles<T extends NamedStyle>(all: readonly T[], words: string): T[] {
  const wanted = foldTitle(words).split(' ').filter(Boolean)
  if (!wanted.length) return []
  const found = all.filter(s => wanted.every(w => s.words.includes(` ${w}`)))
  const first = wanted.join(' ')
  const rank = (s: T): number => {
    const names = [s.name, s.short ?? '', s.id].map(foldTitle)
    const how = names.includes(first) ? 0 : names.some(n => n.startsWith(first)) ? 2 : 4
    return how + (s.parent ? 1 : 0)
  }
  const editions = found.filter(s => editionOf(s))
  return found
    .map(s => ({ s, rank: rank(s) + (newerEdition(s, editions) ? 8 : 0) }))
    .toSorted((a, b) => a.rank - b.rank || editionOf(b.s) - editionOf(a.s) || a.s.name.localeCompare(b.s.name))
    .map(({ s }) => s)
}
