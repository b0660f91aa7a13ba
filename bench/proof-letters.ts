/**
 * Proof against texts that other makers set: short letters that cite many works on their first page, each held against
 * the work that it is and against every work that it cites.
 * npx tsx bench/proof-letters.ts [texts of each setting]      SHOW=1 prints what was wrong; KEEP=folder keeps the files
 */
import type { Item } from '../core/bib/item'
import { proveCopy, type Outcome } from '../core/match/proof'
import { tasks } from '../server/child/tasks'
import { proofPages } from '../core/pdftext/read-text'
import { WorldMaker } from '../demo/generate'
import { knownText, type Setting } from './pages/known'
import { MAKERS, setOrKept } from './pages/makers'

const each = Number(process.argv[2] ?? 2)
const folder = process.env.KEEP
const maker = new WorldMaker(53, 3000, 1)
const works = [...maker].map(m => m.work)
const articles = works.filter(w => w.form === 'research article' && w.item.author)
const citable = works.filter(w => w.item.author?.length && w.item.title!.split(' ').length > 3)
const settings: Setting[] = [
  { columns: 1, refs: 'hanging', style: 'apa' },
  { columns: 1, refs: 'apart', style: 'modern-language-association' },
  { columns: 2, refs: 'hanging', style: 'chicago-author-date' },
  { columns: 2, refs: 'numbered', style: 'ieee' },
  { columns: 3, refs: 'numbered', style: 'vancouver' },
]
const tally: Record<'itself' | 'a work that it cites', Map<Outcome, number>> = {
  itself: new Map(),
  'a work that it cites': new Map(),
}
let n = 0
for (const name of Object.keys(MAKERS))
  for (const s of settings)
    for (let i = 0; i < each; i++) {
      const w = articles[n++ % articles.length]!
      const cited = Array.from({ length: 22 }, (_, j) => citable[(n * 41 + j * 13) % citable.length]!.item)
      const known = knownText(maker.facts, w, cited, s, 8 + (n % 3) * 12)
      const bytes = await setOrKept(
        name,
        known,
        s,
        folder ? { folder, name: `letter-${name}-${s.columns}-${s.refs}-${i}` } : undefined,
      )
      if (!bytes) continue
      const text = await tasks.pdf(bytes)
      const hold = (what: keyof typeof tally, item: Item) => {
        const { outcome, evidence } = proveCopy(item, proofPages(text))
        tally[what].set(outcome, (tally[what].get(outcome) ?? 0) + 1)
        if (
          process.env.SHOW &&
          (what === 'itself') !== (outcome === 'proved') &&
          (what === 'itself' || outcome === 'proved')
        )
          console.log(
            `${name} ${s.columns} ${s.refs}: ${what} → ${outcome}: ${item.title} ${evidence.map(e => `${e.holds ? '+' : '-'}${e.said}`).join(' ')}`,
          )
      }
      hold('itself', { ...w.item, page: `1-${text.pages.length}` })
      for (const item of cited)
        if (item !== w.item) hold('a work that it cites', { ...item, page: `1-${text.pages.length}` })
    }
for (const [what, outcomes] of Object.entries(tally)) {
  const all = [...outcomes.values()].reduce((a, b) => a + b, 0)
  console.log(`${what}: ${[...outcomes].map(([o, k]) => `${o} ${k} of ${all}`).join(', ')}`)
}
