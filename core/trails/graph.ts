/** Neighbours of every node, one list after the other: those of node i stand from `start[i]` to `start[i + 1]`. */
export interface Rows {
  start: Uint32Array
  to: Uint32Array
}

/** Citations among the nodes 0 to n − 1, as compressed rows both ways; every list stands by number, each once. */
export interface Graph {
  n: number
  /** What each node cites. */
  cites: Rows
  /** What cites each node. */
  citedBy: Rows
  /** Citations of a node by itself, which are left out. */
  ofItself: number
  /** Citations given more than once, counted once. */
  again: number
}

/**
 * @param citing, cited the two ends of each citation, by number of node
 * @throws RangeError where an end is no node
 */
export function graphOf(n: number, citing: Uint32Array, cited: Uint32Array): Graph {
  for (let i = 0; i < citing.length; i++)
    if (citing[i]! >= n || cited[i]! >= n)
      throw new RangeError(`A citation of ${citing[i]} by ${cited[i]}: no such node.`)
  // turned twice, lists stand by number
  const into = rowsOf(n, cited, citing, citing.length)
  const from = turned(n, into)
  const once = withoutTwins(n, from)
  return {
    n,
    cites: once.rows,
    citedBy: turned(n, once.rows),
    ofItself: once.ofItself,
    again: citing.length - once.rows.to.length - once.ofItself,
  }
}

function rowsOf(n: number, from: Uint32Array, to: Uint32Array, length: number): Rows {
  const start = new Uint32Array(n + 1)
  for (let i = 0; i < length; i++) start[from[i]! + 1]!++
  for (let i = 0; i < n; i++) start[i + 1]! += start[i]!
  const next = start.slice(0, n)
  const list = new Uint32Array(length)
  for (let i = 0; i < length; i++) list[next[from[i]!]!++] = to[i]!
  return { start, to: list }
}

/** The same citations from their other ends; each list comes out by number. */
function turned(n: number, { start, to }: Rows): Rows {
  const back = new Uint32Array(n + 1)
  for (let i = 0; i < to.length; i++) back[to[i]! + 1]!++
  for (let i = 0; i < n; i++) back[i + 1]! += back[i]!
  const next = back.slice(0, n)
  const list = new Uint32Array(to.length)
  for (let node = 0; node < n; node++)
    for (let i = start[node]!; i < start[node + 1]!; i++) list[next[to[i]!]!++] = node
  return { start: back, to: list }
}

function withoutTwins(n: number, { start, to }: Rows): { rows: Rows; ofItself: number } {
  const kept = new Uint32Array(n + 1)
  const list = new Uint32Array(to.length)
  let ofItself = 0
  let at = 0
  for (let node = 0; node < n; node++) {
    let last = -1
    for (let i = start[node]!; i < start[node + 1]!; i++) {
      const other = to[i]!
      if (other === node) ofItself++
      else if (other !== last) list[at++] = last = other
    }
    kept[node + 1] = at
  }
  return { rows: { start: kept, to: list.slice(0, at) }, ofItself }
}

/** How many neighbours a node has. */
export const degree = ({ start }: Rows, node: number): number => start[node + 1]! - start[node]!
/** The neighbours of a node. */
export const neighbours = ({ start, to }: Rows, node: number): Uint32Array => to.subarray(start[node], start[node + 1])
