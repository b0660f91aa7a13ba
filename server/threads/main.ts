import { formatBibliography, type Bibliography } from '../../core/cite/format'
import type { Item } from '../../core/bib/item'
import { readKbart, type KbartReport } from '../../core/formats/kbart'
import { describeWork, type DescribedWork } from '../../core/sift/describe'
import { styleFiles } from './style-files'
import { findLinks, type MatchRecord, type PairLink } from '../../core/match/records'

/** What a thread does: computing on our own data, which is trusted, and too long for the loop that answers requests. */
export const tasks = {
  bibliography: (given: { folder: string; style: string; items: readonly Item[] }): Bibliography =>
    formatBibliography(given.items, styleFiles(given.folder, given.style)),
  links: (given: { known: readonly MatchRecord[]; fresh: readonly MatchRecord[] }): PairLink[] =>
    findLinks(given.known, given.fresh),
  describe: (given: { works: readonly (readonly MatchRecord[])[] }): DescribedWork[] =>
    given.works.map(records => describeWork(records)),
  holdings: (given: { text: string; skipped: number }): KbartReport => readKbart(given.text, given.skipped),
}
export type ThreadTasks = typeof tasks

export default <K extends keyof ThreadTasks>({ task, given }: { task: K; given: Parameters<ThreadTasks[K]>[0] }) =>
  tasks[task](given as never)
