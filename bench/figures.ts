/**
 * Figures of annotations against copies of others: sentences of their pages that tell a figure, the figure written as a
 * student might (thousands with and without a comma, the sign of a share or its word), as an annotation of that copy. How
 * often one is said to be missing that is there, or to stand elsewhere than on its page; and how often one of which a
 * digit was changed is told. Figures that stand in the copy all the same after a digit was changed are counted apart.
 * npx tsx bench/figures.ts FOLDER-OF-PDFS      SHOW=1 prints those that are wrongly told
 */
import { readdirSync, readFileSync } from 'node:fs'
import { seeded } from '../core/world/random'
import { figureFindings, figuresIn, figuresOfPage, pagesOf } from '../core/write/figures'
import { tasks } from '../server/child/tasks'

const [folder] = process.argv.slice(2)
if (!folder) throw new Error('Which folder has the PDFs?')
const random = seeded(7)
const pick = <T>(of: readonly T[]): T => of[Math.floor(random() * of.length)]!

/** A figure in another hand. */
function rewritten(said: string): string {
  const digits = said.replace(/[^\d.]/g, '')
  const bare = /^\d{4,}$/.test(digits) && random() < 0.5 ? Number(digits).toLocaleString('en') : digits
  return /%|per/.test(said) ? `${bare}${pick(['%', ' %', ' percent', ' per cent'])}` : bare
}
const count = { told: 0, missing: 0, elsewhere: 0, page: 0, changed: 0, found: 0, there: 0 }
let letters = 0
let ms = 0
for (const name of readdirSync(folder).filter(n => n.endsWith('.pdf'))) {
  const { pages } = await tasks.pdf(readFileSync(`${folder}/${name}`))
  const texts = pages.map(p => p.text)
  letters += texts.join('').length
  const begun = performance.now()
  const copy = { pages: texts.map(figuresOfPage), labels: texts.map((_, i) => String(i + 1)) }
  ms += performance.now() - begun
  const look = (text: string) => figureFindings(text, [copy], { hasText: true, apart: [], others: [] }).map(f => f.what)
  texts.forEach((text, i) => {
    for (const { segment } of new Intl.Segmenter('en', { granularity: 'sentence' }).segment(text)) {
      const sentence = segment.replace(/\s+/g, ' ').trim()
      const [f] = figuresIn(sentence)
      if (!f || f.page || sentence.length > 400) continue
      const [before, after] = [sentence.slice(0, f.from), sentence.slice(f.to)]
      const written = before + rewritten(f.said) + after
      count.told++
      if (look(written).includes('figure not there')) {
        count.missing++
        if (process.env.SHOW) console.log('MISSING', written, figuresIn(written)[0]?.digits)
      }
      const end = written.replace(/[.!?]+$/, '')
      if (look(`${end} (p. ${i + 1}).`).includes('figure elsewhere')) {
        count.elsewhere++
        if (process.env.SHOW) console.log('ELSE', end)
      }
      const other = ((i + 1 + Math.ceil(random() * (texts.length - 2))) % texts.length) + 1
      if (look(`${end} (p. ${other}).`).includes('figure elsewhere')) count.page++
      const at = f.from + Math.floor(random() * f.digits.replace('.', '').length)
      const changed =
        sentence.slice(0, at) +
        sentence.slice(at).replace(/\d/, d => String((Number(d) + 1 + Math.floor(random() * 8)) % 10))
      const [now] = figuresIn(changed)
      if (!now || now.digits === f.digits) continue
      count.changed++
      if (look(changed).includes('figure not there')) count.found++
      else if (pagesOf(now, copy.pages).length) count.there++
    }
  })
}
console.log(
  `${count.told} figures of ${(letters / 6).toFixed(0)} words; numbers of all pages read in ${ms.toFixed(0)} ms`,
)
console.log(`said to be missing: ${count.missing}; to stand elsewhere though their page is named: ${count.elsewhere}`)
console.log(`another page named: ${count.page} told`)
console.log(`a digit changed: ${count.found} of ${count.changed} told; ${count.there} stand somewhere all the same`)
