/**
 * What a work is, on records in the shapes that libraries send them, each with what a librarian would say
 * (`bench/kinds/`): weights are set on the open half alone, the closed half counts.
 * npx tsx bench/kinds.ts [open|closed]      SHOW=1 prints what was wrong
 */
import { appraise, itemRefereed, type Kind } from '../core/appraise/kind'
import { judgedRecords } from './kinds/read'

const REFEREED = new Set<Kind>(['research article', 'literature review', 'conference paper'])
for (const half of process.argv[2] ? [process.argv[2]] : ['open', 'closed']) {
  const records = judgedRecords(half)
  let [right, decidable, surelyWrong, undecided, refereed] = [0, 0, 0, 0, 0]
  for (const { kind, item, facts } of records) {
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
      console.log(`${kind} → ${told.kind} ${told.confidence.toFixed(2)}  ${item.title}  (${told.evidence.join(' ')})`)
  }
  const p = (n: number, of: number) => `${((100 * n) / of).toFixed(1)}%`
  console.log(
    `${half}: ${records.length} records; right where decidable ${p(right, decidable)}; wrong above 0.85 ${p(surelyWrong, records.length)}; refereed right ${p(refereed, decidable)}; left open where nobody can say ${undecided} of ${records.length - decidable}`,
  )
}
