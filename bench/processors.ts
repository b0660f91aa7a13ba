/**
 * Whether another CSL processor, pandoc's of Debian's package, prints the same: works of a made-up world in twelve styles.
 * Letters alone are compared: spaces, quotation marks and dashes are written alike first. What differs is shown once a kind.
 * npx tsx bench/processors.ts [works]      SHOW=1 prints all that differ
 */
import { execFileSync } from 'node:child_process'
import { existsSync, mkdtempSync, rmSync, writeFileSync } from 'node:fs'
import { tmpdir } from 'node:os'
import { join } from 'node:path'
import { DomUtils, parseDocument } from 'htmlparser2'
import type { Item } from '../core/bib/item'
import { formatBibliography } from '../core/cite/format'
import { plainText } from '../core/cite/rich-text'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'
import { styleFiles } from '../server/threads/style-files'

const size = Number(process.argv[2] ?? 200)
const folder = '/usr/share/citation-style-language'
const STYLES = [
  ...['apa', 'modern-language-association', 'chicago-author-date', 'chicago-note-bibliography', 'ieee', 'vancouver'],
  ...[
    'nature',
    'harvard-cite-them-right',
    'american-political-science-association',
    'american-sociological-association',
    'council-of-science-editors-author-date',
  ],
  ...['springer-basic-author-date', 'american-medical-association'],
].filter(s => existsSync(join(folder, 'styles', `${s}.csl`)))

const works = [...new WorldMaker(21, 12_000)].map(m => m.work).filter(w => w.item.author?.length)
const items: Item[] = seeded(3)
  .some(works, size)
  .map((w, i) => {
    const { abstract: _a, keyword: _k, note: _n, ...item } = w.item
    return { ...item, id: `w${i}` } as Item
  })
const place = mkdtempSync(join(tmpdir(), 'vine-processors-'))
const file = join(place, 'items.json')
writeFileSync(file, JSON.stringify(items))

const alike = (text: string): string =>
  text
    .normalize('NFKC')
    .replace(/[“”„«»"]/g, '"')
    .replace(/[‘’']/g, "'")
    .replace(/[‐‑–—−]/g, '-')
    .replace(/\s+/g, ' ')
    .trim()
    .replace(/^(\[\d+\]|\d+\.?) ?/, '')
    .trim()

/** The entries as the other processor prints them, by the id of their work. */
function others(style: string): Map<string, string> {
  const given = ['-f', 'csljson', '-t', 'html', '--citeproc', '--csl', join(folder, 'styles', `${style}.csl`), file]
  const html = execFileSync('pandoc', given, { encoding: 'utf8', maxBuffer: 1e8 })
  const entries = DomUtils.findAll(
    e => (e.attribs.class ?? '').split(' ').includes('csl-entry'),
    parseDocument(html).children,
  )
  return new Map(entries.map(e => [e.attribs.id!.replace(/^ref-/, ''), DomUtils.textContent(e)]))
}

/** What two texts differ in, with the common ends cut off. */
function apart(a: string, b: string): string {
  let from = 0
  while (from < a.length && a[from] === b[from]) from++
  let end = 0
  while (end < Math.min(a.length, b.length) - from && a.at(-1 - end) === b.at(-1 - end)) end++
  return `“${a.slice(Math.max(0, from - 12), a.length - end + 6)}” / “${b.slice(Math.max(0, from - 12), b.length - end + 6)}”`
}

let same = 0
let capitals = 0
let all = 0
for (const style of STYLES) {
  const theirs = others(style)
  const ours = formatBibliography(items, styleFiles({ folder, style }))
  const differing: string[] = []
  for (const e of ours.entries) {
    const [a, b] = [alike(plainText(e.citation)), alike(theirs.get(e.id) ?? '')]
    if (a === b) continue
    differing.push(apart(a, b))
    if (a.toLowerCase() === b.toLowerCase()) capitals++
  }
  const [mine, other] = [ours.entries.map(e => e.id), [...theirs.keys()]]
  const moved = mine.filter((id, i) => other[i] !== id).length
  all += ours.entries.length
  same += ours.entries.length - differing.length
  console.log(
    `${style.padEnd(42)} ${ours.entries.length - differing.length} of ${ours.entries.length} the same, ${moved} at another place`,
  )
  if (process.env.ORDER)
    mine.forEach(
      (id, i) =>
        other[i] !== id &&
        console.log(i, alike(theirs.get(id)!).slice(0, 60), '|', alike(theirs.get(other[i]!)!).slice(0, 60)),
    )
  for (const d of process.env.SHOW ? differing : differing.slice(0, 3)) console.log(`    ${d}`)
}
console.log(`${same} of ${all} the same, ${capitals} more but for capitals, ${all - same - capitals} otherwise`)
rmSync(place, { recursive: true })
