import { neighbours, type Graph } from './graph'

/** A step of a chain: the node it leads to, and whether the one before cites it or is cited by it. */
export interface Step {
  node: number
  by: 'cites' | 'is cited by'
}

/**
 * A shortest chain of citations between two works, in whichever direction each of them goes; of equally short ones the
 * first by number. Undefined where none is known.
 */
export function chain({ n, cites, citedBy }: Graph, from: number, to: number): Step[] | undefined {
  if (from === to) return []
  const before = new Int32Array(n).fill(-1)
  before[from] = from
  let front = [from]
  while (front.length && before[to]! < 0) {
    const next: number[] = []
    for (const node of front)
      for (const rows of [cites, citedBy])
        for (const other of neighbours(rows, node)) {
          if (before[other]! >= 0) continue
          before[other] = node
          next.push(other)
        }
    front = next
  }
  if (before[to]! < 0) return undefined
  const steps: Step[] = []
  for (let node = to; node !== from; node = before[node]!)
    steps.unshift({ node, by: neighbours(cites, before[node]!).includes(node) ? 'cites' : 'is cited by' })
  return steps
}
