import { lookup } from 'node:dns'
import { isIP, type LookupFunction } from 'node:net'
import { pipeline, type Readable, type Transform } from 'node:stream'
import { createBrotliDecompress, createGunzip, createInflate } from 'node:zlib'
import ipaddr from 'ipaddr.js'
import { Agent, buildConnector, request } from 'undici'
import { beforeNames } from '../../core/connectors/description'
import { addressesOf } from '../../core/schema/library'
import type { Outside } from '../base/settings'

export interface OutsideAnswer {
  status: number
  headers: Record<string, string | string[] | undefined>
  body: Buffer
  /** Address of the last hop. */
  url: string
}

export interface OutsideRequest {
  method?: 'GET' | 'POST' | 'PUT'
  headers?: Record<string, string>
  body?: string
  timeoutMs?: number
  maxBytes?: number
  signal?: AbortSignal
  /** Hops followed at most; 0 gives the redirect itself. */
  hops?: number
  /** What is sent is for this host alone: one that sends on to another is not followed. */
  sameHost?: boolean
  /** A gate that is asked through: its cookie is sent to its hosts alone. */
  gate?: { suffix: string; cookie: string }
  /** What may be fetched beside what the settings name: on account of a library that was allowed. */
  also?: { addresses: readonly string[]; suffix?: string }
}

export type OutsideClient = (url: string, options?: OutsideRequest) => Promise<OutsideAnswer>

declare module '../base/context' {
  interface Context {
    outside: OutsideClient
  }
}

/** Why something outside did not answer as it should, in a sentence; `again` says whether trying again can help. */
export class OutsideError extends Error {
  constructor(
    said: string,
    readonly again: boolean,
    readonly afterSeconds?: number,
  ) {
    super(said)
  }
}

/** An address that may not be fetched from here; the student can open it. */
export class NotAllowed extends OutsideError {
  constructor(said: string) {
    super(said, false)
  }
}

/** Why an address may not be fetched, in a sentence; nothing where it may. */
type Rule = (at: URL, also?: OutsideRequest['also']) => string | undefined

/**
 * What may be fetched: configured hosts only, or any public one by https where the settings say so, by the ports that
 * the settings name and the usual ones.
 */
export function outsideRule(outside: Outside): Rule {
  const addresses = [
    ...outside.libraries.flatMap(addressesOf),
    ...(outside.directory ? [outside.directory] : []),
    ...outside.vocabularies.map(v => v.address),
    outside.resolver,
    ...outside.catalogues.flatMap(c => c.sru ?? c.oai ?? []),
    ...outside.connectors.flatMap(c =>
      Object.values(c.calls).flatMap(call => (call ? [beforeNames(call.address)] : [])),
    ),
    ...(outside.desk ? [outside.desk] : []),
  ].map(a => new URL(a.replace(/\{.*$/, '')))
  const allowed = new Set([...addresses.map(a => a.hostname), ...outside.alsoFetch])
  const ports = new Set(['', ...addresses.map(a => a.port)])
  const suffixes = outside.libraries.flatMap(l => l.gate?.suffix || [])
  const isPublic = publicAddress(outside.privateNetworks)
  return (at, also) => {
    const host = at.hostname.replace(/^\[|\]$/g, '')
    const others = (also?.addresses ?? []).map(a => new URL(a))
    const named =
      allowed.has(at.hostname) ||
      others.some(o => o.hostname === at.hostname) ||
      [...suffixes, ...(also?.suffix ? [also.suffix] : [])].some(s => isOf(at.hostname, s))
    if (!/^https?:$/.test(at.protocol) || !(named || (outside.anyPublicHost && at.protocol === 'https:')))
      return `${at.hostname} is not among the hosts that may be fetched.`
    if (!ports.has(at.port) && !others.some(o => o.host === at.host))
      return `Port ${at.port} of ${at.hostname} is not among those that may be fetched.`
    if (at.username || at.password) return `An address with a name and password in it is not fetched.`
    if (isIP(host) && !isMadeUp(outside, host) && !isPublic(host)) return `${at.hostname} ${INSIDE}`
    return undefined
  }
}

const isMadeUp = ({ loopback }: Outside, host: string): boolean =>
  loopback !== undefined && host.endsWith(loopback.suffix)

/**
 * The one way outside, within that rule: the host of every redirect is checked again, and the address it leads to is no
 * loopback, private or link-local one; answers are cut at a size and a time.
 */
export function outsideClient(outside: Outside): OutsideClient {
  const rule = outsideRule(outside)
  // what a name leads to is looked at in the moment of connecting, so that it cannot be another one by then
  const lookingAt = publicLookup(publicAddress(outside.privateNetworks))
  const connector = buildConnector({ lookup: lookingAt } as buildConnector.BuildOptions)
  const inside = buildConnector({})
  const dispatcher = new Agent({
    connect: (options, callback) => {
      const l = outside.loopback
      if (l && isMadeUp(outside, options.hostname))
        return inside({ ...options, hostname: l.address, port: String(l.port) }, callback)
      return connector(options, callback)
    },
  })
  return async (start, options = {}) => {
    let url = start
    for (let hop = 0; ; hop++) {
      const at = new URL(url)
      const why = rule(at, options.also)
      if (why) throw new NotAllowed(why)
      const { gate } = options
      const cookies = [options.headers?.cookie, gate && isOf(at.hostname, gate.suffix) && gate.cookie].filter(Boolean)
      const cookie: Record<string, string> = cookies.length ? { cookie: cookies.join('; ') } : {}
      const answer = await once(url, { ...options, headers: { ...options.headers, ...cookie } }, dispatcher)
      const next = answer.headers.location
      if (![301, 302, 303, 307, 308].includes(answer.status) || !next || options.hops === 0) return answer
      if (hop >= (options.hops ?? 6))
        throw new OutsideError(`${at.hostname} sends from one address to the next without end.`, false)
      if (!URL.canParse(String(next), url)) throw new OutsideError(`${at.hostname} sends on to no address.`, false)
      const to = new URL(String(next), url)
      if (options.sameHost && to.host !== at.host)
        throw new OutsideError(`${at.hostname} sends on to ${to.hostname}, which is not followed with its key.`, false)
      url = to.href
    }
  }
}

/** Whether a host is one of a name, or stands before it. */
const isOf = (host: string, suffix: string): boolean => host === suffix || host.endsWith(`.${suffix}`)

const INSIDE = 'leads to an address inside this network, which is not fetched.'

/**
 * Tells public addresses from all others: loopback, private, link-local, multicast, reserved, or within other forms.
 */
export function publicAddress(privateNetworks: readonly string[] = []): (address: string) => boolean {
  const also = privateNetworks.map(n => ipaddr.parseCIDR(n))
  return address => {
    if (!ipaddr.isValid(address)) return false
    // an IPv4 address within an IPv6 one is what it is
    const a = ipaddr.process(address)
    return a.range() === 'unicast' || also.some(n => n[0].kind() === a.kind() && a.match(n))
  }
}

const NOT_PUBLIC = 'ENOTPUBLIC'
function publicLookup(isPublic: (address: string) => boolean): LookupFunction {
  return (hostname, options, done) => {
    lookup(hostname, { ...options, all: true }, (e, found) => {
      if (e) return done(e, [])
      if (!found.every(f => isPublic(f.address)))
        return done(Object.assign(new Error(NOT_PUBLIC), { code: NOT_PUBLIC }), [])
      if (options.all) return done(null, found)
      done(null, found[0]!.address, found[0]!.family)
    })
  }
}

async function once(url: string, o: OutsideRequest, dispatcher: Agent): Promise<OutsideAnswer> {
  const host = new URL(url).hostname
  const timeout = AbortSignal.timeout(o.timeoutMs ?? 20_000)
  const signal = o.signal ? AbortSignal.any([o.signal, timeout]) : timeout
  const most = o.maxBytes ?? 40_000_000
  try {
    const answer = await request(url, {
      method: o.method ?? 'GET',
      headers: { 'user-agent': 'VinePath/0.1', ...o.headers },
      body: o.body ?? null,
      dispatcher,
      signal,
    })
    const parts: Buffer[] = []
    let size = 0
    for await (const part of plainBody(answer.body, answer.headers['content-encoding'])) {
      size += part.length
      if (size > most)
        throw new OutsideError(`${host} sent more than ${Math.round(most / 1e6)} MB; the rest was not read.`, false)
      parts.push(part)
    }
    return { status: answer.statusCode, headers: answer.headers, body: Buffer.concat(parts), url }
  } catch (e) {
    if (e instanceof OutsideError || o.signal?.aborted) throw e
    if (timeout.aborted)
      throw new OutsideError(
        `${host} did not answer within ${Math.round((o.timeoutMs ?? 20_000) / 1000)} seconds.`,
        true,
      )
    const code = (e as { code?: string }).code ?? ''
    if (code === NOT_PUBLIC) throw new OutsideError(`${host} ${INSIDE}`, false)
    if (/^(Z_|ERR_BROTLI|ERR__ERROR_)/.test(code))
      throw new OutsideError(`${host} sent an answer that cannot be unpacked.`, true)
    if (code === 'UND_ERR_SOCKET' || code === 'UND_ERR_RES_CONTENT_LENGTH_MISMATCH' || code === 'ECONNRESET')
      throw new OutsideError(`${host} broke off in the middle of its answer.`, true)
    throw new OutsideError(`${host} cannot be reached${code ? ` (${code})` : ''}.`, true)
  }
}

const UNPACK: Record<string, () => Transform> = {
  gzip: createGunzip,
  'x-gzip': createGunzip,
  deflate: createInflate,
  br: createBrotliDecompress,
}
/** What was sent without its packing: some pack unasked. Its size is counted unpacked. */
function plainBody(body: Readable, encoding: string | string[] | undefined): AsyncIterable<Buffer> {
  const unpack =
    UNPACK[
      String(encoding ?? '')
        .trim()
        .toLowerCase()
    ]
  return unpack ? pipeline(body, unpack(), () => undefined) : body
}

/** Throws the sentence for an answer that is no success. */
export function requireSuccess(a: OutsideAnswer): OutsideAnswer {
  if (a.status < 400) return a
  const host = new URL(a.url).hostname
  const wait = Number(a.headers['retry-after'])
  if (a.status === 429)
    throw new OutsideError(`${host} asks for fewer requests (429).`, true, Number.isFinite(wait) ? wait : 5)
  if (a.status === 503)
    throw new OutsideError(
      `${host} is out of service for the moment (503).`,
      true,
      Number.isFinite(wait) ? wait : undefined,
    )
  throw new OutsideError(`${host} answered with an error (${a.status}).`, a.status >= 500)
}
