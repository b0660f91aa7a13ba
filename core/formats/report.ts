/** What a file of a bibliography came to. */
export interface ImportReport {
  format: string | null
  read: number
  newWorks: number
  mended: { line: number; title: string; said: string[] }[]
  refused: { line: number; why: string; excerpt: string }[]
  /** Of pasted lines: what was found for each, where, and what cannot be sure. */
  found?: { line: number; asked: string; title: string; where: string; doubt?: string }[]
  /** How many there are, where more than are listed. */
  mendedInAll?: number
  refusedInAll?: number
  /** Reading it again would come to the same. */
  final?: boolean
}

/** One kind of thing that was mended, once, with where it was. */
export interface MendedKind {
  said: string
  /** It lost nothing: the field only stays in the source. */
  keptOnly: boolean
  at: { line: number; title: string }[]
}

/**
 * What was mended, each kind once with all its places: what changed or was lost first, the most frequent first of these,
 * what is kept in the source only last.
 */
export function mendedKinds(mended: ImportReport['mended']): MendedKind[] {
  const kinds = new Map<string, MendedKind>()
  for (const { line, title, said } of mended)
    for (const s of said) {
      const kind = kinds.get(s) ?? { said: s, keptOnly: /kept in the source only\.$/.test(s), at: [] }
      kind.at.push({ line, title })
      kinds.set(s, kind)
    }
  return [...kinds.values()].sort((a, b) => Number(a.keptOnly) - Number(b.keptOnly) || b.at.length - a.at.length)
}
