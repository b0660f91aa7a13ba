import { parseTemplate } from 'url-template'
import type { Context } from '../base/context'
import type { Outside } from '../base/settings'
import { dropGateSession, gateFiles, gateSession, keepGateSession } from './gate-model'
import { deskDay } from '../db/desk-day'
import type { Answer } from '../../core/schema/api'
import { limitTries } from '../accounts/tries'
import { OutsideError } from '../connect/http'
import { Problem } from '../base/problem'
import { seal, unseal } from '../base/seal'

const USE = 'gate cookie'

/**
 * Signs a student in at the gate of the home library with their card. The password is passed on and never kept.
 * @param from address of the machine they sit at
 * @throws Problem 422 where the gate refuses; 429 after too many refusals
 */
export async function openGate(
  c: Context,
  userId: number,
  from: string,
  given: { card: string; password: string },
): Promise<void> {
  let refused: Problem | undefined
  const tries = [
    { kind: 'gate' as const, of: String(userId) },
    { kind: 'address' as const, of: from },
  ]
  await limitTries(c, tries, async () => {
    try {
      await signIn(c, userId, given.card, given.password)
    } catch (e) {
      // only what the gate refused counts as a try
      if (!(e instanceof Problem) || e.code !== 'gate-refused') throw e
      refused = e
    }
    return !refused
  })
  if (refused) throw refused
}

export async function gateState(c: Context, userId: number): Promise<Answer<'gate'>> {
  const { name, gate } = c.settings.outside.library
  const session = await gateSession(c, userId)
  return {
    library: name,
    terms: gate.terms,
    hint: gate.hint ?? null,
    until: session ? session.until.toISOString() : null,
    today: await gateFiles(c, userId, await deskDay(c.db)),
    daily: gate.daily ?? null,
  }
}

async function signIn(c: Context, userId: number, card: string, password: string): Promise<void> {
  const { gate, name } = c.settings.outside.library
  try {
    const answer = await c.outside(gate.signIn, {
      method: 'POST',
      hops: 0,
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      // the student has the terms in view when signing in
      body: new URLSearchParams({ card, password, terms: 'accepted', then: '' }).toString(),
    })
    const set = ([] as string[]).concat(answer.headers['set-cookie'] ?? [])
    if (answer.status === 401 || !set.length)
      throw new Problem(422, 'gate-refused', `${name} does not accept this card and password.`)
    const cookie = set.map(s => s.split(';')[0]).join('; ')
    const age = Math.min(...set.map(s => Number(/max-age=(\d+)/i.exec(s)?.[1] ?? 1200)))
    await keepGateSession(c, userId, seal(c.settings.secret, USE, cookie), age)
  } catch (e) {
    if (e instanceof OutsideError) throw new Problem(502, 'outside', `The gate does not answer: ${e.message}`)
    throw e
  }
}

/** Asks the gate whether the session that is kept here is one there too; one that ended there is forgotten. */
export async function lookAtGate(c: Context, userId: number): Promise<void> {
  const cookie = await gateCookie(c, userId)
  if (!cookie) return
  const { resolver, library } = c.settings.outside
  try {
    const answer = await c.outside(throughGate(c, resolver), { hops: 0, gateCookie: cookie })
    const location = String(answer.headers.location ?? '')
    const to = URL.canParse(location, answer.url) ? new URL(location, answer.url).href : ''
    if (to.startsWith(library.gate.signIn) || answer.status === 401) await forget(c, userId)
  } catch (e) {
    // a gate that does not answer says nothing of the session
    if (!(e instanceof OutsideError)) throw e
  }
}

/** Whether a card may fetch another file today. */
export async function mayFetchMore(c: Context, userId: number): Promise<boolean> {
  const { daily } = c.settings.outside.library.gate
  return daily === undefined || (await gateFiles(c, userId, await deskDay(c.db))) < daily
}

export const forget = (c: Context, userId: number): Promise<void> => dropGateSession(c, userId)

/** The gate's cookie of a user, or undefined where the session is over. */
export async function gateCookie(c: Context, userId: number): Promise<string | undefined> {
  const row = await gateSession(c, userId)
  return row ? unseal(c.settings.secret, USE, row.cookie) : undefined
}

/** An address led through the gate, by its RFC 6570 template. */
export const throughGate = (c: { settings: { outside: Outside } }, url: string): string =>
  parseTemplate(c.settings.outside.library.gate.template).expand({ url })
