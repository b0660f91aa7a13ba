import { partsAt } from '../bib/clean'
import { normaliseDoi } from '../bib/identifiers'
import { withoutMarkup } from '../bib/markup'
import { fitItem } from '../bib/mend-item'
import { pageCount } from '../bib/pages'
import type { Facts, Item } from '../bib/item'

/** Fields that web pages and registries give with their markup. */
const MARKED = ['title', 'title-short', 'container-title', 'collection-title', 'publisher', 'abstract'] as const

/** What every reader does at the end: letters composed, DOI in its normal form, facts drawn from the item. */
export function finish(item: Item, mended: string[]): { item: Item; facts: Facts } {
  const done = compose(item) as Item
  if (done.DOI) {
    const doi = normaliseDoi(String(done.DOI))
    if (!doi) {
      mended.push(`"${String(done.DOI)}" is not a DOI and was left out.`)
      delete done.DOI
    } else done.DOI = doi
  } else if (done.URL && /doi\.|\/10\.\d{4}/.test(done.URL)) {
    const doi = normaliseDoi(done.URL)
    if (doi) {
      mended.push('The DOI was taken from the address.')
      done.DOI = doi
    }
  }
  for (const field of MARKED) {
    const given = done[field]
    if (typeof given !== 'string') continue
    const marks = field !== 'abstract'
    const plain = withoutMarkup(given, marks)
    if (plain === given) continue
    done[field] = (marks ? plain.replace(/\s+/g, ' ') : plain.replace(/[ \t]*\n\s*/g, '\n')).trim()
    mended.push(`Markup was taken out of the field “${field}”.`)
  }
  const fit = fitItem(done)
  mended.push(...fit.mended)
  const facts: Facts = {}
  const keywords = partsAt(String(done.keyword ?? ''), /[,;]/).filter(Boolean)
  if (keywords.length) facts.keywords = keywords
  const pages = pageCount(done.page)
  if (pages) facts.pageCount = pages
  if (done.genre) facts.genre = done.genre
  return { item: fit.item, facts }
}

/** Composes letters (NFC) throughout; a dotless i under an accent, as LaTeX has it, becomes an ordinary one. */
function compose(value: unknown): unknown {
  if (typeof value === 'string') return value.replace(/\u0131(?=\p{M})/gu, 'i').normalize('NFC')
  if (Array.isArray(value)) return value.map(compose)
  if (value && typeof value === 'object') {
    return Object.fromEntries(Object.entries(value).map(([k, v]) => [k, compose(v)]))
  }
  return value
}

export const excerptOf = (raw: string): string => raw.trim().slice(0, 200)
