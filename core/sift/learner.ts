import { featuresOf, learn, readingOrder, scoresOf, why, type Described, type Features, type Learned } from './order'

/** Keeps what was computed of a pool's texts, so that each decision costs the learning alone. */
export class Learner {
  private works: readonly Described[] = []
  private features: Features | undefined
  private learned: Learned | undefined

  load(works: readonly Described[]): void {
    this.works = works
    this.features = featuresOf(works)
    this.learned = undefined
  }

  /**
   * Learns from what is decided and orders what is not.
   * @param decided 1 wanted, -1 not, 0 unread, 2 neither (left for later): one for each work
   * @returns rows in the order of reading; which of them were drawn by chance
   */
  order(decided: Int8Array, question: Described): { rows: Int32Array; chance: Uint8Array } {
    if (!this.features) return { rows: new Int32Array(0), chance: new Uint8Array(0) }
    this.learned = learn(
      this.features,
      decided.map(d => (d === 2 ? 0 : d)),
      question,
    )
    const unread: number[] = []
    decided.forEach((d, i) => {
      if (d === 0) unread.push(i)
    })
    const order = readingOrder(scoresOf(this.features, this.learned), unread, decided.length - unread.length)
    return { rows: Int32Array.from(order, o => o.row), chance: Uint8Array.from(order, o => Number(o.chance)) }
  }

  /** The words that moved a work. */
  why(row: number): { towards: string[]; away: string[] } {
    const work = this.works[row]
    return work && this.features && this.learned ? why(work, this.features, this.learned) : { towards: [], away: [] }
  }
}
