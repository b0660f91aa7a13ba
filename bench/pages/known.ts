import { readFileSync } from 'node:fs'
import type { Item } from '../../core/bib/item'
import { authorLine, familyName } from '../../core/bib/names'
import { formatBibliography } from '../../core/cite/format'
import { plainText } from '../../core/cite/rich-text'
import { tellSection } from '../../core/world/tell'
import type { Section, WorldWork } from '../../core/world/types'
import type { WorldMaker } from '../../demo/generate'

/** How a text is set. */
export interface Setting {
  columns: 1 | 2 | 3
  refs: 'hanging' | 'numbered' | 'apart' | 'set in'
  /** A style file that prints the references. */
  style: string
}

/** A text whose words, pages and references are known before it is set. */
export interface Known {
  /** Lines of a sheet before the first page. */
  cover?: string[]
  /** Lines above the title. */
  over?: string[]
  title: string
  /** Small figures behind a name lead to where somebody works. */
  authors: string
  /** Printed beneath the authors, by number. */
  places?: string[]
  /** Beneath figures that stand behind the third paragraph of each section. */
  captions?: string[]
  /** In the margin beside the first paragraph of each section, where the program can. */
  beside?: string[]
  /** In the running head. */
  head: string
  first: number
  abstract: string
  keywords: string
  sections: { heading: string; paragraphs: string[] }[]
  notes: string[]
  refsHeading: string
  refs: { text: string; item: Item }[]
}

const FOLDER = '/usr/share/citation-style-language'
const locale = (l: string): string | undefined => {
  try {
    return readFileSync(`${FOLDER}/locales/locales-${l}.xml`, 'utf8')
  } catch {
    return undefined
  }
}

const SECTIONS: [string, Section][] = [
  ['1 Introduction', 'introduction'],
  ['2 Methods', 'methods'],
  ['3 Results', 'results'],
  ['4 Discussion', 'discussion'],
]

/** A text of about `length` sentences that cites `cited`. */
export function knownText(
  facts: WorldMaker['facts'],
  w: WorldWork,
  cited: readonly Item[],
  { style }: Pick<Setting, 'style'>,
  length = 240,
): Known {
  const items = cited.map(({ abstract: _, keyword: __, ...i }) => i as Item)
  const file = readFileSync(`${FOLDER}/styles/${style}.csl`, 'utf8')
  const { entries } = formatBibliography(items, { style: file, locale })
  const byId = new Map(items.map(i => [String(i.id), i]))
  const refs = entries.map(e => ({
    text: `${e.label ? `${e.label} ` : ''}${plainText(e.citation)}`.trim(),
    item: byId.get(e.id)!,
  }))
  const notes: string[] = []
  return {
    title: w.item.title!,
    authors: (w.item.author ?? []).map(n => `${n.given ?? ''} ${familyName(n)}`.trim()).join(', '),
    head: `${authorLine(w.item.author, 2)}: ${w.item['container-title'] ?? 'Night Papers'} ${w.item.volume ?? 7}`,
    first: Number(/\d+/.exec(w.item.page ?? '')?.[0] ?? 41),
    abstract: w.item.abstract ?? tellSection(facts.grammar, w, 'introduction', 5).join(' '),
    keywords: w.keywords.join('; '),
    sections: SECTIONS.map(([heading, section], k) => {
      const told = tellSection(facts.grammar, w, section, length / 4)
      const paragraphs: string[] = []
      for (let at = 0; at < told.length; at += 4 + (k % 3)) paragraphs.push(told.slice(at, at + 4 + (k % 3)).join(' '))
      notes.push(
        `The list of ${section} is held by the first author, and was closed in the ${['spring', 'summer', 'autumn', 'winter'][k]!} of that year.`,
      )
      return { heading, paragraphs }
    }),
    ...{ notes, refs },
    refsHeading: 'References',
  }
}

const PLACES = [
  'Institute of Tides, University of Korrin',
  'Department of Lamps, Ostmere College, Ostmere',
  'Moorgrave',
]
const RAISED = '¹²³'

/** The same text with what stands between title and text, under figures and, of one column, in the margin. */
export function withApparatus(k: Known, { columns }: Setting): Known {
  const by = k.authors.split(', ')
  return {
    ...k,
    authors: by.map((a, i) => `${a}${RAISED[i % 3]!}${i === 1 ? `,${RAISED[0]!}` : ''}`).join(', '),
    places: PLACES.slice(0, Math.min(3, by.length)),
    captions: k.sections.map(
      (x, i) =>
        `Figure ${i + 1}. What was found of ${x.heading.slice(2).toLowerCase()} in each year, with the range of all sites as a bar; sites that were seen once are left out.`,
    ),
    ...(columns === 1
      ? { beside: k.sections.map((_, i) => `Compare the older list, ${['north', 'south', 'east', 'west'][i]!} side.`) }
      : {}),
  }
}

/** The words of a text in the order of reading, notes and running heads aside. */
export const wordsOf = (k: Known): string[] =>
  split(
    [
      k.title,
      k.authors,
      k.abstract,
      ...k.sections.flatMap(s => [s.heading, ...s.paragraphs]),
      k.refsHeading,
      ...k.refs.map(r => r.text),
    ].join(' '),
  )

export const split = (text: string): string[] =>
  text
    .replace(/[⁰¹²³⁴⁵⁶⁷⁸⁹]/g, '')
    .normalize('NFKC')
    .toLowerCase()
    .match(/\p{L}[\p{L}\p{M}]*|\p{N}+/gu) ?? []

/** How many pairs of neighbours two lists of words have in common: of the one, and of the other. */
export function pairsShared(
  truth: readonly string[],
  got: readonly string[],
): { recall: number; precision: number; f1: number } {
  const pairs = (words: readonly string[]) => {
    const n = new Map<string, number>()
    for (let i = 1; i < words.length; i++) {
      const p = `${words[i - 1]!} ${words[i]!}`
      n.set(p, (n.get(p) ?? 0) + 1)
    }
    return n
  }
  const a = pairs(truth)
  const b = pairs(got)
  let both = 0
  for (const [p, n] of a) both += Math.min(n, b.get(p) ?? 0)
  const recall = both / Math.max(1, truth.length - 1)
  const precision = both / Math.max(1, got.length - 1)
  return { recall, precision, f1: (2 * recall * precision) / (recall + precision || 1) }
}
