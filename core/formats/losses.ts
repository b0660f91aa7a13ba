import type { Item } from '../bib/item'
import { readBibtex, writeBibtex } from './bibtex'
import type { Lossy } from './lossy'
import { readMods } from './mods'
import { readRis, writeRis } from './ris'
import { writeMods } from './write-mods'

export interface Loss {
  id: string
  /** CSL names of the fields that do not come back as they were. */
  fields: string[]
}

/** Formats that cannot carry all, each with what an item comes back as. */
const BACK: Record<Lossy, (item: Item) => Item | undefined> = {
  bibtex: item => readBibtex(writeBibtex(item, 'key')).entries[0]?.item,
  ris: item => readRis(writeRis(item, 'key')).entries[0]?.item,
  mods: item => readMods(writeMods([item], ['key'])).item,
}

/** Fields that are ours or the format's own business, not part of what is cited. */
const passed = new Set(['id', 'citation-key', 'source', 'accessed', 'title-short', 'call-number'])

/**
 * What a written item loses: it is written, read back by the same reader that imports use, and compared field by field.
 * An empty list means that the item comes back equal.
 */
export function losses(item: Item, format: Lossy): Loss {
  const back = BACK[format](item)
  const fields = Object.keys(item).filter(k => !passed.has(k) && !sameField(item[k], back?.[k]))
  return { id: item.id, fields }
}

function sameField(a: unknown, b: unknown): boolean {
  return canonical(a) === canonical(b)
}

/** Numbers and numerals are one value to CSL; spaces and dashes are folded; names by their printed parts. */
function canonical(v: unknown): string {
  if (v === undefined || v === null) return ''
  if (typeof v === 'string' || typeof v === 'number')
    return String(v)
      .replace(/\s+/g, ' ')
      .replace(/[–—]|--/g, '-')
      .replace(/\s*([,;])\s*/g, '$1')
      .trim()
  if (Array.isArray(v)) return `[${v.map(canonical).join('|')}]`
  if (typeof v !== 'object') return String(v)
  const o = v as Record<string, unknown>
  if ('family' in o || 'literal' in o || 'given' in o) {
    const family = [o['dropping-particle'], o['non-dropping-particle'], o.family].filter(Boolean).join(' ')
    return `${family}|${canonical(o.given)}|${canonical(o.suffix)}|${canonical(o.literal)}`
  }
  return Object.keys(o)
    .sort()
    .map(k => `${k}:${canonical(o[k])}`)
    .join('|')
}
