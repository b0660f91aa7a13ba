import { sentencesOf } from '../bib/sentences'
import { clauses, mapClauses, plainCql, type QueryNode } from './cql'
import { wantedConcepts } from './concepts'
import { evaluate, type Searchable } from './evaluate'
import { IndexBuilder } from './positional-index'
import { scores } from './rank'
import { matchSpans } from './spans'

/** A copy in which words were found. */
export interface FoundText {
  copy: number
  /** Places on each page, from the first. */
  byPage: number[]
  hits: number
  /** The first sentences in which they stand. */
  sentences: FoundSentence[]
  /** Sentences that have them in all. */
  all: number
}

export interface FoundSentence {
  /** Number of its page in the file, from 1. */
  page: number
  text: string
}

/** A place in a copy. */
export interface TextPlace {
  /** Number of its page in the file, from 1. */
  page: number
  /** How far down the words of the page, 0 to 1. */
  at: number
}

/** Where some searches stand in one copy, each by itself, and the sentences in which all of them meet. */
export interface Standing {
  each: TextPlace[][]
  /** Where each such sentence begins. */
  meet: TextPlace[]
}

/** Sentences that come with a copy; the others are asked for. */
const FIRST = 3
/** A sentence of more letters is shown around what was found. */
const LONGEST = 360

/** The words of many copies, searched as one. Documents are copies, their pages values of one field: no phrase runs over. */
export class TextSearch {
  private readonly texts = new Map<number, readonly string[]>()
  private on: (Searchable & { copies: number[] }) | undefined

  /** @param pages their words, a paragraph a line */
  add(copy: number, pages: readonly string[]): void {
    this.texts.set(copy, pages)
    this.on = undefined
  }
  drop(copy: number): void {
    if (this.texts.delete(copy)) this.on = undefined
  }

  /**
   * Copies that a query matches, the likeliest first (BM25 among themselves).
   * @throws Error in words for the student, where it asks for what a text does not have
   */
  find(root: QueryNode): FoundText[] {
    const named = clauses(root).find(({ clause }) => clause.index && clause.index !== 'text')?.clause.index
    if (named) throw new Error(`Copies are searched by their words alone: leave out “${named}”.`)
    const on = (this.on ??= this.built())
    const likely = scores({ root }, on)
    return [...evaluate({ root }, on)]
      .sort((a, b) => likely[b]! - likely[a]! || a - b)
      .flatMap(d => this.foundIn(on.copies[d]!, root, FIRST))
  }

  /** Where a query stands in one copy, with up to `most` of the sentences. */
  foundIn(copy: number, root: QueryNode, most: number): FoundText[] {
    const pages = this.texts.get(copy)
    if (!pages) return []
    const sentences: FoundSentence[] = []
    let all = 0
    const byPage = pages.map((text, i) => {
      const spans = matchSpans(root, text)
      let end = 0
      for (const s of spans) {
        if (s.start < end) continue
        const [from, to] = sentenceAround(text, s.start, s.end)
        end = to
        all++
        if (sentences.length < most)
          sentences.push({ page: i + 1, text: shortened(text.slice(from, to), s.start - from) })
      }
      return spans.length
    })
    return [{ copy, byPage, hits: byPage.reduce((a, b) => a + b, 0), sentences, all }]
  }

  /** Where searches stand in one copy, for a picture of the whole of it. */
  placesIn(copy: number, roots: readonly QueryNode[]): Standing {
    const each: TextPlace[][] = roots.map(() => [])
    const meet: TextPlace[] = []
    for (const [i, text] of (this.texts.get(copy) ?? []).entries()) {
      const place = (start: number): TextPlace => ({ page: i + 1, at: text.length ? start / text.length : 0 })
      const spans = roots.map(root => matchSpans(root, text))
      spans.forEach((own, k) => each[k]!.push(...own.map(s => place(s.start))))
      if (roots.length < 2 || spans.some(own => !own.length)) continue
      const isIn = (own: readonly { start: number }[], from: number, to: number) =>
        own.some(s => s.start >= from && s.start < to)
      let from = 0
      for (const line of text.split('\n')) {
        if (spans.every(own => isIn(own, from, from + line.length)))
          for (const s of sentencesOf(line))
            if (spans.every(own => isIn(own, from + s.from, from + s.to))) meet.push(place(from + s.from))
        from += line.length + 1
      }
    }
    return { each, meet }
  }

  private built(): Searchable & { copies: number[] } {
    const index = new IndexBuilder()
    for (const pages of this.texts.values()) index.add({ text: [...pages] })
    return { index: index.freeze(), names: { '': ['text'], text: ['text'] }, copies: [...this.texts.keys()] }
  }
}

/** The sentence of a text around a place in it; paragraphs are lines. */
function sentenceAround(text: string, start: number, end: number): [from: number, to: number] {
  const first = text.lastIndexOf('\n', start - 1) + 1
  const next = text.indexOf('\n', end)
  const line = text.slice(first, next < 0 ? text.length : next)
  const own = sentencesOf(line)
  const from = own.findLast(s => s.from <= start - first)?.from ?? 0
  const to = own.find(s => s.to >= end - first)?.to ?? line.length
  return [first + from, first + to]
}

function shortened(sentence: string, at: number): string {
  const whole = sentence.trim()
  if (whole.length <= LONGEST) return whole
  const from = Math.max(0, Math.min(at - LONGEST / 3, sentence.length - LONGEST))
  const start = from > 0 ? sentence.indexOf(' ', from) + 1 : 0
  const stop = sentence.lastIndexOf(' ', start + LONGEST)
  const end = stop > start ? stop : start + LONGEST
  return `${start > 0 ? '… ' : ''}${sentence.slice(start, end).trim()}${end < sentence.length ? ' …' : ''}`
}

/** What a record has by itself is looked for in the words of a text. */
const WORDS = new Set(['title', 'abstract', 'keyword', 'subject', 'text'])

/** The concepts of a question as searches in texts, where words alone make them up, each with a few words for it. */
export const conceptSearches = (root: QueryNode): { words: string; said: string }[] =>
  wantedConcepts(root).flatMap(n => {
    const isOfWords = clauses(n).every(({ clause }) => !clause.index || WORDS.has(clause.index))
    const inText = isOfWords && mapClauses(n, ({ index: _, ...clause }) => clause)
    if (!inText) return []
    const words = plainCql({ root: inText })
    const [first = words, ...others] = clauses(inText).map(c => c.clause.term)
    return [{ words, said: others.length ? `${first} and the like` : first }]
  })
