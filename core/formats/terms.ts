import { fold, foldTitle } from '../bib/fold'

/** The item without what it has no value for. */
export function withoutUndefined<T extends object>(o: T): T {
  return Object.fromEntries(Object.entries(o).filter(([, v]) => v !== undefined)) as T
}

/** Punctuation that cataloguing rules put between the parts of a record (ISBD), off both ends; dots of initials stay. */
export function bare(text: string | undefined): string | undefined {
  const s = (text ?? '').replace(/\s+/g, ' ')
  let [from, to] = [0, s.length]
  while (from < to && ' /:;,=+'.includes(s[from]!)) from++
  for (; to > from; to--) {
    const last = s[to - 1]!
    // a full stop ends the statement, but not an initial or a short form
    if (
      last === '.'
        ? !/[\p{L}\p{N})\]"”»]{2}$/u.test(s.slice(Math.max(from, to - 5), to - 1))
        : !' /:;,=+'.includes(last)
    )
      break
  }
  const kept = s.slice(from, to)
  return (/^\[([^[\]]*)\]$/.exec(kept)?.[1] ?? kept).trim() || undefined
}

/**
 * What a book has in it, in place of an abstract: its chapters, as the catalogue lists them.
 * @example contentsOf(['Lamps -- Moths', '']) // 'Contents: Lamps; Moths'
 */
export function contentsOf(lists: readonly string[]): string | undefined {
  const parts = lists
    .join(' -- ')
    .split(/ ?-- ?/)
    .flatMap(p => bare(p.replace(/^contents\s*:?/i, '')) ?? [])
  return parts.length ? `Contents: ${parts.join('; ')}` : undefined
}

/** Number of pages of a statement of extent in any of a few tongues: "xii, 274 p.", "1 online resource (274 Seiten)". */
export function pagesOfExtent(text: string | undefined): number | undefined {
  const found = [
    ...(text ?? '')
      .slice(0, 300)
      .matchAll(
        /(?<![\d-])(\d{1,5})\s{0,2}(?:\[?\d*\]?\s?)(?:p\b|pp\b|pages?|pgs?\b|s\b|seiten?|bl\b|leaves|ff?\b|pag|págs?|blz|sidor|sider|str\b|с\b|side[rn]?\b|σ)/giu,
      ),
  ]
  const pages = found.map(m => Number(m[1])).filter(n => n > 0)
  return pages.length ? Math.max(...pages) : undefined
}

/** Number of an edition, or its words where it says more: "2nd ed." is "2", "Rev. and enl. ed." stays. */
export function editionOf(text: string | undefined): string | undefined {
  const s = bare(text)
  if (!s) return undefined
  const number =
    /^(?:the )?\[?(\d{1,3})(?:st|nd|rd|th|\.|a|e|re|ere|eme|:a)?\]?,?\s{0,2}(?:ed|aufl|uppl|udg|utg|opl|druk|vyd|изд|painos|kiad)/.exec(
      fold(s),
    )?.[1]
  const onlyNumber = /^(\d{1,3})(?:st|nd|rd|th|\.|ª|a|e)?$/.exec(s)?.[1]
  return number && !/rev|corr|enl|erw|überarb|bearb|augm|intern/i.test(s) ? number : (onlyNumber ?? s)
}

/**
 * A title in capitals throughout is put in sentence case; short all-capital words cannot be told from shouting there.
 */
export function unshout(title: string | undefined): string | undefined {
  if (!title || title.length < 12 || /\p{Ll}/u.test(title) || !/\p{Lu}/u.test(title)) return title
  const lower = title.toLowerCase()
  return lower.charAt(0).toUpperCase() + lower.slice(1)
}

/** Titles that something is known by besides its own, each once; undefined where there are none. */
export function otherTitles(own: string | undefined, others: readonly (string | undefined)[]): string[] | undefined {
  const seen = new Set([foldTitle(own ?? '')])
  const kept = others.filter((t): t is string => {
    const key = foldTitle(t ?? '')
    return Boolean(t && key) && !seen.has(key) && Boolean(seen.add(key))
  })
  return kept.length ? kept : undefined
}
