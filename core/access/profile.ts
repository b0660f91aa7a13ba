import type { Holding } from '../formats/kbart'

/** A library as it is known here: what it holds, and what of that could not be read. */
export interface Profile {
  /** What it is told by from others. */
  key: string
  name: string
  /** How its texts are reached: through its gate, in one's own window, or where it lets one in. */
  door: 'gate' | 'window' | 'none'
  /** The lines of its holdings that may speak of the works in question. */
  holdings: readonly Holding[]
  /** A sentence for each of its files that could not be read: what these hold is not known. */
  unread?: readonly string[]
}

/** Why nobody can say whether a library holds a title. */
export const notKnown = ({ name, unread = [] }: Pick<Profile, 'name' | 'unread'>): string =>
  `Whether ${name} holds it is not known: ${unread.length === 1 ? 'a file' : `${unread.length} files`} of its holdings could not be read. ${unread[0] ?? ''}`.trim()
