import { questionNearness } from '../query/nearest'
import { featuresOf, learn, readingOrder, scoresOf, why, type Described, type Features, type Learned } from './order'

/** How much the nearness to the question counts before anything is decided, and after how many decisions half as much. */
const LEAN = 3
const HALF = 4

/** In standard deviations from the mean. */
function standard(of: Float32Array): Float32Array {
  const mean = of.reduce((a, b) => a + b, 0) / (of.length || 1)
  const deviation = Math.sqrt(of.reduce((a, b) => a + (b - mean) ** 2, 0) / (of.length || 1)) || 1
  return of.map(x => (x - mean) / deviation)
}

/** Keeps what was computed of a pool's texts, so that each decision costs the learning alone. */
export class Learner {
  private works: readonly Described[] = []
  private features: Features | undefined
  private learned: Learned | undefined
  /** Nearness of each work to a question, in standard deviations. */
  private near: { key: string; of: Float32Array } | undefined

  load(works: readonly Described[]): void {
    this.works = works
    this.features = featuresOf(works)
    this.learned = undefined
    this.near = undefined
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
    const read = decided.length - unread.length
    const scores = this.leant(scoresOf(this.features, this.learned), question, read)
    const order = readingOrder(scores, unread, read)
    return { rows: Int32Array.from(order, o => o.row), chance: Uint8Array.from(order, o => Number(o.chance)) }
  }

  /** What was learned, leaning on the nearness to the question while little was decided. */
  private leant(scores: Float32Array, question: Described, read: number): Float32Array {
    const lean = LEAN / (1 + read / HALF)
    if (lean < 0.05) return scores
    const key = JSON.stringify([question.title, question.keywords])
    if (this.near?.key !== key) this.near = { key, of: standard(questionNearness(this.works, question)) }
    const learned = standard(scores)
    return learned.map((s, i) => s + lean * this.near!.of[i]!)
  }

  /** The words that moved a work. */
  why(row: number): { towards: string[]; away: string[] } {
    const work = this.works[row]
    return work && this.features && this.learned ? why(work, this.features, this.learned) : { towards: [], away: [] }
  }
}
