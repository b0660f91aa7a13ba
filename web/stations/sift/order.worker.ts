import { expose } from 'comlink'
import { Learner } from '../../../core/sift/learner'
import type { Described } from '../../../core/sift/order'

/** A learner that reads the texts of a pool by itself, so that the page never holds or parses them. */
export class ReadingLearner extends Learner {
  /** Reads the texts at an address of the API; gives the ids of their works, in the order of its rows. */
  async read(address: string): Promise<Int32Array> {
    const answer = await fetch(address, { credentials: 'same-origin' })
    if (!answer.ok) throw new Error(`The texts of the pool could not be read (${answer.status}).`)
    const texts = (await answer.json()) as ({ id: number } & Described)[]
    this.load(texts)
    return Int32Array.from(texts, t => t.id)
  }
}

expose(new ReadingLearner())
