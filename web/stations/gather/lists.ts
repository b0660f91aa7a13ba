import { ladder, type Sheet, type Term } from '../../../core/query/sheet'
import { newId } from './use-sheet'

/** Id of the list of what is left out. */
export const WITHOUT = 'without'

/** The lists of terms of a sheet, by id: concepts, and what is left out. */
export const listOf = (s: Sheet, id: string): Term[] =>
  id === WITHOUT ? s.without : (s.concepts.find(c => c.id === id)?.terms ?? [])
export const withList = (s: Sheet, id: string, terms: Term[]): Sheet =>
  id === WITHOUT
    ? { ...s, without: terms }
    : { ...s, concepts: s.concepts.map(c => (c.id === id ? { ...c, terms } : c)) }
export const move = (s: Sheet, term: string, from: string, to: string): Sheet => {
  const t = listOf(s, from).find(x => x.id === term)
  if (!t || from === to) return s
  return withList(
    withList(
      s,
      from,
      listOf(s, from).filter(x => x.id !== term),
    ),
    to,
    [...listOf(s, to), t],
  )
}
/** A new concept of one term, or none. */
export const withConcept = (s: Sheet, term?: Term, name = ''): Sheet => ({
  ...s,
  concepts: [...s.concepts, { id: newId(), name, terms: term ? [term] : [] }],
})
/** The query of a named sweep as a term, at the end of a list. */
export const withSweep = (s: Sheet, sweep: { id: number; name: string; cql: string }, list: string): Sheet => {
  const term: Term = { id: newId(), text: sweep.name, role: 'related', on: true, cql: sweep.cql, sweep: sweep.id }
  return list === '' ? withConcept(s, term) : withList(s, list, [...listOf(s, list), term])
}
/** A rung at the place of another one, all else in its order. */
export const moveRung = (s: Sheet, rung: string, to: string): Sheet => {
  const ids = ladder(s).map(r => r.id)
  const [from, at] = [ids.indexOf(rung), ids.indexOf(to)]
  if (from < 0 || at < 0) return s
  ids.splice(at, 0, ...ids.splice(from, 1))
  return { ...s, order: ids }
}
/** The lists that a term can be moved to, by name. */
export const listsOf = (s: Sheet): { id: string; name: string }[] => [
  ...s.concepts.map(c => ({ id: c.id, name: c.name || c.terms[0]?.text || 'a concept' })),
  { id: WITHOUT, name: 'what is left out' },
]
