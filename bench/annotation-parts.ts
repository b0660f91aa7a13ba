/**
 * Parts of annotations by the signs in their words, against sentences that a reader has put under one: how many of each
 * are seen as that, and how many of those that are seen as it are.
 * npx tsx bench/annotation-parts.ts [open|closed|later]      SHOW=1 prints those that were not
 */
import { readFileSync } from 'node:fs'
import { ANNOTATION_PARTS, partsIn, type AnnotationPart } from '../core/write/annotation-parts'

const which = process.argv[2] ?? 'closed'
const OF: Record<string, AnnotationPart | undefined> = Object.fromEntries(ANNOTATION_PARTS.map(p => [p[0]!, p]))
const lines = readFileSync(new URL(`annotation-parts/${which}.txt`, import.meta.url), 'utf8')
  .split('\n')
  .filter(l => l && !l.startsWith('#'))
const read = lines.map(l => ({
  of: OF[l[0]!],
  text: l.slice(2),
  seen: new Set((partsIn(l.slice(2)) ?? []).flatMap(s => s.parts)),
}))
for (const part of ANNOTATION_PARTS) {
  const own = read.filter(r => r.of === part)
  const seen = read.filter(r => r.seen.has(part))
  const right = own.filter(r => r.seen.has(part))
  console.log(
    `${part.padEnd(10)} ${right.length} of ${own.length} seen; of ${seen.length} seen as it ${right.length} are it above all`,
  )
}
const none = read.filter(r => !r.of)
console.log(`nothing    ${none.filter(r => !r.seen.size).length} of ${none.length} without any`)
if (process.env.SHOW)
  for (const r of read)
    if (r.of ? !r.seen.has(r.of) : r.seen.size) console.log(`${r.of ?? '-'} / ${[...r.seen].join()}: ${r.text}`)
