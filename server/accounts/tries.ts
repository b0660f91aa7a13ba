import { QueryTypes } from 'sequelize'
import type { Context } from '../base/context'
import { hashOf } from '../base/hash'
import { Problem } from '../base/problem'

const MINUTES = 15
/** Failures within that time after which no more tries are taken. */
export const MOST_TRIES = { account: 10, address: 60, gate: 6 }

/**
 * Lets a try through, or not: failures are counted in the database, over all processes, by who tries and by whose
 * account it is. What they are about is kept as a keyed hash alone.
 * @throws Problem 429 with how long to wait
 */
export async function limitTries(
  context: Context,
  about: { kind: keyof typeof MOST_TRIES; of: string }[],
  attempt: () => Promise<boolean>,
): Promise<boolean> {
  const { sequelize } = context.db
  const keys = about.map(a => ({ ...a, key: hashOf(`${context.settings.secret} ${a.kind} ${a.of}`) }))
  for (const { kind, key } of keys) {
    const [row] = await sequelize.query<{ n: number; first: number }>(
      `SELECT COUNT(*) AS n, TIMESTAMPDIFF(SECOND, NOW(3), MIN(at) + INTERVAL ${MINUTES} MINUTE) AS first FROM tries WHERE about = :key AND at > NOW(3) - INTERVAL ${MINUTES} MINUTE`,
      { type: QueryTypes.SELECT, replacements: { key } },
    )
    if (Number(row!.n) >= MOST_TRIES[kind])
      throw new Problem(
        429,
        'too-many-tries',
        `Too many tries that failed. Wait ${Math.max(1, Math.ceil(Number(row!.first) / 60))} minutes, then try again.`,
        { retryAfter: Math.max(1, Number(row!.first)) },
      )
  }
  // counted before it is made: many at once are as many tries
  for (const { key } of keys)
    await sequelize.query('INSERT INTO tries (about) VALUES (:key)', { replacements: { key } })
  const forget = () =>
    sequelize.query('DELETE FROM tries WHERE about IN (:keys) ORDER BY id DESC LIMIT :n', {
      replacements: { keys: keys.map(k => k.key), n: keys.length },
    })
  let went = true
  try {
    went = await attempt()
  } finally {
    // what worked, or could not be tried at all, is no failure
    if (went) await forget()
  }
  return went
}
