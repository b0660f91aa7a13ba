import type { Stretch } from '../bib/sentences'

/** A citation in a text, with the sentence in which it stands. */
export interface CitingSentence {
  /** Number of its page in the file, from 1. */
  page: number
  /** The sentence; one that begins on the page before or ends on the next is whole. */
  said: string
  /** The citation within it. */
  at: Stretch
}

/** A citation, by its place in the words of a page. */
export interface Citation extends Stretch {
  /** The number of the entry. */
  n: number
  page: number
}

/** A sentence is told to this length. */
const LONGEST = 700

/**
 * The sentence of a citation, whole over the ends of pages.
 * @param on the sentences of a page
 */
export function sentenceOf(
  pages: readonly string[],
  { page, from, to }: Citation,
  on: (page: number) => readonly Stretch[],
): Pick<CitingSentence, 'said' | 'at'> {
  const text = pages[page - 1]!
  const own = on(page)
  const first = own.findIndex(s => s.to > from)
  // a point within a citation ends no sentence
  const last = own.findIndex(s => s.to >= to)
  const [start, end] = [own[first]?.from ?? 0, own[last]?.to ?? text.length]
  const lead = text.slice(start, end).length - text.slice(start, end).trimStart().length + start
  let said = text.slice(lead, end).trimEnd()
  let at = { from: from - lead, to: to - lead }
  const before = first === 0 && goesOn(said) ? openEnd(pages[page - 2], on(page - 1)) : ''
  if (before) {
    said = `${before} ${said}`
    at = { from: at.from + before.length + 1, to: at.to + before.length + 1 }
  }
  if (runsOver(text, own, last)) said = `${said} ${opening(pages[page], on(page + 1))}`.trimEnd()
  return shortened(said, at)
}

const ENDED = /[.!?…:][”"’»)\]⁰¹²³⁴-⁹,⁻–\s]*$/u

/** A sentence that stops within a list or a bracket. */
const isOpen = (said: string): boolean => /[,;]$/.test(said) || said.lastIndexOf('(') > said.lastIndexOf(')')

/** Whether a sentence goes on on the next page: it is the last, or open at the end of its line, with notes behind it. */
function runsOver(text: string, sentences: readonly Stretch[], k: number): boolean {
  const of = sentences[k]
  if (!of) return false
  const said = text.slice(of.from, of.to).trimEnd()
  return !ENDED.test(said) && (k === sentences.length - 1 || (text[of.to - 1] === '\n' && isOpen(said)))
}

/** The sentence at the end of a page, where it goes on. */
function openEnd(text: string | undefined, sentences: readonly Stretch[]): string {
  const last = sentences.findLast((_, k) => runsOver(text!, sentences, k))
  return last ? text!.slice(last.from, last.to).trim() : ''
}
/** What a page begins with in the middle of a sentence. */
function opening(text: string | undefined, sentences: readonly Stretch[]): string {
  const first = sentences[0]
  const said = first ? text!.slice(first.from, first.to).trim() : ''
  return goesOn(said) ? said : ''
}

/** Whether a page that begins so goes on with the sentence of the page before. */
const goesOn = (said: string): boolean => {
  const closes = said.indexOf(')')
  const opens = said.indexOf('(')
  return /^\P{Lu}/u.test(said) || (closes >= 0 && (opens < 0 || closes < opens))
}

/** What is longer than a sentence is told around the citation. */
function shortened(said: string, at: Stretch): Pick<CitingSentence, 'said' | 'at'> {
  if (said.length <= LONGEST) return { said, at }
  const wanted = Math.max(0, Math.min(at.from - LONGEST / 2, said.length - LONGEST))
  const from = wanted > 0 ? said.indexOf(' ', wanted) + 1 : 0
  const to = Math.max(at.to, said.lastIndexOf(' ', from + LONGEST))
  const lead = from > 0 ? '… ' : ''
  return {
    said: `${lead}${said.slice(from, to)}${to < said.length ? ' …' : ''}`,
    at: { from: at.from - from + lead.length, to: at.to - from + lead.length },
  }
}
