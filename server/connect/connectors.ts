import { setTimeout as pause } from 'node:timers/promises'
import { readAnswer, readTallies, type AnswerPage } from '../../core/connectors/answer'
import { needsKey, type Call, type CallName, type Connector, type TallyCall } from '../../core/connectors/description'
import { FIRST, requestFor, type Place, type Values } from '../../core/connectors/request'
import type { Context } from '../base/context'
import { decodeText } from '../base/decode'
import { seal, unseal } from '../base/seal'
import type { Outside } from '../base/settings'
import { countRequest, keepSealedKey, sealedKey } from './connectors-model'
import { OutsideError, requireSuccess } from './http'

/** Bytes of one answer at most. */
const LONGEST_ANSWER = 8_000_000
/** Seconds that a server's "not so fast" is waited for; what takes longer is told. */
const LONGEST_WAIT = 20
const TRIES = 3

/** The servers that can be asked something, in the operator's order. */
export const connectorsFor = (outside: Outside, call: keyof Connector['calls']): Connector[] =>
  outside.connectors.filter(x => x.calls[call])

/** Who is asked for citations, in words. */
export const citationsName = (c: Pick<Context, 'settings'>): string =>
  (connectorsFor(c.settings.outside, 'citedBy')[0] ?? connectorsFor(c.settings.outside, 'references')[0])?.name ??
  'the citation index'

const USE = 'connector key'
/** Keeps the key that a server asks for, sealed; without one it is forgotten. */
export const keepKey = (c: Context, connector: string, key: string | undefined): Promise<void> =>
  keepSealedKey(c, connector, key ? seal(c.settings.secret, USE, key) : undefined)

async function keyOf(c: Context, connector: Connector): Promise<string | undefined> {
  if (!needsKey(connector)) return undefined
  const sealed = await sealedKey(c, connector.id)
  if (!sealed) throw new OutsideError(`${connector.name} asks for a key, and the operator has set none.`, false)
  return unseal(c.settings.secret, USE, sealed)
}

/** When each server may be asked again, in milliseconds. */
const free = new Map<string, number>()
/** Waits for a connector's turn; requests of one process go out at its rate, whoever asks. */
async function turn({ id, perSecond = 5 }: Connector, signal: AbortSignal): Promise<void> {
  const now = Date.now()
  const at = Math.max(now, free.get(id) ?? 0)
  free.set(id, at + 1000 / perSecond)
  if (at > now) await pause(at - now, undefined, { signal })
}

/**
 * The pages of what a server answers, one after the other; nothing where it does not know what is asked for.
 * @throws OutsideError
 */
export async function* askConnector(
  c: Context,
  connector: Connector,
  name: CallName,
  values: Omit<Values, 'key'>,
  signal: AbortSignal,
): AsyncGenerator<AnswerPage> {
  const call = connector.calls[name]
  if (!call) return
  const key = await keyOf(c, connector)
  for (let place: Place | undefined = FIRST; place;) {
    const at: Place = place
    const given = { ...values, ...(key ? { key } : {}) }
    const page: AnswerPage | undefined = await askPage(c, connector, call, given, at, signal, (text, link, url) =>
      readAnswer(call, text, link, at, url),
    )
    if (!page) return
    yield page
    place = page.next
  }
}

/** The first page of what a server answers, for what is told in one. @throws OutsideError */
export async function askConnectorOnce(...asked: Parameters<typeof askConnector>): Promise<AnswerPage | undefined> {
  for await (const page of askConnector(...asked)) return page
  return undefined
}

/** How the works of a field and year are cited; undefined where that is not known. @throws OutsideError */
export async function askPeers(
  c: Context,
  connector: Connector,
  values: { field: string; year: string },
  signal: AbortSignal,
): Promise<[citedBy: number, works: number][] | undefined> {
  const call = connector.calls.peers
  if (!call) return undefined
  const key = await keyOf(c, connector)
  return askPage(c, connector, call, { ...values, ...(key ? { key } : {}) }, FIRST, signal, text =>
    readTallies(call, text),
  )
}

async function askPage<T>(
  c: Context,
  connector: Connector,
  call: Call | TallyCall,
  values: Values,
  place: Place,
  signal: AbortSignal,
  readAs: (text: string, link: string | undefined, url: string) => T,
): Promise<T | undefined> {
  const { url, ...how } = requestFor(connector, call, values, place)
  for (let tries = 1; ; tries++) {
    if (connector.perDay && !(await countRequest(c, connector.id, connector.perDay)))
      throw new OutsideError(
        `${connector.name} may be asked ${connector.perDay} times a day, and that is used up. It can be asked again tomorrow.`,
        false,
      )
    await turn(connector, signal)
    try {
      // a key is for its own server
      const sameHost = values.key !== undefined
      const answer = await c.outside(url, { ...how, timeoutMs: 10_000, maxBytes: LONGEST_ANSWER, signal, sameHost })
      if (answer.status === 404 || answer.status === 410) return undefined
      if (answer.status === 401 || answer.status === 403)
        throw new OutsideError(`${connector.name} does not let this Vine Path in (${answer.status}).`, false)
      const { body, headers } = requireSuccess(answer)
      if (!body.length) return undefined
      const link = headers.link === undefined ? undefined : String(headers.link)
      const { text } = decodeText(body)
      return read(connector, () => readAs(text, link, answer.url))
    } catch (e) {
      const wait = e instanceof OutsideError ? e.afterSeconds : undefined
      if (wait === undefined || wait > LONGEST_WAIT || tries >= TRIES) throw e
      free.set(connector.id, Math.max(free.get(connector.id) ?? 0, Date.now() + wait * 1000))
    }
  }
}

function read<T>(connector: Connector, how: () => T): T {
  try {
    return how()
  } catch (e) {
    if (e instanceof SyntaxError || e instanceof RangeError)
      throw new OutsideError(`${connector.name} sent an answer that cannot be read: ${e.message}`, true)
    throw e
  }
}
