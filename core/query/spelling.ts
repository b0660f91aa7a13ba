import { distance } from 'fastest-levenshtein'
import { fold } from '../bib/fold'

/**
 * The nearest words of a catalogue's own dictionary to a word that has no record: at most two letters apart (one for
 * words of four letters or fewer), the nearer first, among equals the more frequent.
 */
export function nearestWords(
  word: string,
  dictionary: readonly { text: string; count: number }[],
  most = 4,
): { text: string; count: number }[] {
  const wanted = fold(word.replace(/[*?"]/g, ''))
  const allowed = wanted.length <= 4 ? 1 : 2
  const best = new Map<string, { text: string; count: number; far: number }>()
  for (const { text, count } of dictionary) {
    if (Math.abs(text.length - wanted.length) > allowed || text === wanted || count < 1) continue
    const far = distance(wanted, text)
    const have = best.get(text)
    if (far <= allowed && (!have || have.count < count)) best.set(text, { text, count, far })
  }
  return [...best.values()]
    .sort((a, b) => a.far - b.far || b.count - a.count || (a.text < b.text ? -1 : 1))
    .slice(0, most)
    .map(({ text, count }) => ({ text, count }))
}
