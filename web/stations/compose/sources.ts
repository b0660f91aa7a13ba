import { Wording, type WordSource } from '../../../core/write/closeness'
import { wordingOf, type WordingFinding } from '../../../core/write/quotations'

/** What annotations are held against: abstracts, copies and the other annotations. */
export class Sources {
  private readonly wording = new Wording()

  put(source: WordSource): void {
    this.wording.put(source)
  }
  check(text: string, of: { work: number; key: string; hasText: boolean }): WordingFinding[] {
    return wordingOf(text, this.wording, of)
  }
}
