/**
 * Writes an error into the server's log: what failed, where in the code, and the database's number for it. Never what was
 * asked of the database, nor its words about it: both hold texts of students.
 */
export function logError(what: string, e: unknown): void {
  console.error(`${new Date().toISOString()} ${what}: ${describeError(e)}`)
}

/** An error without what it was about. */
export function describeError(e: unknown): string {
  if (!(e instanceof Error)) return typeof e
  const { original } = e as { original?: { errno?: number; code?: string; sqlState?: string } }
  const frames = (e.stack ?? '').split('\n').filter(line => /^\s+at /.test(line))
  const database = original || /^Sequelize/.test(e.name)
  const message = database
    ? `${original?.code ?? ''} ${original?.errno ?? ''} ${original?.sqlState ?? ''}`.trim()
    : e.message
  return [`${e.name} ${message}`, ...frames.slice(0, 12)].join('\n')
}
