import { sayLanguage } from '../query/languages'
import type { BriefRules } from '../write/brief'
import type { State } from './decisions'

export interface Fitted {
  id: number
  state: State
  kind: string
  confidence: number
  year: number | null
  language: string | null
}

/** Works that a rule of the brief shuts out; proposed, never decided. */
export interface Misfit {
  rule: 'language' | 'age' | 'kind'
  said: string
  /** The reason they would be set aside for. */
  reason: string
  works: number[]
}

/** How sure a kind has to be before a work is proposed for setting aside by it. */
const SURE = 0.8

export const REASON_OF = {
  language: 'In a language I do not read',
  age: 'Too old for the brief',
  kind: 'Of a kind the brief does not take',
} as const

/**
 * Undecided works that do not fit the brief: each under the first rule that shuts it out. What a record does not say
 * shuts nothing out.
 */
export function misfits(rules: BriefRules, works: Iterable<Fitted>): Misfit[] {
  const { languages, notBefore, kindsOut } = rules
  if (!languages?.length && !notBefore && !kindsOut?.length) return []
  const groups = new Map<string, Misfit>()
  const put = (rule: Misfit['rule'], key: string, said: string, id: number) => {
    const at = `${rule} ${key}`
    const group = groups.get(at) ?? { rule, said, reason: REASON_OF[rule], works: [] }
    group.works.push(id)
    groups.set(at, group)
  }
  for (const w of works) {
    if (w.state !== 'unread' && w.state !== 'later') continue
    const language = w.language?.toLowerCase().split(/[-_]/)[0]
    if (languages?.length && language && !languages.includes(language))
      put('language', language, `in ${sayLanguage(language)}`, w.id)
    else if (notBefore && w.year !== null && w.year < notBefore) put('age', '', `from before ${notBefore}`, w.id)
    else if (kindsOut?.length && w.confidence >= SURE && (kindsOut as string[]).includes(w.kind))
      put('kind', w.kind, `of the kind “${w.kind}”`, w.id)
  }
  return [...groups.values()].sort((a, b) => b.works.length - a.works.length)
}
