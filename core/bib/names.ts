import { partsAt, withoutEnd } from './clean'
import type { Name } from './item'
import { fold } from './fold'
import { roleOf } from './roles'

/** Words that a body has in its name and a person has not, folded. */
const BODY =
  /(^| )(universit\w*|college|school|institut\w*|societ\w*|gesellschaft|verein|association|academy|akademie|academ\w*|council|committee|commission|ministr\w*|ministerium|department|office|bureau|agency|amt|authority|board|group|team|consortium|network|museum|librar\w*|bibliothek|foundation|fundacion|stiftung|centre|center|zentrum|laborator\w*|federation|union|party|press|verlag|company|corporation|inc|ltd|gmbh|parliament|government|city of|county|state of|conference|congress|symposium|workshop|working|of|for|fur|and|und)( |$|\.|,)/

export const isBodyName = (text: string): boolean => BODY.test(fold(text))

/** Reads a name as catalogues print it: "Family, Given", "Given Family", or a body's name taken whole. */
export function readName(text: string): Name {
  const whole = text.replace(/\s+/g, ' ')
  const most = withoutEnd(whole, /[;,.\s]/)
  // the full stop of an initial stays
  const s = (whole[most.length] === '.' ? `${most}.` : most).trim()
  const [family, ...rest] = partsAt(s, ',')
  const given = rest.filter(r => !/^\d{4}/.test(r)).join(' ')
  if (family && given) return { family, given }
  const words = s.split(' ')
  if (isBodyName(s)) return { literal: s }
  if (words.length === 1 || words.length > 5) return { literal: s }
  // particles travel with the family name: "Maria van der Berg"
  let cut = words.length - 1
  while (cut > 1 && /^(van|von|der|den|de|la|le|du|da|di|dos|ter|el|al|bin|ibn)$/i.test(words[cut - 1]!)) cut--
  return { family: words.slice(cut).join(' '), given: words.slice(0, cut).join(' ') }
}

/** Years of a life, as catalogues put them behind a name: "1950-", "1901-1988", "b. 1950", "fl. 1620", "ca. 1900-". */
const LIFE =
  /^(?:(?:b|d|fl|geb|gest|active|born|ca|approximately|n|m)\.? ?)*(?:1\d{3}|20\d{2}|\d{2}th cent(?:ury|\.)?)\??(?: ?[-–] ?(?:(?:ca|approximately)\.? ?)?(?:1\d{3}|20\d{2})?\??)?\.?$/i
const SUFFIX = /^(jr|sr|ii|iii|iv)\.?$/i
/** What is put before or behind a name and is no part of it in a citation. */
const TITLES =
  /^(sir|dame|lord|lady|baron(ess)?|count(ess)?|graf|grafin|freiherr|prof(essor)?|dr|saint|st|rev|mrs?|ms)\b\.?/i

/**
 * Reads a heading of a cataloguer: "Family, Given, 1950-", "Family, G. H. (Given Henry), Jr., 1901-1988, editor". Years
 * of a life, fuller forms and titles are left out.
 * @returns the name, and the role where one stands behind it
 */
export function readHeading(text: string): { name: Name; role?: string } | undefined {
  const roles: string[] = []
  const s = text
    .replace(/\s+/g, ' ')
    // a fuller form, an affiliation or a role in brackets
    .replace(/ ?[([]([^()[\]]{1,80})[)\]]/g, (_, inside: string) => {
      if (!/\d|,/.test(inside) && roleOf(inside) !== 'contributor') roles.push(inside)
      return ''
    })
    .trim()
  const parts = s.split(',').map(p => p.trim())
  let suffix: string | undefined
  const kept = parts.filter((part, i) => {
    if (!part) return false
    if (i === 0) return true
    if (LIFE.test(part)) return false
    if (SUFFIX.test(part)) return void (suffix = part)
    if (i > 1 && TITLES.test(part)) return false
    // a role is a word in small letters behind the name, or one that is known for one
    if (i > 1 && (/^\p{Ll}/u.test(part) || /^(verfasser|herausgeber)/i.test(part))) return void roles.push(part)
    return true
  })
  const given = kept
    .slice(1)
    .join(' ')
    .replace(/^(.*\p{L}{3})\.$/u, '$1')
  const family = kept[0] && withoutEnd(kept[0], /[;:/=]/).trim()
  if (!family) return undefined
  const name: Name = given ? { family, given } : readName(family.replace(/(?<=\p{Ll}{2})\.$/u, ''))
  if (suffix) name.suffix = suffix
  return { name, ...(roles[0] ? { role: roles[0] } : {}) }
}

/** A name as it is spoken: "Mara van der Lune". */
export const spokenName = (n: Name): string => [n.given, familyName(n)].filter(Boolean).join(' ')

/** The family name with its particle, or the literal name. */
export function familyName(name: Name): string {
  const particle = name['non-dropping-particle']
  return [particle, name.family].filter(Boolean).join(' ') || name.literal || name.given || ''
}

/**
 * Folded family name and first initial: the normal form for comparing. A body is its whole name, also where a catalogue
 * has cut it into given and family name; a person whose name stands whole is cut.
 */
export function nameKey(name: Name): string {
  const letters = (text: string) =>
    fold(text)
      .replace(/[^\p{L}\p{N}]+/gu, ' ')
      .trim()
  const whole = name.literal ?? [name.given, familyName(name)].filter(Boolean).join(' ')
  if (BODY.test(fold(whole))) return letters(whole)
  const cut = name.literal && !name.family ? readName(name.literal) : name
  const initial = fold(cut.given ?? '').replace(/[^\p{L}]/gu, '')[0] ?? ''
  return `${letters(familyName(cut))} ${initial}`.trim()
}

/** Authors as a record line shows them: up to three family names, then "and n more". */
export function authorLine(names: readonly Name[] | undefined, most = 3): string {
  const shown = (names ?? []).map(familyName).filter(Boolean)
  if (shown.length <= most) return shown.join(', ')
  return `${shown.slice(0, most).join(', ')} and ${shown.length - most} more`
}
