/** What a sheet of reading asks of every work, in the order of reading. */
export const HEADS = [
  { key: 'question', name: 'Question', asks: 'What did they want to know?' },
  { key: 'method', name: 'Method', asks: 'How did they find out?' },
  { key: 'place', name: 'Place and number', asks: 'Where, when, how many?' },
  { key: 'found', name: 'Found', asks: 'What came out?' },
  { key: 'limits', name: 'Limits', asks: 'What can it not say?' },
  { key: 'view', name: 'My view', asks: 'What is it worth for my question?' },
] as const
export type FixedHead = (typeof HEADS)[number]['key']

/** Under which key a head of one's own is kept. */
export const ownHead = (id: number): string => `own-${id}`
export const isFixedHead = (head: string): head is FixedHead => HEADS.some(h => h.key === head)
export const ownHeadId = (head: string): number | undefined => {
  const digits = /^own-(\d{1,9})$/.exec(head)?.[1]
  return digits ? Number(digits) : undefined
}

/** Words by which a text is likely to speak of a head, as searches of single words. One’s own view stands in no text. */
const WORDS: Record<FixedHead, string> = {
  question: 'question* or aim* or asked or hypothes* or whether or purpose or objective*',
  method: 'method* or measured or counted or recorded or sampled or sample or survey* or experiment* or "we used"',
  place: 'sites or towns or participants or seasons or nights or plots or located or interviewed or sample',
  found: 'found or results or showed or increased or decreased or fell or rose or differed or significant*',
  limits: 'limit* or caution* or however or small or bias* or "could not" or uncertain* or further',
  view: '',
}

/** A search for where a text may speak of a head; undefined where there is none. */
export function searchFor(head: { key: string; name: string }): string | undefined {
  if (isFixedHead(head.key)) return WORDS[head.key] || undefined
  const words = head.name.match(/\p{L}{3,}/gu) ?? []
  // a word with its endings: "hours" finds "hour", too
  return words.length ? words.map(w => `${w.toLowerCase().replace(/(?:ies|es|s|y)$/, '')}*`).join(' or ') : undefined
}

/** A page that a note names. */
export interface NamedPage {
  start: number
  end: number
  label: string
}

/**
 * The pages that a note names, where they stand in it.
 * @example pagesNamed('Fell by a third (p. 147).') // [{ start: 17, end: 23, label: '147' }]
 */
export function pagesNamed(note: string): NamedPage[] {
  const named: NamedPage[] = []
  for (const m of note.matchAll(/\bpp?\.\s?([A-Za-z]{0,3}-?\d{1,6}|[ivxlc]{1,7}\b)/g))
    named.push({ start: m.index, end: m.index + m[0].length, label: m[1]! })
  return named
}
