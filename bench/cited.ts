/**
 * Where documents cite the entries of their own lists of references: how many entries are found in their texts, and by
 * which citations.
 * npx tsx bench/cited.ts FOLDER      SHOW=5 prints that many citations of each with their sentences
 */
import { readdirSync, readFileSync } from 'node:fs'
import { join } from 'node:path'
import { citedIn } from '../core/pdftext/cited'
import { readText } from '../core/pdftext/read-text'
import { openPdf } from '../server/child/open-pdf'

const folder = process.argv[2]
if (!folder) throw new Error('Give a folder with PDF files.')
const show = Number(process.env.SHOW ?? 0)
/** Pages of a file that are read. */
const MOST = 400
let [all, found] = [0, 0]
for (const file of readdirSync(folder, { recursive: true, encoding: 'utf8' })) {
  if (!file.endsWith('.pdf')) continue
  try {
    const pdf = await openPdf(readFileSync(join(folder, file)))
    const drawn = []
    for (let n = 1; n <= Math.min(pdf.pages, MOST); n++) drawn.push(await pdf.page(n))
    await pdf.close()
    const text = readText(drawn, pdf.labels)
    const list = text.references
      .flatMap(l => l.entries)
      .map((e, i) => ({ ...e, n: i + 1, label: e.label ?? null, item: e.read.item }))
    if (!list.length) continue
    const pages = text.pages.map(p => [p.text, p.notes].filter(Boolean).join('\n'))
    const begun = performance.now()
    const cited = citedIn(pages, list)
    const ms = performance.now() - begun
    all += list.length
    found += cited.size
    const places = [...cited.values()].flat()
    console.log(
      `${cited.size} of ${list.length} entries, ${places.length} places, ${ms.toFixed(0)} ms, ${pages.length} pages: ${file}`,
    )
    const shown = [...cited].flatMap(([n, of]) => of.map(p => ({ n, ...p })))
    for (let i = 0; i < show && i < shown.length; i++) {
      const { n, page, said, at } = shown[Math.floor((i * shown.length) / show)]!
      console.log(
        `   p. ${page}: ${said.slice(0, at.from)}⟦${said.slice(at.from, at.to)}⟧${said.slice(at.to)}\n      → ${list[n - 1]!.text.slice(0, 110)}`,
      )
    }
    if (show)
      for (const e of list.filter(e => !cited.has(e.n)).slice(0, show))
        console.log(`   not found: ${e.label ?? ''} ${e.text.slice(0, 110)}`)
  } catch (e) {
    console.log(`${file}: ${e instanceof Error ? e.message : String(e)}`)
  }
}
console.log(`${found} of ${all} entries found`)
