import { fold, foldTitle } from '../bib/fold'
import { normaliseDoi } from '../bib/identifiers'
import { familyName } from '../bib/names'
import { yearOf } from '../bib/dates'
import { readPages } from '../bib/pages'
import type { Item, Version } from '../bib/item'

export type Outcome = 'proved' | 'doubtful' | 'not this work'

export interface Proof {
  outcome: Outcome
  /** What was compared, a sentence each, with whether it speaks for the work. */
  evidence: { holds: boolean; said: string }[]
  /** What the file really is, where it is something else. */
  really?: string
  version?: Version
}

export interface PageText {
  /** Number in the file, from 1. */
  page: number
  lines: string[]
  /** Its lines in the largest letters. */
  heading?: string
}

/**
 * Tells whether a text is that of a work: title, DOI, authors, year and page numbers on its first two pages, set
 * against the work and against the others of the pool. Only a proved copy counts as in hand.
 * @param records the work as its records describe it: a manuscript may bear a title and a DOI of its own
 */
export function proveCopy(
  work: Item,
  pages: readonly PageText[],
  others: readonly { id: number; item: Item }[] = [],
  records: readonly Item[] = [],
): Proof {
  const evidence: Proof['evidence'] = []
  const say = (holds: boolean, said: string) => evidence.push({ holds, said })
  const front = pages.slice(0, 2).flatMap(p => p.lines)
  const all = front.join(' ')
  if (fold(all).replace(/[^\p{L}]/gu, '').length < 40) {
    say(false, 'The pages carry no text: they are pictures of a text, so nothing can be compared.')
    return { outcome: 'doubtful', evidence, really: 'a scan without text' }
  }
  const opening = frontOf(front)
  const titles = new Set([work, ...records].map(i => i.title ?? ''))
  const titleFits = Math.max(...[...titles].map(t => titleOverlap(t, opening)))
  const titleHolds = titleFits > 0.85
  say(
    titleHolds,
    titleHolds
      ? 'The title stands on the first pages.'
      : `The title does not stand on the first pages (at most ${Math.round(titleFits * 100)}% of its words in one place).`,
  )
  const own = new Set([work, ...records].flatMap(i => normaliseDoi(i.DOI) ?? []))
  const dois = doisIn(pages[0]?.lines ?? [])
  const carried = dois.find(d => own.has(d))
  const doiHolds = carried !== undefined
  const doiDiffers = own.size > 0 && dois.length > 0 && !doiHolds
  if (doiHolds) say(true, `It carries the DOI ${carried}.`)
  else if (doiDiffers) say(false, `It carries another DOI: ${dois[0]}.`)
  const folded = fold(all)
  const families = (work.author ?? []).map(familyName).filter(Boolean)
  const present = families.filter(f => folded.includes(fold(f)))
  if (families.length) {
    const enough = present.length >= Math.ceil(families.length / 2)
    say(enough, `${present.length} of ${families.length} authors are named on the first pages.`)
  }
  const authorsHold = !families.length || present.length >= Math.ceil(families.length / 2)
  const year = yearOf(work)
  if (year)
    say(
      all.includes(String(year)),
      all.includes(String(year)) ? `The year ${year} is printed there.` : `The year ${year} is not printed there.`,
    )
  const version = versionMarks(front)
  const range = readPages(work.page)
  // a manuscript has pages of its own
  if (!version && range && range.last > range.first) {
    const wanted = range.last - range.first + 1
    const fits = Math.abs(pages.length - wanted) <= Math.max(2, wanted * 0.25)
    say(
      fits,
      fits
        ? `It has ${pages.length} pages, as the record says.`
        : `It has ${pages.length} pages; the record says ${wanted}.`,
    )
  }
  const better = others
    .map(o => ({ ...o, fit: titleOverlap(o.item.title ?? '', opening), doi: normaliseDoi(o.item.DOI) }))
    .filter(o => (o.doi && !own.has(o.doi) && dois.includes(o.doi)) || (o.fit > 0.9 && o.fit > titleFits + 0.2))[0]
  const done = (outcome: Outcome, really?: string): Proof => ({
    outcome,
    evidence,
    ...(really ? { really } : {}),
    ...(version ? { version } : {}),
  })
  if (titleHolds && (doiHolds || (authorsHold && !doiDiffers))) return done('proved')
  if (better && !titleHolds) {
    say(false, `It is "${better.item.title}", another work of your pool.`)
    return done('not this work', `"${better.item.title}"`)
  }
  if (titleHolds || doiHolds) return done('doubtful', doiDiffers ? `the text of ${dois[0]}` : undefined)
  const heading = pages[0]?.heading ?? longLine(pages[0]?.lines ?? [])
  return done('not this work', heading ? `"${heading}"` : 'another text')
}

function doisIn(lines: readonly string[]): string[] {
  return lines
    .flatMap(l => [...l.matchAll(/10\.\d{4,9}\/\S+/g)].map(m => normaliseDoi(m[0])))
    .filter((d): d is string => Boolean(d))
}

interface Front {
  /** Every five lines joined, as folded words. */
  windows: string[][]
  words: Set<string>
}

function frontOf(lines: readonly string[]): Front {
  const windows = Array.from({ length: Math.min(lines.length, 80) }, (_, i) =>
    foldTitle(
      lines
        .slice(i, i + 5)
        .join(' ')
        .replace(/(\p{L})- (\p{Ll})/gu, '$1$2'),
    ).split(' '),
  )
  return { windows, words: new Set(windows.flat()) }
}

/** Of a title so many words are looked for: they tell it from any other. */
const WORDS_COMPARED = 60

/** The best share of a title's words found in order within a window; a title of other words is told at once. */
function titleOverlap(title: string, front: Front): number {
  const words = foldTitle(title).split(' ').filter(Boolean).slice(0, WORDS_COMPARED)
  if (!words.length) return 0
  const present = words.filter(w => front.words.has(w)).length / words.length
  if (present < 0.8) return Math.min(present, 0.5)
  let best = 0
  for (const w of front.windows) best = Math.max(best, inOrder(words, w.slice(0, words.length + 12)) / words.length)
  return best
}

/** Length of the longest common subsequence of words, in O(n·m) for short lists. */
function inOrder(a: string[], b: string[]): number {
  let row = new Uint16Array(b.length + 1)
  for (const x of a) {
    const next = new Uint16Array(b.length + 1)
    b.forEach((y, j) => (next[j + 1] = x === y ? row[j]! + 1 : Math.max(row[j + 1]!, next[j]!)))
    row = next
  }
  return row[b.length]!
}

function versionMarks(lines: readonly string[]): Version | undefined {
  const text = lines.join(' ')
  if (/accepted (author )?manuscript|author'?s accepted/i.test(text)) return 'accepted manuscript'
  if (/not (yet )?(been )?peer[- ]reviewed|preprint/i.test(text)) return 'preprint'
  return undefined
}

const longLine = (lines: readonly string[]): string | undefined =>
  lines
    .find(l => l.trim().split(/\s+/).length >= 4)
    ?.trim()
    .slice(0, 160)
