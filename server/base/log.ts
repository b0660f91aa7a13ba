import pino from 'pino'

/** The server's log, a line of JSON each. It names what failed and where; never texts of students. */
export const log = pino({
  level: process.env.LOG_LEVEL ?? 'warn',
  base: null,
  timestamp: pino.stdTimeFunctions.isoTime,
})

/**
 * Writes an error down: what failed, where in the code, and the database's number for it. Never what was asked of the
 * database, nor its words about it: both hold texts of students.
 */
export function logError(what: string, e: unknown): void {
  log.error({ error: describeError(e) }, what)
}

/** An error without what it was about. */
export function describeError(e: unknown): string {
  if (!(e instanceof Error)) return typeof e
  const { original } = e as { original?: { errno?: number; code?: string; sqlState?: string } }
  const frames = (e.stack ?? '').split('\n').filter(line => /^\s+at /.test(line))
  const database = original !== undefined || /^Sequelize/.test(e.name)
  const message = database ? [original?.code, original?.errno, original?.sqlState].filter(Boolean).join(' ') : e.message
  return [`${e.name} ${message}`.trim(), ...frames.slice(0, 12)].join('\n')
}
