/**
 * A long bibliography handed in: a list of works of a made-up world with annotations of 150 words, formatted and written in
 * each format. The floor is the formatter alone, engine and list, without what is ours around it.
 * npx tsx bench/hand-in.ts [entries]      (VINE_THREAD names the built thread, as the server's build writes it)
 */
import CSL from 'citeproc'
import { seeded } from '../core/world/random'
import { WorldMaker } from '../demo/generate'
import type { Item } from '../core/bib/item'
import { formatBibliography, formatParts } from '../core/cite/format'
import { writingOf, type Paper } from '../core/paper/bibliography'
import { changesBetween } from '../core/paper/compare'
import { asHtml } from '../core/paper/html'
import { asLatex } from '../core/paper/latex'
import { LAYOUT } from '../core/paper/layout'
import { asMarkdown } from '../core/paper/markdown'
import { asPdf } from '../server/compose/pdf'
import { asDocx } from '../server/documents/docx'
import { closeThreads } from '../server/threads/threads'
import { styleFiles } from '../server/threads/style-files'

const size = Number(process.argv[2] ?? 1000)
const files = styleFiles({ folder: '/usr/share/citation-style-language', style: 'apa' })
const r = seeded(8)
const items: Item[] = [...new WorldMaker(21, 12_000)]
  .map(m => m.work)
  .filter(w => w.item.author?.length)
  .slice(0, size)
  .map((w, i) => ({ ...w.item, id: String(i) }) as Item)
const WORDS =
  'the authors ask whether lamps along streets keep moths from flowers they would visit and count them'.split(' ')
const annotation = () => Array.from({ length: 150 }, () => r.pick(WORDS)).join(' ')

async function timed<T>(name: string, make: () => T | Promise<T>): Promise<T> {
  const times: number[] = []
  let made: T
  for (let i = 0; i < 3; i++) {
    const from = performance.now()
    made = await make()
    times.push(performance.now() - from)
  }
  const [best] = times.toSorted((a, b) => a - b)
  const bytes = typeof made! === 'string' || Buffer.isBuffer(made!) ? `, ${Math.round(made!.length / 1000)} kB` : ''
  console.log(`${name.padEnd(34)} ${best!.toFixed(0).padStart(6)} ms${bytes}`)
  return made!
}

console.log(`${items.length} entries`)
await timed('the formatter alone', () => {
  const byId = new Map(items.map(i => [i.id, i]))
  const engine = new CSL.Engine(
    { retrieveLocale: l => files.locale(l) ?? files.locale('en-US')!, retrieveItem: id => byId.get(id) },
    files.style,
  )
  engine.updateItems([...byId.keys()])
  return engine.makeBibliography()
})
const list = await timed('list and citations in a text', () => formatBibliography(items, files))
const order = r.some(items, items.length)
await timed('the same in an order of its own', () => formatParts([order], { ...files, inOrder: true }))
await timed('the same in eight parts', () =>
  formatParts(
    Array.from({ length: 8 }, (_, i) => order.filter((_x, at) => at % 8 === i)),
    { ...files, inOrder: true },
  ),
)
const paper: Paper = {
  ...{ title: 'Annotated bibliography', question: 'What do lamps do?', author: 'Ines Quill', course: '' },
  ...{
    day: '2026-10-05',
    style: 'apa',
    styleName: 'APA',
    language: null,
    hangingIndent: true,
    opening: '',
    closing: '',
  },
  sections: [
    {
      ...{ heading: null, strand: null, text: '' },
      entries: list.entries.map((e, i) => ({
        ...{ entry: i, work: i, title: `Work ${i}`, citation: e.citation, inText: '', annotation: annotation() },
        item: items[Number(e.id)]!,
      })),
    },
  ],
}
const writing = writingOf(paper, LAYOUT)
await timed('Markdown', () => asMarkdown(writing))
await timed('web page', () => asHtml(writing))
await timed('LaTeX', () => asLatex(writing))
await timed('.docx', () => asDocx(writing))
await timed('PDF', () => asPdf(writing))
const later = structuredClone(paper)
for (const e of later.sections[0]!.entries) e.annotation = e.annotation.replace(/moths/g, 'beetles')
await timed('what changed, in every annotation', () => changesBetween(paper, later))
await closeThreads()
