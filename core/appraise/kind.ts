import type { Facts, Item } from '../bib/item'
import { KINDS, type Kind } from './kinds'
import { featuresOf } from './features'
import type { Signs } from './signs'
import { WEIGHTS } from './weights'

export { KINDS, type Kind } from './kinds'

export interface Appraisal {
  kind: Kind
  /** Share of the kind in the summed odds, 0 to 1. */
  confidence: number
  /** What speaks for the kind, strongest first. */
  evidence: string[]
  refereedVenue: boolean | undefined
  aheadOfPrint: boolean
}

/** The level that evidence has to pass. */
export const UNKNOWN = 2
/** Log-odds from which a feature is worth a sentence. */
const LEAST_SAID = 0.2
/** By how much the odds are sharpened so that shares come true as often as they say; fitted on seed 5 of the worlds. */
export const SHARPEN = 1.8

/**
 * What a record really is: each feature that is seen adds its log-odds to the kinds it speaks for or against, with a
 * sentence; the odds are normalised over all kinds (softmax). "unknown" stands at a fixed level that evidence has to
 * pass. The weights are learned (`weights.ts`).
 * @param signs what the pages of its copy say, where there is one
 */
export function appraise(item: Item, facts: Facts, signs: Signs = {}): Appraisal {
  const features = featuresOf(item, facts, signs)
  const sums = new Map<Kind, number>(KINDS.map(k => [k, 0]))
  sums.set('unknown', UNKNOWN)
  for (const { name } of features)
    for (const [kind, weight] of Object.entries(WEIGHTS[name] ?? {}))
      sums.set(kind as Kind, sums.get(kind as Kind)! + weight)
  const total = [...sums.values()].reduce((t, s) => t + Math.exp(SHARPEN * s), 0)
  const [kind, sum] = [...sums].reduce((best, s) => (s[1] > best[1] ? s : best))
  const evidence = features
    .map(({ name, said }) => ({ said, weight: WEIGHTS[name]?.[kind] ?? 0 }))
    .filter(m => m.weight > LEAST_SAID)
    .sort((a, b) => b.weight - a.weight)
    .map(m => m.said)
  return {
    kind,
    confidence: Math.exp(SHARPEN * sum) / total,
    evidence: evidence.length ? evidence : ['The record says too little to tell.'],
    refereedVenue: facts.refereedVenue,
    aheadOfPrint: item.type === 'article-journal' && !item.volume && !item.page,
  }
}

/** What nobody referees as a journal does, whatever the catalogue flags. */
const NEVER_REFEREED: readonly Kind[] = [
  'thesis',
  'report',
  'magazine',
  'news',
  'dataset',
  'image or recording',
  'correction',
  'editorial or letter',
  'review of a book',
  'conference abstract',
]
const REFEREED_KINDS: readonly Kind[] = ['research article', 'literature review', 'conference paper']

/**
 * Whether the item itself was refereed, which its venue's flag does not say: reviews of books, editorials and letters
 * stand in refereed journals unrefereed. What its own pages say comes first. Undefined where the venue or the kind is
 * not known.
 */
export function itemRefereed(kind: string, facts: Facts, signs: Signs = {}): boolean | undefined {
  if (signs.refereed) return true
  if (signs.draft || signs.unrefereed) return false
  if (kind === 'preprint' || NEVER_REFEREED.includes(kind as Kind) || facts.refereedVenue === false) return false
  if (kind === 'unknown' || facts.refereedVenue === undefined) return undefined
  return REFEREED_KINDS.includes(kind as Kind)
}

/** Whether there is a whole text to read: of a talk's abstract there is none. Undefined where the kind is not known. */
export function isComplete(kind: string): boolean | undefined {
  return kind === 'unknown' ? undefined : kind !== 'conference abstract'
}
