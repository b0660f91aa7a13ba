import { sayLanguage } from '../query/languages'
import { shutOut, type BriefRules, type EntryRule, type Entering } from '../write/rules'
import type { State } from './decisions'

export interface Fitted extends Entering {
  id: number
  state: State
}

/** Works that a rule of the brief shuts out; proposed, never decided. */
export interface Misfit {
  rule: EntryRule
  said: string
  /** The reason they would be set aside for. */
  reason: string
  works: number[]
}

export const REASON_OF = {
  language: 'In a language I do not read',
  age: 'Too old for the brief',
  kind: 'Of a kind the brief does not take',
} as const

/** Undecided works that the brief shuts out, each under the first rule that does. */
export function misfits(rules: BriefRules, works: Iterable<Fitted>): Misfit[] {
  const groups = new Map<string, Misfit>()
  for (const w of works) {
    if (w.state !== 'unread' && w.state !== 'later') continue
    const out = shutOut(rules, w)
    if (!out) continue
    const { rule, value } = out
    const key = `${rule} ${value}`
    const group = groups.get(key) ?? { rule, said: say(rule, value, rules), reason: REASON_OF[rule], works: [] }
    group.works.push(w.id)
    groups.set(key, group)
  }
  return [...groups.values()].sort((a, b) => b.works.length - a.works.length)
}

const say = (rule: EntryRule, value: string, rules: BriefRules): string =>
  rule === 'language'
    ? `in ${sayLanguage(value)}`
    : rule === 'age'
      ? `from before ${rules.notBefore}`
      : `of the kind “${value}”`
