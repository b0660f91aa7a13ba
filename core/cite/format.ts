import CSL from 'citeproc'
import type { Item } from '../bib/item'
import { readRichText, type RichRun } from './rich-text'

export interface StyleFiles {
  /** The style's XML. */
  style: string
  /** The locale's XML for a language tag such as "en-US". */
  locale(lang: string): string | undefined
}

export interface FormattedEntry {
  id: string
  citation: RichRun[]
  inText: RichRun[]
  /** The number before the citation, in numbered styles. */
  label?: string
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
export function formatBibliography(items: readonly Item[], files: StyleFiles, lang = 'en-US'): Bibliography {
  try {
    return setTogether(items, files, lang)
  } catch (e) {
    // one item that the formatter cannot take does not cost the others their list
    const fit = items.filter(i => canBeSet(i, files, lang))
    if (!fit.length || fit.length === items.length) throw e
    const made = setTogether(fit, files, lang)
    const rest = items.filter(i => !fit.includes(i)).map(plainly)
    return { ...made, entries: [...made.entries, ...rest] }
  }
}

function canBeSet(item: Item, files: StyleFiles, lang: string): boolean {
  try {
    setTogether([item], files, lang)
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
})

function setTogether(items: readonly Item[], files: StyleFiles, lang: string): Bibliography {
  // the formatter keeps items by name in plain objects: ids of ours cannot be names that these have already
  const byId = new Map(items.map((item, i) => [`item-${i}`, { ...fitForCiting(item), id: `item-${i}` }]))
  const idOf = new Map(items.map((item, i) => [`item-${i}`, item.id]))
  const engine = new CSL.Engine(
    { retrieveLocale: l => files.locale(l) ?? files.locale('en-US') ?? '', retrieveItem: id => byId.get(id) },
    files.style,
    lang,
  )
  engine.updateItems([...byId.keys()])
  const made = engine.makeBibliography()
  if (!made) return { entries: [], hangingIndent: false }
  const [parameters, texts] = made
  const entries = parameters.entry_ids.map((ids, i): FormattedEntry => {
    const html = texts[i]!
    const margin = between(html, '<div class="csl-left-margin">', '</div>')
    const inline = between(html, '<div class="csl-right-inline">', '</div>')
    const label = margin
      ? readRichText(margin)
          .map(r => r.text)
          .join('')
      : undefined
    return {
      id: idOf.get(ids[0]!)!,
      citation: readRichText(inline ?? html),
      inText: readRichText(engine.makeCitationCluster([{ id: ids[0]! }])),
      ...(label ? { label } : {}),
    }
  })
  return { entries, hangingIndent: Boolean(parameters.hangingindent) }
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
