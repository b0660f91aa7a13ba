import { normaliseDoi } from '../bib/identifiers'
import type { Item } from '../bib/item'
import { doisIn } from './of-itself'
import { proveCopy, type PageText, type Proof } from './proof'
import { TitleLines } from './title-place'

/** Works that are looked at closely; of a text that names more, most are only named. */
const MOST = 40

/**
 * Which of many works a text is: proved before doubtful, then by its score, then by the longer title, since
 * “Lamps” stands in “Lamps and moths”, too. Undefined where it is none of them.
 */
export function recognise<W extends { id: number; item: Item }>(
  works: readonly W[],
  pages: readonly PageText[],
): { work: W; proof: Proof } | undefined {
  const front = new TitleLines(pages.slice(0, 2).flatMap(p => p.lines))
  const dois = new Set(pages.slice(0, 2).flatMap(p => doisIn([...p.lines, ...(p.notes ?? [])])))
  const likely = works
    .map(work => ({
      work,
      fit: work.item.title && front.mayHave(work.item.title) ? (front.find(work.item.title)[0]?.fit ?? 0) : 0,
      isNamed: dois.has(normaliseDoi(work.item.DOI) ?? ''),
      length: work.item.title?.length ?? 0,
    }))
    .filter(w => w.isNamed || w.fit)
    .sort((a, b) => Number(b.isNamed) - Number(a.isNamed) || b.fit - a.fit || b.length - a.length)
    .slice(0, MOST)
  const score = (p: Proof) => p.score ?? 0
  return likely
    .map(({ work, length }) => ({ work, length, proof: proveCopy(work.item, pages) }))
    .filter(x => x.proof.outcome !== 'not this work')
    .sort(
      (a, b) =>
        Number(b.proof.outcome === 'proved') - Number(a.proof.outcome === 'proved') ||
        score(b.proof) - score(a.proof) ||
        b.length - a.length ||
        a.work.id - b.work.id,
    )[0]
}
