/**
 * Writes the files that tests read: short texts of known words, each set by another program.
 * npx tsx bench/pages/write-fixtures.ts
 */
import { writeFileSync } from 'node:fs'
import { WorldMaker } from '../../demo/generate'
import { knownText, type Setting } from './known'
import { setBy } from './makers'

const maker = new WorldMaker(47, 2000, 1)
const works = [...maker].map(m => m.work)
const articles = works.filter(w => w.form === 'research article' && w.item.author && w.item.page)
const citable = works.filter(w => w.item.author?.length && /^[ -~–“”’éöü]*$/u.test(JSON.stringify(w.item)))
const FIXTURES: [maker: string, setting: Setting][] = [
  ['browser', { columns: 2, refs: 'hanging', style: 'apa' }],
  ['style sheets', { columns: 3, refs: 'numbered', style: 'vancouver' }],
  ['roff', { columns: 2, refs: 'set in', style: 'council-of-science-editors-author-date' }],
  ['TeX', { columns: 2, refs: 'apart', style: 'chicago-author-date' }],
  ['office', { columns: 1, refs: 'numbered', style: 'ieee' }],
]
for (const [i, [name, setting]] of FIXTURES.entries()) {
  const cited = Array.from({ length: 14 }, (_, j) => citable[(i * 131 + j * 17) % citable.length]!.item)
  const first = name === 'style sheets' ? 1 : 87 + i * 20
  const known = { ...knownText(maker.facts, articles[i * 5 + 3]!, cited, setting, 90), first }
  const bytes = await setBy(name, known, setting)
  if (!bytes) throw new Error(`${name} is not on this machine.`)
  const file = `server/child/foreign/${name.replace(' ', '-')}`
  writeFileSync(`${file}.pdf`, bytes)
  writeFileSync(`${file}.json`, `${JSON.stringify(known)}\n`)
}
