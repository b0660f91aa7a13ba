/**
 * MODS as another program reads it: works of a made-up world are written, turned into RIS by Debian's bibutils, which shares no
 * code with ours, and read back; counted by field.
 * npx tsx bench/mods.ts [works]      (needs the package bibutils)
 */
import { spawnSync } from 'node:child_process'
import { WorldMaker } from '../demo/generate'
import type { Item, Name } from '../core/bib/item'
import { readRis } from '../core/formats/ris'
import { writeMods } from '../core/formats/write-mods'

const size = Number(process.argv[2] ?? 2000)
const items = [...new WorldMaker(21, size)].map((m, i) => ({ ...m.work.item, id: `w${i}` }) as Item)
const from = performance.now()
const xml = writeMods(
  items,
  items.map(i => i.id),
)
console.log(`${items.length} works written in ${(performance.now() - from).toFixed(0)} ms, ${xml.length >> 10} KiB`)
const made = spawnSync('xml2ris', ['-i', 'unicode', '-o', 'unicode'], { input: xml, maxBuffer: 1 << 28 })
if (made.status !== 0) throw new Error(`xml2ris: ${String(made.error ?? made.stderr)}`)
const { entries, refused } = readRis(made.stdout.toString().replace(/^\uFEFF/, ''))
console.log(`${entries.length} come back, ${refused.length} cannot be read`)
const back = new Map(entries.map(e => [e.item.id, e.item]))

const plain = (v: unknown): string =>
  String(v ?? '')
    .replace(/<[^>]*>/g, '')
    .replace(/[–—]/g, '-')
    .replace(/\s+/g, ' ')
    .trim()
    .toLowerCase()
const names = (all: Name[] | undefined): string =>
  (all ?? [])
    .map(
      n =>
        n.literal ??
        [[n['dropping-particle'], n['non-dropping-particle'], n.family].filter(Boolean).join(' '), n.given]
          .filter(Boolean)
          .join(', '),
    )
    .map(plain)
    .join('; ')
const FIELDS: Record<string, (i: Item) => string> = {
  type: i => i.type,
  title: i => plain(i.title),
  authors: i => names(i.author),
  editors: i => names(i.editor),
  'container-title': i => plain(i['container-title']),
  year: i => String(i.issued?.['date-parts']?.[0]?.[0] ?? ''),
  volume: i => plain(i.volume),
  issue: i => plain(i.issue),
  page: i => plain(i.page),
  publisher: i => plain(i.publisher),
  DOI: i => plain(i.DOI),
  ISBN: i => plain(i.ISBN).replace(/-/g, ''),
  ISSN: i => plain(i.ISSN),
}
for (const [name, of] of Object.entries(FIELDS)) {
  const there = items.filter(i => of(i))
  const lost = there.filter(i => !back.get(i.id) || of(back.get(i.id)!) !== of(i))
  console.log(`${name.padEnd(16)} ${there.length - lost.length} of ${there.length}`)
  for (const i of lost.slice(0, 2)) console.log(`    ${i.type} “${of(i)}” is “${of(back.get(i.id) ?? ({} as Item))}”`)
}
