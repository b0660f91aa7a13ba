/**
 * Who stands behind a name: works of a made-up world by authors of one family name, put together by what they share, and
 * held against who wrote them. Pairs of works: how many that are put together are by one person, and how many of those by
 * one person are put together.
 * npx tsx bench/authors.ts [works] [seed]      SHOW=1 prints pairs that are wrong, IDS=1 has identifiers of authors
 */
import { fold } from '../core/bib/fold'
import type { Name } from '../core/bib/item'
import { familyName, spokenName } from '../core/bib/names'
import { personsOf, type Written } from '../core/trails/author'
import { WorldMaker } from '../demo/generate'

const works = Number(process.argv[2] ?? 6000)
const maker = new WorldMaker(Number(process.argv[3] ?? 41), works, 1)
/** By family name: its works, with who wrote each. */
const by = new Map<string, { name: Name; written: Written; person: unknown }[]>()
for (const { work } of maker)
  for (const name of work.item.author ?? []) {
    const person = maker.writers.get(name)
    if (!person) continue
    const { id, item, year, keywords } = work
    // as sources give them: with the identifiers that authors have, or without
    const ids = process.env.IDS
      ? Object.entries(work.authorIds ?? {}).map(([at, of]) => ({ name: item.author![Number(at)]!, id: of }))
      : []
    const written = { id, names: item.author!, year, container: item['container-title'] ?? '', words: keywords, ids }
    const family = fold(familyName(name))
    const there = by.get(family)
    if (there) there.push({ name, written, person })
    else by.set(family, [{ name, written, person }])
  }
let [together, right, one, took, asked] = [0, 0, 0, 0, 0]
for (const of of by.values()) {
  if (of.length < 2 || of.length > 400) continue
  // of two authors of one name in one work it is not told which is meant
  if (new Set(of.map(o => o.written.id)).size < of.length) continue
  const first = of[0]!
  const begun = performance.now()
  const persons = personsOf(
    first.name,
    of.map(o => o.written),
    first.written.id,
  )
  took += performance.now() - begun
  asked++
  const groupOf = new Map(persons.flatMap((p, i) => p.works.map(w => [w, i] as const)))
  const seen = of.filter(o => groupOf.has(o.written.id))
  for (const [i, a] of seen.entries())
    for (const b of seen.slice(i + 1)) {
      const [isOne, isTogether] = [a.person === b.person, groupOf.get(a.written.id) === groupOf.get(b.written.id)]
      if (isTogether) together++
      if (isOne) one++
      if (isOne && isTogether) right++
      if (isTogether && !isOne && process.env.SHOW)
        console.log(`${spokenName(a.name)} ${a.written.year} · ${spokenName(b.name)} ${b.written.year}`)
    }
}
const percent = (n: number, of: number) => `${((100 * n) / of).toFixed(1)}%`
console.log(
  `${asked} names of ${works} works: ${percent(right, together)} of ${together} pairs put together are by one person, ` +
    `${percent(right, one)} of ${one} pairs by one person are put together; ${(took / asked).toFixed(2)} ms a name`,
)
