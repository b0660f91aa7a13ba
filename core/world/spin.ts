import type { Random } from './random'

/**
 * A small grammar of sentences. In a template, `[a|b|c]` takes one of its branches (they can stand inside one
 * another), `{slot}` the words given for it, `{Slot}` the same with a capital, `{6-64}` a whole number of that range
 * and `{.1-9}` one with a decimal.
 */
export type Slots = Readonly<Record<string, string>>

type Part = string | { slot: string; capital: boolean } | { from: number; to: number; decimal: boolean } | Part[][]

/** Templates are few and stand in the grammar; never give a text that was already spun. */
const compiled = new Map<string, Part[]>()

/** Spins a template into text. @throws Error naming a slot that is not given */
export function spin(template: string, slots: Slots, r: Random): string {
  let parts = compiled.get(template)
  if (!parts) compiled.set(template, (parts = compile(template)))
  return run(parts, slots, r)
}

function run(parts: readonly Part[], slots: Slots, r: Random): string {
  let out = ''
  for (const p of parts) {
    if (typeof p === 'string') out += p
    else if (Array.isArray(p)) out += run(p[Math.floor(r() * p.length)]!, slots, r)
    else if ('slot' in p) {
      const words = slots[p.slot]
      if (words === undefined) throw new Error(`No words are given for {${p.slot}}.`)
      out += p.capital ? capital(words) : words
    } else out += p.decimal ? `${r.int(p.from, p.to)}.${r.int(1, 9)}` : String(r.int(p.from, p.to))
  }
  return out
}

export const capital = (s: string): string => s.charAt(0).toUpperCase() + s.slice(1)

function compile(template: string): Part[] {
  let i = 0
  const sequence = (inside: boolean): Part[] => {
    const parts: Part[] = []
    let text = ''
    const flush = () => {
      if (text) parts.push(text)
      text = ''
    }
    while (i < template.length) {
      const c = template[i]!
      if (c === '[') {
        flush()
        i++
        const branches: Part[][] = [sequence(true)]
        while (template[i] === '|') {
          i++
          branches.push(sequence(true))
        }
        if (template[i] !== ']') throw new Error(`A bracket is not closed: ${template}`)
        i++
        parts.push(branches)
      } else if (inside && (c === '|' || c === ']')) break
      else if (c === '{') {
        flush()
        const end = template.indexOf('}', i)
        const name = template.slice(i + 1, end)
        i = end + 1
        const range = /^(\.)?(\d+)-(\d+)$/.exec(name)
        parts.push(
          range
            ? { from: Number(range[2]), to: Number(range[3]), decimal: Boolean(range[1]) }
            : { slot: name.charAt(0).toLowerCase() + name.slice(1), capital: /^[A-Z]/.test(name) },
        )
      } else {
        text += c
        i++
      }
    }
    flush()
    return parts
  }
  return sequence(false)
}
