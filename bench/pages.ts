/**
 * Texts of known words set by programs of other makers, and what the reader of pages makes of them: words in their order,
 * page labels, references.
 * npx tsx bench/pages.ts [texts of each setting]      SHOW=1 prints what was wrong; KEEP=folder keeps the files;
 * WITH=apparatus sets affiliations, captions and notes in the margin too
 */
import { readText } from '../core/pdftext/read-text'
import { openPdf } from '../server/child/open-pdf'
import { WorldMaker } from '../demo/generate'
import { FIELDS, printed } from './reference-fields'
import { familyName } from '../core/bib/names'
import { knownText, pairsShared, split, withApparatus, wordsOf, type Setting } from './pages/known'
import { MAKERS, setOrKept } from './pages/makers'

const each = Number(process.argv[2] ?? 1)
const folder = process.env.KEEP
/** With affiliations, captions and notes in the margin, which are counted by themselves. */
const APPARATUS = process.env.WITH === 'apparatus'
const maker = new WorldMaker(31, 2000, 1)
const works = [...maker].map(m => m.work)
const articles = works.filter(w => w.form === 'research article' && w.item.page)
const citable = works.filter(w => w.item.author?.length)
const settings: Setting[] = [
  { columns: 1, refs: 'hanging', style: 'apa' },
  { columns: 1, refs: 'apart', style: 'modern-language-association' },
  { columns: 2, refs: 'hanging', style: 'chicago-author-date' },
  { columns: 2, refs: 'numbered', style: 'ieee' },
  { columns: 2, refs: 'set in', style: 'council-of-science-editors-author-date' },
  { columns: 3, refs: 'numbered', style: 'vancouver' },
]
/** Letters and numbers alone: how a line was broken is no matter here. */
const bare = (t: string) => t.normalize('NFKD').replace(/[^\p{L}\p{N}]/gu, '')
const percent = (n: number) => `${(n * 100).toFixed(1)}%`
for (const [m, name] of Object.keys(MAKERS).entries()) {
  let n = m * settings.length * each
  if (process.env.ONLY && process.env.ONLY !== name) continue
  const f1s: number[] = []
  const refs = { known: 0, cut: 0, right: 0, fields: 0, read: 0 }
  const kept = { signed: 0, asPrinted: 0, captions: 0, found: 0, beside: 0, apart: 0 }
  let pages = 0
  let right = 0
  for (const s of settings)
    for (let i = 0; i < each; i++) {
      const w = articles[n++ % articles.length]!
      const cited = Array.from({ length: 30 }, (_, j) => citable[(n * 37 + j * 11) % citable.length]!.item)
      const plain = { ...knownText(maker.facts, w, cited, s), first: MAKERS[name]!.beginsAnywhere ? 41 + n * 17 : 1 }
      const known = APPARATUS ? withApparatus(plain, s) : plain
      const bytes = await setOrKept(
        name,
        known,
        s,
        folder ? { folder, name: `${name}-${s.columns}-${s.refs}-${i}` } : undefined,
      )
      if (!bytes) {
        console.log(`${name}: not on this machine`)
        break
      }
      const doc = await openPdf(bytes)
      const drawn = []
      for (let k = 1; k <= doc.pages; k++) drawn.push(await doc.page(k))
      const t = performance.now()
      const text = readText(drawn, doc.labels)
      const ms = performance.now() - t
      await doc.close()
      const authors = text.front.authors ?? []
      kept.signed++
      const places = known.authors.split(', ').map((_, k) => known.places?.[k % 3])
      const isSame = (w.item.author ?? []).every((a, k) => {
        const mine = authors[k]
        return mine && familyName(mine.name) === familyName(a) && (!places[k] || mine.affiliations.includes(places[k]))
      })
      if (isSame && authors.length === w.item.author?.length) kept.asPrinted++
      else if (process.env.SHOW) console.log(`    signed: ${known.authors}\n       ${JSON.stringify(authors)}`)
      for (const c of known.captions ?? []) {
        kept.captions++
        if (text.captions.some(o => bare(o.text) === bare(c))) kept.found++
        else if (process.env.SHOW) console.log(`    no caption: ${c}`)
      }
      const paragraphs = text.pages.flatMap(p => p.text.split('\n')).map(bare)
      for (const b of (MAKERS[name]!.setsBeside && known.beside) || []) {
        kept.beside++
        if (paragraphs.includes(bare(b))) kept.apart++
        else if (process.env.SHOW) console.log(`    not apart: ${b}`)
      }
      const got = split(text.pages.map(p => p.text).join('\n'))
      const { f1, recall, precision } = pairsShared(wordsOf(known), got)
      f1s.push(f1)
      const cut = text.references.flatMap(l => l.entries)
      const by = new Map(cut.map(e => [bare(e.text), e]))
      refs.cut += cut.length
      refs.known += known.refs.length
      for (const r of known.refs) {
        const e = by.get(bare(r.text.replace(/^(\[\d+\]|\d+\.) ?/, '')))
        if (e) refs.right++
        else if (process.env.SHOW) console.log(`    not cut: ${r.text}`)
        for (const [field, [has, same]] of Object.entries(FIELDS)) {
          if (!has(r.item) || !printed(field, r.item, r.text)) continue
          refs.fields++
          if (e && same(r.item, e.read.item)) refs.read++
          else if (e && process.env.SHOW === '3')
            console.log(`    ${field} of: ${r.text}\n       ${JSON.stringify(e.read.item)}`)
        }
      }
      pages += text.labels.length
      right += text.labels.filter((l, k) => l === String(known.first + k)).length
      if (process.env.SHOW === '2') {
        const words = wordsOf(known)
        const has = new Set(got.map((w, j) => `${got[j - 1] ?? ''} ${w}`))
        console.log(
          words.flatMap((w, j) => (j && !has.has(`${words[j - 1]} ${w}`) ? [`${words[j - 1]} ${w}`] : [])).join(' | '),
        )
        const truth = new Set(words.map((w, j) => `${words[j - 1] ?? ''} ${w}`))
        console.log(
          '  +',
          got.flatMap((w, j) => (j && !truth.has(`${got[j - 1]} ${w}`) ? [`${got[j - 1]} ${w}`] : [])).join(' | '),
        )
      }
      if (process.env.SHOW)
        console.log(
          `  ${name}, ${s.columns} columns, ${s.refs}: pairs of words ${percent(f1)} (${percent(recall)} found, ${percent(precision)} true); ${text.labels.length} pages from ${text.labels[0]} (${known.first}), ${Math.round(ms)} ms`,
        )
    }
  console.log(
    `${name}: pairs of words ${percent(f1s.reduce((a, b) => a + b, 0) / f1s.length)}; page labels ${right} of ${pages}; references: ${refs.right} of ${refs.known} cut as printed (${refs.cut} cut), ${percent(refs.read / refs.fields)} of their fields read; signed as printed ${kept.asPrinted} of ${kept.signed}${APPARATUS ? `; captions ${kept.found} of ${kept.captions}; notes in the margin apart ${kept.apart} of ${kept.beside}` : ''}`,
  )
}
