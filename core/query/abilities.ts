import { mapClauses, type Query } from './cql'
import { isMasked } from './tokens'

/** What a catalogue can be asked, as its `explain` answer says. */
export interface Abilities {
  /** Index names in our words; undefined where the catalogue did not say. */
  indexes?: readonly string[]
  truncation: boolean
  proximity: boolean
  /** Whether it tells the words of its dictionary. */
  scan?: boolean
  /** Indexes by whose values it can count an answer. */
  facets?: readonly string[]
  /** The last record position the catalogue serves. */
  window?: number
}

export interface Checked {
  /** The query to ask, or undefined where nothing of it can be asked. */
  query?: Query
  /** One sentence for each thing that was changed or left out. */
  changes: string[]
}

/** Rewrites a query for a catalogue and lists what was changed: nothing is ever dropped in silence. */
export function checkQuery(query: Query, abilities: Abilities): Checked {
  const changes: string[] = []
  const root = mapClauses(query.root, c => {
    let changed = c
    if (c.index && abilities.indexes && !abilities.indexes.includes(c.index.toLowerCase())) {
      if (/^(title|author|abstract|subject|keyword|journal|place|funder)$/i.test(c.index)) {
        changes.push(`It cannot search ${c.index} alone: "${c.term}" is asked in all fields.`)
        changed = { ...changed, relation: changed.relation === '==' ? 'adj' : changed.relation }
        delete changed.index
      } else {
        changes.push(`It cannot limit by ${c.index}: that limit is left out here.`)
        return undefined
      }
    }
    if (!abilities.truncation && isMasked(changed.term)) {
      const term = changed.term.replace(/[*?]/g, '')
      changes.push(`It cannot truncate: "${changed.term}" is asked as "${term}".`)
      if (!term.trim()) return undefined
      changed = { ...changed, term }
    }
    return changed
  })
  if (!root) return { changes: [...changes, 'Nothing of this query can be asked here.'] }
  return { query: { ...query, root }, changes }
}
