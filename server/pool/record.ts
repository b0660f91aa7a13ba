import { clean } from '../../core/bib/clean'
import type { Facts, Item } from '../../core/bib/item'
import { mendItem } from '../../core/bib/mend-item'
import { hashOf } from '../base/hash'

/** A record may be so long, in bytes; a description is some kilobytes, a long one with its contents some hundred. */
export const LONGEST_RECORD = 1_000_000

/**
 * What is stored of a description as it came: its texts clean, its item in the shape of the schema, its source letter
 * for letter.
 * @throws RangeError with a sentence where it is too long, nested too deep, or no item of CSL-JSON
 */
export function recordOf(
  given: { item: Item; facts: Facts; raw: string; format: string },
  sourceKey: string,
): { sourceKey: string; rawHash: string; raw: string; format: string; item: Item; facts: Facts } {
  const raw = given.raw.toWellFormed()
  const read = mendItem(clean(given.item), sourceKey)
  if ('why' in read) throw new RangeError(read.why)
  const { item } = read
  const facts = clean(given.facts)
  const size = Math.max(Buffer.byteLength(raw), Buffer.byteLength(JSON.stringify(item)))
  if (size > LONGEST_RECORD) throw new RangeError(`It is ${(size / 1e6).toFixed(1)} MB long; a record may have 1 MB.`)
  return { sourceKey, rawHash: hashOf(raw), raw, format: given.format, item, facts }
}
