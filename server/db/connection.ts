import mariadb from 'mariadb'
import { Sequelize } from 'sequelize'
import type { Settings } from '../base/settings'

/**
 * Sequelize 6 deletes a property of result arrays that newer versions of the driver define as fixed; results are
 * handed over as copies on which it can.
 */
const driver = {
  ...mariadb,
  createConnection: async (options: object) => {
    const connection = await mariadb.createConnection(options as never)
    const query = connection.query.bind(connection) as (...a: unknown[]) => Promise<unknown>
    ;(connection as unknown as { query: unknown }).query = async (...given: unknown[]) => {
      // the last border: half letters of UTF-16 are no text of the database
      const a = given.map(x => (typeof x === 'string' ? x.toWellFormed() : x))
      const rows = (await query(...a)) as unknown[] & { meta?: unknown }
      if (!Array.isArray(rows) || !('meta' in rows)) return rows
      const copy = rows.slice()
      Object.defineProperty(copy, 'meta', { value: rows.meta, writable: true, configurable: true })
      return copy
    }
    return connection
  },
}

/** A statement waits so long for what another transaction holds; it is tried three times. */
const LOCK_WAIT_SECONDS = 6

/** @param told of every statement, with the milliseconds it took */
export function connect(
  d: Omit<Settings['database'], 'folder' | 'reserveBytes'>,
  told?: (statement: string, ms: number) => void,
): Sequelize {
  return new Sequelize(d.name, d.user, d.password, {
    host: d.host,
    port: d.port,
    dialect: 'mariadb',
    dialectModule: driver,
    dialectOptions: {
      connectTimeout: d.connectMs ?? 4000,
      ...(d.socket ? { socketPath: d.socket } : {}),
      timezone: 'Z',
      // a request that waits for another's transaction says so before its client gives up
      initSql: [`SET SESSION innodb_lock_wait_timeout = ${LOCK_WAIT_SECONDS}`],
    },
    logging: told ? (statement, ms) => told(statement, ms ?? 0) : false,
    benchmark: Boolean(told),
    timezone: '+00:00',
    pool: { max: 12, min: 0, acquire: 8000, idle: 10_000 },
    define: { timestamps: false, underscored: true, freezeTableName: true },
  })
}
