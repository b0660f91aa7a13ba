import type { Random } from '../core/world/random'
import { spin } from '../core/world/spin'
import { OLD_CORNER, SUBJECTS, words } from './subjects'

/** The words of each subject, in both halves of the grammar. */
export const lexicons = SUBJECTS.map(s => {
  const halves = {
    things: words(s.things),
    causes: words(s.causes),
    places: words(s.places),
    measures: words(s.measures),
    methods: words(s.methods),
    keywords: s.keywords.split('; '),
    terms: s.terms.split('; '),
  }
  const of = (h: 0 | 1) => ({
    things: halves.things[h],
    causes: halves.causes[h],
    places: halves.places[h],
    measures: halves.measures[h],
    methods: halves.methods[h],
  })
  return { ...halves, of: [of(0), of(1)] as const }
})
/** What the demo's subject was called long ago. */
export const old = {
  causes: OLD_CORNER.causes.split('; '),
  places: OLD_CORNER.places.split('; '),
  things: OLD_CORNER.things.split('; '),
}

/** Words of a lexicon may hold a number to be drawn. */
export const plain = (s: string, r: Random): string => (s.includes('{') ? spin(s, {}, r) : s)
