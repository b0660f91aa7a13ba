import { eld } from 'eld/extrasmall'
import { languageCode } from './languages'

/** Fewer letters than this tell little: a title alone is told wrongly one time in thirty. */
const LEAST = 100
/** As much as is looked at. */
const MOST = 1200
/** Signs each of which says as much as three letters. */
const DENSE = /[\p{Script=Han}\p{Script=Hiragana}\p{Script=Katakana}\p{Script=Hangul}]/gu

/**
 * The language that a title and an abstract are in, by their words; undefined where they are too short or it is not clear.
 * Only what is looked through as a whole is told: two languages in one text are the one there is more of.
 * @example toldLanguage('Nachtfalter an den Laternen: Beobachtungen aus sechs Wochen in einer kleinen Stadt am Meer, mit einem Anhang') // 'de'
 */
export function toldLanguage(text: string): string | undefined {
  const looked = text.slice(0, MOST)
  const letters = (looked.match(/\p{L}/gu)?.length ?? 0) + 2 * (looked.match(DENSE)?.length ?? 0)
  if (letters < LEAST) return undefined
  const found = eld.detect(looked)
  return found.isReliable() ? languageCode(found.language) : undefined
}
