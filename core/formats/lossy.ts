/** Formats of citations that cannot carry all that an item may have. */
export const LOSSY = ['bibtex', 'ris', 'mods'] as const
export type Lossy = (typeof LOSSY)[number]
