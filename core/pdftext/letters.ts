import { cleanText } from '../bib/clean'
import type { DrawnPage, Run } from './page'

/** Accents that old fonts print as signs of their own, before their letter. */
const OVER = [...'\u0301\u0308\u0302\u0303\u030c\u030a\u0306\u0307\u030b\u0304\u0300\u0327']
const ACCENTS: Record<string, string> = Object.fromEntries([...'´¨ˆ˜ˇ˚˘˙˝¯`¸'].map((sign, i) => [sign, OVER[i]!]))

/** One way to write what files write in several: letters with their accents, ligatures apart, spaces as one. */
export function tidyLetters(text: string): string {
  return (
    cleanText(text)
      // ligatures, letters as they are joined in Arabic, radicals and upright punctuation that stand for the letters themselves
      .replace(/[\ufb00-\ufb06\ufb1d-\ufdff\ufe10-\ufe19\ufe30-\ufe4f\ufe70-\ufefc\u2e80-\u2fd5\uf900-\ufaff]/g, c =>
        c.normalize('NFKC'),
      )
      .replace(
        /([´¨ˆ˜ˇ˚˘˙˝¯]|`(?!\p{L}{1,20}`)) ?(\p{L}|ı)|(\p{L})(¸)/gu,
        (all, accent?: string, after?: string, before?: string) => {
          const letter = (after ?? before)!
          const whole = (letter === 'ı' ? 'i' : letter === 'ȷ' ? 'j' : letter) + ACCENTS[accent ?? '¸']!
          const one = whole.normalize('NFC')
          return one.length === 1 ? one : all
        },
      )
      .replace(/\s+/g, run => (run.includes('\t') ? '\t' : ' '))
      .trim()
  )
}

const RAISED: Record<string, string> = Object.fromEntries(
  [...'0123456789+-−=()abcdefghijklmnp'].map((c, i) => [c, [...'⁰¹²³⁴⁵⁶⁷⁸⁹⁺⁻⁻⁼⁽⁾ᵃᵇᶜᵈᵉᶠᵍʰⁱʲᵏˡᵐⁿᵖ'][i]!]),
)
/** Raised figures and single letters are written as such, so that none is taken for a part of the word before it. */
export const raised = (text: string): string =>
  /^(?:(?:\d|[+\-−=(),;–*∗†‡§]|[a-np](?![\p{L}]))[\s]*)+$/u.test(text)
    ? [...text].map(c => RAISED[c] ?? c).join('')
    : text

/** What leads from a word to a note: signs and single figures or letters. */
export const isSign = (text: string): boolean => /^[*∗†‡§¶#,;]{0,3}$|^[\da-np][\da-np),\s]*$/u.test(text.trim())

/** The Cork encoding (T1) of fonts that do not say what their letters are: what is not as in Latin-1. */
const CORK = new Map<string, string>([
  ...[...'“”„«»–—'].map((c, i): [string, string] => [String.fromCharCode(0x10 + i), c]),
  ...['ff', 'fi', 'fl', 'ffi', 'ffl'].map((c, i): [string, string] => [String.fromCharCode(0x1b + i), c]),
  ...[...'ĂĄĆČĎĚĘĞĹĽŁŃŇŊŐŔŘŚŠŞŤŢŰŮŸŹŽŻĲİđ§ăąćčďěęğĺľłńňŋőŕřśšşťţűůÿźžżĳ¡¿£'].map((c, i): [string, string] => [
    String.fromCharCode(0x80 + i),
    c,
  ]),
  ['×', 'Œ'],
  ['÷', 'œ'],
  ['ß', 'SS'],
  ['ÿ', 'ß'],
])
const JOINED = String.fromCharCode(0x1b, 0x1c, 0x1d, 0x1e, 0x1f)
const LIGATURE = new RegExp(`\\p{L}[${JOINED}]|[${JOINED}]\\p{L}`, 'u')

/**
 * Letters of fonts that carry only their shapes, as typesetting programs of before 2005 made them: such a font betrays
 * itself by ligatures where no letter has its place, and stays within one byte.
 */
export function mendLetters(pages: readonly DrawnPage[]): readonly DrawnPage[] {
  const all = pages.flatMap(p => p.runs)
  if (!all.some(r => LIGATURE.test(r.text))) return pages
  const named = new Set(all.filter(r => /[\u0100-\uffff]/.test(r.text)).map(r => r.font))
  const mend = (r: Run): Run =>
    named.has(r.font) ? r : { ...r, text: [...r.text].map(c => CORK.get(c) ?? c).join('') }
  return pages.map(p => ({ ...p, runs: p.runs.map(mend) }))
}
