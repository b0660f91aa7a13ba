import { beforeFields, byTemplate, onCampus, type Gate } from '../../core/schema/library'
import type { Answer } from '../../core/schema/api'
import { limitTries } from '../accounts/tries'
import type { Context } from '../base/context'
import { notFound, Problem } from '../base/problem'
import { seal, unseal } from '../base/seal'
import { OutsideError } from '../connect/http'
import { deskDay } from '../db/desk-day'
import { dropGateSession, gateFiles, gateSession, keepGateSession } from './gate-model'
import { leaveOf, librariesOf, type Library } from './libraries'

const USE = 'gate cookie'

/** A library with a gate. */
export type Gated = Library & { gate: Gate }
const isGated = (l: Library): l is Gated => l.gate !== undefined

/** The libraries of an inquiry that have a gate, in their order. */
export const gatedOf = async (c: Context, inquiryId: number): Promise<Gated[]> =>
  (await librariesOf(c, inquiryId)).filter(isGated)

/** One of them. @throws Problem 404 */
export async function gatedBy(c: Context, inquiryId: number, key: string): Promise<Gated> {
  const library = (await gatedOf(c, inquiryId)).find(l => l.key === key)
  if (!library) throw notFound()
  return library
}

/**
 * Signs a student in at the gate of a library with their card. The password is passed on and never kept.
 * @param from address of the machine they sit at
 * @throws Problem 422 where the gate refuses, or takes no card here; 429 after too many refusals
 */
export async function openGate(
  c: Context,
  userId: number,
  from: string,
  library: Gated,
  given: { card: string; password: string },
): Promise<void> {
  if (library.gate.manner !== 'form')
    throw new Problem(422, 'own-window', `${library.name} has its own pages to sign in: open them in your own window.`)
  let refused: Problem | undefined
  const tries = [
    { kind: 'gate' as const, of: String(userId) },
    { kind: 'address' as const, of: from },
  ]
  await limitTries(c, tries, async () => {
    try {
      await signIn(c, userId, library, given)
    } catch (e) {
      // only what the gate refused counts as a try
      if (!(e instanceof Problem) || e.code !== 'gate-refused') throw e
      refused = e
    }
    return !refused
  })
  if (refused) throw refused
}

/** How somebody stands at the gates of an inquiry's libraries. @param from address of the machine they sit at */
export async function gatesOf(
  c: Context,
  { inquiryId, userId, day }: { inquiryId: number; userId: number; day: string },
  from: string,
): Promise<Answer<'gates'>> {
  return Promise.all(
    (await gatedOf(c, inquiryId)).map(async library => {
      const { key, name, gate } = library
      const session = await gateSession(c, userId, key)
      return {
        library: key,
        name,
        manner: gate.manner,
        // where one begins who signs in by hand
        address: gate.signIn || beforeFields(gate.template),
        terms: gate.terms,
        hint: gate.hint ?? null,
        until: session ? session.until.toISOString() : null,
        today: await gateFiles(c, userId, key, day),
        daily: gate.daily ?? null,
        onCampus: onCampus(library, from),
      }
    }),
  )
}

async function signIn(
  c: Context,
  userId: number,
  library: Gated,
  given: { card: string; password: string },
): Promise<void> {
  const { gate, name, key } = library
  const { card = 'card', password = 'password', also = [] } = gate.fields ?? {}
  try {
    const answer = await c.outside(gate.signIn, {
      method: 'POST',
      hops: 0,
      headers: { 'content-type': 'application/x-www-form-urlencoded' },
      // the student has the terms in view when signing in
      body: new URLSearchParams([
        [card, given.card],
        [password, given.password],
        ...also.map((f): [string, string] => [f.name, f.value]),
      ]).toString(),
      ...leaveOf(library),
    })
    const set = ([] as string[]).concat(answer.headers['set-cookie'] ?? [])
    if (answer.status === 401 || !set.length)
      throw new Problem(422, 'gate-refused', `${name} does not accept this card and password.`)
    const cookie = set.map(s => s.split(';')[0]).join('; ')
    const seconds = Math.min(...set.map(s => Number(/max-age=(\d+)/i.exec(s)?.[1] ?? 1200)))
    await keepGateSession(c, userId, key, { cookie: seal(c.settings.secret, USE, cookie), seconds })
  } catch (e) {
    if (e instanceof OutsideError) throw new Problem(502, 'outside', `The gate does not answer: ${e.message}`)
    throw e
  }
}

/** Asks a gate whether the session that is kept here is one there too; one that ended there is forgotten. */
export async function lookAtGate(c: Context, userId: number, library: Gated): Promise<void> {
  const cookie = await gateCookie(c, userId, library.key)
  if (!cookie) return
  const { gate } = library
  try {
    const answer = await c.outside(byTemplate(gate.template, c.settings.outside.resolver), {
      hops: 0,
      gate: { suffix: gate.suffix, cookie },
      ...leaveOf(library),
    })
    const location = String(answer.headers.location ?? '')
    const to = URL.canParse(location, answer.url) ? new URL(location, answer.url).href : ''
    if ((gate.signIn && to.startsWith(gate.signIn)) || answer.status === 401) await forget(c, userId, library.key)
  } catch (e) {
    // a gate that does not answer says nothing of the session
    if (!(e instanceof OutsideError)) throw e
  }
}

/** Whether a card may fetch another file of a library today. */
export async function mayFetchMore(c: Context, userId: number, { key, gate }: Gated): Promise<boolean> {
  return gate.daily === undefined || (await gateFiles(c, userId, key, await deskDay(c.db))) < gate.daily
}

export const forget = (c: Context, userId: number, library: string): Promise<void> =>
  dropGateSession(c, userId, library)

/** The cookie of a gate for a user, or undefined where the session is over. */
export async function gateCookie(c: Context, userId: number, library: string): Promise<string | undefined> {
  const row = await gateSession(c, userId, library)
  if (!row) return undefined
  try {
    return unseal(c.settings.secret, USE, row.cookie)
  } catch {
    // sealed with another secret: it opens nothing any more
    await forget(c, userId, library)
    return undefined
  }
}
