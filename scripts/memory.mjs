import { statfsSync } from 'node:fs'

const MEMORY = '/dev/shm'
/** What a whole run of tests holds at once: about a gigabyte. */
const ROOM = 3 * 2 ** 30

/**
 * A folder in memory for what need not outlast a run of tests: a disk would be waited for at each of thousands of
 * tables and commits. @returns undefined where the machine has none, or no room in it
 */
export function memoryFolder() {
  try {
    const { bavail, bsize } = statfsSync(MEMORY)
    return bavail * bsize > ROOM ? MEMORY : undefined
  } catch {
    return undefined
  }
}
