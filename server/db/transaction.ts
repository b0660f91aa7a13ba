import type { Sequelize, Transaction } from 'sequelize'

const DEADLOCK = 1213
const WAITED_TOO_LONG = 1205

/** The database's own number of what went wrong; undefined where it was not the database. */
export const errnoOf = (e: unknown): number | undefined => (e as { original?: { errno?: number } }).original?.errno

/**
 * A transaction that is tried again where the database broke it off for another's sake (deadlock) or kept it waiting:
 * of a try that failed nothing is left.
 */
export async function inTransaction<T>(sequelize: Sequelize, work: (t: Transaction) => Promise<T>): Promise<T> {
  for (let tries = 1; ; tries++) {
    try {
      return await sequelize.transaction(work)
    } catch (e) {
      const errno = errnoOf(e)
      const again = (errno === DEADLOCK && tries < 6) || (errno === WAITED_TOO_LONG && tries < 3)
      if (!again) throw e
    }
  }
}

/** What the database says where it, or the disk under it, is full. */
const FULL = new Set([1021, 1114, 1041, 28])

/** The disk is full: nothing more can be kept until there is room. */
export function isFull(e: unknown): boolean {
  const errno = errnoOf(e)
  const said = (e as { original?: { sqlMessage?: string } }).original?.sqlMessage ?? ''
  return (errno !== undefined && FULL.has(errno)) || /No space left|errno: 28|disk full/i.test(said)
}

/** The database is away: it cannot be reached, went away in the middle, or is not yet one with its cluster (1047). */
export function isAway(e: unknown): boolean {
  const { name = '', original } = e as { name?: string; original?: { code?: string; errno?: number; message?: string } }
  if (/^SequelizeConnection/.test(name) || /^Sequelize(HostNot|AccessDenied)/.test(name)) return true
  return (
    /^Sequelize(Database|Unknown)?Error$/.test(name) &&
    /ECONN|EPIPE|ETIMEDOUT|ER_SOCKET|ER_CMD_CONNECTION_CLOSED|ER_CONNECTION|ER_SERVER_SHUTDOWN|1927|1053|1152|1047/.test(
      `${original?.code ?? ''} ${original?.errno ?? ''} ${original?.message ?? ''}`,
    )
  )
}

/** Waiting helps: the database is away, full, or busy with what others do. Nothing of the work is to blame. */
export function isDatabaseTrouble(e: unknown): boolean {
  const errno = errnoOf(e)
  return isAway(e) || isFull(e) || errno === DEADLOCK || errno === WAITED_TOO_LONG
}
