import type { Role } from './sheet'
import { tokenise } from './tokens'

/** A name of a concept; `other` ones lead to it, `hidden` ones (misspellings, say) are for finding alone. */
export interface ConceptLabel {
  text: string
  /** A tag of BCP 47, as it stands there. */
  language?: string
  as: 'preferred' | 'other' | 'hidden'
}

/** A concept of a vocabulary; others are named by their places in its list. */
export interface VocabularyConcept {
  /** The address that names it. */
  iri: string
  labels: ConceptLabel[]
  /** What it is meant for, in English where it says so in English. */
  note?: string
  broader: number[]
  narrower: number[]
  related: number[]
  /** The vocabulary uses it no more; those that took its place. */
  retired?: number[]
}

/** Letters of a way to a label, and words of a label that have a way of their own, at most. */
const [LONGEST_WAY, MOST_WAYS] = [80, 12]

/**
 * Ways by which a label is found: its words in one line, from each of them on, so that whatever begins in the middle of
 * it is found by its beginning.
 * @example waysTo('Street lamps') // ['street lamps', 'lamps street']
 */
export function waysTo(label: string): string[] {
  const words = tokenise(label).map(t => t.text)
  const starts = words.slice(0, MOST_WAYS)
  return [
    ...new Set(starts.map((_, i) => [...words.slice(i), ...words.slice(0, i)].join(' ').slice(0, LONGEST_WAY).trim())),
  ]
}

/** A word without the endings by which English tells many from one: what is left begins both. */
const bare = (word: string): string =>
  word.length < 4
    ? word
    : word
        .replace(/(?<=x|ch|sh|ss)es$/, '')
        .replace(/(?:ies|y)$/, '')
        .replace(/(?<=[^su])s$/, '')

/** How each way to what is looked for begins; nothing where it has no word. */
export function wayFrom(text: string): string | undefined {
  const words = wordsOf(text)
  if (!words.length) return undefined
  return [...words.slice(0, -1), bare(words.at(-1)!)].join(' ').slice(0, LONGEST_WAY)
}

const wordsOf = (text: string): string[] => tokenise(text).map(t => t.text)
const isSame = (a: readonly string[], b: readonly string[]): boolean =>
  a.length === b.length && a.every((w, i) => bare(w) === bare(b[i]!))
/** What stands in brackets behind a label tells its meaning apart, and is no part of the word. */
function withoutMeaning(label: string): string {
  const words = label.replace(/\s+/g, ' ').trim()
  const open = words.lastIndexOf('(')
  if (open < 1 || words.indexOf(')', open) !== words.length - 1) return words
  return words.slice(0, open).trim()
}

/** What parts a label into a word and what of it: "Lighting, street", "moths: diet", "Moths -- Diet". */
const PARTS = / ?(?:[,:;/–—]|--) | ?-- ?/

/**
 * How far a label is from what is looked for: 0 is the same word, up to 5; undefined is another one. What ends with the words
 * is mostly a kind of them.
 */
function distanceOf(label: string, wanted: readonly string[]): number | undefined {
  const words = wordsOf(label)
  if (isSame(words, wanted)) return 0
  if (isSame(wordsOf(withoutMeaning(label)), wanted)) return 1
  // what is only a part of something is farther from it than what is a kind of it
  const isParted = PARTS.test(label)
  const last = words.length - wanted.length
  for (let i = last; i >= 0; i--)
    if (isSame(words.slice(i, i + wanted.length), wanted)) return isParted ? 4 : i === last ? 2 : i ? 4 : 3
  return waysTo(label).some(w => w.startsWith(wayFrom(wanted.join(' '))!)) ? 5 : undefined
}

/**
 * Concepts by how near one of their names is to some words: those it names, those whose names end with them, begin with
 * them, have them somewhere, or begin as they do; among equals what is in use, then the shorter name.
 */
export function nearestConcepts<C extends Pick<VocabularyConcept, 'labels' | 'retired'>>(
  text: string,
  concepts: readonly C[],
  most: number,
): { concept: C; by: ConceptLabel; same: boolean }[] {
  const wanted = wordsOf(text)
  if (!wanted.length) return []
  const rank = { preferred: 0, other: 1, hidden: 2 }
  const found = concepts.flatMap(concept => {
    const ways = concept.labels.flatMap(by => {
      const far = distanceOf(by.text, wanted)
      return far === undefined ? [] : [{ concept, by, far, same: far < 2 }]
    })
    const best = ways.sort((a, b) => a.far - b.far || rank[a.by.as] - rank[b.by.as])[0]
    return best ? [best] : []
  })
  const isGone = (c: C) => Number(Boolean(c.retired))
  return found
    .sort(
      (a, b) =>
        a.far - b.far ||
        isGone(a.concept) - isGone(b.concept) ||
        rank[a.by.as] - rank[b.by.as] ||
        a.by.text.length - b.by.text.length ||
        (a.by.text < b.by.text ? -1 : 1),
    )
    .slice(0, most)
    .map(({ concept, by, same }) => ({ concept, by, same }))
}

/** The name by which a concept is called: in English, else in no language, else the first; by what leads to it if need be. */
export function nameOf({ labels }: Pick<VocabularyConcept, 'labels'>): ConceptLabel {
  const named = labels.filter(l => l.as === 'preferred')
  return (
    named.find(l => l.language === 'en') ??
    named.find(l => l.language?.startsWith('en')) ??
    named.find(l => !l.language) ??
    named[0] ??
    labels[0]!
  )
}

/**
 * A label as a term of the sheet: without what tells its meaning apart; words of its parts need not stand side by side, as
 * nobody writes them so.
 */
export function termOfLabel(label: string, role: Role): { text: string; role: Role; apart?: true } {
  const text = withoutMeaning(label)
  const parts = text.split(PARTS)
  return parts.length > 1 ? { text: parts.join(' '), role, apart: true } : { text, role }
}
