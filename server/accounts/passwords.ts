import { hash, verify } from '@node-rs/argon2'
import { ZxcvbnFactory } from '@zxcvbn-ts/core'
import { adjacencyGraphs, dictionary } from '@zxcvbn-ts/language-common'
import { LONGEST_PASSWORD as LONGEST } from '../../core/schema/api/accounts'
import { Problem } from '../base/problem'

export const SHORTEST = 10
/** Guesses a thousand a second for some months: what is known, repeated or typed along the keys is below it. */
const GUESSES = 1e8

const strength = new ZxcvbnFactory({ dictionary, graphs: adjacencyGraphs })

/** A hash of nobody's password, so that a sign-in takes as long where there is no such account. */
const NOBODY = '$argon2id$v=19$m=19456,t=2,p=1$c29tZXNhbHRzb21lc2FsdA$1mCq1mQyMPWcMvC4xXo1bq3cVwVL3wJDUoB1p2pSg4s'

/** Argon2id, with the package's settings. */
export const hashPassword = (password: string): Promise<string> => hash(password)

export const fitsPassword = (passwordHash: string | undefined, password: string): Promise<boolean> =>
  verify(passwordHash ?? NOBODY, password).catch(() => false)

/**
 * Why a password will not do; undefined where it will.
 * @param known what everybody knows of its owner: name, address
 */
export function weakness(password: string, known: readonly string[] = []): string | undefined {
  if (password.length < SHORTEST)
    return `A password needs ${SHORTEST} letters or more. Four words that do not belong together are easy to remember.`
  if (password.length > LONGEST) return `A password may have ${LONGEST} letters.`
  const parts = known.flatMap(k => k.toLowerCase().split(/[\s@.]+/)).filter(p => p.length > 2)
  const rest = parts.reduce((p, part) => p.replaceAll(part, ''), password.toLowerCase())
  if (rest.length < SHORTEST - 2)
    return 'This password is made of your own name or address. Take words that have nothing to do with you.'
  // the package looks at the first hundred letters, which decide enough
  const { guesses } = strength.check(password.slice(0, 100), parts)
  return guesses < GUESSES
    ? 'This password is too easy to guess: it is among the common ones, or made of few parts. Four words that do not belong together are easy to remember.'
    : undefined
}

/** @throws Problem 422 where a password will not do */
export function requireStrong(password: string, known: readonly string[] = []): void {
  const why = weakness(password, known)
  if (why) throw new Problem(422, 'weak-password', why, { fields: [{ field: 'password', said: why }] })
}
