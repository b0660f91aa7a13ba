/**
 * Joining records into works on worlds of given seeds: precision, recall, share asked, and how time grows; with what
 * identifiers and exact title, author and year alone would give.
 * npx tsx bench/match.ts [works] [seed …]      (weights were set on seed 5; others count)
 */
import { foldTitle } from '../core/bib/fold'
import { nameKey } from '../core/bib/names'
import { yearOf } from '../core/bib/dates'
import { normaliseDoi } from '../core/bib/identifiers'
import { readDublinCore } from '../core/formats/dublin-core'
import { readMarcXml } from '../core/formats/marcxml'
import { readMods } from '../core/formats/mods'
import { components, findLinks, publishedDoi, type MatchRecord, type PairLink } from '../core/match/records'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { seeded } from '../core/world/random'
import { descriptions } from '../standins/catalogues'
import { serveWorld } from '../standins/world'

const size = Number(process.argv[2] ?? 24_000)
const seeds = process.argv.length > 3 ? process.argv.slice(3).map(Number) : [11, 12, 13]
const reader = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }

function recordsOf(seed: number, works: number): { records: MatchRecord[]; truth: string[] } {
  const maker = new WorldMaker(seed, works)
  const made = [...maker].map(m => m.work)
  const world = serveWorld(made, maker.facts, writeKbart(seed, maker.facts.venues, made))
  const records: MatchRecord[] = []
  const truth: string[] = []
  for (const { entry, schema, xml } of descriptions(world)) {
    records.push({ id: records.length + 1, ...reader[schema](xml) })
    truth.push(entry.work.id)
  }
  return { records, truth }
}

const pairs = (n: number): number => (n * (n - 1)) / 2
function judge(groups: number[][], truth: string[]): { precision: number; recall: number; f1: number } {
  let joined = 0
  let right = 0
  for (const g of groups) {
    joined += pairs(g.length)
    const by = new Map<string, number>()
    for (const id of g) by.set(truth[id - 1]!, (by.get(truth[id - 1]!) ?? 0) + 1)
    for (const n of by.values()) right += pairs(n)
  }
  const all = new Map<string, number>()
  for (const t of truth) all.set(t, (all.get(t) ?? 0) + 1)
  const wanted = [...all.values()].reduce((n, k) => n + pairs(k), 0)
  const precision = right / (joined || 1)
  const recall = right / wanted
  return { precision, recall, f1: (2 * precision * recall) / (precision + recall) }
}

/** The plain rule to be measured against: the same DOI, or the same folded title, first author and year. */
function plainLinks(records: readonly MatchRecord[]): PairLink[] {
  const seen = new Map<string, number>()
  const links: PairLink[] = []
  for (const { id, item } of records) {
    const doi = normaliseDoi(item.DOI)
    const keys = [`${foldTitle(item.title ?? '')}|${item.author?.[0] ? nameKey(item.author[0]) : ''}|${yearOf(item)}`]
    if (doi) keys.push(doi)
    for (const k of keys) {
      const before = seen.get(k)
      if (before) links.push({ a: before, b: id, verdict: 'same', score: 12, by: 'identifier' })
      seen.set(k, id)
    }
  }
  return links
}

const share = (x: number): string => `${(100 * x).toFixed(2)}%`
const line = (name: string, j: { precision: number; recall: number; f1: number }): string =>
  `${name}: precision ${share(j.precision)}, recall ${share(j.recall)}, F1 ${j.f1.toFixed(4)}`
const timed = <T>(run: () => T): [T, number] => {
  const began = performance.now()
  const out = run()
  return [out, (performance.now() - began) / 1000]
}
const works = (records: MatchRecord[], links: PairLink[]): number[][] =>
  components(
    records.map(r => ({ id: r.id, doi: publishedDoi(r) })),
    links,
  )

for (const seed of seeds) {
  const { records, truth } = recordsOf(seed, size)
  const links = findLinks([], records)
  const groups = works(records, links)
  const asked = links.filter(l => l.verdict === 'asked')
  console.log(`seed ${seed}: ${records.length} records of ${new Set(truth).size} works`)
  console.log(`  ${line('joined', judge(groups, truth))}`)
  console.log(`  ${line('plain rule', judge(works(records, plainLinks(records)), truth))}`)
  const pairsTrue = asked.filter(l => truth[l.a - 1] === truth[l.b - 1]).length
  console.log(
    `  asked ${asked.length} pairs (${share(asked.length / records.length)} of the records), ${pairsTrue} of them one work`,
  )
  if (process.env.SHOW) show(records, truth, groups, links)
}
if (!process.env.SHOW) {
  // as they come from seven catalogues at once, not one after the other
  const { records } = recordsOf(seeds[0]!, 60_000)
  const r = seeded(1)
  const drawn = new Map(records.map(x => [x, r()]))
  records.sort((x, y) => drawn.get(x)! - drawn.get(y)!)
  for (const n of [10_000, 100_000]) {
    const some = records.slice(0, n)
    if (some.length < n) console.log(`only ${some.length} records`)
    const [, keyed] = timed(() => works(some, plainLinks(some)))
    const [, full] = timed(() => works(some, findLinks([], some)))
    console.log(`${n} records: ${full.toFixed(2)} s, ${(full / keyed).toFixed(1)} times the plain rule`)
  }
}

/** Some of what went wrong, to be read. */
function show(records: MatchRecord[], truth: string[], groups: number[][], links: PairLink[]) {
  const of = new Map(groups.flatMap((g, i) => g.map(id => [id, i] as const)))
  const tell = (id: number) => {
    const { item, facts } = records[id - 1]!
    return `${truth[id - 1]} ${item.type} "${item.title}" ${item.author?.map(a => a.family ?? a.literal).join(',')} ${yearOf(item)} ${item['container-title']} ${item.volume}/${item.page} ${item.DOI} ${facts.version ?? ''}`
  }
  let n = 0
  for (const l of links)
    if (l.verdict === 'same' && truth[l.a - 1] !== truth[l.b - 1] && n++ < 15)
      console.log(`WRONG ${l.score}\n   ${tell(l.a)}\n   ${tell(l.b)}`)
  n = 0
  for (const l of links)
    if (l.verdict === 'asked' && truth[l.a - 1] !== truth[l.b - 1] && n++ < 15)
      console.log(`ASKED ${l.score}\n   ${tell(l.a)}\n   ${tell(l.b)}`)
  n = 0
  const ids = new Map<string, number[]>()
  truth.forEach((t, i) => ids.set(t, [...(ids.get(t) ?? []), i + 1]))
  for (const list of ids.values())
    for (const b of list.slice(1))
      if (of.get(list[0]!) !== of.get(b) && n++ < 25)
        console.log(
          `MISSED ${links.find(l => l.a === list[0] && l.b === b)?.score}\n   ${tell(list[0]!)}\n   ${tell(b)}`,
        )
}
