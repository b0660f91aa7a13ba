/**
 * The first page of the likeliest-first order of a fresh pool: how many of the first twenty answer the question, before
 * any decision and after five, ten and twenty, over questions of twelve fields of a made-up world, against BM25F on the
 * question's words. A pool is what a sweep for any two words of the question brings.
 * npx tsx bench/first-order.ts [works] [seed …]      (settings were chosen on seeds 5 and 6; others count)
 */
import { Learner } from '../core/sift/learner'
import type { Described } from '../core/sift/order'
import { questionNearness } from '../core/query/nearest'
import { wordsOf } from '../core/query/sheet'
import { SUBJECTS } from '../demo/subjects'
import { WorldMaker } from '../demo/generate'

const size = Number(process.argv[2] ?? 24_000)
const seeds = process.argv.length > 3 ? process.argv.slice(3).map(Number) : [11, 12, 13]
const first = (list: string) => list.split('|')[0]!.split(';')[0]!.trim()
const AT = [0, 5, 10, 20]

for (const seed of seeds) {
  const works = [...new WorldMaker(seed, size)].map(({ work, label }) => ({
    d: {
      title: work.item.title!,
      ...(work.item.abstract ? { abstract: work.item.abstract } : {}),
      keywords: work.keywords,
    } as Described,
    subject: label.subject,
  }))
  const sums = AT.map(() => 0)
  let [bm25, n] = [0, 0]
  for (const s of [...SUBJECTS].sort((a, b) => b.weight - a.weight).slice(0, 12)) {
    const question: Described = { title: `How does ${first(s.causes)} change ${first(s.things)}?` }
    const words = wordsOf(question.title)
      .flatMap(w => w.split(' '))
      .filter(w => w.length > 3)
    const holds = (d: Described) => words.filter(w => `${d.title} ${d.abstract ?? ''}`.toLowerCase().includes(w)).length
    const pool = works.filter(w => holds(w.d) >= 2)
    const right = pool.map(w => w.subject === s.name)
    if (right.filter(Boolean).length < 20 || right.every(Boolean)) continue
    n++
    const top = (rows: ArrayLike<number>) =>
      Array.from(rows)
        .slice(0, 20)
        .filter(r => right[r]).length / 20
    const near = questionNearness(
      pool.map(w => w.d),
      question,
    )
    bm25 += top([...pool.keys()].sort((a, b) => near[b]! - near[a]!))
    const learner = new Learner()
    learner.load(pool.map(w => w.d))
    const decided = new Int8Array(pool.length)
    for (let read = 0; read <= AT.at(-1)!; read++) {
      const { rows } = learner.order(decided, question)
      const k = AT.indexOf(read)
      if (k >= 0) sums[k]! += top(rows)
      decided[rows[0]!] = right[rows[0]!] ? 1 : -1
    }
  }
  const p = (x: number) => (x / n).toFixed(2)
  console.log(
    `seed ${seed}, ${n} questions: BM25F ${p(bm25)}; ours ${AT.map((a, i) => `after ${a} ${p(sums[i]!)}`).join(', ')}`,
  )
}
