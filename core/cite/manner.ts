import type { Item } from '../bib/item'
import { formatBibliography, type StyleFiles } from './format'
import { plainText } from './rich-text'

/** What a style does with items, as it shows in what it prints. */
export interface Manner {
  name: string
  /** It puts titles of articles into capitals itself; otherwise they are printed as they are given. */
  capitals: boolean
  /** It asks for a capital behind the colon of a title. */
  afterColon: boolean
  /** Fields that it prints, by type of item (CSL). */
  prints: Record<string, Asked[]>
}

/** Parts of an item that a citation may need. */
export const ASKED = ['author', 'issued', 'container-title', 'publisher', 'volume', 'issue', 'page', 'DOI'] as const
export type Asked = (typeof ASKED)[number]

const TYPES = [
  'article-journal',
  'article-magazine',
  'article-newspaper',
  'book',
  'chapter',
  'paper-conference',
  'report',
  'thesis',
  'webpage',
] as const

/** What stands for a field in an item that is formatted to see whether the style prints it. */
const SIGNS: Record<Asked, { given: Partial<Item>; sign: RegExp }> = {
  author: { given: { author: [{ family: 'Qvaxlin', given: 'Zora' }] }, sign: /Qvaxlin/ },
  issued: { given: { issued: { 'date-parts': [[1871, 3, 5]] } }, sign: /1871/ },
  'container-title': { given: { 'container-title': 'Wyxol Jyqvub' }, sign: /Wyxol|Jyqvub/ },
  publisher: { given: { publisher: 'Kvezzub' }, sign: /Kvezzub/ },
  volume: { given: { volume: '7391' }, sign: /7391/ },
  issue: { given: { issue: '8462' }, sign: /8462/ },
  page: { given: { page: '5230-5248' }, sign: /5230/ },
  DOI: { given: { DOI: '10.5555/vyqul' }, sign: /vyqul/ },
}
const SAMPLE: Partial<Item> = Object.assign({}, ...Object.values(SIGNS).map(s => s.given)) as Partial<Item>

/** Styles that ask for a capital behind a colon, though their files leave titles as they are given. */
const AFTER_COLON = new Set(['apa'])

/**
 * How a style sets items, found by formatting samples with its own file. Synchronous, some ten milliseconds.
 * @throws Error where the style or a locale cannot be read
 */
export function mannerOf(style: { id: string; name: string }, files: StyleFiles): Manner {
  const items = TYPES.map((type): Item => ({ ...SAMPLE, id: type, type, title: 'zembla qorvit plinth' }))
  const printed = new Map(formatBibliography(items, files).entries.map(e => [e.id, plainText(e.citation)]))
  return {
    name: style.name,
    capitals: /Qorvit/.test(printed.get('article-journal') ?? ''),
    afterColon: AFTER_COLON.has(style.id),
    prints: Object.fromEntries(
      TYPES.map(type => [type, ASKED.filter(field => SIGNS[field].sign.test(printed.get(type) ?? ''))]),
    ),
  }
}
