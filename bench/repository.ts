/**
 * Looking through what was taken in of a repository that cannot be searched, against the floor of reading its records
 * as they are kept, and nothing else.
 * npx tsx bench/repository.ts [records]
 */
import { readRecord } from '../core/formats/records'
import { parseCql } from '../core/query/parse-cql'
import { WorldMaker } from '../demo/generate'
import { writeKbart } from '../demo/kbart'
import { tasks } from '../server/threads/main'
import { descriptions } from '../standins/catalogues'
import { serveWorld } from '../standins/world'

const size = Number(process.argv[2] ?? 20_000)
const maker = new WorldMaker(11, 60_000)
const works = [...maker].map(m => m.work)
const world = serveWorld(works, maker.facts, writeKbart(11, maker.facts.venues, works))
const raws: string[] = []
for (const { schema, xml } of descriptions(world)) {
  if (schema === 'dc') raws.push(xml)
  if (raws.length >= size) break
}
const time = (run: () => unknown): number => {
  const times = Array.from({ length: 5 }, () => {
    const at = performance.now()
    run()
    return performance.now() - at
  })
  return times.sort((a, b) => a - b)[2]!
}
const floor = time(() => raws.map(raw => readRecord('dc', raw)))
const read = tasks.read({ schema: 'dc', raws }).flatMap(x => x.read ?? [])
const told = time(() => read.map(x => JSON.parse(x) as unknown))
console.log(
  `${raws.length} records of Dublin Core; read from XML: ${floor.toFixed(0)} ms; from JSON (the floor): ${told.toFixed(0)} ms`,
)
for (const query of [
  'lamp*',
  '(lamp* or light*) and (moth* or insect*)',
  'title = "street light*" and year > 2000',
  'moth* prox/distance<5 light*',
]) {
  const parsed = parseCql(query)
  if (!parsed.ok) throw new Error(parsed.error.message)
  let found = 0
  const ms = time(() => {
    found = 0
    for (let i = 0; i < read.length; i += 2000)
      found += tasks.sift({ query: parsed.query, read: read.slice(i, i + 2000) }).fits.length
  })
  console.log(
    `${query.padEnd(44)} ${String(found).padStart(6)} found  ${ms.toFixed(0).padStart(6)} ms  ${(ms / told).toFixed(2)} times the floor`,
  )
}
