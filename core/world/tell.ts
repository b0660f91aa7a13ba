import { seeded } from './random'
import { spin } from './spin'
import type { Grammar, Section, WorldWork } from './types'

/** Sentences of one section of a work's text, the same ones every time. `n` is how many. */
export function tellSection(grammar: Grammar, w: WorldWork, section: Section, n: number): string[] {
  const { lexicon, half, seed, story } = w.text
  const words = grammar.lexicons[lexicon]![half]
  const templates = grammar.sentences[half][section]
  const r = seeded(seed ^ (section.length * 0x9e3779b1))
  /** Words may hold a number to be drawn. */
  const pick = (list: readonly string[]): string => {
    const one = r.pick(list)
    return one.includes('{') ? spin(one, {}, r) : one
  }
  // no sentence comes again before all others were told
  let left: string[] = []
  return Array.from({ length: n }, (_, i) => {
    if (!left.length) left = [...templates]
    const template = left.splice(Math.floor(r() * left.length), 1)[0]!
    // every other sentence speaks of this study, the others of what is near it
    const near = i % 2 === 1
    const other = {
      otherThing: pick(words.things),
      otherCause: pick(words.causes),
      otherPlace: pick(words.places),
      otherMethod: pick(words.methods),
    }
    const told = near
      ? {
          thing: pick(words.things),
          cause: pick(words.causes),
          place: pick(words.places),
          measure: pick(words.measures),
          second: pick(words.measures),
          method: story.method,
        }
      : story
    return spin(template, { ...told, ...other }, r)
  })
}
