import type { Section } from '../core/world/types'
import { held } from './grammar-held'
import { open } from './grammar-open'

/**
 * Templates of titles, abstracts and texts, in two halves: the open one, and one held back to measure what learns from
 * text. Verbs stand in the past tense and nouns without article where a slot may be singular or plural.
 */
export type Manner = 'life' | 'health' | 'technical' | 'society'
/** In which manner abstracts of a field are written; the life sciences have the general one. */
export const MANNERS: Record<string, Manner> = {
  Ecology: 'life',
  Entomology: 'life',
  Health: 'health',
  Planning: 'society',
  Humanities: 'society',
  Management: 'society',
}
type Abstract = Record<'context' | 'aim' | 'did' | 'found' | 'further' | 'end', string[]>

export interface Templates {
  /** What other manners than that of the life sciences put in its place. */
  manners: Record<'health' | 'technical' | 'society', Partial<Abstract> & { research?: string[] }>
  titles: Record<string, string[]>
  abstract: Abstract
  review: Record<'open' | 'scope' | 'found' | 'end', string[]>
  short: string[]
  report: string[]
  labels: [string, string, string, string]
  sections: Record<Section, string[]>
}

export const TEMPLATES: [Templates, Templates] = [open, held]
