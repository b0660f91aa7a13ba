import type { Name } from './item'
import { fold } from './fold'

/** Reads a name as catalogues print it: "Family, Given", "Given Family", or a body's name taken whole. */
export function readName(text: string): Name {
  const s = text
    .replace(/\s+/g, ' ')
    .replace(/[;,.\s]+$/, m => (m.startsWith('.') ? '.' : ''))
    .trim()
  const [family, ...rest] = s.split(/\s*,\s*/)
  const given = rest.filter(r => !/^\d{4}/.test(r)).join(' ')
  if (family && given) return { family, given }
  const words = s.split(' ')
  if (words.length === 1 || words.length > 5) return { literal: s }
  // particles travel with the family name: "Maria van der Berg"
  let cut = words.length - 1
  while (cut > 1 && /^(van|von|der|den|de|la|le|du|da|di|dos|ter|el|al|bin|ibn)$/i.test(words[cut - 1]!)) cut--
  return { family: words.slice(cut).join(' '), given: words.slice(0, cut).join(' ') }
}

/** The family name with its particle, or the literal name. */
export function familyName(name: Name): string {
  const particle = name['non-dropping-particle']
  return [particle, name.family].filter(Boolean).join(' ') || name.literal || name.given || ''
}

/** Folded family name and first initial: the normal form for comparing. */
export function nameKey(name: Name): string {
  const initial = fold(name.given ?? '').replace(/[^\p{L}]/gu, '')[0] ?? ''
  return `${fold(familyName(name))
    .replace(/[^\p{L}\p{N}]+/gu, ' ')
    .trim()} ${initial}`.trim()
}

/** Authors as a record line shows them: up to three family names, then "and n more". */
export function authorLine(names: readonly Name[] | undefined, most = 3): string {
  const shown = (names ?? []).map(familyName).filter(Boolean)
  if (shown.length <= most) return shown.join(', ')
  return `${shown.slice(0, most).join(', ')} and ${shown.length - most} more`
}
