/**
 * Proof against files of many kinds that other makers set: the work in its shapes, and what a search brings in its place
 * (corrections, replies, reviews, supplements, contents, abstracts, neighbours, other works). Each file is held against
 * the work that it was looked for, against what it cites and against others of the pool.
 * npx tsx bench/proof-files.ts [works for each maker] [first work]     SHOW=1 prints what was wrong; KEEP=folder keeps the files
 */
import type { Item } from '../core/bib/item'
import { proveCopy, type Outcome } from '../core/match/proof'
import { proofPages } from '../core/pdftext/read-text'
import { WorldMaker } from '../demo/generate'
import { tasks } from '../server/child/tasks'
import { kindsOfFiles } from './pages/kinds-of-files'
import { knownText, type Setting } from './pages/known'
import { MAKERS, setOrKept } from './pages/makers'

const each = Number(process.argv[2] ?? 2)
const from = Number(process.argv[3] ?? 0)
const folder = process.env.KEEP
const maker = new WorldMaker(67, 3000, 1)
const works = [...maker].map(m => m.work)
const articles = works.filter(w => w.form === 'research article' && w.item.author && w.item.page)
const books = works.filter(w => w.item.type === 'book' && w.item.author)
const citable = works.filter(w => w.item.author?.length && w.item.title!.split(' ').length > 3)
const settings: Setting[] = [
  { columns: 1, refs: 'hanging', style: 'apa' },
  { columns: 2, refs: 'hanging', style: 'chicago-author-date' },
  { columns: 2, refs: 'numbered', style: 'ieee' },
  { columns: 1, refs: 'apart', style: 'modern-language-association' },
]
const tally = new Map<string, Map<Outcome, number>>()
const sums = { right: 0, refused: 0, wrong: 0, accepted: 0 }
for (const [m, name] of Object.keys(MAKERS).entries()) {
  if (process.env.ONLY && process.env.ONLY !== name) continue
  for (let i = from; i < from + each; i++) {
    const n = i * 5 + m
    const w = articles[(n * 31) % articles.length]!
    const before = articles[(n * 31 + 7) % articles.length]!
    const s = settings[(i + m) % settings.length]!
    const cited = Array.from({ length: 8 }, (_, j) => citable[(n * 41 + j * 13) % citable.length]!.item)
    const known = knownText(maker.facts, w, cited, s, 90)
    const around = {
      ...{ work: w.item, known, before: knownText(maker.facts, before, cited, s, 60) },
      book: books[n % books.length]!.item,
    }
    for (const kind of kindsOfFiles(around)) {
      const keep = folder ? { folder, name: `${name}-${n}-${kind.what}`.replace(/[^\w-]/g, '_') } : undefined
      const bytes = await setOrKept(name, kind.known, s, keep)
      if (!bytes) continue
      const text = await tasks.pdf(bytes)
      const pages = proofPages(text)
      const hold = (what: string, item: Item, isWork: boolean) => {
        const { outcome, evidence } = proveCopy(item, pages)
        const of = tally.get(what) ?? new Map<Outcome, number>()
        tally.set(what, of.set(outcome, (of.get(outcome) ?? 0) + 1))
        if (isWork) sums.right++
        else sums.wrong++
        if (isWork && outcome !== 'proved') sums.refused++
        if (!isWork && outcome === 'proved') sums.accepted++
        if (process.env.SHOW && isWork !== (outcome === 'proved'))
          console.log(
            `${name} ${n} ${what} → ${outcome}: ${item.title} | ${evidence.map(e => `${e.holds ? '+' : '-'}${e.said}`).join(' ')}`,
          )
      }
      const own =
        kind.item.page && kind.isWork
          ? { ...kind.item, page: `${known.first}-${known.first + pages.length - 1}` }
          : kind.item
      hold(kind.what, own, kind.isWork)
      for (const item of [...cited, ...[3, 5, 11].map(k => articles[(n * 31 + k) % articles.length]!.item)])
        if (item !== w.item && item !== before.item) hold('another work', item, false)
    }
  }
}
for (const [what, of] of tally) {
  const all = [...of.values()].reduce((a, b) => a + b, 0)
  console.log(`${what}: ${[...of].map(([o, k]) => `${o} ${k} of ${all}`).join(', ')}`)
}
console.log(`right not accepted ${sums.refused} of ${sums.right}; wrong accepted ${sums.accepted} of ${sums.wrong}`)
