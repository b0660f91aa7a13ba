import type { Stretch } from '../../../core/bib/sentences'
import { Wording, type WordSource } from '../../../core/write/closeness'
import { figureFindings, figuresOfPage, type CopyFigures } from '../../../core/write/figures'
import { quotationsIn, wordingOf, type WordingFinding } from '../../../core/write/quotations'

/** What annotations are held against: abstracts, copies and the other annotations. */
export class Sources {
  private readonly wording = new Wording()
  /** Figures of copies by their keys, and the works that they are of. */
  private readonly figures = new Map<string, CopyFigures & { work: number }>()

  put(source: WordSource): void {
    this.wording.put(source)
    const { key, work, what, pages, labels } = source
    if (what === 'copy') this.figures.set(key, { work, labels, pages: pages.map(figuresOfPage) })
  }
  /** @param of with where other works are cited */
  check(
    text: string,
    of: { work: number; key: string; hasText: boolean; others: readonly Stretch[] },
  ): WordingFinding[] {
    const copies = [...this.figures.values()].filter(c => c.work === of.work)
    const { hasText, others } = of
    const figures = figureFindings(text, copies, { hasText, apart: quotationsIn(text), others })
    return [...wordingOf(text, this.wording, of), ...figures].sort((a, b) => a.from - b.from)
  }
}
