/**
 * Addresses that last: without the session, the gate and the tracking that they were reached by. What is stored or
 * cited never carries them.
 */

/** Parameters by which a session or a reader is told. */
const SESSION =
  /^(jsessionid|phpsessid|aspsessionid\w*|asp\.net_sessionid|sid|session(_?id|token)?|sess(id)?|token|access_?token|auth(_?token)?|ticket|sso|login|cfid|cftoken)$/i
/** Parameters by which it is followed where a reader comes from. */
const TRACKING = /^(utm_.*|fbclid|gclid|dclid|msclkid|mc_[ce]id|_ga|_gl)$/i

/** A gate that puts its own name behind that of each host. */
export interface GateHosts {
  suffix: string
}

const isBehind = (host: string, { suffix }: GateHosts): boolean => suffix !== '' && host.endsWith(`.${suffix}`)

/** A host as it is called without the gate: dots stand as hyphens there, and hyphens twice. */
export function plainHost(host: string, gate: GateHosts): string {
  if (!isBehind(host, gate)) return host
  const inner = host.slice(0, -gate.suffix.length - 1)
  // some gates keep the dots
  if (inner.includes('.')) return inner
  return inner.replaceAll('--', '\u0000').replaceAll('-', '.').replaceAll('\u0000', '-')
}

/**
 * An address as it lasts; what is no address stays as it is.
 * @example lasting('http://a-example.gate.example/x;jsessionid=1?utm_source=b&id=2', [{ suffix: 'gate.example' }])
 * // 'http://a.example/x?id=2'
 */
export function lasting(address: string, gates: readonly GateHosts[] = []): string {
  if (!URL.canParse(address)) return address
  const url = new URL(address)
  if (!/^https?:$/.test(url.protocol)) return address
  for (const gate of gates) {
    // an address that opens another one through the gate
    const inside = url.hostname === gate.suffix && [...url.searchParams.values()].find(v => /^https?:\/\//i.test(v))
    if (inside) return lasting(inside, gates)
    if (isBehind(url.hostname, gate)) url.hostname = plainHost(url.hostname, gate)
  }
  url.username = ''
  url.password = ''
  url.pathname = url.pathname.replace(/;(jsessionid|sid|phpsessid)=[^/;?]*/gi, '')
  for (const name of new Set(url.searchParams.keys()))
    if (SESSION.test(name) || TRACKING.test(name)) url.searchParams.delete(name)
  return url.href
}
