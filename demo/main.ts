import { createWriteStream, mkdirSync, renameSync, rmSync, writeFileSync } from 'node:fs'
import { join } from 'node:path'
import { parseArgs } from 'node:util'
import { WORLD_FILES, type WorldWork } from '../core/world/types'
import { WorldMaker } from './generate'
import { writeKbart } from './kbart'

/**
 * Writes the made-up world into a folder: works, facts and the library's KBART files. True labels are written only
 * where a benchmark asks for them, into a folder of their own.
 */
const { values } = parseArgs({
  options: {
    out: { type: 'string', default: '.data/world' },
    labels: { type: 'string' },
    seed: { type: 'string', default: '1' },
    works: { type: 'string', default: '24000' },
    held: { type: 'boolean', default: false },
  },
})
const began = Date.now()
mkdirSync(values.out, { recursive: true })
const world = new WorldMaker(Number(values.seed), Number(values.works), values.held ? 1 : 0)
const works = lines(join(values.out, WORLD_FILES.works))
const labels = values.labels ? lines(join(values.labels, 'labels.ndjson')) : undefined
const books: WorldWork[] = []
for (const { work, label } of world) {
  if (work.shelf?.ebook) books.push(work)
  await works.write(work)
  await labels?.write(label)
}
await labels?.end()
const folder = join(values.out, WORLD_FILES.kbart)
rmSync(folder, { recursive: true, force: true })
mkdirSync(folder, { recursive: true })
for (const [name, text] of writeKbart(world.seed, world.facts.venues, books)) writeFileSync(join(folder, name), text)
writeFileSync(join(values.out, WORLD_FILES.facts), JSON.stringify(world.facts))
// last, so that a half-written world is never served
await works.end()
console.log(`${world.size} works written to ${values.out} in ${((Date.now() - began) / 1000).toFixed(1)} s`)

/** A file of JSON lines, written beside and renamed when whole. */
function lines(path: string) {
  mkdirSync(join(path, '..'), { recursive: true })
  const out = createWriteStream(`${path}.part`)
  let held = ''
  const flush = async () => {
    const go = out.write(held)
    held = ''
    if (!go) await new Promise<void>(done => out.once('drain', () => done()))
  }
  return {
    async write(row: unknown): Promise<void> {
      held += `${JSON.stringify(row)}\n`
      if (held.length > 1 << 18) await flush()
    },
    async end(): Promise<void> {
      await flush()
      await new Promise<void>(done => out.end(() => done()))
      renameSync(`${path}.part`, path)
    },
  }
}
