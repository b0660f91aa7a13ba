/**
 * What a work really is, judged from its records: accuracy where a careful reader could decide, "unknown" where not,
 * Brier score and calibration, on worlds of given seeds and the half of the grammar that was held back.
 * npx tsx bench/kind.ts [works] [seed …]      (weights were set on seed 5 and the first half; others count)
 */
import { appraise, KINDS, type Kind } from '../core/appraise/kind'
import { readDublinCore } from '../core/formats/dublin-core'
import { readMarcXml } from '../core/formats/marcxml'
import { readMods } from '../core/formats/mods'
import { buildWork } from '../core/match/best-fields'
import type { MatchRecord } from '../core/match/records'
import { WorldMaker } from '../demo/generate'
import type { Label } from '../demo/labels'
import { writeKbart } from '../demo/kbart'
import { descriptions } from '../standins/catalogues'
import { serveWorld } from '../standins/world'

const size = Number(process.argv[2] ?? 24_000)
const seeds = process.argv.length > 3 ? process.argv.slice(3).map(Number) : [11, 12, 13]
const half = process.env.HALF === '0' ? 0 : 1
const reader = { mods: readMods, dc: readDublinCore, marcxml: readMarcXml }

for (const seed of seeds) {
  const maker = new WorldMaker(seed, size, half)
  const made = [...maker]
  const labels = new Map(made.map(m => [m.work.id, m.label]))
  const works = made.map(m => m.work)
  const world = serveWorld(works, maker.facts, writeKbart(seed, maker.facts.venues, works))
  const byWork = new Map<string, MatchRecord[]>()
  let id = 0
  for (const { entry, schema, xml } of descriptions(world)) {
    // a preprint is a version: what is judged here is the work as it was published
    if (entry.deposit?.version === 'preprint') continue
    const r = { id: ++id, ...reader[schema](xml) }
    const list = byWork.get(entry.work.id)
    if (list) list.push(r)
    else byWork.set(entry.work.id, [r])
  }
  const seen: { truth: Kind; label: Label; kind: Kind; confidence: number; title: string; said: string[] }[] = []
  for (const [work, records] of byWork) {
    const label = labels.get(work)!
    const built = buildWork(records)
    const a = appraise(built.item, built.facts)
    seen.push({
      truth: label.kind as Kind,
      label,
      kind: a.kind,
      confidence: a.confidence,
      title: built.item.title ?? '',
      said: a.evidence,
    })
  }
  const decidable = seen.filter(s => s.label.decidable)
  const right = decidable.filter(s => s.kind === s.truth)
  const open = seen.filter(s => !s.label.decidable)
  // of what is told, not of "unknown": that the named kind is the true one
  const told = seen.filter(s => s.kind !== 'unknown')
  const brier = told.reduce((n, s) => n + (s.confidence - Number(s.kind === s.truth)) ** 2, 0) / told.length
  const ordered = [...told].sort((a, b) => a.confidence - b.confidence)
  const bins = Array.from({ length: 15 }, (_, b) =>
    ordered.slice(Math.floor((b * ordered.length) / 15), Math.floor(((b + 1) * ordered.length) / 15)),
  )
  const mean = (list: number[]) => list.reduce((x, y) => x + y, 0) / list.length
  const ece = bins.reduce(
    (n, b) =>
      n +
      (b.length / ordered.length) *
        Math.abs(mean(b.map(s => s.confidence)) - mean(b.map(s => Number(s.kind === s.truth)))),
    0,
  )
  const p = (x: number) => `${(100 * x).toFixed(1)}%`
  console.log(`seed ${seed}, ${half ? 'held-back' : 'first'} half: ${seen.length} works, ${decidable.length} decidable`)
  console.log(
    `  accuracy on decidable ${p(right.length / decidable.length)}; on others "unknown" ${p(open.filter(s => s.kind === 'unknown').length / open.length)}, right kind all the same ${p(open.filter(s => s.kind === s.truth).length / open.length)}`,
  )
  console.log(
    `  Brier score ${brier.toFixed(4)}, calibration error ${ece.toFixed(4)} over 15 bins of ${told.length} works`,
  )
  for (const truth of KINDS) {
    const of = decidable.filter(s => s.truth === truth)
    if (!of.length) continue
    const wrong = new Map<string, number>()
    for (const s of of) if (s.kind !== truth) wrong.set(s.kind, (wrong.get(s.kind) ?? 0) + 1)
    console.log(
      `  ${truth.padEnd(20)} ${String(of.length).padStart(6)}  ${p(of.filter(s => s.kind === truth).length / of.length).padStart(6)}  ${[
        ...wrong,
      ]
        .sort((a, b) => b[1] - a[1])
        .slice(0, 3)
        .map(([k, n]) => `${k} ${n}`)
        .join(', ')}`,
    )
  }
  if (process.env.SHOW)
    for (const truth of KINDS)
      for (const s of decidable.filter(s => s.truth === truth && s.kind !== truth).slice(0, 4))
        console.log(`   ${truth} taken for ${s.kind} (${s.confidence.toFixed(2)}): ${s.title} – ${s.said.join(' ')}`)
}
