import type { Endpoint } from '../../core/schema/api/endpoint'
import { BYTES } from '../../core/schema/api/endpoint'
import { jsonSchema, type JsonSchema } from './openapi'

/** The page to read the API by: what holds of all addresses, then each with what it takes and gives. */
export function apiPage(general: string, parts: readonly [string, Readonly<Record<string, Endpoint>>][]): string {
  const lines = [general.trimEnd(), '']
  for (const [title, endpoints] of parts) {
    lines.push(`## ${title}`, '')
    for (const e of Object.values(endpoints)) {
      lines.push(`### \`${e.method} ${e.path}\``, '', sayDone(e), '')
      const told = [
        ...(e.query ? [`- query: \`${sayType(jsonSchema(e.query))}\``] : []),
        ...(e.body === BYTES
          ? [`- body: the bytes of a file, at most ${Math.round((e.most ?? 0) / 1024 / 1024)} MB`]
          : e.body
            ? [`- body: \`${sayType(jsonSchema(e.body))}\``]
            : []),
        `- answers ${e.status.join(' or ')}${sayAnswer(e)}`,
      ]
      lines.push(...told, '')
    }
  }
  return lines.join('\n')
}

const sayDone = (e: Endpoint): string =>
  [e.does, e.ifMatch ? 'Needs If-Match.' : '', e.forReaders ? 'Readers may, too.' : ''].filter(Boolean).join(' ')

function sayAnswer(e: Endpoint): string {
  if (!e.answer) return ''
  if (Array.isArray(e.answer)) return `: ${(e.answer as string[]).map(t => `\`${t}\``).join(', ')}`
  return `: \`${sayType(jsonSchema(e.answer as Exclude<typeof e.answer, readonly string[]>))}\``
}

/** A shape in a line. @example sayType({ type: 'array', items: { type: 'string' } }) // '[text]' */
export function sayType(s: JsonSchema): string {
  const types = ([] as unknown[]).concat(s.type ?? [])
  const orNull = types.includes('null') ? ' | null' : ''
  const type = types.find(t => t !== 'null')
  if (Array.isArray(s.anyOf)) return (s.anyOf as JsonSchema[]).map(sayType).join(' | ')
  if (Array.isArray(s.enum)) {
    const values = s.enum.filter(v => v !== null)
    const few =
      values.length > 6
        ? `${values
            .slice(0, 4)
            .map(v => `"${String(v)}"`)
            .join(' | ')} | …`
        : values.map(v => `"${String(v)}"`).join(' | ')
    return few + orNull
  }
  if (type === 'array') return `[${s.items ? sayType(s.items as JsonSchema) : '…'}]${orNull}`
  if (type === 'object') {
    const fields = Object.entries((s.properties ?? {}) as Record<string, JsonSchema>)
    if (!fields.length) return `{…}${orNull}`
    const needed = (s.required ?? []) as string[]
    return `{ ${fields.map(([n, f]) => `${n}${needed.includes(n) ? '' : '?'}: ${sayType(f)}`).join(', ')} }${orNull}`
  }
  const plain: Record<string, string> = { string: 'text', integer: 'whole number', number: 'number', boolean: 'yes/no' }
  return (plain[String(type)] ?? 'null') + orNull
}
