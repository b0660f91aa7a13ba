import { normaliseAuthorId, normaliseDoi } from './identifiers'
import { joinGrants } from './grants'
import type { Facts, Grant, Name, Update } from './item'

/**
 * What registrations of DOIs say of a work in the item that they answer with, and what no item of CSL-JSON has a field
 * for: identifiers of authors, grants, data behind it, notices that changed it, its licence.
 * @param raw the item as it came
 */
export function factsOfRegistry(raw: Readonly<Record<string, unknown>>): Facts {
  const authorIds = objects(raw.author).flatMap(a => {
    const id = identifierOf(a)
    const name = nameIn(a)
    return id && name ? [{ name, id }] : []
  })
  const grants = joinGrants(
    objects(raw.funder).flatMap((f): Grant[] => {
      const funder = text(f.name)
      const numbers = [f.award].flat().flatMap(n => text(n) ?? [])
      if (numbers.length) return numbers.map(number => ({ number, ...(funder ? { funder } : {}) }))
      return funder ? [{ funder }] : []
    }),
  )
  const related = (of: string) =>
    objects((raw.relation as Record<string, unknown> | undefined)?.[of]).flatMap(r => normaliseDoi(text(r.id)) ?? [])
  const data = related('is-supplemented-by').map(doi => ({ doi }))
  const dataOf = raw.type === 'dataset' ? related('is-supplement-to') : []
  const [updatedBy, updates] = [updatesIn(raw['updated-by']), updatesIn(raw['update-to'])]
  const licence = objects(raw.license).flatMap(l => text(l.URL) ?? [])[0] ?? text(raw.copyright)
  return {
    ...(authorIds.length ? { authorIds } : {}),
    ...(grants.length ? { grants } : {}),
    ...(data.length ? { data } : {}),
    ...(dataOf.length ? { dataOf } : {}),
    ...(updatedBy.length ? { updatedBy } : {}),
    ...(updates.length ? { updates } : {}),
    ...(licence ? { licence } : {}),
  }
}

const updatesIn = (of: unknown): Update[] =>
  objects(of).flatMap(u => {
    const [doi, type] = [normaliseDoi(text(u.DOI)), text(u.type) ?? text(u.label)]
    return doi && type ? [{ doi, type }] : []
  })

/** An identifier stands in a field that is called after whoever gives it out. */
const identifierOf = (author: Readonly<Record<string, unknown>>): string | undefined =>
  Object.entries(author)
    .filter(([field]) => !['family', 'given', 'literal', 'name', 'suffix'].includes(field))
    .flatMap(([, v]) => normaliseAuthorId(text(v)) ?? [])[0]

function nameIn(a: Readonly<Record<string, unknown>>): Name | undefined {
  const [family, given, literal] = [text(a.family), text(a.given), text(a.literal) ?? text(a.name)]
  const particle = text(a['non-dropping-particle'])
  if (family) return { family, ...(given ? { given } : {}), ...(particle ? { 'non-dropping-particle': particle } : {}) }
  return literal ? { literal } : undefined
}

const objects = (v: unknown): Record<string, unknown>[] =>
  [v].flat().filter((x): x is Record<string, unknown> => typeof x === 'object' && x !== null)
const LONGEST = 500
const text = (v: unknown): string | undefined =>
  typeof v === 'string' && v.trim() && v.length <= LONGEST ? v.trim() : undefined
