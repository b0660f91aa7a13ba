/**
 * Which language a text is in, by its words: paragraphs that others wrote in a known language, cut at several lengths.
 * npx tsx bench/languages.ts FOLDER     a file a language, called by its code (de.txt), with an empty line between paragraphs
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { languageCode } from '../core/bib/languages'
import { toldLanguage } from '../core/bib/told-language'
import { seeded } from '../core/world/random'

const folder = process.argv[2]
if (!folder) throw new Error('Name the folder of the texts.')
const r = seeded(7)
const files = readdirSync(folder).filter(f => f.endsWith('.txt'))
const texts = files.flatMap(f => {
  const all = readFileSync(join(folder, f), 'utf8')
    .split(/\n\s*\n/)
    .map(p => p.replace(/\s+/g, ' ').trim())
    .filter(p => p.length >= 150)
  return r.some(all, Math.min(400, all.length)).map(text => ({ language: languageCode(f.replace('.txt', '')), text }))
})
for (const most of [150, 300, 1200]) {
  const told = texts.map(t => ({ ...t, said: toldLanguage(t.text.slice(0, most)) }))
  const said = told.filter(t => t.said)
  const wrong = said.filter(t => t.said !== t.language)
  const kinds = new Map<string, number>()
  for (const w of wrong) kinds.set(`${w.language} as ${w.said}`, (kinds.get(`${w.language} as ${w.said}`) ?? 0) + 1)
  console.log(
    `${most} letters: ${said.length} of ${told.length} in ${files.length} languages told (${((100 * said.length) / told.length).toFixed(1)}%), ` +
      `${wrong.length} of them wrongly (${((100 * wrong.length) / said.length).toFixed(2)}%)` +
      ([...kinds].length
        ? `: ${[...kinds]
            .sort((a, b) => b[1] - a[1])
            .slice(0, 6)
            .map(([k, n]) => `${k} ${n}`)
            .join(', ')}`
        : ''),
  )
}
const begun = performance.now()
for (const { text } of texts) toldLanguage(text)
console.log(`${((performance.now() - begun) / texts.length).toFixed(2)} ms a text`)
