import { yearOf } from '../bib/dates'
import { fold } from '../bib/fold'
import type { Item } from '../bib/item'
import { familyName } from '../bib/names'

/**
 * Keys as people expect them, family name and year, told apart by letters: a to z, then aa, ab.
 * @example citationKeys([bee2020, bee2020]) // ['bee2020', 'bee2020a']
 */
export function citationKeys(items: readonly Item[]): string[] {
  const seen = new Map<string, number>()
  return items.map(i => {
    const first = i.author?.[0] ? familyName(i.author[0]) : ((i.title ?? 'work').split(' ')[0] ?? '')
    const base = `${fold(first).replace(/[^a-z0-9]/g, '') || 'work'}${yearOf(i) ?? ''}`
    const n = seen.get(base) ?? 0
    seen.set(base, n + 1)
    return base + letters(n)
  })
}

const letters = (n: number): string =>
  n ? letters(Math.floor((n - 1) / 26)) + String.fromCharCode(97 + ((n - 1) % 26)) : ''
