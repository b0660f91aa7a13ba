/**
 * Joins in bibliographies that others keep: each entry of the .bib files of a folder beside a copy of it with one fault.
 * Is the copy joined to its own entry, is it asked, or is it joined to another?
 * npx tsx bench/joins.ts FOLDER [most entries of a file]      SHOW=1 prints what went wrong
 */
import { yearOf } from '../core/bib/dates'
import { components, findLinks, publishedDoi, type MatchRecord } from '../core/match/records'
import { seeded } from '../core/world/random'
import { bibliographies, faults, without } from './bibliographies'

const folder = process.argv[2]
if (!folder) throw new Error('Give a folder with .bib files.')
const most = Number(process.argv[3] ?? 4000)
const show = Boolean(process.env.SHOW)

interface Tally {
  tried: number
  joined: number
  asked: number
  wrong: number
}
const by = new Map<string, Tally>(Object.keys(faults).map(f => [f, { tried: 0, joined: 0, asked: 0, wrong: 0 }]))
let entries = 0
let pairsWrong = 0
let pairsAsked = 0
let joins = 0

let files = 0
for (const { file, entries: list } of bibliographies(folder)) {
  const items = list.slice(0, most)
  files++
  entries += items.length
  const originals: MatchRecord[] = items.map(({ item, facts }, n) => ({ id: n + 1, item, facts }))
  const tell = (r: MatchRecord) =>
    `${r.item.type} "${r.item.title}" ${r.item.author?.map(a => a.family ?? a.literal).join(',') ?? '-'} ${yearOf(r.item)} ${r.item['container-title'] ?? '-'} ${r.item.volume ?? ''}(${r.item.issue ?? ''}) ${r.item.page ?? ''} ${r.item.publisher ?? ''} ${r.item.DOI ?? ''} ${r.item.ISBN ?? ''}`
  const among = findLinks([], originals)
  for (const l of among) {
    if (l.verdict === 'same') pairsWrong++
    if (l.verdict === 'asked') pairsAsked++
    if (show && (l.verdict === 'same' || l.verdict === 'asked'))
      console.log(
        `ALIKE ${l.verdict} ${l.score} ${file}\n   ${tell(originals[l.a - 1]!)}\n   ${tell(originals[l.b - 1]!)}`,
      )
  }
  const groups = components(
    originals.map(r => ({ id: r.id, doi: publishedDoi(r) })),
    among,
  )
  const group = new Map(groups.flatMap((g, n) => g.map(id => [id, n] as const)))
  const random = seeded(7)
  for (const [name, fault] of Object.entries(faults)) {
    const t = by.get(name)!
    const copies: MatchRecord[] = []
    const own = new Map<number, number>()
    for (const o of originals) {
      // of a large file a tenth, so that no one file decides
      if (originals.length > 300 && random() > 300 / originals.length) continue
      // an identifier would settle it
      const bare = without({ ...o.item, note: 'x' }, 'note', 'DOI', 'ISBN', 'URL')!
      const item = fault(bare, random)
      if (!item) continue
      const id = originals.length + copies.length + 1
      copies.push({ id, item, facts: o.facts })
      own.set(id, o.id)
    }
    // each copy against the originals, not against the other copies
    const links = findLinks(originals, copies).filter(l => l.a <= originals.length)
    const best = new Map<number, { joined: boolean; asked: boolean; wrong: boolean }>()
    for (const l of links) {
      const b = best.get(l.b) ?? { joined: false, asked: false, wrong: false }
      const right = group.get(l.a) === group.get(own.get(l.b)!)
      if (l.verdict === 'same') joins++
      if (right) {
        b.joined ||= l.verdict === 'same'
        b.asked ||= l.verdict === 'asked'
      } else if (l.verdict === 'same') {
        b.wrong = true
        if (show)
          console.log(
            `WRONG ${name} ${l.score} ${file}\n   ${tell(originals[l.a - 1]!)}\n   ${tell(copies[l.b - 1 - originals.length]!)}`,
          )
      }
      best.set(l.b, b)
    }
    for (const c of copies) {
      const b = best.get(c.id)
      t.tried++
      if (b?.wrong) t.wrong++
      if (b?.joined) t.joined++
      else if (b?.asked) t.asked++
      else if (show && t.tried % 7 === 0)
        console.log(`MISSED ${name} ${file}\n   ${tell(originals[own.get(c.id)! - 1]!)}\n   ${tell(c)}`)
    }
  }
}

const share = (n: number, of: number): string => `${((100 * n) / (of || 1)).toFixed(2)}%`
console.log(`${files} files, ${entries} entries`)
console.log(`entries of one file joined with each other: ${pairsWrong} pairs; asked: ${pairsAsked}`)
const all: Tally = { tried: 0, joined: 0, asked: 0, wrong: 0 }
for (const [name, t] of by) {
  for (const k of Object.keys(all) as (keyof Tally)[]) all[k] += t[k]
  console.log(
    `${name.padEnd(28)} ${String(t.tried).padStart(5)}  joined ${share(t.joined, t.tried)}  asked ${share(t.asked, t.tried)}  with another ${share(t.wrong, t.tried)}`,
  )
}
console.log(
  `all: ${all.tried}  joined or asked ${share(all.joined + all.asked, all.tried)}  joined ${share(all.joined, all.tried)}  asked ${share(all.asked, all.tried)}  with another ${share(all.wrong, joins)} of ${joins} joins`,
)
