/** A small seeded generator (mulberry32): the same seed gives the same world on every machine. */
export interface Random {
  (): number
  int(from: number, to: number): number
  pick<T>(list: readonly T[]): T
  chance(p: number): boolean
  weighted<T>(list: readonly (readonly [T, number])[]): T
  some<T>(list: readonly T[], n: number): T[]
}

export function seeded(seed: number): Random {
  let a = seed >>> 0
  const next = (): number => {
    a = (a + 0x6d2b79f5) >>> 0
    let t = Math.imul(a ^ (a >>> 15), 1 | a)
    t = (t + Math.imul(t ^ (t >>> 7), 61 | t)) ^ t
    return ((t ^ (t >>> 14)) >>> 0) / 4294967296
  }
  const r = next as Random
  r.int = (from, to) => from + Math.floor(next() * (to - from + 1))
  r.pick = list => list[Math.floor(next() * list.length)]!
  r.chance = p => next() < p
  r.weighted = list => {
    let at = next() * list.reduce((t, [, w]) => t + w, 0)
    for (const [value, w] of list) if ((at -= w) < 0) return value
    return list.at(-1)![0]
  }
  r.some = (list, n) => {
    const left = [...list]
    return Array.from({ length: Math.min(n, left.length) }, () => left.splice(Math.floor(next() * left.length), 1)[0]!)
  }
  return r
}
