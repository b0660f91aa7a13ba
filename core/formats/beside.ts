import { joinGrants, readGrants } from '../bib/grants'
import { normaliseAuthorId, normaliseDoi } from '../bib/identifiers'
import type { DataLink, Facts, Grant, Name } from '../bib/item'

/** Numbers of files of names that are as long as an identifier and are none. */
const OTHERS = /viaf|\(de-588\)/i

/** Names with what stands beside them, one of which may be an identifier. */
export function authorIdsAmong(
  names: readonly { name: Name | undefined; beside: readonly (string | undefined)[] }[],
): Facts['authorIds'] {
  const found = names.flatMap(({ name, beside }) => {
    const id = beside.flatMap(b => (OTHERS.test(b ?? '') ? [] : (normaliseAuthorId(b) ?? [])))[0]
    return name && id ? [{ name, id }] : []
  })
  return found.length ? found : undefined
}

/** Grants out of notes, and out of fields that have the numbers apart. */
export function grantsAmong(of: readonly (string | Grant)[]): Facts['grants'] {
  const found = joinGrants(of.flatMap(g => (typeof g === 'string' ? readGrants(g) : [g])))
  return found.length ? found : undefined
}

/** A thing by its DOI, or where it lies; nothing where neither is said. */
export function dataLink(places: readonly (string | undefined)[], title?: string): DataLink[] {
  const doi = places.map(normaliseDoi).find(Boolean)
  const address = places.find(p => p && /^https?:\/\//i.test(p) && URL.canParse(p))
  if (!doi && !address) return []
  return [{ ...(doi ? { doi } : { address: address! }), ...(title ? { title } : {}) }]
}
