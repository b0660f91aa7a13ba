import { degree, type Graph, type Rows } from './graph'

/** How much each node has in common with some others. */
export interface Tied {
  /** Of each node: neighbours shared with the seeds, each seed counted for itself. */
  shared: Uint32Array
  /** The same normalised by Salton's cosine, summed over the seeds and divided by their number: 0 to 1. */
  likeness: Float64Array
  /** With how many of the seeds it shares anything. */
  seeds: Uint32Array
}

/**
 * What nodes share with some seeds. Forward along `towards` and back along `from`: over references this is
 * bibliographic coupling (Kessler 1963), over citing works co-citation (Small 1973), each by Salton's cosine,
 * shared / √(a·b). A node that has no such links shares nothing. A neighbour that more than `crowd` others share is
 * left out: it tells them apart no more, and would cost the square of their number.
 */
function tied(n: number, towards: Rows, from: Rows, seeds: Iterable<number>, crowd: number): Tied {
  const shared = new Uint32Array(n)
  const likeness = new Float64Array(n)
  const many = new Uint32Array(n)
  const count = new Uint32Array(n)
  const touched = new Uint32Array(n)
  let all = 0
  for (const seed of seeds) {
    all++
    let met = 0
    for (let i = towards.start[seed]!; i < towards.start[seed + 1]!; i++) {
      const between = towards.to[i]!
      if (degree(from, between) > crowd) continue
      for (let j = from.start[between]!; j < from.start[between + 1]!; j++) {
        const other = from.to[j]!
        if (!count[other]!++) touched[met++] = other
      }
    }
    const own = degree(towards, seed)
    for (let k = 0; k < met; k++) {
      const other = touched[k]!
      const both = count[other]!
      count[other] = 0
      if (other === seed) continue
      shared[other]! += both
      likeness[other]! += both / Math.sqrt(own * degree(towards, other))
      many[other]!++
    }
  }
  if (all > 1) for (let i = 0; i < n; i++) likeness[i]! /= all
  return { shared, likeness, seeds: many }
}

/** A reference that so many works share, or a work that cites so many, says nothing of two of them. */
const CROWD = 2000

/** Works that refer to what the seeds refer to (bibliographic coupling). */
export const coupled = ({ n, cites, citedBy }: Graph, seeds: Iterable<number>, crowd = CROWD): Tied =>
  tied(n, cites, citedBy, seeds, crowd)
/** Works that are cited together with the seeds (co-citation). */
export const citedTogether = ({ n, cites, citedBy }: Graph, seeds: Iterable<number>, crowd = CROWD): Tied =>
  tied(n, citedBy, cites, seeds, crowd)

/**
 * One likeness of links and words: each of them alone is enough, and none of them counts twice; 1 − Π(1 − s).
 * @example together(0.5, 0, 0.5) // 0.75
 */
export const together = (...likenesses: readonly number[]): number =>
  1 - likenesses.reduce((left, s) => left * (1 - Math.min(1, Math.max(0, s))), 1)

/** The best places of a list of scores, the best first; equals by their number. Places with nothing are left out. */
export function best(
  scores: Float64Array | Uint32Array,
  most: number,
  wanted: (at: number) => boolean = () => true,
): number[] {
  const places: number[] = []
  for (let at = 0; at < scores.length; at++) if (scores[at]! > 0 && wanted(at)) places.push(at)
  return places.sort((a, b) => scores[b]! - scores[a]! || a - b).slice(0, most)
}
