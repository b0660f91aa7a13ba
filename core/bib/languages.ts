import { withoutEnd } from './clean'
import { iso6392 } from 'iso-639-2'
import { fold } from './fold'
import type { Facts, Item } from './item'

/**
 * The language of an item as a code of two letters (three where there are no two): as a source says it, else as its words
 * tell it; null where neither does.
 */
export function languageOf(item: Item, { languageTold }: Pick<Facts, 'languageTold'>): string | null {
  return languageCode(item.language) ?? languageTold ?? null
}

/** What catalogues enter where there is no language, or several, or none that they know. */
const NONE = new Set(['und', 'mul', 'zxx', 'mis', 'xxx', 'n/a'])
const CODES = new Map(
  iso6392.flatMap(l => {
    const code = l.iso6391 ?? l.iso6392B
    return [l.iso6391, l.iso6392B, l.iso6392T].flatMap(c => (c ? [[c, code] as const] : []))
  }),
)

/**
 * The code of a language as libraries and people enter it: a tag (BCP 47), a code of ISO 639-1 or 639-2 of either kind,
 * its name in English or in itself.
 * @example languageCode('ger') // 'de'
 * @example languageCode('Français') // 'fr'
 */
export function languageCode(text: string | undefined): string | undefined {
  const s = withoutEnd(fold(String(text ?? '').trim()), /[.;,/]/)
  if (!s || NONE.has(s)) return undefined
  const first = s.split(/[-_]/)[0]!
  // old records write several codes without a space
  const code = CODES.get(first) ?? (/^([a-z]{3}){2,6}$/.test(s) ? CODES.get(s.slice(0, 3)) : undefined)
  return code ?? names().get(s) ?? (/^[a-z]{2,3}$/.test(first) ? first : undefined)
}

let named: Map<string, string> | undefined
/** Names of languages, folded: as English has them and as they call themselves. */
function names(): Map<string, string> {
  if (named) return named
  named = new Map()
  const english = new Intl.DisplayNames(['en'], { type: 'language', fallback: 'none' })
  for (const { iso6391: code, name } of iso6392) {
    if (!code) continue
    const own = Intl.DisplayNames.supportedLocalesOf([code]).length
      ? new Intl.DisplayNames([code], { type: 'language', fallback: 'none' }).of(code)
      : undefined
    for (const n of [...name.split('; '), english.of(code), own]) if (n) named.set(fold(n), code)
  }
  return named
}
