import { object, string } from 'yup'
import type { Facts, Item } from '../../core/bib/item'
import { FOLLOWS } from '../../core/schema/api/follow'
import type { Context } from '../base/context'
import { Problem } from '../base/problem'
import { askConnector, connectorsFor } from '../connect/connectors'
import { deskDay } from '../db/desk-day'
import { change } from '../db/revision'
import type { JobHandle } from '../jobs/queue'
import { keepFollow } from './follow-model'
import { CALL } from './follow-service'
import { putNodes } from './graph-model'
import { nodeRows } from './graph-service'
import { keyOfNode } from './node-key'
import { MOST } from './rounds-service'

const payloadShape = object({
  what: string().oneOf(FOLLOWS).required(),
  subject: string().required(),
  values: object({ authorId: string(), grant: string(), funder: string(), doi: string() }).required(),
})

/** Asks for the works of an author or a grant, or for the data behind a work: all that comes is kept in one write. */
export async function runFollow(c: Context, { job, signal, progress }: JobHandle): Promise<Record<string, unknown>> {
  const inquiryId = job.inquiryId!
  const { what, subject, values } = payloadShape.validateSync(job.payload)
  const [index] = connectorsFor(c.settings.outside, CALL[what])
  if (!index) throw new Problem(422, 'no-index', 'Nobody who could be asked for this is set up here.')
  const found = new Map<string, { item: Item; facts: Facts }>()
  let [total, unread] = [0, 0]
  let [isKnown, twice] = [false, false]
  for await (const page of askConnector(c, index, CALL[what], values, signal)) {
    isKnown = true
    const before = found.size
    for (const { item, facts } of page.records) found.set(keyOfNode(item), { item, facts })
    unread += page.unread.length
    total = Math.max(page.total ?? found.size, found.size)
    await progress({ done: found.size, of: Math.min(total, MOST) })
    if (found.size >= MOST) break
    if (page.next && found.size === before) {
      twice = true
      break
    }
  }
  const list = [...found.values()].slice(0, MOST)
  const trouble = !isKnown
    ? `${index.name} does not know it.`
    : twice
      ? `${index.name} gave the same answer twice; the rest was left.`
      : unread
        ? `${unread} of them could not be read.`
        : list.length < total
          ? `${index.name} counts ${total}, and ${list.length} were read.`
          : null
  const rows = await nodeRows(list, null)
  const day = await deskDay(c.db)
  await change(c, inquiryId, async t => {
    const ids = await putNodes(c, inquiryId, rows, t)
    const said = { source: index.name.slice(0, 190), total, got: list.length, trouble: trouble?.slice(0, 190) ?? null }
    await keepFollow(c, { inquiryId, what, subject, ...said, day }, [...new Set(ids.values())], t)
  })
  return { what, subject, total, got: list.length, ...(trouble ? { trouble } : {}) }
}
