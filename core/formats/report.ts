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
