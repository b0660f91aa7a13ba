/**
 * What a work is, on records in the shapes that libraries send them, each with what a librarian would say
 * (`bench/kinds/`): weights are set on the open half alone, the closed half counts.
 * npx tsx bench/kinds.ts [open|closed]      SHOW=1 prints what was wrong
 */
import { readFileSync } from 'node:fs'
import { appraise, itemRefereed, type Kind } from '../core/appraise/kind'
import type { Facts, Item, Version } from '../core/bib/item'

const REFEREED = new Set<Kind>(['research article', 'literature review', 'conference paper'])
for (const half of process.argv[2] ? [process.argv[2]] : ['open', 'closed']) {
  const lines = readFileSync(new URL(`./kinds/${half}.txt`, import.meta.url), 'utf8')
    .split('\n')
    .filter(l => l && !l.startsWith('#'))
  let [right, decidable, surelyWrong, undecided, refereed] = [0, 0, 0, 0, 0]
  for (const line of lines) {
    const [kind, type, title, more = ''] = line.split(' | ') as [Kind, string, string, string?]
    const said = Object.fromEntries(
      more
        .split('; ')
        .filter(Boolean)
        .map(p => [p.slice(0, p.indexOf('=')), p.slice(p.indexOf('=') + 1)]),
    )
    const item = { id: 'x', type, title } as Item
    for (const [key, field] of [
      ['in', 'container-title'],
      ['vol', 'volume'],
      ['no', 'issue'],
      ['doi', 'DOI'],
      ['page', 'page'],
      ['lang', 'language'],
      ['abs', 'abstract'],
      ['isbn', 'ISBN'],
      ['publisher', 'publisher'],
    ] as const)
      if (said[key]) item[field] = said[key]
    const facts: Facts = {
      ...(said.genre ? { genre: said.genre } : {}),
      ...(said.n ? { pageCount: Number(said.n) } : {}),
      ...(said.refs ? { referenceCount: Number(said.refs) } : {}),
      ...(said.version ? { version: said.version as Version } : {}),
    }
    const told = appraise(item, facts)
    // in a refereed venue: what of it was refereed is what the kind says; elsewhere it never is
    const judged = itemRefereed(
      told.kind,
      item.type === 'article-journal' || item.type === 'paper-conference' ? { ...facts, refereedVenue: true } : facts,
    )
    const wanted =
      kind === 'unknown'
        ? undefined
        : (item.type === 'article-journal' || item.type === 'paper-conference') && REFEREED.has(kind)
    if (kind === 'unknown') undecided += told.kind === 'unknown' || told.confidence < 0.85 ? 1 : 0
    else {
      decidable++
      if (told.kind === kind) right++
      if ((judged ?? false) === (wanted ?? false)) refereed++
    }
    if (told.kind !== kind && told.confidence > 0.85) surelyWrong++
    if (process.env.SHOW && told.kind !== kind)
      console.log(`${kind} → ${told.kind} ${told.confidence.toFixed(2)}  ${title}  (${told.evidence.join(' ')})`)
  }
  const p = (n: number, of: number) => `${((100 * n) / of).toFixed(1)}%`
  console.log(
    `${half}: ${lines.length} records; right where decidable ${p(right, decidable)}; wrong above 0.85 ${p(surelyWrong, lines.length)}; refereed right ${p(refereed, decidable)}; left open where nobody can say ${undecided} of ${lines.length - decidable}`,
  )
}
