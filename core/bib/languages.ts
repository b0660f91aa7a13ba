import type { Item } from './item'

/** The language of an item as a code of two letters, where that can be told. */
export function languageOf(item: Item): string | null {
  const code = String(item.language ?? '')
    .toLowerCase()
    .split(/[-_]/)[0]!
  return code ? (LONG[code] ?? code) : null
}
/** ISO 639-2 codes, as libraries enter them. */
const LONG: Record<string, string> = {
  eng: 'en',
  ger: 'de',
  deu: 'de',
  fre: 'fr',
  fra: 'fr',
  spa: 'es',
  ita: 'it',
  por: 'pt',
  dut: 'nl',
  nld: 'nl',
  swe: 'sv',
  jpn: 'ja',
  chi: 'zh',
  zho: 'zh',
  rus: 'ru',
}
