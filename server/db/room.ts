import { statfs } from 'node:fs/promises'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'

/** How long a look at the disk counts, in milliseconds. */
const FRESH = 500
let looked: { at: number; folder: string; room: Promise<boolean> } | undefined

/**
 * Whether the disk under the database has more than its reserve left. A database that finds no room in the middle of a
 * transaction cannot even take it back, and ends: so nothing is begun that could bring it there. Where the database
 * is on another machine its own word is waited for.
 */
export function hasRoom({ settings }: Context): Promise<boolean> {
  const { folder, reserveBytes } = settings.database
  if (!folder) return Promise.resolve(true)
  if (looked?.folder === folder && Date.now() - looked.at < FRESH) return looked.room
  const room = statfs(folder).then(
    s => s.bavail * s.bsize > reserveBytes,
    () => true,
  )
  looked = { at: Date.now(), folder, room }
  return room
}

/** The disk is full, or so nearly that nothing more is taken. */
export const diskFull = (): Problem =>
  new Problem(
    507,
    'disk-full',
    'The disk of the server is full, so this could not be saved. What was saved before stands and can be read; saving goes on by itself once there is room.',
  )

/** @throws Problem 507 where there is no room */
export async function requireRoom(context: Context): Promise<void> {
  if (!(await hasRoom(context))) throw diskFull()
}
