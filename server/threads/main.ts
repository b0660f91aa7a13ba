import { citeInText, formatParts, type Bibliography, type Cite } from '../../core/cite/format'
import { checkEntries, type CheckedEntry } from '../../core/cite/checks/checks'
import type { Checked } from '../../core/cite/checks/finding'
import { mannerOf, type Manner } from '../../core/cite/manner'
import type { RichRun } from '../../core/cite/rich-text'
import type { GateHosts } from '../../core/access/links'
import type { Item, Name } from '../../core/bib/item'
import { readKbart, type KbartReport } from '../../core/formats/kbart'
import { meaning } from '../../core/match/settle'
import { citedIn, type Listed } from '../../core/pdftext/cited'
import { takenBackAmong, type TakenBack } from '../../core/appraise/taken-back'
import { dataSaid, type DataSaid } from '../../core/pdftext/data-said'
import { personsOf, type Person, type Written } from '../../core/trails/author'
import { describeWork, type DescribedWork } from '../../core/sift/describe'
import { languagesIn, styleFiles, stylesIn, type StyleGiven } from './style-files'
import { readRecord, type Schema } from '../../core/formats/records'
import type { ReadRecord } from '../../core/bib/item'
import type { Writing } from '../../core/paper/writing'
import { asDocx } from '../documents/docx'
import { namePdf } from '../documents/pdf-words'
import type { Query } from '../../core/query/cql'
import { NotUnderstood } from '../../core/query/evaluate'
import { answering } from '../../core/query/holds'
import { findLinks, type MatchRecord, type PairLink } from '../../core/match/records'

/** What a thread does: computing on our own data, which is trusted, and too long for the loop that answers requests. */
export const tasks = {
  bibliography: (given: { style: StyleGiven; parts: readonly (readonly Item[])[] }): Bibliography =>
    formatParts(given.parts, styleFiles(given.style)),
  cites: (given: { style: StyleGiven; items: readonly Item[]; cites: readonly Cite[] }): RichRun[][] =>
    citeInText(given.items, given.cites, styleFiles(given.style)),
  manner: (given: { style: StyleGiven; name: string }): Manner =>
    mannerOf({ id: given.style.style, name: given.name }, styleFiles(given.style)),
  /** All styles and languages that are there. */
  styles: (given: { folder: string }) => ({ ...stylesIn(given.folder), languages: languagesIn(given.folder) }),
  checks: (given: { entries: readonly Checked[]; manner: Manner; gates: readonly GateHosts[] }): CheckedEntry[] =>
    checkEntries(given.entries, given.manner, given.gates),
  links: (given: { known: readonly MatchRecord[]; fresh: readonly MatchRecord[] }): PairLink[] =>
    findLinks(given.known, given.fresh),
  /** Where the entries of a text's list are cited in it. */
  cited: ({ pages, list }: { pages: readonly string[]; list: readonly Listed[] }) =>
    [...citedIn(pages, list)].map(([n, places]) => ({ n, places })),
  meant: (given: { work: Item; entries: readonly { text: string; item: Partial<Item> }[] }): number[] =>
    meaning(given.work, given.entries),
  takenBack: (given: { titles: readonly (readonly string[])[] }): TakenBack[] => takenBackAmong(given.titles),
  persons: (given: {
    name: Name
    works: readonly Written[]
    first: string | undefined
    id: string | undefined
  }): Person[] => personsOf(given.name, given.works, given.first, given.id),
  dataSaid: (given: { pages: readonly string[] }): DataSaid | undefined => dataSaid(given.pages),
  describe: (given: { works: readonly (readonly MatchRecord[])[] }): DescribedWork[] =>
    given.works.map(records => describeWork(records)),
  /** Each record as it was read, as JSON; or why it cannot be. */
  read: ({ schema, raws }: { schema: Schema; raws: readonly string[] }): { read?: string; why?: string }[] =>
    raws.map(raw => {
      try {
        return { read: JSON.stringify(readRecord(schema, raw)) }
      } catch (e) {
        return { why: e instanceof Error ? e.message : String(e) }
      }
    }),
  /** Which of records that were read answer a query; or what of it cannot be asked here. */
  sift: ({ query, read }: { query: Query; read: readonly string[] }): { fits: number[]; cannot?: string } => {
    try {
      return {
        fits: [
          ...answering(
            query,
            read.map(r => JSON.parse(r) as ReadRecord),
          ),
        ],
      }
    } catch (e) {
      if (e instanceof NotUnderstood) return { fits: [], cannot: e.message }
      throw e
    }
  },
  docx: ({ writing }: { writing: Writing }): Promise<Uint8Array> => asDocx(writing),
  namePdf: (given: { bytes: Uint8Array; title: string; author: string }): Promise<Uint8Array> =>
    namePdf(given.bytes, given.title, given.author),
  holdings: (given: { text: string; skipped: number }): KbartReport => readKbart(given.text, given.skipped),
}
export type ThreadTasks = typeof tasks

export default <K extends keyof ThreadTasks>({ task, given }: { task: K; given: Parameters<ThreadTasks[K]>[0] }) =>
  tasks[task](given as never)
