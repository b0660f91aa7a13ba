import { appraise, type Kind } from '../appraise/kind'
import type { Signs } from '../appraise/signs'
import { buildWork, type BuiltWork } from '../match/best-fields'
import type { MatchRecord } from '../match/records'
import { languageCode } from '../bib/languages'
import { toldLanguage } from '../bib/told-language'
import { lineFacts, type LineFacts } from './line'
import type { Said } from './marks'

/** A work as the pool keeps it. */
export interface DescribedWork {
  item: BuiltWork['item']
  facts: BuiltWork['facts']
  fieldFrom: BuiltWork['from']
  line: LineFacts
  kind: Kind
  confidence: number
  evidence: string[]
  said: Said | null
}

/**
 * What a work is, from its records, what its student said of it and what its copies say of themselves. A kind the
 * student gave stands; the evidence stays what it was.
 */
export function describeWork(records: readonly MatchRecord[], said: Said = {}, signs: Signs = {}): DescribedWork {
  const built = buildWork(records, said.fields)
  const facts = withLanguage(built)
  const judged = appraise(built.item, facts, signs)
  return {
    item: built.item,
    facts,
    fieldFrom: built.from,
    line: lineFacts(built.item, facts),
    kind: said.kind ?? judged.kind,
    confidence: said.kind ? 1 : judged.confidence,
    evidence: judged.evidence,
    said: Object.keys(said).length ? said : null,
  }
}

/** What no source says of its language, its words may. */
function withLanguage({ item, facts }: BuiltWork): BuiltWork['facts'] {
  if (languageCode(item.language)) return facts
  const languageTold = toldLanguage(`${item.title ?? ''}. ${item.abstract ?? ''}`)
  return languageTold ? { ...facts, languageTold } : facts
}
