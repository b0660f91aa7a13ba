import { fold } from '../bib/fold'
import { lettersOf } from './page'

/** Signs and letters of which fewer tell nothing. */
const FEWEST = 40
const LETTERS = 200
/** Share of signs that belong to no writing from which letters are not what a page shows. */
const STRANGE = 0.2
/** The letters that come most in most languages: of any text they are more than half. */
const USUAL = /[eaionrstоеаинтср]/g
const LEAST_USUAL = 0.47

/**
 * Whether the letters that a file gives are others than its pages show: a font whose map of letters is wrong or missing
 * gives signs of no writing, or letters that make no words. Told for writing in Latin and Cyrillic letters alone.
 */
export function isNonsense(lines: readonly string[]): boolean {
  const text = lines.join('').replace(/\s+/g, '')
  const strange = text.match(/[\p{Co}\p{Cn}\p{Cc}\u2701-\u27bf\ufffd]/gu)?.length ?? 0
  if (text.length >= FEWEST && strange > text.length * STRANGE) return true
  const letters = fold(text).replace(/[^\p{Script=Latin}\p{Script=Cyrillic}]/gu, '')
  // a text in other writing has a few of them in its formulas
  if (letters.length < LETTERS || letters.length < lettersOf(text) * 0.6) return false
  return (letters.match(USUAL)?.length ?? 0) < letters.length * LEAST_USUAL
}
