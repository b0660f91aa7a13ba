import { number, object, string } from 'yup'
import { partOfItem, kind } from './core-shapes'
import { endpoint } from './endpoint'
import { day, flag, list, orNull, real, rowId, shape, text, whole } from './parts'

/** Letters of a pasted list at most. */
export const LIST_LETTERS = 400_000
export const ENTRY_LETTERS = 4000

const madeList = shape({ id: whole(), job: whole() })
const listRow = shape({
  id: whole(),
  name: text(),
  /** The copy that it stands in. */
  copy: orNull(whole()),
  /** The work of the pool whose list it is. */
  work: orNull(whole()),
  day: day(),
  job: orNull(whole()),
  entries: whole(),
  /** Entries that were not looked up yet. */
  left: whole(),
})

/** Lists of references that come without a database: pasted, or as they stand in a copy. */
export const listsApi = {
  lists: endpoint('GET', '/inquiries/:inquiry/lists', {
    does: 'Lists of references that were pasted or taken from copies.',
    answer: list(listRow),
  }),
  takeList: endpoint('POST', '/inquiries/:inquiry/lists', {
    does: 'Takes a list of references, from pasted text or from a copy, cuts it into entries and looks for their works, as a job.',
    status: 202,
    body: object({
      name: string().trim().max(200),
      text: string().max(LIST_LETTERS, 'This is longer than a list can be. Paste it in parts.'),
      copy: rowId,
      /** Whose list it is, where that is a work of the pool. */
      work: rowId,
    }),
    answer: madeList,
  }),
  list: endpoint('GET', '/inquiries/:inquiry/lists/:list', {
    does: 'A list, entry by entry, with the works that each may mean.',
    answer: listRow.shape({
      /** By what its entries were told apart. */
      by: text(),
      /** The day on which an index was asked for the references of its work; null where it was not. */
      indexDay: orNull(day()),
      entries: list(
        shape({
          n: whole(),
          label: orNull(text()),
          text: text(),
          /** In the copy. */
          page: orNull(whole()),
          item: partOfItem,
          others: flag(),
          looked: flag(),
          /** Works that it may mean, by place among the nodes, with the share of the belief that it does. */
          matches: list(shape({ node: whole(), share: real() })),
          /** The work that it means, by place among the nodes, and whether somebody said so. */
          means: orNull(whole()),
          byHand: flag(),
          /** Whether the index names it among the references of the list's work, too. */
          inIndex: orNull(flag()),
          /** Who could not be asked for it. */
          missing: orNull(text()),
        }),
      ),
      /** References that the index has and the list has not, by place among the nodes. */
      indexOnly: list(whole()),
      nodes: list(
        shape({
          id: whole(),
          /** The work of the pool that it is. */
          work: orNull(whole()),
          item: partOfItem,
          kind,
        }),
      ),
    }),
  }),
  settleEntry: endpoint('PUT', '/inquiries/:inquiry/lists/:list/entries/:n', {
    does: 'Says which work an entry means: this one, none of those found, the entry as it is printed, or again what was found.',
    body: object({
      means: string().oneOf(['this', 'none', 'as printed', 'as found']).required(),
      node: number().integer().min(1),
    }),
    answer: shape({ node: orNull(whole()) }),
  }),
  rewriteEntry: endpoint('POST', '/inquiries/:inquiry/lists/:list/entries/:n', {
    does: 'Puts the words of an entry right, and looks for its work anew, as a job.',
    status: 202,
    body: object({ text: string().trim().min(1).max(ENTRY_LETTERS).required() }),
    answer: madeList,
  }),
  lookOn: endpoint('POST', '/inquiries/:inquiry/lists/:list/look', {
    does: 'Looks for the works of entries that were left or could not be asked for, as a job.',
    status: 202,
    answer: madeList,
  }),
  dropList: endpoint('DELETE', '/inquiries/:inquiry/lists/:list', {
    does: 'Takes a list out, with the citations that it alone said.',
  }),
}
