import CSL from 'citeproc'
import type { Item } from '../bib/item'
import { familyName } from '../bib/names'
import { plainText, readRichText, type RichRun } from './rich-text'
import { withoutOrder } from './style-info'

export interface StyleFiles {
  /** The style's XML. */
  style: string
  /** The locale's XML for a language tag such as "en-US". */
  locale(lang: string): string | undefined
  /** Items print in the order in which they are given, whatever the style sorts by: numbers and suffixes follow it. */
  inOrder?: boolean
  /** The language that is printed, whatever the style is written for. */
  language?: string | undefined
}

export interface FormattedEntry {
  id: string
  citation: RichRun[]
  inText: RichRun[]
  /** The number before the citation, in numbered styles. */
  label?: string
  /** The style has no form for it: its title stands there. */
  isPlain?: true
}

export interface Bibliography {
  entries: FormattedEntry[]
  hangingIndent: boolean
}

/**
 * Formats a whole list together by CSL: its order, year suffixes and numbers depend on all items.
 * Synchronous and heavy for long lists (some 4 ms an item): call it off the main thread.
 * @throws Error where the style or a locale cannot be read
 */
export const formatBibliography = (items: readonly Item[], files: StyleFiles): Bibliography =>
  formatParts([items], files)

/**
 * Formats a list in parts that are set each by itself, as under headings; numbers and year suffixes go over all of them.
 * @throws as formatBibliography
 */
export function formatParts(parts: readonly (readonly Item[])[], files: StyleFiles): Bibliography {
  try {
    return setTogether(parts, files)
  } catch (e) {
    // one item that the formatter cannot take does not cost the others their list
    const items = parts.flat()
    const fit = new Set(items.filter(i => canBeSet(i, files)))
    if (!fit.size || fit.size === items.length) throw e
    const made = setTogether(
      parts.map(p => p.filter(i => fit.has(i))),
      files,
    )
    const rest = items.filter(i => !fit.has(i)).map(plainly)
    return {
      ...made,
      entries: files.inOrder ? inOrderOf(items, [...made.entries, ...rest]) : [...made.entries, ...rest],
    }
  }
}

function inOrderOf(items: readonly Item[], entries: readonly FormattedEntry[]): FormattedEntry[] {
  const byId = new Map(entries.map(e => [e.id, e]))
  return items.map(i => byId.get(i.id)!)
}

function canBeSet(item: Item, files: StyleFiles): boolean {
  try {
    setTogether([[item]], files)
    return true
  } catch {
    return false
  }
}

/** What stands for an entry that cannot be set in the style. */
const plainly = (item: Item): FormattedEntry => ({
  id: item.id,
  citation: [{ text: item.title ?? 'Untitled' }],
  inText: [{ text: `(${item.title ?? 'untitled'})` }],
  isPlain: true,
})

/** What the formatter writes for what a style has no form for. */
const NO_FORM = 'CSL STYLE ERROR'

/** The formatter keeps items by name in plain objects: ids of ours cannot be names that these have already. */
const nameOf = (i: number): string => `item-${i}`

function engineOf(items: readonly Item[], files: StyleFiles): InstanceType<typeof CSL.Engine> {
  const byId = new Map(items.map((item, i) => [nameOf(i), { ...fitForCiting(item), id: nameOf(i) }]))
  const engine = new CSL.Engine(
    { retrieveLocale: l => files.locale(l) ?? files.locale('en-US') ?? '', retrieveItem: id => byId.get(id) },
    files.inOrder ? withoutOrder(files.style) : files.style,
    files.language ?? 'en-US',
    files.language !== undefined,
  )
  engine.updateItems([...byId.keys()])
  return engine
}

/** Places in items that are cited together: of each its page, or its pages with a dash. */
export interface Cite {
  of: readonly { id: string; page?: string }[]
  /** The authors of the first stand in the sentence, before the rest in brackets. */
  named?: boolean
}

/**
 * How places in items are cited in a text, as the list of all items has it (year suffixes, numbers); what is cited
 * together stands in the order of the style, and as short as the style has it. Synchronous and heavy as the list is.
 * @returns a text for each citation; where a style has no authors in the sentence, the item's own stand there
 * @throws Error where the style or a locale cannot be read
 */
export function citeInText(items: readonly Item[], cites: readonly Cite[], files: StyleFiles): RichRun[][] {
  const byId = new Map(items.map(i => [i.id, i]))
  const cite = (fit: readonly Item[]): RichRun[][] => {
    const engine = engineOf(fit, files)
    const names = new Map(fit.map((item, i) => [item.id, nameOf(i)]))
    return cites.map(({ of, named }) => {
      const places = of.flatMap(({ id, page }) => {
        const name = names.get(id)
        return name ? [{ id: name, ...(page ? { locator: page, label: 'page' } : {}) }] : []
      })
      const item = byId.get(of[0]?.id ?? '')
      if (!item || places.length < of.length)
        return [{ text: `(${of.map(({ id, page }) => plainPlace(byId.get(id), page)).join('; ')})` }]
      const cited = (how: { 'author-only'?: boolean; 'suppress-author'?: boolean }) => {
        const runs = readRichText(
          engine.makeCitationCluster(
            places.map(({ id, ...at }) => ({ id, ...how, ...(how['author-only'] ? {} : at) })),
          ),
        )
        return plainText(runs).includes(NO_FORM_ALONE) ? [] : runs
      }
      if (!named) return cited({})
      const authors = cited({ 'author-only': true })
      const rest = cited({ 'suppress-author': true })
      const space = rest[0]?.raised ? [] : [{ text: ' ' }]
      return [...(authors.length ? authors : [{ text: inSentence(item) }]), ...(rest.length ? [...space, ...rest] : [])]
    })
  }
  try {
    return cite(items)
  } catch (e) {
    const fit = items.filter(i => canBeSet(i, files))
    if (!fit.length || fit.length === items.length) throw e
    return cite(fit)
  }
}

/** A place in an item that the formatter cannot take. */
const plainPlace = (item: Item | undefined, page: string | undefined): string =>
  [item?.title ?? 'untitled', page && `p. ${page}`].filter(Boolean).join(', ')

/** What the formatter writes where a part of a citation has no form of its own. */
const NO_FORM_ALONE = '[NO_PRINTED_FORM]'

/** Who wrote an item, as a sentence names them. */
function inSentence({ author, editor, title }: Item): string {
  const [first, second, ...more] = (author ?? editor ?? []).map(familyName).filter(Boolean)
  if (!first) return title ?? 'Untitled'
  return more.length ? `${first} et al.` : second ? `${first} and ${second}` : first
}

function setTogether(parts: readonly (readonly Item[])[], files: StyleFiles): Bibliography {
  const items = parts.flat()
  const engine = engineOf(items, files)
  let hangingIndent = false
  let begin = 0
  const entries = parts.flatMap(part => {
    const names = part.map((_, i) => nameOf(begin + i))
    begin += part.length
    const made = part.length ? engine.makeBibliography(parts.length > 1 ? only(names) : undefined) : undefined
    // a style that only cites prints no list: each work stands as it is cited first
    if (!made)
      return names.map((id, i) => {
        const cited = () => readRichText(engine.makeCitationCluster([{ id }]))
        return orPlainly({ id: part[i]!.id, citation: cited(), inText: cited() }, part[i]!)
      })
    const [parameters, texts] = made
    hangingIndent ||= Boolean(parameters.hangingindent)
    const byName = new Map(names.map((name, i) => [name, part[i]!]))
    return parameters.entry_ids.map((ids, i): FormattedEntry => {
      const before = i > 0 ? byName.get(parameters.entry_ids[i - 1]![0]!) : undefined
      // set by itself it stands after nobody, and names all
      const alone =
        before && begins(before, byName.get(ids[0]!)!) && hasDash(engine)
          ? engine.makeBibliography(only([ids[0]!]))
          : false
      const html = alone ? alone[1][0]! : texts[i]!
      const margin = between(html, '<div class="csl-left-margin">', '</div>')
      const inline = between(html, '<div class="csl-right-inline">', '</div>')
      const label = margin
        ? readRichText(margin)
            .map(r => r.text)
            .join('')
        : undefined
      const item = byName.get(ids[0]!)!
      const citation = readRichText(inline ?? html)
      const inText = readRichText(engine.makeCitationCluster([{ id: ids[0]! }]))
      return orPlainly({ id: item.id, citation, inText, ...(label ? { label } : {}) }, item)
    })
  })
  return { entries, hangingIndent }
}

/** Whether the style has a sign for the authors who stood just before, all of them. */
const hasDash = ({ bibliography: { opt } }: InstanceType<typeof CSL.Engine>): boolean =>
  opt['subsequent-author-substitute'] !== undefined && !opt['subsequent-author-substitute-rule']?.startsWith('partial')

/**
 * Whether two works have the first name in common and not all: the formatter compares those that are printed alone, and
 * takes “A” and “A et al.” for the same.
 */
function begins(a: Item, b: Item): boolean {
  const [of, to] = [a, b].map(i => i.author ?? i.editor ?? [])
  const same = (x: unknown, y: unknown) => JSON.stringify(x) === JSON.stringify(y)
  return of!.length > 0 && same(of![0], to![0]) && !same(of, to)
}

const only = (names: readonly string[]) => ({ include: names.map(value => ({ field: 'id' as const, value })) })

const orPlainly = (e: FormattedEntry, item: Item): FormattedEntry => {
  const plain = plainly(item)
  const has = (runs: RichRun[]) => plainText(runs).trim() !== '' && !plainText(runs).includes(NO_FORM)
  if (!has(e.citation)) return { ...e, ...plain }
  return has(e.inText) ? e : { ...e, inText: plain.inText }
}

/** What stands between two marks that the formatter itself sets. */
function between(html: string, begin: string, end: string): string | undefined {
  const at = html.indexOf(begin)
  const to = at < 0 ? -1 : html.indexOf(end, at)
  return to < 0 ? undefined : html.slice(at + begin.length, to)
}

/** What must not reach a citation: an abstract of many words, our notes, and fields CSL would print by accident. */
function fitForCiting(item: Item): Item {
  const { abstract: _abstract, note: _note, keyword: _keyword, ...rest } = item
  if (rest.type === 'review-book') return { ...rest, type: 'article-journal' }
  return rest as Item
}
